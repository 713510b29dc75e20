"""Meeting a size: by one quality for all, from what a few chunks take."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode import aim
from yarnkite.core.encode.decisions import Aim, Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.render_plan import RenderPlan


def plan_of(frames=500, **wanted):
    return RenderPlan(frames, Fraction(25), Size(width=1920, height=1080), Encode(aim=Aim(**wanted)))


def tries(size, wanted, crf, most):
    """The sizes that are come by on the way to the wanted one."""
    tried = []
    while len(tried) < most:
        tried.append((crf, size(crf)))
        if aim.is_close(tried[-1][1], wanted):
            break
        crf = aim.next_quality(tried, wanted)
    return [one for _, one in tried]


@given(
    start=st.floats(8, 38),
    answer=st.floats(9, 37),
    slope=st.floats(3.5, 9),
    bend=st.floats(-0.02, 0.02),
)
def test_the_quality_that_meets_a_size_is_found_in_few_tries(start, answer, slope, bend):
    """Bytes fall with the number along a line in their logarithm that bends a little, as encoders' do."""

    def size(crf):
        return 2 ** (20 - (crf + bend * (crf - 20) ** 2) / slope)

    tried = tries(size, size(answer), start, most=6)
    assert abs(tried[-1] / size(answer) - 1) <= aim.WITHIN


@given(start=st.floats(12, 30), answer=st.floats(14, 26), cliff=st.floats(15, 22), height=st.floats(1, 2.5))
def test_it_is_found_too_where_an_encoder_gives_up_a_fine_pattern_all_at_once(start, answer, cliff, height):
    def size(crf):
        return 2 ** (20 - crf / 6) * height ** (1 / (1 + 2 ** (4 * (crf - cliff))))

    tried = tries(size, size(answer), start, most=8)
    assert min(abs(one / size(answer) - 1) for one in tried) <= aim.WITHIN


def test_what_a_few_chunks_take_says_what_all_do():
    weights = [10.0, 40.0, 20.0, 30.0, 100.0, 25.0, 15.0, 60.0, 50.0, 35.0]
    few = aim.sampled(weights)
    assert len(few) == 2
    assert aim.foreseen(weights, {number: 7 * weights[number] for number in few}) == pytest.approx(7 * sum(weights))
    assert aim.sampled([3.0]) == (0,)


def test_a_size_is_what_is_left_for_pictures_and_a_rate_is_one_for_the_whole():
    assert aim.wanted_bytes(plan_of()) is None
    alone = aim.wanted_bytes(plan_of(by="size", megabytes=20))
    heard = aim.wanted_bytes(plan_of(by="size", megabytes=20), has_sound=True)
    assert 19.9e6 < alone < 20e6
    assert alone - heard == pytest.approx(aim.SOUND_BYTES_A_SECOND * 20)
    assert aim.wanted_bytes(plan_of(by="rate", mbits=8)) == pytest.approx(20e6, rel=0.01)
    with pytest.raises(Refusal, match="do not even hold"):
        aim.wanted_bytes(plan_of(by="size", megabytes=0.5), has_sound=True)
    fixed = plan_of(by="size", megabytes=20).encode.model_copy(update={"format": "prores"})
    assert aim.wanted_bytes(RenderPlan(10, Fraction(25), Size(width=64, height=64), fixed)) is None


def test_a_size_that_is_too_small_says_the_least_that_is_sensible():
    plan = plan_of(by="size", megabytes=1)
    aim.check_large_enough(aim.WORST - 1, 5e6, 1e6, plan)
    with pytest.raises(Refusal, match=r"5\.1 MB is the least") as refused:
        aim.check_large_enough(aim.WORST, 5e6, 1e6, plan)
    assert refused.value.code == "size_too_small"


@pytest.mark.parametrize("name", ["av1", "vp9"])
def test_encoders_with_whole_steps_take_turns_so_that_the_mean_is_what_was_found(name):
    encode = Encode(format=name)
    each = aim.qualities(encode, 20.3, 64)
    numbers = [round(format_of(encode).number_of(one)) for one in each]
    assert max(numbers) - min(numbers) == 1
    exact = {"av1": 1.6 * 20.3 - 4, "vp9": 1.5 * 20.3 - 3}[name]
    assert sum(numbers) / 64 == pytest.approx(exact, abs=0.06)
    # Any eight in a row have about the same mean: no stretch is better than the next.
    for first in range(0, 64, 8):
        assert sum(numbers[first : first + 8]) / 8 == pytest.approx(exact, abs=0.3)
    assert {one.crf for one in aim.qualities(Encode(), 20.3, 9)} == {20.3}


@pytest.mark.parametrize(("size", "near"), [(100, True), (101.9, True), (98.1, True), (102.1, False), (97.9, False)])
def test_a_size_within_two_percent_is_close_on_either_side(size, near):
    assert aim.is_close(size, 100.0) is near
    assert aim.is_close(size * 1e6, 1e8) is near
    assert aim.is_close(110, 100, within=0.11)
    assert not aim.is_close(1, 100)
