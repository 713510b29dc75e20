"""Projects: a name for what belongs together."""

import pymysql

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.store.database import Database, Row, retried


@retried
def add(database: Database, name: str) -> int:
    """Make a project and return its id; raises ``Conflict`` if the name is taken."""
    try:
        with database.transaction() as cursor:
            cursor.execute("INSERT INTO project (name) VALUES (%s)", (name,))
            return int(cursor.lastrowid)
    except pymysql.err.IntegrityError:
        raise Conflict("name_taken", f"There is a project called “{name}” already. Choose another name.") from None


@retried
def rename(database: Database, project_id: int, name: str) -> None:
    """Give a project another name; raises ``NotFound`` or ``Conflict``."""
    one(database, project_id)
    try:
        with database.transaction() as cursor:
            cursor.execute("UPDATE project SET name = %s WHERE id = %s", (name, project_id))
    except pymysql.err.IntegrityError:
        raise Conflict("name_taken", f"There is a project called “{name}” already. Choose another name.") from None


def every(database: Database) -> list[Row]:
    """Return all projects, the newest first, with how many shots and stills each has."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT project.id, project.name, project.created_at, COUNT(DISTINCT shot.id) AS shots,"
            " COUNT(still.position) AS stills, MIN(shot.id) AS first_shot"
            " FROM project LEFT JOIN shot ON shot.project_id = project.id AND shot.deleted_at IS NULL"
            " LEFT JOIN still ON still.shot_id = shot.id"
            " WHERE project.deleted_at IS NULL GROUP BY project.id ORDER BY project.id DESC"
        )
        return list(cursor.fetchall())


def one(database: Database, project_id: int) -> Row:
    """Return a project; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, name, created_at FROM project WHERE id = %s AND deleted_at IS NULL", (project_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_project", "This project does not exist. Go back to the list of projects.")
    return row


def named(database: Database, name: str) -> Row | None:
    """Return the project of a name, or ``None``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, name, created_at FROM project WHERE name = %s AND deleted_at IS NULL", (name,))
        return cursor.fetchone()
