"""A view that travels: never outside the still, smooth to a hundredth of a pixel, and the same whatever the pace."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import corners, placement_of, turned_shape
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.move.decisions import Move, ViewAt
from yarnkite.core.move.travel import confined, course_of, fastest, placed, usual_move
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.frame_spec import mark
from yarnkite.core.render.picture import picture
from yarnkite.core.render.recipe import Recipe

SIZE = Size(width=320, height=180)
views = some.builds(
    ViewAt,
    at=some.floats(0, 1),
    x=some.floats(0, 1),
    y=some.floats(0, 1),
    closeness=some.floats(1, 6),
    level_deg=some.floats(-15, 15),
)
USUAL = ("push in", "pull out", "drift left", "drift right", "rise", "sink", "turn")


def recipe_of(move, count=12, pace=None, **fit):
    stills = tuple(Still(path=f"/{n}.jpg", fingerprint=f"{n:032}", width=960, height=640) for n in range(count))
    return Recipe(stills=stills, decisions=Decisions(fit=Fit(size=SIZE, **fit), move=move, pace=pace or Pace()))


@given(
    some.lists(views, min_size=1, max_size=5),
    some.sampled_from(["soft", "hard"]),
    some.sampled_from(
        [{}, {"level": 4.0}, {"quarters": 1}, {"zoom": 1.5, "x": 0.1}, {"how": "stretch"}, {"how": "contain"}]
    ),
)
def test_the_view_never_leaves_the_still(chosen, ends, fit):
    fit = Fit(size=SIZE, **fit)
    width, height = turned_shape(960, 640, fit)
    base = placement_of(960, 640, fit)
    course = course_of(Move(views=tuple(chosen), ends=ends), 40)
    for x, y, closeness, level in zip(course.x, course.y, course.closeness, course.level_deg, strict=True):
        seen, _ = placed(base, (width, height), x, y, closeness, level)
        for across, down in corners(seen):
            assert -1e-3 <= across <= width + 1e-3
            assert -1e-3 <= down <= height + 1e-3
        assert float(seen.source.width / seen.source.height) == pytest.approx(
            float(base.source.width / base.source.height), rel=1e-6
        )


@given(some.lists(views, min_size=2, max_size=6))
def test_it_goes_through_its_views_and_never_beyond_two_of_them(chosen):
    move = Move(views=tuple(chosen))
    course = course_of(move, 1001)
    for one in move.views:
        place = round(one.at * 1000)
        if abs(place / 1000 - one.at) < 1e-9:
            assert course.x[place] == pytest.approx(one.x)
            assert course.closeness[place] == pytest.approx(one.closeness, rel=1e-6)
    assert course.closeness.min() >= min(one.closeness for one in move.views) - 1e-9
    assert course.y.max() <= max(one.y for one in move.views) + 1e-9


def test_soft_ends_begin_gently_and_hard_ones_at_once():
    ends = (ViewAt(at=0, x=0.3), ViewAt(at=1, x=0.7))
    soft, hard = (np.diff(course_of(Move(views=ends, ends=kind), 101).x) for kind in ("soft", "hard"))
    assert soft[0] < 0.1 * hard[0]
    assert np.ptp(hard) < 1e-12
    assert soft.sum() == pytest.approx(hard.sum())


def edge(width=960, height=640, at=500.0):
    """A still with one soft upright edge, 16 bits deep."""
    across = np.arange(width) + 0.5
    row = 1 / (1 + np.exp(-(across - at) / 2.5))
    return np.repeat(np.repeat(np.rint(row * 60000)[None, :, None], height, axis=0), 3, axis=2).astype(np.uint16)


@pytest.mark.parametrize("closer", [1.1, 1.6, 2.5])
def test_nothing_trembles_while_it_zooms(closer):
    """The edge lies in every frame where arithmetic says, to two hundredths of a pixel."""
    move = Move(views=(ViewAt(at=0, x=0.5, y=0.5), ViewAt(at=1, x=0.53, y=0.47, closeness=closer)))
    recipe = recipe_of(move, count=40)
    frames, still = ClipFrames(recipe), edge()
    off = []
    for frame in range(len(frames)):
        spec = frames.spec(frame)
        source = spec.layers[0][0].placement.source
        row = picture(spec, read=lambda one, reduction: Pixels(still, 1))[90, :, 1].astype(float)
        slope = np.clip(np.diff(row), 0, None)
        found = (slope * (np.arange(319) + 1)).sum() / slope.sum()
        wanted = (500.0 - float(source.left)) / float(source.width) * 320
        off.append(found - wanted)
    assert np.abs(off).max() < 0.02


def test_it_holds_whatever_the_pace():
    move = Move(views=(ViewAt(at=0), ViewAt(at=1, closeness=2)))
    for pace in (Pace(), Pace(hold=3), Pace(direction="there and back")):
        frames = ClipFrames(recipe_of(move, pace=pace))
        widths = [float(frames.spec(frame).layers[0][0].placement.source.width) for frame in range(len(frames))]
        assert widths[0] == pytest.approx(960)
        assert widths[-1] == pytest.approx(480, rel=1e-4)
        assert all(np.diff(widths) <= 1e-9)


def test_without_views_nothing_changes_and_an_edit_changes_only_its_frames():
    plain = ClipFrames(recipe_of(Move()))
    still = [mark(plain.spec(frame)) for frame in range(len(plain))]
    before = Move(views=(ViewAt(at=0), ViewAt(at=0.4), ViewAt(at=1, closeness=2)))
    after = Move(views=(ViewAt(at=0), ViewAt(at=0.4), ViewAt(at=1, closeness=3)))
    one, other = (ClipFrames(recipe_of(move, count=40)) for move in (before, after))
    same = [mark(one.spec(frame)) == mark(other.spec(frame)) for frame in range(40)]
    assert all(same[:15])
    assert not any(same[20:])
    assert still == [mark(ClipFrames(recipe_of(Move(ends="hard"))).spec(frame)) for frame in range(len(plain))]


@pytest.mark.parametrize("name", USUAL)
@pytest.mark.parametrize(
    "fit", [{}, {"size": Size(width=180, height=320)}, {"level": 3.0}, {"zoom": 1.4, "x": 0.0}], ids=str
)
def test_the_usual_ways_go_where_they_say_without_being_held(name, fit):
    fit = Fit(**({"size": SIZE} | fit))
    move = usual_move(name, 0.2, fit, (960, 640))
    still = turned_shape(960, 640, fit)
    base = placement_of(960, 640, fit)
    ends = [placed(base, still, one.x, one.y, one.closeness, one.level_deg) for one in move.views]
    (first, _), (last, _) = ends
    if not fit.level and name != "turn":
        assert not any(held for _, held in ends)
    moved = [float(b - a) for a, b in zip(first.source.centre, last.source.centre, strict=True)]
    match name:
        case "push in":
            assert last.scale > 1.15 * first.scale
        case "pull out":
            assert first.scale > 1.15 * last.scale
        case "turn":
            assert last.angle > first.angle
        case "drift left" | "drift right":
            assert moved[0] * (1 if name == "drift right" else -1) > 10
        case "rise" | "sink":
            assert moved[1] * (1 if name == "sink" else -1) > 10


def test_speed_is_in_widths_a_second():
    base = placement_of(960, 640, Fit(size=SIZE, zoom=2.0))
    frames = [placed(base, (960, 640), 0.3 + 0.01 * n, 0.5, 1.0, 0.0)[0] for n in range(10)]
    assert fastest(frames, 25.0) == pytest.approx(0.01 * 960 / 480 * 25, rel=0.01)
    assert fastest(frames[:1], 25.0) == 0


def test_a_still_of_another_size_is_seen_by_the_same_view():
    move = Move(views=(ViewAt(at=0, x=0.4), ViewAt(at=1, x=0.6, closeness=1.5)))
    recipe = recipe_of(move, count=4)
    other = recipe.stills[2].model_copy(update={"width": 480, "height": 320, "fingerprint": "f" * 32})
    frames = ClipFrames(recipe.model_copy(update={"stills": (*recipe.stills[:2], other, recipe.stills[3])}))
    small, usual = (frames.spec(frame).layers[0][0].placement.source for frame in (2, 1))
    between = (
        frames.spec(1).layers[0][0].placement.source.width + frames.spec(3).layers[0][0].placement.source.width
    ) / 2
    assert float(small.width * 2) == pytest.approx(float(between), rel=0.1)
    assert float(small.centre[0] / 480) > float(usual.centre[0] / 960)


@given(some.floats(0, 0.4), some.floats(0.6, 1.0), some.floats(0, 0.4), some.floats(0.6, 1.0))
def test_a_view_that_is_held_inside_a_region_lies_inside_it_and_as_near_as_can_be(left, right, top, bottom):
    still, fit = (1200, 800), Fit(size=Size(width=320, height=180))
    base = placement_of(*still, fit)
    found = confined(base, still, (left, top, right, bottom)).source
    slack = 0.51
    assert found.left >= left * 1200 - slack
    assert found.left + found.width <= right * 1200 + slack
    assert found.top >= top * 800 - slack
    assert found.top + found.height <= bottom * 800 + slack
    assert float(found.width / found.height) == float(base.source.width / base.source.height)
    # It gave up no more than one of its sides asked for.
    sides = float(found.width) / ((right - left) * 1200), float(found.height) / ((bottom - top) * 800)
    assert found.width == base.source.width or max(sides) > 0.99
    assert confined(base, still, None) is base


@pytest.mark.parametrize(("x", "y"), [(0.3, 0.7), (0.8, 0.2)])
def test_a_view_that_lies_inside_a_region_already_stays_where_it_is(x, y):
    base = placement_of(1200, 800, Fit(size=Size(width=320, height=180), zoom=3.0, x=x, y=y))
    found = confined(base, (1200, 800), (0.01, 0.01, 0.99, 0.99))
    assert float(found.source.centre[0]) == pytest.approx(float(base.source.centre[0]), abs=0.01)
    assert float(found.source.centre[1]) == pytest.approx(float(base.source.centre[1]), abs=0.01)
    assert found.source.width == base.source.width
    assert abs(float(base.source.centre[0]) - 600) > 50
