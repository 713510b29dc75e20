"""The brief: one sentence that says what will be made, in parts that can be edited, and what does not add up."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from yarnkite.core.base.geometry import usual_shape
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import counting, duration_text, timecode
from yarnkite.core.base.wording import counted, frames_text, ordinal, percent
from yarnkite.core.brief.warnings import Remedies, Warnings, warnings
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.purposes import quality_of
from yarnkite.core.encode.size_model import ORDINARY, SizeModel, estimated_bytes, known_bytes, said_size
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import Cost, Placement, cost, placement_of, turned_shape
from yarnkite.core.light.decisions import Light
from yarnkite.core.move.decisions import Move
from yarnkite.core.move.travel import Sides, confined
from yarnkite.core.pace.compression import compression, compression_text
from yarnkite.core.pace.decisions import Pace, Thin
from yarnkite.core.pace.schedule import TOO_LONG, Schedule
from yarnkite.core.render.decisions import Decisions

Shapes = Mapping[tuple[int, int], int]
_AS_SHOT = Light()


@dataclass(frozen=True)
class Part:
    """A piece of the brief; ``control`` names the decision a click on it edits, ``warning`` says what is doubtful.

    ``hint`` explains it.
    """

    text: str
    control: str = ""
    warning: str = ""
    hint: str = ""


@dataclass(frozen=True)
class Brief:
    """The sentence, the remarks that go with it, and the same facts as numbers.

    ``usual`` is the size of the usual still. ``remedies`` are what would settle what is doubtful: a name for a button,
    which step it changes, and decisions in which that step is changed.
    """

    parts: tuple[Part, ...]
    remarks: tuple[str, ...]
    stills: int
    frames: int
    seconds: float
    length: str
    timecode: str
    bytes: int
    clock: str = ""
    cost: Cost | None = field(default=None)
    placement: Placement | None = field(default=None)
    usual: tuple[int, int] = (0, 0)
    remedies: Remedies = ()

    def __str__(self) -> str:
        return "".join(part.text for part in self.parts)


def brief(
    shapes: Shapes,
    decisions: Decisions,
    size_model: SizeModel | None = None,
    *,
    every: int = 0,
    times: tuple[int, ...] = (),
    light: Light = _AS_SHOT,
    region: Sides | None = None,
    expected: int | None = None,
) -> Brief:
    """Say what decisions make of a shot.

    ``shapes`` counts the stills of each upright size (width, height) that are used, ``every`` is how many the shot
    has, ``times`` when each used one was taken, in milliseconds. ``size_model`` is what the shot's frames were found to
    weigh, ``light`` what is decided about their light, which a recipe no longer says, ``region`` what of the turned
    still all steadied ones cover. Stills that stay longer are named
    by their places among those used, as in a recipe. ``expected`` is how many bytes the clip was found to take, where
    that was measured.
    """
    count, pace = sum(shapes.values()), decisions.pace
    if not count:
        why = "all stills are set aside" if every else "this shot has no stills"
        nothing = timecode(0, pace.written_rate)
        return Brief((Part(f"Nothing to make yet: {why}."),), (), 0, 0, 0.0, "0.0 s", nothing, 0)
    schedule = Schedule(count, pace, times if pace.by_clock else ())
    if schedule.is_too_long:
        return _too_long(count, every, pace)
    usual = usual_shape(shapes) or (0, 0)
    base = placement_of(*usual, decisions.fit)
    loss = cost(*usual, decisions.fit, confined(base, turned_shape(*usual, decisions.fit), region))
    factor = compression(times, schedule)
    warned = warnings(loss, decisions, shapes, schedule, times)
    frames, length = len(schedule), duration_text(schedule.seconds)
    known = known_bytes(decisions.encode, frames / pace.written_rate, expected)
    size = estimated_bytes(decisions, frames, schedule.changes, size_model or ORDINARY) if known is None else known
    parts = (
        Part("Take "),
        Part(_stills_text(count, every), "stills"),
        *_which(pace, warned),
        Part(", "),
        *_held(pace, warned),
        Part(" at "),
        Part(f"{rate_label(pace.rate)} fps", "rate", warned.rate),
        *_written(pace),
        *_speed(pace),
        Part(", "),
        Part(_HOW[decisions.fit.how], "how", warned.how),
        Part(" "),
        Part(str(decisions.fit.size), "size", warned.size),
        *_kept(loss, decisions.fit, warned),
        *_moved(decisions.move),
        *_lit(light),
        *written_text(decisions.encode),
        Part(f": {frames:,} {'frame' if frames == 1 else 'frames'}, "),
        Part(length, "length", warned.length),
        Part(" ("),
        Part(timecode(frames, pace.written_rate), hint=counting(pace.written_rate)),
        Part(f"), {said_size(size, is_sure=known is not None, are_weighed=size_model is not None)}."),
    )
    return Brief(
        parts=parts,
        remarks=warned.remarks,
        stills=schedule.used,
        frames=frames,
        seconds=float(schedule.seconds),
        length=length,
        timecode=timecode(frames, pace.written_rate),
        bytes=size,
        clock=compression_text(factor) if factor else "",
        cost=loss,
        placement=placement_of(*usual, decisions.fit),
        usual=usual,
        remedies=warned.remedies,
    )


def _too_long(count: int, every: int, pace: Pace) -> Brief:
    nothing = timecode(0, pace.written_rate)
    held = Part(f"{frames_text(pace.hold)} each", "hold", TOO_LONG)
    speed = (Part(" along "), Part("a speed curve", "speed", TOO_LONG)) if pace.curve else ()
    parts = (
        *(
            Part("Take "),
            Part(_stills_text(count, every), "stills"),
            Part(", "),
            held,
            Part(" at "),
            Part("this rate", "rate"),
        ),
        *(*speed, Part(": longer than 24 hours, which cannot be made.", "", TOO_LONG)),
    )
    return Brief(parts, (TOO_LONG,), count, 0, 0.0, "0.0 s", nothing, 0)


_HOW = {"cover": "cover", "contain": "fit inside", "stretch": "stretch to"}


def _stills_text(count: int, every: int) -> str:
    if every > count:
        return f"{count:,} of {every:,} stills"
    if 0 < every < count:
        return f"{_stills_text(every, 0)} and {count - every:,} put in"
    return f"{count:,} stills" if count > 1 else "one still"


def _which(pace: Pace, warned: Warnings) -> tuple[Part, ...]:
    parts: tuple[Part, ...] = ()
    if pace.thin.way != "all":
        parts = (Part(", "), Part(thin_text(pace.thin), "thin", warned.thin))
    if pace.direction != "on":
        parts = (
            *parts,
            Part(", "),
            Part("last to first" if pace.direction == "back" else "there and back", "direction"),
        )
    return parts


def thin_text(thin: Thin) -> str:
    """Say which stills a thinning uses."""
    if thin.way == "every":
        return f"every {ordinal(thin.every)} one"
    if thin.way == "leave":
        return f"using {thin.use} and leaving {thin.leave} in turn"
    if thin.way == "picked":
        return f"of every {thin.every} the one that goes on best"
    return f"{thin.count:,} of them evenly chosen" if thin.way == "even" else "all of them"


def _held(pace: Pace, warned: Warnings) -> tuple[Part, ...]:
    parts: tuple[Part, ...] = (Part(f"{frames_text(pace.hold)} each", "hold", warned.hold),)
    if pace.longer:
        parts = (*parts, Part(" ("), Part(f"{counted(len(pace.longer), 'still')} longer", "hold"), Part(")"))
    if pace.last is not None:
        parts = (*parts, Part(", "), Part(f"the last one {frames_text(pace.last)}", "hold"))
    return parts


def _written(pace: Pace) -> tuple[Part, ...]:
    if pace.repeat == 1:
        return ()
    return (Part(f" written as {rate_label(pace.written_rate)}", "rate"),)


_BLENDS = {
    "neighbours": "neighbours blended",
    "shutter": "motion blur of",
    "motion": "with in-betweens",
}


def _speed(pace: Pace) -> tuple[Part, ...]:
    said = []
    if pace.by_clock:
        said.append(("paced by the clock", "speed"))
    if pace.curve:
        said.append(("along a speed curve", "speed"))
    if pace.blend != "none":
        said.append((_BLENDS[pace.blend] + (f" {pace.shutter}°" if pace.blend == "shutter" else ""), "blend"))
    return tuple(part for text, control in said for part in (Part(", "), Part(text, control)))


def _kept(loss: Cost, fit: Fit, warned: Warnings) -> tuple[Part, ...]:
    extra = _turned_text(fit)
    if fit.how == "contain" and loss.empty >= 0.0005:
        edges = "a blurred surround" if fit.surround.kind == "blurred" else _colour_text(fit.surround.colour)
        return (Part(" with "), Part(edges, "surround", warned.position), *extra)
    if fit.zoom > 1.0005 and fit.how != "contain":
        return (Part(", "), Part(f"{fit.zoom:.2f} × closer", "position"), *extra)
    if loss.top + loss.bottom > 0.0005 and loss.left + loss.right <= 0.0005:
        words = {0.0: "the upper part", 0.5: "the middle", 1.0: "the lower part"}
        kept = words.get(fit.y, f"{percent(loss.bottom)} from the bottom cut off")
    elif loss.left + loss.right > 0.0005 and loss.top + loss.bottom <= 0.0005:
        words = {0.0: "the left part", 0.5: "the middle", 1.0: "the right part"}
        kept = words.get(fit.x, f"{percent(loss.right)} from the right cut off")
    else:
        return extra
    return (Part(" keeping " if kept.startswith("the") else " with "), Part(kept, "position"), *extra)


_STEADIED = {"still": "standing still", "glide": "gliding", "anchor": "anchored on a point"}


def _moved(move: Move) -> tuple[Part, ...]:
    said = [_STEADIED[move.steady.how]] if move.steady.is_wished else []
    if move.travels:
        said.append(_travelling(move))
    if move.model.strength:
        said.append("like a model")
    return tuple(part for one in said for part in (Part(", "), Part(one, "move")))


def _travelling(move: Move) -> str:
    first, last = move.views[0], move.views[-1]
    if len(move.views) == 1:
        return "seen closer" if first.closeness > 1 else "seen elsewhere"
    if last.closeness > first.closeness * 1.01:
        return f"pushing in {last.closeness / first.closeness:.2f} ×"
    if first.closeness > last.closeness * 1.01:
        return f"pulling out {first.closeness / last.closeness:.2f} ×"
    return "travelling"


def _lit(light: Light) -> tuple[Part, ...]:
    said = []
    if light.even.is_wished:
        said.append("evened")
    if not light.changes_nothing:
        settings = light.settings.values()
        changing = any(not one.is_neutral and len(one.keyframes) > 1 for one in settings)
        said.append(
            ("adjusted in black and white" if light.monochrome else "adjusted") + (" over the shot" if changing else "")
        )
    return (Part(", "), Part("its light " + " and ".join(said), "light")) if said else ()


def _turned_text(fit: Fit) -> tuple[Part, ...]:
    said = []
    if fit.quarters:
        said.append(f"turned {fit.quarters * 90}°")
    if fit.mirror:
        said.append("mirrored")
    if fit.level:
        said.append(f"levelled by {abs(fit.level):g}°")
    return (Part(", "), Part(" and ".join(said), "level")) if said else ()


def _colour_text(colour: str) -> str:
    return {"#000000": "black edges", "#ffffff": "white edges"}.get(colour, f"edges in {colour}")


def written_text(encode: Encode) -> tuple[Part, ...]:
    """Say what file is written: its format, and what decides how large it gets."""
    format = format_of(encode)
    what = "write " if format.way == "numbered" else f"write {_article(format.title)} "
    parts = (Part(f", and {what}"), Part(_file_text(encode), "quality"))
    if not format.has_quality:
        return parts
    aim = encode.aim
    if aim.by == "size":
        return (*parts, Part(" that takes "), Part(f"{aim.megabytes:g} MB", "quality"))
    if aim.by == "rate":
        return (*parts, Part(" of "), Part(f"{aim.mbits:g} Mbit a second", "quality"))
    return (*parts, Part(" of "), Part(f"{quality_of(encode).name} quality", "quality"))


def _file_text(encode: Encode) -> str:
    format = format_of(encode)
    container = format.container_of(encode)
    is_usual = container == format.containers[0]
    if format.way != "joined":
        return format.title
    return f"{format.title} file" if is_usual else f"{format.title} file in {container.upper()}"


def _article(title: str) -> str:
    # Letters that are spoken with a vowel first: aitch, ef, A.
    return "an" if title.startswith(("H.", "FFV1", "A")) else "a"
