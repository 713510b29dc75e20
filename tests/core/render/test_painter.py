"""What a painter makes never depends on what it made before."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.decisions import Fit, Surround
from yarnkite.core.image.lens import Lens
from yarnkite.core.light.adjustment import SharedLight
from yarnkite.core.pace.decisions import Pace, Thin
from yarnkite.core.render.composite import Composite, Scene, Tile
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.picture import Painter
from yarnkite.core.render.recipe import Bridge, Recipe

SIZE = Size(width=64, height=36)


@pytest.fixture
def taken(stills):
    return stills(4, (150, 100))


fits = st.builds(
    Fit,
    size=st.just(SIZE),
    how=st.sampled_from(["cover", "contain"]),
    zoom=st.sampled_from([1.0, 1.5]),
    mirror=st.booleans(),
    quarters=st.sampled_from([0, 2]),
    sharpen=st.sampled_from(["none", "strong"]),
    linear=st.booleans(),
    level=st.sampled_from([0.0, 3.0]),
    surround=st.sampled_from([Surround(), Surround(colour="#c04030"), Surround(kind="blurred")]),
    lens=st.sampled_from([Lens(), Lens(k1=0.1)]),
)
paces = st.sampled_from(
    [
        Pace(),
        Pace(hold=2, blend="neighbours"),
        Pace(hold=2, blend="motion"),
        Pace(blend="shutter", thin=Thin(way="every", every=2), shutter=360),
    ]
)
lights = st.sampled_from([SharedLight(), SharedLight(channels=(1.004, 0.997)), SharedLight(over_time=1)])


@st.composite
def clips(draw):
    """Clips of the same stills under different decisions: as parts of a reel are."""
    made = st.tuples(fits, paces, lights, st.booleans())
    return draw(st.lists(made, min_size=2, max_size=3))


def frames_of(taken, fit, pace, light, bridged):
    pictures = (taken[0], Bridge(before=taken[1], after=taken[3], share="1/2"), *taken[2:]) if bridged else taken
    return ClipFrames(Recipe(stills=pictures, decisions=Decisions(fit=fit, pace=pace), light=light))


@given(clips=clips(), chosen=st.lists(st.tuples(st.integers(0, 2), st.integers(0, 7)), min_size=2, max_size=7))
@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_a_used_painter_paints_what_a_fresh_one_does(taken, clips, chosen):
    every = [frames_of(taken, *one) for one in clips]
    used = Painter(SIZE)
    for clip, frame in chosen:
        frames = every[clip % len(every)]
        spec = frames.spec(frame % len(frames))
        assert np.array_equal(used.picture(spec), Painter(SIZE).picture(spec)), (clips, chosen)


FINISHES = {
    "mirrored": {"mirror": True},
    "sharpened": {"sharpen": "strong"},
    "straightened": {"lens": Lens(k1=0.1)},
    "on another colour": {"how": "contain", "surround": Surround(colour="#c04030")},
    "in light": {"linear": True},
}


@pytest.mark.parametrize("way", FINISHES)
@pytest.mark.parametrize("pace", [Pace(), Pace(hold=2, blend="motion"), Pace(hold=2, blend="neighbours")])
def test_two_parts_that_meet_at_the_same_still_look_each_as_decided(taken, way, pace):
    usual = {"how": "contain"} if "how" in FINISHES[way] else {}
    every = [
        ClipFrames(Recipe(stills=taken, decisions=Decisions(fit=Fit(size=SIZE, **fit), pace=pace)))
        for fit in (usual, usual | FINISHES[way])
    ]
    used = Painter(SIZE)
    for frame in (1, 2):
        one, other = (used.picture(frames.spec(frame)) for frames in every)
        assert np.array_equal(other, Painter(SIZE).picture(every[1].spec(frame)))
        assert not np.array_equal(one, other)


def test_what_goes_over_into_its_mirror_image_is_painted_as_both(taken):
    plain, mirrored = (
        ClipFrames(Recipe(stills=taken, decisions=Decisions(fit=Fit(size=SIZE, mirror=mirror))))
        for mirror in (False, True)
    )
    used = Painter(SIZE)
    for frame, (one, other) in enumerate(((plain, mirrored), (mirrored, plain))):
        scenes = tuple((Scene(tiles=(Tile(clip.spec(frame)),)), Fraction(1, 2)) for clip in (one, other))
        spec = Composite(SIZE, scenes)
        assert np.array_equal(used.picture(spec), Painter(SIZE).picture(spec))
        # Half of a picture and half of its mirror image are as their own mirror image, but for rounding.
        seen = used.picture(spec).astype(int)
        assert np.abs(seen - seen[:, ::-1]).max() <= 2
