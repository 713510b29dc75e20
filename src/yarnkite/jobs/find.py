"""Finding stills that were moved: by name and fingerprint, below a folder a person pointed at."""

import os
from collections import defaultdict
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from yarnkite.core.base.errors import Refusal, UnreadableStill
from yarnkite.core.base.safe_open import has_fingerprint
from yarnkite.core.gather.locations import FoundFile, files_below
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.store import jobs, shots, stills
from yarnkite.store.database import Database, Row


def lost(database: Database, shot: Row) -> list[str]:
    """Return the names of a shot's stills whose files are not where they were."""
    folder = shots.folder_of(shot)
    names = [row["name"] for row in stills.of_shot(database, shot["id"])]
    if not folder.is_dir():
        return names
    there = {file.name for file in files_below(folder, folder)}
    return [name for name in names if name not in there]


def run(context: Context) -> None:
    """Look for a shot's stills below the wanted folder, and let the shot use them where they are found."""
    shot = shots.one(context.database, context.job["shot_id"])
    root = Path(jobs.wanted_of(context.database, context.job["id"])["folder"])
    old = shots.folder_of(shot)
    gone = set(lost(context.database, shot))
    rows = stills.of_shot(context.database, shot["id"])
    context.progress(0, len(gone), now=True)
    found: dict[int, Path] = {row["id"]: old / row["name"] for row in rows if row["name"] not in gone}
    candidates = _Candidates(root)
    searched = in_turn(
        context.workers,
        first_match,
        [row for row in rows if row["name"] in gone],
        lambda row: (root, list(candidates.of(row)), row["fingerprint"]),
        while_waiting=context.check,
    )
    for count, (row, future) in enumerate(searched, 1):
        match = future.result()
        if match is not None:
            found[row["id"]] = root / match
        context.progress(count, len(gone))
    moved = len(found) - (len(rows) - len(gone))
    if not moved:
        raise Refusal(
            "not_found", f"None of the {len(gone):,} lost stills of “{shot['name']}” is in {root}. Choose another one."
        )
    folder = Path(os.path.commonpath([path.parent for path in found.values()]))
    if not folder.is_relative_to(root) and not folder.is_relative_to(old):
        raise Refusal(
            "scattered",
            f"The stills of “{shot['name']}” lie partly in {old} and partly in {root}. Put them in one folder first.",
        )
    left = {row["id"]: row["name"] for row in rows if row["id"] not in found}
    stills.relocate(
        context.database,
        shot["id"],
        folder,
        {still: str(path.relative_to(folder)) for still, path in found.items()} | left,
        found.keys(),
    )
    still_lost = len(gone) - moved
    said = f"{moved:,} stills found in {folder}." + (f" {still_lost:,} are still lost." if still_lost else "")
    jobs.end(context.database, context.job["id"], "finished", said)


def first_match(root: Path, names: list[str], fingerprint: str) -> str | None:
    """Return the first of the files that has a fingerprint, in a worker; one that cannot be read is passed over."""
    for name in names:
        with suppress(UnreadableStill):
            if has_fingerprint(root / name, fingerprint):
                return name
    return None


class _Candidates:
    """The files below a folder that may be a lost still: those of its name first, then those of its size."""

    def __init__(self, root: Path) -> None:
        self._by_name: dict[str, list[FoundFile]] = defaultdict(list)
        self._by_size: dict[int, list[FoundFile]] = defaultdict(list)
        for file in files_below(root, root):
            if not file.outside and not file.trouble:
                self._by_name[Path(file.name).name.casefold()].append(file)
                self._by_size[file.bytes].append(file)

    def of(self, row: Row) -> Iterator[str]:
        same_name = self._by_name.get(Path(row["name"]).name.casefold(), [])
        yield from (file.name for file in same_name if file.bytes == row["bytes"])
        yield from (file.name for file in self._by_size.get(row["bytes"], []) if file not in same_name)
