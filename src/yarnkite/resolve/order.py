"""The candidate orders of a shot, and what breaks the order it is in."""

from yarnkite.core.order.analysis import Analysis, analyse
from yarnkite.core.order.breaks import Break, breaks
from yarnkite.core.order.decisions import Order
from yarnkite.store import order
from yarnkite.store.database import Database
from yarnkite.store.order import InFolder
from yarnkite.store.snapshots import content_version


def analysis_of_shot(database: Database, shot_id: int, decided: Order) -> tuple[Analysis, list[Break]]:
    """Return the candidate orders of a shot, and what breaks the order it is in."""
    with database.transaction() as cursor:
        version = content_version(cursor, shot_id)
        found = order.read(database, cursor, shot_id, version)
    # By hand is no candidate: a list of thousands of stills need not be part of what it is cached by.
    return database.cached(
        ("orders", version, decided.group),
        lambda: analysis_from(found, decided),
        lambda made: 200 * (1 + len(found.taken)),
    )


def analysis_from(found: InFolder, decided: Order) -> tuple[Analysis, list[Break]]:
    """Return what ``analysis_of_shot`` does, from what was read."""
    analysis = analyse(found.taken, decided.group)
    return analysis, breaks(found.taken, found.in_order, analysis.numbering)
