"""Uploads: which files a browser is sending, so that a broken one can go on."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.base.frozen import digest
from yarnkite.store import shots
from yarnkite.store.database import Database, Row, retried


@dataclass(frozen=True)
class UploadFile:
    """A file as the browser announces it: relative name, size in bytes, last change in milliseconds since 1970."""

    name: str
    bytes: int
    modified_ms: int


@retried
def open_or_go_on(database: Database, project_id: int, name: str, files: Sequence[UploadFile]) -> int:
    """Return the id of the upload of exactly these files, an unfinished earlier one if there is one."""
    manifest = digest(*(f"{file.name}|{file.bytes}|{file.modified_ms}" for file in files))
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id FROM upload WHERE project_id = %s AND manifest_digest = %s AND shot_id IS NULL",
            (project_id, manifest),
        )
        row = cursor.fetchone()
        if row is not None:
            return int(row["id"])
        cursor.execute(
            "INSERT INTO upload (project_id, name, manifest_digest) VALUES (%s, %s, %s)", (project_id, name, manifest)
        )
        upload_id = int(cursor.lastrowid)
        cursor.executemany(
            "INSERT INTO upload_file (upload_id, number, name, bytes, modified_ms) VALUES (%s, %s, %s, %s, %s)",
            [(upload_id, number, file.name, file.bytes, file.modified_ms) for number, file in enumerate(files)],
        )
        return upload_id


def one(database: Database, upload_id: int) -> Row:
    """Return an upload; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, project_id, name, shot_id FROM upload WHERE id = %s", (upload_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_upload", "This upload does not exist. Choose the folder again.")
    return row


def files(database: Database, upload_id: int) -> list[UploadFile]:
    """Return the files of an upload in their order."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT name, bytes, modified_ms FROM upload_file WHERE upload_id = %s ORDER BY number", (upload_id,)
        )
        return [UploadFile(row["name"], row["bytes"], row["modified_ms"]) for row in cursor.fetchall()]


def file(database: Database, upload_id: int, number: int) -> UploadFile:
    """Return one file of an upload; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT name, bytes, modified_ms FROM upload_file WHERE upload_id = %s AND number = %s", (upload_id, number)
        )
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_upload", "This upload does not have such a file. Choose the folder again.")
    return UploadFile(row["name"], row["bytes"], row["modified_ms"])


@retried
def finish(database: Database, upload: Row, folder: Path) -> int:
    """Make a shot of the files of an upload, which lie in a folder now, both or neither; returns its id."""
    with database.transaction() as cursor:
        cursor.execute("SELECT shot_id FROM upload WHERE id = %s FOR UPDATE", (upload["id"],))
        if (cursor.fetchone() or {"shot_id": 0})["shot_id"] is not None:
            raise Conflict("complete_already", "These files are a shot already.")
        shot_id = shots.insert(cursor, upload["project_id"], upload["name"], folder, copied=True)
        cursor.execute("UPDATE upload SET shot_id = %s WHERE id = %s", (shot_id, upload["id"]))
        return shot_id


def names_for_shot(database: Database, shot_id: int) -> list[str]:
    """Return the names of all files that were announced for a shot's upload, sent or not."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT upload_file.name FROM upload_file "
            "JOIN upload ON upload.id = upload_file.upload_id WHERE upload.shot_id = %s ORDER BY number",
            (shot_id,),
        )
        return [row["name"] for row in cursor.fetchall()]
