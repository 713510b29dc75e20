"""Emptying a card with proof: copies files, reads them back, waits for a card that was taken out, says the verdict."""

import errno
import threading
from collections import defaultdict
from collections.abc import Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, replace
from pathlib import Path, PurePosixPath

from yarnkite.core.base.atomic import remove_unfinished, write_completed
from yarnkite.core.base.errors import DiskFull, Refusal
from yarnkite.core.base.wording import counted, size_text
from yarnkite.core.gather.locations import Location
from yarnkite.core.gather.offload import (
    HASH_LIST,
    CardAway,
    copy_with_proof,
    hash_list,
    is_card_there,
    is_there,
    on_card,
    verdict,
)
from yarnkite.jobs.runner import Context
from yarnkite.store import jobs, offload
from yarnkite.store.offload import OffloadFile

# While some files are read back from their disk, or hashed, others are read from the card.
_AT_ONCE = 4
_TURN_S = 0.3
_LOOK_FOR_CARD_S = 1.0
_MEGABYTE = 1_000_000
_EXAMPLES = 5
_OF_THE_NAME = (errno.EINVAL, errno.ENAMETOOLONG, errno.EILSEQ, errno.EEXIST)


class _Ended(Exception):
    """The copying of a file is broken off."""


@dataclass(frozen=True)
class Target:
    """A folder a card is copied to, and the location that it must stay in."""

    location: Path
    folder: Path

    def path(self, relative: str) -> Path:
        """Return where a file goes; links may have been made on the way. Raises as ``check`` does, and ``Refusal``."""
        self.check()
        return Location("the location", self.location).new_inside(str(self.folder / relative))

    def check(self) -> None:
        """Raise ``DiskFull`` (``disk_away``) where the folder, made when this was asked for, is gone.

        Made anew it would lie where the disk had been.
        """
        if not self.folder.is_dir():
            raise DiskFull(
                "disk_away",
                f"{self.folder} is not there any more. Plug its disk in again, then go on; what is proven is kept.",
            )


def run(context: Context) -> None:
    """Copy every file of a card that has no proven copy yet, and say what came of it."""
    job_id = context.job["id"]
    wanted = jobs.wanted_of(context.database, job_id)
    card = Path(wanted["card"])
    targets = [Target(Path(one["location"]), Path(one["folder"])) for one in wanted["targets"]]
    for target in targets:
        target.check()
    copying = _Copying(context, card, targets, _as_they_are(context, job_id, targets))
    while copying.left:
        copying.wait_for_card()
        copying.go_on()
    files = offload.files_of(context.database, job_id)
    for target in targets:
        target.check()
        # A run that was killed may have left what it was writing.
        remove_unfinished(target.folder, {file.target for file in files if file.target})
    _write_hash_lists(targets, files)
    said, is_proven = _verdict(card, targets, files, wanted["left"])
    jobs.end(context.database, job_id, "finished" if is_proven else "failed", said)


def _as_they_are(context: Context, job_id: int, targets: Sequence[Target]) -> list[OffloadFile]:
    """Return the files of a job; a copy that was proven and is not there any more is made again."""
    found = []
    for file in offload.files_of(context.database, job_id):
        if file.target is not None and file.sha256 and not _is_copied(file, targets):
            file = replace(file, sha256=None)
            offload.note(context.database, job_id, file.position, None)
        found.append(file)
    return found


