"""How a shot's light is made even, what each still gets of it, and what the camera says of its light and its lens."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from statistics import median

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.still import Still
from yarnkite.core.image.camera_colour import IDENTITY
from yarnkite.core.image.lens import NO_PROFILE, Profile
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, Adjustment, SharedLight
from yarnkite.core.light.colour import DAYLIGHT_MIRED, rebalanced
from yarnkite.core.light.course import values_of
from yarnkite.core.light.cube import ColourTable
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.evening import Evening, Gain, evening
from yarnkite.core.light.exposure import exposure_value
from yarnkite.core.light.lens_profile import profile_by_choice, profile_of
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.lighting import adjustments_of, not_as_they_are, shared_light, what_sets_apart
from yarnkite.store import light as measured
from yarnkite.store import looks, snapshots
from yarnkite.store.database import Database, Row
from yarnkite.store.light import CameraNotes, LightMeasures
from yarnkite.store.snapshots import content_version

_USUAL_APERTURE = 5.6
# Balances that differ by less, in mired, are one.
_ALIKE = 0.05


@dataclass(frozen=True)
class ShotEvening:
    """The evening of a shot, one value a still in the order of ``ids``; nothing for one that was never measured."""

    ids: tuple[int, ...]
    evening: Evening

    @cached_property
    def gains(self) -> dict[int, Gain]:
        """What each still gets, by id."""
        return {number: self.evening.gain_of(place) for place, number in enumerate(self.ids)}


@dataclass(frozen=True)
class ShotCamera:
    """What a shot's stills say: the mired of the light they are balanced for, and what their lens is known to do.

    ``is_measured`` tells whether the stills say the light themselves; ``balances`` are the mired of those that say
    another than most, by id; ``lens`` is the name most of them give, ``name`` that of the camera, ``aperture`` the
    usual f-number.
    """

    mired: float
    is_measured: bool
    balances: Mapping[int, float]
    lens: str
    profile: Profile | None
    name: str
    aperture: float


@dataclass(frozen=True)
class LightRead:
    """What was read of a shot that its light is made of; nothing of what is not wished."""

    measures: LightMeasures | None = None
    table: ColourTable | None = None
    camera: CameraNotes | None = None


def read(database: Database, cursor: DictCursor, shot_id: int, version: str, light: Light) -> LightRead:
    """Read, within a transaction, what decisions about light need of a shot in the state ``version`` names."""
    if light.is_neutral:
        return LightRead()
    return LightRead(
        measured.read(database, cursor, shot_id, version) if light.even.is_wished else None,
        looks.table(database, cursor, light.table.digest) if light.table else None,
        measured.camera_notes(database, cursor, shot_id, version),
    )


def evening_of_shot(database: Database, shot: Row, decisions: Decisions) -> Evening:
    """Return how decisions make a shot's light even."""
    with database.transaction() as cursor:
        version = content_version(cursor, shot["id"])
        found = LightRead(
            measured.read(database, cursor, shot["id"], version),
            camera=measured.camera_notes(database, cursor, shot["id"], version),
        )
    return evening_from(database, found, decisions).evening


def adjustments_of_shot(database: Database, shot: Row, decisions: Decisions) -> dict[int, Adjustment]:
    """Return what decisions do to the light of each still of a shot, by id; nothing at all where light is left as it
    is."""
    with database.transaction() as cursor:
        stills = snapshots.read(database, cursor, shot)
        found = read(database, cursor, shot["id"], stills.version, decisions.light)
    return adjustments_from(database, found, stills.stills, decisions)


def camera_of_shot(database: Database, shot: Row) -> ShotCamera:
    """Return what a shot's stills say of the light they were taken in and of their lens."""
    with database.transaction() as cursor:
        notes = measured.camera_notes(database, cursor, shot["id"], content_version(cursor, shot["id"]))
    return camera_from(database, notes)


