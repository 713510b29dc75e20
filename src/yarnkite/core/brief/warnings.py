"""Doubts: what about a shot's decisions does not add up, said at the part of the brief it belongs to."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.geometry import usual_shape
from yarnkite.core.base.rate import nominal, rate_label
from yarnkite.core.base.wording import counted, frames_text, ordinal, percent
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.dimensions import advice
from yarnkite.core.fit.placement import Cost, shows_the_same_view
from yarnkite.core.image.lens import Lens
from yarnkite.core.pace.compression import compression, disagreement
from yarnkite.core.pace.decisions import Pace, Thin
from yarnkite.core.pace.schedule import Schedule
from yarnkite.core.render.decisions import Decisions

_ENLARGED_FROM = 1.02
_SHORTEST_S = 1
_STANDARD_FROM = 20
Remedies = tuple[tuple[str, Literal["fit", "pace"], Decisions], ...]


@dataclass(frozen=True)
class Warnings:
    """A sentence for each part of the brief that is doubtful, and remarks that go below it."""

    rate: str = ""
    hold: str = ""
    thin: str = ""
    how: str = ""
    size: str = ""
    position: str = ""
    length: str = ""
    remarks: tuple[str, ...] = ()
    remedies: Remedies = ()


def warnings(
    loss: Cost, decisions: Decisions, shapes: Mapping[tuple[int, int], int], schedule: Schedule, times: Sequence[int]
) -> Warnings:
    """Look at decisions as a whole; ``loss`` is what the fit costs the usual still."""
    fit, pace = decisions.fit, decisions.pace
    usual = usual_shape(shapes) or (0, 0)
    rate, hold, thin = _rate(pace, schedule, times), _hold(pace), _thin(pace, schedule)
    slip = advice(fit.size.width, fit.size.height, usual)
    size = _soft(loss) or (slip.sentence if slip else "")
    length = "The clip is shorter than a second." if schedule.seconds < _SHORTEST_S else ""
    empty = f"{percent(loss.empty)} of the frame stays {_empty_text(fit)}." if loss.empty >= 0.0005 else ""
    remarks = [*_fit_remarks(loss, fit), *_other_shapes(shapes, usual, fit), rate, hold, thin]
    remarks += [_skipped(schedule), *_blend(pace, schedule)]
    if slip:
        remarks.append(slip.sentence)
    remedies = [*_pace_remedies(decisions, hold), *_size_remedies(decisions, slip.meant if slip else ())]
    return Warnings(
        rate=rate,
        hold=hold,
        thin=thin,
        how=f"Things look {_stretch_text(loss)}." if abs(loss.stretched - 1) > 0.005 else "",
        size=size,
        position=empty if fit.surround.kind == "colour" else "",
        length=length,
        remarks=tuple(one for one in remarks if one),
        remedies=tuple(remedies),
    )


def _fit_remarks(loss: Cost, fit: Fit) -> list[str]:
    found = []
    edges = {"top": loss.top, "bottom": loss.bottom, "left": loss.left, "right": loss.right}
    lost = [f"{percent(share)} at the {edge}" for edge, share in edges.items() if share > 0.0005]
    whole = "Shows each still whole"
    if lost:
        found.append(f"Loses {' and '.join(lost) if len(lost) < 3 else ', '.join(lost)} of each still.")
    elif fit.how == "contain" and loss.empty > 0.0005:
        found.append(f"{whole}; {percent(loss.empty)} of the frame stays {_empty_text(fit)}.")
    elif fit.lens != Lens():
        found.append("Loses a little at the edges to straightening.")
    else:
        found.append(f"{whole}; nothing is cut off.")
    if abs(loss.stretched - 1) > 0.005:
        found.append(f"Things look {_stretch_text(loss)}.")
    if loss.scale > _ENLARGED_FROM:
        found.append(f"{_soft(loss)[:-1]}. A smaller size keeps it crisp.")
    elif loss.scale < 1 / _ENLARGED_FROM:
        found.append(f"Reduces the stills to {percent(loss.scale)} of their size; {_room_text(loss)}.")
    return found


def _room_text(loss: Cost) -> str:
    return f"a later push-in has room for {loss.push_in:.1f} × without enlarging"


def _stretch_text(loss: Cost) -> str:
    wider = loss.stretched > 1
    by = loss.stretched - 1 if wider else 1 / loss.stretched - 1
    return f"{percent(by)} {'wider' if wider else 'taller'} than they are"


def _empty_text(fit: Fit) -> str:
    if fit.surround.kind == "blurred":
        return "blurred"
    return {"#000000": "black", "#ffffff": "white"}.get(fit.surround.colour, "a plain colour")


def _soft(loss: Cost) -> str:
    return f"Enlarges the stills {loss.scale:.1f}×: soft." if loss.scale > _ENLARGED_FROM else ""


def _other_shapes(shapes: Mapping[tuple[int, int], int], usual: tuple[int, int], fit: Fit) -> list[str]:
    others = {shape: count for shape, count in shapes.items() if shape != usual}
    if not others:
        return []
    count = sum(others.values())
    found = [f"{count:,} of the stills {'has' if count == 1 else 'have'} another shape or size than the rest."]
    same = sum(number for shape, number in others.items() if shows_the_same_view(shape, fit, usual))
    if same:
        found.append(f"{_these(same, count)} fitted to show the same field of view.")
    if same < count:
        found.append(f"{_these(count - same, count)} fitted alone: the view jumps there.")
    return found


def _these(some: int, every: int) -> str:
    if some == every:
        return "It is" if every == 1 else "They are"
    return f"{some:,} {'is' if some == 1 else 'are'}"


def _rate(pace: Pace, schedule: Schedule, times: Sequence[int]) -> str:
    if pace.written_rate < _STANDARD_FROM:
        return (
            f"Some editors and players do not take {rate_label(pace.written_rate)} frames a second; "
            f"{rate_label(pace.rate * _repeated(pace))} with each repeated looks the same."
        )
    return disagreement(times, compression(times, schedule))


def _hold(pace: Pace) -> str:
    thin = pace.thin
    if thin.way == "every" and pace.hold > 1 and pace.direction != "there and back":
        if pace.hold == thin.every:
            return (
                f"Using every {ordinal(thin.every)} still and holding it {frames_text(pace.hold)} cancel each other: "
                "the clip is as long as with all stills, and steps."
            )
        return f"Stills are left out and the others held {frames_text(pace.hold)}: the clip steps for no gain."
    return ""


def _thin(pace: Pace, schedule: Schedule) -> str:
    thin = pace.thin
    if thin.way == "even" and thin.count >= schedule.stills:
        return f"There are only {counted(schedule.stills, 'still')}; all of them are used."
    left = schedule.stills - 1 - max(schedule.sequence)
    if thin.way in ("every", "leave") and left:
        return f"The last {counted(left, 'still')} {'is' if left == 1 else 'are'} left over and not shown."
    return ""


def _skipped(schedule: Schedule) -> str:
    skipped = len(set(schedule.sequence)) - schedule.used
    return (
        f"Where it is fast, {counted(skipped, 'still')} {'is' if skipped == 1 else 'are'} skipped." if skipped else ""
    )


def _blend(pace: Pace, schedule: Schedule) -> list[str]:
    if pace.blend == "motion":
        if schedule.frames_held.size and int(schedule.frames_held.max()) <= 1000:
            return ["In-betweens change nothing here: no still is shown longer than a frame."]
        return [
            "In-betweens are worked out from how things move: water, leaves, people crossing and anything that comes "
            "or goes will tear or smear. Play it before you trust it."
        ]
    if pace.blend == "neighbours" and pace.hold == 1 and not pace.curve and not pace.by_clock:
        return ["Blending neighbours changes nothing while each still is shown for one frame."]
    if pace.blend == "shutter" and pace.thin.way == "all" and not pace.curve and not pace.by_clock:
        return ["Motion blur needs stills to average: it shows once stills are skipped, by thinning or by speed."]
    return []


def _pace_remedies(decisions: Decisions, hold: str) -> Remedies:
    pace = decisions.pace
    written: Remedies = ()
    if pace.written_rate < _STANDARD_FROM:
        repeat = _repeated(pace)
        written = ((f"write it as {rate_label(pace.rate * repeat)}", "pace", _with(decisions, pace, repeat=repeat)),)
    if not hold:
        return written
    return (*written, ("use all stills, one frame each", "pace", _with(decisions, pace, thin=Thin(), hold=1)))


def _repeated(pace: Pace) -> int:
    """Return how often each frame is written for a rate that editors take."""
    return -(-24 // nominal(pace.rate))


def _size_remedies(decisions: Decisions, meant: Sequence[Size]) -> Remedies:
    fit = decisions.fit
    return tuple(
        (f"make it {size}", "fit", decisions.model_copy(update={"fit": fit.model_copy(update={"size": size})}))
        for size in meant
    )


def _with(decisions: Decisions, pace: Pace, **changes: object) -> Decisions:
    return decisions.model_copy(update={"pace": pace.model_copy(update=changes)})
