"""Writing a shot's stills into a new folder: files as they are under new names, or pictures as a numbered sequence."""

import shutil
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from typing import Any

from yarnkite.core.base.atomic import completed, remove_unfinished
from yarnkite.core.base.capture_time import with_offset
from yarnkite.core.base.errors import DiskFull, Refusal
from yarnkite.core.base.safe_open import safe_open
from yarnkite.core.base.still import Still
from yarnkite.core.encode.export import AS_SHOT, BYTES_A_PIXEL, ENDINGS, ExportCorrection, Writing, export_still
from yarnkite.core.gather.locations import Location, check_new_or_empty, nearest_existing
from yarnkite.core.light.adjustment import UNADJUSTED, Adjustment, SharedLight
from yarnkite.core.order.renaming import Pattern, RenameLine, check
from yarnkite.core.render.recipe import Correction
from yarnkite.jobs.rename import renaming_of
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.store import jobs, shots, stills
from yarnkite.store.database import Database
from yarnkite.store.snapshots import still_of

ROOM_TO_SPARE = 200_000_000


def lines_for(database: Database, shot_id: int, pattern: Pattern, writing: Writing | None) -> list[RenameLine]:
    """Return old and new names of what would be written; ``writing`` is ``None`` for copies of the files."""
    lines = renaming_of(database, shot_id, pattern, aside=False, elsewhere=True)
    if writing is None:
        return lines
    ending = ENDINGS[writing.format]
    named = [line for line in lines if line.still is not None]
    return [
        RenameLine(line.old, f"{line.new.rpartition('.')[0]}.{ending}", line.problem, line.warning, line.still)
        for line in named
    ]


def needed_bytes(database: Database, shot_id: int, lines: Sequence[RenameLine], writing: Writing | None) -> int:
    """Return how many bytes the files will take: exactly for copies, about for pictures."""
    shot = shots.one(database, shot_id)
    if writing is None:
        folder = shots.folder_of(shot)
        return sum(_size(folder / line.old) for line in lines)
    wanted = {line.old for line in lines}
    if writing.fit is not None:
        pixels = writing.fit.size.width * writing.fit.size.height * len(lines)
    else:
        rows = stills.of_shot(database, shot_id)
        pixels = sum(row["width"] * row["height"] for row in rows if row["name"] in wanted)
    return round(pixels * BYTES_A_PIXEL[writing.format])


def run(context: Context) -> None:
    """Write the files of an export; those an earlier run wrote are left as they are."""
    wanted = jobs.wanted_of(context.database, context.job["id"])
    target = Path(wanted["folder"])
    writing = Writing.model_validate(wanted["writing"]) if wanted["writing"] else None
    shot = shots.one(context.database, context.job["shot_id"])
    folder = shots.folder_of(shot)
    if wanted.get("location"):
        # Links may have been made on the way since this was asked for.
        target = Location("the location", Path(wanted["location"])).new_inside(str(target))
    target.mkdir(parents=True, exist_ok=True)
    rows = {row["name"]: row for row in stills.of_shot(context.database, shot["id"])}
    is_copy = shot["source"] is not None
    names = [tuple(pair) for pair in wanted["names"]]
    lights = {old: Adjustment.model_validate(light) for old, light in (wanted.get("lights") or {}).items()}
    shared = SharedLight.model_validate(wanted.get("shared") or {})
    every = [old for old, _ in names]
    places = {old: place for place, old in enumerate(every)}

    laid, region = wanted.get("laid") or {}, wanted.get("region")

    def correction_of(old: str) -> Correction:
        return Correction(light=lights.get(old, UNADJUSTED), laid=laid.get(old))

    def corrections_of(old: str) -> ExportCorrection:
        place, reach = places[old], shared.over_time
        around = [*every[max(0, place - reach) : place], *every[place + 1 : place + 1 + reach]]
        beside = tuple((still_of(rows[one], folder, is_copy=is_copy), correction_of(one)) for one in around)
        return ExportCorrection(correction_of(old), shared, beside, tuple(region) if region else None)

    todo = [(old, new) for old, new in names if not (target / new).exists()]
    context.progress(len(names) - len(todo), len(names), now=True)

    def arguments(pair: tuple[str, str]) -> tuple[Any, ...]:
        old, new = pair
        if writing is None:
            return None, None, None, folder / old, target / new, AS_SHOT
        row = rows[old]
        return (
            still_of(row, folder, is_copy=is_copy),
            writing,
            with_offset(row["captured_at"], row["utc_offset_min"]),
            folder / old,
            target / new,
            corrections_of(old),
        )

    refused = []
    work = in_turn(context.workers, write_one, todo, arguments, while_waiting=context.check)
    for count, (_, future) in enumerate(work, len(names) - len(todo) + 1):
        try:
            future.result()
        except DiskFull:
            raise
        except Refusal as refusal:
            refused.append(refusal.sentence)
        context.progress(count, len(names))
    remove_unfinished(target, {new for _, new in names})
    said = f"{len(names) - len(refused):,} files written into {target}."
    jobs.end(context.database, context.job["id"], "finished", " ".join([said, *refused[:5]]))


def write_one(
    still: Still | None,
    writing: Writing | None,
    captured: datetime | None,
    old: Path,
    new: Path,
    correction: ExportCorrection = AS_SHOT,
) -> None:
    """Write one file in a worker."""
    if still is not None and writing is not None:
        export_still(still, writing, captured, new, correction)
        return
    with completed(new, exclusive=True, durable=True) as unfinished:
        with safe_open(old, least=0) as file, unfinished.open("wb") as copy:
            shutil.copyfileobj(file.handle, copy, 8_000_000)
            file.check_unchanged()
        shutil.copystat(old, unfinished)


def _size(path: Path) -> int:
    try:
        return path.stat().st_size
    except OSError:
        return 0


def prepare(
    database: Database, shot_id: int, lines: Sequence[RenameLine], writing: Writing | None, target: Path
) -> int:
    """Check that an export can be done; returns the bytes it will take.

    Raises ``Refusal`` for a name that cannot be, ``Conflict`` for a folder with files in it, ``DiskFull``.
    """
    check(lines)
    if not lines:
        raise Refusal("nothing_to_write", "This shot has no stills to write.")
    check_new_or_empty(target)
    needed, free = needed_bytes(database, shot_id, lines, writing), shutil.disk_usage(nearest_existing(target)).free
    if needed + ROOM_TO_SPARE > free:
        raise DiskFull(
            "disk_full",
            f"{len(lines):,} files need about {needed / 1e9:.1f} GB and {free / 1e9:.1f} GB are free. Free some space.",
        )
    return needed
