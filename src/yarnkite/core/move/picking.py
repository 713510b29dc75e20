"""Which stills: of every few the one that continues the camera's path best, so that steps of uneven length glide."""

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.homography import mapped
from yarnkite.core.move.path import PLACES


def picked(matrices: Floats, every: int) -> list[int]:
    """Return the positions of the stills, one of every few, whose path is bent least.

    By dynamic programming (Bellman 1957) over the choices of each few and the few before: the sum of squared second
    differences of where the picture's middle and corners lie is the least there is.

    Parameters
    ----------
    matrices : the camera's path, shape (stills, 3, 3)
    every : of how many stills one is picked, 2 or more
    """
    count = len(matrices)
    groups = [np.arange(low, min(low + every, count)) for low in range(0, count, every)]
    if len(groups) < 3:
        return [int(group[0]) for group in groups]
    places = mapped(matrices[:, None], PLACES[None]).reshape(count, -1)
    # cost[i, j]: of the best way that ends with the i-th of the group before and the j-th of this one.
    cost = np.zeros((len(groups[0]), len(groups[1])))
    before: list[Floats] = []
    for one, two, three in zip(groups, groups[1:], groups[2:], strict=False):
        bend = places[one][:, None, None] - 2 * places[two][None, :, None] + places[three][None, None, :]
        every_way = cost[:, :, None] + (bend**2).sum(axis=-1)
        before.append(every_way.argmin(axis=0))
        cost = every_way.min(axis=0)
    last, end = np.unravel_index(int(cost.argmin()), cost.shape)
    chosen = [int(end), int(last)]
    for step in reversed(before):
        chosen.append(int(step[chosen[-1], chosen[-2]]))
    return [int(group[place]) for group, place in zip(groups, reversed(chosen), strict=True)]
