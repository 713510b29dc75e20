"""What was decided about single stills' pace when shots are split or joined."""

from collections.abc import Collection, Sequence

from yarnkite.core.pace.decisions import Pace, Thin


def pace_of_part(pace: Pace, mine: Collection[int]) -> Pace:
    """Return the pace of a part of a shot, by the ids of its stills; where none of them was picked, all are used."""
    longer = tuple(one for one in pace.longer if one.still in mine)
    picked = tuple(still for still in pace.picked if still in mine)
    thin = Thin() if pace.thin.way == "picked" and not picked else pace.thin
    return pace.model_copy(update={"longer": longer, "thin": thin, "picked": picked})


def pace_of_both(pace: Pace, ids: Sequence[int], other: Pace, others: Sequence[int]) -> Pace:
    """Return the pace of two shots joined; if some stills of one were picked, the other goes on using all of its
    own."""
    longer = (*pace.longer, *other.longer)
    thin, theirs = pace.thin, other.thin
    if "picked" in (thin.way, theirs.way):
        mine = pace.picked if thin.way == "picked" else tuple(ids)
        more = other.picked if theirs.way == "picked" else tuple(others)
        every = thin.every if thin.way == "picked" else theirs.every
        chosen = {"thin": Thin(way="picked", every=every), "picked": (*mine, *more)}
        return pace.model_copy(update={"longer": longer} | chosen)
    return pace.model_copy(update={"longer": longer, "picked": ()})
