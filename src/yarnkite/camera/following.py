"""Exposure that goes with the light: small steps after what the stills measured, through dusk and dawn."""

from dataclasses import dataclass
from math import log2

import cv2
import numpy as np

from yarnkite.camera.camera import Abilities, Settings
from yarnkite.core.base.errors import Refusal
from yarnkite.core.image.srgb import SRGB_TO_LINEAR

# How much of the difference is made good with each still, and the most that one still may differ from the last.
_GAIN = 0.35
_MOST_STOPS = 1 / 3
_LEAST_STOPS = 1 / 12
# Of the brightest parts; lamps and the sun themselves may be without drawing.
_MOST_CLIPPED = 0.02
_CLIPPED_STOPS = 0.25


@dataclass(frozen=True)
class Measured:
    """What a still shows of its exposure: mean linear light from 0 to 1, and the share of pixels without drawing."""

    light: float
    clipped: float


def measured(jpeg: bytes) -> Measured:
    """Return what a JPEG shows of its exposure; raises ``Refusal`` (``broken_still``) for one that cannot be read."""
    grey = cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_REDUCED_GRAYSCALE_8)
    if grey is None:
        raise Refusal("broken_still", "The camera sent a still that cannot be read.")
    return Measured(float(np.mean(SRGB_TO_LINEAR[grey])), float(np.mean(grey >= 253)))


class Following:
    """Leads a camera's settings after the light, so that stills keep the brightness the first one had.

    The shutter is led first, up to ``longest_s``; then the sensitivity. Stills never differ by more than a third of a
    stop.
    """

    def __init__(
        self, abilities: Abilities, start: Settings, longest_s: float, *, darker_at_night: float = 0.25
    ) -> None:
        self._exposures = sorted(one for one in abilities.exposures_s if one <= longest_s) or [start.exposure_s]
        self._sensitivities = sorted(abilities.sensitivities) or [start.sensitivity]
        self._darker = darker_at_night
        self._first: tuple[float, float] | None = None
        self._wish = stops(start)
        self.settings = start

    def after(self, seen: Measured) -> Settings:
        """Return how to expose the next still, from what the last one showed."""
        light = max(seen.light, 1e-4)
        scene = log2(light) - stops(self.settings)
        if self._first is None:
            self._first = (log2(light), scene)
        wanted, at_first = self._first
        # Night is not shown as bright as day: a part of what the scene lost stays lost.
        goal = wanted + self._darker * min(0.0, scene - at_first) - scene
        if seen.clipped > _MOST_CLIPPED:
            goal = min(goal, stops(self.settings) - _CLIPPED_STOPS)
        step = _GAIN * (goal - self._wish)
        self._wish += min(max(step, -_MOST_STOPS), _MOST_STOPS)
        best = self._nearest(self._wish)
        if abs(stops(best) - stops(self.settings)) >= _LEAST_STOPS:
            self.settings = self._limited(best)
        return self.settings

    def _nearest(self, wish: float) -> Settings:
        """Return the settings nearest a wish, at the lowest sensitivity that reaches it."""
        longest = self._exposures[-1]
        for sensitivity in self._sensitivities:
            if stops(Settings(longest, sensitivity)) >= wish - 0.17 or sensitivity == self._sensitivities[-1]:
                exposure = min(self._exposures, key=lambda one: abs(stops(Settings(one, sensitivity)) - wish))
                return Settings(exposure, sensitivity)
        raise AssertionError("a camera has a sensitivity")

    def _limited(self, wanted: Settings) -> Settings:
        """Return settings on the way to those wanted that are within a third of a stop of the present ones."""
        now, change = stops(self.settings), stops(wanted) - stops(self.settings)
        if abs(change) <= _MOST_STOPS + 0.05:
            return wanted
        every = [Settings(one, sensitivity) for sensitivity in self._sensitivities for one in self._exposures]
        near = [
            one for one in every if 0 < abs(stops(one) - now) <= _MOST_STOPS + 0.05 and (stops(one) - now) * change > 0
        ]
        return min(near, key=lambda one: (abs(stops(one) - stops(wanted)), one.sensitivity)) if near else self.settings


def stops(settings: Settings) -> float:
    """Return how much light settings gather, in stops against one second at ISO 100."""
    return log2(settings.exposure_s) + log2(settings.sensitivity / 100)
