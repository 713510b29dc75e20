"""Length: the honest ways to a clip of a wanted length, and times that are typed turned into whole frames."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import OFFERED, nominal, rate_label
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.base.wording import ordinal
from yarnkite.core.pace.decisions import MOST_SKIPPED, Knot, Pace, Thin
from yarnkite.core.pace.schedule import Schedule

_LOWEST_RATE = 6
_LONGEST_HOLD = 1000
_SMOOTH_RATE = 20
_NEAR = Fraction(2, 100)
_SLOWEST = 0.05


@dataclass(frozen=True)
class Way:
    """A pace that comes near a wanted length: what is changed, how the clip looks then, and its exact length."""

    name: str
    sentence: str
    pace: Pace
    frames: int
    seconds: Fraction


def ways(stills: int, pace: Pace, wanted_s: Fraction, times: tuple[int, ...] = ()) -> list[Way]:
    """Return the ways to a clip of about ``wanted_s`` seconds, the most faithful first.

    Each is counted by the schedule itself. Raises ``Refusal`` (``length_not_usable``) for a length that is none.
    """
    if not 0 < wanted_s <= 24 * 3600:
        raise Refusal("length_not_usable", "Type a length between a frame and 24 hours, such as 12 s.")
    if not stills:
        raise Refusal("no_stills", "This shot has no stills. Bring some in first.")
    plain = pace.model_copy(update={"curve": (), "longer": (), "last": None})
    unbent = [plain] if plain == pace else [plain, pace]
    found: list[Way] = []
    for base in unbent:
        for name, sentence, tried in (
            *_by_rate(stills, base, wanted_s),
            *_by_thinning(stills, base, wanted_s),
            *_by_hold(stills, base, wanted_s),
            *_by_speed(stills, base, wanted_s),
        ):
            schedule = Schedule(stills, tried, times if tried.by_clock else ())
            if all(one.pace != tried for one in found):
                found.append(Way(name, sentence, tried, len(schedule), schedule.seconds))
        if found:
            break
    near = sorted(found, key=lambda way: (abs(way.seconds - wanted_s) > wanted_s * _NEAR, _strangeness(way)))
    return near[:4]


def frames_of(text: str, rate: Fraction) -> tuple[int, str]:
    """Read ``3``, ``3 frames`` or ``0.5 s`` as whole frames, with a sentence on the rounding where there was one.

    Raises ``Refusal`` (``hold_not_usable``).
    """
    match = re.fullmatch(r"\s*(\d+(?:[.,]\d+)?)\s*(s|sec|seconds?|f|frames?)?\s*", text, re.IGNORECASE)
    if match is None:
        raise Refusal("hold_not_usable", f"“{text}” is neither frames nor seconds. Write 3 or 0.5 s.")
    number, unit = Fraction(match[1].replace(",", ".")), (match[2] or "f").lower()
    exact = number * rate if unit.startswith("s") else number
    frames = max(1, int(exact + Fraction(1, 2)))
    if frames > 100_000:
        raise Refusal("hold_not_usable", f"“{text}” is longer than a still can stay. Write less than 100,000 frames.")
    if exact == frames:
        return frames, ""
    lasts = f"{float(frames / rate):.3f}".rstrip("0").rstrip(".")
    return (
        frames,
        f"{match[1]} {'s' if unit.startswith('s') else 'frames'} would "
        f"be {float(exact):.2f} frames; {frames} frames last {lasts} s.",
    )


_Try = tuple[str, str, Pace]


def _by_rate(stills: int, pace: Pace, wanted_s: Fraction) -> Iterator[_Try]:
    shown = len(Schedule(stills, pace.model_copy(update={"repeat": 1, "by_clock": False})))
    exact = shown / wanted_s
    rates = sorted((*OFFERED, Fraction(6), Fraction(8), Fraction(10), Fraction(12)), key=lambda rate: abs(rate - exact))
    rate = rates[0]
    if abs(shown / rate - wanted_s) > wanted_s * Fraction(12, 100):
        return
    look = "smooth" if rate >= _SMOOTH_RATE * pace.hold else "a stepping look"
    repeat = pace.repeat if rate >= _SMOOTH_RATE else max(1, -(-24 // nominal(rate)))
    tried = pace.model_copy(update={"rate": rate, "repeat": repeat if rate < _SMOOTH_RATE else 1})
    yield "another rate", f"{rate_label(rate)} frames a second, every still as now: {look}.", tried


def _by_thinning(stills: int, pace: Pace, wanted_s: Fraction) -> Iterator[_Try]:
    one_way = pace.model_copy(update={"thin": Thin(), "blend": pace.blend})
    whole = Schedule(stills, one_way).seconds
    if whole <= wanted_s:
        return
    # There and back shows its stills nearly twice.
    wanted_frames = wanted_s * pace.rate / pace.hold
    count = round(wanted_frames) if pace.direction != "there and back" else round((wanted_frames + 2) / 2)
    count = max(1, min(stills, count))
    step = Fraction(stills, count)
    text = f"{count:,} of the {stills:,} stills, evenly chosen: things move {float(step):.2g} × as fast"
    uneven = "" if step.denominator == 1 else "; where a step is one still longer, movement may tremble a little"
    yield "fewer stills", f"{text}{uneven}.", pace.model_copy(update={"thin": Thin(way="even", count=count)})
    every = round(step)
    if 2 <= every <= MOST_SKIPPED:
        exact = pace.model_copy(update={"thin": Thin(way="every", every=every)})
        text = f"Every {ordinal(every)} still: things move {every} × as fast, and evenly."
        yield "fewer stills", text, exact


def _by_hold(stills: int, pace: Pace, wanted_s: Fraction) -> Iterator[_Try]:
    alone = pace.model_copy(update={"hold": 1, "thin": Thin()})
    shortest = Schedule(stills, alone).seconds
    hold = round(wanted_s / shortest)
    if 1 <= hold <= _LONGEST_HOLD and hold != pace.hold:
        changes = pace.rate / hold
        look = (
            "each still once: smooth"
            if hold == 1
            else f"a new still {float(changes):.3g} times a second: {_stepping(changes)}"
        )
        yield (
            "another hold",
            f"All stills, {hold} frames each: {look}.".replace("1 frames", "one frame"),
            alone.model_copy(update={"hold": hold}),
        )


def _by_speed(stills: int, pace: Pace, wanted_s: Fraction) -> Iterator[_Try]:
    """Slow the whole shot down by a factor that is no whole number of frames."""
    even = pace.model_copy(update={"thin": Thin(), "curve": ()})
    speed = float(Schedule(stills, even).seconds / wanted_s)
    if not _SLOWEST <= speed < 1:
        return
    blend = "neighbours" if pace.blend == "none" else pace.blend
    each = f"{pace.hold / speed:.3g}"
    yield (
        "slower throughout",
        f"All stills, {each} frames each on average, their neighbours "
        "blended so that it does not tremble: a little softer.",
        even.model_copy(update={"curve": (Knot(at=0.5, speed=speed),), "blend": blend}),
    )


def _stepping(changes: Fraction) -> str:
    return "hardly seen" if changes >= _SMOOTH_RATE else "it steps" if changes >= 6 else "it is a show of stills"


def _strangeness(way: Way) -> int:
    return {"another rate": 0, "fewer stills": 1, "another hold": 2, "slower throughout": 3}[way.name]


def length_text(way: Way) -> str:
    """Say a way's exact length."""
    return f"{duration_text(way.seconds)}, {way.frames:,} frames"


def parse_length(text: str, rate: Fraction) -> Fraction:
    """Read ``12``, ``12 s``, ``1 min 30 s``, ``1:30`` or a timecode ``00:00:12:12`` as seconds.

    Raises ``Refusal`` (``length_not_usable``).
    """
    cleaned = text.strip().lower()
    match = re.fullmatch(r"(?:(\d+)\s*min(?:utes?)?)?\s*(?:(\d+(?:[.,]\d+)?)\s*(?:s|sec|seconds?)?)?", cleaned)
    if match and (match[1] or match[2]):
        return 60 * int(match[1] or 0) + Fraction((match[2] or "0").replace(",", "."))
    if match := re.fullmatch(r"(\d+):(\d{1,2})", cleaned):
        return Fraction(60 * int(match[1]) + int(match[2]))
    if match := re.fullmatch(r"(\d+):(\d{1,2}):(\d{1,2})[:;](\d{1,3})", cleaned):
        hours, minutes, seconds, frames = (int(part) for part in match.groups())
        return Fraction(3600 * hours + 60 * minutes + seconds) + frames / rate
    raise Refusal("length_not_usable", f"“{text}” is not a length. Write 12 s, 1 min 30 s or 00:00:12:00.")
