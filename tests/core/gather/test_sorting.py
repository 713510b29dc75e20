"""Sorting out: pairs and strangers in a folder, and stills that belong to no or another shot."""

from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import write_jpeg
from yarnkite.core.base.counter import numbering
from yarnkite.core.gather.locations import files_below
from yarnkite.core.gather.proposals import StillFacts, propose
from yarnkite.core.gather.sorting import sort_out
from yarnkite.demo.dng import write_dng

BEGINS = datetime(2031, 5, 4, 9, 30)


def shot(
    count: int, *, first: int = 1, begins: datetime = BEGINS, interval_s: float = 4, camera: str = "L3"
) -> list[StillFacts]:
    """Stills as one camera takes them, a few hundredths late now and then."""
    return [
        StillFacts(
            id=first * 10_000 + n,
            name=f"LNTN{first + n:04}.JPG",
            captured=begins + timedelta(seconds=interval_s * n + n * 37 % 5 / 50),
            width=6000,
            height=4000,
            camera=camera,
            software="Lantern 1.2",
            fingerprint=f"{camera}-{first + n}-{begins}",
        )
        for n in range(count)
    ]


def proposals(stills: list[StillFacts], kept=()):
    return propose(stills, numbering([still.name for still in stills]), kept)


def test_a_raw_file_and_its_jpeg_are_one_exposure(tmp_path):
    write_jpeg(tmp_path / "A_1.JPG")
    write_dng(tmp_path / "a_1.dng", np.zeros((64, 64, 3), np.uint8), "Marrow Lantern", BEGINS)
    write_dng(tmp_path / "A_2.dng", np.zeros((64, 64, 3), np.uint8), "Marrow Lantern", BEGINS)
    write_jpeg(tmp_path / "other" / "A_2.JPG")
    found = list(files_below(tmp_path, tmp_path))
    for raws, used, beside in ((False, "A_1.JPG", "a_1.dng"), (True, "a_1.dng", "A_1.JPG")):
        stills, left_out = sort_out(tmp_path, found, raws=raws)
        assert {still.name for still in stills} == {used, "A_2.dng", "other/A_2.JPG"}
        assert [(file.name, file.kind) for file in left_out] == [(beside, "pair")]
        assert used in left_out[0].reason


def test_what_a_file_is_known_to_be_is_not_looked_up_in_it(tmp_path):
    write_jpeg(tmp_path / "A_1.JPG")
    (tmp_path / "A_2.JPG").write_bytes(b"written over meanwhile")
    (tmp_path / "A_2.dng").write_bytes(b"a raw file that nobody opens")
    (tmp_path / "A_2.xmp").write_text("<settings/>")
    found = list(files_below(tmp_path, tmp_path))
    stills, left_out = sort_out(tmp_path, found, known={"A_2.JPG": "JPEG", "A_2.dng": "RAW"})
    assert sorted(still.name for still in stills) == ["A_1.JPG", "A_2.JPG"]
    assert sorted((file.name, file.kind) for file in left_out) == [("A_2.dng", "pair"), ("A_2.xmp", "sidecar")]
    stills, _ = sort_out(tmp_path, found)
    assert [still.name for still in stills] == ["A_1.JPG"]


def test_a_plain_shot_is_left_whole():
    assert proposals(shot(300)) == []
    assert proposals(shot(2)) == []
    assert proposals([]) == []


@given(st.data())
def test_a_few_stills_off_the_beat_do_not_split(data):
    stills = shot(120)
    late = data.draw(st.lists(st.integers(1, 119), max_size=6))
    slow = data.draw(st.floats(1.2, 3.5))
    shifted = timedelta()
    result = []
    for number, still in enumerate(stills):
        shifted += timedelta(seconds=4 * (slow - 1)) * late.count(number)
        result.append(replace(still, captured=still.captured + shifted))
    lost = data.draw(st.sets(st.integers(1, 118), max_size=4))
    assert proposals([still for number, still in enumerate(result) if number not in lost]) == []


