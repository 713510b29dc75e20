"""Following a picture: the brightness and colour that make a still look as somebody developed it elsewhere."""

from dataclasses import dataclass
from typing import cast

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares
from scipy.stats import spearmanr

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.wording import printable
from yarnkite.core.image.camera_colour import Scene
from yarnkite.core.image.pixels import ImageArray, SixteenBit, peak
from yarnkite.core.light.adjustment import Adjustment, SharedLight, adjusted
from yarnkite.core.light.colour_table import graded_colours
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.grade import RANGES, CurvePull, GradeNumbers
from yarnkite.core.light.settings import Setting

Values = NDArray[np.float64]

# Both pictures are looked at so wide: what an edge or a lens does to a few pixels is not seen there.
_WIDTH = 240
_PLACES = 1_600
# Of these, the calmer part is taken: beside edges the two may not lie exactly on each other.
_CALM = 0.7
_MOST_OTHER_SHAPE = 0.03
_LEAST_ALIKE = 0.6
# What is further off than so many code values of 255 was done to that part alone, and counts less.
_PART_ALONE = 6.0
# A setting that hardly matters stays where it is: its usual size costs so many code values.
_RELUCTANCE = 0.15
# What goes by how colourful, dark or bright a colour is.
_TINTED = ("muted", "dark_warmth", "dark_tint", "bright_warmth", "bright_tint")
# What is set, with a size that is usual for it: steps and reluctance are by that.
_USUAL = {
    "exposure": 1.0,
    "black": 0.05,
    "white": 0.1,
    "soften": 0.4,
    "warmth": 40.0,
    "tint": 12.0,
    "saturation": 0.3,
    **dict.fromkeys(("dark", "middle", "bright"), 0.3),
    **dict.fromkeys(_TINTED, 0.3),
}
_PULLED_AT = (0.08, 0.92)
_STEP = 0.02
# What would be moved by less of its usual size stays.
_HARDLY = 0.02


@dataclass(frozen=True)
class Followed:
    """A light that has the settings found, and by how many code values of 255 the still was off before, and is now."""

    light: Light
    before: float
    left: float


def followed(
    still: ImageArray,
    wanted: SixteenBit,
    own: Adjustment,
    shared: SharedLight,
    *,
    scene: Scene | None,
    names: tuple[str, str],
) -> Followed:
    """Find the brightness and colour by which a still comes to look like a picture of it that was developed elsewhere.

    Least squares over the settings themselves, robust against what was done to parts of the picture (Huber 1964), so
    that what is found is a light like any other: it can be pulled further, and holds for all stills of a shot.

    Parameters
    ----------
    still : RGB, upright, sRGB code values or light of the scene, shape (height, width, 3)
    wanted : RGB, upright, sRGB code values, of any size
    own : what the still's light gets besides, such as its part in evening
    shared : what the stills of its shot share
    scene : what is known of light of the scene
    names : what the still and the picture are called

    Raises ``Refusal`` (``other_shape``, ``other_picture``) where they are not of the same view.
    """
    _check_shape(still, wanted, names)
    size = (_WIDTH, max(1, round(_WIDTH * still.shape[0] / still.shape[1])))
    aim = _codes(wanted, size)
    places = _calm_places(aim)
    small = cast(ImageArray, cv2.resize(still, size, interpolation=cv2.INTER_AREA))
    colours, aim = np.ascontiguousarray(small.reshape(1, -1, 3)[:, places]), aim.reshape(-1, 3)[places]
    table = None if shared.table is None else shared.table.nodes
    untabled = shared.of_the_whole.model_copy(update={"table": None})

    def shown(settings: Values) -> Values:
        toned, tinted = _numbers(settings)
        image = adjusted(colours, own.model_copy(update=toned), untabled, scene=scene)
        codes = graded_colours(tinted, image[0] / peak(image), table, own.table)
        return np.clip(codes, 0, 1) * 255

    plain = np.zeros(len(_USUAL) + len(_PULLED_AT))
    _check_alike(shown(plain), aim, names)

    def off(settings: Values) -> Values:
        return np.concatenate([(shown(settings) - aim).ravel() / _PART_ALONE, settings * _reluctance(len(places))])

    def slopes(settings: Values) -> Values:
        here = off(settings)
        return np.stack([(off(settings + step) - here) / _STEP for step in np.eye(len(settings)) * _STEP], axis=1)

    found = least_squares(off, plain, jac=slopes, bounds=_bounds(), loss="huber", max_nfev=40, xtol=1e-4, ftol=1e-5)
    settled = np.where(np.abs(found.x) < _HARDLY, 0.0, found.x)
    return Followed(_light(settled), _apart(shown(plain), aim), _apart(shown(settled), aim))


