"""What becomes of a reel when its shots do: a split, a join, in which the video stays what it was as far as it can."""

from collections.abc import Mapping, Sequence
from itertools import groupby

from yarnkite.core.reel.decisions import Join, Part, Picture, Reel


def after_split(
    reel: Reel, shot: int, ids: Sequence[int], shot_of: Mapping[int, int], versions: Mapping[tuple[int, int], int]
) -> Reel:
    """Return a reel after stills of a shot became shots of their own.

    ``ids`` are the shot's stills as they were in order, ``shot_of`` the shot each belongs to now, ``versions`` which
    version of such a shot stands for one of the first. A part that showed the
    shot becomes as many as its stills are scattered over, one behind the other; beside other pictures the longest run
    stays.
    """
    parts: list[Part] = []
    free = max((part.id for part in reel.parts), default=0) + 1
    for part in reel.parts:
        if all(picture.shot != shot for picture in part.pictures):
            parts.append(part)
            continue
        if len(part.pictures) > 1:
            longest = tuple(_longest(picture, shot, ids, shot_of, versions) for picture in part.pictures)
            parts.append(part.model_copy(update={"pictures": longest}))
            continue
        pieces = _pieces(part.pictures[0], ids, shot_of, versions)
        for number, picture in enumerate(pieces):
            last = number == len(pieces) - 1
            update = {"pictures": (picture,), "join": part.join if last else Join()}
            parts.append(part.model_copy(update=update if number == 0 else update | {"id": free}))
            free += bool(number)
    return reel.model_copy(update={"parts": tuple(parts)})


def after_join(
    reel: Reel, shot: int, ids: Sequence[int], other: int, others: Sequence[int], versions: Mapping[int, int]
) -> Reel:
    """Return a reel after a shot's stills were put into another: each part goes on showing what it showed.

    ``ids`` and ``others`` are the stills each had in order; ``versions`` says which version of the shot stands for one
    of the other's.
    """

    def followed(picture: Picture) -> Picture:
        if picture.shot not in (shot, other):
            return picture
        own = others if picture.shot == other else ids
        version = versions.get(picture.version or 0) if picture.shot == other else picture.version
        begin = picture.begin if picture.begin in own or not own else own[0]
        end = picture.end if picture.end in own or not own else own[-1]
        return picture.model_copy(update={"shot": shot, "version": version, "begin": begin, "end": end})

    parts = (
        part.model_copy(update={"pictures": tuple(followed(picture) for picture in part.pictures)})
        for part in reel.parts
    )
    return reel.model_copy(update={"parts": tuple(parts)})


def _pieces(
    picture: Picture, ids: Sequence[int], shot_of: Mapping[int, int], versions: Mapping[tuple[int, int], int]
) -> list[Picture]:
    """Return a picture as the runs of stills that belong to one shot now, in order."""
    first = ids.index(picture.begin) if picture.begin in ids else 0
    last = ids.index(picture.end) if picture.end in ids else len(ids) - 1
    runs = [
        (owner, list(run))
        for owner, run in groupby(ids[first : last + 1], key=lambda still: shot_of.get(still, picture.shot))
    ]
    if not runs:
        return [picture]
    made = []
    for owner, run in runs:
        whole = [still for still in ids if shot_of.get(still, picture.shot) == owner]
        update = {
            "shot": owner,
            "version": picture.version if owner == picture.shot else versions.get((owner, picture.version or 0)),
            "begin": None if run[0] == whole[0] else run[0],
            "end": None if run[-1] == whole[-1] else run[-1],
        }
        made.append(picture.model_copy(update=update))
    return made


def _longest(
    picture: Picture,
    shot: int,
    ids: Sequence[int],
    shot_of: Mapping[int, int],
    versions: Mapping[tuple[int, int], int],
) -> Picture:
    if picture.shot != shot:
        return picture
    pieces = _pieces(picture, ids, shot_of, versions)
    places = {still: place for place, still in enumerate(ids)}

    def length(piece: Picture) -> int:
        own = [still for still in ids if shot_of.get(still, shot) == piece.shot]
        first = places[piece.begin] if piece.begin in places else places[own[0]]
        last = places[piece.end] if piece.end in places else places[own[-1]]
        return last - first

    return max(pieces, key=length)


def stretch_of(stills: Sequence[int], order: Mapping[int, int], begin: int | None, end: int | None) -> tuple[int, int]:
    """Return the first and last slot of a stretch from one still to another, by ids.

    ``stills`` has the still of each slot, ``order`` each still's place in the shot. A still that is not in the clip
    gives way to the next that is; one that is not in the shot any more to the clip's own end.
    """
    places = [order.get(still, -1) for still in stills]
    first = order.get(begin) if begin is not None else None
    last = order.get(end) if end is not None else None
    if first is not None and last is not None and first > last:
        first, last = last, first
    inside = [
        slot
        for slot, place in enumerate(places)
        if (first is None or place >= first) and (last is None or place <= last)
    ]
    return (inside[0], inside[-1]) if inside else (0, len(stills) - 1)
