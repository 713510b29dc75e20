"""What a still's light gets, resolved to numbers, and how it is done."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.frozen import Frozen
from yarnkite.core.image.camera_colour import IDENTITY, Scene
from yarnkite.core.image.dust import DustSpot
from yarnkite.core.image.gamut import led_in
from yarnkite.core.image.high_range import BT2020_TO_SRGB
from yarnkite.core.image.lens import NO_PROFILE, Profile
from yarnkite.core.image.pixels import ImageArray, Pixels, SixteenBit, as_sixteen, is_deep
from yarnkite.core.image.scene import BRIGHTEST, LIGHT, developed, light_before, scene_codes
from yarnkite.core.image.srgb import light_table, to_light
from yarnkite.core.image.still_map import StillMap
from yarnkite.core.light.areas import Mask
from yarnkite.core.light.colour import DAYLIGHT_MIRED, colour_matrix, rebalanced
from yarnkite.core.light.colour_table import Table, apply_table, has_table, table_of
from yarnkite.core.light.cube import ColourTable
from yarnkite.core.light.field import field_of
from yarnkite.core.light.grade import GradeNumbers, Rounded
from yarnkite.core.light.mask import drawn_mask, limited, mix
from yarnkite.core.light.noise import denoised
from yarnkite.core.light.sharpening import sharpened
from yarnkite.core.light.surface import with_contrast, without_fringes, without_haze
from yarnkite.core.light.tone import MOST_ROOT, STEPS, tone_table
from yarnkite.core.light.white import up_to_white

# What lies around an area is worked on with it, so that its neighbours are those it has in the whole picture.
_MARGIN, _NEAR = 0.06, 8


class Adjustment(GradeNumbers):
    """What one still's light gets: the settings of ``Light`` as they are there, and what evening adds.

    ``gain`` is the stops by which evening raises it, ``red_gain`` and ``blue_gain`` those of these colours besides,
    ``evened_white`` the light at which it is white then, in stops against white (``white``), ``down`` and ``across``
    the waves of stops that take out bands (``field``). ``balanced_for`` is the light in mired that a raw still was
    balanced for, where it is shown as if for that of the shot. ``areas`` has a grade for each of the
    shot's masks; ``table`` is how far the shot's table of colours is applied.
    """

    gain: Rounded = 0.0
    red_gain: Rounded = 0.0
    blue_gain: Rounded = 0.0
    evened_white: Rounded = 0.0
    balanced_for: Rounded = 0.0
    down: tuple[Rounded, ...] = ()
    across: tuple[Rounded, ...] = ()
    vignette: Rounded = 0.0
    noise: Rounded = 0.0
    colour_noise: Rounded = 0.0
    areas: tuple[GradeNumbers, ...] = ()
    table: Rounded = 0.0

    @property
    def of_the_whole(self) -> "Adjustment":
        """The same without what depends on where in the still a pixel lies."""
        return self.model_copy(update={"areas": (), "vignette": 0.0, "down": (), "across": ()})


UNADJUSTED = Adjustment()


class SharedLight(Frozen):
    """What of their light all stills of a shot share: where the areas are, the table of colours, and ``mired``.

    ``mired`` is the light the stills are balanced for, which warmth counts from; ``over_time`` how many stills before
    and after are averaged with each. ``profile`` is what the lens is known to do, ``channels`` by what red and blue are
    enlarged besides, ``dust`` what spots on the sensor take of it.
    """

    masks: tuple[Mask, ...] = ()
    table: ColourTable | None = None
    mired: Rounded = DAYLIGHT_MIRED
    over_time: int = 0
    profile: Profile = NO_PROFILE
    channels: tuple[float, float] = (1.0, 1.0)
    dust: tuple[DustSpot, ...] = ()

    @property
    def of_the_whole(self) -> "SharedLight":
        """The same without what depends on where in the still a pixel lies."""
        return self.model_copy(update={"masks": (), "profile": NO_PROFILE})


NO_SHARED_LIGHT = SharedLight()


def adjusted(
    image: ImageArray,
    adjustment: Adjustment,
    shared: SharedLight = NO_SHARED_LIGHT,
    still_map: StillMap | None = None,
    *,
    scene: Scene | None = None,
) -> ImageArray:
    """Return a picture with its light adjusted: noise, then the whole picture, then area by area, then the table.

    Parameters
    ----------
    image : RGB, sRGB code values, shape (height, width, 3), uint8 or uint16; or light of the scene
    shared : what the stills of its shot share
    still_map : where its pixels lie in the still; by default it is the whole still
    scene : what is known of light of the scene

    Returns
    -------
    the picture itself for ``UNADJUSTED`` unless it is light of the scene, else RGB, sRGB, the same shape, uint16

    Source: IEC 61966-2-1.
    """
    if adjustment == UNADJUSTED and not any(shared.profile.darkens):
        return image if scene is None else developed(Pixels(image, 1, scene=scene)).array
    place = still_map or StillMap.whole(image.shape[1], image.shape[0])
    calm = denoised(image, adjustment.noise, adjustment.colour_noise)
    field = field_of(adjustment.vignette, adjustment.down, adjustment.across, place, shared.profile.darkens)
    sheet = _Sheet(shared.mired, place.scale, image.shape[1])
    codes = _graded(calm, adjustment, sheet, field, scene)
    for mask, grade in zip(shared.masks, adjustment.areas, strict=False):
        if grade != _NO_GRADE:
            _grade_area(codes, mask, grade, sheet, place)
    _apply_shot_table(codes, adjustment, shared)
    return codes


_NO_GRADE = GradeNumbers()


@dataclass(frozen=True)
class _Sheet:
    """What a picture is graded on: the light it is balanced for, its pixels for each of the clip, and how wide it
    is."""

    mired: float
    scale: float
    width: int


def _graded(
    image: ImageArray,
    grade: GradeNumbers,
    sheet: _Sheet,
    field: NDArray[np.float32] | None = None,
    scene: Scene | None = None,
) -> SixteenBit:
    """Return a picture, or a part of one, with a grade: a copy in any case."""
    if grade.haze and scene is not None:
        # Haze is seen in a picture: the light of the scene is set first, then it is thinned, then comes the curve.
        image = _toned(image, _without(grade, _CURVE_FIELDS), sheet.mired, field, scene)
        grade, field, scene = _without(grade, _LIGHT_FIELDS), None, None
    clear = without_haze(as_sixteen(image), grade.haze, sheet.width) if grade.haze else image
    codes = _toned(clear, grade, sheet.mired, field, scene)
    codes = with_contrast(codes, grade.fine, grade.coarse, sheet.width)
    codes = without_fringes(codes, grade.fringes, sheet.scale)
    _apply_grade_table(codes, grade)
    return sharpened(codes, grade.sharpen, sheet.scale)


def _grade_area(codes: SixteenBit, mask: Mask, grade: GradeNumbers, sheet: _Sheet, place: StillMap) -> None:
    """Give an area of a picture a grade of its own, in place."""
    drawn = drawn_mask(mask, place)
    if drawn.rows[0] == drawn.rows[1]:
        return
    # What looks at neighbours gets some of those around the area.
    margin = round(_MARGIN * codes.shape[1]) if grade.fine or grade.coarse or grade.haze else _NEAR
    top, bottom = max(0, drawn.rows[0] - margin), drawn.rows[1] + margin
    left, right = max(0, drawn.columns[0] - margin), drawn.columns[1] + margin
    part = np.ascontiguousarray(codes[top:bottom, left:right])
    within = limited(drawn.shares[top:bottom, left:right], mask, part)
    mix(codes[top:bottom, left:right], _graded(part, grade, sheet), within)


def _toned(
    image: ImageArray,
    grade: GradeNumbers,
    mired: float,
    field: NDArray[np.float32] | None = None,
    scene: Scene | None = None,
) -> SixteenBit:
    """Return a picture with exposure and colour on linear light, then one curve."""
    tone = _of_tone(grade)
    if tone == UNADJUSTED and field is None and scene is None:
        return as_sixteen(image).copy()
    plan = _plan(tone, mired, scene)
    red, green, blue = plan.evened(light_table(image) if scene is None else LIGHT)
    picture = np.ascontiguousarray(image)
    result = np.empty(picture.shape, np.uint16)
    rows = picture.reshape(picture.shape[0], -1), result.reshape(picture.shape[0], -1)
    if plan.is_grey and field is None:
        # Each channel by itself: all that can happen to a sample is one table.
        roots = np.sqrt(np.minimum(green * plan.matrix[0, 0], np.float32(_MOST_LIGHT))) * STEPS + np.float32(0.5)
        _look_up(*rows, plan.table[roots.astype(np.int32)])
    else:
        # Light of the scene is led into sRGB first, and has nothing left to be led through.
        first, then = (_NONE, plan.matrix) if scene is None else (plan.matrix, _UNLED)
        _adjust(*rows, red, green, blue, first, then, plan.table, _NONE if field is None else field)
    return result


_NONE, _UNLED = np.zeros((0, 0), np.float32), np.eye(3, dtype=np.float32)
# What differs from still to still whatever is decided.
_OF_ONE_STILL = ("gain", "red_gain", "blue_gain", "evened_white", "balanced_for")
_LIGHT_FIELDS = ("exposure", "warmth", "tint", "saturation", *_OF_ONE_STILL)
_CURVE_FIELDS = ("contrast", "dark", "middle", "bright", "black", "white", "soften", "pulls")
_TONE_FIELDS = (*_LIGHT_FIELDS, *_CURVE_FIELDS)
_TABLE_FIELDS = ("hues", "muted", "monochrome", "dark_warmth", "dark_tint", "bright_warmth", "bright_tint")


def _of_tone(grade: GradeNumbers) -> Adjustment:
    """Return what of a grade the first pass does, alone, so that it is worked out once."""
    return Adjustment.model_construct(**{name: getattr(grade, name) for name in _TONE_FIELDS if hasattr(grade, name)})


def _without(grade: GradeNumbers, names: tuple[str, ...]) -> GradeNumbers:
    return grade.model_copy(update={name: getattr(UNADJUSTED, name) for name in names if hasattr(grade, name)})


def _of_table(grade: GradeNumbers) -> GradeNumbers:
    return GradeNumbers.model_construct(**{name: getattr(grade, name) for name in _TABLE_FIELDS})


def _apply_grade_table(codes: SixteenBit, grade: GradeNumbers) -> None:
    """Give a picture the colours of a grade, in place."""
    if has_table(grade):
        apply_table(codes, _table(_of_table(grade)))


def _apply_shot_table(codes: SixteenBit, adjustment: Adjustment, shared: SharedLight) -> None:
    """Give a picture the table of its shot as far as its adjustment says, in place."""
    if shared.table is not None and adjustment.table:
        apply_table(codes, _other_table(adjustment.table, shared.table))


@lru_cache(maxsize=16)
def _table(grade: GradeNumbers) -> Table:
    return table_of(grade)


@lru_cache(maxsize=4)
def _other_table(strength: float, table: ColourTable) -> Table:
    """Return a shot's table as far as it is applied."""
    return table_of(_NO_GRADE, table.nodes, strength)


