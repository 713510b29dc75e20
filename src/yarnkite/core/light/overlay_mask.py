"""Overlay masks: pictures that are laid over the stage to show where something is, with opacity."""

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import EightBit, ImageArray, is_deep

Plane = NDArray[np.float32]

_AREA = (200, 67, 47)
_STRIPE = 4


def area_mask(shares: Plane) -> EightBit:
    """Return a mask of one colour, the denser the more a pixel belongs to an area; RGBA, shape (height, width, 4)."""
    mask = np.zeros((*shares.shape, 4), np.uint8)
    mask[..., :3] = _AREA
    mask[..., 3] = np.rint(np.clip(shares, 0, 1) * 150)
    return mask


def edge_mask(shares: Plane) -> EightBit:
    """Return a grey picture, opaque: white where sharpening works, black where it leaves all as it is; RGBA."""
    mask = np.full((*shares.shape, 4), 255, np.uint8)
    mask[..., :3] = np.rint(np.clip(shares, 0, 1) * 255).astype(np.uint8)[..., None]
    return mask


def clipped_mask(image: ImageArray) -> EightBit:
    """Return stripes over what is clipped: rising ones where it is white, falling ones where it is black; RGBA.

    Parameters
    ----------
    image : RGB, shape (height, width, 3), uint8 or uint16
    """
    step = 257 if is_deep(image) else 1
    bright, dark = image.max(axis=2) >= 254 * step, image.max(axis=2) <= step
    y, x = np.indices(image.shape[:2])
    rising, falling = (x + y) // _STRIPE % 2 == 0, (x - y) // _STRIPE % 2 == 0
    mask = np.zeros((*image.shape[:2], 4), np.uint8)
    mask[bright & rising] = (200, 67, 47, 255)
    mask[bright & ~rising] = (255, 255, 255, 255)
    mask[dark & falling] = (90, 160, 200, 255)
    mask[dark & ~falling] = (0, 0, 0, 255)
    return mask
