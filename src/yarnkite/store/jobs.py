"""Jobs and the clips they made: a job's row is enough to go on after the process died."""

import json
from collections.abc import Sequence
from typing import Any, Literal

from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.render.recipe import Recipe
from yarnkite.store import shots
from yarnkite.store.database import Database, Row, retried

Kind = Literal["gather", "encode", "footage", "find", "export", "check", "together", "move", "sound", "reel"]
State = Literal["waiting", "running", "finished", "failed", "cancelled"]

# What looks at reduced copies only stands in nobody's way; what changes a shot's stills is alone with it.
_HARMLESS = ("check", "together", "move")
_ALONE = ("gather", "footage", "find")

_COLUMNS = (
    "job.id, job.kind, job.shot_id, job.reel_id, COALESCE(shot.name, reel.name) AS shot_name,"
    " COALESCE(shot.project_id, reel.project_id) AS project_id, job.state, job.done, job.total,"
    " job.message, job.created_at, job.started_at, job.ended_at, clip.id AS clip_id"
)
_FROM = (
    "FROM job LEFT JOIN shot ON shot.id = job.shot_id LEFT JOIN reel ON reel.id = job.reel_id"
    " LEFT JOIN clip ON clip.job_id = job.id"
)


# What is put away is not shown; its jobs are there again when it is taken back.
_SEEN = (
    "shot.deleted_at IS NULL AND reel.deleted_at IS NULL AND EXISTS (SELECT 1 FROM project WHERE"
    " project.id = COALESCE(shot.project_id, reel.project_id) AND project.deleted_at IS NULL)"
)


@retried
def add(
    database: Database,
    kind: Kind,
    shot_id: int,
    total: int,
    recipe: Recipe | None = None,
    wanted: dict[str, Any] | None = None,
) -> int:
    """Note a job to be done and what is wanted of it; returns its id.

    Raises ``Conflict`` (``shot_busy``) where the shot's files are being worked on, for what needs them to itself.
    """
    with database.transaction() as cursor:
        shots.held(cursor, shot_id)
        if kind in _ALONE:
            check_idle(cursor, shot_id)
        elif kind not in _HARMLESS:
            _check_not_renaming(cursor, shot_id)
        cursor.execute(
            "INSERT INTO job (kind, shot_id, total, recipe, wanted) VALUES (%s, %s, %s, %s, %s)",
            (kind, shot_id, total, recipe.model_dump_json() if recipe else None, json.dumps(wanted)),
        )
        return int(cursor.lastrowid)


@retried
def add_for_reel(
    database: Database,
    kind: Kind,
    reel_id: int,
    total: int,
    recipe: ReelRecipe | None = None,
    wanted: dict[str, Any] | None = None,
) -> int:
    """Note a job for a reel; returns its id."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id FROM reel WHERE id = %s AND deleted_at IS NULL FOR UPDATE", (reel_id,))
        if cursor.fetchone() is None:
            raise NotFound("no_such_reel", "This reel does not exist. Go back to its project.")
        cursor.execute(
            "INSERT INTO job (kind, reel_id, total, recipe, wanted) VALUES (%s, %s, %s, %s, %s)",
            (kind, reel_id, total, recipe.model_dump_json() if recipe else None, json.dumps(wanted)),
        )
        return int(cursor.lastrowid)


def check_reel_idle(cursor: DictCursor, reel_id: int) -> None:
    """Raise ``Conflict`` (``reel_busy``) while a job of a reel waits or runs; hold the reel first."""
    cursor.execute("SELECT 1 FROM job WHERE reel_id = %s AND state IN ('waiting', 'running') LIMIT 1", (reel_id,))
    if cursor.fetchone() is not None:
        raise Conflict("reel_busy", "This reel is being worked on. Wait until its jobs are done, or cancel them.")


def one(database: Database, job_id: int) -> Row:
    """Return a job; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT {_COLUMNS} {_FROM} WHERE job.id = %s", (job_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_job", "This job does not exist any more.")
    return row


def recipe_of(database: Database, job_id: int) -> Recipe:
    """Return the recipe an encode was started with; raises ``NotFound``."""
    return Recipe.model_validate_json(_recipe(database, job_id))


def reel_recipe_of(database: Database, job_id: int) -> ReelRecipe:
    """Return the recipe a reel's encode was started with; raises ``NotFound``."""
    return ReelRecipe.model_validate_json(_recipe(database, job_id))


def _recipe(database: Database, job_id: int) -> str:
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
            "SELECT wanted FROM job WHERE shot_id = %s AND kind = 'footage' AND state = 'finished' ORDER BY id DESC LIMIT 1",
            (shot_id,),
        )
        row = cursor.fetchone()
    return dict(json.loads(row["wanted"])) if row and row["wanted"] else None