class _Plan:
    """What evening makes of the light of each value, a matrix on it, and the table of a curve."""

    def __init__(self, adjustment: Adjustment, mired: float, scene: Scene | None = None) -> None:
        of_scene = scene is not None
        self._blown = scene.blown if scene else 1.0
        self._gains = adjustment.gain + np.array([adjustment.red_gain, 0.0, adjustment.blue_gain])
        self._white = adjustment.evened_white
        even = adjustment.red_gain == adjustment.blue_gain == 0
        own, colour = adjustment.balanced_for, (adjustment.warmth, adjustment.tint, adjustment.saturation)
        neutral = even and not (any(colour) or own)
        self.is_grey = neutral and not of_scene
        matrix = np.eye(3) if neutral else colour_matrix(*colour, mired)
        if own:
            matrix = matrix @ rebalanced(own, mired, scene.matrix if scene else IDENTITY)
        if of_scene:
            matrix = matrix @ BT2020_TO_SRGB
        self.matrix = (2.0**adjustment.exposure * matrix).astype(np.float32)
        pulls = (
            *((0.25, adjustment.dark), (0.5, adjustment.middle), (0.75, adjustment.bright)),
            *adjustment.pulls,
        )
        ends = adjustment.black, adjustment.white
        self.table = tone_table(adjustment.contrast, pulls, *ends, adjustment.soften, of_scene=of_scene)

    def evened(self, light: NDArray[np.float32]) -> list[NDArray[np.float32]]:
        """Return the light of red, green and blue of each value a sample can have, evened, from its light."""
        if not self._gains.any() and not self._white:
            return [light] * 3
        each = {
            gain: self._blown * up_to_white(light * (2.0**gain / self._blown), self._white).astype(np.float32)
            for gain in set(self._gains)
        }
        return [each[gain] for gain in self._gains]


