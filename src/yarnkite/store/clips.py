"""Clips: the finished files of shots and reels, with the evidence that they are what was planned."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from statistics import median
from typing import Literal

from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import rate_text
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.file_size import Expected
from yarnkite.store.database import Database, Row, retried

# Some few clips say how far off what is expected usually is; none is trusted alone.
_LOOKED_AT = 9
_TRUST = 2


@dataclass(frozen=True)
class FinishedClip:
    """What is kept of a clip; ``path`` is where it was put, ``None`` for one kept in the data folder."""

    name: str
    bytes: int
    frames: int
    summary: str
    evidence: str
    lowest_at: int
    differences: Sequence[str]
    digest: str
    encode: Encode
    size: Size
    rate: Fraction
    path: Path | None = None
    expected: Expected | None = None
    took_s: float | None = None


@retried
def add(database: Database, job: Row, clip: FinishedClip, message: str = "") -> int:
    """Keep a finished clip and end its job, both or neither; returns the clip's id."""
    expected = clip.expected
    values = {
        "shot_id": job["shot_id"],
        "reel_id": job["reel_id"],
        "job_id": job["id"],
        "name": clip.name[:255],
        "bytes": clip.bytes,
        "frames": clip.frames,
        "summary": clip.summary,
        "differences": json.dumps(list(clip.differences)),
        "digest": clip.digest,
        "path": str(clip.path) if clip.path else None,
        "encode": clip.encode.model_dump_json(),
        "evidence": clip.evidence,
        "lowest_at": clip.lowest_at,
        "width": clip.size.width,
        "height": clip.size.height,
        "rate": rate_text(clip.rate),
        "format": clip.encode.format,
        "expected_bytes": expected.bytes if expected else None,
        "expected_s": expected.core_s_a_frame if expected else None,
        "took_s": clip.took_s,
    }
    places = ", ".join(["%s"] * len(values))
    with database.transaction() as cursor:
        cursor.execute(f"INSERT INTO clip ({', '.join(values)}) VALUES ({places})", tuple(values.values()))
        clip_id = int(cursor.lastrowid)
        cursor.execute(
            "UPDATE job SET state = 'finished', done = total, message = %s, ended_at = CURRENT_TIMESTAMP(3) "
            "WHERE id = %s",
            (message[:8000], job["id"]),
        )
        return clip_id


def of_shot(database: Database, shot_id: int) -> list[Row]:
    """Return a shot's clips, newest first; ``differences`` is a list."""
    return _clips(database, "shot_id", shot_id)


def of_reel(database: Database, reel_id: int) -> list[Row]:
    """Return a reel's clips, newest first; ``differences`` is a list."""
    return _clips(database, "reel_id", reel_id)


def _clips(database: Database, column: Literal["shot_id", "reel_id"], owner: int) -> list[Row]:
    with database.transaction() as cursor:
        cursor.execute(f"SELECT * FROM clip WHERE {column} = %s ORDER BY id DESC", (owner,))
        return [_read(row) for row in cursor.fetchall()]


def one(database: Database, clip_id: int) -> Row:
    """Return a clip; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT * FROM clip WHERE id = %s", (clip_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_clip", "This clip does not exist. Encode the shot again.")
    return _read(row)


def of_project(database: Database, project_id: int, most: int = 50) -> list[Row]:
    """Return the newest clips of a project's shots and reels, each with whose it is."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT clip.*, COALESCE(shot.name, reel.name) AS owner FROM clip "
            "LEFT JOIN shot ON shot.id = clip.shot_id LEFT JOIN reel ON reel.id = clip.reel_id "
            "WHERE COALESCE(shot.project_id, reel.project_id) = %s AND shot.deleted_at IS NULL "
            "AND reel.deleted_at IS NULL ORDER BY clip.id DESC LIMIT %s",
            (project_id, most),
        )
        return [_read(row) for row in cursor.fetchall()]


def usual_error(database: Database, format: str) -> tuple[float, float]:
    """Return by what bytes and time expected of clips of a format are usually to be multiplied, from the newest ones.

    Clips whose size was wanted say nothing about what a quality takes; few clips move little.
    """
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT bytes, expected_bytes, took_s, expected_s, frames FROM clip "
            "WHERE format = %s AND expected_bytes IS NOT NULL ORDER BY id DESC LIMIT %s",
            (format, _LOOKED_AT),
        )
        rows = cursor.fetchall()
    sizes = [row["bytes"] / row["expected_bytes"] for row in rows if row["expected_bytes"]]
    times = [row["took_s"] / row["expected_s"] for row in rows if row["took_s"] and row["expected_s"]]
    return _shrunk(sizes), _shrunk(times)


def _shrunk(ratios: Sequence[float]) -> float:
    """Return the median of ratios, drawn towards 1 as if two more had been exactly that."""
    if not ratios:
        return 1.0
    typical = min(2.0, max(0.5, median(ratios)))
    return float((typical * len(ratios) + _TRUST) / (len(ratios) + _TRUST))


def _read(row: Row) -> Row:
    encode = Encode.model_validate_json(row["encode"]) if row["encode"] else Encode()
    return row | {"differences": json.loads(row["differences"]), "encode": encode}
