"""Giving a file another name without ever replacing one that has it already."""

import ctypes
import errno
import os
from pathlib import Path

_AT_FDCWD = -100
_NOREPLACE = 1
# The system, or the file system the folder lies on, has no such call.
_CANNOT = (errno.ENOSYS, errno.EINVAL, errno.ENOTSUP)


def rename_exclusively(source: Path, target: Path) -> None:
    """Rename a file; raises ``FileExistsError`` if there is one of the new name, also one that came a moment ago.

    Uses ``renameat2`` (Linux) with RENAME_NOREPLACE. Where there is none, a second name is made first, which fails on a
    taken one alike, and only where that cannot be either, the new name is looked for before.
    """
    try:
        _rename_noreplace(source, target)
    except OSError as error:
        if error.errno not in _CANNOT:
            raise
        _by_link(source, target)


def _rename_noreplace(source: Path, target: Path) -> None:
    call = getattr(ctypes.CDLL(None, use_errno=True), "renameat2", None)
    if call is None:
        raise OSError(errno.ENOSYS, os.strerror(errno.ENOSYS))
    if call(_AT_FDCWD, os.fsencode(source), _AT_FDCWD, os.fsencode(target), _NOREPLACE) != 0:
        number = ctypes.get_errno()
        raise OSError(number, os.strerror(number), str(source), None, str(target))


def _by_link(source: Path, target: Path) -> None:
    try:
        os.link(source, target, follow_symlinks=False)
    except FileExistsError:
        raise
    except OSError:
        if os.path.lexists(target):
            raise FileExistsError(errno.EEXIST, os.strerror(errno.EEXIST), str(target)) from None
        source.rename(target)
    else:
        source.unlink()