@lru_cache(maxsize=64)
def _plan(adjustment: Adjustment, mired: float, scene: Scene | None = None) -> _Plan:
    return _Plan(adjustment, mired, scene)


_MOST_LIGHT = MOST_ROOT**2


@njit(nogil=True, cache=True)
def _look_up(image, result, table):  # type: ignore[no-untyped-def]
    for y in range(image.shape[0]):
        row, codes = image[y], result[y]
        for x in range(row.size):
            codes[x] = table[row[x]]


# Values are finite, and a sum in another order differs by less than a step of the table.
@njit(nogil=True, cache=True, fastmath=True)
def _adjust(image, result, of_red, of_green, of_blue, into_srgb, matrix, table, field):  # type: ignore[no-untyped-def]
    count = image.shape[1] // 3
    channels = np.empty((3, count), np.float32)
    reds, greens, blues = channels[0], channels[1], channels[2]
    red_r, red_g, red_b = matrix[0, 0], matrix[0, 1], matrix[0, 2]
    green_r, green_g, green_b = matrix[1, 0], matrix[1, 1], matrix[1, 2]
    blue_r, blue_g, blue_b = matrix[2, 0], matrix[2, 1], matrix[2, 2]
    black, most = np.float32(0), np.float32(_MOST_LIGHT)
    steps, half = np.float32(STEPS), np.float32(0.5)
    for y in range(image.shape[0]):
        row, codes = image[y], result[y]
        # Unsigned indices spare the compiler a test for negative ones, here and below.
        for x in range(count):
            p = np.uintp(3 * x)
            reds[x] = of_red[row[p]]
            greens[x] = of_green[row[p + np.uintp(1)]]
            blues[x] = of_blue[row[p + np.uintp(2)]]
        if field.shape[0] > 0:
            for x in range(count):
                gain = field[y, x]
                reds[x], greens[x], blues[x] = reds[x] * gain, greens[x] * gain, blues[x] * gain
        if into_srgb.shape[0] > 0:
            for x in range(count):
                reds[x], greens[x], blues[x] = led_in(into_srgb, reds[x], greens[x], blues[x])
        for x in range(count):
            red, green, blue = reds[x], greens[x], blues[x]
            reds[x] = np.sqrt(min(max(red_r * red + red_g * green + red_b * blue, black), most)) * steps + half
            greens[x] = np.sqrt(min(max(green_r * red + green_g * green + green_b * blue, black), most)) * steps + half
            blues[x] = np.sqrt(min(max(blue_r * red + blue_g * green + blue_b * blue, black), most)) * steps + half
        for x in range(count):
            p = np.uintp(3 * x)
            codes[p] = table[np.uintp(np.uint32(reds[x]))]
            codes[p + np.uintp(1)] = table[np.uintp(np.uint32(greens[x]))]
            codes[p + np.uintp(2)] = table[np.uintp(np.uint32(blues[x]))]


