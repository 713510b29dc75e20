"""Disks, cards and shares that are mounted on this machine, where a person may have stills.

Source: proc_pid_mountinfo(5).
"""

import re
from dataclasses import dataclass
from pathlib import Path

# File systems that hold no files of a person, by their names.
_NOT_FILES = frozenset(
    "autofs binfmt_misc bpf cgroup cgroup2 configfs debugfs devpts devtmpfs efivarfs fusectl hugetlbfs mqueue nsfs "
    "overlay proc pstore ramfs rootfs rpc_pipefs securityfs squashfs sysfs tmpfs tracefs fuse.gvfsd-fuse "
    "fuse.portal fuse.lxcfs fuse.snapfuse".split()
)
# Parts of the system itself; below `/run` only what is mounted for a person.
_SYSTEM = ("/boot", "/dev", "/efi", "/etc", "/proc", "/run", "/snap", "/sys", "/usr", "/var")
_FOR_A_PERSON = ("/run/media", "/run/user")
_ESCAPED = re.compile(r"\\([0-7]{3})")


@dataclass(frozen=True)
class Disk:
    """Something mounted: the name people know it by, and where."""

    name: str
    folder: Path


def disks_in(mounts: str) -> tuple[Disk, ...]:
    """Return the disks a mount table names, in its order; what is mounted over another one counts alone."""
    found: dict[Path, Disk | None] = {}
    for line in mounts.splitlines():
        fields, _, after = line.partition(" - ")
        parts, kind = fields.split(" "), after.split(" ")[0]
        if len(parts) < 5 or not kind:
            continue
        folder = Path(_ESCAPED.sub(lambda octal: chr(int(octal[1], 8)), parts[4]))
        found.pop(folder, None)
        found[folder] = Disk(folder.name, folder) if kind not in _NOT_FILES and _is_a_persons(str(folder)) else None
    return tuple(disk for disk in found.values() if disk is not None)


def _is_a_persons(folder: str) -> bool:
    if folder == "/" or (folder.startswith("/home") and folder.count("/") == 1):
        return False
    return _is_below(folder, _FOR_A_PERSON) or not _is_below(folder, _SYSTEM)


def _is_below(folder: str, tops: tuple[str, ...]) -> bool:
    return any(folder == top or folder.startswith(top + "/") for top in tops)
