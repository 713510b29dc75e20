"""What interval suits: how long a thing takes to cross the view, and how long that shall last in the clip."""

from dataclasses import dataclass
from fractions import Fraction
from math import cos, radians

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.timecode import span_text
from yarnkite.core.plan.sums import usable_interval

_SHORTEST_S, _LONGEST_S = 0.001, 3.2e8
SKY_DEG_PER_H = 15.041  # the sky's turn against the ground: 360 degrees in a sidereal day of 23 h 56 min 4 s


@dataclass(frozen=True)
class Subject:
    """Something that moves through a view: ``crossing_s`` from its quickest to its slowest, in seconds a
    picture-width."""

    key: str
    name: str
    crossing_s: tuple[int, int]
    calm_s: int
    why: str


SUBJECTS: tuple[Subject, ...] = (
    Subject(
        "crowd", "people walking by", (6, 20), 1, "people look like people while they take a second or so to cross"
    ),
    Subject("traffic", "traffic, boats", (8, 60), 2, "quick things jump where they take less"),
    Subject("fast clouds", "clouds in a wind", (60, 240), 4, "low clouds; wide lenses make them slower"),
    Subject("slow clouds", "high or calm clouds", (400, 1500), 4, "high clouds seem to stand"),
    Subject("shadows", "shadows, moving light", (7200, 18000), 8, "a shadow crosses in some hours"),
    Subject("stars", "stars", (9000, 18000), 12, "the sky turns 15 degrees an hour: see the lens below"),
    Subject("plants", "plants growing, blossoms", (43200, 172800), 10, "shoots circle and lean within a day"),
    Subject("building", "a building site", (1_728_000, 5_184_000), 20, "what grows is the house: a storey takes weeks"),
)


def subject_of(key: str) -> Subject:
    """Return a subject by its key.

    Raises
    ------
    Refusal (``subject_not_known``)
    """
    for subject in SUBJECTS:
        if subject.key == key:
            return subject
    raise Refusal(
        "subject_not_known", f"“{key[:40]}” is not in the table. It has: {', '.join(one.key for one in SUBJECTS)}."
    )


def suiting(crossing_s: float, rate: Fraction, on_screen_s: float) -> Fraction:
    """Return the interval, in seconds, at which what crosses the view in ``crossing_s`` takes ``on_screen_s`` in the
    clip.

    Raises
    ------
    Refusal (``plan_not_possible``) where a time is below a thousandth of a second or longer than ten years
    """
    if not _SHORTEST_S <= crossing_s <= _LONGEST_S or not _SHORTEST_S <= on_screen_s <= _LONGEST_S:
        raise Refusal(
            "plan_not_possible",
            "How long something takes to cross is a thousandth of a second to ten years.",
        )
    return usable_interval(
        Fraction(crossing_s).limit_denominator(1000) / (Fraction(on_screen_s).limit_denominator(1000) * rate)
    )


def suiting_range(subject: Subject, rate: Fraction) -> tuple[Fraction, Fraction]:
    """Return the shortest and the longest interval, in seconds, that suit a subject at a rate."""
    low, high = subject.crossing_s
    return suiting(low, rate, subject.calm_s), suiting(high, rate, subject.calm_s)


def sky_crossing_s(view_width_deg: float, declination_deg: float = 0.0) -> float:
    """Return how long a star takes to cross a view of so many degrees, in seconds (none crosses near the pole)."""
    return view_width_deg / (SKY_DEG_PER_H * max(cos(radians(declination_deg)), 0.02)) * 3600


def suits_text(subject: Subject, rate: Fraction, interval_s: Fraction) -> tuple[str, bool]:
    """Say whether an interval suits a subject, and whether something is to be looked at."""
    low, high = suiting_range(subject, rate)
    wanted = f"{span_text(low)} to {span_text(high)}" if low != high else span_text(low)
    frames = [one / float(interval_s) for one in subject.crossing_s]
    crossing = f"{frames[0] / float(rate):.2g} to {frames[1] / float(rate):.2g} s"
    said = f"{subject.name[0].upper()}{subject.name[1:]} would cross the picture in {crossing} of the clip."
    if low <= interval_s <= high:
        return f"{said} That suits ({subject.why}).", False
    remark = "slow" if interval_s < low else "quick"
    return f"{said} That is {remark}: {wanted} between stills suits ({subject.why}).", True
