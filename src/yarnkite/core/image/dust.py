"""Dust removed: what a spot on the sensor takes of the light is measured over a shot, and given back in each still.

Dust takes the same share of the light wherever the camera looks. Seen through it is the scene, so dividing by that
share brings back texture as well as a plain sky; only where next to nothing comes through is it filled from around.
"""

import base64
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil, floor
from typing import Annotated

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yarnkite.core.base.frozen import Fine, Frozen
from yarnkite.core.image.pixels import ImageArray, Pixels, is_deep
from yarnkite.core.image.scene import LIGHT, scene_codes
from yarnkite.core.image.srgb import codes_of, light_table, to_codes

Plane = NDArray[np.float32]

MOST_SPOTS = 40
# A spot's square is so many times as wide as the spot: what is around it is known at its border.
_REACH = 2.5
# The square is measured on a grid; shares of the light are kept in steps of a 240th.
GRID = 33
_WHOLE = 240
_RING = 2
# Further out than this, in widths of a spot, it hardly reaches; nearer than that is its middle.
_RIM, _CORE = 0.75, 0.25
# From here on down less is seen through a spot than is made up, and from there on nothing.
_DIM, _DARK = 0.3, 0.12
_BLOWN, _TOO_DARK = 0.97, 0.002
_FEWEST, _PLAIN = 3, 0.25
# Dust takes so much of the light in its middle, and a third of what it usually takes in so many stills.
_FAINTEST, _MOSTLY = 0.025, 0.7


@dataclass(frozen=True)
class DustPlace:
    """Where a spot is looked at: its middle in shares of width and height, its width in shares of the width."""

    x: float
    y: float
    width: float


class DustSpot(Frozen):
    """A spot of dust: its middle and width in shares of an upright still's width and height, its width of its width.

    ``shade`` are the shares of the light that come through, on a grid over the square around it, as base64 of bytes
    (240 is all of it). It is one of stills of ``shape``, their width and height in pixels; others have another sensor.
    """

    x: Fine
    y: Fine
    width: Annotated[float, Field(ge=0.001, le=0.12)]
    # Base64 of as many bytes as the grid has places, a multiple of three: it needs no padding.
    shade: Annotated[str, Field(pattern=r"^[A-Za-z0-9+/]{1452}$")]
    shape: tuple[Annotated[int, Field(ge=1)], Annotated[int, Field(ge=1)]]

    def is_near(self, place: "DustPlace | DustSpot") -> bool:
        """Tell whether a place is this spot's."""
        across, down = (self.x - place.x) * self.shape[0], (self.y - place.y) * self.shape[1]
        return float(np.hypot(across, down)) < max(self.width, place.width) / 2 * self.shape[0]

    @property
    def taken(self) -> float:
        """The largest share of the light it takes, 0 … 1."""
        return float(1 - _shade(self.shade).min())


def without_dust(pixels: Pixels, spots: Sequence[DustSpot], shape: tuple[int, int]) -> Pixels:
    """Return a still's pixels without spots of dust; others are never changed, nor is what was given.

    Parameters
    ----------
    pixels : upright, whole; sRGB or light of the scene, at any reduction
    shape : the still's own width and height in pixels
    """
    own = [spot for spot in spots if spot.shape == shape]
    if not own:
        return pixels
    cleaned = replace(pixels, array=pixels.array.copy())
    for spot in own:
        _clean(cleaned, spot)
    return cleaned


