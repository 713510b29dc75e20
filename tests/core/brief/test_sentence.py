"""The brief says what the clip turns out to be."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.clips import chunks_of, plan_of, rendered
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import OFFERED
from yarnkite.core.base.still import Still
from yarnkite.core.base.wording import size_range_text, size_text
from yarnkite.core.brief.sentence import brief
from yarnkite.core.encode.decisions import Aim, Encode
from yarnkite.core.encode.join import join
from yarnkite.core.encode.size_model import estimated_bytes, measured_size_model
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe


def some(count):
    return {(6000, 4000): count}


def test_the_sentence_reads_as_one():
    decisions = Decisions(fit=Fit(y=0.0), pace=Pace(rate="30000/1001", hold=2))
    assert str(brief(some(612), decisions)).startswith(
        "Take 612 stills, two frames each at 29.97 fps, cover 1920 × 1080 keeping the upper part, and write an H.264 "
        "file of high quality: 1,224 frames, 40.8 s (00:00:40;24), "
    )
    assert str(brief({}, Decisions())) == "Nothing to make yet: this shot has no stills."


@given(count=st.integers(1, 900), hold=st.integers(1, 30), rate=st.sampled_from(OFFERED))
def test_its_numbers_are_those_of_the_plan(count, hold, rate):
    decisions = Decisions(pace=Pace(rate=rate, hold=hold))
    taken = tuple(Still(path="x", fingerprint=str(n), width=6000, height=4000) for n in range(count))
    said, plan = brief(some(count), decisions), plan_of(Recipe(stills=taken, decisions=decisions))
    assert (said.stills, said.frames) == (count, plan.frames)
    assert Fraction(said.seconds).limit_denominator(10**9) == plan.seconds.limit_denominator(10**9)


@pytest.mark.parametrize(
    ("fit", "control", "remark"),
    [
        (Fit(size=Size(width=7680, height=4320)), "size", "Enlarges the stills 1.3×"),
        (Fit(how="contain"), "surround", "16 % of the frame stays black"),
    ],
)
def test_what_does_not_add_up_is_marked_and_said(fit, control, remark):
    said = brief(some(100), Decisions(fit=fit))
    assert [part.control for part in said.parts if part.warning] == [control]
    assert remark in " ".join(said.remarks)


def test_a_clip_under_a_second_is_pointed_out():
    assert any("shorter than a second" in part.warning for part in brief(some(20), Decisions()).parts)
    assert not any(part.warning for part in brief(some(25), Decisions()).parts)


def test_stills_of_other_shapes_are_counted():
    said = brief({(6000, 4000): 10, (4000, 6000): 2}, Decisions())
    assert "2 of the stills have another shape or size than the rest." in said.remarks


@pytest.mark.parametrize(
    ("wrong", "sentence"),
    [
        ({"fit": {"size": {"width": 1919, "height": 1080}}}, "1919 is odd"),
        ({"pace": {"rate": "0"}}, "cannot be used"),
        ({"pace": {"hold": 0}}, "greater than or equal to 1"),
        ({"fit": {"size": {"width": 99998, "height": 1080}}}, "less than or equal to 8192"),
        ({"fit": {"x": 1.5}}, "less than or equal to 1"),
        ({"fit": {"x": float("nan")}}, "finite"),
    ],
)
def test_decisions_that_cannot_be_are_refused(wrong, sentence):
    with pytest.raises(ValidationError, match=sentence):
        Decisions.model_validate(wrong)


@pytest.mark.parametrize("size", [(480, 270), pytest.param((960, 540), marks=pytest.mark.long)])
def test_the_estimate_is_within_a_factor_of_two(stills, tmp_path, size):
    taken = stills(60, (1200, 800))
    decisions = Decisions(fit=Fit(size=Size(width=size[0], height=size[1])), encode=Encode(crf=21))
    weighed = measured_size_model(taken)
    estimate = estimated_bytes(decisions, 60, 60, weighed)
    recipe = Recipe(stills=taken, decisions=decisions)
    clip = join(
        recipe.decisions.pace.written_rate,
        [rendered(recipe, one, tmp_path) for one in chunks_of(recipe)],
        tmp_path / "clip.mp4",
    )
    made = clip.stat().st_size
    assert 0.5 < estimate / made < 2
    # Only what was measured on this very clip is said as about so much.
    model, shapes = (weighed, {(1200, 800): 60})
    assert f"), about {size_text(made)}." in str(brief(shapes, decisions, model, expected=made))
    assert size_range_text(estimate // 2, 2 * estimate) in str(brief(shapes, decisions, model))
    assert "about" not in str(brief(shapes, decisions))
    wanted = decisions.model_copy(update={"encode": Encode(aim=Aim(by="size", megabytes=7))})
    assert ", about 7.0 MB." in str(brief(shapes, wanted))
