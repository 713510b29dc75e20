"""Files that are kept as long as there is room for them: those used longest ago go first."""

from collections.abc import Sequence
from pathlib import Path


def forget_oldest(folder: Path, pattern: str, most_bytes: int, beside: Sequence[str] = ()) -> None:
    """Remove the files used longest ago until those left take no more than ``most_bytes``.

    ``beside`` are the endings of what goes with each.
    """
    kept = 0
    for file in sorted(folder.glob(pattern), key=lambda path: path.stat().st_mtime, reverse=True):
        every = [file, *(one for ending in beside if (one := file.with_suffix(ending)).exists())]
        kept += sum(one.stat().st_size for one in every)
        if kept > most_bytes:
            for one in every:
                one.unlink(missing_ok=True)