class _Copying:
    """The files of a card that are still to be copied, and how far that is."""

    def __init__(self, context: Context, card: Path, targets: Sequence[Target], files: Sequence[OffloadFile]) -> None:
        self._context, self._card, self._targets = context, card, targets
        self._wanted = [file for file in files if file.target is not None]
        self.left = [file for file in self._wanted if file.sha256 is None]
        self._done = sum(file.found.bytes for file in self._wanted if file.sha256 is not None)
        self._total = sum(file.found.bytes for file in self._wanted)
        self._under_way = 0
        self._lock, self._ended = threading.Lock(), threading.Event()

    def wait_for_card(self) -> None:
        """Wait until the card is there, however long that takes; raises as ``Context.check`` does."""
        if self._is_card_there():
            return
        done = len(self._wanted) - len(self.left)
        jobs.note(
            self._context.database,
            self._context.job["id"],
            f"The card was taken out; {done:,} of {len(self._wanted):,} files are copied and proven. Put it in again: "
            "it goes on by itself.",
        )
        self._tell(now=True)
        while not self._is_card_there():
            self._context.check()
            self._context.stopping.wait(_LOOK_FOR_CARD_S)
        jobs.note(self._context.database, self._context.job["id"], "")

    def go_on(self) -> None:
        """Copy what is left, until all is copied or the card is not there any more."""
        self._ended.clear()
        self._tell(now=True)
        waiting, copied = list(self.left), set()
        pool = ThreadPoolExecutor(_AT_ONCE, thread_name_prefix=f"offload-{self._context.job['id']}")
        running: dict[Future[str], OffloadFile] = {}
        try:
            while waiting or running:
                while waiting and len(running) < _AT_ONCE and not self._ended.is_set():
                    file = waiting.pop(0)
                    running[pool.submit(self._copy, file)] = file
                if not running:
                    break
                self._context.check()
                done, _ = wait(running, _TURN_S, FIRST_COMPLETED)
                for future in done:
                    file = running.pop(future)
                    if self._take(future, file):
                        copied.add(file.position)
                self._tell()
        finally:
            self._ended.set()
            pool.shutdown(wait=True)
            self._under_way = 0
            self.left = [file for file in self.left if file.position not in copied]

    def _copy(self, file: OffloadFile) -> str:
        assert file.target is not None
        targets = [target.path(file.target) for target in self._targets]
        return copy_with_proof(self._card, file.found, targets, self._told)

    def _told(self, count: int) -> None:
        if self._ended.is_set():
            raise _Ended
        with self._lock:
            self._under_way += count

    def _take(self, future: "Future[str]", file: OffloadFile) -> bool:
        """Note what became of a file; tells whether anything did, that is not if the card was taken out meanwhile."""
        said, trouble = None, ""
        try:
            said = future.result()
        except _Ended:
            return False
        except CardAway as away:
            if not self._is_card_there():
                self._ended.set()
                return False
            trouble = away.sentence
        except DiskFull as full:
            # A name that a disk cannot have, or has already in other letters, concerns this file alone.
            if not isinstance(full.__cause__, OSError) or full.__cause__.errno not in _OF_THE_NAME:
                raise
            trouble = full.sentence
        except Refusal as refusal:
            trouble = refusal.sentence
        offload.note(self._context.database, self._context.job["id"], file.position, said, trouble)
        with self._lock:
            self._done += file.found.bytes
            self._under_way = max(0, self._under_way - file.found.bytes)
        return True

    def _is_card_there(self) -> bool:
        return is_card_there(self._card, [file.found for file in self._wanted])

    def _tell(self, *, now: bool = False) -> None:
        with self._lock:
            done = min(self._total, self._done + self._under_way)
        self._context.progress(-(-done // _MEGABYTE), -(-self._total // _MEGABYTE), now=now)


def _is_copied(file: OffloadFile, targets: Sequence[Target]) -> bool:
    assert file.target is not None
    try:
        return all(target.path(file.target).stat().st_size == file.found.bytes for target in targets)
    except (OSError, Refusal):
        return False


def _write_hash_lists(targets: Sequence[Target], files: Sequence[OffloadFile]) -> None:
    """Write a list into each folder of a target, of all files proven in it."""
    lists: dict[str, dict[str, str]] = defaultdict(dict)
    for file in files:
        if file.sha256 and file.target:
            folder, *inside = PurePosixPath(file.target).parts
            lists[folder]["/".join(inside)] = file.sha256
    for target in targets:
        for folder, hashes in lists.items():
            # A card may hold a list of its own.
            name = HASH_LIST if HASH_LIST not in hashes else f"card-{HASH_LIST}"
            write_completed(target.path(f"{folder}/{name}"), hash_list(hashes).encode(), durable=True)


def _verdict(
    card: Path, targets: Sequence[Target], files: Sequence[OffloadFile], left: Sequence[str]
) -> tuple[str, bool]:
    """Say whether the card may be wiped, and whether all is proven that was to be copied."""
    wanted = [file for file in files if file.target is not None]
    troubles = [file.trouble for file in wanted if file.sha256 is None]
    gone = [file for file in wanted if file.sha256 and not _is_copied(file, targets)]
    if gone:
        troubles.append(f"Of {counted(len(gone), 'file')} a copy is gone again, of “{gone[0].found.name}” first.")
    said = [*troubles[:_EXAMPLES]]
    if len(troubles) > _EXAMPLES:
        said.append(f"{counted(len(troubles) - _EXAMPLES, 'more file')} could not be copied.")
    by_choice = len(files) - len(wanted)
    if by_choice:
        said.append(f"{counted(by_choice, 'file')} on it {'was' if by_choice == 1 else 'were'} not to be copied.")
    if is_card_there(card, [file.found for file in files]):
        said += _since(card, files)
    said += left
    size = size_text(sum(file.found.bytes for file in wanted))
    return verdict(len(wanted), size, [target.folder for target in targets], said), not troubles


def _since(card: Path, files: Sequence[OffloadFile]) -> list[str]:
    """Say what is otherwise on the card than when it was looked at."""
    known = {file.found.name for file in files}
    new = [one.name for one in on_card(card, card)[0] if one.name not in known]
    changed = [file.found.name for file in files if file.target is not None and not is_there(card, file.found)]
    said = []
    if new:
        said.append(f"{counted(len(new), 'file')} came to it meanwhile, “{new[0]}” among them.")
    if changed:
        said.append(f"{counted(len(changed), 'file')} changed on it meanwhile, “{changed[0]}” among them.")
    return said
