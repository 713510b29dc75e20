"""Lens profiles: what is known of a lens by its name, from the database that comes with lensfunpy."""

import re
from dataclasses import dataclass
from functools import lru_cache

import lensfunpy
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.lens import NO_PROFILE, Profile
from yarnkite.core.light.decisions import LensChoice

# The profile is measured on a grid of this size, whatever the picture's.
_WIDTH, _HEIGHT = 360, 240
_DISTANCE_M = 1000.0
_FLAGS = lensfunpy.ModifyFlags.DISTORTION | lensfunpy.ModifyFlags.TCA | lensfunpy.ModifyFlags.VIGNETTING
_NUMBER = re.compile(r"\s+no\. .*$")


def profile_of(camera: str, lens: str, focal_mm: float, aperture: float) -> Profile | None:
    """Return the profile of a lens on a camera, both as Exif names them, or ``None`` if none fits.

    Parameters
    ----------
    camera : maker and model, with or without the body's own number
    focal_mm, aperture : what the lens was set to

    Returns
    -------
    radii in half diagonals of the still; ``None`` also where the focal length lies outside of what was measured
    """
    return _found(_NUMBER.sub("", camera).strip(), lens.strip(), round(focal_mm, 1), round(aperture, 1))


@lru_cache(maxsize=64)
def _found(camera: str, lens: str, focal_mm: float, aperture: float) -> Profile | None:
    body = _camera(camera)
    if body is None or not lens:
        return None
    lenses = [one for one in _database().find_lenses(body, lens=lens) if _is_named(one, lens)]
    if not lenses or not lenses[0].min_focal * 0.95 <= focal_mm <= max(lenses[0].max_focal, lenses[0].min_focal) * 1.05:
        return None
    return _measured(lenses[0], body.crop_factor, focal_mm, aperture)


@dataclass(frozen=True)
class KnownLens:
    """A lens of the database: its maker and model, and the focal lengths it has, in mm."""

    name: str
    shortest_mm: float
    longest_mm: float


def known_lenses(words: str, most: int = 40) -> list[KnownLens]:
    """Return lenses whose maker and model hold all of some words, those with the shortest names first."""
    wanted = words.casefold().split()
    found = {
        name: KnownLens(name, one.min_focal, max(one.min_focal, one.max_focal))
        for one in _database().lenses
        if wanted and all(word in (name := _name(one)).casefold() for word in wanted)
    }
    return sorted(found.values(), key=lambda one: (len(one.name), one.name))[:most]


def profile_by_choice(camera: str, choice: LensChoice, aperture: float) -> Profile | None:
    """Return the profile of a lens that was chosen, or ``None`` if it is not in the database.

    Where the camera is not known, or nothing is, its sensor is taken for one as large as the lens was measured on.
    """
    return _chosen(_NUMBER.sub("", camera).strip(), choice.name, choice.focal_mm, round(aperture, 1))


@lru_cache(maxsize=64)
def _chosen(camera: str, name: str, focal_mm: float, aperture: float) -> Profile | None:
    lens = next((one for one in _database().lenses if _name(one) == name), None)
    if lens is None:
        return None
    body = _camera(camera) if camera else None
    focal = min(max(focal_mm, lens.min_focal), max(lens.min_focal, lens.max_focal))
    return _measured(lens, body.crop_factor if body else lens.crop_factor, focal, aperture)


def _name(lens: lensfunpy.Lens) -> str:
    return f"{lens.maker} {lens.model}".strip()


@lru_cache(maxsize=1)
def _database() -> lensfunpy.Database:
    return lensfunpy.Database()


def _camera(name: str) -> lensfunpy.Camera | None:
    """Return the camera whose maker and model a name is made of: the longest model that it holds."""
    wanted = name.casefold()
    fitting = [one for one in _database().cameras if one.model and one.model.casefold() in wanted]
    fitting = [one for one in fitting if not one.maker or one.maker.casefold().split()[0] in wanted]
    return max(fitting, key=lambda one: len(one.model), default=None)


def _is_named(lens: lensfunpy.Lens, name: str) -> bool:
    """Tell whether a lens has the numbers of a name: another focal length or aperture is another lens."""
    return set(re.findall(r"\d+(?:\.\d+)?", name)) <= set(re.findall(r"\d+(?:\.\d+)?", lens.model))


def _measured(lens: lensfunpy.Lens, crop: float, focal_mm: float, aperture: float) -> Profile:
    modifier = lensfunpy.Modifier(lens, crop, _WIDTH, _HEIGHT)
    modifier.initialize(focal_mm, aperture, _DISTANCE_M, scale=1.0, pixel_format=np.float32, flags=_FLAGS)
    x, y = np.meshgrid(np.arange(_WIDTH), np.arange(_HEIGHT))
    # The library measures from the middle of the picture, the middles of pixels on whole numbers.
    middle = np.array([(_WIDTH - 1) / 2, (_HEIGHT - 1) / 2])
    half = np.hypot(*middle)
    radius = np.hypot(x - middle[0], y - middle[1]) / half
    bends, red, blue = NO_PROFILE.bends, 1.0, 1.0
    straight = modifier.apply_geometry_distortion()
    if straight is not None:
        bends = _fitted(radius, np.hypot(*np.moveaxis(straight - middle, -1, 0)) / half)
    by_colour = modifier.apply_subpixel_distortion()
    if by_colour is not None:
        red, blue = (_scale(by_colour[:, :, colour] - middle, by_colour[:, :, 1] - middle) for colour in (0, 2))
    shown = np.ones((_HEIGHT, _WIDTH, 3), np.float32)
    darkens = _fall_off(radius, shown[..., 0]) if modifier.apply_color_modification(shown) else NO_PROFILE.darkens
    return Profile(name=_name(lens), bends=bends, red=red, blue=blue, darkens=darkens)


def _fitted(radius: Floats, out: Floats) -> tuple[float, float, float, float, float]:
    """Return the polynomial by which a radius is multiplied, by least squares."""
    some = (radius > 0.02).reshape(-1)
    at = radius.reshape(-1)[some]
    factors = np.linalg.lstsq(at[:, None] ** np.arange(5), out.reshape(-1)[some] / at, rcond=None)[0]
    one, two, three, four, five = (round(float(factor), 7) for factor in factors)
    return one, two, three, four, five


def _scale(points: NDArray[np.float32], green: NDArray[np.float32]) -> float:
    """Return by what points lie further out than those of green."""
    return round(float((points * green).sum() / (green * green).sum()), 7)


def _fall_off(radius: Floats, raised: NDArray[np.float32]) -> tuple[float, float, float]:
    """Return the factors of r², r⁴ and r⁶ by which light falls off, from by how much it is raised."""
    square = radius.reshape(-1, 1) ** 2
    factors = np.linalg.lstsq(square ** np.arange(1, 4), 1 / np.maximum(raised.reshape(-1), 0.1) - 1, rcond=None)[0]
    one, two, three = (round(float(factor), 7) for factor in factors)
    return one, two, three
