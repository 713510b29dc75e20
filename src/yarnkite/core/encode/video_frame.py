"""Pictures as frames of video: limited range, colour at half the size both ways, one way or at full size, sited left.

Source: ITU-R BT.709-6 and BT.2020-2 (matrices, limited range), ITU-T H.264 annex E (chroma sample location type 0: in
line with every second luma sample, between two rows).
"""

import av
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.encode.colours import BT709, LIMITED_RANGE, Colours, colours_of, in_range
from yarnkite.core.encode.decisions import DynamicRange
from yarnkite.core.encode.samples import EIGHT, Depth, Samples
from yarnkite.core.image.dither import DITHER, ROUNDED, over_a_row
from yarnkite.core.image.pixels import ImageArray, is_deep, peak

_BITS = 15
# The same for samples of 16 bits, of which a step is worth less; the largest is taken for 65536, so that white is 235.
_FINE_BITS = 22
_SPANS = 219, 224


def to_video_frame(image: ImageArray, samples: Samples = EIGHT, wanted: DynamicRange = "standard") -> av.VideoFrame:
    """Return a picture as a frame of video.

    What has more bits than a video of 8, as all has that was resampled, is dithered by an ordered matrix (Bayer 1973),
    the same for every frame, so that a slow slope has no steps; all else is rounded.

    Parameters
    ----------
    image : RGB, sRGB code values, shape (height, width, 3) with even sides, uint8 or uint16; see ``in_range``

    Returns
    -------
    a frame of the samples that are wanted, tagged with its colours, without a time
    """
    height, width = image.shape[:2]
    colours = colours_of(wanted)
    frame = tagged(av.VideoFrame(width, height, samples.pixel_format), colours)
    planes = [plane_of(frame, index, samples.depth) for index in range(3)]
    picture = np.ascontiguousarray(in_range(image, wanted))
    if samples == EIGHT and not is_deep(picture):
        _write_eight(picture, _WHOLE_LUMA, _WHOLE_CHROMA, *planes)
        return frame
    if samples == EIGHT and wanted == "standard":
        _write_dithered(picture, _FINE_LUMA, _FINE_CHROMA, over_a_row(_FINE_DITHER, width), *planes)
        return frame
    steps = 1 << (samples.depth - 8)
    scale = np.float32(steps / peak(picture))
    luma_weights, chroma_weights = (
        (weights * span).astype(np.float32) * scale
        for weights, span in zip((colours.luma, colours.chroma), _SPANS, strict=True)
    )
    is_reduced = samples.depth == 8 and is_deep(picture)
    across, down = 1 if samples.chroma == "444" else 2, 2 if samples.chroma == "420" else 1
    thresholds = DITHER if is_reduced else ROUNDED
    _write_deep(picture, luma_weights, chroma_weights, np.float32(steps), thresholds, across, down, *planes)
    return frame


def tagged(frame: av.VideoFrame, colours: Colours) -> av.VideoFrame:
    """Say on a frame what its samples mean: some encoders read it there."""
    frame.color_primaries, frame.color_trc, frame.colorspace = colours.primaries, colours.transfer, colours.matrix
    frame.color_range = LIMITED_RANGE
    return frame


def plane_of(frame: av.VideoFrame, index: int, depth: Depth) -> NDArray[np.unsignedinteger]:
    """Return the samples of a plane of a frame, to be read or written.

    Parameters
    ----------
    index : 0 luma, 1 blue, 2 red
    depth : bits a sample of the frame

    Returns
    -------
    a view, shape (height, width) of the plane, uint8 or uint16
    """
    plane = frame.planes[index]
    samples: NDArray[np.unsignedinteger] = np.frombuffer(memoryview(plane), np.dtype("u1" if depth == 8 else "<u2"))
    return samples.reshape(plane.height, -1)[:, : plane.width]


