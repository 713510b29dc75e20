"""Emptying a card with proof: what is on it, where its files go, copying them, and making shots of them."""

import shutil
import threading
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from yarnkite.core.base.atomic import sync_folders
from yarnkite.core.base.cache import Cache
from yarnkite.core.base.capture_time import local_time, universal_time
from yarnkite.core.base.errors import Conflict, DiskFull, NotFound, Refusal, UnreadableStill
from yarnkite.core.base.frozen import digest
from yarnkite.core.base.safe_open import safe_open
from yarnkite.core.base.wording import size_text
from yarnkite.core.gather.locations import FoundFile, check_new_or_empty, nearest_existing
from yarnkite.core.gather.offload import on_card
from yarnkite.core.gather.proposals import StillFacts
from yarnkite.core.gather.sorting import sort_out
from yarnkite.core.image.header import read_header
from yarnkite.core.order.card import OTHERS, Card, CardShot, card_of, folder_names, new_names
from yarnkite.core.order.renaming import Pattern
from yarnkite.jobs.export import ROOM_TO_SPARE
from yarnkite.services.gather import Begun, gather_folder
from yarnkite.services.locations import folder_in, location_named
from yarnkite.services.running import Services
from yarnkite.store import jobs, offload, projects, shots
from yarnkite.store.database import Row

_READ_AT_ONCE = 4
_MOST_FILES = 200_000
_BYTES_A_FILE = 500


@dataclass(frozen=True)
class LookedAt:
    """A card as it was looked at: ``listing`` stands for its files as they were then.

    ``left`` says what on it cannot be copied.
    """

    listing: str
    folder: Path
    files: tuple[FoundFile, ...]
    card: Card
    left: tuple[str, ...]


@dataclass(frozen=True)
class Names:
    """Patterns of names: of the folders of shots, and of stills, which keep theirs without one."""

    folders: Pattern
    stills: Pattern | None


@dataclass(frozen=True)
class Into:
    """A folder, new or empty, below a path in a location."""

    location: str
    path: str
    folder: str


@dataclass(frozen=True)
class Example:
    """What names a shot of a card gets: its folder, its first and its last still."""

    folder: str
    first: str
    last: str


@dataclass(frozen=True)
class Offload:
    """A card that was emptied, or is being: the job, where to, and how many of its shots are not in the project."""

    job: Row
    targets: list[str]
    to_make: int


# What was read of a card is known by its listing, so another card or another state of it is read anew.
_looked_at: Cache[Card] = Cache(64_000_000, lambda card: _BYTES_A_FILE * _count(card), threading.Lock())


def look(services: Services, location: str, path: str) -> LookedAt:
    """Return what a card, or any folder, holds; reads how each still's file begins.

    Raises ``Refusal`` (``no_stills``, ``too_many``) for one that is empty, or has more than 200,000 files.
    """
    folder, top = folder_in(services, location, path), location_named(services, location).folder
    files, left = on_card(folder, top)
    if not files:
        raise Refusal("no_stills", f"There is nothing in “{folder.name}” to be copied. Choose another folder.")
    if len(files) > _MOST_FILES:
        raise Refusal("too_many", f"“{folder.name}” has more than {_MOST_FILES:,} files. Choose a folder in it.")
    listing = digest(str(folder), [(one.name, one.bytes, one.modified_ns) for one in files])
    return LookedAt(listing, folder, files, _looked_at.get(listing, lambda: _read(folder, files)), left)


def examples(services: Services, location: str, path: str, names: Names) -> list[Example]:
    """Return what the shots of a card and their stills would be called; raises ``Refusal`` for names that cannot be."""
    on_card = look(services, location, path).card.shots
    result = []
    for shot, folder in zip(on_card, folder_names(on_card, names.folders), strict=True):
        new = new_names(shot, folder, names.stills)
        first, last = (new[name].removeprefix(f"{folder}/") for name in (shot.stills[0], shot.stills[-1]))
        result.append(Example(folder, first, last))
    return result


def begin(
    services: Services,
    project_id: int,
    card: tuple[str, str],
    seen: str,
    chosen: Sequence[int],
    *,
    others: bool,
    names: Names,
    into: Sequence[Into],
) -> Row:
    """Begin to copy shots of a card, by their place in what was seen of it, and its other files on wish; returns the
    job.

    Raises ``Conflict`` (``card_changed``, ``folder_not_empty``, ``card_busy``), ``DiskFull``, ``Refusal`` for names or
    folders that cannot be.
    """
    looked = look(services, *card)
    if looked.listing != seen:
        raise Conflict("card_changed", "What is on the card has changed since it was looked at. Look at it again.")
    on_card = looked.card.shots
    wanted = {at: on_card[at] for at in chosen if at < len(on_card)}
    goes = _goes(looked, wanted, names, others=others)
    if not goes:
        raise Refusal("nothing_to_copy", "Nothing of this card was chosen. Tick a shot, or its other files.")
    targets = [_target(services, looked, one) for one in into]
    _check_targets(looked, targets, sum(file.bytes for file in looked.files if file.name in goes))
    for _, folder in targets:
        _make(folder)
    details = {
        "name": looked.folder.name or card[0],
        "card": str(looked.folder),
        "targets": [{"location": str(location), "folder": str(folder)} for location, folder in targets],
        "where": {"location": into[0].location, "path": _relative(targets[0])},
        "folders": [folder for folder in _folders_of(goes) if folder != OTHERS],
        "left": looked.left,
    }
    files = [(file, goes.get(file.name)) for file in looked.files]
    return services.runner.start_noted(offload.add(services.database, project_id, details, files))


