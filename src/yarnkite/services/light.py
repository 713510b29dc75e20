"""Light: how it is made even, what the shot's light and colours are like, and what makes a spot grey."""

from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.frozen import Size
from yarnkite.core.image.pixels import EightBit, ImageArray, as_sixteen, peak
from yarnkite.core.image.scene import light_before
from yarnkite.core.image.srgb import to_codes, to_light
from yarnkite.core.image.still_map import StillMap
from yarnkite.core.light.adjustment import Adjustment, clipped_shares, shown_codes
from yarnkite.core.light.areas import Area, Points, Stroke, stroke_text
from yarnkite.core.light.circle import ColourSpot, rim, spots_of
from yarnkite.core.light.colour import neutral_for
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.evening import Evening, Step
from yarnkite.core.light.grade import numbers_of
from yarnkite.core.light.lens_profile import KnownLens, known_lenses
from yarnkite.core.light.mask import limited, mask_on
from yarnkite.core.light.oklab import hue_of, to_oklab
from yarnkite.core.light.overlay_mask import area_mask, clipped_mask, edge_mask
from yarnkite.core.light.sharpening import edges
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.frame_spec import FrameSpec
from yarnkite.core.render.lighting import courses_of
from yarnkite.core.render.picture import picture, still_map_of
from yarnkite.resolve.light import adjustments_of_shot, camera_of_shot, evening_of_shot
from yarnkite.resolve.slots import not_in_clip
from yarnkite.services.check import of_shot_measured
from yarnkite.services.decisions import Change, resolved_with, with_change
from yarnkite.services.pictures import on_screen, read_from, spec_of_still
from yarnkite.services.running import Services
from yarnkite.store import shots, snapshots

_SPOT = 4
_PICKED_FROM = 960
_JUDGED_FROM, _COLOURS_FROM = 640, 240
_BINS = 64
_RIM = 72
_WORTH_SAYING = 0.004
_CLIPPED_CODE = 0.985
_WORST_OF = 600

# Enough for a plot as large as a button.
_WAY_PLACES = 48


@dataclass(frozen=True)
class LightCourse:
    """The light of a shot in stops, one value a still in order, as it is, as it will be, and what leads there.

    ``changing`` has what each setting is at each still that changes over the shot, by its path; ``steps`` are changes
    of the camera's exposure that are taken out; ``ways`` are the courses for each way they can be laid over the shot,
    at a few places, evenly; ``sentence`` says what is done, or that there is nothing to do.
    """

    measured: Floats
    planned: Floats
    gains: Floats
    changing: dict[str, list[float]]
    steps: list[Step]
    flicker_before: float
    flicker_after: float
    ways: dict[str, list[float]]
    sentence: str


@dataclass(frozen=True)
class Tone:
    """``spread`` is how the light of all stills is spread from black to white, the most 1; ``curve`` what greys
    become."""

    spread: list[float]
    curve: list[float]


@dataclass(frozen=True)
class Neutral:
    """The settings that make a spot grey; ``reached`` is false where they do not go that far."""

    warmth: float
    tint: float
    reached: bool


@dataclass(frozen=True)
class Clipped:
    """Which share of a still's pixels is at one end, and the position of that still."""

    position: int
    share: float


@dataclass(frozen=True)
class Clipping:
    """What is clipped in a still, and in the still of the shot that is worst at each end."""

    dark: float
    bright: float
    worst_dark: Clipped
    worst_bright: Clipped


@dataclass(frozen=True)
class Circle:
    """The colours a still has, and the colours of the circle's rim, evenly from hue 0 on."""

    spots: list[ColourSpot]
    rim: list[str]


@dataclass(frozen=True)
class Camera:
    """What the stills say of the light and the lens: kelvin where they are balanced for a measured light.

    ``coldest`` and ``warmest`` are the lights in kelvin that stills are balanced for, where these differ.
    """

    mired: float
    kelvin: float | None
    coldest: float | None
    warmest: float | None
    lens: str
    profile: str | None


@dataclass(frozen=True)
class Laid:
    """How a frame lies on a still, both in shares: x = a u + b v + c and y = d u + e v + f, one way and the other."""

    to_still: list[float]
    to_frame: list[float]
    aspect: float


@dataclass(frozen=True)
class Brushing:
    """A brush: its width as a share of the frame's, how soft it is, and whether it takes away."""

    width: float
    softness: float
    erases: bool


