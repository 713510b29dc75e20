"""Small disks of tests' own; only who administers this machine can have one."""

import shutil
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import pytest


@contextmanager
def small_disk(disk: Path, megabytes: int) -> Iterator[Path]:
    """Put a disk of a size at a place for as long as it is wanted."""
    disk.mkdir(exist_ok=True)
    mount = ["mount", "-t", "tmpfs", "-o", f"size={megabytes}m", "tmpfs", str(disk)]
    if subprocess.run(mount, capture_output=True).returncode:
        pytest.skip("no disk can be made here")
    try:
        yield disk
    finally:
        subprocess.run(["umount", "-l", str(disk)], check=True)


def fill(disk: Path, left: int) -> None:
    """Leave so many bytes free on a disk."""
    with (disk / "filled").open("ab", buffering=0) as file, suppress(OSError):
        while (free := shutil.disk_usage(disk).free) > left:
            file.write(bytes(min(1 << 20, free - left)))