def measured_dust(
    stills: Iterable[Pixels], place: DustPlace, shape: tuple[int, int]
) -> tuple[DustSpot | None, list[float]]:
    """Measure a spot of dust in stills of all of a shot, and how much each of them shows it.

    Parameters
    ----------
    stills, shape : as in ``without_dust``; all of one shape

    Returns
    -------
    the spot, or nothing where hardly a still can tell, or most are not darker there; and for each still how much darker
    it is there, in codes of 8 bits, 0 where that cannot be told
    """
    logs, shown = [], []
    for pixels in stills:
        square = _square(pixels.array, place)
        patch = _gridded(_light_in(pixels, square).mean(axis=2), square)
        around = _membrane(patch)
        if patch.max() > _BLOWN or around.mean() < _TOO_DARK:
            shown.append(0.0)
            continue
        logs.append(np.log(np.maximum(patch, 1e-5) / around))
        shown.append(_codes_between(patch, around))
    if len(logs) < _FEWEST:
        return None, shown
    every = np.stack(logs)
    # Where the scene around a spot is plain, what is darker is the spot: such stills count most.
    unrest = np.square(every[:, _away() > _RIM]).mean(axis=1)
    usual = _weighted_median(every, 1 / (unrest + float(np.quantile(unrest, _PLAIN)))) * _window()
    depth = float(usual[_away() < _CORE].mean())
    as_dark = np.mean(every[:, _away() < _CORE].mean(axis=1) < depth / 3)
    if depth > -_FAINTEST or as_dark < _MOSTLY:
        return None, shown
    shade = np.clip(np.rint(np.exp(usual) * _WHOLE), 1, 255).astype(np.uint8)
    spot = DustSpot(
        x=place.x,
        y=place.y,
        width=place.width,
        shade=base64.b64encode(shade.tobytes()).decode(),
        shape=shape,
    )
    return spot, shown


def _weighted_median(every: Plane, weights: NDArray[np.float64]) -> Plane:
    """Return the median of values that count differently, along the first axis."""
    order = np.argsort(every, axis=0, kind="stable")
    reached = np.cumsum(weights[order], axis=0) >= weights.sum() / 2
    middle = np.take_along_axis(order, reached.argmax(axis=0)[None], axis=0)
    return np.asarray(np.take_along_axis(every, middle, axis=0)[0], np.float32)


def _codes_between(patch: Plane, around: Plane) -> float:
    """Return how much darker the middle of a patch is than what is around it, in codes of 8 bits."""
    light = np.array([around.mean(), patch[_away() < _CORE].mean()], np.float64)
    before, there = to_codes(light) * 255
    return float(before - there)


@dataclass(frozen=True)
class _Square:
    """The square around a spot in a picture: its edges and its side in pixels, and the rows and columns it touches."""

    top: float
    left: float
    side: float
    rows: slice
    columns: slice

    @property
    def step(self) -> float:
        """Pixels from one place of the grid to the next."""
        return self.side / GRID


def _square(array: ImageArray, place: DustPlace | DustSpot) -> _Square:
    height, across = array.shape[:2]
    side = _REACH * place.width * across
    left, top = place.x * across - side / 2, place.y * height - side / 2
    rows, columns = (
        slice(max(0, floor(low)), min(most, ceil(low + side))) for low, most in ((top, height), (left, across))
    )
    return _Square(top, left, side, rows, columns)


def _light_in(pixels: Pixels, square: _Square) -> Plane:
    """Return the light of a square's pixels, shape (rows, columns, 3)."""
    region = pixels.array[square.rows, square.columns]
    return LIGHT[region] if pixels.scene is not None else light_table(region)[region]


def _gridded(light: Plane, square: _Square) -> Plane:
    """Return light on a square's grid, each sample the mean of what it stands for; beyond the still it goes on."""
    if square.step > 1:
        light = np.asarray(cv2.GaussianBlur(light, (0, 0), square.step / 2), np.float32)
    places = (np.arange(GRID, dtype=np.float32) + 0.5) * square.step - 0.5
    across, down = np.meshgrid(places + square.left - square.columns.start, places + square.top - square.rows.start)
    maps = np.asarray(across, np.float32), np.asarray(down, np.float32)
    return np.asarray(cv2.remap(light, *maps, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), np.float32)


