"""Stills are released when they are due, none twice, and what is missing is said."""

import time

from hypothesis import given
from hypothesis import strategies as st

from tests.camera.conftest import fault, released
from tests.patience import SLOWNESS, wait_until
from yarnkite.camera.shooting import MissedBeats, Orders, Shooting, TakenStill
from yarnkite.camera.simulated import SimulatedCamera
from yarnkite.camera.timing import Beats


def shoot(process, folder, interval_s, count, *, meanwhile=None, first=0):
    """Shoot and return the beats' grid and what happened."""
    camera = SimulatedCamera(process.address())
    beats = Beats(time.monotonic() + 0.3, interval_s)
    orders = Orders(folder, "still", beats, first, first + count - 1, None, None)
    shooting = Shooting(lambda: camera, lambda: None, orders)
    shooting.start()
    if meanwhile is not None:
        meanwhile(shooting)
    wait_until(shooting.is_over.is_set, shooting.happened.qsize)
    happened = []
    while not shooting.happened.empty():
        happened.append(shooting.happened.get())
    return beats, happened


def test_many_stills_are_released_when_they_are_due_and_nothing_drifts(process, tmp_path):
    beats, happened = shoot(process, tmp_path, 0.025, 240)
    taken = [one for one in happened if isinstance(one, TakenStill)]
    missed = [beat for one in happened if isinstance(one, MissedBeats) for beat in range(one.first, one.last + 1)]
    assert sorted([*(one.beat for one in taken), *missed]) == list(range(240))
    # What the camera itself noted, not what the program believes.
    opened = released(process)
    assert len(opened) == len(taken) == len(list(tmp_path.iterdir()))
    errors = [abs(at - beats.due(one.beat)) for at, one in zip(opened, taken, strict=True)]
    # How late each is depends on what else the machine does (bench/capture.py measures that); that a release is never
    # early does not, and of any thirty in a row one at least comes to its turn at once, the last as well as the first.
    assert all(at >= beats.due(one.beat) - 0.001 for at, one in zip(opened, taken, strict=True))
    assert max(min(errors[first : first + 30]) for first in range(len(errors) - 29)) <= 0.004 * SLOWNESS
    assert all(one.late_s <= error + 0.001 for one, error in zip(taken, errors, strict=True))


def test_a_camera_that_goes_away_leaves_a_gap_and_takes_its_place_again(process, tmp_path):
    def meanwhile(shooting):
        until_more_happened(shooting)
        fault(process, "away", 1.0)

    _, happened = shoot(process, tmp_path, 0.1, 40, meanwhile=meanwhile)
    gaps = [one for one in happened if isinstance(one, MissedBeats)]
    missed = [beat for one in gaps for beat in range(one.first, one.last + 1)]
    taken = [one.beat for one in happened if isinstance(one, TakenStill)]
    assert sorted(missed + taken) == list(range(40))
    assert {one.why for one in gaps} <= {"away", "failed"}
    away = [beat for one in gaps if one.why == "away" for beat in range(one.first, one.last + 1)]
    assert len(missed) >= 5
    assert min(taken) < away[0]
    assert max(taken) > away[-1]
    assert not set(taken) & set(range(away[0], away[-1] + 1))


def test_a_slow_card_misses_beats_and_never_doubles_one(process, tmp_path):
    fault(process, "slow", 3)
    _, happened = shoot(process, tmp_path, 0.25, 12)
    taken = [one.beat for one in happened if isinstance(one, TakenStill)]
    missed = [beat for one in happened if isinstance(one, MissedBeats) for beat in range(one.first, one.last + 1)]
    assert missed
    assert sorted(taken + missed) == list(range(12))
    assert len(set(taken)) == len(taken) == len(released(process))


def test_pausing_leaves_beats_out_and_a_full_card_says_so(process, tmp_path):
    def meanwhile(shooting):
        shooting.pause(True)
        until_more_happened(shooting)
        shooting.pause(False)
        fault(process, "full")
        until_more_happened(shooting)
        fault(process, "none")

    _, happened = shoot(process, tmp_path, 0.1, 40, meanwhile=meanwhile)
    missed = [one for one in happened if isinstance(one, MissedBeats)]
    assert "Left out on wish." in {one.sentence for one in missed if one.why == "paused"}
    assert any("card is full" in one.sentence for one in missed)


def until_more_happened(shooting):
    """Wait until what was just said is seen to have taken effect: the beat under way may still be as it was before."""
    before = shooting.happened.qsize()
    wait_until(lambda: shooting.happened.qsize() >= before + 2)


def test_a_file_that_is_there_already_stays(process, tmp_path):
    (tmp_path / "still_000002.jpg").write_bytes(b"mine")
    _, happened = shoot(process, tmp_path, 0.1, 3)
    assert (tmp_path / "still_000002.jpg").read_bytes() == b"mine"
    assert 1 in [one.first for one in happened if isinstance(one, MissedBeats)]
    assert 1 not in [one.beat for one in happened if isinstance(one, TakenStill)]


@given(st.floats(0.02, 100), st.integers(-1, 5000), st.floats(0, 20000), st.floats(-1e6, 1e6))
def test_the_next_beat_is_a_later_one_that_is_not_over_and_none_is_left_out_needlessly(interval, last, later, start):
    beats = Beats(start, interval)
    now = beats.due(last) + later
    found = beats.next_after(last, now)
    assert found > last
    assert now <= beats.due(found) + beats.grace_s
    if found > last + 1:
        assert now > beats.due(found - 1) + beats.grace_s - 1e-6 * max(1, abs(start))