def _whole(span: int, weights: NDArray[np.float64], largest: int = 255, bits: int = _BITS) -> NDArray[np.int32]:
    """Return weights of samples up to ``largest`` as whole numbers of 2^-``bits`` whose rows sum to what they should,
    so that greys stay grey."""
    exact = weights * span / largest * (1 << bits)
    whole = np.rint(exact).astype(np.int32)
    whole[..., 1] += np.rint(exact.sum(axis=-1)).astype(np.int32) - whole.sum(axis=-1, dtype=np.int32)
    return whole


_WHOLE_LUMA, _WHOLE_CHROMA = _whole(219, BT709.luma), _whole(224, BT709.chroma)
_FINE_LUMA, _FINE_CHROMA = (
    _whole(span, weights, 65536, _FINE_BITS) for span, weights in zip(_SPANS, (BT709.luma, BT709.chroma), strict=True)
)
_FINE_DITHER = np.rint(DITHER * (1 << _FINE_BITS)).astype(np.int32)


@njit(nogil=True, cache=True)
def _write_eight(image, luma_weights, chroma_weights, luma, blue, red):  # type: ignore[no-untyped-def]
    height, width = image.shape[0], image.shape[1]
    flat = image.reshape(height, width * 3)
    reds, greens, blues = np.empty(width + 1, np.int32), np.empty(width + 1, np.int32), np.empty(width + 1, np.int32)
    for y in range(0, height, 2):
        above, below = flat[y], flat[y + 1]
        _write_luma(above, luma_weights, luma[y])
        _write_luma(below, luma_weights, luma[y + 1])
        for sums, channel in ((reds, 0), (greens, 1), (blues, 2)):
            _add_rows(above, below, channel, sums)
        _write_chroma(reds, greens, blues, chroma_weights[0], blue[y // 2])
        _write_chroma(reds, greens, blues, chroma_weights[1], red[y // 2])


@njit(nogil=True, cache=True)
def _write_luma(row, weights, luma):  # type: ignore[no-untyped-def]
    weight_r, weight_g, weight_b = weights[0], weights[1], weights[2]
    base = np.int32((16 << _BITS) + (1 << (_BITS - 1)))
    # Unsigned indices spare the compiler a test for negative ones, here and below.
    for x in range(luma.shape[0]):
        p = np.uintp(3 * x)
        value = (
            weight_r * np.int32(row[p])
            + weight_g * np.int32(row[p + np.uintp(1)])
            + weight_b * np.int32(row[p + np.uintp(2)])
        )
        luma[x] = np.uint8((value + base) >> _BITS)


@njit(nogil=True, cache=True)
def _add_rows(above, below, channel, sums):  # type: ignore[no-untyped-def]
    """Add two rows; one place before the first repeats it."""
    for x in range(sums.shape[0] - 1):
        p = np.uintp(3 * x + channel)
        sums[x + 1] = np.int32(above[p]) + np.int32(below[p])
    sums[0] = sums[1]


@njit(nogil=True, cache=True)
def _write_chroma(reds, greens, blues, weights, chroma):  # type: ignore[no-untyped-def]
    weight_r, weight_g, weight_b = weights[0], weights[1], weights[2]
    # Eight parts: rows count one each, columns one, two and one.
    base = np.int32((128 << (_BITS + 3)) + (1 << (_BITS + 2)))
    for i in range(chroma.shape[0]):
        p, q, r = np.uintp(2 * i), np.uintp(2 * i + 1), np.uintp(2 * i + 2)
        value = (
            weight_r * (reds[p] + 2 * reds[q] + reds[r])
            + weight_g * (greens[p] + 2 * greens[q] + greens[r])
            + weight_b * (blues[p] + 2 * blues[q] + blues[r])
        )
        chroma[i] = np.uint8((value + base) >> (_BITS + 3))


@njit(nogil=True, cache=True)
def _write_dithered(image, luma_weights, chroma_weights, thresholds, luma, blue, red):  # type: ignore[no-untyped-def]
    height, width = image.shape[0], image.shape[1]
    flat = image.reshape(height, width * 3)
    sums = np.empty((3, width + 1), np.int32)
    for y in range(0, height, 2):
        for row in (y, y + 1):
            _write_dithered_luma(flat[row], luma_weights, thresholds[row % thresholds.shape[0]], luma[row])
        for channel in range(3):
            _add_rows(flat[y], flat[y + 1], channel, sums[channel])
        row_of_colour = thresholds[(y // 2) % thresholds.shape[0]]
        _write_dithered_chroma(sums, chroma_weights[0], row_of_colour, blue[y // 2])
        _write_dithered_chroma(sums, chroma_weights[1], row_of_colour, red[y // 2])


@njit(nogil=True, cache=True)
def _write_dithered_luma(row, weights, thresholds, luma):  # type: ignore[no-untyped-def]
    weight_r, weight_g, weight_b = weights[0], weights[1], weights[2]
    black = np.int32(16 << _FINE_BITS)
    for x in range(luma.shape[0]):
        p = np.uintp(3 * x)
        red, green, blue = np.int32(row[p]), np.int32(row[p + np.uintp(1)]), np.int32(row[p + np.uintp(2)])
        value = weight_r * (red + (red >> 15)) + weight_g * (green + (green >> 15)) + weight_b * (blue + (blue >> 15))
        luma[x] = np.uint8((value + black + thresholds[x]) >> _FINE_BITS)


@njit(nogil=True, cache=True)
def _write_dithered_chroma(sums, weights, thresholds, chroma):  # type: ignore[no-untyped-def]
    weight_r, weight_g, weight_b = weights[0], weights[1], weights[2]
    grey = np.int32(128 << _FINE_BITS)
    for i in range(chroma.shape[0]):
        p, q, r = np.uintp(2 * i), np.uintp(2 * i + 1), np.uintp(2 * i + 2)
        # Eight parts: rows count one each, columns one, two and one.
        red = (sums[0, p] + 2 * sums[0, q] + sums[0, r] + 4) >> 3
        green = (sums[1, p] + 2 * sums[1, q] + sums[1, r] + 4) >> 3
        blue = (sums[2, p] + 2 * sums[2, q] + sums[2, r] + 4) >> 3
        value = weight_r * (red + (red >> 15)) + weight_g * (green + (green >> 15)) + weight_b * (blue + (blue >> 15))
        chroma[i] = np.uint8((value + grey + thresholds[i]) >> _FINE_BITS)


@njit(nogil=True, cache=True)
def _write_deep(image, luma_weights, chroma_weights, step, thresholds, across, down, luma, blue, red):  # type: ignore[no-untyped-def]
    """Write any samples; ``across`` and ``down`` are how many of brightness there are for one of colour."""
    height, width = image.shape[0], image.shape[1]
    mask = thresholds.shape[0] - 1
    black, grey = np.float32(16) * step, np.float32(128) * step
    sums = np.empty((width, 3), np.float32)
    share = np.float32(1) / down
    for y in range(0, height, down):
        sums[:] = 0
        for row in range(y, y + down):
            for x in range(width):
                value = black
                for channel in range(3):
                    sample = np.float32(image[row, x, channel])
                    value += luma_weights[channel] * sample
                    sums[x, channel] += sample * share
                luma[row, x] = int(value + thresholds[row & mask, x & mask])
        for x in range(0, width, across):
            left, right = max(x - 1, 0), min(x + 1, width - 1)
            threshold = thresholds[(y // down) & mask, (x // across) & mask]
            for channel, plane in ((0, blue), (1, red)):
                value = np.float32(0)
                for colour in range(3):
                    mean = sums[x, colour]
                    if across == 2:
                        mean = (sums[left, colour] + 2 * mean + sums[right, colour]) * np.float32(0.25)
                    value += chroma_weights[channel, colour] * mean
                plane[y // down, x // across] = int(value + grey + threshold)
