"""Jobs and the clips they made: a job's row is enough to go on after the process died."""

import json
from typing import Any, Literal

from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.store import shots
from yarnkite.store.database import Database, Row, retried

Kind = Literal[
    "gather",
    "encode",
    "footage",
    "find",
    "export",
    "check",
    "together",
    "move",
    "sound",
    "reel",
    "size",
    "watch",
    "capture",
    "offload",
]
State = Literal["waiting", "running", "paused", "finished", "failed", "cancelled"]

# What looks at reduced copies only stands in nobody's way; what changes a shot's stills is alone with it.
_HARMLESS = ("check", "together", "move", "size")
_ALONE = ("gather", "footage", "find")
# What goes on for hours, and takes files into the shot now and then: alone only while it does that.
GROWING: tuple[Kind, ...] = ("watch", "capture")

_COLUMNS = (
    "job.id, job.kind, job.shot_id, job.reel_id,"
    " COALESCE(shot.name, reel.name, JSON_VALUE(job.wanted, '$.name')) AS shot_name,"
    " COALESCE(shot.project_id, reel.project_id, job.project_id) AS project_id, job.state, job.done, job.total,"
    " job.message, job.created_at, job.started_at, job.ended_at, clip.id AS clip_id"
)
_FROM = (
    "FROM job LEFT JOIN shot ON shot.id = job.shot_id LEFT JOIN reel ON reel.id = job.reel_id"
    " LEFT JOIN clip ON clip.job_id = job.id"
)


# What is put away is not shown; its jobs are there again when it is taken back.
_SEEN = (
    "shot.deleted_at IS NULL AND reel.deleted_at IS NULL AND EXISTS (SELECT 1 FROM project WHERE"
    " project.id = COALESCE(shot.project_id, reel.project_id, job.project_id) AND project.deleted_at IS NULL)"
)


@retried
def add(
    database: Database,
    kind: Kind,
    shot_id: int,
    total: int,
    recipe: str | None = None,
    wanted: dict[str, Any] | None = None,
) -> int:
    """Note a job to be done and what is wanted of it, ``recipe`` as JSON; returns its id.

    Raises ``Conflict`` (``shot_busy``) where the shot's files are being worked on, for what needs them to itself.
    """
    with database.transaction() as cursor:
        shots.locked(cursor, shot_id)
        if kind in _ALONE:
            check_idle(cursor, shot_id)
        elif kind in GROWING:
            check_not_growing(cursor, shot_id)
        elif kind not in _HARMLESS:
            _check_not_renaming(cursor, shot_id)
        cursor.execute(
            "INSERT INTO job (kind, shot_id, total, recipe, wanted) VALUES (%s, %s, %s, %s, %s)",
            (kind, shot_id, total, recipe, json.dumps(wanted)),
        )
        return int(cursor.lastrowid)


@retried
def add_for_reel(
    database: Database,
    kind: Kind,
    reel_id: int,
    total: int,
    recipe: str | None = None,
    wanted: dict[str, Any] | None = None,
) -> int:
    """Note a job for a reel; returns its id."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id FROM reel WHERE id = %s AND deleted_at IS NULL FOR UPDATE", (reel_id,))
        if cursor.fetchone() is None:
            raise NotFound("no_such_reel", "This reel does not exist. Go back to its project.")
        if kind == "reel":
            _check_no_shot_is_renamed(cursor, reel_id)
        cursor.execute(
            "INSERT INTO job (kind, reel_id, total, recipe, wanted) VALUES (%s, %s, %s, %s, %s)",
            (kind, reel_id, total, recipe, json.dumps(wanted)),
        )
        return int(cursor.lastrowid)


def check_reel_idle(cursor: DictCursor, reel_id: int) -> None:
    """Raise ``Conflict`` (``reel_busy``) while a job of a reel waits or runs; hold the reel first."""
    cursor.execute(
        "SELECT 1 FROM job WHERE reel_id = %s AND kind <> 'size' AND state IN ('waiting', 'running') LIMIT 1",
        (reel_id,),
    )
    if cursor.fetchone() is not None:
        raise Conflict("reel_busy", "This reel is being worked on. Wait until its jobs are done, or cancel them.")


def check_no_reel_is_made(cursor: DictCursor, project_id: int) -> None:
    """Raise ``Conflict`` (``reel_busy``) while a reel of a project waits to be made of its shots' files, or is."""
    cursor.execute(
        "SELECT reel.name FROM job JOIN reel ON reel.id = job.reel_id WHERE reel.project_id = %s "
        "AND job.kind = 'reel' AND job.state IN ('waiting', 'running') LIMIT 1",
        (project_id,),
    )
    if (row := cursor.fetchone()) is not None:
        raise Conflict("reel_busy", f"The reel “{row['name']}” is being made. Wait until that is done, or cancel it.")


