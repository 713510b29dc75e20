"""Rename: new names from a pattern, everything that could go wrong with them, and moving files whole or not at all."""

import errno
import os
import re
from collections import Counter as Count
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field

from yarnkite.core.base.atomic import sync_folders
from yarnkite.core.base.counter import Numbering, parts
from yarnkite.core.base.errors import DiskFull, Refusal
from yarnkite.core.base.exclusive_rename import rename_exclusively
from yarnkite.core.base.frozen import Frozen

FEWEST_DIGITS = 4
LONGEST_BYTES = 255
_DIGITS = re.compile(r"\d+")
# Characters and names that one of the common file systems refuses.
_REFUSED = re.compile(r'[<>:"/\\|?*\x00-\x1f\x7f]')
_RESERVED = {"con", "prn", "aux", "nul", *(f"{port}{n}" for port in ("com", "lpt") for n in range(1, 10))}
PartKind = Literal["text", "counter", "shot", "date", "time", "camera", "name", "number"]


class PatternPart(Frozen):
    """A part of a name: free text, a new counter, the shot's name, capture date or time, the camera,
    or the old name or number.

    ``digits`` 0 means as many as the last number needs, never fewer than four.
    """

    kind: PartKind
    text: Annotated[str, Field(max_length=120)] = ""
    start: Annotated[int, Field(ge=0, le=10**9)] = 1
    step: Annotated[int, Field(ge=1, le=1000)] = 1
    digits: Annotated[int, Field(ge=0, le=12)] = 0


Pattern = tuple[PatternPart, ...]
DEFAULT: Pattern = (PatternPart(kind="shot"), PatternPart(kind="text", text="_"), PatternPart(kind="counter"))


@dataclass(frozen=True)
class Named:
    """A still as renaming sees it: its name relative to the shot's folder, when and with what it was taken."""

    name: str
    captured: datetime | None
    camera: str = ""


@dataclass(frozen=True)
class RenameLine:
    """One file's old and new name, relative to the folder; ``problem`` stops the renaming, ``warning`` does not."""

    old: str
    new: str
    problem: str = ""
    warning: str = ""
    still: int | None = None


def renaming(
    stills: Sequence[Named],
    pattern: Pattern,
    shot_name: str,
    found: Numbering,
    in_folder: Iterable[str],
    *,
    elsewhere: bool = False,
) -> list[RenameLine]:
    """Return old and new names of stills, in their order, and of the files that follow them.

    ``in_folder`` lists every file there is, relative to the folder. A file with a still's stem and another ending is
    its sidecar or its other kind, and gets the same new stem. ``elsewhere`` says that the new names are for copies in
    an empty folder.
    """
    there = set(in_folder)
    stems = new_stems(stills, pattern, shot_name, found)
    lines = []
    followers = _followers(stills, there)
    if elsewhere:
        there = set()
    for position, (still, stem) in enumerate(zip(stills, stems, strict=True)):
        lines.append(_line(still.name, stem, position))
        lines += [_line(follower, stem, None) for follower in followers.get(still.name, ())]
    return _with_collisions(lines, there)


def new_stems(stills: Sequence[Named], pattern: Pattern, shot_name: str, found: Numbering) -> list[str]:
    """Return what a pattern makes of each still, in their order: names without an ending."""
    counters = [part for part in pattern if part.kind == "counter"]
    last = max((part.start + part.step * max(len(stills) - 1, 0) for part in counters), default=0)
    automatic = max(FEWEST_DIGITS, len(str(last)))

    def text(part: PatternPart, position: int, still: Named) -> str:
        match part.kind:
            case "text":
                return part.text
            case "counter":
                return f"{part.start + part.step * position:0{part.digits or automatic}}"
            case "shot":
                # Other programs often stumble over spaces in the names of a sequence.
                return "-".join(shot_name.split())
            case "date":
                return f"{still.captured:%Y-%m-%d}" if still.captured else ""
            case "time":
                return f"{still.captured:%H%M%S}" if still.captured else ""
            case "camera":
                return "-".join(still.camera.split())
            case "name":
                return parts(still.name)[1]
            case "number":
                counter = found.counters[position] if position < len(found.counters) else None
                return "" if counter is None else f"{counter:0{FEWEST_DIGITS}}"

    return ["".join(text(part, position, still) for part in pattern) for position, still in enumerate(stills)]


def _followers(stills: Sequence[Named], there: set[str]) -> dict[str, list[str]]:
    """Return for each still the other files with its folder and stem (also ``still.jpg.xmp``)."""
    own = {still.name for still in stills}
    leaders: dict[tuple[str, str], str] = {}
    for still in stills:
        folder, stem, suffix = parts(still.name)
        leaders.setdefault((folder, stem), still.name)
        leaders.setdefault((folder, f"{stem}.{suffix}"), still.name)
    followers: dict[str, list[str]] = {}
    for name in sorted(there - own):
        folder, stem, _ = parts(name)
        leader = leaders.get((folder, stem))
        if leader is not None:
            followers.setdefault(leader, []).append(name)
    return followers


def _line(old: str, new_stem: str, still: int | None) -> RenameLine:
    folder, stem, suffix = parts(old)
    inner = parts(f"{folder}/{stem}" if folder else stem)[2] if still is None else ""
    endings = "".join(f".{ending}" for ending in (inner, suffix) if ending)
    file = f"{new_stem}{endings}"
    new = f"{folder}/{file}" if folder else file
    return RenameLine(
        old, new, _problem(file, new_stem, suffix), _warning(new_stem) if still is not None else "", still
    )


