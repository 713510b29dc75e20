"""One description of a frame: its mark names all that its picture depends on, and nothing else."""

import pickle
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.clips import chunks_of, frame_of
from tests.conftest import scene
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.join import join
from yarnkite.core.encode.render_plan import chunks, render_plan, task_of
from yarnkite.core.encode.verify import probe, verify
from yarnkite.core.fit.decisions import Fit, Surround
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.light.adjustment import Adjustment
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.frame_spec import mark
from yarnkite.core.render.picture import picture
from yarnkite.core.render.recipe import Bridge, Correction, Recipe

SIZE = Size(width=320, height=180)


def still(number, width=960, height=640):
    return Still(path=f"/stills/{number}.jpg", fingerprint=f"{number:032}", width=width, height=height)


def recipe_of(stills, *, pace=None, corrections=(), **fit):
    decisions = Decisions(fit=Fit(size=SIZE, **fit), pace=pace or Pace(), encode=Encode(preset="ultrafast"))
    return Recipe(stills=tuple(stills), decisions=decisions, corrections=tuple(corrections))


def marks(recipe):
    frames = ClipFrames(recipe)
    return [mark(frames.spec(frame)) for frame in range(len(frames))]


STILLS = [still(number) for number in range(12)]


@pytest.mark.parametrize(
    "fit",
    [
        {"how": "contain"},
        {"y": 0.3},
        {"zoom": 1.2},
        {"level": 1.5},
        {"quarters": 1},
        {"mirror": True},
        {"lens": Lens(k1=0.02)},
        {"sharpen": "screen"},
        {"linear": True},
        {"how": "contain", "surround": Surround(colour="#102030")},
    ],
    ids=str,
)
def test_each_decision_that_changes_pixels_changes_every_mark(fit):
    assert not set(marks(recipe_of(STILLS, **fit))) & set(marks(recipe_of(STILLS)))


def test_what_changes_no_pixel_changes_no_mark():
    """Neither where a file lies, nor which part is kept of a side that is shown whole."""
    moved = [one.model_copy(update={"path": f"/elsewhere{one.path}", "modified_ns": 7}) for one in STILLS]
    assert marks(recipe_of(moved)) == marks(recipe_of(STILLS))
    assert marks(recipe_of(STILLS, x=0.3)) == marks(recipe_of(STILLS))


@given(st.integers(0, 11), st.floats(-3, 3).filter(lambda gain: abs(gain) > 0.01))
def test_a_correction_of_one_still_changes_the_marks_of_the_frames_that_show_it_alone(slot, gain):
    pace = Pace(hold=3, blend="neighbours")
    neutral = [Correction()] * 12
    before = marks(recipe_of(STILLS, pace=pace))
    assert marks(recipe_of(STILLS, pace=pace, corrections=neutral)) == before
    corrected = [Correction(light=Adjustment(gain=gain)) if index == slot else one for index, one in enumerate(neutral)]
    recipe = recipe_of(STILLS, pace=pace, corrections=corrected)
    after, frames = marks(recipe), ClipFrames(recipe)
    for frame, (one, two) in enumerate(zip(before, after, strict=True)):
        shown = {layer.picture.fingerprint for layer, _ in frames.spec(frame).layers}
        assert (one != two) == (STILLS[slot].fingerprint in shown)


def test_a_correction_costs_only_the_chunks_it_touches():
    many = [still(number) for number in range(200)]
    corrections = [Correction(light=Adjustment(gain=0.5 if index == 120 else 0.0)) for index in range(200)]
    before, after = chunks_of(recipe_of(many)), chunks_of(recipe_of(many, corrections=corrections))
    assert [one.key == two.key for one, two in zip(before, after, strict=True)] == [True, True, False, True]


def test_a_still_can_be_shown_as_the_clip_would_when_all_are_set_aside():
    spec = ClipFrames(recipe_of([])).spec_of_other(still(0))
    assert spec == ClipFrames(recipe_of([still(0)])).spec(0)


