"""What a stretch of stills has in common: mean, brightest, darkest, and where it changes most."""

from collections.abc import Mapping

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray, as_eight, as_sixteen, is_deep


class StackStatistics:
    """What a stretch of stills has in common: mean, brightest, darkest, and where it changes most."""

    def __init__(self) -> None:
        self._count = self._steps = 0
        self._before: ImageArray | None = None

    def add(self, image: ImageArray) -> None:
        """Take one more still, RGB, all of one shape; once one has 16 bits a sample, all have."""
        if self._before is not None and is_deep(image) != is_deep(self._before):
            image = as_sixteen(image)
            self._deepen()
        if self._before is None:
            self._sum = image.astype(np.uint32)
            self._brightest, self._darkest = image.copy(), image.copy()
            self._moved = np.zeros(image.shape[:2], np.uint32)
        else:
            self._sum += image
            np.maximum(self._brightest, image, out=self._brightest)
            np.minimum(self._darkest, image, out=self._darkest)
            self._moved += cv2.absdiff(image, self._before).max(axis=2)
            self._steps += 1
        self._before = image
        self._count += 1

    def join(self, other: "StackStatistics") -> None:
        """Take what another stretch gathered; the step between the two stretches is not counted."""
        if other._before is None:
            return
        if self._before is None:
            self.__dict__.update(other.__dict__)
            return
        if is_deep(self._brightest) != is_deep(other._brightest):
            self._deepen()
            other._deepen()
        self._sum += other._sum
        np.maximum(self._brightest, other._brightest, out=self._brightest)
        np.minimum(self._darkest, other._darkest, out=self._darkest)
        self._moved += other._moved
        self._count += other._count
        self._steps += other._steps

    def _deepen(self) -> None:
        if self._before is None or is_deep(self._before):
            return
        self._before = as_sixteen(self._before)
        self._brightest, self._darkest = as_sixteen(self._brightest), as_sixteen(self._darkest)
        self._sum, self._moved = self._sum * np.uint32(257), self._moved * np.uint32(257)

    @property
    def count(self) -> int:
        """How many stills were taken."""
        return self._count

    @property
    def nbytes(self) -> int:
        """How many bytes its arrays take."""
        return sum(array.nbytes for array in self.arrays().values())

    def arrays(self) -> dict[str, NDArray[np.generic]]:
        """Return all there is to it, to be kept in a file; raises ``ValueError`` before there is a still."""
        if self._before is None:
            raise ValueError("nothing was put together")
        counts = np.array([self._count, self._steps], np.int64)
        names = ("sum", "brightest", "darkest", "moved", "before")
        return {"counts": counts} | {name: getattr(self, f"_{name}") for name in names}

    @classmethod
    def from_arrays(cls, arrays: Mapping[str, NDArray[np.generic]]) -> "StackStatistics":
        """Return what ``arrays`` gave; raises ``KeyError`` if some of it is missing."""
        whole = cls()
        whole._count, whole._steps = (int(value) for value in arrays["counts"])
        for name in ("sum", "brightest", "darkest", "moved", "before"):
            setattr(whole, f"_{name}", arrays[name])
        return whole

    @property
    def mean(self) -> ImageArray:
        return np.asarray((self._sum + self._count // 2) // self._count, self._brightest.dtype)

    @property
    def brightest(self) -> ImageArray:
        return self._brightest

    @property
    def darkest(self) -> ImageArray:
        return self._darkest

    @property
    def activity(self) -> ImageArray:
        """Return how much each place changes from still to still, bright where most; the mean shows through."""
        change = self._moved / max(1, self._steps)
        most = float(np.percentile(change, 99.5)) or 1.0
        share = np.clip(change / most, 0, 1)[..., None]
        grey = np.repeat(cv2.cvtColor(as_eight(self.mean), cv2.COLOR_RGB2GRAY)[..., None], 3, axis=2) * 0.35
        return np.asarray(np.clip(grey * (1 - share) + share * np.array([255, 214, 120]), 0, 255), np.uint8)