def test_a_test_shot_long_before_the_rest_is_set_aside():
    stills = [*shot(1, begins=BEGINS - timedelta(minutes=9)), *shot(200, first=2)]
    (one,) = proposals(stills)
    assert (one.kind, one.action, one.stills) == ("test shot", "set aside", (stills[0].id,))
    assert "8 min 56 s" in one.sentence or "9 min 00 s" in one.sentence


def test_bursts_after_pauses_become_shots_the_longest_stays():
    early = shot(60)
    late = shot(150, first=61, begins=BEGINS + timedelta(minutes=40))
    last = shot(30, first=211, begins=BEGINS + timedelta(hours=3))
    found = proposals([*early, *late, *last])
    assert [(one.kind, one.action, len(one.stills)) for one in found] == [
        ("another burst", "own shot", 60),
        ("another burst", "own shot", 30),
    ]
    assert found[0].stills == tuple(still.id for still in early)


def test_another_interval_is_another_shot():
    slow = shot(90, first=121, begins=BEGINS + timedelta(seconds=490), interval_s=12)
    (one,) = proposals([*shot(120), *slow])
    assert one.stills == tuple(still.id for still in slow)


def test_a_clock_that_was_set_does_not_split():
    for jump in (timedelta(hours=1), timedelta(days=11_000)):
        assert proposals([*shot(50), *shot(50, first=51, begins=BEGINS + timedelta(seconds=200) + jump)]) == []


def test_lost_numbers_take_their_time_without_splitting():
    assert proposals([*shot(50), *shot(50, first=81, begins=BEGINS + timedelta(seconds=320))]) == []


def test_an_edited_copy_is_found_by_its_moment_and_its_maker():
    stills = shot(100)
    edited = replace(
        stills[40], id=7, name="LNTN0041-edit.JPG", software="Darkshed 4", width=3000, height=2000, fingerprint="e"
    )
    (one,) = proposals([*stills[:41], edited, *stills[41:]])
    assert (one.kind, one.action, one.stills) == ("edited copy", "set aside", (7,))
    assert "LNTN0041.JPG" in one.sentence


def test_equal_times_in_a_burst_are_no_copies():
    stills = [replace(still, captured=BEGINS + timedelta(seconds=n // 3)) for n, still in enumerate(shot(90))]
    assert proposals(stills) == []


def test_a_second_camera_and_upright_stills_are_shots_of_their_own_or_set_aside():
    other = [replace(still, name=f"X{still.name}", id=still.id + 5) for still in shot(40, camera="L9", interval_s=5)]
    upright = [
        replace(still, id=still.id + 9, width=4000, height=6000)
        for still in shot(3, first=900, begins=BEGINS + timedelta(seconds=400))
    ]
    found = proposals(sorted([*shot(100), *other, *upright], key=lambda still: still.captured))
    assert [(one.kind, one.action, len(one.stills)) for one in found] == [
        ("another camera", "own shot", 40),
        ("another shape", "set aside", 3),
    ]
    assert "upright" in found[1].sentence


def test_the_same_picture_under_two_names_is_set_aside_once():
    stills = shot(50)
    again = replace(stills[10], id=3, name="LNTN0011 (2).JPG")
    (one,) = proposals([*stills, again])
    assert (one.kind, one.stills) == ("same picture", (3,))


def test_what_was_turned_down_is_not_proposed_again():
    stills = [*shot(1, begins=BEGINS - timedelta(minutes=9)), *shot(200, first=2)]
    (one,) = proposals(stills)
    assert proposals(stills, kept=[one.key]) == []


@given(st.permutations(range(5)))
def test_no_still_is_proposed_twice(order):
    parts = [
        shot(30),
        shot(12, camera="L9", begins=BEGINS + timedelta(hours=2)),
        [replace(still, width=100) for still in shot(9, first=300, begins=BEGINS + timedelta(hours=5))],
        shot(2, first=700, begins=BEGINS + timedelta(hours=9)),
        shot(30)[:4],
    ]
    stills = [replace(still, id=index + 1) for index, still in enumerate(s for n in order for s in parts[n])]
    taken = [still for one in proposals(stills) for still in one.stills]
    assert len(taken) == len(set(taken)) < len(stills)
