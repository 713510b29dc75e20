"""What about a format, a size and a rate does not go together, said before the work starts."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import OFFERED, rate_label
from yarnkite.core.base.timecode import DROP_FRAME_RATES
from yarnkite.core.base.wording import size_text
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.labels import WITH_TIMECODE, WITHOUT_WORDS
from yarnkite.core.encode.levels import COMMON, OLD, is_above, level_of
from yarnkite.core.encode.purposes import purpose_of

# The largest file a disk formatted as FAT32 holds.
_FAT_BYTES = 4_294_967_295
_LOOP_PIXELS, _LOOP_S = 1_000_000, 20
# SMPTE ST 377-1 has these rates; a gif counts hundredths of a second, and players do not show less than two.
_MXF_RATES = frozenset(rate for rate in OFFERED if rate >= 23)
_GIF_FASTEST = 50
_FIRST = "00:00:00:00"


@dataclass(frozen=True)
class Companion:
    """What another clip or the reel this one goes with is like; ``what`` says which."""

    what: str
    size: Size
    rate: Fraction


def check_possible(encode: Encode, size: Size, rate: Fraction) -> None:
    """Raise ``Refusal`` (``format_cannot``) for what a format or its container cannot hold, with the remedy."""
    format = format_of(encode)
    container = format.container_of(encode)
    if max(size.width, size.height) > format.most_side:
        raise Refusal(
            "format_cannot",
            f"{format.title} holds sides of up to {format.most_side:,} "
            f"pixels, and {size} is more. Choose a smaller size.",
        )
    if container == "mxf" and rate not in _MXF_RATES:
        raise Refusal(
            "format_cannot",
            f"MXF does not know {rate_label(rate)} frames a second. Choose MOV, or a usual rate in pace.",
        )
    if format.name == "gif" and rate > _GIF_FASTEST:
        raise Refusal(
            "format_cannot",
            f"A GIF shows at most {_GIF_FASTEST} frames a second, and this clip has {rate_label(rate)}. Choose a "
            "slower rate in pace, or a WebP or AVIF loop.",
        )
    if format.codec == "dnxhd" and (size.width < 256 or size.height < 120):
        raise Refusal("format_cannot", f"DNxHR begins at 256 × 120 pixels, and {size} is less. Choose a larger size.")
    if format.name.startswith("av1") and (size.width < 64 or size.height < 64):
        raise Refusal("format_cannot", f"AV1 begins at 64 × 64 pixels, and {size} is less. Choose a larger size.")
    if encode.start[8] == ";" and rate not in DROP_FRAME_RATES:
        raise Refusal(
            "format_cannot",
            f"Drop-frame timecode is for 29.97 and 59.94 frames a second, not for {rate_label(rate)}. Write the start "
            "with a colon before the frames.",
        )
    if int(encode.start[9:]) >= round(rate):
        raise Refusal(
            "format_cannot", f"At {rate_label(rate)} frames a second no timecode ends with {encode.start[9:]}."
        )
    if int(encode.start[:2]) > 23:
        raise Refusal("format_cannot", f"A timecode ends at 23 hours; {encode.start} is more.")


def is_possible(encode: Encode, size: Size, rate: Fraction) -> bool:
    """Tell whether a format can hold frames of a size at a rate."""
    try:
        check_possible(encode.model_copy(update={"start": _FIRST}), size, rate)
    except Refusal:
        return False
    return True


def disagreements(
    encode: Encode,
    size: Size,
    rate: Fraction,
    frames: int,
    bytes_expected: int,
    companions: Sequence[Companion] = (),
    *,
    has_sound: bool = False,
) -> list[str]:
    """Return a sentence for each thing that may surprise later."""
    format, purpose = format_of(encode), purpose_of(encode)
    found = []
    container = format.container_of(encode)
    level = level_of(size, rate)
    if format.codec == "h264" and is_above(level, COMMON):
        found.append(
            f"No common device decodes H.264 of {size} at {rate_label(rate)} "
            f"frames a second (level {level or 'beyond 6.2'})."
        )
    elif purpose is not None and purpose.name == "show on an old device" and is_above(level, OLD):
        found.append(
            f"{size} at {rate_label(rate)} frames a second needs level {level}; "
            f"old devices decode up to {OLD}, which is 1920 × 1080 at 30."
        )
    if format.way == "joined" and rate not in OFFERED:
        found.append(
            f"{rate_label(rate)} frames a second is no rate an editor knows: it will be shown faster, slower or uneven."
        )
    if size.width == 4096 and size.height == 2160:
        found.append("4096 × 2160 is the size of cinema; screens that are called 4K have 3840 × 2160.")
    if bytes_expected > _FAT_BYTES:
        found.append(f"At about {size_text(bytes_expected)} it does not fit on a card or stick formatted as FAT32.")
    found += _of_loops(encode, size, rate, frames)
    if encode.range != "standard" and format.range_of(encode) == "standard":
        found.append(
            f"{format.title} is written in the standard range of brightness; HLG and PQ need a video of 10 bits."
        )
    if encode.start != _FIRST and container not in WITH_TIMECODE:
        found.append(f"{container.upper()} has no place for a timecode; MOV and MXF have.")
    if (encode.title or encode.comment) and format.way == "joined" and container in WITHOUT_WORDS:
        found.append(f"{container.upper()} has no place for a title or a comment.")
    if has_sound and not format.has_sound:
        found.append(f"{format.title} has no sound: what lies under the pictures is left out.")
    return [*found, *_of_companions(size, rate, companions)]


def _of_loops(encode: Encode, size: Size, rate: Fraction, frames: int) -> list[str]:
    format = format_of(encode)
    if format.way != "streamed":
        return []
    found = []
    if size.width * size.height > _LOOP_PIXELS or frames / rate > _LOOP_S:
        found.append(
            f"A loop of {size} and {float(frames / rate):.0f} s is much for a page. Make it smaller or shorter."
        )
    if format.name == "gif" and (100 / rate).denominator != 1:
        found.append(f"A GIF counts hundredths of a second: {rate_label(rate)} frames a second come out uneven.")
    return found


def _of_companions(size: Size, rate: Fraction, companions: Sequence[Companion]) -> list[str]:
    found = []
    for one in companions:
        if one.size.width * size.height != one.size.height * size.width:
            found.append(f"Its shape is another than that of {one.what}, {one.size}.")
        elif one.size != size:
            found.append(f"Its size is another than that of {one.what}, {one.size}.")
        if one.rate != rate:
            found.append(
                f"{one.what[0].upper()}{one.what[1:]} has {rate_label(one.rate)} "
                f"frames a second, this {rate_label(rate)}."
            )
    return found
