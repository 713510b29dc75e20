"""Light made even: planted flicker and steps come out, what is no fault stays, and each wish does its own part."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from yarnkite.core.base.smooth import smoothed
from yarnkite.core.light.decisions import Even, Keyframe, Region, Setting
from yarnkite.core.light.evening import evening
from yarnkite.core.light.field import DOWN, waves

COUNT = 240
BOTH = Even(flicker=True, steps=True)
NONE = np.zeros(COUNT, bool)
UNKNOWN = np.full(COUNT, np.nan)
# Other seeds than the thresholds were chosen with.
SEED = 4711


def scene(kind, random):
    """Blocks of light in stops, and the course the whole of the light takes."""
    still = random.uniform(-6, -1, (16, 24))
    at = np.arange(COUNT) / COUNT
    blocks = np.repeat(still[None], COUNT, axis=0)
    course = np.zeros(COUNT)
    if kind == "dusk":
        course = -3 / (1 + np.exp(-(at - 0.5) * 8))
        blocks += course[:, None, None]
        # Lamps do not grow dark.
        blocks[:, 12:, :8] = still[12:, :8]
    if kind == "clouds":
        course = 0.3 * np.sin(at * 14)
        blocks += course[:, None, None]
        blocks[:, :6] += 0.6 * np.sin(np.arange(24) / 4 + np.arange(COUNT)[:, None] / 9)[:, None, :]
    if kind == "crowd":
        for one in blocks:
            covered = random.random((16, 24)) < 0.3
            covered[:6] = False
            one[covered] += random.normal(-1, 1, covered.sum())
    if kind == "waves":
        blocks[:, 8:] += random.normal(0, 0.3, (COUNT, 8, 24))
    return blocks + random.normal(0, 0.01, blocks.shape), course


def quick(values):
    """What is quicker than twelve stills, root mean square."""
    return float(np.sqrt(np.mean((values - smoothed(values, 12.0)) ** 2)))


@pytest.mark.parametrize("kind", ["still", "dusk", "clouds", "crowd", "waves"])
@pytest.mark.parametrize("amplitude", [0.05, 0.2, 0.5])
def test_flicker_goes_and_the_course_of_light_stays(kind, amplitude):
    random = np.random.default_rng(SEED)
    blocks, _ = scene(kind, random)
    flicker = random.uniform(-amplitude, amplitude, COUNT)
    found = evening(blocks + flicker[:, None, None], UNKNOWN, NONE, BOTH)
    left = flicker + found.gains
    assert quick(left) <= 0.01
    # What slow part flicker has by chance cannot be told from the light's own course.
    assert float(np.std(left)) <= max(0.01, 0.2 * amplitude)
    assert found.steps == ()
    assert found.flicker[1] < 0.01 < found.flicker[0]


@pytest.mark.parametrize("kind", ["still", "dusk", "clouds", "crowd", "waves"])
def test_where_nothing_flickers_no_still_gets_a_gain(kind):
    blocks, _ = scene(kind, np.random.default_rng(SEED))
    assert np.abs(evening(blocks, UNKNOWN, NONE, BOTH).gains).max() <= 0.01


@pytest.mark.parametrize("exif", ["right", "missing", "wrong by a sixth"])
@pytest.mark.parametrize("height", [1 / 3, 1.0, 2.0])
def test_steps_of_exposure_at_dusk_are_taken_out(exif, height):
    random = np.random.default_rng(SEED)
    blocks, course = scene("dusk", random)
    stairs, told = np.zeros(COUNT), np.full(COUNT, 8.0)
    for place in (60, 110, 150, 200):
        stairs[place:] += height
        told[place:] -= height + (1 / 6 if exif == "wrong by a sixth" else 0)
    exposure = UNKNOWN if exif == "missing" else told
    found = evening(blocks + stairs[:, None, None], exposure, NONE, BOTH)
    assert [one.position for one in found.steps] == [60, 110, 150, 200]
    assert [one.stops for one in found.steps] == pytest.approx([height] * 4, abs=0.02)
    assert quick(stairs + found.gains) <= 0.01
    # Laid evenly, the clip ends as bright as it was taken; as the eye had it, it is as dark as the evening.
    assert (stairs + found.gains)[[0, -1]] == pytest.approx([0, 4 * height], abs=0.25 * height)
    seen = evening(blocks + stairs[:, None, None], exposure, NONE, BOTH.model_copy(update={"course": "as seen"}))
    out = stairs + seen.gains
    assert np.abs(out - out[0]).max() <= 0.03
    assert course[-1] < course[0]


def test_what_the_camera_did_is_followed_smoothly_and_nothing_rises_before_it_did():
    """Light as it is until it falls by four stops; the camera makes up for it by thirds as that goes on."""
    falls = -4 * np.clip((np.arange(COUNT) - 120) / 110, 0, 1)
    blocks = scene("still", np.random.default_rng(SEED))[0] + falls[:, None, None]
    stairs = np.floor(-falls * 3 + 1e-9) / 3
    exposure = 8.0 - stairs
    found = evening(blocks + stairs[:, None, None], exposure, NONE, BOTH)
    out, taken = falls + stairs + found.gains, falls + stairs
    assert len(found.steps) == 12
    assert quick(out) <= 0.01
    # Each still is as bright as the camera left it, but for half a step.
    assert np.abs(out - taken).max() < 0.25
    assert np.abs(out[:115] - out[0]).max() < 0.02
    spread = evening(blocks + stairs[:, None, None], exposure, NONE, BOTH.model_copy(update={"course": "even"}))
    assert (falls + stairs + spread.gains)[:120].max() > 0.4
    for name, one in (("followed", found), ("even", spread)):
        assert np.abs(found.ways[name] - one.planned).max() < 0.02
    assert found.ways["as seen"][-1] - found.ways["as seen"][0] == pytest.approx(-4, abs=0.1)


def test_one_step_is_followed_within_a_second_or_two_beside_it():
    stairs = np.where(np.arange(COUNT) < 100, 0.0, 1.0)
    blocks = scene("still", np.random.default_rng(SEED))[0] + stairs[:, None, None]
    out = stairs + evening(blocks, 8.0 - stairs, NONE, BOTH).gains
    assert np.abs(out[:79]).max() < 0.02
    assert np.abs(out[121:] - 1).max() < 0.02
    assert (np.diff(out) > -0.01).all()
    assert out[99:101].mean() == pytest.approx(0.5, abs=0.03)


def test_a_change_of_exposure_that_light_made_up_for_is_no_step():
    """The sun came out, and the camera exposed less: the picture is as bright as before."""
    blocks, _ = scene("still", np.random.default_rng(SEED))
    told = np.full(COUNT, 8.0)
    told[100:] += 2
    found = evening(blocks, told, NONE, BOTH)
    assert found.steps == ()
    assert np.abs(found.gains).max() < 0.01


def test_an_exposure_that_changes_all_the_time_is_flicker():
    random = np.random.default_rng(SEED)
    blocks, _ = scene("still", random)
    stops = random.choice([-1 / 3, 0, 1 / 3], COUNT)
    found = evening(blocks + stops[:, None, None], 8 - stops, NONE, BOTH)
    assert found.steps == ()
    assert quick(stops + found.gains) < 0.01


def test_a_misfire_is_left_alone_and_does_not_pull_the_others():
    blocks, _ = scene("dusk", np.random.default_rng(SEED))
    blocks[90] -= 4
    blocks[91] += 2
    found = evening(blocks, UNKNOWN, NONE, BOTH)
    assert np.abs(found.gains).max() < 0.02
    assert found.flicker[0] < 0.01


@pytest.mark.parametrize("height", [-4.0, 3.0])
@pytest.mark.parametrize("place", [3, 120, 236])
@pytest.mark.parametrize("told", [True, False])
def test_a_large_step_is_no_misfire_on_either_side_of_it(height, place, told):
    blocks, _ = scene("still", np.random.default_rng(SEED))
    step, exposure = np.where(np.arange(COUNT) >= place, height, 0.0), np.full(COUNT, 8.0 if told else np.nan)
    exposure[place:] -= height
    wish = BOTH.model_copy(update={"course": "as seen"})
    found = evening(blocks - 4 + step[:, None, None], exposure, NONE, wish)
    if told or 6 <= place <= COUNT - 6:
        assert [one.position for one in found.steps] == [place]
        out = step + found.gains
        assert np.abs(out - out[0]).max() < 0.03


@pytest.mark.parametrize(("wish", "rid_of"), [({"flicker": True}, "flicker"), ({"steps": True}, "step")])
def test_each_wish_does_its_own_part(wish, rid_of):
    random = np.random.default_rng(SEED)
    blocks, _ = scene("still", random)
    flicker, told = random.uniform(-0.1, 0.1, COUNT), np.full(COUNT, 8.0)
    step = np.where(np.arange(COUNT) >= 120, 1.0, 0.0)
    told[120:] -= 1
    gains = evening(blocks + (flicker + step)[:, None, None], told, NONE, Even(**wish)).gains
    around = slice(119, 121)
    if rid_of == "flicker":
        assert np.diff(step + gains + flicker)[119] == pytest.approx(1, abs=0.05)
        assert quick((flicker + gains)[:100]) < 0.01
    else:
        assert np.abs(np.diff(gains + step)[around]).max() < 0.05
        assert quick((flicker + gains)[:100]) > 0.04


@given(spoiled=some.sets(some.integers(0, COUNT - 1), max_size=COUNT))
def test_spoiled_stills_change_nothing_for_the_others(spoiled):
    random = np.random.default_rng(SEED)
    blocks = np.repeat(random.uniform(-5, -2, (1, 16, 24)), COUNT, axis=0)
    blocks[sorted(spoiled)] = random.uniform(-9, 0, (len(spoiled), 16, 24))
    flags = np.zeros(COUNT, bool)
    flags[sorted(spoiled)] = True
    assert np.abs(evening(blocks, UNKNOWN, flags, BOTH).gains).max() < 1e-6


@pytest.mark.parametrize("count", [0, 1, 2, 3])
def test_a_few_stills_stay_as_they_are(count):
    found = evening(np.full((count, 16, 24), -3.0), np.full(count, np.nan), np.zeros(count, bool), BOTH)
    assert (found.gains == 0).all()
    assert len(found.measured) == count


def test_colour_that_flickers_and_jumps_is_evened_out():
    random = np.random.default_rng(SEED)
    blocks, _ = scene("still", random)
    course = np.stack([0.3 * np.sin(np.arange(COUNT) / 40), -0.2 * np.cos(np.arange(COUNT) / 50)], axis=1)
    planted = random.uniform(-0.1, 0.1, (COUNT, 2))
    planted[120:] += (0.4, -0.5)
    found = evening(blocks, UNKNOWN, NONE, Even(colour=True), colours=course + planted)
    left = course + planted + found.colours
    assert all(quick(left[:, colour]) <= 0.01 for colour in range(2))
    assert np.abs(np.diff(left[112:128], axis=0)).max() < 0.05
    assert not found.gains.any()
    assert found.colour_flicker[1] < 0.02 < found.colour_flicker[0]


@pytest.mark.parametrize("kind", ["still", "dusk", "clouds", "crowd"])
@pytest.mark.parametrize("waves_down", [1, 3, 6])
def test_bands_of_a_fifth_of_a_stop_over_the_rows_are_taken_out(kind, waves_down):
    random = np.random.default_rng(SEED)
    blocks, _ = scene(kind, random)
    phase = random.uniform(0, 2 * np.pi, COUNT)[:, None]
    at = (np.arange(16) + 0.5) / 16
    # Bands that roll through the picture, as a lamp and a shutter make them.
    planted = 0.2 * np.cos(np.pi * waves_down * at + phase)
    planted -= planted.mean(axis=1, keepdims=True)
    found = evening(blocks + planted[:, :, None], UNKNOWN, NONE, Even(flicker=True, bands=True))
    left = planted + found.bands[:, :DOWN] @ waves(DOWN, 16).T
    assert quick(left) <= 0.011
    # What slow part bands have by chance is the rows' own course of light.
    assert float(np.std(left - left.mean(axis=0))) <= 0.035


@pytest.mark.parametrize("kind", ["still", "dusk", "clouds", "crowd", "waves"])
def test_where_there_are_no_bands_none_are_taken_out(kind):
    blocks, _ = scene(kind, np.random.default_rng(SEED))
    found = evening(blocks, UNKNOWN, NONE, Even(bands=True)).bands[:, :DOWN] @ waves(DOWN, 16).T
    assert quick(found) <= 0.002


def test_light_goes_where_it_is_drawn():
    random = np.random.default_rng(SEED)
    blocks, _ = scene("dusk", random)
    flicker = random.uniform(-0.2, 0.2, COUNT)
    even = Even(flicker=True, course="drawn", drawn=Setting(keyframes=(Keyframe(still=1, value=-3.0),)))
    wanted = np.linspace(-3, -4, COUNT)
    found = evening(blocks + flicker[:, None, None], UNKNOWN, NONE, even, drawn=wanted)
    assert np.abs(found.planned - wanted)[10:-10].max() < 0.08
    assert quick(found.planned) < 0.02


def test_light_is_judged_by_a_region_alone():
    """Lamps flicker in the lower half: by the sky above there is nothing to even out."""
    random = np.random.default_rng(SEED)
    blocks, _ = scene("still", random)
    flicker = random.uniform(-0.3, 0.3, COUNT)
    blocks[:, 8:] += flicker[:, None, None]
    lower = Region(left=0.1, top=0.55, right=0.9, bottom=1.0)
    upper = Region(left=0.1, top=0.0, right=0.9, bottom=0.45)
    by_lower = evening(blocks, UNKNOWN, NONE, Even(flicker=True, region=lower)).gains
    assert quick(by_lower + flicker) <= 0.01
    assert np.abs(evening(blocks, UNKNOWN, NONE, Even(flicker=True, region=upper)).gains).max() <= 0.01
