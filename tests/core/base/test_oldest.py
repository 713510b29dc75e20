"""Files that are kept as long as there is room: those used longest ago go, with all that belongs to them."""

import os

import pytest

from yarnkite.core.base.oldest import forget_oldest


@pytest.fixture
def kept(tmp_path):
    """Four files of ten bytes, used one after another, the second with a note of five bytes beside it."""
    for age, name in enumerate(["d", "c", "b", "a"]):
        (tmp_path / f"{name}.mp4").write_bytes(bytes(10))
        os.utime(tmp_path / f"{name}.mp4", (1000 - age, 1000 - age))
    (tmp_path / "c.note").write_bytes(bytes(5))
    (tmp_path / "other.txt").write_bytes(bytes(100))
    return tmp_path


@pytest.mark.parametrize(
    ("room", "left"),
    [(45, ["a", "b", "c", "d"]), (44, ["b", "c", "d"]), (25, ["c", "d"]), (24, ["d"]), (10, ["d"]), (0, [])],
)
def test_the_oldest_go_until_the_rest_has_room(kept, room, left):
    forget_oldest(kept, "*.mp4", room, (".note",))
    assert sorted(path.stem for path in kept.glob("*.mp4")) == left
    assert (kept / "c.note").exists() == ("c" in left)
    assert (kept / "other.txt").exists()


def test_a_folder_that_is_not_there_has_nothing_to_forget(tmp_path):
    forget_oldest(tmp_path / "gone", "*", 0)