def shots_of_footage(database: Database, project_id: int) -> frozenset[int]:
    """Return the shots of a project whose stills were taken from a video."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT DISTINCT shot_id FROM job JOIN shot ON shot.id = job.shot_id WHERE shot.project_id = %s"
            " AND job.kind = 'footage' AND job.state = 'finished'",
            (project_id,),
        )
        return frozenset(int(row["shot_id"]) for row in cursor.fetchall())


def busy(database: Database, shot_id: int) -> bool:
    """Tell whether a job waits or runs that needs the files of a shot."""
    with database.transaction() as cursor:
        return _is_busy(cursor, shot_id)


def check_idle(cursor: DictCursor, shot_id: int) -> None:
    """Raise ``Conflict`` (``shot_busy``) while a shot's files are worked on; hold the shot first (``shots.held``)."""
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
            f"SELECT {_COLUMNS} {_FROM} WHERE job.shot_id = %s AND job.kind = 'move'"
            " AND job.state IN ('waiting', 'running') ORDER BY job.id LIMIT 1",
            (shot_id,),
        )
        row: Row | None = cursor.fetchone()
    return row


def _is_busy(cursor: DictCursor, shot_id: int) -> bool:
    return bool(set(_under_way(cursor, shot_id)) - set(_HARMLESS))


def _under_way(cursor: DictCursor, shot_id: int) -> list[Kind]:
    cursor.execute("SELECT kind FROM job WHERE shot_id = %s AND state IN ('waiting', 'running')", (shot_id,))
    return [row["kind"] for row in cursor.fetchall()]


def _check_not_renaming(cursor: DictCursor, shot_id: int) -> None:
    cursor.execute(
        "SELECT 1 FROM rename_batch WHERE shot_id = %s AND state IN ('parking', 'placing', 'unplacing') AND NOT stuck",
        (shot_id,),
    )
    if cursor.fetchone() is not None:
        raise Conflict("shot_busy", "The files of this shot are being renamed. Try again in a moment.")


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
        cursor.execute(f"SELECT {_COLUMNS} {_FROM} WHERE job.state IN ('waiting', 'running') ORDER BY job.id")
        return list(cursor.fetchall())


@retried
def begin(database: Database, job_id: int) -> None:
    with database.transaction() as cursor:
        cursor.execute(
            "UPDATE job SET state = 'running', started_at = CURRENT_TIMESTAMP(3) WHERE id = %s AND state IN"
            " ('waiting', 'running')",
            (job_id,),
        )


@retried
def progress(database: Database, job_id: int, done: int, total: int) -> None:
    with database.transaction() as cursor:
        cursor.execute("UPDATE job SET done = %s, total = %s WHERE id = %s", (done, total, job_id))


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


@retried
def add_clip(
    database: Database,
    job: Row,
    name: str,
    count: int,
    frames: int,
    summary: str,
    differences: Sequence[str],
    digest: str,
) -> int:
    """Keep a finished clip and end its job, both or neither; returns the clip's id."""
    with database.transaction() as cursor:
        cursor.execute(
            "INSERT INTO clip (shot_id, reel_id, job_id, name, bytes, frames, summary, differences, digest)"
            " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
            (
                job["shot_id"],
                job["reel_id"],
                job["id"],
                name,
                count,
                frames,
                summary,
                json.dumps(list(differences)),
                digest,
            ),
        )
        clip_id = int(cursor.lastrowid)
        cursor.execute(
            "UPDATE job SET state = 'finished', done = total, ended_at = CURRENT_TIMESTAMP(3) WHERE id = %s",
            (job["id"],),
        )
        return clip_id


def clips(database: Database, shot_id: int) -> list[Row]:
    """Return a shot's clips, newest first; ``differences`` is a list."""
    return _clips(database, "shot_id", shot_id)


def clips_of_reel(database: Database, reel_id: int) -> list[Row]:
    """Return a reel's clips, newest first; ``differences`` is a list."""
    return _clips(database, "reel_id", reel_id)


def _clips(database: Database, column: Literal["shot_id", "reel_id"], owner: int) -> list[Row]:
    with database.transaction() as cursor:
        cursor.execute(f"SELECT * FROM clip WHERE {column} = %s ORDER BY id DESC", (owner,))
        return [row | {"differences": json.loads(row["differences"])} for row in cursor.fetchall()]


def clip(database: Database, clip_id: int) -> Row:
    """Return a clip; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT * FROM clip WHERE id = %s", (clip_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_clip", "This clip does not exist. Encode the shot again.")
    return row | {"differences": json.loads(row["differences"])}
