"""Segments of a clip for playing: real H.264, frame for frame what the schedule says, and kept over edits."""

import io

import av
import numpy as np
import pytest
from skimage.metrics import structural_similarity

from tests.clips import frame_of, segments_of
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.preview import playing_size, render_segment
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.decode import read_still
from yarnkite.core.pace.decisions import Knot, Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe


def recipe_of(stills, pace=None, **fit):
    fit = Fit(**({"size": Size(width=640, height=360)} | fit))
    return Recipe(stills=stills, decisions=Decisions(fit=fit, pace=pace or Pace(rate="25")))


def decoded(data: bytes):
    with av.open(io.BytesIO(data)) as container:
        stream = container.streams.video[0]
        return stream, [
            (frame.pts * frame.time_base, frame.to_ndarray(format="rgb24")) for frame in container.decode(stream)
        ]


@pytest.mark.parametrize("rate", ["12", "24000/1001", "25", "60000/1001"])
def test_segments_follow_each_other_without_a_frame_lost_or_twice(stills, rate):
    recipe = recipe_of(stills(40), Pace(rate=rate, hold=2))
    cut = segments_of(recipe)
    frames = [frame for segment in cut for frame in range(segment.first, segment.first + len(segment.specs))]
    assert frames == list(range(80))
    for segment in cut[:2]:
        _, shown = decoded(render_segment(segment, read_still))
        assert [time * recipe.decisions.pace.written_rate for time, _ in shown] == list(range(len(segment.specs)))


def test_a_segment_shows_what_the_clip_will(stills):
    recipe = recipe_of(stills(12, (960, 640)), y=0.2)
    segment = segments_of(recipe)[0]
    stream, shown = decoded(render_segment(segment, read_still))
    assert (stream.width, stream.height) == (640, 360)
    assert stream.codec_context.colorspace == 1
    for frame in (0, 5):
        wanted = frame_of(recipe, segment.first + frame)
        alike = structural_similarity(wanted, shown[frame][1], channel_axis=2)
        assert alike >= 0.97
        assert np.abs(wanted.mean(axis=(0, 1)) - shown[frame][1].mean(axis=(0, 1))).max() < 2


def test_an_edit_keeps_the_segments_it_does_not_touch(stills):
    taken = stills(60)
    before = {segment.key for segment in segments_of(recipe_of(taken))}
    held = {segment.key for segment in segments_of(recipe_of(taken, Pace(rate="25", last=50)))}
    assert len(before - held) == 1
    aside = segments_of(recipe_of(taken[:40]))
    assert {segment.key for segment in aside[:-1]} <= before
    curved = segments_of(recipe_of(taken, Pace(rate="25", curve=(Knot(at=0.7, speed=1), Knot(at=1, speed=0.5)))))
    assert {segment.key for segment in curved[:3]} <= before
    moved = {segment.key for segment in segments_of(recipe_of(taken, y=0.4))}
    assert not moved & before


def test_every_decision_that_changes_pixels_changes_the_key(stills):
    taken = stills(8)
    fits = [
        {},
        {"level": 0.5},
        {"mirror": True},
        {"quarters": 2},
        {"zoom": 1.1},
        {"sharpen": "screen"},
        {"linear": True},
        {"lens": {"k1": 0.05}},
        {"how": "contain"},
        {"how": "contain", "surround": {"kind": "blurred"}},
    ]
    keys = [segments_of(recipe_of(taken, **fit))[0].key for fit in fits]
    assert len(set(keys)) == len(fits)


def test_a_clip_is_played_in_its_own_shape_and_never_enlarged():
    assert playing_size(Size(width=3840, height=2160)) == Size(width=960, height=540)
    assert playing_size(Size(width=640, height=360)) == Size(width=640, height=360)
    upright = playing_size(Size(width=1080, height=1920))
    assert upright.width / upright.height == pytest.approx(9 / 16, abs=0.005)
    assert upright.width * upright.height <= 960 * 540 * 1.01


def test_the_frames_of_a_segment_are_those_of_the_clip(stills):
    recipe = recipe_of(stills(30), Pace(rate="30", hold=2, blend="neighbours", direction="there and back"))
    frames = ClipFrames(recipe)
    for segment in segments_of(recipe):
        assert segment.specs == tuple(frames.spec(segment.first + step) for step in range(len(segment.specs)))