def test_a_gain_raises_light_by_so_many_stops(stills):
    taken = stills(2)
    lit = recipe_of(taken, corrections=[Correction(light=Adjustment(gain=1)), Correction()])
    plain, raised = (picture(ClipFrames(one).spec(0)) / 65535 for one in (recipe_of(taken), lit))

    def light(codes):
        return np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)

    unclipped = light(plain) < 0.45
    # Highlights roll off where evening raises light.
    assert np.abs(light(raised) - 2 * light(plain))[unclipped & (light(plain) < 0.3)].max() < 0.0005
    assert light(raised).max() <= 1
    unlit = recipe_of(taken, corrections=[Correction()] * 2)
    assert (picture(ClipFrames(unlit).spec(0)) / 65535 == plain).all()


def test_a_shift_moves_the_picture_by_so_much():
    array = scene(960, 640)
    taken = still(0)
    read = lambda one, reduction: Pixels(array, 1)  # noqa: E731
    # The frame is a third as wide as the still; a twentieth of it to the right and up are 16 pixels of the frame.
    half = np.hypot(960, 640) / 2
    laid = (1.0, 0.0, 48 / half, 0.0, 1.0, -24 / half, 0.0, 0.0)
    moved = recipe_of([taken], corrections=[Correction(laid=laid)])
    plain = frame_of(recipe_of([taken]), 0, read=read).astype(int)
    shifted = frame_of(moved, 0, read=read).astype(int)
    assert np.abs(shifted[:-8, 16:] - plain[8:, :-16]).max() <= 1
    # What the still does not reach is its edge, drawn out.
    assert (shifted[:, :15] == shifted[:, 15:16]).all()


def test_a_bridge_takes_each_side_where_it_belongs(stills):
    """The still after has another size: it lies in the frame by its own."""
    one, other = stills(1, (960, 640))[0], stills(1, (480, 320))[0]
    bridge = Bridge(before=one, after=other, share=Fraction(1, 2))
    (layer, _), *_ = ClipFrames(recipe_of([one, bridge, one])).spec(1).layers
    assert layer.placement_after is not None
    assert layer.placement_after.source.width * 2 == layer.placement.source.width


def test_a_task_holds_what_its_chunk_needs_and_no_more():
    many = [still(number) for number in range(10_000)]
    recipe = recipe_of(many)
    frames, encode = ClipFrames(recipe), recipe.decisions.encode
    chunk = chunks_of(recipe)[100]
    task = task_of(frames, encode, chunk)
    named = {layer.picture.fingerprint for spec in task.specs for layer, _ in spec.layers}
    assert named == {one.fingerprint for one in many[5000:5050]}
    assert len(pickle.dumps(task)) < 40_000
    assert pickle.loads(pickle.dumps(task)) == task


class TwoInARow:
    """Another frame source: two clips, one after the other."""

    def __init__(self, one, other):
        self._one, self._other = one, other
        self.size, self.rate, self.borders = one.size, one.rate, ()

    def __len__(self):
        return len(self._one) + len(self._other)

    def spec(self, frame):
        return self._one.spec(frame) if frame < len(self._one) else self._other.spec(frame - len(self._one))


def test_any_frame_source_can_be_rendered(stills, tmp_path):
    taken = stills(20, (480, 320))
    one, other = ClipFrames(recipe_of(taken[:10], pace=Pace(hold=4))), ClipFrames(recipe_of(taken[10:], mirror=True))
    both, encode = TwoInARow(one, other), Encode(preset="ultrafast")
    render_chunks([task_of(both, encode, chunk) for chunk in chunks(both, encode)], tmp_path)
    parts = [tmp_path / chunk.file_name for chunk in chunks(both, encode)]
    clip = join(both.rate, parts, tmp_path / "both.mp4")
    assert verify(probe(clip), render_plan(both, encode)) == []
    assert len(both) == 50
    assert (picture(both.spec(45)) == picture(other.spec(5))).all()