def one(database: Database, job_id: int) -> Row:
    """Return a job; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT {_COLUMNS} {_FROM} WHERE job.id = %s", (job_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_job", "This job does not exist any more.")
    return row


def encoding(database: Database, shot_id: int, recipe: str) -> Row | None:
    """Return the newest job that makes the whole clip of a recipe, as JSON, or made it, verified and still listed;
    ``None`` for none."""
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} {_FROM} WHERE job.shot_id = %s AND job.kind = 'encode' AND job.recipe = BINARY %s "
            "AND COALESCE(JSON_TYPE(JSON_EXTRACT(job.wanted, '$.stretch')), 'NULL') = 'NULL' "
            "AND (job.state IN ('waiting', 'running', 'paused') OR job.state = 'finished' AND clip.differences = '[]') "
            "ORDER BY job.id DESC LIMIT 1",
            (shot_id, recipe),
        )
        return cursor.fetchone()


def recipe_text(database: Database, job_id: int) -> str:
    """Return the recipe an encode was started with, as JSON; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT recipe FROM job WHERE id = %s AND recipe IS NOT NULL", (job_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_job", "This job does not exist any more.")
    return str(row["recipe"])


def wanted_of(database: Database, job_id: int) -> dict[str, Any]:
    """Return what is wanted of a job."""
    with database.transaction() as cursor:
        cursor.execute("SELECT wanted FROM job WHERE id = %s", (job_id,))
        row = cursor.fetchone()
    return dict(json.loads(row["wanted"]) or {}) if row and row["wanted"] else {}


def wanted_of_footage(database: Database, shot_id: int) -> dict[str, Any] | None:
    """Return what was wanted of the job that took a shot's stills from a video, or ``None`` if none did."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT wanted FROM job WHERE shot_id = %s AND kind = 'footage' "
            "AND state = 'finished' ORDER BY id DESC LIMIT 1",
            (shot_id,),
        )
        row = cursor.fetchone()
    return dict(json.loads(row["wanted"])) if row and row["wanted"] else None


def shots_of_footage(database: Database, project_id: int) -> frozenset[int]:
    """Return the shots of a project whose stills were taken from a video."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT DISTINCT shot_id FROM job JOIN shot ON shot.id = job.shot_id "
            "WHERE shot.project_id = %s AND job.kind = 'footage' AND job.state = 'finished'",
            (project_id,),
        )
        return frozenset(int(row["shot_id"]) for row in cursor.fetchall())


def films(database: Database) -> frozenset[str]:
    """Return the video files stills were or are taken from, of all shots there are."""
    with database.transaction() as cursor:
        cursor.execute("SELECT wanted FROM job WHERE kind = 'footage'")
        return frozenset(json.loads(row["wanted"])["file"] for row in cursor.fetchall() if row["wanted"])


def busy(database: Database, shot_id: int) -> bool:
    """Tell whether a job waits or runs that needs the files of a shot."""
    with database.transaction() as cursor:
        return _is_busy(cursor, shot_id)


def check_idle(cursor: DictCursor, shot_id: int) -> None:
    """Raise ``Conflict`` (``shot_busy``) while a shot's files are worked on; hold the shot first (``shots.locked``)."""
    if _is_busy(cursor, shot_id):
        raise Conflict("shot_busy", "This shot is being worked on. Wait until its jobs are done, or cancel them.")
    _check_not_renaming(cursor, shot_id)


def checking(database: Database, shot_id: int) -> bool:
    """Tell whether a check of a shot waits or runs, or a job that ends with one."""
    with database.transaction() as cursor:
        return bool(set(_under_way(cursor, shot_id)) - {"together", "move"})


def measuring_movement(database: Database, shot_id: int) -> Row | None:
    """Return the job that measures a shot's movement, if one waits or runs."""
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} {_FROM} WHERE job.shot_id = %s AND job.kind = 'move' "
            "AND job.state IN ('waiting', 'running') ORDER BY job.id LIMIT 1",
            (shot_id,),
        )
        row: Row | None = cursor.fetchone()
    return row


def measuring_sizes(database: Database, *, shot_id: int | None = None, reel_id: int | None = None) -> list[Row]:
    """Return the jobs that measure what a clip of a shot or a reel takes, of those that wait or run."""
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} {_FROM} WHERE job.shot_id <=> %s AND job.reel_id <=> %s "
            "AND job.kind = 'size' AND job.state IN ('waiting', 'running')",
            (shot_id, reel_id),
        )
        return list(cursor.fetchall())


