"""Dust: spots on the sensor, found or pointed at, measured over a shot and removed from all of its stills."""

import threading
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.base.cache import Cache
from yarnkite.core.base.errors import Refusal, UnreadableStill
from yarnkite.core.base.still import Still
from yarnkite.core.check.dust import dust_sentence, with_dust, without
from yarnkite.core.gather.proxies import Proxies, proxy_reduction
from yarnkite.core.image.dust import DustPlace, DustSpot, measured_dust
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.image.scene import scene_of
from yarnkite.core.render.slots import alike
from yarnkite.services.decisions import Decided, decide_check, latest
from yarnkite.services.running import Services
from yarnkite.store import shots, snapshots

_LOOKED_IN = 64
_WORST = 3
# In codes of 8 bits: what is less dark than this nobody sees.
_SEEN = 1.0


@dataclass(frozen=True)
class MeasuredDust:
    """A spot as it was measured, and the positions of the stills that show it most, the worst first."""

    spot: DustSpot
    worst: tuple[int, ...]


@dataclass(frozen=True)
class RemovedSpot:
    """A spot that is removed, a sentence about it, and the positions of the stills that showed it most."""

    spot: DustSpot
    sentence: str
    worst: tuple[int, ...]


def removed(services: Services, shot_id: int) -> list[RemovedSpot]:
    """Return the spots that are removed from a shot, in the order they were."""
    spots = latest(services, shot_id).check.dust
    return [RemovedSpot(one, dust_sentence(one), _worst(services, shot_id, one)) for one in spots]


def remove(services: Services, shot_id: int, seen: int, place: DustPlace) -> Decided:
    """Remove a spot from all stills of a shot; raises ``Refusal`` (``no_dust``) where nothing is darker than around."""
    spot = measured(services, shot_id, place).spot
    return decide_check(services, shot_id, seen, lambda check: with_dust(check, [spot]))


def bring_back(services: Services, shot_id: int, seen: int, place: DustPlace) -> Decided:
    """Leave a spot in the picture again."""
    return decide_check(services, shot_id, seen, lambda check: check.changed(dust=without(check.dust, place)))


def measured(services: Services, shot_id: int, place: DustPlace) -> MeasuredDust:
    """Return what a spot takes of the light, measured in stills spread over the shot; raises ``Refusal``."""
    every = snapshots.of_shot(services.database, shots.one(services.database, shot_id))

    def measure() -> MeasuredDust:
        usual = alike([still for _, still in every.stills])
        if not usual:
            raise Refusal("no_stills", "This shot has no stills yet. Bring some in first.")
        chosen = usual[:: max(1, -(-len(usual) // _LOOKED_IN))]
        spot, shown = services.runner.submit(measure_dust, chosen, services.workspace.proxies, place).result()
        if spot is None or max(shown) < _SEEN:
            raise Refusal(
                "no_dust",
                "Nothing there is darker than what is around it, in any still that tells. Point at the middle of the "
                "spot, and make the ring a little wider than it.",
            )
        positions = {still: position for position, (_, still) in enumerate(every.stills)}
        worst = sorted(range(len(chosen)), key=lambda place: -shown[place])[:_WORST]
        return MeasuredDust(spot, tuple(positions[chosen[place]] for place in worst if shown[place] >= _SEEN))

    return _measured.get((every.version, every.folder, place), measure)


def measure_dust(stills: list[Still], proxies: Proxies, place: DustPlace) -> tuple[DustSpot | None, list[float]]:
    """Measure a spot in stills of one size, in a worker; of those that cannot be read nothing is known."""
    readable: list[int] = []

    def read() -> Iterator[Pixels]:
        for number, still in enumerate(stills):
            with suppress(UnreadableStill):
                pixels = scene_of(proxies.read(still, Fraction(proxy_reduction(still.width, still.height))))
                readable.append(number)
                yield pixels

    spot, shown = measured_dust(read(), place, (stills[0].width, stills[0].height))
    told = dict(zip(readable, shown, strict=True))
    return spot, [told.get(number, 0.0) for number in range(len(stills))]


def _worst(services: Services, shot_id: int, spot: DustSpot) -> tuple[int, ...]:
    """Return the stills that show a spot most; none where its shot has changed so that it is not seen any more."""
    with suppress(Refusal):
        return measured(services, shot_id, DustPlace(spot.x, spot.y, spot.width)).worst
    return ()


_MOST_BYTES = 4_000_000
_measured: Cache[MeasuredDust] = Cache(_MOST_BYTES, lambda _: 4_000, threading.Lock())
