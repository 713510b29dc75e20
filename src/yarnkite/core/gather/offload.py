"""Copying files of a card with proof: each is read once, written to every target, read back from there and compared.

The list of hashes is one that ``sha256sum --check`` reads (SHA-256: FIPS 180-4; the form: GNU coreutils, "sha2
utilities").
"""

import errno
import mmap
import os
import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from contextlib import ExitStack
from hashlib import sha256
from pathlib import Path, PurePosixPath

from blake3 import blake3

from yarnkite.core.base.atomic import completed
from yarnkite.core.base.errors import Conflict, DiskFull, Refusal
from yarnkite.core.base.safe_open import open_at_once
from yarnkite.core.base.wording import is_text, printable
from yarnkite.core.gather.locations import FoundFile, files_below

HASH_LIST = "hashes.sha256"
_PIECE = 8_000_000
# A multiple of every block size, as reading past the memory of the system asks for.
_BLOCKS = 8 * 1024 * 1024
# What a card that was pulled out says, or a reader that lost it.
_AWAY = (errno.ENOENT, errno.ENOTDIR, errno.EIO, errno.ENODEV, errno.ENXIO, errno.ENOTCONN, errno.ESTALE)
_PROBES = 24
_LINE = re.compile(r"(\\?)([0-9a-f]{64}) [ *](.+)")
_ESCAPES = {"\\": "\\\\", "\n": "\\n", "\r": "\\r"}