def evening_from(database: Database, found: LightRead, decisions: Decisions) -> ShotEvening:
    """Return how a shot's light is made even, from what was measured of it."""
    measures, check, even = found.measures, decisions.check, decisions.light.even
    is_one = decisions.light.one_balance and even.colour

    def make() -> ShotEvening:
        if measures is None or not len(measures.blocks):
            nothing = np.zeros(0)
            return ShotEvening((), Evening(nothing, nothing, nothing))
        ids = list(measures.ids)
        exposure = [exposure_value(*settings) for settings in measures.settings]
        spoiled = not_as_they_are(ids, check, measures.away)
        colours = np.array(measures.balance) if even.colour else None
        if colours is not None and is_one and found.camera is not None:
            colours = colours + _shifts(camera_from(database, found.camera), measures.ids)
        drawn = values_of(
            even.drawn, {still: place for place, still in enumerate(ids)}, np.arange(len(ids), dtype=float)
        )
        made = evening(
            *(measures.blocks, np.array(exposure, float), spoiled, even),
            colours=colours,
            drawn=drawn,
            blown=np.array(measures.blown),
        )
        return ShotEvening(measures.ids, made)

    key = ("evening", measures.version if measures else "", what_sets_apart(check), even, is_one)
    return database.cached(key, make, lambda made: 400 * (1 + len(made.ids)))


def _shifts(camera: ShotCamera, ids: Sequence[int]) -> Floats:
    """Return by how much one balance for all moves red and blue of each still against its green, in stops, shape
    (stills, 2)."""
    moved = np.zeros((len(ids), 2))
    for place, number in enumerate(ids):
        if number in camera.balances:
            red, green, blue = np.log2(rebalanced(camera.balances[number], camera.mired, IDENTITY) @ np.ones(3))
            moved[place] = red - green, blue - green
    return moved


def adjustments_from(
    database: Database, found: LightRead, stills: Sequence[tuple[int, Still]], decisions: Decisions
) -> dict[int, Adjustment]:
    """Return what each of a shot's stills gets, by id, from what was read of its light."""
    light = decisions.light
    balances: Mapping[int, float] = {}
    if light.one_balance and found.camera is not None:
        balances = camera_from(database, found.camera).balances
    gains: Mapping[int, Gain] = {}
    if found.measures is not None:
        gains = evening_from(database, found, decisions).gains
    return adjustments_of(light, stills, gains, balances)


def shared_light_from(database: Database, found: LightRead, light: Light) -> SharedLight:
    """Return what all stills of a shot share of their light."""
    if found.camera is None:
        return NO_SHARED_LIGHT
    camera = camera_from(database, found.camera)
    profile = camera.profile if light.lens is None else profile_by_choice(camera.name, light.lens, camera.aperture)
    return shared_light(light, found.table, camera.mired, profile or NO_PROFILE)


def camera_from(database: Database, notes: CameraNotes) -> ShotCamera:
    """Return what the stills of a shot say, put together."""

    def make() -> ShotCamera:
        said = {number: one for number, one in zip(notes.column("id"), notes.column("white_mired"), strict=True) if one}
        is_measured = len(said) * 2 > len(notes.rows)
        mired = round(median(said.values()), 2) if is_measured else DAYLIGHT_MIRED
        others = {number: round(one, 2) for number, one in said.items() if is_measured and abs(one - mired) > _ALIKE}
        lenses = notes.column("lens")
        named = Counter(zip(notes.column("camera"), lenses, strict=True)).most_common(1)
        camera, lens = named[0][0] if named else ("", "")
        focal, aperture = (
            [float(value) for value, own in zip(notes.column(name), lenses, strict=True) if own == lens and value]
            for name in ("focal_length_mm", "aperture")
        )
        usual = median(aperture or [_USUAL_APERTURE])
        profile = profile_of(camera, lens, median(focal), usual) if lens and focal else None
        return ShotCamera(mired, is_measured, others, lens, profile, camera, usual)

    return database.cached(("camera", notes.version), make, lambda made: 2_000 + 120 * len(made.balances))
