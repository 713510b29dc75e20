"""Which rate a file has, from when its frames are shown."""

from fractions import Fraction

import pytest

from yarnkite.core.encode.probe import _Times


@pytest.mark.parametrize("rate", [Fraction(25), Fraction(30_000, 1001), Fraction(24_000, 1001), Fraction(60)])
@pytest.mark.parametrize("tick", [Fraction(1, 1000), Fraction(1, 90_000)])
def test_a_rate_is_read_from_when_frames_are_shown(rate, tick):
    def read(moments, wanted=rate):
        times = _Times(tick, wanted)
        for at in moments:
            times.add(at)
        return times.rate(0)

    planned = [round(number / rate / tick) + 7 for number in range(300)]
    assert read(planned) == rate
    late = [*planned[:200], *(at + 2 for at in planned[200:])]
    assert read(late) == 0
    assert read([*planned[:200], None, *planned[201:]]) == 0
    # Frames at an even pace that is not the planned one say their own.
    slower = [round(1 / tick / 20) * number for number in range(50)]
    assert read(slower) == 1 / (round(1 / tick / 20) * tick)


def test_the_rate_of_one_frame_is_how_long_it_is_said_to_last():
    times = _Times(Fraction(1, 1000), Fraction(25))
    times.add(0)
    assert times.frames == 1
    assert times.rate(50) == 20
    assert times.rate(0) == 25
