"""Sorting out: stills that become shots of their own, shots that become one, stills that are taken out."""

import json
import os.path
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from pathlib import Path

from pymysql.cursors import DictCursor

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.gather.proposals import StillFacts
from yarnkite.core.move.decisions import Move
from yarnkite.core.reel.split_join import after_join, after_split
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.split_join import joined, order_of_both, part_of
from yarnkite.store import jobs, order, reels, revisions, shots, versions
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.move import seen_points
from yarnkite.store.rows import rows

_LATER = 1_000_000
_SEEN = ("id", "name", "captured_at", "utc_offset_min", "width", "height", "camera", "software", "fingerprint")
_AT_ONCE = 1000


@dataclass(frozen=True)
class Part:
    """Stills, by id, that become a shot of their own, and its name."""

    stills: tuple[int, ...]
    title: str


def seen(database: Database, shot_id: int, out: Collection[int]) -> list[StillFacts]:
    """Return a shot's stills in order as sorting sees them, without those that are not in the clip."""
    with database.transaction() as cursor:
        return [_seen(row) for row in rows(cursor, shot_id, _SEEN) if row["id"] not in out]


@retried
def split(database: Database, shot_id: int, parts: Sequence[Part]) -> list[int]:
    """Make a shot of each part, with all decisions about its stills; returns their ids.

    Raises ``NotFound`` for a still the shot does not have, ``Conflict`` if nothing would be left or it is busy.
    """
    with database.transaction() as cursor:
        return _split(cursor, _idle(cursor, shot_id), parts)


@retried
def sort_out(
    database: Database, shot_id: int, seen: int, *, aside: Sequence[int], keep: Sequence[str], parts: Sequence[Part]
) -> list[int]:
    """Do all that was chosen for a shot's proposals, or nothing; returns the ids of the shots that were made."""
    with database.transaction() as cursor:
        shot = _idle(cursor, shot_id)
        decided = revisions.newest(cursor, shot_id, seen)["decided"]
        if aside:
            check = decided.check.changed(aside={*decided.check.aside, *aside})
            revisions.revise_within(cursor, shot_id, seen, decided.model_copy(update={"check": check}))
        if keep:
            dismissed = json.dumps([*shots.dismissed(shot), *keep])
            cursor.execute("UPDATE shot SET dismissed = %s WHERE id = %s", (dismissed, shot_id))
        return _split(cursor, shot, parts) if parts else []


@retried
def join(database: Database, shot_id: int, other_id: int, folder: Path) -> None:
    """Put the stills of another shot into a shot, with all that was decided about them, its versions and its clips.

    ``folder`` is one both their folders lie in, or are. Raises ``Conflict`` while one of them is worked on.
    """
    with database.transaction() as cursor:
        # Always in the same order, so that two who join at once do not wait for each other.
        both = {one: _idle(cursor, one) for one in sorted((shot_id, other_id))}
        shot, other = both[shot_id], both[other_id]
        ids, others = _ids(cursor, shot_id), _ids(cursor, other_id)
        before = versions.all_decided(cursor, shot_id)[-1][1]
        of_other = versions.all_decided(cursor, other_id)
        for one in (shot, other):
            _set_below(cursor, one, folder)
        of_versions = {row["id"]: row["name"] for row in _named_versions(cursor, other_id)}
        _hand_over(cursor, shot_id, other_id)
        cursor.execute("UPDATE shot SET folder = %s WHERE id = %s", (shots.folder_bytes(folder), shot_id))
        dismissed = json.dumps(list(dict.fromkeys([*shots.dismissed(shot), *shots.dismissed(other)])))
        cursor.execute("UPDATE shot SET dismissed = %s WHERE id = %s", (dismissed, shot_id))
        cursor.execute("DELETE FROM shot WHERE id = %s", (other_id,))
        hand = order_of_both(before, ids, of_other[-1][1], others)
        decided = before.order if hand is None else before.order.model_copy(update={"by": "hand", "hand": hand})
        order.arrange(cursor, shot_id, decided)
        ordered = _ids(cursor, shot_id)
        now = joined(before, ids, of_other[-1][1], others, ordered)
        beside = [
            (
                f"{other['name'][:30]}: {name}" if name else f"as in {other['name']}",
                _over(joined(before, ids, version, others, ordered), version),
            )
            for name, version in of_other
            if _own(version) != _own(before) or version.light != of_other[-1][1].light
        ]
        versions.add_beside(cursor, shot_id, beside, now)
        names = {row["name"]: row["id"] for row in _named_versions(cursor, shot_id)}
        stand_in = {
            number: names[wanted]
            for number, name in of_versions.items()
            if (wanted := f"{other['name'][:30]}: {name}") in names
        }
        reels.follow(
            cursor, shot["project_id"], lambda reel: after_join(reel, shot_id, ids, other_id, others, stand_in)
        )


