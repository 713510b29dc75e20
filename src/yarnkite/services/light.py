"""Light: how it is made even, what the shot's light is like, and what makes a spot grey."""

from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.errors import NotFound
from yarnkite.core.image.pixels import peak
from yarnkite.core.image.srgb import to_codes, to_light
from yarnkite.core.light.adjustment import Adjustment, shown_codes
from yarnkite.core.light.colour import neutral_for
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.evening import Step
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.lighting import courses_of
from yarnkite.core.render.picture import picture
from yarnkite.services.check import of_shot_measured
from yarnkite.services.decisions import Change, resolved_with, with_change
from yarnkite.services.pictures import on_screen, read_from, spec_of_still
from yarnkite.services.running import Services
from yarnkite.store import shots, slots

_SPOT = 4
_PICKED_FROM = 960
_BINS = 64
_WORTH_SAYING = 0.004


@dataclass(frozen=True)
class LightCourse:
    """The light of a shot in stops, one value a still in order, as it is, as it will be, and what leads there.

    ``changing`` has what each setting is at each still that changes over the shot; ``steps`` are changes of the camera's
    exposure that are taken out; ``sentence`` says what is done, or that there is nothing to do.
    """

    measured: Floats
    planned: Floats
    gains: Floats
    changing: dict[str, list[float]]
    steps: list[Step]
    flicker_before: float
    flicker_after: float
    sentence: str


@dataclass(frozen=True)
class Tone:
    """``spread`` is how the light of all stills is spread from black to white, the most 1; ``curve`` what greys become."""

    spread: list[float]
    curve: list[float]


@dataclass(frozen=True)
class Neutral:
    """The settings that make a spot grey; ``reached`` is false where they do not go that far."""

    warmth: float
    tint: float
    reached: bool


def course(services: Services, shot_id: int, revision: int, change: Change) -> LightCourse:
    """Return how decisions make the light of a shot even; without any wish, what evening would find."""
    decisions = with_change(services, shot_id, revision, change)
    light, shot = decisions.light, shots.one(services.database, shot_id)
    found = slots.evening(services.database, shot, decisions).evening
    ids = [number for number, _ in slots.of_shot_whole(services.database, shot)]
    changing = {name: course for name, course in courses_of(light, ids).items() if light.settings[name].keyframes}
    return LightCourse(
        *(found.measured, found.planned, found.gains),
        {name: np.round(course, 3).tolist() for name, course in changing.items()},
        list(found.steps),
        *found.flicker,
        sentence=_said(light, found.flicker, len(found.steps), found.gains),
    )


def tone(services: Services, shot_id: int, position: int, revision: int, change: Change) -> Tone:
    """Return what decisions make of each brightness at a still, beside how the light of the shot is spread."""
    light = with_change(services, shot_id, revision, change).light
    ids = [number for number, _ in slots.of_shot_whole(services.database, shots.one(services.database, shot_id))]
    if not 0 <= position < len(ids):
        raise NotFound("no_such_still", f"This shot has no still number {position + 1}.")
    values = {name: float(course[position]) for name, course in courses_of(light, ids).items()}
    curve = shown_codes(Adjustment(**values), _BINS + 1) / 65535
    return Tone(_spread(services, shot_id), [float(code) for code in curve])


def _spread(services: Services, shot_id: int) -> list[float]:
    measured = of_shot_measured(services, shot_id).blocks
    if not measured.size:
        return [0.0] * _BINS
    codes = to_codes(np.exp2(np.asarray(measured, float).reshape(-1)))
    counts, _ = np.histogram(codes, bins=_BINS, range=(0, 1))
    return [float(count) for count in counts / counts.max()]


def neutral_at(
    services: Services, shot_id: int, position: int, at: tuple[float, float], revision: int, change: Change
) -> Neutral:
    """Return what makes a spot (x, y in shares of the frame) of a still grey, by the median of a few pixels."""
    made = resolved_with(services, shot_id, revision, change.model_copy(update={"light": Light()}))
    frames = ClipFrames(made.recipe)
    spec, _ = spec_of_still(services, shot_id, frames, made, position)
    size = on_screen(frames.size, _PICKED_FROM)
    image = picture(spec, size, read=read_from(services.workspace.proxies))
    height, width = image.shape[:2]
    x, y = min(width - 1, int(at[0] * width)), min(height - 1, int(at[1] * height))
    spot = image[max(0, y - _SPOT) : y + _SPOT + 1, max(0, x - _SPOT) : x + _SPOT + 1].reshape(-1, 3)
    light = to_light(np.median(spot, axis=0) / peak(image))
    warmth, tint = neutral_for(np.maximum(light, 1e-5))
    return Neutral(warmth, tint, reached=abs(warmth) < 250 and abs(tint) < 60)


def _said(light: Light, flicker: tuple[float, float], steps: int, gains: Floats) -> str:
    even, said = light.even, []
    if even.flicker:
        before, after = flicker
        said.append(
            f"Flicker of {before:.2f} stops becomes {after:.3f}."
            if before >= _WORTH_SAYING
            else "There is no flicker worth the name."
        )
    if even.steps:
        many = "one change" if steps == 1 else f"{steps:,} changes"
        said.append(f"It takes out {many} of exposure." if steps else "No change of exposure was found.")
    if said and len(gains) and np.abs(gains).max() >= _WORTH_SAYING:
        said.append(f"Stills get {gains.min():+.2f} to {gains.max():+.2f} stops.".replace("-", "−"))
    return " ".join(said)
