"""What a stretch of stills has in common, put together by the workers from reduced copies."""

from collections.abc import Sequence

from yarnkite.core.gather import Proxies, proxy_reduction
from yarnkite.core.inspect import Whole
from yarnkite.core.picture import fitted
from yarnkite.core.recipe import Fit, Size, Still

AT_ONCE = 48
WIDTH = 960


def pieces(stills: Sequence[Still]) -> list[Sequence[Still]]:
    """Return the stills in pieces for the workers."""
    return [stills[low : low + AT_ONCE] for low in range(0, len(stills), AT_ONCE)]


def seen_together(stills: Sequence[Still], proxies: Proxies) -> Whole:
    """Put stills of one size together, in a worker, about 960 pixels wide."""
    first = stills[0]
    width = min(WIDTH, first.width // proxy_reduction(first.width, first.height))
    size = Size(width=max(16, width // 2 * 2), height=max(16, round(first.height * width / first.width / 2) * 2))
    whole = Whole()
    for still in stills:
        whole.add(fitted(still, Fit(size=size), size, read=proxies.read))
    return whole
