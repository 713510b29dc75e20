"""Files that are there whole or not at all."""

import os
import stat

import pytest

from yarnkite.core.base.atomic import completed, remove_unfinished, write_completed, write_private
from yarnkite.core.base.errors import DiskFull


@pytest.fixture
def synced(monkeypatch):
    """What was handed to the disk, in order: files and folders."""
    found = []
    sync = os.fsync

    def noted(descriptor):
        found.append("folder" if stat.S_ISDIR(os.fstat(descriptor).st_mode) else "file")
        sync(descriptor)

    monkeypatch.setattr(os, "fsync", noted)
    return found


def test_a_private_file_is_its_owner_s_and_on_the_disk(tmp_path, synced):
    write_private(tmp_path / "new" / "key", "secret")
    assert (tmp_path / "new" / "key").read_text() == "secret"
    assert stat.S_IMODE((tmp_path / "new" / "key").stat().st_mode) == 0o600
    assert synced == ["file", "folder"]


def test_only_what_is_to_last_waits_for_the_disk(tmp_path, synced):
    write_completed(tmp_path / "a", b"a")
    assert synced == []
    write_completed(tmp_path / "a", b"b", durable=True)
    assert synced == ["file", "folder"]
    assert (tmp_path / "a").read_bytes() == b"b"


def break_off(target):
    with completed(target) as unfinished:
        unfinished.write_bytes(b"half")
        raise RuntimeError


def test_what_breaks_off_leaves_the_old_file_and_nothing_beside_it(tmp_path):
    write_completed(tmp_path / "a", b"old")
    with pytest.raises(RuntimeError):
        break_off(tmp_path / "a")
    assert (tmp_path / "a").read_bytes() == b"old"
    assert [path.name for path in tmp_path.iterdir()] == ["a"]


def test_a_file_is_never_replaced_where_that_is_asked_for(tmp_path):
    write_completed(tmp_path / "a", b"old")
    with pytest.raises(DiskFull, match=r"“a” cannot be written in .*: File exists"):
        write_completed(tmp_path / "a", b"new", exclusive=True)
    assert (tmp_path / "a").read_bytes() == b"old"


def test_a_time_of_change_is_given(tmp_path):
    write_completed(tmp_path / "a", b"a", modified_ns=1_900_000_000_123_456_789)
    assert (tmp_path / "a").stat().st_mtime_ns == 1_900_000_000_123_456_789


def test_only_what_was_left_of_the_files_that_are_named_is_removed(tmp_path):
    for name in ("a.jpg.123.part", "b.jpg.123.part", "a.jpg", "a.jpg.part", "sub/a.jpg.7.part"):
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).touch()
    remove_unfinished(tmp_path, ["a.jpg", "sub/a.jpg"])
    left = {path.relative_to(tmp_path).as_posix() for path in tmp_path.rglob("*") if path.is_file()}
    assert left == {"b.jpg.123.part", "a.jpg", "a.jpg.part"}