def colours_of(codes: SixteenBit, adjustment: Adjustment, shared: SharedLight = NO_SHARED_LIGHT) -> SixteenBit:
    """Return what colours become by all that does not depend on where a pixel lies, on its neighbours or on its still.

    Parameters
    ----------
    codes : RGB, sRGB, shape (height, width, 3)
    """
    own = adjustment.model_copy(update=dict.fromkeys(_OF_ONE_STILL, 0.0))
    result = _toned(codes, own, shared.mired)
    _apply_grade_table(result, own)
    _apply_shot_table(result, own, shared)
    return result


def shown_codes(adjustment: Adjustment, count: int, *, of_scene: bool = False) -> SixteenBit:
    """Return which code values of 16 bits ``count`` greys become, evenly from black to white, shape (count,).

    ``of_scene`` says that they are of a still in the light of the scene, as it is shown where nothing is decided.
    """
    greys = np.linspace(0, 1, count)
    if of_scene:
        codes = scene_codes(light_before(to_light(greys)).astype(np.float32))
    else:
        codes = np.asarray(np.rint(greys * 65535), np.uint16)
    picture = np.repeat(codes[None, :, None], 3, axis=2)
    toned = _toned(picture, adjustment, DAYLIGHT_MIRED, scene=Scene(BRIGHTEST) if of_scene else None)
    return np.asarray(toned[0, :, 1], np.uint16)


def clipped_shares(image: ImageArray) -> tuple[float, float]:
    """Return which shares of a picture's pixels are black, and blown out: all channels at one end.

    Parameters
    ----------
    image : RGB, shape (height, width, 3), uint8 or uint16
    """
    step = 257 if is_deep(image) else 1
    return float((image.max(axis=2) <= step).mean()), float((image.min(axis=2) >= 254 * step).mean())