def course(services: Services, shot_id: int, revision: int, change: Change) -> LightCourse:
    """Return how decisions make the light of a shot even; without any wish, what evening would find."""
    decisions = with_change(services, shot_id, revision, change)
    light, shot = decisions.light, shots.one(services.database, shot_id)
    found = evening_of_shot(services.database, shot, decisions)
    ids = snapshots.of_shot(services.database, shot).ids
    settings = light.settings
    changing = {path: course for path, course in courses_of(light, ids).items() if settings[path].keyframes}
    return LightCourse(
        *(found.measured, found.planned, found.gains),
        {path: np.round(course, 3).tolist() for path, course in changing.items()},
        list(found.steps),
        *found.flicker,
        ways={name: _few(one) for name, one in found.ways.items()},
        sentence=_said(light, found),
    )


def _few(course: Floats) -> list[float]:
    """Return a course at a few places, evenly from the first still to the last."""
    places = np.rint(np.linspace(0, len(course) - 1, min(len(course), _WAY_PLACES))).astype(int)
    return [float(one) for one in course[places].round(3)]


def tone(services: Services, shot_id: int, position: int, revision: int, change: Change, area: int | None) -> Tone:
    """Return what decisions make of each brightness at a still, of an area alone if it is given, beside how the light
    of the shot is spread."""
    light = with_change(services, shot_id, revision, change).light
    stills = snapshots.of_shot(services.database, shots.one(services.database, shot_id))
    stills.at(position)
    values = {path: float(course[position]) for path, course in courses_of(light, stills.ids).items()}
    if area is None:
        numbers = numbers_of(light, values)
    else:
        numbers = numbers_of(_area(light, area).grade, values, f"areas.{area}.grade.")
    of_scene = area is None and camera_of_shot(services.database, shots.one(services.database, shot_id)).is_measured
    curve = shown_codes(Adjustment(**numbers), _BINS + 1, of_scene=of_scene) / 65535
    return Tone(_spread(services, shot_id), [float(code) for code in curve])


def _area(light: Light, number: int) -> Area:
    if not 0 <= number < len(light.areas):
        raise NotFound("no_such_area", "This area does not exist any more.")
    return light.areas[number]


def _spread(services: Services, shot_id: int) -> list[float]:
    version = snapshots.state(services.database, shot_id)
    return services.database.cached(("spread", version), lambda: _spread_now(services, shot_id), lambda _: 3_000)


def _spread_now(services: Services, shot_id: int) -> list[float]:
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
    spot = _spot(services, shot_id, position, at, revision, change.model_copy(update={"light": Light()}))
    camera = camera_of_shot(services.database, shots.one(services.database, shot_id))
    light = light_before(to_light(spot)) if camera.is_measured else to_light(spot)
    warmth, tint = neutral_for(np.maximum(light, 1e-5), camera.mired)
    return Neutral(warmth, tint, reached=abs(warmth) < 250 and abs(tint) < 60)


def hue_at(
    services: Services, shot_id: int, position: int, at: tuple[float, float], revision: int, change: Change
) -> float:
    """Return the hue, in degrees of Oklab, of a spot (x, y in shares of the frame) of a still before areas change
    it."""
    light = with_change(services, shot_id, revision, change).light.model_copy(update={"areas": (), "table": None})
    spot = _spot(services, shot_id, position, at, revision, change.model_copy(update={"light": light}))
    return round(float(hue_of(to_oklab(spot[None]))[0]), 1) % 360


def _spot(
    services: Services, shot_id: int, position: int, at: tuple[float, float], revision: int, change: Change
) -> Points:
    """Return the median code values 0 … 1 of a few pixels around a spot of a frame."""
    image = _shown(services, shot_id, position, revision, change, _PICKED_FROM, quickly=False)
    height, width = image.shape[:2]
    x, y = min(width - 1, int(at[0] * width)), min(height - 1, int(at[1] * height))
    spot = image[max(0, y - _SPOT) : y + _SPOT + 1, max(0, x - _SPOT) : x + _SPOT + 1].reshape(-1, 3)
    return np.asarray(np.median(spot, axis=0) / peak(image), np.float64)


def clipping(services: Services, shot_id: int, position: int, revision: int, change: Change) -> Clipping:
    """Return what is clipped in a still, and in those that are worst: they are found by their blocks, then looked
    at."""
    here = clipped_shares(_shown(services, shot_id, position, revision, change, _JUDGED_FROM))
    dark, bright = _worst(services, shot_id, revision, change, position)
    return Clipping(
        *here,
        worst_dark=Clipped(dark, clipped_shares(_shown(services, shot_id, dark, revision, change, _JUDGED_FROM))[0]),
        worst_bright=Clipped(
            bright, clipped_shares(_shown(services, shot_id, bright, revision, change, _JUDGED_FROM))[1]
        ),
    )


