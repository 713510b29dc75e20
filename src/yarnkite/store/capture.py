"""Captures: how far each is, and where stills are missing and why."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from yarnkite.camera.decisions import Why
from yarnkite.core.base.errors import NotFound
from yarnkite.store.database import Database, Row, retried

MOST_GAPS = 500


@dataclass(frozen=True)
class Gap:
    """Beats, first and last counted from 0, of which no still was taken or one came late, and why."""

    first: int
    last: int
    why: Why
    sentence: str


@dataclass(frozen=True)
class Course:
    """How far a capture is: when its first beat was due (UTC), the next beat, and what came of those before."""

    job_id: int
    shot_id: int
    began_at: datetime | None
    next_beat: int
    taken: int
    late: int
    missed: int
    paused: bool
    stopped: bool = False


@retried
def begin(database: Database, job_id: int, shot_id: int) -> None:
    """Note a capture that has not taken anything yet."""
    with database.transaction() as cursor:
        cursor.execute("INSERT IGNORE INTO capture (job_id, shot_id) VALUES (%s, %s)", (job_id, shot_id))


@retried
def set_began(database: Database, job_id: int, began_at: datetime) -> None:
    """Note when the first beat of a capture is due, in UTC; what was noted before stays."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE capture SET began_at = %s WHERE job_id = %s AND began_at IS NULL", (began_at, job_id))


@retried
def note(database: Database, job_id: int, next_beat: int, taken: int, late: int, gaps: Sequence[Gap]) -> None:
    """Note what a capture has done since the last time: stills taken, how many late, and the beats that were missed.

    A gap that goes on where the last one of its kind ended makes that one longer.
    """
    with database.transaction() as cursor:
        for gap in gaps:
            grown = cursor.execute(
                "UPDATE capture_gap SET last_beat = %s, sentence = %s "
                "WHERE job_id = %s AND why = %s AND last_beat = %s",
                (gap.last, gap.sentence[:500], job_id, gap.why, gap.first - 1),
            )
            if not grown:
                cursor.execute(
                    "INSERT IGNORE INTO capture_gap (job_id, first_beat, last_beat, why, sentence) "
                    "VALUES (%s, %s, %s, %s, %s)",
                    (job_id, gap.first, gap.last, gap.why, gap.sentence[:500]),
                )
        missed = sum(gap.last - gap.first + 1 for gap in gaps if gap.why != "late")
        cursor.execute(
            "UPDATE capture "
            "SET next_beat = GREATEST(next_beat, %s), taken = taken + %s, late = late + %s, missed = missed + %s "
            "WHERE job_id = %s",
            (next_beat, taken, late, missed, job_id),
        )


@retried
def set_paused(database: Database, job_id: int, paused: bool) -> None:
    """Note that a capture rests, or goes on; raises ``NotFound``."""
    one(database, job_id)
    with database.transaction() as cursor:
        cursor.execute("UPDATE capture SET paused = %s WHERE job_id = %s", (paused, job_id))


@retried
def set_stopped(database: Database, job_id: int) -> None:
    """Note that a capture is to end, whatever becomes of the program meanwhile; raises ``NotFound``."""
    one(database, job_id)
    with database.transaction() as cursor:
        cursor.execute("UPDATE capture SET stopped = TRUE WHERE job_id = %s", (job_id,))


def one(database: Database, job_id: int) -> Course:
    """Return how far a capture is; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT * FROM capture WHERE job_id = %s", (job_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_capture", "This capture does not exist. Go back to its project.")
    return _course(row)


def of_shot(database: Database, shot_id: int) -> Course | None:
    """Return the newest capture of a shot, or ``None`` for a shot that came another way."""
    with database.transaction() as cursor:
        cursor.execute("SELECT * FROM capture WHERE shot_id = %s ORDER BY job_id DESC LIMIT 1", (shot_id,))
        row = cursor.fetchone()
    return None if row is None else _course(row)


def gaps(database: Database, job_id: int) -> list[Gap]:
    """Return where stills of a capture are missing or late, the newest first, at most 500."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT first_beat, last_beat, why, sentence FROM capture_gap "
            "WHERE job_id = %s ORDER BY first_beat DESC LIMIT %s",
            (job_id, MOST_GAPS),
        )
        return [Gap(row["first_beat"], row["last_beat"], row["why"], row["sentence"]) for row in cursor.fetchall()]


def _course(row: Row) -> Course:
    return Course(
        **{name: row[name] for name in ("job_id", "shot_id", "began_at", "next_beat", "taken", "late", "missed")},
        paused=bool(row["paused"]),
        stopped=bool(row["stopped"]),
    )