class CardAway(Exception):
    """The card may not be there any more; ``sentence`` says what is wrong with the file if it is."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


def copy_with_proof(
    card: Path, file: FoundFile, targets: Sequence[Path], told: Callable[[int], None] = lambda _: None
) -> str:
    """Copy a file of a card to each target, read each copy back from its disk and compare; returns the SHA-256 in hex.

    A target that is there already, from a run that was broken off, is compared alike and left as it is. ``told`` is
    called with each count of bytes that was read, and may raise to end the copying.
    Raises ``CardAway`` where the file cannot be read or is another one, as if the card were not there, ``Refusal``
    (``unreadable``, ``differs``) or ``Conflict`` (``name_taken``) where this file alone is concerned, ``DiskFull``.
    """
    missing = [target for target in targets if not os.path.lexists(target)]
    known = sha256()
    quick = blake3()
    with ExitStack() as unfinished:
        parts = [
            unfinished.enter_context(completed(one, exclusive=True, durable=True, modified_ns=file.modified_ns))
            for one in missing
        ]
        with ExitStack() as opened:
            copies = [opened.enter_context(part.open("wb")) for part in parts]
            for piece in _pieces_of(card, file):
                told(len(piece))
                known.update(piece)
                quick.update(piece)
                for copy in copies:
                    copy.write(piece)
            for copy in copies:
                copy.flush()
                os.fsync(copy.fileno())
        for part, target in zip(parts, missing, strict=True):
            if _read_back(part) != quick.digest():
                raise Refusal(
                    "differs",
                    f"“{file.name}” reads back from {target.parent} as other bytes than were written. Check that disk.",
                )
        for target in targets:
            if target not in missing and _read_back(target) != quick.digest():
                raise Conflict(
                    "name_taken", f"There is another file called “{target.name}” in {target.parent}. Move it away."
                )
    return known.hexdigest()


def on_card(card: Path, root: Path) -> tuple[tuple[FoundFile, ...], tuple[str, ...]]:
    """Return the files of a card, and a sentence about each that cannot be copied.

    Systems keep notes of their own under hidden names, which do not count. ``root`` is as in ``files_below``.
    """
    found = [file for file in files_below(card, root) if not PurePosixPath(file.name).name.startswith(".")]
    left = {file.name: said for file in found if (said := _cannot(file))}
    return tuple(file for file in found if file.name not in left), tuple(left.values())


def _cannot(file: FoundFile) -> str:
    name = printable(file.name)
    if file.outside:
        return f"“{name}” is a link to a file elsewhere."
    if file.trouble:
        return f"“{name}” {file.trouble}."
    return "" if is_text(file.name) else f"“{name}” has a name that is not readable text."


def is_there(card: Path, file: FoundFile) -> bool:
    """Tell whether a file lies on a card as it was found: same size, same time of change."""
    try:
        status = (card / file.name).stat(follow_symlinks=False)
    except OSError:
        return False
    return (status.st_size, status.st_mtime_ns) == (file.bytes, file.modified_ns)


def is_card_there(card: Path, files: Sequence[FoundFile]) -> bool:
    """Tell whether a card is there, and is the one with these files on it, by looking at a few of them."""
    stride = max(1, len(files) // _PROBES)
    return any(is_there(card, file) for file in files[::stride])


def hash_list(hashes: Mapping[str, str]) -> str:
    """Return a list of hashes, by the names of files relative to where it lies."""
    return "".join(_line(name, said) for name, said in sorted(hashes.items()))


def read_hash_list(text: str) -> dict[str, str]:
    """Return the hashes a list tells, by name; lines of another form are passed over."""
    found = {}
    for line in text.split("\n"):
        if match := _LINE.fullmatch(line):
            escaped, said, name = match.groups()
            found[_unescaped(name) if escaped else name] = said
    return found


def verdict(files: int, bytes_text: str, targets: Sequence[Path], left: Iterable[str]) -> str:
    """Say whether a card may be wiped, or what on it has no proven copy; ``left`` are sentences about that."""
    wrong = list(left)
    where = " and ".join(map(str, targets))
    if wrong:
        return f"Do not wipe the card. {' '.join(wrong)}"
    if is_one_disk(targets):
        where += " (both on one disk)"
    return (
        f"The card may be wiped: all its {files:,} files ({bytes_text}) are in {where}, were read back from there, "
        "and are the same."
    )


def is_one_disk(folders: Sequence[Path]) -> bool:
    """Tell whether several folders lie on one file system, which may be lost with all of them."""
    return len(folders) > 1 and len({folder.stat().st_dev for folder in folders}) == 1


def _pieces_of(card: Path, file: FoundFile) -> Iterator[bytes]:
    path = card / file.name
    try:
        descriptor = open_at_once(str(path), os.O_RDONLY | os.O_NOFOLLOW)
    except OSError as error:
        raise _unread(file, error) from None
    with os.fdopen(descriptor, "rb", buffering=0) as handle:
        status, read = os.fstat(descriptor), 0
        if (status.st_size, status.st_mtime_ns) != (file.bytes, file.modified_ns):
            raise _changed(file)
        while True:
            try:
                piece = handle.read(_PIECE)
            except OSError as error:
                raise _unread(file, error) from None
            if not piece:
                break
            read += len(piece)
            yield piece
        if read != file.bytes:
            raise _changed(file)


def _unread(file: FoundFile, error: OSError) -> Exception:
    sentence = f"“{file.name}” cannot be read: {os.strerror(error.errno or 0)}."
    return CardAway(sentence) if error.errno in _AWAY else Refusal("unreadable", sentence)


def _changed(file: FoundFile) -> CardAway:
    # So is one of the same name on another card that was put in meanwhile.
    return CardAway(f"“{file.name}” is not the file it was when the card was looked at.")


def _read_back(path: Path) -> bytes:
    """Return the hash of a copy as its disk has it; raises ``DiskFull`` where it cannot be read back."""
    try:
        return _hash_on_disk(path)
    except OSError as error:
        raise DiskFull(
            "cannot_read_back",
            f"“{path.name}” cannot be read back from {path.parent}: {os.strerror(error.errno or 0)}. Check that disk, "
            "then go on; what is proven is kept.",
        ) from error


def _hash_on_disk(path: Path) -> bytes:
    """Return the hash of a file not as it is remembered: past the system's memory where that can be, else with what is
    remembered thrown away (open(2), posix_fadvise(2))."""
    state = blake3()
    try:
        _read_past_memory(path, state.update)
    except OSError as error:
        if error.errno not in (errno.EINVAL, errno.ENOTSUP):
            raise
        state = blake3()
        with path.open("rb", buffering=0) as file:
            os.posix_fadvise(file.fileno(), 0, 0, os.POSIX_FADV_DONTNEED)
            while piece := file.read(_PIECE):
                state.update(piece)
    return state.digest()


def _read_past_memory(path: Path, take: Callable[[memoryview], object]) -> None:
    descriptor = os.open(path, os.O_RDONLY | os.O_DIRECT)
    try:
        left = os.fstat(descriptor).st_size
        with mmap.mmap(-1, _BLOCKS) as block, memoryview(block) as seen:
            while left > 0:
                count = os.readv(descriptor, [seen])
                with seen[:count] as piece:
                    take(piece)
                left -= count
                if left > 0 and count < _BLOCKS:
                    # From within a block it cannot go on.
                    raise OSError(errno.EINVAL, os.strerror(errno.EINVAL))
    finally:
        os.close(descriptor)


def _line(name: str, said: str) -> str:
    escaped = re.sub(r"[\\\n\r]", lambda one: _ESCAPES[one[0]], name)
    return f"{'' if escaped == name else chr(92)}{said}  {escaped}\n"


def _unescaped(name: str) -> str:
    plain = {written: one for one, written in _ESCAPES.items()}
    return re.sub(r"\\[\\nr]", lambda one: plain[one[0]], name)
