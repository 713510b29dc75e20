"""What was decided about single stills' pace when shots are split or joined."""

from collections.abc import Collection, Sequence

from yarnkite.core.pace.decisions import Pace, Thin


def pace_of_part(pace: Pace, mine: Collection[int]) -> Pace:
    """Return the pace of a part of a shot, by the ids of its stills; where none of them was picked, all are used."""
    longer = tuple(one for one in pace.longer if one.still in mine)
    thin = pace.thin
    if thin.way == "picked":
        picked = tuple(still for still in thin.stills if still in mine)
        thin = thin.model_copy(update={"stills": picked}) if picked else Thin()
    return pace.model_copy(update={"longer": longer, "thin": thin})


def pace_of_both(pace: Pace, ids: Sequence[int], other: Pace, others: Sequence[int]) -> Pace:
    """Return the pace of two shots joined; if some stills of one were picked, the other goes on using all of its own."""
    longer = (*pace.longer, *other.longer)
    thin, theirs = pace.thin, other.thin
    if "picked" in (thin.way, theirs.way):
        mine = thin.stills if thin.way == "picked" else tuple(ids)
        more = theirs.stills if theirs.way == "picked" else tuple(others)
        every = thin.every if thin.way == "picked" else theirs.every
        thin = Thin(way="picked", every=every, stills=(*mine, *more))
    return pace.model_copy(update={"longer": longer, "thin": thin})
