"""Putting a finished file where it was wanted: into a folder of a place, under its name, never over another unasked."""

import errno
import shutil
import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from yarnkite.core.base.atomic import completed, write_completed
from yarnkite.core.base.errors import DiskFull, NotFound, Refusal
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.render_plan import RenderPlan
from yarnkite.core.gather.locations import Location

_KEPT = "It is kept here: download it, or encode again into another folder; nothing is rendered twice."


@dataclass(frozen=True)
class Destination:
    """A folder in a place, and whether a file of the same name may be replaced: that was asked before."""

    location: Location
    folder: Path
    replace: bool = False

    @classmethod
    def of(cls, wanted: dict[str, Any]) -> "Destination | None":
        """Return where a job's file is to be put, if anywhere."""
        into = wanted.get("into")
        if not into:
            return None
        return cls(Location(into["name"], Path(into["location"])), Path(into["folder"]), bool(into.get("replace")))


def deliver(clip: Path, stem: str, destination: Destination, plan: RenderPlan) -> tuple[Path | None, str]:
    """Put a finished file into a folder; returns where it is and what to say.

    Where that cannot be, it stays where it was made, and the sentence says why: nothing that is finished is lost.
    """
    try:
        # Links may have been made on the way since this was asked for.
        folder = destination.location.new_inside(str(destination.folder))
        if not folder.is_dir():
            raise NotFound("no_such_folder", f"The folder {folder} is not there any more.")
        if format_of(plan.encode).way == "numbered":
            return _unpacked(clip, folder / stem), ""
        target = folder / f"{stem}{clip.suffix}"
        _copy(clip, target, replace=destination.replace)
        return target, ""
    except FileExistsError:
        return None, f"There is a file of this name in {destination.folder} already. {_KEPT}"
    except (DiskFull, Refusal, NotFound) as refusal:
        return None, f"{refusal.sentence.rstrip()} {_KEPT}"
    except OSError as error:
        return None, f"The clip cannot be put into {destination.folder}: {error.strerror}. {_KEPT}"


def _copy(clip: Path, target: Path, *, replace: bool) -> None:
    if target.exists() and not replace:
        raise FileExistsError(target)
    try:
        with completed(target, exclusive=not replace, durable=True) as unfinished:
            shutil.copyfile(clip, unfinished)
    except DiskFull as error:
        if isinstance(error.__cause__, OSError) and error.__cause__.errno == errno.EEXIST:
            raise FileExistsError(target) from error
        raise


def _unpacked(archive: Path, folder: Path) -> Path:
    """Write the files of an archive into a new folder; each is checked as it is read."""
    folder.mkdir()
    try:
        with zipfile.ZipFile(archive) as packed:
            for name in packed.namelist():
                write_completed(folder / Path(name).name, packed.read(name), exclusive=True)
    except BaseException:
        shutil.rmtree(folder, ignore_errors=True)
        raise
    return folder
