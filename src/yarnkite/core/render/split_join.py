"""What was decided about stills when their shots are split or joined: all of it that still has a meaning goes along."""

import re
from collections.abc import Collection, Sequence

from yarnkite.core.check.decisions import Check
from yarnkite.core.check.finding import OF_WHOLE_SHOT
from yarnkite.core.image.dust import MOST_SPOTS, DustSpot
from yarnkite.core.light.split_join import light_of_both, light_of_part
from yarnkite.core.move.split_join import Seen, move_of_both, move_of_part
from yarnkite.core.pace.split_join import pace_of_both, pace_of_part
from yarnkite.core.render.decisions import Decisions

_STILLS_OF_KEY = re.compile(r":(\d+)-(\d+)")
_BY_ID = ("aside", "bridged", "repeated")


def part_of(decisions: Decisions, ids: Sequence[int], own: Collection[int], seen: Seen = ()) -> Decisions:
    """Return what a part of a shot keeps of its decisions.

    ``ids`` are the shot's stills in order, ``own`` those of the part, ``seen`` is where its anchored points were seen.
    A stretch that ends outside the part is cut to it; one that leaves the part out altogether says nothing about it.
    """
    mine = set(own)
    check = decisions.check
    inside = set(_stretch(ids, check))
    stills = [still for still in ids if still in mine]
    slots_of = [still for still in stills if still in inside]
    decided = check.changed(
        **{name: [still for still in getattr(check, name) if still in mine] for name in _BY_ID},
        filled=[fill for fill in check.filled if fill.after in mine],
        notes=[note for note in check.notes if note.still in mine],
        rated=[one for one in check.rated if one.still in mine],
        dismissed=[key for key in check.dismissed if _belongs(key, mine)],
        begin=slots_of[0] if slots_of and slots_of[0] != stills[0] else None,
        end=slots_of[-1] if slots_of and slots_of[-1] != stills[-1] else None,
    )
    hand = tuple(still for still in decisions.order.hand if still in mine)
    pace = pace_of_part(decisions.pace, mine)
    return decisions.model_copy(
        update={
            "check": decided,
            "order": decisions.order.model_copy(update={"hand": hand}),
            "light": light_of_part(decisions.light, ids, mine),
            "move": move_of_part(decisions.move, stills, seen),
            "pace": pace,
        }
    )


def order_of_both(
    decisions: Decisions, ids: Sequence[int], other: Decisions, others: Sequence[int]
) -> tuple[int, ...] | None:
    """Return the order by hand of two shots' stills joined, or ``None`` where neither was put in order by hand."""
    if "hand" not in (decisions.order.by, other.order.by):
        return None
    return (*ids, *others)


def joined(
    decisions: Decisions, ids: Sequence[int], other: Decisions, others: Sequence[int], ordered: Sequence[int]
) -> Decisions:
    """Return the decisions of a shot once it has the stills of another as well.

    ``ids`` and ``others`` are the stills of each in its order, ``ordered`` all of them as they lie now. What the
    stretch of either shot left out stays out: at the ends by the stretch, between them by being set aside.
    """
    one, two = decisions.check, other.check
    slots_of = {*_stretch(ids, one), *_stretch(others, two)}
    places = [place for place, still in enumerate(ordered) if still in slots_of]
    first, last = (places[0], places[-1]) if places else (0, len(ordered) - 1)
    between = [still for still in ordered[first : last + 1] if still not in slots_of] if places else []
    check = one.changed(
        aside={*one.aside, *two.aside, *between},
        bridged={*one.bridged, *two.bridged},
        repeated={*one.repeated, *two.repeated},
        filled=[*one.filled, *two.filled],
        notes=[*one.notes, *two.notes],
        rated=[*one.rated, *two.rated],
        dust=[*one.dust, *(spot for spot in two.dust if not any(_is_one(spot, other) for other in one.dust))][
            :MOST_SPOTS
        ],
        dismissed=tuple(dict.fromkeys((*one.dismissed, *two.dismissed))),
        how=two.how if (two.bridged or two.filled) and not (one.bridged or one.filled) else one.how,
        begin=ordered[first] if first > 0 else None,
        end=ordered[last] if last < len(ordered) - 1 else None,
    )
    hand = order_of_both(decisions, ids, other, others)
    order = decisions.order if hand is None else decisions.order.model_copy(update={"by": "hand", "hand": hand})
    pace = pace_of_both(decisions.pace, ids, other.pace, others)
    light = light_of_both(decisions.light, ids, other.light, others)
    move = move_of_both(decisions.move, other.move)
    return decisions.model_copy(update={"check": check, "light": light, "move": move, "order": order, "pace": pace})


def _is_one(spot: DustSpot, other: DustSpot) -> bool:
    return spot.shape == other.shape and other.is_near(spot)


def _stretch(ids: Sequence[int], check: Check) -> Sequence[int]:
    first = ids.index(check.begin) if check.begin in ids else 0
    last = ids.index(check.end) if check.end in ids else len(ids) - 1
    return ids[first : last + 1] if first <= last else ids


def _belongs(key: str, mine: Collection[int]) -> bool:
    """Tell whether a finding is about a part of its shot: the shot as a whole, or a stretch of which an end lies in
    it."""
    found = _STILLS_OF_KEY.search(key)
    return found is not None and (
        key.startswith(tuple(f"{kind}:" for kind in OF_WHOLE_SHOT)) or int(found[1]) in mine or int(found[2]) in mine
    )
