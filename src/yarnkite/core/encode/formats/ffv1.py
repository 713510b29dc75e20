"""FFV1 version 3 (RFC 9043), lossless, every frame by itself with a checksum for each of its parts."""

from functools import partial

from yarnkite.core.encode.formats.format import Format, Settings
from yarnkite.core.encode.samples import Samples


def options(settings: Settings) -> dict[str, str]:
    """Return FFV1's options: version 3, 16 parts a frame, each with its checksum."""
    return {"level": "3", "g": "1", "slices": "16", "slicecrc": "1", "coder": "1", "context": "0"}


_ffv1 = partial(
    Format,
    takers="archives; players built on open libraries, few editors",
    containers=("mkv",),
    encoder="ffv1",
    codec="ffv1",
    options=options,
    chunk_container="matroska",
    intra=True,
    psnr_floor_db=99.0,
)

FFV1_8 = _ffv1(name="ffv1-8", title="FFV1, 8 bits, 4:2:2", samples=Samples("422", 8), bits_a_pixel=6.5, fps=11.5)
FFV1 = _ffv1(name="ffv1", title="FFV1, 10 bits, 4:2:2", samples=Samples("422", 10), bits_a_pixel=9.5, fps=8.8)
FFV1_444 = _ffv1(name="ffv1-444", title="FFV1, 16 bits, 4:4:4", samples=Samples("444", 16), bits_a_pixel=27.0, fps=4.0)
FORMATS = (FFV1_8, FFV1, FFV1_444)