@retried
def take_files(database: Database, job_id: int, shot_id: int) -> bool:
    """Have a job that grows a shot take files into it from now on; tells ``False`` while others change its files."""
    with database.transaction() as cursor:
        shots.locked(cursor, shot_id)
        if set(_under_way(cursor, shot_id)) & {*_ALONE, *GROWING, "export"}:
            return False
        try:
            _check_not_renaming(cursor, shot_id)
        except Conflict:
            return False
        cursor.execute("UPDATE job SET at_files = TRUE WHERE id = %s", (job_id,))
        return True


@retried
def leave_files(database: Database, job_id: int) -> None:
    """Note that a job that grows a shot does not change its files for now."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE job SET at_files = FALSE WHERE id = %s", (job_id,))


def growing(database: Database, shot_id: int) -> Row | None:
    """Return the job that grows a shot, if one waits or runs."""
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} {_FROM} WHERE job.shot_id = %s AND job.kind IN %s "
            "AND job.state IN ('waiting', 'running') ORDER BY job.id LIMIT 1",
            (shot_id, GROWING),
        )
        row: Row | None = cursor.fetchone()
    return row


def _is_busy(cursor: DictCursor, shot_id: int) -> bool:
    return bool(set(_under_way(cursor, shot_id)) - set(_HARMLESS))


def _under_way(cursor: DictCursor, shot_id: int) -> list[Kind]:
    cursor.execute(
        "SELECT kind FROM job WHERE shot_id = %s AND state IN ('waiting', 'running') AND (at_files OR kind NOT IN %s)",
        (shot_id, GROWING),
    )
    return [row["kind"] for row in cursor.fetchall()]


def check_not_captured(cursor: DictCursor, shot_id: int) -> None:
    """Raise ``Conflict`` (``camera_shoots``) while a camera shoots into a shot."""
    if _grows_by(cursor, shot_id, ("capture",)):
        raise Conflict("camera_shoots", "A camera shoots into this shot. Stop that first.")


def check_not_growing(cursor: DictCursor, shot_id: int) -> None:
    """Raise ``Conflict`` (``shot_growing``) while a folder is watched for a shot, or a camera shoots into it."""
    if _grows_by(cursor, shot_id, GROWING):
        raise Conflict(
            "shot_growing",
            "This shot grows already: its folder is watched, or a camera shoots into it. Stop that first.",
        )


def _grows_by(cursor: DictCursor, shot_id: int, kinds: tuple[Kind, ...]) -> bool:
    cursor.execute(
        "SELECT 1 FROM job WHERE shot_id = %s AND kind IN %s AND state IN ('waiting', 'running') LIMIT 1",
        (shot_id, kinds),
    )
    return cursor.fetchone() is not None


# Whether files are being renamed that some shots use: the batch is neither done nor given up.
_RENAMED = (
    "SELECT 1 FROM rename_batch JOIN shot ON shot.folder = rename_batch.folder "
    "WHERE rename_batch.state IN ('parking', 'placing', 'unplacing') AND NOT rename_batch.stuck AND "
)


def _check_not_renaming(cursor: DictCursor, shot_id: int) -> None:
    cursor.execute(f"{_RENAMED} shot.id = %s LIMIT 1", (shot_id,))
    if cursor.fetchone() is not None:
        raise Conflict("shot_busy", "The files of this shot are being renamed. Try again in a moment.")


def _check_no_shot_is_renamed(cursor: DictCursor, reel_id: int) -> None:
    cursor.execute(f"{_RENAMED} shot.project_id = (SELECT project_id FROM reel WHERE id = %s) LIMIT 1", (reel_id,))
    if cursor.fetchone() is not None:
        raise Conflict("shot_busy", "Files of this project are being renamed. Try again in a moment.")


# What fills the machine is done one after another; its order can be changed, and it can rest.
QUEUED: tuple[Kind, ...] = ("encode", "reel")
# What goes on from where it was when it failed or was cancelled, in the same job.
RESUMABLE: tuple[Kind, ...] = (*QUEUED, "offload")


def queue(database: Database, ended: int = 30) -> list[Row]:
    """Return the encodes that wait, run or rest, in the order of their turns, then the newest of those that ended."""
    left = "job.state IN ('waiting', 'running', 'paused')"
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS}, job.wanted {_FROM} WHERE {_SEEN} "
            f"AND job.kind IN %s AND {left} ORDER BY COALESCE(job.turn, job.id)",
            (QUEUED,),
        )
        waiting = list(cursor.fetchall())
        cursor.execute(
            f"SELECT {_COLUMNS}, job.wanted {_FROM} WHERE {_SEEN} "
            f"AND job.kind IN %s AND NOT {left} ORDER BY job.id DESC LIMIT %s",
            (QUEUED, ended),
        )
        return waiting + list(cursor.fetchall())


@retried
def put_before(database: Database, job_id: int, other: int | None) -> None:
    """Give an encode its turn just before another one's, or after all; raises ``NotFound``, ``Conflict``."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id, COALESCE(turn, id) AS turn FROM job WHERE kind IN %s "
            "AND state IN ('waiting', 'running', 'paused') ORDER BY COALESCE(turn, id) FOR UPDATE",
            (QUEUED,),
        )
        order = [row["id"] for row in cursor.fetchall() if row["id"] != job_id]
        if other is not None and other not in order:
            raise Conflict("queue_changed", "The queue has changed meanwhile. Look at it, then move the job again.")
        order.insert(len(order) if other is None else order.index(other), job_id)
        for turn, one_of_them in enumerate(order):
            cursor.execute("UPDATE job SET turn = %s WHERE id = %s", (turn - len(order), one_of_them))


