"""Sizes that were measured of a clip's frames, format by format."""

import json
from dataclasses import dataclass, replace

from yarnkite.core.encode.decisions import FormatName
from yarnkite.core.encode.file_size import Expected
from yarnkite.store.database import Database, retried

_KEPT = 2_000


@dataclass(frozen=True)
class MeasuredSizes:
    """What frames take at a quality in each format, and of how many of the ``wanted`` stretches that is known so
    far."""

    crf: float
    wanted: int
    formats: dict[FormatName, Expected]
    counts: dict[FormatName, int]

    def has(self, name: FormatName) -> bool:
        """Tell whether all that is to be measured of a format is."""
        return self.counts.get(name, 0) >= self.wanted


@retried
def keep(database: Database, frames_digest: str, quality_digest: str, sizes: MeasuredSizes) -> None:
    """Keep what was measured, beside what is known of other formats; those measured longest ago are forgotten."""
    before = found(database, frames_digest, quality_digest)
    if before is not None and before.counts and before.wanted == sizes.wanted:
        formats_known, counts = before.formats | sizes.formats, before.counts | sizes.counts
        sizes = replace(sizes, formats=formats_known, counts=counts)
    formats = json.dumps(
        {name: [one.bytes, one.core_s_a_frame, sizes.counts.get(name, 0)] for name, one in sizes.formats.items()}
    )
    with database.transaction() as cursor:
        cursor.execute(
            "REPLACE INTO measured_size (frames_digest, quality_digest, crf, wanted, formats) "
            "VALUES (%s, %s, %s, %s, %s)",
            (frames_digest, quality_digest, sizes.crf, sizes.wanted, formats),
        )
        cursor.execute("SELECT COUNT(*) AS count FROM measured_size")
        row = cursor.fetchone()
        if row is not None and row["count"] > _KEPT:
            cursor.execute("DELETE FROM measured_size ORDER BY measured_at LIMIT %s", (row["count"] - _KEPT,))


def found(database: Database, frames_digest: str, quality_digest: str) -> MeasuredSizes | None:
    """Return what was measured of frames at a quality, else at another quality, or ``None``."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT * FROM measured_size WHERE frames_digest = %s "
            "ORDER BY quality_digest = %s DESC, measured_at DESC LIMIT 1",
            (frames_digest, quality_digest),
        )
        row = cursor.fetchone()
    if row is None:
        return None
    read = json.loads(row["formats"])
    formats = {name: Expected(int(size), float(seconds)) for name, (size, seconds, _) in read.items()}
    is_same = row["quality_digest"] == quality_digest
    # What was measured at another quality is a guess here, and still to be measured.
    counts = {name: int(count) for name, (_, _, count) in read.items()} if is_same else {}
    return MeasuredSizes(row["crf"], row["wanted"], formats, counts)