def _problem(file: str, stem: str, suffix: str) -> str:
    if problem := stem_problem(stem, file):
        return problem
    if not suffix:
        return "The file has no ending, so other programs would not know it for a picture."
    return ""


def stem_problem(stem: str, file: str) -> str:
    """Say why a name, of a file or a folder, cannot be used on every common file system; nothing if it can."""
    refused = _REFUSED.search(file)
    if not stem:
        return "The new name is empty. Add a part to the pattern."
    if refused:
        return f"Some systems refuse “{refused[0]}” in a name."
    if stem.split(".")[0].casefold() in _RESERVED:
        return f"“{stem}” is a name some systems keep for themselves."
    if stem.startswith(".") or file.endswith((" ", ".")) or stem != stem.strip():
        return "A name that begins with a dot or a space, or ends with one, gets lost on some systems."
    if len(file.encode("utf-8", "surrogateescape")) > LONGEST_BYTES:
        return f"The name is longer than {LONGEST_BYTES} bytes."
    return ""


def _warning(stem: str) -> str:
    groups = len(_DIGITS.findall(stem))
    return f"{groups} groups of digits: other programs may count by the wrong one." if groups > 1 else ""


def _with_collisions(lines: list[RenameLine], there: set[str]) -> list[RenameLine]:
    """Mark names given twice or taken by a file that stays, also when compared without case."""
    moving = {line.old for line in lines}
    given = Count(line.new.casefold() for line in lines)
    staying = {name.casefold() for name in there - moving}
    result = []
    for line in lines:
        problem = line.problem
        if not problem and given[line.new.casefold()] > 1:
            problem = "Another file gets the same name."
        elif not problem and line.new.casefold() in staying:
            problem = "A file of this name is in the folder already."
        result.append(RenameLine(line.old, line.new, problem, line.warning, line.still))
    return result


@dataclass(frozen=True)
class FileMove:
    """A file on its way: from its old name by way of a parking name, which no other file has, to its new one."""

    old: str
    parked: str
    new: str


def check(lines: Sequence[RenameLine]) -> None:
    """Raise ``Refusal`` (``names_collide``) if a plan has a problem."""
    wrong = next((line for line in lines if line.problem), None)
    if wrong is not None:
        raise Refusal("names_collide", f"“{wrong.old}” cannot become “{wrong.new}”. {wrong.problem}")


def moves(lines: Sequence[RenameLine], batch: int) -> list[FileMove]:
    """Return the moves of a plan; raises ``Refusal`` (``names_collide``) if the plan has a problem."""
    check(lines)
    changed = [line for line in lines if line.old != line.new]
    return [
        FileMove(line.old, str(Path(line.old).with_name(f".renaming-{batch}-{number}")), line.new)
        for number, line in enumerate(changed)
    ]


def park(folder: Path, todo: Sequence[FileMove]) -> None:
    """Move every file to its parking name; one that is parked already is left alone."""
    for move in todo:
        _move(folder, move.old, move.parked)


def place(folder: Path, todo: Sequence[FileMove]) -> None:
    """Move every parked file to its new name; one that is there already is left alone."""
    for move in todo:
        _move(folder, move.parked, move.new)


def unplace(folder: Path, todo: Sequence[FileMove]) -> None:
    """Move placed files back to their parking names, when placing could not be completed.

    Every file was parked before the first was placed, so one that is not parked stands under its new name.
    """
    for move in todo:
        if not os.path.lexists(folder / move.parked):
            _move(folder, move.new, move.parked)


def unpark(folder: Path, todo: Sequence[FileMove]) -> None:
    """Move every parked file back to its old name; raises ``Refusal`` (``lost_folder``) where they lie is not there.

    A file that is under neither name was taken away by somebody else; the others go back all the same.
    """
    lost = next((move for move in todo if not (folder / move.parked).parent.is_dir()), None)
    if lost is not None:
        where = (folder / lost.parked).parent
        raise Refusal(
            "lost_folder", f"The folder {where} is not there any more. Put it back; the files are still in it."
        )
    for move in todo:
        if os.path.lexists(folder / move.parked):
            _move(folder, move.parked, move.old)


def sync(folder: Path, todo: Sequence[FileMove]) -> None:
    """Have the names of all files of a batch on the disk, before anything is noted that relies on them."""
    sync_folders((folder / move.new).parent for move in todo)


def _move(folder: Path, source: str, target: str) -> None:
    """Rename one file, never over another; nothing happens if it has been moved before."""
    try:
        rename_exclusively(folder / source, folder / target)
    except FileNotFoundError:
        if not os.path.lexists(folder / target):
            raise Refusal("file_gone", f"“{source}” is no longer in {folder}. Put it back, then try again.") from None
    except FileExistsError:
        if os.path.lexists(folder / source):
            raise Refusal("name_taken", f"“{target}” is in the folder already. Move it away, then try again.") from None
    except OSError as error:
        code = "no_permission" if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS) else "cannot_rename"
        sentence = f"“{source}” in {folder} cannot be renamed: {os.strerror(error.errno or 0)}."
        raise DiskFull(code, sentence) from error