@retried
def rest(database: Database, job_id: int) -> bool:
    """Have a job that waits or runs rest; tells whether it was one."""
    with database.transaction() as cursor:
        return bool(
            cursor.execute(
                "UPDATE job SET state = 'paused' WHERE id = %s AND kind IN %s AND state IN ('waiting', 'running')",
                (job_id, QUEUED),
            )
        )


@retried
def end_resting(database: Database, job_id: int) -> bool:
    """Cancel a job that rests; tells whether it was one."""
    with database.transaction() as cursor:
        return bool(
            cursor.execute(
                "UPDATE job SET state = 'cancelled', ended_at = CURRENT_TIMESTAMP(3) "
                "WHERE id = %s AND state = 'paused'",
                (job_id,),
            )
        )


@retried
def wait_again(database: Database, job_id: int) -> bool:
    """Have a job that rests, failed or was cancelled and can go on wait for its turn; tells whether it was one."""
    with database.transaction() as cursor:
        return bool(
            cursor.execute(
                "UPDATE job SET state = 'waiting', message = '', ended_at = NULL, deaths = 0 "
                "WHERE id = %s AND kind IN %s AND state IN ('paused', 'failed', 'cancelled')",
                (job_id, RESUMABLE),
            )
        )


def recent(database: Database, limit: int = 30) -> list[Row]:
    """Return the newest jobs, newest first."""
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} {_FROM} WHERE {_SEEN} ORDER BY job.id DESC LIMIT %s",
            (limit,),
        )
        return list(cursor.fetchall())


def unfinished(database: Database) -> list[Row]:
    """Return the jobs that wait or were running when the process ended, oldest first."""
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} {_FROM} WHERE job.state IN ('waiting', 'running') ORDER BY COALESCE(job.turn, job.id)"
        )
        return list(cursor.fetchall())


@retried
def leave(database: Database, job_id: int) -> None:
    """Note that a job was left off in good order, to go on at the next start."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE job SET state = 'waiting' WHERE id = %s AND state = 'running'", (job_id,))


@retried
def died(database: Database, job_id: int) -> int:
    """Note that the program ended in the middle of a job; returns how often by now, since it last got further than
    before."""
    with database.transaction() as cursor:
        # Assigned from the left.
        cursor.execute(
            "UPDATE job SET deaths = IF(done > died_at, 1, deaths + 1), died_at = GREATEST(died_at, done) "
            "WHERE id = %s",
            (job_id,),
        )
        cursor.execute("SELECT deaths FROM job WHERE id = %s", (job_id,))
        return int((cursor.fetchone() or {"deaths": 0})["deaths"])


@retried
def begin(database: Database, job_id: int) -> None:
    with database.transaction() as cursor:
        cursor.execute(
            "UPDATE job SET state = 'running', started_at = CURRENT_TIMESTAMP(3), at_files = FALSE "
            "WHERE id = %s AND state IN ('waiting', 'running')",
            (job_id,),
        )


@retried
def progress(database: Database, job_id: int, done: int, total: int) -> None:
    with database.transaction() as cursor:
        cursor.execute("UPDATE job SET done = %s, total = %s WHERE id = %s", (done, total, job_id))


@retried
def note(database: Database, job_id: int, message: str) -> None:
    """Say something of a job that goes on."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE job SET message = %s WHERE id = %s", (message[:8000], job_id))


@retried
def end(database: Database, job_id: int, state: State, message: str = "") -> None:
    with database.transaction() as cursor:
        end_within(cursor, job_id, state, message)


def end_within(cursor: DictCursor, job_id: int, state: State, message: str = "") -> None:
    """End a job within the transaction of ``cursor``."""
    cursor.execute(
        "UPDATE job SET state = %s, message = %s, ended_at = CURRENT_TIMESTAMP(3) WHERE id = %s",
        (state, message[:8000], job_id),
    )
