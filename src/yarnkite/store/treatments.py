"""Treatments: what shots took over from another as one deed, which is undone as one."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.brief.treatment import TREATED_PARTS, TreatedPart
from yarnkite.core.render.decisions import Decisions
from yarnkite.store import revisions
from yarnkite.store.database import Database, Row, retried

_LISTED = 20


@dataclass(frozen=True)
class Treatment:
    """A treatment that stands: the model and which revision of it, what was taken, and the revision it made of each
    shot."""

    id: int
    model_id: int
    model_revision: int
    parts: tuple[TreatedPart, ...]
    shots: Mapping[int, int]


@dataclass(frozen=True)
class Wanted:
    """What a shot is to be decided like, by the revision the person saw."""

    shot_id: int
    name: str
    seen: int
    decisions: Decisions


@retried
def add(
    database: Database,
    project_id: int,
    model: tuple[int, int],
    parts: Collection[TreatedPart],
    wanted: Sequence[Wanted],
) -> int | None:
    """Decide about several shots at once, or about none; returns the treatment, ``None`` where nothing changed.

    ``model`` is a shot and the revision of it that was seen. Raises ``Conflict`` (``stale_revision``) that names the
    shot which was changed meanwhile.
    """
    with database.transaction() as cursor:
        made: dict[int, int] = {}
        by_shot = {one.shot_id: one for one in wanted}
        # Always in the same order, so that two who treat the same shots do not wait for each other.
        for shot in sorted({model[0], *by_shot}):
            if shot == model[0]:
                revisions.newest(cursor, *model)
            elif (number := _revised(cursor, by_shot[shot])) != by_shot[shot].seen:
                made[shot] = number
        if not made:
            return None
        cursor.execute(
            "INSERT INTO treatment (project_id, model_id, model_revision, parts) VALUES (%s, %s, %s, %s)",
            (project_id, *model, ",".join(parts)),
        )
        treatment = int(cursor.lastrowid)
        cursor.executemany(
            "INSERT INTO treated_shot (treatment_id, shot_id, revision) VALUES (%s, %s, %s)",
            [(treatment, shot, revision) for shot, revision in made.items()],
        )
        return treatment


@retried
def undo(database: Database, project_id: int, treatment_id: int) -> tuple[list[int], list[int]]:
    """Take a treatment back from all shots that were not changed since; returns those, and the others.

    Raises ``NotFound`` for one that does not stand.
    """
    with database.transaction() as cursor:
        found = _standing(cursor, project_id, treatment_id)
        if not found:
            raise NotFound("no_such_treatment", "This was taken back already.")
        undone: list[int] = []
        changed: list[int] = []
        for shot, revision in sorted(found[0].shots.items()):
            row = revisions.newest(cursor, shot)
            if _stands(cursor, shot, row, revision):
                revisions.undo_within(cursor, shot, row)
                undone.append(shot)
            else:
                changed.append(shot)
        cursor.execute("UPDATE treatment SET undone = TRUE WHERE id = %s", (treatment_id,))
        return undone, changed


def standing(database: Database, project_id: int) -> list[Treatment]:
    """Return the newest treatments of a project that stand, the newest first, without shots that are gone."""
    with database.transaction() as cursor:
        return _standing(cursor, project_id)


def _standing(cursor: DictCursor, project_id: int, only: int | None = None) -> list[Treatment]:
    cursor.execute(
        "SELECT id, model_id, model_revision, parts FROM treatment WHERE project_id = %s AND NOT undone "
        "AND (%s IS NULL OR id = %s) ORDER BY id DESC LIMIT %s",
        (project_id, only, only, _LISTED),
    )
    rows = cursor.fetchall()
    return [found for row in rows if (found := _treatment(cursor, row)).shots]


def _treatment(cursor: DictCursor, row: Row) -> Treatment:
    cursor.execute("SELECT shot_id, revision FROM treated_shot WHERE treatment_id = %s", (row["id"],))
    shots = {int(one["shot_id"]): int(one["revision"]) for one in cursor.fetchall()}
    said = set(str(row["parts"]).split(","))
    parts = tuple(part for part in TREATED_PARTS if part in said)
    return Treatment(int(row["id"]), int(row["model_id"]), int(row["model_revision"]), parts, shots)


def _stands(cursor: DictCursor, shot: int, newest: Row, revision: int) -> bool:
    """Tell whether a shot is as a revision made it, or is again since what came after was undone."""
    if int(newest["number"]) == revision:
        return True
    made = revisions.one(cursor, shot, revision)
    return all(newest[name] == made[name] for name in ("decided", "undo_to", "version_id"))


def _revised(cursor: DictCursor, one: Wanted) -> int:
    try:
        return revisions.revise_within(cursor, one.shot_id, one.seen, one.decisions)
    except Conflict as conflict:
        raise Conflict(conflict.code, f"“{one.name}”: {conflict.sentence}") from None
