"""What was decided about movement when shots are split or joined: an anchored point stays anchored in each part."""

from collections.abc import Collection, Mapping, Sequence

from yarnkite.core.move.decisions import AnchoredPoint, Move, Place, PlaceAt

# For each anchored point, where it was seen, by still.
Seen = Sequence[Mapping[int, Place]]


def move_of_part(move: Move, stills: Sequence[int], seen: Seen) -> Move:
    """Return the movement of a part of a shot, ``stills`` its stills in order.

    A point that was pointed at elsewhere is said to be where it was seen in the part; one that was seen nowhere in it
    is not anchored there.
    """
    steady = move.steady
    if not steady.points and steady.reference is None:
        return move
    mine = set(stills)
    points = [_of_part(point, stills, mine, where) for point, where in _with_observations(steady.points, seen)]
    kept = tuple(one for one in points if one is not None)
    reference = steady.reference if steady.reference in mine else None
    return move.model_copy(update={"steady": steady.model_copy(update={"points": kept, "reference": reference})})


def move_of_both(move: Move, other: Move) -> Move:
    """Return the movement of two shots joined: that of the first, its points anchored in the stills of the other as
    well."""
    steady, theirs = move.steady, other.steady.points
    if not steady.points or not theirs:
        return move
    points = tuple(
        AnchoredPoint(places=(*one.places, *(theirs[number].places if number < len(theirs) else ())))
        for number, one in enumerate(steady.points)
    )
    return move.model_copy(update={"steady": steady.model_copy(update={"points": points})})


def _with_observations(points: Sequence[AnchoredPoint], seen: Seen) -> list[tuple[AnchoredPoint, Mapping[int, Place]]]:
    return [(point, seen[number] if number < len(seen) else {}) for number, point in enumerate(points)]


def _of_part(
    point: AnchoredPoint, stills: Sequence[int], mine: Collection[int], where: Mapping[int, Place]
) -> AnchoredPoint | None:
    places = tuple(one for one in point.places if one.still in mine)
    if not places:
        first = next((still for still in stills if still in where), None)
        if first is None:
            return None
        places = (PlaceAt(still=first, x=where[first].x, y=where[first].y),)
    return AnchoredPoint(places=places)
