"""Stills are released when they are due, none twice, and what is missing is said."""

import time

from hypothesis import given
from hypothesis import strategies as st

from tests.camera.conftest import fault, released
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
    assert shooting.is_over.wait(count * interval_s + 30)
    happened = []
    while not shooting.happened.empty():
        happened.append(shooting.happened.get())
    return beats, happened


def test_a_thousand_stills_are_released_when_they_are_due_and_nothing_drifts(process, tmp_path):
    beats, happened = shoot(process, tmp_path, 0.025, 1000)
    taken = [one for one in happened if isinstance(one, TakenStill)]
    missed = [beat for one in happened if isinstance(one, MissedBeats) for beat in range(one.first, one.last + 1)]
    assert sorted([*(one.beat for one in taken), *missed]) == list(range(1000))
    # What the camera itself noted, not what the program believes.
    opened = released(process)
    assert len(opened) == len(taken) == len(list(tmp_path.iterdir()))
    errors = [abs(at - beats.due(one.beat)) for at, one in zip(opened, taken, strict=True)]
    # The other tests of the suite fill the machine meanwhile; on one that has time, all are (bench/capture.py).
    assert sum(error <= 0.02 for error in errors) >= 970
    assert sorted(errors)[500] <= 0.004
    # Nothing drifts: the last are as near as the first.
    assert sorted(errors[-200:])[100] <= sorted(errors[:200])[100] + 0.005


def test_a_camera_that_goes_away_leaves_a_gap_and_takes_its_place_again(process, tmp_path):
    def meanwhile(shooting):
        time.sleep(0.8)
        fault(process, "away", 1.0)

    _, happened = shoot(process, tmp_path, 0.1, 40, meanwhile=meanwhile)
    away = [beat for one in happened if isinstance(one, MissedBeats) for beat in range(one.first, one.last + 1)]
    taken = [one.beat for one in happened if isinstance(one, TakenStill)]
    assert 5 <= len(away) <= 20
    assert sorted(away + taken) == list(range(40))
    assert max(taken) == 39
    assert away == list(range(away[0], away[-1] + 1))
    assert {one.why for one in happened if isinstance(one, MissedBeats)} <= {"away", "failed"}


def test_a_slow_card_misses_beats_and_never_doubles_one(process, tmp_path):
    fault(process, "slow", 3)
    _, happened = shoot(process, tmp_path, 0.5, 12)
    taken = [one.beat for one in happened if isinstance(one, TakenStill)]
    missed = [beat for one in happened if isinstance(one, MissedBeats) for beat in range(one.first, one.last + 1)]
    assert missed
    assert sorted(taken + missed) == list(range(12))
    assert len(set(taken)) == len(taken) == len(released(process))


def test_pausing_leaves_beats_out_and_a_full_card_says_so(process, tmp_path):
    def meanwhile(shooting):
        shooting.pause(True)
        time.sleep(0.5)
        shooting.pause(False)
        fault(process, "full", 0.4)

    _, happened = shoot(process, tmp_path, 0.1, 20, meanwhile=meanwhile)
    whys = [one.why for one in happened if isinstance(one, MissedBeats)]
    assert "paused" in whys
    assert any("card is full" in one.sentence for one in happened if isinstance(one, MissedBeats))


def test_a_file_that_is_there_already_stays(process, tmp_path):
    (tmp_path / "still_000002.jpg").write_bytes(b"mine")
    _, happened = shoot(process, tmp_path, 0.1, 3)
    assert (tmp_path / "still_000002.jpg").read_bytes() == b"mine"
    assert [one.first for one in happened if isinstance(one, MissedBeats)] == [1]


@given(st.floats(0.02, 100), st.integers(-1, 5000), st.floats(0, 20000), st.floats(-1e6, 1e6))
def test_the_next_beat_is_a_later_one_that_is_not_over_and_none_is_left_out_needlessly(interval, last, later, start):
    beats = Beats(start, interval)
    now = beats.due(last) + later
    found = beats.next_after(last, now)
    assert found > last
    assert now <= beats.due(found) + beats.grace_s
    if found > last + 1:
        assert now > beats.due(found - 1) + beats.grace_s - 1e-6 * max(1, abs(start))
