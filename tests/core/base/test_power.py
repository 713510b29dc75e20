"""What is on the disk when the power goes: only bytes and names that were synced, as on a disk that keeps no more."""

import os
from pathlib import Path

import pytest

from tests.conftest import write_jpeg
from yarnkite.core.base.atomic import completed, remove_unfinished, sync_folders, write_completed
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.order.renaming import FileMove, park, place, sync


class Disk:
    """Notes what is synced: the bytes of files by their inodes, and the names in folders."""

    def __init__(self) -> None:
        self.bytes: dict[int, bytes] = {}
        self.names: dict[Path, dict[str, int]] = {}

    def fsync(self, descriptor: int) -> None:
        path, status = Path(f"/proc/self/fd/{descriptor}").readlink(), os.fstat(descriptor)
        if path.is_dir():
            self.names[path] = {one.name: one.stat().st_ino for one in path.iterdir()}
        else:
            self.bytes[status.st_ino] = path.read_bytes()

    def after_power(self, folder: Path) -> dict[str, bytes]:
        """What a folder holds when the power comes back: names that were synced, with bytes that were."""
        return {name: self.bytes.get(inode, b"") for name, inode in self.names.get(folder, {}).items()}


@pytest.fixture
def disk(monkeypatch):
    disk = Disk()
    monkeypatch.setattr(os, "fsync", disk.fsync)
    return disk


def contents(folder):
    return {path.name: path.read_bytes() for path in folder.iterdir()}


def test_without_syncing_nothing_is_kept(disk, tmp_path):
    write_completed(tmp_path / "a", b"one")
    assert disk.after_power(tmp_path) == {}


def test_what_is_written_to_last_is_there_with_its_name_and_its_bytes(disk, tmp_path):
    write_completed(tmp_path / "a", b"one", durable=True)
    assert disk.after_power(tmp_path) == {"a": b"one"}
    write_completed(tmp_path / "a", b"another", durable=True)
    assert disk.after_power(tmp_path) == {"a": b"another"}
    with pytest.raises(ZeroDivisionError), completed(tmp_path / "b", durable=True) as unfinished:
        unfinished.write_bytes(b"half" * (1 // 0))
    assert disk.after_power(tmp_path) == {"a": b"another"}


def test_a_copied_still_is_on_the_disk_before_it_is_a_still(disk, tmp_path):
    original = write_jpeg(tmp_path / "card" / "MRW_1.jpg", 1)
    gather_still(
        tmp_path / "card", "MRW_1.jpg", Proxies(tmp_path / "proxies"), tmp_path / "copies", copy_as="shot_1.jpg"
    )
    assert disk.after_power(tmp_path / "copies") == {"shot_1.jpg": original.read_bytes()}


def test_files_are_under_their_new_names_before_a_rename_is_said_to_be_done(disk, tmp_path):
    (tmp_path / "inner").mkdir()
    todo = [
        FileMove(f"{folder}{n}", f"{folder}.p{n}", f"{folder}new{n}") for folder in ("", "inner/") for n in range(3)
    ]
    for move in todo:
        write_completed(tmp_path / move.old, move.old.encode(), durable=True)
    for step in (park, place):
        before = [disk.after_power(one) for one in (tmp_path / "inner",)]
        step(tmp_path, todo)
        assert [disk.after_power(one) for one in (tmp_path / "inner",)] == before
        sync(tmp_path, todo)
        assert disk.after_power(tmp_path / "inner") == contents(tmp_path / "inner")
    assert set(disk.after_power(tmp_path)) == {"inner", "new0", "new1", "new2"}


def test_a_folder_of_another_machine_that_cannot_be_synced_stops_nothing(tmp_path, monkeypatch):
    def refuse(_):
        raise OSError(22, "Invalid argument")

    monkeypatch.setattr(os, "fsync", refuse)
    sync_folders([tmp_path])


def test_what_a_killed_process_left_unfinished_is_cleared_away_and_nothing_else(tmp_path):
    (tmp_path / "inner").mkdir()
    ours = ["a.jpg.4711.part", "inner/b.jpg.12.part"]
    theirs = ["c.jpg.4711.part", "a.jpg.part", "a.jpg", "notes.part", "a.jpg.x.part"]
    for name in (*ours, *theirs):
        (tmp_path / name).write_bytes(b"half")
    remove_unfinished(tmp_path, {"a.jpg", "inner/b.jpg"})
    left = sorted(path.relative_to(tmp_path).as_posix() for path in tmp_path.rglob("*") if path.is_file())
    assert left == sorted(theirs)
