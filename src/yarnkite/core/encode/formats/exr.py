"""Numbered OpenEXR files (OpenEXR file layout 2): linear light as half floats, with the primaries of BT.709."""

import io
from fractions import Fraction

import av
import av.error
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.encode.formats.format import Format
from yarnkite.core.encode.samples import Samples
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.image.srgb import codes_of, light_table

# FFmpeg's order of planes for RGB: green, blue, red.
_CHANNELS = (1, 2, 0)


def exr(image: ImageArray) -> bytes:
    """Return a picture, sRGB, as an OpenEXR file: linear light, 1 where the picture is white, half floats, ZIP."""
    height, width = image.shape[:2]
    light = light_table(image).astype(np.float32)
    frame = av.VideoFrame(width, height, "gbrpf32le")
    for plane, channel in zip(frame.planes, _CHANNELS, strict=True):
        samples: NDArray[np.float32] = np.frombuffer(memoryview(plane), np.float32).reshape(height, -1)
        samples[:, :width] = light[image[..., channel]]
    memory = io.BytesIO()
    with av.open(memory, "w", format="image2pipe") as container:
        stream = container.add_stream("exr", rate=1, options={"format": "half", "compression": "zip16"})
        stream.width, stream.height, stream.pix_fmt = width, height, "gbrpf32le"
        frame.pts, frame.time_base = 0, Fraction(1)
        container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    return memory.getvalue()


def read_exr(data: bytes) -> ImageArray:
    """Return an OpenEXR file of linear light as a picture, sRGB, 16 bits.

    Raises
    ------
    ValueError if it cannot be read
    """
    try:
        with av.open(io.BytesIO(data), "r", format="exr_pipe") as container:
            frame = next(container.decode(video=0)).reformat(format="gbrpf32le")
    except (av.error.FFmpegError, StopIteration) as error:
        raise ValueError(f"not an OpenEXR file: {error}") from error
    light = np.empty((frame.height, frame.width, 3), np.float32)
    for plane, channel in zip(frame.planes, _CHANNELS, strict=True):
        samples: NDArray[np.float32] = np.frombuffer(memoryview(plane), np.float32).reshape(frame.height, -1)
        light[..., channel] = samples[:, : frame.width]
    return codes_of(light.reshape(-1), deep=True).reshape(light.shape)


EXR = Format(
    name="exr",
    title="OpenEXR files, numbered",
    takers="programs for compositing and grading, in linear light",
    containers=("zip",),
    encoder="exr",
    codec="exr",
    samples=Samples("444", 16),
    way="numbered",
    bits_a_pixel=30.0,
    fps=4.0,
    intra=True,
    psnr_floor_db=60.0,
)
FORMATS = (EXR,)