def _check_shape(still: ImageArray, wanted: SixteenBit, names: tuple[str, str]) -> None:
    shapes = [image.shape[1] / image.shape[0] for image in (still, wanted)]
    if abs(shapes[1] / shapes[0] - 1) > _MOST_OTHER_SHAPE:
        raise Refusal(
            "other_shape",
            f"“{printable(names[1])}” has another shape than “{printable(names[0])}”: it was cropped or turned. "
            "Save it whole and upright to follow it.",
        )


def _check_alike(shown: Values, aim: Values, names: tuple[str, str]) -> None:
    greys = shown.sum(axis=1), aim.sum(axis=1)
    if any(np.ptp(one) < 1 for one in greys) or spearmanr(*greys).statistic < _LEAST_ALIKE:
        raise Refusal(
            "other_picture",
            f"“{printable(names[1])}” does not look like “{printable(names[0])}”. Go to the still it was "
            "developed from, then choose it again.",
        )


def _codes(picture: SixteenBit, size: tuple[int, int]) -> Values:
    small = cv2.resize(picture, size, interpolation=cv2.INTER_AREA)
    return np.asarray(small, np.float64) * (255 / peak(picture))


def _calm_places(picture: Values) -> NDArray[np.intp]:
    """Return places, evenly over a picture, beside which it changes little."""
    grey = picture.mean(axis=2).astype(np.float32)
    stir = cv2.morphologyEx(grey, cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)).ravel()
    calm = np.flatnonzero(stir <= np.quantile(stir, _CALM))
    return calm[:: max(1, len(calm) // _PLACES)]


def _reluctance(places: int) -> float:
    return _RELUCTANCE / _PART_ALONE * float(np.sqrt(3 * places))


def _bounds() -> tuple[Values, Values]:
    pulls = [(-1.0, 1.0)] * len(_PULLED_AT)
    low, high = zip(*((RANGES[name][0], RANGES[name][1]) for name in _USUAL), strict=True)
    sizes = np.array([*_USUAL.values(), *(_USUAL["dark"] for _ in pulls)])
    # Steps are taken forward from where it is, so that it ends a step before the end of its range; what cannot be below
    # nothing begins there.
    least = np.array([*low, *(one for one, _ in pulls)]) / sizes
    most = np.array([*high, *(one for _, one in pulls)]) / sizes
    return np.minimum(least, -1e-6), most - 2 * _STEP


def _values(settings: Values) -> tuple[dict[str, float], list[float]]:
    """Return settings by name, and how far the places beside them are pulled, from their usual sizes."""
    named = {name: float(one) * size for (name, size), one in zip(_USUAL.items(), settings, strict=False)}
    # By less than that nothing rolls off; a corner so small has no place in its formula.
    named["soften"] = named["soften"] if named["soften"] > 1e-3 else 0.0
    return named, [float(one) * _USUAL["dark"] for one in settings[len(_USUAL) :]]


def _numbers(settings: Values) -> tuple[dict[str, object], GradeNumbers]:
    """Return what goes by a colour's light alone, and the rest."""
    named, pulls = _values(settings)
    tinted = GradeNumbers().model_copy(update={name: named.pop(name) for name in _TINTED})
    return named | {"pulls": tuple(zip(_PULLED_AT, pulls, strict=True))}, tinted


def _light(settings: Values) -> Light:
    named, pulls = _values(settings)
    places = tuple(CurvePull(at=at, by=Setting(value=by)) for at, by in zip(_PULLED_AT, pulls, strict=True) if by)
    return Light(pulls=places).with_settings({name: Setting(value=value) for name, value in named.items()})


def _apart(shown: Values, aim: Values) -> float:
    return float(np.abs(shown - aim).mean())