@retried
def take_out(database: Database, shot_id: int, stills: Collection[int]) -> int:
    """Take stills out of a shot, so that gathering again does not bring them back; files stay. Returns how many."""
    wanted = sorted(set(stills))
    with database.transaction() as cursor:
        _idle(cursor, shot_id)
        decided = revisions.newest(cursor, shot_id)["decided"]
        gone = 0
        for low in range(0, len(wanted), _AT_ONCE):
            some = wanted[low : low + _AT_ONCE]
            chosen = ", ".join(["%s"] * len(some))
            cursor.execute(
                "INSERT INTO taken_out (shot_id, name, still_id) SELECT shot_id, name, id "
                f"FROM still WHERE shot_id = %s AND id IN ({chosen})",
                (shot_id, *some),
            )
            gone += cursor.execute(f"DELETE FROM still WHERE shot_id = %s AND id IN ({chosen})", (shot_id, *some))
        order.arrange(cursor, shot_id, decided.order)
        return gone


def taken_out(database: Database, shot_id: int) -> list[str]:
    """Return the names of the files that were taken out of a shot and are not wanted back."""
    with database.transaction() as cursor:
        cursor.execute("SELECT name FROM taken_out WHERE shot_id = %s AND NOT wanted_back ORDER BY name", (shot_id,))
        return [row["name"] for row in cursor.fetchall()]


@retried
def bring_back(database: Database, shot_id: int) -> None:
    """Let gathering again bring back what was taken out, each still as the one it was."""
    with database.transaction() as cursor:
        _idle(cursor, shot_id)
        cursor.execute("UPDATE taken_out SET wanted_back = TRUE WHERE shot_id = %s", (shot_id,))


def of_siblings(database: Database, shot: Row) -> list[Row]:
    """Return the stills that other shots of the same project have from the same folder: id, names and fingerprint."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT still.id, still.name, still.source_name, still.fingerprint "
            "FROM still JOIN shot ON shot.id = still.shot_id WHERE shot.project_id = %s "
            "AND shot.folder = %s AND shot.id <> %s AND shot.deleted_at IS NULL",
            (shot["project_id"], shot["folder"], shot["id"]),
        )
        return list(cursor.fetchall())


def _idle(cursor: DictCursor, shot_id: int) -> Row:
    shot = shots.locked(cursor, shot_id)
    jobs.check_idle(cursor, shot_id)
    jobs.check_not_growing(cursor, shot_id)
    return shot


def _ids(cursor: DictCursor, shot_id: int) -> list[int]:
    return [int(row["id"]) for row in rows(cursor, shot_id, ("id",))]


def _split(cursor: DictCursor, shot: Row, parts: Sequence[Part]) -> list[int]:
    newest = revisions.newest(cursor, shot["id"])
    decided = versions.all_decided(cursor, shot["id"])
    ids = _ids(cursor, shot["id"])
    left = set(ids)
    made = []
    seen = {steady: seen_points(cursor, shot["id"], steady) for steady in {one.move.steady for _, one in decided}}

    def part(decisions: Decisions, stills: Collection[int]) -> Decisions:
        return part_of(decisions, ids, stills, seen.get(decisions.move.steady, []))

    for one in parts:
        if not one.stills or not left.issuperset(one.stills):
            raise NotFound("no_such_still", "The shot does not have these stills any more. Look at it again.")
        left.difference_update(one.stills)
        own = [(name, part(decisions, one.stills)) for name, decisions in decided]
        made.append(_own_shot(cursor, shot, one, own))
    if not left:
        raise Conflict("nothing_left", "All stills would leave this shot. Leave at least one.")
    order.arrange(cursor, shot["id"], newest["decided"].order)
    # What began, ended or changed with a still that is in another shot now is held here; there is no way back to that.
    every = [*versions.not_open(cursor, shot["id"]), (newest["version_id"], newest["decided"])]
    held = [(version, decided, part(decided, left)) for version, decided in every]
    if any(_held(decided) != _held(rest) for _, decided, rest in held):
        for version, _, rest in held:
            row = revisions.newest(cursor, shot["id"])
            revisions.append(*(cursor, shot["id"], row, rest), undo_to=None, redo_to=None, version=version)
    shot_of = {still: number for number, one in zip(made, parts, strict=True) for still in one.stills}
    named = {row["id"]: row["name"] for row in _named_versions(cursor, shot["id"])}
    theirs = {number: {row["name"]: row["id"] for row in _named_versions(cursor, number)} for number in made}
    stand_in = {
        (number, version): names[name]
        for number, names in theirs.items()
        for version, name in named.items()
        if name in names
    }
    reels.follow(cursor, shot["project_id"], lambda reel: after_split(reel, shot["id"], ids, shot_of, stand_in))
    return made


def _named_versions(cursor: DictCursor, shot_id: int) -> list[Row]:
    cursor.execute("SELECT id, name FROM version WHERE shot_id = %s", (shot_id,))
    return list(cursor.fetchall())


def _held(decided: Decisions) -> tuple[object, ...]:
    return decided.check.begin, decided.check.end, decided.light, decided.move.steady


def _own_shot(cursor: DictCursor, shot: Row, part: Part, decided: Sequence[tuple[str | None, Decisions]]) -> int:
    made = shots.insert(
        cursor,
        shot["project_id"],
        part.title,
        shots.folder_of(shot),
        copied=shot["copied"],
        source=shots.source_of(shot),
        decided=decided,
    )
    cursor.execute(
        "UPDATE shot JOIN shot AS origin ON origin.id = %s "
        "SET shot.gathered = TRUE, shot.size_model = origin.size_model, shot.raws = origin.raws WHERE shot.id = %s",
        (shot["id"], made),
    )
    for low in range(0, len(part.stills), _AT_ONCE):
        some = part.stills[low : low + _AT_ONCE]
        cursor.execute(
            f"UPDATE still SET shot_id = %s WHERE shot_id = %s AND id IN ({', '.join(['%s'] * len(some))})",
            (made, shot["id"], *some),
        )
    order.arrange(cursor, made, decided[-1][1].order)
    return made


def _set_below(cursor: DictCursor, shot: Row, folder: Path) -> None:
    """Let the names of a shot's files begin at a folder around its own."""
    inside = os.path.relpath(shots.folder_of(shot), folder)
    if inside == ".":
        return
    for table in ("still", "taken_out", "left_out"):
        cursor.execute(f"UPDATE {table} SET name = CONCAT(%s, '/', name) WHERE shot_id = %s", (inside, shot["id"]))