def _clean(pixels: Pixels, spot: DustSpot) -> None:
    """Give back what a spot takes, in place."""
    square = _square(pixels.array, spot)
    region = pixels.array[square.rows, square.columns]
    if not region.size:
        return
    light = _light_in(pixels, square)
    coarse = _gridded(light, square)
    smooth = np.stack([_membrane(coarse[..., channel]) for channel in range(3)], axis=-1)
    rows = _grid_places(square.rows, square.top, square.step)
    columns = _grid_places(square.columns, square.left, square.step)
    shade = np.maximum(_between(_shade(spot.shade), rows, columns), np.float32(1 / _WHOLE))
    through = np.clip((shade - _DARK) / (_DIM - _DARK), 0, 1)[..., None]
    around = np.dstack([_between(smooth[..., channel], rows, columns) for channel in range(3)])
    given_back = light / np.maximum(shade, _DARK)[..., None]
    cleaned = np.asarray(given_back * through + around * (1 - through), np.float32)
    codes = scene_codes(cleaned) if pixels.scene is not None else _codes(cleaned, deep=is_deep(region))
    # What was not touched keeps its very codes.
    region[...] = np.where(np.abs(shade - 1)[..., None] < 0.5 / _WHOLE, region, codes)


def _grid_places(pixels: slice, begin: float, step: float) -> Plane:
    """Return where the middles of pixels lie on a grid that begins there."""
    return np.asarray((np.arange(pixels.start, pixels.stop) + 0.5 - begin) / step - 0.5, np.float32)


def _between(grid: Plane, rows: Plane, columns: Plane) -> Plane:
    """Return a grid's values between its places."""
    across, down = np.meshgrid(columns, rows)
    found = cv2.remap(grid, across, down, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(found, np.float32)


def _membrane(patch: Plane) -> Plane:
    """Return the surface without dents that has a patch's border (the Dirichlet problem of Laplace's equation)."""
    soft = cv2.blur(patch, (2 * _RING + 1, 2 * _RING + 1))
    border = _border()
    result = soft.copy()
    result[~border] = (_solution() @ soft[border].astype(np.float64)).astype(np.float32)
    return np.maximum(result, np.float32(1e-5))


@lru_cache(maxsize=1)
def _border() -> NDArray[np.bool_]:
    border = np.ones((GRID, GRID), bool)
    border[1:-1, 1:-1] = False
    return border


@lru_cache(maxsize=1)
def _solution() -> NDArray[np.float64]:
    """Return what each place inside gets of each place of the border."""
    inside = np.flatnonzero(~_border().reshape(-1))
    outside = np.flatnonzero(_border().reshape(-1))
    place = {int(one): number for number, one in enumerate(inside)}
    other = {int(one): number for number, one in enumerate(outside)}
    system, given = np.eye(len(inside)) * 4, np.zeros((len(inside), len(outside)))
    for number, one in enumerate(inside):
        for beside in (one - 1, one + 1, one - GRID, one + GRID):
            if int(beside) in place:
                system[number, place[int(beside)]] -= 1
            else:
                given[number, other[int(beside)]] += 1
    return np.asarray(np.linalg.solve(system, given))


@lru_cache(maxsize=1)
def _window() -> Plane:
    """Return 1 in the middle of the grid and softly 0 at its border, where nothing is taken."""
    away = np.abs(np.arange(GRID) - (GRID - 1) / 2) / (GRID / 2)
    ramp = np.clip((1 - away) / 0.15, 0, 1)
    ramp = ramp * ramp * (3 - 2 * ramp)
    return np.asarray(ramp[:, None] * ramp[None], np.float32)


@lru_cache(maxsize=1)
def _away() -> NDArray[np.float64]:
    """Return how far each place of the grid is from its middle, in widths of the spot."""
    along = (np.arange(GRID) - (GRID - 1) / 2) / GRID * _REACH
    return np.asarray(np.hypot(along[:, None], along[None]))


@lru_cache(maxsize=2 * MOST_SPOTS)
def _shade(shade: str) -> Plane:
    values = np.frombuffer(base64.b64decode(shade), np.uint8)
    return (values.reshape(GRID, GRID) / np.float32(_WHOLE)).astype(np.float32)


def _codes(light: Plane, *, deep: bool) -> ImageArray:
    return codes_of(np.ascontiguousarray(light, np.float32).reshape(-1), deep=deep).reshape(light.shape)