def of_project(services: Services, project_id: int) -> list[Offload]:
    """Return the cards that were emptied into a project, or are being, the newest first; raises ``NotFound``."""
    projects.one(services.database, project_id)
    return [
        Offload(
            job=jobs.one(services.database, row["id"]),
            targets=[one["folder"] for one in row["wanted"]["targets"]],
            to_make=sum(
                shots.with_origin(services.database, project_id, Path(row["wanted"]["targets"][0]["folder"]) / folder)
                is None
                for folder in row["wanted"]["folders"]
            ),
        )
        for row in offload.of_project(services.database, project_id)
    ]


def make_shots(services: Services, job_id: int) -> list[Begun]:
    """Make a shot of each folder a card's shots were copied into, where they lie; those made before stay what they are.

    Raises ``NotFound``, ``Conflict`` (``card_busy``) while it is being copied.
    """
    job = jobs.one(services.database, job_id)
    if job["kind"] != "offload":
        raise NotFound("no_such_job", "This job emptied no card.")
    if job["state"] in ("waiting", "running"):
        raise Conflict("card_busy", "The card is still being copied. Wait until that is done.")
    wanted = jobs.wanted_of(services.database, job_id)
    where = wanted["where"]
    return [
        gather_folder(
            services, job["project_id"], where["location"], f"{where['path']}/{folder}".lstrip("/"), copy_files=False
        )
        for folder in wanted["folders"]
    ]


def _read(folder: Path, files: Sequence[FoundFile]) -> Card:
    stills, _ = sort_out(folder, files)
    with ThreadPoolExecutor(_READ_AT_ONCE, thread_name_prefix="card") as pool:
        read = list(pool.map(lambda numbered: _facts(folder, *numbered), enumerate(stills)))
    known = [one for one in read if one is not None]
    return card_of(files, [facts for facts, _ in known], {facts.name: clock for facts, clock in known})


def _facts(folder: Path, number: int, file: FoundFile) -> tuple[StillFacts, datetime | None] | None:
    """Return what a still says of itself and its camera's clock, or nothing for one that cannot be read."""
    try:
        with safe_open(folder / file.name) as opened:
            header = read_header(opened.handle, opened.path.name)
    except UnreadableStill:
        return None
    clock = local_time(header.captured)[0] if header.captured else None
    facts = StillFacts(
        id=number,
        name=file.name,
        captured=universal_time(header.captured),
        width=header.width,
        height=header.height,
        camera=header.camera,
        software=header.software,
        # Not read for this: two files are two files, and both are copied.
        fingerprint=file.name,
    )
    return facts, clock


def _goes(looked: LookedAt, wanted: dict[int, CardShot], names: Names, *, others: bool) -> dict[str, str]:
    """Return where each file that is wanted goes, by its name on the card."""
    goes: dict[str, str] = {}
    # Counters count the shots of the card, chosen or not: a second copying carries on with the same names.
    folders = folder_names(looked.card.shots, names.folders)
    for at, shot in wanted.items():
        goes |= new_names(shot, folders[at], names.stills)
    if others:
        goes |= {name: f"{OTHERS}/{name}" for name in looked.card.others}
    return goes


def _folders_of(goes: dict[str, str]) -> list[str]:
    return list(dict.fromkeys(path.split("/")[0] for path in goes.values()))


def _target(services: Services, looked: LookedAt, into: Into) -> tuple[Path, Path]:
    location = location_named(services, into.location)
    folder = location.new_folder(into.path, into.folder)
    if folder.is_relative_to(looked.folder):
        raise Refusal("on_the_card", f"{folder} lies on the card itself. Choose a folder on another disk.")
    check_new_or_empty(folder)
    return location.folder.resolve(), folder


def _check_targets(looked: LookedAt, targets: Sequence[tuple[Path, Path]], needed: int) -> None:
    """Check that targets are not in each other and that each disk has room; raises ``Refusal``, ``DiskFull``."""
    folders = [folder for _, folder in targets]
    if any(one.is_relative_to(other) for one in folders for other in folders if one is not other):
        raise Refusal("same_folder", "The two folders are the same, or one lies in the other. Choose another one.")
    there = [nearest_existing(folder) for folder in folders]
    for place in there:
        copies = sum(other.stat().st_dev == place.stat().st_dev for other in there)
        free = shutil.disk_usage(place).free
        if needed * copies + ROOM_TO_SPARE > free:
            raise DiskFull(
                "disk_full",
                f"{size_text(needed * copies)} are needed in {place} and {size_text(free)} are free. Free some space.",
            )


def _make(folder: Path) -> None:
    try:
        folder.mkdir(parents=True, exist_ok=True)
        sync_folders([folder.parent])
    except OSError as error:
        raise DiskFull(
            "cannot_write", f"{folder} cannot be made: {error.strerror}. Choose a folder that may be written to."
        ) from None


def _relative(target: tuple[Path, Path]) -> str:
    location, folder = target
    return str(folder.relative_to(location))


def _count(card: Card) -> int:
    return len(card.others) + sum(len(shot.stills) + len(shot.beside) for shot in card.shots)
