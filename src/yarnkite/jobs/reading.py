"""Reading of a still, in a worker, what a clip of a folder is made by; no pixel is decoded."""

from pathlib import Path

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.frozen import digest
from yarnkite.core.base.safe_open import OpenedFile, safe_open
from yarnkite.core.base.still import Still
from yarnkite.core.gather.locations import clock_of
from yarnkite.core.image.header import read_header
from yarnkite.core.order.breaks import Taken


def read_still_facts(folder: Path, name: str, *, compares: bool = False) -> tuple[Still, Taken]:
    """Read, in a worker, what tells a still from another and where in the order it belongs.

    ``compares`` has files that hold the same picture known by their bytes, all of which are read then; else a file is
    known by its path, size and times, and of most kinds no more than the beginning is read.
    Raises ``UnreadableStill``.
    """
    with safe_open(folder / name) as file:
        header = read_header(file.handle, file.path.name)
        told_by = file.fingerprint() if compares else _as_it_lies(file)
        file.check_unchanged()
        still = Still(
            path=str(folder / name),
            fingerprint=told_by,
            width=header.width,
            height=header.height,
            bytes=file.size,
            modified_ns=file.modified_ns,
        )
        captured = header.captured
        return still, Taken(name, universal_time(captured), clock_of(file.modified_ns), told_by)


def _as_it_lies(file: OpenedFile) -> str:
    """Return what stands for a file's bytes unless it is written to: who does can set the time of its change, but not
    that of its inode."""
    return digest("as it lies", file.path, file.size, file.modified_ns, file.changed_ns)
