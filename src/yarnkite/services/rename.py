"""Renaming a shot's files: the table, carrying it out, taking it back; and patterns saved under a name."""

import csv
import io
from dataclasses import dataclass

from yarnkite.core.base.errors import Conflict
from yarnkite.core.base.frozen import digest
from yarnkite.core.order.renaming import Pattern, RenameLine
from yarnkite.jobs import rename
from yarnkite.services.running import Services
from yarnkite.store import rename as renames
from yarnkite.store import shots
from yarnkite.store.database import Row


@dataclass(frozen=True)
class ShownRenaming:
    """Old and new names of all files with everything that could go wrong; ``digest`` names just this table."""

    lines: list[RenameLine]

    @property
    def digest(self) -> str:
        return digest(*(f"{line.old}\0{line.new}" for line in self.lines))

    @property
    def problems(self) -> int:
        return sum(bool(line.problem) for line in self.lines)

    @property
    def changes(self) -> int:
        return sum(line.old != line.new for line in self.lines)

    def as_csv(self) -> str:
        """Return the table as CSV (RFC 4180): old name, new name."""
        text = io.StringIO()
        writer = csv.writer(text)
        writer.writerow(["old name", "new name"])
        writer.writerows((line.old, line.new) for line in self.lines)
        return text.getvalue()


def shown(services: Services, shot_id: int, pattern: Pattern, *, aside: bool) -> ShownRenaming:
    """Return what a pattern would do; nothing is changed. Without ``aside`` stills set aside keep their names."""
    return ShownRenaming(rename.renaming_of(services.database, shot_id, pattern, aside=aside))


def carry_out(services: Services, shot_id: int, pattern: Pattern, confirmed: str, *, aside: bool) -> int:
    """Rename the files in their folder; raises ``Conflict`` if the table is not the one that was confirmed."""
    now = shown(services, shot_id, pattern, aside=aside)
    if now.digest != confirmed:
        raise Conflict("plan_changed", "The folder or the shot changed since this table was made. Look at it again.")
    return rename.carry_out(services.database, shot_id, now.lines)


def latest(services: Services, shot_id: int) -> Row | None:
    """Return the newest rename that can be taken back, or nothing."""
    shots.one(services.database, shot_id)
    return renames.latest(services.database, shot_id)


def take_back(services: Services, shot_id: int) -> int:
    """Give the files of the newest rename their old names back, all or none; returns how many."""
    return rename.take_back(services.database, shot_id)


def patterns(services: Services) -> dict[str, Pattern]:
    """Return the patterns that were saved, by name."""
    return renames.patterns(services.database)


def save_pattern(services: Services, name: str, pattern: Pattern) -> None:
    """Save a pattern under a name; one that had the name before is replaced."""
    renames.save_pattern(services.database, name, pattern)


def forget_pattern(services: Services, name: str) -> None:
    renames.forget_pattern(services.database, name)