def _hand_over(cursor: DictCursor, shot_id: int, other_id: int) -> None:
    """Give a shot all that hangs on another: its stills, clips, jobs, and what was left or taken out of it."""
    cursor.execute("SELECT COALESCE(MAX(number), 0) AS last FROM still WHERE shot_id = %s", (shot_id,))
    last = (cursor.fetchone() or {"last": 0})["last"]
    cursor.execute(
        "UPDATE still SET shot_id = %s, number = number + %s, position = position + %s WHERE shot_id = %s",
        (shot_id, last + 1, _LATER, other_id),
    )
    cursor.execute("SELECT COALESCE(MAX(number), 0) AS last FROM left_out WHERE shot_id = %s", (shot_id,))
    listed = (cursor.fetchone() or {"last": 0})["last"]
    cursor.execute(
        "UPDATE left_out SET shot_id = %s, number = number + %s WHERE shot_id = %s", (shot_id, listed + 1, other_id)
    )
    for table in ("taken_out", "job", "clip", "upload", "rename_batch"):
        cursor.execute(f"UPDATE {table} SET shot_id = %s WHERE shot_id = %s", (shot_id, other_id))


def _own(decisions: Decisions) -> tuple[object, ...]:
    """Return what a version decides for itself."""
    pace = decisions.pace.model_copy(update={"longer": (), "picked": ()})
    return decisions.fit, pace, decisions.encode, _movement(decisions.move)


def _over(shared: Decisions, version: Decisions) -> Decisions:
    # What is said about single stills is said about those of both.
    picked = {"picked": shared.pace.picked} if version.pace.thin.way == "picked" else {}
    pace = version.pace.model_copy(update={"longer": shared.pace.longer} | picked)
    own = {"fit": version.fit, "move": version.move, "pace": pace, "encode": version.encode}
    return shared.model_copy(update=own)


def _movement(move: Move) -> Move:
    """Return what is decided about movement but for single stills."""
    steady = move.steady.model_copy(update={"points": (), "reference": None})
    return move.model_copy(update={"steady": steady})


def _seen(row: Row) -> StillFacts:
    captured = universal_time(row["captured_at"], row["utc_offset_min"])
    fields = ("id", "name", "width", "height", "camera", "software", "fingerprint")
    return StillFacts(captured=captured, **{field: row[field] for field in fields})
