"""The brief: one sentence that says what will be made, in parts that can be edited, and what does not add up."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from yarnkite.core.fit import Cost, cost
from yarnkite.core.pace import Schedule
from yarnkite.core.rate import rate_label
from yarnkite.core.recipe import Decisions, Fit
from yarnkite.core.timecode import duration_text, timecode
from yarnkite.core.weight import ORDINARY, Weight, estimated_bytes

_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
_ENLARGED_FROM = 1.02
_SHORTEST_S = 1


@dataclass(frozen=True)
class Part:
    """A piece of the brief; ``control`` names the decision a click on it edits, ``look`` says what is doubtful."""

    text: str
    control: str = ""
    look: str = ""


@dataclass(frozen=True)
class Brief:
    """The sentence, the remarks that go with it, and the same facts as numbers."""

    parts: tuple[Part, ...]
    remarks: tuple[str, ...]
    stills: int
    frames: int
    seconds: float
    length: str
    timecode: str
    bytes: int
    cost: Cost | None = field(default=None)

    def __str__(self) -> str:
        return "".join(part.text for part in self.parts)


Shapes = Mapping[tuple[int, int], int]


def brief(shapes: Shapes, decisions: Decisions, weight: Weight | None = None, *, every: int = 0) -> Brief:
    """Say what decisions make of a shot.

    ``shapes`` counts the stills of each upright size (width, height) that are used, ``every`` is how many the shot has; ``weight`` is what the shot's frames were found
    to weigh, for the estimate of bytes.
    """
    count = sum(shapes.values())
    schedule = Schedule(count, decisions.pace)
    rate, frames = decisions.pace.rate, len(schedule)
    estimate = estimated_bytes(decisions, frames, weight or ORDINARY)
    if not count:
        why = "all stills are set aside" if every else "this shot has no stills"
        return Brief((Part(f"Nothing to make yet: {why}."),), (), 0, 0, 0.0, "0.0 s", timecode(0, rate), 0)
    loss = cost(*max(shapes, key=lambda shape: shapes[shape]), decisions.fit)
    remarks = _remarks(loss, decisions.fit, shapes)
    length = duration_text(schedule.seconds)
    short = "The clip is shorter than a second." if schedule.seconds < _SHORTEST_S else ""
    parts = (
        Part("Take "),
        Part(_stills_text(count, every), "stills"),
        Part(", "),
        Part(_hold_text(decisions.pace.hold), "hold"),
        Part(" at "),
        Part(f"{rate_label(rate)} fps", "rate"),
        Part(", "),
        Part("cover" if decisions.fit.how == "cover" else "fit inside", "how"),
        Part(" "),
        Part(str(decisions.fit.size), "size", _soft(loss)),
        *_kept(loss, decisions.fit),
        Part(", and write an H.264 file of "),
        Part(_quality_text(decisions.encode.crf), "quality"),
        Part(f": {frames:,} {'frame' if frames == 1 else 'frames'}, "),
        Part(length, "", short),
        Part(f" ({timecode(frames, rate)}), about {_size_text(estimate)}."),
    )
    return Brief(
        parts=parts,
        remarks=remarks,
        stills=count,
        frames=frames,
        seconds=float(schedule.seconds),
        length=length,
        timecode=timecode(frames, rate),
        bytes=estimate,
        cost=loss,
    )


def _stills_text(count: int, every: int) -> str:
    if every > count:
        return f"{count:,} of {every:,} stills"
    if 0 < every < count:
        return f"{every:,} stills and {count - every:,} put in"
    return f"{count:,} stills" if count > 1 else "one still"


def _hold_text(hold: int) -> str:
    number = _NUMBERS[hold] if hold < len(_NUMBERS) else f"{hold:,}"
    return f"{number} frame{'' if hold == 1 else 's'} each"


def _quality_text(crf: int) -> str:
    names = {16: "very high", 18: "high", 21: "good", 24: "small-file"}
    nearest = min(names, key=lambda step: abs(step - crf))
    return f"{names[nearest]} quality"


def _size_text(count: int) -> str:
    megabytes = count / 1e6
    if megabytes >= 1000:
        return f"{megabytes / 1000:.1f} GB"
    return f"{megabytes:.0f} MB" if megabytes >= 10 else f"{max(megabytes, 0.1):.1f} MB"


def _kept(loss: Cost, fit: Fit) -> tuple[Part, ...]:
    if fit.how == "contain":
        if loss.empty < 0.0005:
            return ()
        return (Part(" with "), Part("black edges", "position", f"{_percent(loss.empty)} of the frame stays black."))
    if loss.top + loss.bottom > 0.0005:
        words = {0.0: "the upper part", 0.5: "the middle", 1.0: "the lower part"}
        kept = words.get(fit.down, f"{_percent(loss.bottom)} from the bottom cut off")
    elif loss.left + loss.right > 0.0005:
        words = {0.0: "the left part", 0.5: "the middle", 1.0: "the right part"}
        kept = words.get(fit.across, f"{_percent(loss.right)} from the right cut off")
    else:
        return ()
    return (Part(" keeping " if kept.startswith("the") else " with "), Part(kept, "position"))


def _remarks(loss: Cost, fit: Fit, shapes: Shapes) -> tuple[str, ...]:
    found = []
    edges = {"top": loss.top, "bottom": loss.bottom, "left": loss.left, "right": loss.right}
    lost = [f"{_percent(share)} at the {edge}" for edge, share in edges.items() if share > 0.0005]
    if lost:
        found.append(f"Loses {' and '.join(lost)} of each still.")
    elif fit.how == "contain" and loss.empty > 0.0005:
        found.append(f"Shows each still whole; {_percent(loss.empty)} of the frame stays black.")
    else:
        found.append("Shows each still whole; nothing is cut off.")
    if loss.scale > _ENLARGED_FROM:
        found.append(f"{_soft(loss)[:-1]}. A smaller size keeps it crisp.")
    elif loss.scale < 1 / _ENLARGED_FROM:
        found.append(f"Reduces the stills to {_percent(loss.scale)} of their size.")
    if len(shapes) > 1:
        others = sum(shapes.values()) - max(shapes.values())
        found.append(f"{others} of the stills {'has' if others == 1 else 'have'} another shape or size than the rest.")
    return tuple(found)


def _soft(loss: Cost) -> str:
    return f"Enlarges the stills {loss.scale:.1f}×: soft." if loss.scale > _ENLARGED_FROM else ""


def _percent(share: float) -> str:
    return f"{share * 100:.0f} %" if share >= 0.0095 else f"{share * 100:.1f} %"