def _worst(services: Services, shot_id: int, revision: int, change: Change, position: int) -> tuple[int, int]:
    """Return the positions of the stills that most likely have the most at the dark and at the bright end."""
    measured = of_shot_measured(services, shot_id)
    if not measured.blocks.size:
        return position, position
    made = resolved_with(services, shot_id, revision, change)
    shot = shots.one(services.database, shot_id)
    adjustments = adjustments_of_shot(services.database, shot, made.decisions)
    ids = snapshots.of_shot(services.database, shot).ids
    out = not_in_clip(services.database, shot, made.decisions.check)
    of_scene = camera_of_shot(services.database, shot).is_measured
    curves: dict[Adjustment, Floats] = {}
    codes = to_codes(np.exp2(np.asarray(measured.blocks, float).reshape(len(measured.blocks), -1)))
    dark, bright = np.full(len(codes), -1.0), np.full(len(codes), -1.0)
    # Of a long shot some stills will do: which one is worst does not hang on its neighbour.
    every = max(1, len(codes) // _WORST_OF)
    for place, number in enumerate(ids[: len(codes)]):
        if number in out or place % every:
            continue
        adjustment = adjustments.get(number, Adjustment()).of_the_whole
        if adjustment not in curves:
            curves[adjustment] = shown_codes(adjustment, 257, of_scene=of_scene) / 65535
        shown = np.interp(codes[place], np.linspace(0, 1, 257), curves[adjustment])
        # Blocks are means: what is nearly there counts by how near it is.
        dark[place] = (shown <= 1 - _CLIPPED_CODE).mean() - 0.01 * np.percentile(shown, 5)
        bright[place] = (shown >= _CLIPPED_CODE).mean() + 0.01 * np.percentile(shown, 95)
    return int(np.argmax(dark)), int(np.argmax(bright))


def circle(services: Services, shot_id: int, position: int, revision: int, change: Change) -> Circle:
    """Return the colours of a still as they are before parts of the circle are pulled."""
    light = with_change(services, shot_id, revision, change).light
    plain = change.model_copy(update={"light": light.model_copy(update={"hues": (), "monochrome": False, "areas": ()})})
    return Circle(spots_of(_shown(services, shot_id, position, revision, plain, _COLOURS_FROM)), rim(_RIM))


def camera(services: Services, shot_id: int) -> Camera:
    """Return what a shot's stills say of the light they were taken in, and of their lens."""
    found = camera_of_shot(services.database, shots.one(services.database, shot_id))
    kelvin = 1e6 / found.mired if found.is_measured else None
    ends = [1e6 / one for one in (*found.balances.values(), found.mired)] if found.balances else []
    profile = found.profile.name if found.profile else None
    return Camera(found.mired, kelvin, max(ends, default=None), min(ends, default=None), found.lens, profile)


def lenses(services: Services, shot_id: int, words: str) -> list[KnownLens]:
    """Return the lenses of the database whose maker and model hold all of some words; raises ``NotFound``."""
    shots.one(services.database, shot_id)
    return known_lenses(words)


def overlay_mask(
    services: Services, shot_id: int, position: int, revision: int, change: Change, width: int, kind: str
) -> EightBit:
    """Return what is laid over the stage, RGBA: where an area is, what is clipped, where sharpening works.

    ``kind`` is ``clipped``, ``sharpening``, or the number of an area.
    """
    made = resolved_with(services, shot_id, revision, change)
    frames = ClipFrames(made.recipe)
    spec, _ = spec_of_still(services, shot_id, frames, made, position)
    size = on_screen(frames.size, width)
    if kind == "clipped":
        return clipped_mask(picture(spec, size, read=read_from(services.workspace.proxies, quickly=True)))
    if kind == "sharpening":
        image = picture(spec, size, read=read_from(services.workspace.proxies, quickly=True))
        return edge_mask(edges(as_sixteen(image), size.width / frames.size.width))
    return _area_mask(services, made.decisions.light, spec, size, int(kind))


def _area_mask(services: Services, light: Light, spec: FrameSpec, size: Size, number: int) -> EightBit:
    mask = _area(light, number).mask
    place = still_map_of(spec, size)
    shares = mask_on(mask, place)
    if mask.has_limits:
        image = as_sixteen(picture(spec, size, read=read_from(services.workspace.proxies, quickly=True)))
        (left, right), (top, bottom) = place.columns, place.rows
        shares = limited(shares, mask, np.ascontiguousarray(image[top:bottom, left:right]))
    whole = np.zeros((size.height, size.width), np.float32)
    whole[slice(*place.rows), slice(*place.columns)] = shares
    return area_mask(whole)


def _shown(
    services: Services, shot_id: int, position: int, revision: int, change: Change, width: int, *, quickly: bool = True
) -> ImageArray:
    made = resolved_with(services, shot_id, revision, change)
    frames = ClipFrames(made.recipe)
    spec, _ = spec_of_still(services, shot_id, frames, made, position)
    return picture(spec, on_screen(frames.size, width), read=read_from(services.workspace.proxies, quickly=quickly))


def _said(light: Light, found: Evening) -> str:
    even, said = light.even, []
    steps, gains = len(found.steps), found.gains
    if even.flicker:
        before, after = found.flicker
        said.append(
            f"Flicker of {before:.2f} stops becomes {after:.3f}."
            if before >= _WORTH_SAYING
            else "There is no flicker worth the name."
        )
    if even.steps or even.switched:
        many = "one change" if steps == 1 else f"{steps:,} changes"
        kind = "exposure" if even.steps and not even.switched else "light"
        said.append(f"It takes out {many} of {kind}." if steps else f"No change of {kind} was found.")
    if even.colour:
        before, after = found.colour_flicker
        said.append(f"Colour that strays by {before:.3f} stops strays by {after:.3f}.")
    if even.bands:
        most = float(np.abs(found.bands).max()) if len(found.bands) else 0.0
        said.append(
            f"Bands of up to {most:.2f} stops are taken out." if most >= _WORTH_SAYING else "There are no bands."
        )
    if said and len(gains) and np.abs(gains).max() >= _WORTH_SAYING:
        said.append(f"Stills get {gains.min():+.2f} to {gains.max():+.2f} stops.".replace("-", "−"))
    return " ".join(said)


def laid(services: Services, shot_id: int, position: int, revision: int, change: Change) -> Laid:
    """Return how a frame that shows a still lies on it; a lens that bends makes it a little less than exact."""
    place, size = _still_map(services, shot_id, position, revision, change)
    corners = np.array([[0.5, 0.5], [0.75, 0.5], [0.5, 0.75]])
    x, y = place.of_points(corners[:, 0] * size.width, corners[:, 1] * size.height)
    right, down = ((x[1] - x[0]) * 4, (y[1] - y[0]) * 4), ((x[2] - x[0]) * 4, (y[2] - y[0]) * 4)
    there = np.array([[right[0], down[0], 0.0], [right[1], down[1], 0.0], [0.0, 0.0, 1.0]])
    there[:2, 2] = np.array([x[0], y[0]]) - there[:2, :2] @ (0.5, 0.5)
    back = np.linalg.inv(there)
    return Laid(
        [float(one) for one in there[:2].reshape(-1)], [float(one) for one in back[:2].reshape(-1)], place.aspect
    )


def stroke(
    services: Services, shot_id: int, position: int, revision: int, change: Change, points: Points, brush: Brushing
) -> Stroke:
    """Return the stroke of a brush over a frame that shows a still: where it lies in the still.

    ``points`` are shares of the frame, and so is the brush's width.
    """
    place, size = _still_map(services, shot_id, position, revision, change)
    x, y = place.of_points(points[:, 0] * size.width, points[:, 1] * size.height)
    middle_x, middle_y = place.of_points(np.array([0.5, 0.6]) * size.width, np.full(2, 0.5 * size.height))
    # As wide in the still's own widths, whichever way the frame lies on it.
    wide = float(np.hypot(middle_x[1] - middle_x[0], (middle_y[1] - middle_y[0]) / place.aspect) / 0.1)
    return Stroke(
        points=stroke_text(np.column_stack([x, y])),
        width=float(np.clip(brush.width * wide, 0.002, 1.0)),
        softness=brush.softness,
        erases=brush.erases,
    )


def _still_map(services: Services, shot_id: int, position: int, revision: int, change: Change) -> tuple[StillMap, Size]:
    made = resolved_with(services, shot_id, revision, change)
    frames = ClipFrames(made.recipe)
    spec, _ = spec_of_still(services, shot_id, frames, made, position)
    return still_map_of(spec, frames.size), frames.size
