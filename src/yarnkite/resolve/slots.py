"""What a shot's clip is made of: its stills in order, as the check was decided."""

from datetime import UTC

from yarnkite.core.check.decisions import Check
from yarnkite.core.render.slots import Slot, slots_of
from yarnkite.store import snapshots
from yarnkite.store.database import Database, Row
from yarnkite.store.snapshots import BYTES_A_STILL, Snapshot


def slots_of_shot(database: Database, shot: Row, check: Check) -> list[Slot]:
    """Return the slots of a shot's clip."""
    return slots_from(database, snapshots.of_shot(database, shot), check)


def slots_from(database: Database, stills: Snapshot, check: Check) -> list[Slot]:
    """Return the slots of a clip of a shot's stills."""
    decided = that_matters(check)

    def make() -> list[Slot]:
        return slots_of(stills.stills, decided.changed(aside={*decided.aside, *stills.away}))

    key = ("slots", stills.key, decided)
    return database.cached(key, make, lambda made: BYTES_A_STILL * (1 + len(made)))


def that_matters(check: Check) -> Check:
    """Return what of a check changes the clip."""
    return check.model_copy(update={"dismissed": (), "notes": (), "rated": ()})


def not_in_clip(database: Database, shot: Row, check: Check) -> set[int]:
    """Return the ids of the stills that are not in the clip: set aside, or away."""
    return {*check.aside, *snapshots.of_shot(database, shot).away}


def camera_clock(database: Database, shot: Row, slots: list[Slot], times: tuple[int, ...]) -> tuple[float, ...]:
    """Return when each slot was taken by the camera's own clock, in seconds since 1970; nothing where that is not
    known.

    ``times`` is what ``ResolvedShot`` has: how much later than the first known each was taken.
    """
    known = snapshots.of_shot(database, shot).clock
    first = next((place for place, one in enumerate(slots) if known.get(one.still) is not None), None)
    if not times or first is None:
        return ()
    moment = known[slots[first].still]
    assert moment is not None
    begun = moment.replace(tzinfo=UTC).timestamp()
    return tuple(begun + (later - times[first]) / 1000 for later in times)
