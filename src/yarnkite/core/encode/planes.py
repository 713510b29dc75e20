"""From the planes of a JPEG straight to a frame of video: each plane reduced onto its own grid.

Colour of BT.709 depends on colour of BT.601 alone, and luma on luma and a little colour, so that both can be computed
at the size of the frame: a third of the work of a way through RGB, and nothing is rounded in between. Frames of 8 bits
are dithered as those that come by way of RGB are.
"""

from fractions import Fraction

import av
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.geometry import Rect
from yarnkite.core.encode.colours import BT709
from yarnkite.core.encode.samples import EIGHT, Samples
from yarnkite.core.encode.video_frame import plane_of, tagged
from yarnkite.core.image.dither import DITHER, ROUNDED, over_a_row
from yarnkite.core.image.jpeg_planes import JpegPlanes, read_planes
from yarnkite.core.image.resample import GROUP, HALF_WAY_BITS, WEIGHT_BITS, add_rows, taps, to_half_way
from yarnkite.core.render.frame_spec import Finish, FrameSpec, Layer
from yarnkite.core.render.recipe import NO_CORRECTION, Bridge

# Samples keep so many bits below a whole step until the end.
_FRACTION_BITS = 6
_BITS = 14
_DEEPEST = 10
# From centred colours of BT.601 to those of BT.709, and what colour adds to luma (from both matrices, ITU-R).
_BLUE = (1.018640, 0.114618)
_RED = (0.075049, 1.025327)
_LUMA = (-0.118188, -0.212685)


def frame_by_planes(spec: FrameSpec, samples: Samples = EIGHT) -> av.VideoFrame | None:
    """Return a frame in BT.709 made from the planes of its one still, or ``None`` where that is not possible.

    It is for a still that is only cut and reduced; what is turned, bent, blended, adjusted in its light or sharpened
    needs RGB, and so do samples of more than 10 bits or with colour at full size.

    Raises
    ------
    UnreadableStill if the still is not what was gathered
    """
    layer = _only_layer(spec) if samples.chroma != "444" and samples.depth <= _DEEPEST else None
    if layer is None or isinstance(layer.picture, Bridge):
        return None
    source, size = layer.placement.source, spec.finish.size
    step = min(source.width / size.width, source.height / size.height)
    if step < 1:
        return None
    planes = read_planes(layer.picture, max(step / spec.finish.least, Fraction(1)))
    return None if planes is None else _frame(planes, source, spec.finish, samples)


def _only_layer(spec: FrameSpec) -> Layer | None:
    finish = spec.finish
    is_plain = finish == Finish(size=finish.size, surround=finish.surround, drifts=finish.drifts)
    if spec.moving or spec.band or len(spec.layers) != 1 or not is_plain:
        return None
    layer, _ = spec.layers[0]
    placement = layer.placement
    covers = placement.target == Rect(
        Fraction(0), Fraction(0), Fraction(finish.size.width), Fraction(finish.size.height)
    )
    return layer if covers and not placement.angle and layer.correction == NO_CORRECTION else None


