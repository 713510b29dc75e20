"""Ratings: what a person decided here counts more than what files and sidecars say."""

from collections.abc import Iterable, Mapping, Sequence

from yarnkite.core.base.wording import counted
from yarnkite.core.check.decisions import Check, Rated


def rated(check: Check, stills: Iterable[int], rating: int | None) -> Check:
    """Return the decisions with a rating for stills, by id; nothing stands for what files and sidecars say."""
    chosen = set(stills)
    others = [one for one in check.rated if one.still not in chosen]
    new = [] if rating is None else [Rated(still=still, rating=rating) for still in sorted(chosen)]
    return check.changed(rated=[*others, *new])


def ratings(check: Check, said: Mapping[int, int | None]) -> dict[int, int]:
    """Return the rating of each still that has one, by id; ``said`` is what files and sidecars say of stills."""
    every = {**said, **{one.still: one.rating for one in check.rated}}
    return {still: rating for still, rating in every.items() if rating}


def ratings_sentence(every: Sequence[int | None]) -> str:
    """Say how many stills files and sidecars rate, or nothing if none is rated."""
    good, rejected = sum((one or 0) > 0 for one in every), sum(one == -1 for one in every)
    parts = [f"{good:,} rated" if good else "", f"{rejected:,} rejected" if rejected else ""]
    return " and ".join(part for part in parts if part)


def written_sentence(changed: int, new: int) -> str:
    """Say what would be written beside the stills."""
    parts = [
        f"{counted(changed, 'sidecar')} beside the stills {'gets' if changed == 1 else 'get'} another rating and "
        f"{'keeps' if changed == 1 else 'keep'} all else"
        if changed
        else "",
        f"{counted(new, 'sidecar')} {'is' if new == 1 else 'are'} new" if new else "",
    ]
    said = ", ".join(part for part in parts if part)
    return f"{said}. The stills themselves are not touched." if said else "The sidecars say the same already."
