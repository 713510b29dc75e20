"""What a picture looks like sampled elsewhere, by the definition of the kernel, in double precision and one by one."""

import cv2
import numpy as np
from numpy.typing import NDArray

LOBES = 3


def kernel(distance: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the sinc windowed by its own main lobe, stretched over three lobes to a side."""
    inside = np.abs(distance) < LOBES
    near = np.where(distance == 0, 1e-9, distance) * np.pi
    return np.where(inside, LOBES * np.sin(near) * np.sin(near / LOBES) / near**2, 0.0)


def sampled(line: NDArray[np.float64], at: NDArray[np.float64], width: float) -> NDArray[np.float64]:
    """Return what a row of pixels has at places, counted from the first one's edge; it goes on as it ends.

    Parameters
    ----------
    line : shape (pixels, …)
    width : of a lobe, in pixels
    """
    reach = int(np.ceil(LOBES * width)) + 1
    weighed = np.zeros((len(at), *line.shape[1:]))
    total = np.zeros(len(at))
    first = np.floor(at).astype(int)
    for step in range(-reach, reach + 1):
        weight = kernel((first + step + 0.5 - at) / width)
        total += weight
        weighed += weight.reshape(-1, *[1] * (line.ndim - 1)) * line[np.clip(first + step, 0, len(line) - 1)]
    return np.asarray(weighed / total.reshape(-1, *[1] * (line.ndim - 1)))


def resampled(
    image: NDArray[np.generic],
    part: tuple[float, float, float, float],
    size: tuple[int, int],
    least: float = 1.0,
) -> NDArray[np.float64]:
    """Return a part of a picture (left, top, width, height) on a grid of so many columns and rows."""
    left, top, width, height = part
    columns, rows = size
    across, down = width / columns, height / rows
    high = sampled(image.astype(float), top + (np.arange(rows) + 0.5) * down, max(down, least))
    wide = sampled(high.swapaxes(0, 1), left + (np.arange(columns) + 0.5) * across, max(across, least))
    return wide.swapaxes(0, 1)


def taken(
    image: NDArray[np.generic], x: NDArray[np.float64], y: NDArray[np.float64], width: float
) -> NDArray[np.float64]:
    """Return what a picture of one channel has at places, pixels counted from their middles."""
    reach = int(np.ceil(LOBES * width)) + 1
    column, row = np.floor(x).astype(int), np.floor(y).astype(int)
    weighed, total = np.zeros(x.shape), np.zeros(x.shape)
    for down in range(-reach, reach + 1):
        of_row = kernel((row + down - y) / width)
        lines = np.clip(row + down, 0, image.shape[0] - 1)
        for across in range(-reach, reach + 1):
            weight = of_row * kernel((column + across - x) / width)
            total += weight
            weighed += weight * image[lines, np.clip(column + across, 0, image.shape[1] - 1)]
    return np.asarray(weighed / total)


def detail(image: NDArray[np.generic]) -> float:
    """Return how much fine detail a picture has: what a blur of a pixel takes away, in shares of white."""
    grey = image[..., 1] if image.ndim == 3 else image
    full = float(np.iinfo(grey.dtype).max) if np.issubdtype(grey.dtype, np.integer) else 1.0
    inner = grey[16:-16, 16:-16].astype(float) / full
    return float((inner - cv2.GaussianBlur(inner, (0, 0), 1.0)).std())
