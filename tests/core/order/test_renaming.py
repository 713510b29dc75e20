"""New names: complete, collision-free or marked, and files moved whole."""

import tempfile
from datetime import datetime
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.counter import numbering
from yarnkite.core.base.errors import Refusal
from yarnkite.core.order.renaming import (
    DEFAULT,
    FileMove,
    Named,
    PatternPart,
    RenameLine,
    moves,
    park,
    place,
    renaming,
    unpark,
    unplace,
)

COUNTER = PatternPart(kind="counter")
SHOT, UNDERSCORE = PatternPart(kind="shot"), PatternPart(kind="text", text="_")


def named(names):
    return [Named(name, datetime(2031, 9, 14, 15, 4, number % 60)) for number, name in enumerate(names)]


def planned(names, pattern, folder=None, shot="Reach"):
    return renaming(named(names), tuple(pattern), shot, numbering(names), folder if folder is not None else names)


def test_one_name_one_underscore_one_number_with_enough_digits_and_start_1():
    names = [f"MRW_{number}.JPG" for number in range(7, 12)]
    assert [line.new for line in planned(names, DEFAULT)] == [f"Reach_{n:04}.JPG" for n in range(1, 6)]
    assert planned(names, DEFAULT, shot="Pellow Reach")[0].new == "Pellow-Reach_0001.JPG"
    many = planned([f"{n}.jpg" for n in range(10_001)], DEFAULT)
    assert (many[0].new, many[-1].new) == ("Reach_00001.jpg", "Reach_10001.jpg")
    stepped = planned(names, [PatternPart(kind="counter", start=10, step=5, digits=3)])
    assert [line.new for line in stepped] == ["010.JPG", "015.JPG", "020.JPG", "025.JPG", "030.JPG"]


def test_every_part_says_what_it_says():
    pattern = [PatternPart(kind=kind) for kind in ("date", "time", "name", "number")]
    (line,) = planned(["day/MRW_0042.JPG"], pattern)
    assert line.new == "day/2031-09-14150400MRW_00420042.JPG"
    assert "groups of digits" in line.warning


def test_sidecars_and_the_other_kind_of_a_still_follow_it():
    there = [
        "a/MRW_1.JPG",
        "a/MRW_1.DNG",
        "a/MRW_1.xmp",
        "a/MRW_1.JPG.xmp",
        "b/MRW_1.xmp",
        "a/MRW_10.xmp",
        "a/MRW_2.JPG",
    ]
    lines = planned(["a/MRW_1.JPG", "a/MRW_2.JPG"], DEFAULT, there)
    assert {line.old: line.new for line in lines} == {
        "a/MRW_1.JPG": "a/Reach_0001.JPG",
        "a/MRW_1.DNG": "a/Reach_0001.DNG",
        "a/MRW_1.xmp": "a/Reach_0001.xmp",
        "a/MRW_1.JPG.xmp": "a/Reach_0001.JPG.xmp",
        "a/MRW_2.JPG": "a/Reach_0002.JPG",
    }
    assert not any(line.problem for line in lines)


@pytest.mark.parametrize(
    ("names", "pattern", "there", "problem"),
    [
        (["1.jpg", "2.jpg"], [SHOT], None, "same name"),
        (["1.jpg", "2.JPG"], [SHOT], None, "same name"),
        (["1.jpg"], [SHOT, UNDERSCORE, COUNTER], ["1.jpg", "reach_0001.JPG"], "in the folder already"),
        (["1.jpg"], [PatternPart(kind="text", text="a/b")], None, "refuse “/”"),
        (["1.jpg"], [PatternPart(kind="text", text="what?")], None, "refuse “?”"),
        (["1.jpg"], [PatternPart(kind="text", text="CON")], None, "keep for themselves"),
        (["1.jpg"], [PatternPart(kind="text", text="..")], None, "gets lost"),
        (
            ["1.jpg"],
            [PatternPart(kind="text", text="ü" * 120), PatternPart(kind="text", text="ü" * 120)],
            None,
            "longer than 255",
        ),
        (["1.jpg"], [], None, "is empty"),
        (["1"], [SHOT], None, "no ending"),
    ],
)
def test_what_could_go_wrong_is_marked_before_it_happens(names, pattern, there, problem):
    lines = planned(names, pattern, there)
    assert any(problem in line.problem for line in lines)
    with pytest.raises(Refusal, match="cannot become"):
        moves(lines, 1)


file_names = st.from_regex(r"[a-cA-C]{1,2}[0-9]{0,2}\.(jpg|JPG|xmp)", fullmatch=True)
patterns = st.lists(
    st.one_of(
        st.builds(PatternPart, kind=st.sampled_from(["shot", "name", "number", "date"])),
        st.builds(PatternPart, kind=st.just("text"), text=st.sampled_from(["a", "b1", "_", "", "C2"])),
        st.builds(
            PatternPart,
            kind=st.just("counter"),
            start=st.integers(0, 3),
            step=st.integers(1, 2),
            digits=st.integers(0, 2),
        ),
    ),
    max_size=4,
)


@given(
    names=st.lists(file_names, min_size=1, max_size=9, unique=True),
    pattern=patterns,
    left=st.integers(0, 8),
    random=st.randoms(),
)
def test_a_plan_never_overwrites_and_undoing_it_is_the_identity(names, pattern, left, random):
    random.shuffle(names)
    stills = names[: max(1, len(names) - left)]
    lines = planned(stills, pattern, names, "a")
    with tempfile.TemporaryDirectory() as directory:
        folder = Path(directory)
        for name in names:
            (folder / name).write_text(f"was {name}")
        before = contents(folder)
        try:
            todo = moves(lines, 7)
        except Refusal:
            assert any(line.problem for line in lines)
            return
        park(folder, todo)
        place(folder, todo)
        after = contents(folder)
        renamed = {line.old: line.new for line in lines}
        assert after == {renamed.get(name, name): text for name, text in before.items()}
        back = moves([RenameLine(line.new, line.old) for line in lines], 8)
        park(folder, back)
        place(folder, back)
        assert contents(folder) == before


def contents(folder: Path) -> dict[str, str]:
    return {path.name: path.read_text() for path in folder.iterdir()}


def test_a_swap_broken_off_anywhere_can_be_taken_back(tmp_path):
    todo = moves([RenameLine("a.jpg", "b.jpg"), RenameLine("b.jpg", "c.jpg"), RenameLine("c.jpg", "a.jpg")], 1)
    for reached in range(7):
        folder = tmp_path / str(reached)
        folder.mkdir()
        for name in ("a.jpg", "b.jpg", "c.jpg"):
            (folder / name).write_text(name)
        before = contents(folder)
        park(folder, todo[: min(reached, 3)])
        if reached > 3:
            place(folder, todo[: reached - 3])
            unplace(folder, todo)
        unpark(folder, todo)
        assert contents(folder) == before


def test_a_file_that_appears_meanwhile_is_not_overwritten(tmp_path):
    (tmp_path / "a.jpg").write_text("a")
    todo = [FileMove("a.jpg", ".parked", "b.jpg")]
    park(tmp_path, todo)
    (tmp_path / "b.jpg").write_text("somebody else's")
    with pytest.raises(Refusal, match="in the folder already"):
        place(tmp_path, todo)
    assert (tmp_path / "b.jpg").read_text() == "somebody else's"
    unpark(tmp_path, todo)
    assert (tmp_path / "a.jpg").read_text() == "a"
