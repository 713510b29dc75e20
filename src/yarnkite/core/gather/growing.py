"""Files that are still being written: which of a folder's new files are whole and may be taken."""

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.gather.locations import FoundFile

# How long size and time of a file must stay as they are, in seconds.
REST_S = 1.0
# A file that has its end mark is whole as soon as it rests for a moment.
ENDED_REST_S = 0.2
# One that never gets its end mark is given to the reader after so long, which says what is wrong with it.
GIVEN_UP_S = 20.0
# One that was changed so long ago is not being written now.
_OLD_S = 60.0
_TAIL_BYTES = 4096

# How a file begins, and how it ends: JPEG's end of image (ITU-T T.81, B.1.1.3), PNG's last chunk (ISO/IEC 15948, 5.6).
_JPEG, _JPEG_END = b"\xff\xd8\xff", b"\xff\xd9"
_PNG, _PNG_END = b"\x89PNG\r\n\x1a\n", b"IEND\xaeB`\x82"


@dataclass
class _Seen:
    bytes: int
    modified_ns: int
    since: float


class Growth:
    """Watches the files of one folder rest; times are seconds on any one clock that never goes back."""

    def __init__(self) -> None:
        self._seen: dict[str, _Seen] = {}

    def whole(self, folder: Path, files: Iterable[FoundFile], now: float, wall_ns: int) -> list[FoundFile]:
        """Return those of some new files that are whole.

        Parameters
        ----------
        folder : where the files lie
        files : as they are now
        now, wall_ns : this moment on the steady clock, in seconds, and on the clock that file times are of
        """
        listed = list(files)
        self._seen = {file.name: self._as_now(file, now) for file in listed}
        return [file for file in listed if self._is_whole(folder / file.name, file, now, wall_ns)]

    def wait_s(self, now: float) -> float | None:
        """Return how long the next file to rest still needs, in seconds; ``None`` where no file is waited for."""
        if not self._seen:
            return None
        return max(0.05, min(ENDED_REST_S, *(seen.since + REST_S - now for seen in self._seen.values())))

    def _as_now(self, file: FoundFile, now: float) -> _Seen:
        before = self._seen.get(file.name)
        if before is not None and (before.bytes, before.modified_ns) == (file.bytes, file.modified_ns):
            return before
        return _Seen(file.bytes, file.modified_ns, now)

    def _is_whole(self, path: Path, file: FoundFile, now: float, wall_ns: int) -> bool:
        rested = now - self._seen[file.name].since
        old = wall_ns - file.modified_ns > _OLD_S * 1e9
        if file.bytes == 0 or not (old or rested >= ENDED_REST_S):
            return old and file.bytes > 0
        ended = has_end(path)
        if ended is None:
            return old or rested >= REST_S
        return ended or old or rested >= GIVEN_UP_S


def has_end(path: Path) -> bool | None:
    """Tell whether a file has the end its kind must have; ``None`` for kinds without one, and files that cannot be
    read."""
    try:
        with path.open("rb") as file:
            head = file.read(8)
            file.seek(0, 2)
            file.seek(max(0, file.tell() - _TAIL_BYTES))
            tail = file.read()
    except OSError:
        return None
    if head.startswith(_JPEG):
        # Some cameras write filling bytes after the end.
        return _JPEG_END in tail
    if head == _PNG:
        return tail.endswith(_PNG_END)
    return None
