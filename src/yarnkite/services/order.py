"""The order of a shot: its stills, the orders they could have, and the tail."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.counter import DigitGroup
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.geometry import usual_shape
from yarnkite.core.base.wording import counted
from yarnkite.core.check.ratings import ratings_sentence
from yarnkite.core.order.analysis import Candidate
from yarnkite.core.order.breaks import Break
from yarnkite.core.order.by_hand import reordered, reversed_in_place
from yarnkite.core.order.decisions import OrderBy
from yarnkite.resolve.order import analysis_of_shot
from yarnkite.services.decisions import Decided, decide, latest
from yarnkite.services.running import Services
from yarnkite.store import shots, stills
from yarnkite.store.database import Row
from yarnkite.store.sidecars import with_sidecar


@dataclass(frozen=True)
class ListedStills:
    """A shot's stills in order, what was left out, and a sentence about them; ``away`` counts files out of reach.

    ``state`` names the state the stills are in. Each row has ``interval_s``, the seconds since the still before.
    """

    stills: list[Row]
    left_out: list[Row]
    found: str
    state: str
    away: int


@dataclass(frozen=True)
class OrderOfShot:
    """The orders a shot's stills could have, the recommended one with the reason, and what breaks the order."""

    by: OrderBy
    group: int | None
    groups: Sequence[DigitGroup]
    recommended: OrderBy
    reason: str
    candidates: list[Candidate]
    breaks: list[Break]


def listed(services: Services, shot_id: int, since: int) -> ListedStills:
    """Return a shot's stills in order; with ``since`` only those with ids above it."""
    shots.one(services.database, shot_id)
    rows, left_out, state = stills.seen(services.database, shot_id, since)
    for row in rows:
        row["away"] = bool(row["away"])
        with_sidecar(row)
    for row, interval in zip(rows, _intervals(rows), strict=True):
        row["interval_s"] = interval
    away = sum(row["away"] for row in rows)
    return ListedStills(rows, left_out, "" if since else _found(rows, len(left_out), away), state, away)


def order_of_shot(services: Services, shot_id: int) -> OrderOfShot:
    """Return the orders a shot's stills could have; raises ``NotFound``."""
    shots.one(services.database, shot_id)
    decided = latest(services, shot_id).order
    analysis, breaks = analysis_of_shot(services.database, shot_id, decided)
    candidates = list(analysis.candidates)
    if decided.by == "hand" or decided.hand:
        candidates.append(Candidate("hand", tuple(decided.hand), "By hand: as you put them."))
    return OrderOfShot(
        by=analysis.recommended if decided.by == "recommended" else decided.by,
        group=analysis.numbering.group,
        groups=analysis.groups,
        recommended=analysis.recommended,
        reason=analysis.reason,
        candidates=candidates,
        breaks=breaks,
    )


def move(services: Services, shot_id: int, seen: int, chosen: Sequence[int], to: int) -> Decided:
    """Put stills together at another position; the order is by hand from then on."""
    return _by_hand(services, shot_id, seen, reordered(stills.ids(services.database, shot_id), chosen, to))


def reverse(services: Services, shot_id: int, seen: int, chosen: Sequence[int]) -> Decided:
    """Let stills change places, the first with the last and so on; none means all."""
    before = stills.ids(services.database, shot_id)
    return _by_hand(services, shot_id, seen, reversed_in_place(before, chosen or before))


def tail_rows(services: Services, shot_id: int) -> list[bytes]:
    """Return a row of RGB pixels for each still of a shot; raises ``NotFound`` for none."""
    rows = stills.tail_rows(services.database, shot_id)
    if not rows:
        raise NotFound("no_stills", "This shot has no stills yet. Bring some in first.")
    return rows


def _by_hand(services: Services, shot_id: int, seen: int, hand: tuple[int, ...]) -> Decided:
    decisions = latest(services, shot_id)
    decided = decisions.order.model_copy(update={"by": "hand", "hand": hand})
    return decide(services, shot_id, seen, decisions.model_copy(update={"order": decided}))


def _intervals(rows: list[Row]) -> list[float | None]:
    """Return for each still the seconds since the one before, below 0 where the camera's clock went back."""
    times = [universal_time(row["captured_at"], row["utc_offset_min"]) for row in rows]
    later = [(after - before).total_seconds() if before and after else None for before, after in pairwise(times)]
    return [None, *later] if rows else []


def _found(rows: list[Row], left_out: int, away: int) -> str:
    """Say what was gathered: count, size, kind, time, and whether anything was left out."""
    if not rows:
        return "No stills yet."
    sizes = Counter((row["width"], row["height"]) for row in rows)
    width, height = usual_shape(sizes) or (0, 0)
    most = sizes[width, height]
    kinds = Counter(row["kind"] for row in rows).most_common()
    found = f"{counted(len(rows), 'still')}, " + " and ".join(kind for kind, _ in kinds) + f", {width} × {height}"
    if most < len(rows):
        found += f" ({len(rows) - most} of another size)"
    times = [row["captured_at"] for row in rows if row["captured_at"]]
    if times:
        found += f", taken {min(times):%Y-%m-%d %H:%M:%S} to {max(times):%Y-%m-%d %H:%M:%S}"
    if said := ratings_sentence([row["rating"] for row in rows]):
        found += f"; {said}"
    if left_out:
        found += f"; {left_out} {'file was' if left_out == 1 else 'files were'} left out"
    if away:
        found += (
            f". {'One file is' if away == 1 else f'{away:,} files are'} away, and not in the clip until they are back"
        )
    return found + "."
