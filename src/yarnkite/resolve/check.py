"""What was measured of a shot's stills, put together for the check, and the findings that come of it."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.frozen import digest
from yarnkite.core.base.still import Still
from yarnkite.core.check.finding import Finding, ShotMeasurements, worst_first
from yarnkite.core.check.findings import findings, from_breaks, from_dirt, from_left_out
from yarnkite.core.light.exposure import exposure_value
from yarnkite.core.order.decisions import Order
from yarnkite.core.render.slots import alike
from yarnkite.resolve.order import analysis_from
from yarnkite.store import check as measured
from yarnkite.store import order, snapshots, stills
from yarnkite.store.check import CheckMeasures
from yarnkite.store.database import Database, Row

_MEASURES = ("red", "blue", "sharpness", "bright", "dark")
_LOOKED_IN = 48


def looked_for_dirt(every: Sequence[tuple[int, Still]]) -> tuple[str, list[Still]]:
    """Return the stills of a shot in which dirt is looked for, spread over it, with a mark that stands for them."""
    usual = alike([still for _, still in every])
    chosen = usual[:: max(1, len(usual) // _LOOKED_IN)]
    return digest(*(still.fingerprint for still in chosen)), chosen


def findings_of_shot(database: Database, shot: Row, decided: Order) -> tuple[ShotMeasurements, list[Finding], bool]:
    """Return a shot's measures, its findings, and whether all that they need is measured."""
    with database.transaction() as cursor:
        every = snapshots.read(database, cursor, shot)
        known = database.peek(("measurements", every.version))
        read = measured.measures(cursor, shot["id"]) if known is None else None
        sample, spots = measured.dirt_of(cursor, shot["id"])
        unreadable = [one for one in stills.left_out_of(cursor, shot["id"]) if one["kind"] == "unreadable"]
        names = tuple(one["name"] for one in unreadable)
        key = ("findings", every.version, sample, decided, names)
        in_folder = order.read(database, cursor, shot["id"], every.version)
    measurements, is_complete = (known, True) if read is None else measurements_from(read)
    if read is not None and is_complete:
        # While pairs are still being measured, what is known of them is not the last word.
        database.keep(("measurements", every.version), measurements, _weight(measurements))

    def make() -> list[Finding]:
        if not measurements.ids:
            return []
        breaks = analysis_from(in_folder, decided)[1]
        spoiled = from_left_out(measurements, [(one["name"], one["reason"]) for one in unreadable])
        of_stills = [*findings(measurements), *from_breaks(measurements, breaks)]
        return worst_first([*of_stills, *from_dirt(measurements, spots), *spoiled])

    found = database.cached((*key, is_complete), make, lambda made: 2_000 * (1 + len(made)))
    return measurements, found, is_complete and sample == looked_for_dirt(every.stills)[0]


def measurements_from(read: CheckMeasures) -> tuple[ShotMeasurements, bool]:
    """Return what was measured of a shot, put together, and whether all pairs of neighbours were."""
    found = read.rows
    numbers = [row["measures"] for row in found]
    neighbours = list(pairwise([row["fingerprint"] for row in found]))
    shifts = [read.pairs.get(pair, (0.0, 0.0, 0.0, 0.0)) for pair in neighbours]
    moves = np.array([(0.0, 0.0, 0.0, 0.0), *shifts][: len(found)]).reshape(len(found), 4)
    measurements = ShotMeasurements(
        ids=[row["id"] for row in found],
        names=[row["name"] for row in found],
        captured=[universal_time(row["captured_at"], row["utc_offset_min"]) for row in found],
        blocks=read.blocks,
        **{name: np.array([one[name] for one in numbers]) for name in _MEASURES},
        shifts=moves[:, :3],
        trust=moves[:, 3],
        exposure=np.array([exposure_value(row["aperture"], row["exposure_s"], row["sensitivity"]) for row in found]),
        dhashes=[int(one["dhash"], 16) for one in numbers],
        shapes=[(row["width"], row["height"], row["camera"]) for row in found],
        colours=read.colours,
    )
    return measurements, all(pair in read.pairs for pair in neighbours)


def _weight(measurements: ShotMeasurements) -> int:
    return int(measurements.blocks.nbytes + measurements.colours.nbytes) + 1_000 * len(measurements.ids)
