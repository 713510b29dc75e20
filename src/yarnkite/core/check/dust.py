"""Spots of dust that are removed: which of a shot's decisions they are, and where they are told of."""

from collections.abc import Iterable, Sequence

from yarnkite.core.base.errors import Refusal
from yarnkite.core.check.decisions import Check
from yarnkite.core.check.finding import Finding
from yarnkite.core.image.dust import MOST_SPOTS, DustPlace, DustSpot

# A spot that was found is measured over a little more than it was found with: its edges fade.
_WIDER = 1.2
_NARROWEST, _WIDEST = 0.002, 0.12


def with_dust(check: Check, spots: Iterable[DustSpot]) -> Check:
    """Return decisions with spots removed from the picture; one at the place of another takes its place.

    Raises ``Refusal`` (``too_many_spots``) beyond 40.
    """
    kept = list(check.dust)
    for spot in spots:
        kept = [*without(kept, spot), spot]
    if len(kept) > MOST_SPOTS:
        raise Refusal(
            "too_many_spots", f"{MOST_SPOTS} spots are removed at most. Take one back first, or clean the sensor."
        )
    return check.changed(dust=kept)


def without(spots: Sequence[DustSpot], place: DustPlace | DustSpot) -> list[DustSpot]:
    """Return spots but those at a place."""
    return [spot for spot in spots if not spot.is_near(place)]


def place_of(finding: Finding) -> DustPlace:
    """Return where a finding of dirt is."""
    x, y = float(finding.evidence["x"]), float(finding.evidence["y"])
    width = float(finding.evidence.get("width", _NARROWEST))
    return DustPlace(x, y, min(_WIDEST, max(_NARROWEST, width * _WIDER)))


def is_removed(check: Check, finding: Finding) -> bool:
    """Tell whether the dirt a finding tells of is removed."""
    place = place_of(finding)
    return any(spot.is_near(place) for spot in check.dust)


def dust_sentence(spot: DustSpot) -> str:
    """Say where a spot is and what it takes."""
    return (
        f"{spot.x * 100:.0f} % from the left and {spot.y * 100:.0f} % from the top: took {spot.taken * 100:.0f} % of "
        "the light"
    )
