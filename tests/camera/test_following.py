"""Exposure that follows the light, shown with the simulated camera: from day to night, none blown, none black."""

import time
from datetime import UTC, datetime, timedelta
from functools import cache
from itertools import pairwise

import cv2
import numpy as np

from yarnkite.camera.camera import Abilities, Settings
from yarnkite.camera.following import Following, measured, stops
from yarnkite.demo.camera import EXPOSURES_S, SENSITIVITIES, Device, Scene
from yarnkite.demo.pellow_reach import paint

STILLS = 200


@cache
def painted(step):
    return cv2.resize(paint(step / 12), (480, 320), interpolation=cv2.INTER_AREA)


def scene_at(share):
    """The scene at a share of its day, blended from paintings a twelfth apart: painting each would take minutes."""
    step, part = divmod(share * 12, 1)
    return cv2.addWeighted(painted(int(step)), 1 - part, painted(min(12, int(step) + 1)), part, 0)


class Evening:
    """The simulated camera on an evening whose clock a test sets."""

    def __init__(self):
        self.share = 0.0
        scene = Scene(scene_at, datetime.now(UTC), 1.0)
        scene.share = lambda when: self.share
        self.device = Device(scene, width=480)

    def take(self, share):
        self.share = share
        self.device._seen = None
        return self.device.take()


def light_of(jpeg):
    grey = cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_GRAYSCALE)
    return float(np.median(grey)), float((grey >= 253).mean()), float((grey <= 4).mean())


def evening(follow):
    scene = Evening()
    following = Following(Abilities(EXPOSURES_S, SENSITIVITIES), Settings(0.01, 100), 2.0)
    seen, settings = [], [Settings(0.01, 100)]
    for still in range(STILLS):
        data = scene.take(still / (STILLS - 1))
        seen.append(light_of(data))
        if follow:
            wanted = following.after(measured(data))
            scene.device.set(wanted.exposure_s, wanted.sensitivity)
            following.settings = Settings(scene.device.exposure_s, scene.device.sensitivity)
            settings.append(following.settings)
    return seen, settings


def test_from_day_to_night_no_still_is_blown_or_black_and_steps_are_small():
    fixed, _ = evening(follow=False)
    assert fixed[-1][2] > 0.9, "with a fixed exposure the night is black"
    seen, settings = evening(follow=True)
    for middle, blown, black in seen:
        assert middle > 18
        assert blown < 0.06
        assert black < 0.35
    steps = [abs(stops(later) - stops(before)) for before, later in pairwise(settings)]
    assert max(steps) <= 0.4
    assert stops(settings[-1]) - stops(settings[0]) > 4
    # The light step has little to mend: from one still to the next no more than a step of the camera.
    levels = np.log2(np.array([one[0] for one in seen]))
    assert np.max(np.abs(np.diff(levels))) < 0.4


def test_light_that_stays_leaves_the_exposure_alone():
    following = Following(Abilities(EXPOSURES_S, SENSITIVITIES), Settings(0.01, 100), 2.0)
    scene = Evening()
    data = scene.take(0.1)
    assert {following.after(measured(data)) for _ in range(30)} == {Settings(0.01, 100)}


def test_a_shutter_is_never_open_longer_than_it_may():
    following = Following(Abilities(EXPOSURES_S, SENSITIVITIES), Settings(0.01, 100), 0.5)
    scene = Evening()
    for still in range(0, STILLS, 2):
        wanted = following.after(measured(scene.take(still / STILLS)))
        assert wanted.exposure_s <= 0.5
        scene.device.set(wanted.exposure_s, wanted.sensitivity)
    assert wanted.sensitivity > 100


def test_the_cameras_clock_drifts_as_it_is_told():
    device = Device(Scene(lambda share: painted(0), datetime.now(UTC), 1.0), drift_ppm=100_000)
    device.began = time.monotonic() - 100
    assert abs((device.clock() - datetime.now(UTC)) - timedelta(seconds=10)) < timedelta(seconds=0.1)
