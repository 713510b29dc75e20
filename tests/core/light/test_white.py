"""What is blown out stays white when light is made even, in every still alike."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from yarnkite.core.gather.measures import measured
from yarnkite.core.image.srgb import to_codes, to_light
from yarnkite.core.light.adjustment import Adjustment, adjusted
from yarnkite.core.light.decisions import Even
from yarnkite.core.light.evening import Evening, evening
from yarnkite.core.light.white import shared_white, up_to_white

COUNT, HEIGHT, WIDTH = 60, 96, 144
UNKNOWN, SOUND = np.full(COUNT, np.nan), np.zeros(COUNT, bool)


def sky() -> np.ndarray:
    """Linear light of a dusk with a sun: from deep shade to four times white, in steps and slopes."""
    across, down = np.meshgrid(np.linspace(0, 1, WIDTH), np.linspace(0, 1, HEIGHT))
    light = 0.02 + 0.5 * (1 - down) ** 2 + 0.1 * across
    light += 4 * np.exp(-((across - 0.7) ** 2 + (down - 0.25) ** 2) / 0.01)
    light[70:80, 20:40] = 3.0
    return np.repeat(light[..., None], 3, axis=2) * (1.0, 0.97, 0.9)


def stills_of(scene: np.ndarray, stops: np.ndarray) -> list[np.ndarray]:
    """What a camera of 8 bits takes of a scene, so many stops brighter in each still."""
    return [np.rint(to_codes(np.clip(scene * 2**one, 0, 1)) * 255).astype(np.uint8) for one in stops]


def evened(stills: list[np.ndarray], even: Even, *, colours: np.ndarray | None = None) -> tuple[Evening, np.ndarray]:
    """Return how stills are made even, and their codes of 8 bits then."""
    measures = [measured(one, one) for one in stills]
    found = evening(
        *(np.stack([one.blocks for one in measures]), UNKNOWN, SOUND, even),
        colours=colours,
        blown=np.array([one.bright for one in measures]),
    )
    made = [
        adjusted(one, Adjustment(**found.gain_of(place).fields)).astype(float) / 257 for place, one in enumerate(stills)
    ]
    return found, np.stack(made)


def between_stills(made: np.ndarray, where: np.ndarray) -> float:
    """The largest change from a still to the next, in codes, of what lies ``where``."""
    return float(np.abs(np.diff(made, axis=0)).max(axis=(0, 3))[where].max())


@pytest.mark.parametrize("amplitude", [0.07, 0.3])
def test_what_is_blown_out_in_any_still_stays_white_in_all(amplitude):
    scene, stops = sky(), np.random.default_rng(8).uniform(-amplitude, amplitude, COUNT)
    stills = stills_of(scene, stops)
    blown, always = (part(np.stack(stills).min(axis=3), axis=0) == 255 for part in (np.max, np.min))
    assert 0.03 < always.mean() < blown.mean() < 0.5
    found, made = evened(stills, Even(flicker=True))
    assert found.gains.min() < -0.5 * amplitude < 0.5 * amplitude < found.gains.max()
    assert made[:, always].min() == 255
    # Where only some are blown out, others are a step of 8 bits off, and rounded.
    assert made[:, blown].min() >= 225
    assert between_stills(made, blown) <= 2
    # Nor is there an edge where it begins, or flicker elsewhere: a code is worth more than one where light is raised.
    assert between_stills(made, ~blown) <= 4
    without = np.stack(
        [adjusted(one, Adjustment(gain=float(gain))) / 257 for one, gain in zip(stills, found.gains, strict=True)]
    )
    assert between_stills(without, blown) > 40 * amplitude


def test_where_nothing_is_blown_out_nothing_else_is_changed():
    scene = np.minimum(sky(), 0.5)
    stills = stills_of(scene, np.random.default_rng(8).uniform(-0.3, 0.3, COUNT))
    found, made = evened(stills, Even(flicker=True))
    assert np.abs(found.whites).max() < 0.05
    plain = [adjusted(one, Adjustment(gain=float(gain))) for one, gain in zip(stills, found.gains, strict=True)]
    assert np.abs(made - np.stack(plain) / 257).max() <= 1


def test_a_misfire_that_is_white_says_nothing_of_the_others():
    scene = np.minimum(sky(), 0.5)
    stills = stills_of(scene, np.random.default_rng(8).uniform(-0.1, 0.1, COUNT))
    stills[20] = np.full_like(stills[20], 255)
    found, _ = evened(stills, Even(flicker=True))
    assert found.whites.min() >= 0


def test_white_lamps_stay_white_where_colours_are_evened_too():
    stops, warm = np.random.default_rng(9).uniform(-0.1, 0.1, (2, COUNT))
    cast = np.stack([2**warm, np.ones(COUNT), 2**-warm], axis=1)
    stills = [stills_of(sky() * one, np.array([stop]))[0] for one, stop in zip(cast, stops, strict=True)]
    found, made = evened(stills, Even(flicker=True, colour=True), colours=np.stack([warm, -warm], axis=1))
    assert np.abs(found.colours).max() > 0.05
    blown = np.stack(stills).min(axis=0).min(axis=2) == 255
    assert between_stills(made, blown) <= 1


def test_a_camera_that_steps_while_it_grows_dark_makes_no_lamp_jump():
    """By thirds of a stop, each taken out: before and after a step the lamp is as white."""
    at = np.arange(COUNT)
    scene = sky()
    dark = np.array([scene * 2 ** (-2.0 * one / COUNT) for one in at])
    dark[:, 70:80, 20:40] = 3.0
    steps = np.floor(at / 12) / 3
    stills = [stills_of(one, np.array([step]))[0] for one, step in zip(dark, steps, strict=True)]
    found, made = evened(stills, Even(flicker=True, steps=True))
    assert len(found.steps) == 4
    lamp = np.zeros((HEIGHT, WIDTH), bool)
    lamp[71:79, 21:39] = True
    assert between_stills(made, lamp) <= 1


@given(white=some.floats(-1.5, 1.5))
def test_light_goes_on_as_it_is_then_bends_to_white_and_never_back(white):
    light = np.linspace(0, 4, 40_001)
    bent = up_to_white(light, white)
    assert (np.diff(bent) >= -1e-12).all()
    assert bent[light >= 2**white].min() >= 1 - 1e-9
    assert bent.max() <= 1 + 1e-12
    dark = light <= 0.1
    assert bent[dark] == pytest.approx(light[dark])
    # No corner where it begins to bend.
    steep = np.diff(bent) / np.diff(light)
    inside = (light[1:] < 2**white - 0.01) & (light[1:] < 4)
    assert np.abs(np.diff(steep[inside])).max() < 0.02


@given(some.lists(some.floats(-3, 3), min_size=1, max_size=200))
def test_the_white_of_a_still_is_one_that_every_still_around_reaches(gains):
    gains = np.array(gains)
    whites = shared_white(gains, np.ones(len(gains)))
    assert (whites <= np.maximum(gains, -1.5) + 1e-9).all()
    assert shared_white(gains, np.zeros(len(gains))).min() >= 0
    assert whites.max() <= 1.5


def test_a_still_that_is_darkened_far_more_than_all_others_is_white_where_it_was_and_pulls_none_along():
    gains = np.random.default_rng(3).uniform(-0.02, 0.02, 200)
    gains[[80, 90]] = -0.9
    whites = shared_white(gains, np.ones(200))
    assert whites[[80, 90]] == pytest.approx(-0.9)
    others = np.delete(whites, [80, 90])
    assert others.min() >= -0.11
    assert np.abs(np.diff(others)).max() < 0.04


def test_to_light_and_back_is_where_these_tests_begin():
    assert to_light(to_codes(np.array([0.5]))) == pytest.approx(0.5)


@pytest.mark.parametrize("white", [-1.5, -0.6, -0.2])
def test_what_is_brought_down_to_white_is_as_it_is_up_to_a_quarter_or_half_of_it(white):
    top = 2.0**white
    light = np.linspace(0, 1, 500)
    found = up_to_white(light, white)
    below = light <= 0.98 * min(0.25, top / 2)
    assert found[below] == pytest.approx(light[below], abs=1e-9)
    assert found[light >= top] == pytest.approx(1.0, abs=1e-6)
    assert (np.diff(found) >= 0).all()
    # It begins to bend early enough to do so gently.
    assert np.max(np.diff(found) / np.diff(light)) < 10
