"""What sidecars say of the stills of a shot."""

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass

from yarnkite.core.gather.sidecars import Sidecar
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.rows import rows
from yarnkite.store.stills import named


@dataclass(frozen=True)
class Beside:
    """A still: its name in its folder or where it was copied from, its kind, and what is known of its sidecar."""

    name: str
    kind: str
    sidecar: Sidecar | None


def of_shot(database: Database, shot_id: int, *, by_source: bool = False) -> dict[int, Beside]:
    """Return what is known of the sidecars of a shot's stills, by the stills' ids in their order."""
    with database.transaction() as cursor:
        found = rows(cursor, shot_id, ("id", "name", "source_name", "kind", "sidecar"))
    return {row["id"]: Beside(named(row, by_source=by_source), row["kind"], _sidecar(row)) for row in found}


def said(database: Database, shot_id: int) -> list[Row]:
    """Return what files and sidecars say of those of a shot's stills they say something of, in order.

    That is rating, label, caption, has_edits and trouble.
    """
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id, name, rating, label, caption, has_edits, sidecar FROM still WHERE shot_id = %s "
            "AND (rating IS NOT NULL OR has_edits OR sidecar IS NOT NULL) ORDER BY position",
            (shot_id,),
        )
        found = list(cursor.fetchall())
    return [with_sidecar(row | {"sidecar": json.loads(row["sidecar"] or "null")}) for row in found]


@retried
def set_sidecars(database: Database, changed: Mapping[int, Sidecar | None]) -> None:
    """Note what the sidecars of stills say now, by the stills' ids; nothing for those that are gone."""
    with database.transaction() as cursor:
        cursor.executemany(
            "UPDATE still SET sidecar = %s WHERE id = %s",
            [(sidecar and json.dumps(asdict(sidecar)), still) for still, sidecar in changed.items()],
        )


def with_sidecar(row: Row) -> Row:
    """Return a still's row as its sidecar has it: what that says counts more than what its file says."""
    beside = row.pop("sidecar") or {}
    row["caption"] = beside.get("caption") or row["caption"] or ""
    row["label"] = beside.get("label") or row["label"] or ""
    if beside.get("rating") is not None:
        row["rating"] = beside["rating"]
    row["has_edits"] = bool(row["has_edits"] or beside.get("has_edits"))
    row["trouble"] = beside.get("trouble", "")
    return row


def _sidecar(row: Row) -> Sidecar | None:
    return Sidecar(**row["sidecar"]) if row["sidecar"] else None
