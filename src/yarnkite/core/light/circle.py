"""The circle of hues: which colours a picture has, around it and from its middle outwards."""

from dataclasses import dataclass

import numpy as np

from yarnkite.core.image.pixels import ImageArray, peak
from yarnkite.core.light.oklab import from_oklab, hue_of, to_oklab

HUES, RINGS = 36, 6
# What the circle's edge stands for, in Oklab; few colours of sRGB have more.
MOST_COLOUR = 0.3
_LEAST_SHARE = 0.0004
_RIM_LIGHTNESS, _RIM_COLOUR = 0.72, 0.13


@dataclass(frozen=True)
class ColourSpot:
    """Colours of a picture that are alike: their hue in degrees, how far out they lie, 0 … 1, how they look, their
    share."""

    hue: float
    reach: float
    colour: str
    share: float


def spots_of(image: ImageArray) -> list[ColourSpot]:
    """Return which colours a picture has, the most frequent first.

    Parameters
    ----------
    image : RGB, sRGB, shape (height, width, 3), uint8 or uint16; a small copy will do
    """
    lab = to_oklab(image.reshape(-1, 3) / peak(image))
    reach = np.minimum(np.hypot(lab[:, 1], lab[:, 2]) / MOST_COLOUR, 0.999)
    places = (reach * RINGS).astype(int) * HUES + (hue_of(lab) / 360 * HUES).astype(int) % HUES
    counts = np.bincount(places, minlength=HUES * RINGS)
    found = []
    for place in np.argsort(-counts, kind="stable"):
        share = counts[place] / len(lab)
        if share < _LEAST_SHARE:
            break
        mean = lab[places == place].mean(axis=0)
        colour = float(np.hypot(mean[1], mean[2]))
        found.append(
            ColourSpot(
                round(float(hue_of(mean)), 1), round(min(1.0, colour / MOST_COLOUR), 3), _hex(mean), float(share)
            )
        )
    return found


def rim(count: int) -> list[str]:
    """Return colours around the circle, evenly from hue 0 on, all alike in lightness and colourfulness."""
    angles = np.radians(np.arange(count) / count * 360)
    lab = np.stack(
        [np.full(count, _RIM_LIGHTNESS), _RIM_COLOUR * np.cos(angles), _RIM_COLOUR * np.sin(angles)], axis=-1
    )
    return [_hex(one) for one in lab]


def _hex(lab: np.ndarray[tuple[int, ...], np.dtype[np.float64]]) -> str:
    red, green, blue = np.rint(from_oklab(np.asarray(lab, float)[None])[0] * 255).astype(int)
    return f"#{red:02x}{green:02x}{blue:02x}"
