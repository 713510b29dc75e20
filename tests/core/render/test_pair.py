"""Two clips in one picture: each frame beside the one it belongs to, and both as they are alone."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.clips import frame_of
from tests.eight_bits import picture
from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.pair import PairFrames, partners
from yarnkite.core.render.recipe import Recipe, schedule_of

shown = st.lists(st.integers(0, 40), min_size=1, max_size=60)


@given(shown, shown)
def test_the_frame_beside_shows_the_nearest_still_there_is(first, second):
    beside = partners(first, second, "still")
    assert len(beside) == len(first)
    for still, other in zip(first, beside, strict=True):
        assert abs(second[other] - still) == min(abs(one - still) for one in second)


@given(shown)
def test_two_clips_that_are_alike_are_beside_themselves_frame_by_frame(first):
    assert partners(first, first, "still") == partners(first, first, "share") == list(range(len(first)))


@given(shown, shown)
def test_by_their_share_both_go_on_from_their_first_to_their_last_frame(first, second):
    beside = partners(first, second, "share")
    assert beside == sorted(beside)
    for at, other in enumerate(beside):
        assert abs((at + 0.5) / len(first) - (other + 0.5) / len(second)) <= 0.5 / len(second) + 1e-9


def test_of_a_still_shown_twice_the_frame_at_the_same_share_is_beside():
    there_and_back = [*range(10), *range(8, -1, -1)]
    held = [still for still in there_and_back for _ in range(2)]
    beside = partners(there_and_back, held, "still")
    assert beside == sorted(beside)
    assert [held[other] for other in beside] == there_and_back


def recipe_of(stills, **decided):
    return Recipe(stills=stills, decisions=Decisions(**({"pace": Pace(rate="25")} | decided)))


@pytest.mark.parametrize("other_size", [(320, 180), (640, 360), (180, 320)])
def test_each_half_is_the_picture_that_clip_has_alone(stills, other_size):
    taken = stills(12, (640, 480))
    first = recipe_of(taken, fit=Fit(size=Size(width=320, height=180)))
    second = recipe_of(
        taken,
        fit=Fit(size=Size(width=other_size[0], height=other_size[1]), y=0.1),
        pace=Pace(rate="25", hold=2),
    )
    beside = partners(*(list(schedule_of(one).mains()) for one in (first, second)), "still")
    pair = PairFrames(ClipFrames(first), ClipFrames(second), beside)
    assert len(pair) == 12
    assert pair.rate == 25
    image = picture(pair.spec(7), pair.size)
    assert pair.edge == 320 / image.shape[1]
    assert np.array_equal(image[:, :320], frame_of(first, 7))
    if pair.size.width - 320 == other_size[0]:
        assert np.array_equal(image[:, 320:], frame_of(second, beside[7]))
    else:
        # Another size of the same shape: as high as the first, and as bright as that frame is.
        assert abs(image[:, 320:].mean() - frame_of(second, beside[7]).mean()) < 1.5
        assert abs((image.shape[1] - 320) / 180 - other_size[0] / other_size[1]) < 0.02