def _frame(planes: JpegPlanes, source: Rect, finish: Finish, samples: Samples) -> av.VideoFrame:
    width, height = finish.size.width, finish.size.height
    part = source.scaled(Fraction(1, planes.reduction), Fraction(1, planes.reduction))
    luma = _reduced(planes.luma, part, width, height, finish.least)
    # How many luma samples one sample of colour stands for, and the part in samples of colour.
    across = _ratio(planes.luma.shape[1], planes.blue.shape[1])
    down = _ratio(planes.luma.shape[0], planes.blue.shape[0])
    # Sited left: in line with every second sample of luma, half a sample before the middle of the two.
    sited = Rect(part.left - part.width / width / 2, part.top, part.width, part.height)
    coloured = sited.scaled(Fraction(1, across), Fraction(1, down))
    rows = height // 2 if samples.chroma == "420" else height
    blue, red = (_reduced(plane, coloured, width // 2, rows, finish.least) for plane in (planes.blue, planes.red))
    frame = tagged(av.VideoFrame(width, height, samples.pixel_format), BT709)
    thresholds = DITHER if samples.depth == EIGHT.depth else ROUNDED
    of_a_step = np.rint(thresholds * (1 << (_BITS + _FRACTION_BITS + 8 - samples.depth))).astype(np.int32)
    planes_of_frame = (plane_of(frame, index, samples.depth) for index in range(3))
    rows_of_thresholds = over_a_row(of_a_step, width)
    _write(luma, blue, red, _WEIGHTS, samples.depth - 8, rows_of_thresholds, *planes_of_frame)
    return frame


def _ratio(luma: int, colour: int) -> int:
    return max(1, round(luma / colour))


def _reduced(plane: NDArray[np.uint8], part: Rect, width: int, height: int, least: Fraction) -> NDArray[np.int16]:
    rows = taps(part.top, part.height, plane.shape[0], height, least)
    columns = taps(part.left, part.width, plane.shape[1], width, least)
    result: NDArray[np.int16] = _resample(plane, rows.first, rows.weights, columns.first, columns.weights)
    return result


def _weights() -> tuple[np.int32, ...]:
    """Return what each centred sample counts, in 2^-14 of a step of the frame: luma's three, blue's two, red's two."""
    luma, colour = 219 / 255, 224 / 255
    exact = (luma, luma * _LUMA[0], luma * _LUMA[1], *(colour * one for one in (*_BLUE, *_RED)))
    return tuple(np.int32(round(one * (1 << _BITS))) for one in exact)


_WEIGHTS = _weights()


@njit(nogil=True, cache=True)
def _resample(plane, row_first, row_weights, column_first, column_weights):  # type: ignore[no-untyped-def]
    height, width = row_first.shape[0], column_first.shape[0]
    result = np.empty((height, width), np.int16)
    low = column_first[0]
    high = column_first[-1] + column_weights.shape[1]
    source = plane[:, low:high]
    total = np.empty(high - low, np.int32)
    line = np.empty(high - low, np.int16)
    shift = WEIGHT_BITS + HALF_WAY_BITS - _FRACTION_BITS
    half = np.int32(1 << (shift - 1))
    for y in range(height):
        for group in range(0, row_weights.shape[1], GROUP):
            add_rows(total, source, row_first[y] + group, row_weights[y, group : group + GROUP], group == 0)
        to_half_way(total, line, HALF_WAY_BITS)
        for x in range(width):
            # Unsigned indices spare the compiler a test for negative ones.
            base = np.uintp(column_first[x] - low)
            value = half
            for k in range(column_weights.shape[1]):
                value += column_weights[x, k] * np.int32(line[base + np.uintp(k)])
            result[y, x] = value >> shift
    return result


@njit(nogil=True, cache=True)
def _write(luma, blue, red, weights, more_bits, thresholds, luma_plane, blue_plane, red_plane):  # type: ignore[no-untyped-def]
    height = luma.shape[0]
    middle = np.int32(128 << _FRACTION_BITS)
    whole = _BITS + _FRACTION_BITS
    shift = np.int32(whole - more_bits)
    black, grey = np.int32(16 << whole), np.int32(128 << whole)
    # All of one kind, and each loop over neighbours: the compiler then makes many at a time.
    least, most, most_colour = np.int32(16 << more_bits), np.int32(235 << more_bits), np.int32(240 << more_bits)
    luma_weight, luma_blue, luma_red, blue_blue, blue_red, red_blue, red_red = weights
    columns = blue.shape[1]
    # What colour adds to the luma of a row of colour; between two rows it is shared three to one.
    added = np.empty((blue.shape[0], columns), np.int32)
    for y in range(blue.shape[0]):
        row = thresholds[y % thresholds.shape[0]]
        for x in range(columns):
            b, r = np.int32(blue[y, x]) - middle, np.int32(red[y, x]) - middle
            end = grey + row[x]
            blue_plane[y, x] = min(max((blue_blue * b + blue_red * r + end) >> shift, least), most_colour)
            red_plane[y, x] = min(max((red_blue * b + red_red * r + end) >> shift, least), most_colour)
            added[y, x] = luma_blue * b + luma_red * r
    mixed, coloured = np.empty(columns + 1, np.int32), np.empty(2 * columns, np.int32)
    has_every_row = blue.shape[0] == height
    for y in range(height):
        near = y if has_every_row else y // 2
        far = near if has_every_row else min(max(near + (1 if y % 2 else -1), 0), blue.shape[0] - 1)
        row = thresholds[y % thresholds.shape[0]]
        for x in range(columns):
            mixed[x] = (added[near, x] >> 2) * 3 + (added[far, x] >> 2)
        mixed[columns] = mixed[columns - 1]
        for x in range(columns):
            coloured[2 * x] = mixed[x]
            coloured[2 * x + 1] = (mixed[x] + mixed[x + 1]) >> 1
        for x in range(2 * columns):
            total = luma_weight * np.int32(luma[y, x]) + coloured[x] + black + row[x]
            luma_plane[y, x] = min(max(total >> shift, least), most)
