"""Planned shots of a project, in the order of its list."""

import logging
from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import ValidationError
from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import Conflict, NotFound, Refusal
from yarnkite.core.plan.decisions import PlannedShot
from yarnkite.store import projects
from yarnkite.store.database import Database, Row, retried

log = logging.getLogger(__name__)

MOST_PLANS = 500


@dataclass(frozen=True)
class Listed:
    """A planned shot on a project's list; ``number`` counts its changes, for those who saw an earlier one."""

    id: int
    project_id: int
    number: int
    planned: PlannedShot


@retried
def add(database: Database, project_id: int, planned: PlannedShot) -> int:
    """Put a planned shot at the end of a project's list; returns its id. Raises ``NotFound``, ``Refusal`` above 500."""
    projects.one(database, project_id)
    with database.transaction() as cursor:
        cursor.execute("SELECT id FROM project WHERE id = %s FOR UPDATE", (project_id,))
        cursor.execute(
            "SELECT COUNT(*) AS plans, COALESCE(MAX(turn) + 1, 0) AS turn "
            "FROM plan WHERE project_id = %s AND deleted_at IS NULL",
            (project_id,),
        )
        row = cursor.fetchone() or {"plans": 0, "turn": 0}
        if row["plans"] >= MOST_PLANS:
            raise Refusal(
                "too_many_plans", f"A list holds up to {MOST_PLANS} shots. Delete some, or begin another project."
            )
        cursor.execute(
            "INSERT INTO plan (project_id, turn, planned) VALUES (%s, %s, %s)",
            (project_id, row["turn"], planned.model_dump_json()),
        )
        return int(cursor.lastrowid)


def of_project(database: Database, project_id: int) -> list[Listed]:
    """Return a project's planned shots in order, those of another edition that cannot be read left out."""
    projects.one(database, project_id)
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} FROM plan WHERE project_id = %s AND deleted_at IS NULL ORDER BY turn, id", (project_id,)
        )
        return [listed for row in cursor.fetchall() if (listed := _readable(row)) is not None]


def one(database: Database, plan_id: int) -> Listed:
    """Return a planned shot; raises ``NotFound``."""
    with database.transaction() as cursor:
        return _one(cursor, plan_id)


@retried
def change(database: Database, plan_id: int, seen: int, planned: PlannedShot) -> Listed:
    """Keep another state of a planned shot; raises ``NotFound``, ``Conflict`` (``stale``) where it was changed
    since."""
    with database.transaction() as cursor:
        before = _one(cursor, plan_id, lock=True)
        if before.number != seen:
            raise Conflict(
                "stale",
                f"“{before.planned.name}” was changed meanwhile, in another tab or window. This is how it is now.",
            )
        if before.planned == planned:
            return before
        cursor.execute(
            "UPDATE plan SET planned = %s, number = number + 1 WHERE id = %s", (planned.model_dump_json(), plan_id)
        )
        return Listed(plan_id, before.project_id, seen + 1, planned)


@retried
def put_in_order(database: Database, project_id: int, plans: Sequence[int]) -> None:
    """Put a list in an order given by ids; those it does not name follow. Raises ``Conflict`` for a name not on it."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id FROM plan WHERE project_id = %s AND deleted_at IS NULL ORDER BY turn, id FOR UPDATE",
            (project_id,),
        )
        there = [int(row["id"]) for row in cursor.fetchall()]
        if not set(plans) <= set(there):
            raise Conflict("list_changed", "The list was changed meanwhile. Look at it, then move the shot again.")
        order = [*dict.fromkeys(plans), *(one for one in there if one not in plans)]
        cursor.executemany("UPDATE plan SET turn = %s WHERE id = %s", [(turn, one) for turn, one in enumerate(order)])


@retried
def delete(database: Database, plan_id: int) -> None:
    """Take a planned shot off its list; it can be taken back."""
    with database.transaction() as cursor:
        cursor.execute(
            "UPDATE plan SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = %s AND deleted_at IS NULL", (plan_id,)
        )


@retried
def take_back(database: Database, plan_id: int) -> None:
    """Put a deleted planned shot back on its list, where it was; raises ``NotFound``."""
    with database.transaction() as cursor:
        if not cursor.execute("UPDATE plan SET deleted_at = NULL WHERE id = %s AND deleted_at IS NOT NULL", (plan_id,)):
            raise _no_such_plan()


_COLUMNS = "id, project_id, number, planned"
_IN_USE = "EXISTS (SELECT 1 FROM project WHERE project.id = plan.project_id AND project.deleted_at IS NULL)"


def _one(cursor: DictCursor, plan_id: int, *, lock: bool = False) -> Listed:
    end = " FOR UPDATE" if lock else ""
    cursor.execute(f"SELECT {_COLUMNS} FROM plan WHERE id = %s AND deleted_at IS NULL AND {_IN_USE}{end}", (plan_id,))
    row = cursor.fetchone()
    listed = None if row is None else _readable(row)
    if listed is None:
        raise _no_such_plan()
    return listed


def _readable(row: Row) -> Listed | None:
    try:
        planned = PlannedShot.model_validate_json(row["planned"])
    except ValidationError:
        log.warning("planned shot %s is of another edition and cannot be read", row["id"])
        return None
    return Listed(int(row["id"]), int(row["project_id"]), int(row["number"]), planned)


def _no_such_plan() -> NotFound:
    return NotFound("no_such_plan", "This planned shot does not exist any more. Reload the list.")
