"""Interchange: a shot's list of stills as CSV (RFC 4180) and as OpenTimelineIO with image sequences."""

import csv
import io
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from fractions import Fraction
from pathlib import PurePosixPath
from typing import Any, Literal
from urllib.parse import quote, unquote, urlsplit

import opentimelineio as otio

from yarnkite.core.base.counter import parts
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import parse_rate

MissingFrames = Literal["error", "hold", "black"]
_COLUMNS = ("position", "name", "capture time", "set aside")
_NUMBERED = re.compile(r"^(.*?)(\d+)$")
_MOST_LINES = 100_000
_LONGEST_NUMBER = 12
# The format's frame numbers have 32 bits; a run may count on from the last one.
_HIGHEST_FRAME = 2**31 - 200_000


@dataclass(frozen=True)
class Listed:
    """A still as a list holds it: its name relative to the shot's folder, when it was taken, whether it is left out."""

    name: str
    captured: datetime | None = None
    aside: bool = False


@dataclass(frozen=True)
class ShotList:
    """Stills in order, and the rate of the clip where the list tells it."""

    stills: tuple[Listed, ...]
    rate: Fraction | None = None


def to_csv(stills: Sequence[Listed]) -> str:
    """Write a shot list as CSV; times are the camera's own clock, ISO 8601."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(_COLUMNS)
    for position, still in enumerate(stills, 1):
        captured = still.captured.isoformat(timespec="milliseconds") if still.captured else ""
        writer.writerow((position, still.name, captured, "yes" if still.aside else "no"))
    return text.getvalue()


def from_csv(text: str) -> ShotList:
    """Read a shot list; the order is that of the positions, or of the lines where there are none.

    Raises ``Refusal`` (``not_a_shot_list``) that says what is wrong and where.
    """
    rows = _rows_of(text)
    heads = [head.strip().casefold() for head in rows[0]] if rows else []
    if "name" not in heads:
        raise Refusal("not_a_shot_list", "The list has no column “name”. Its first line must name the columns.")
    if len(rows) > _MOST_LINES:
        raise Refusal("not_a_shot_list", f"The list has {len(rows):,} lines; up to {_MOST_LINES:,} are read.")
    listed = []
    for number, row in enumerate(rows[1:], 2):
        if not any(row):
            continue
        line = dict(zip(heads, row, strict=False))
        if not line.get("name"):
            raise Refusal("not_a_shot_list", f"Line {number} of the list has no name.")
        position = line.get("position", "").strip()
        if position and not (position.isdecimal() and len(position) <= _LONGEST_NUMBER):
            raise Refusal("not_a_shot_list", f"Line {number} has the position “{position[:40]}”, which is no number.")
        aside = line.get("set aside", "").strip().casefold() in ("yes", "true", "1", "x")
        listed.append((int(position) if position else number, Listed(line["name"], _time(line, number), aside)))
    return ShotList(tuple(still for _, still in sorted(listed, key=lambda one: one[0])))


def _rows_of(text: str) -> list[list[str]]:
    """Return the lines of a CSV file; they may end with a carriage return alone."""
    ended = text.removeprefix("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    try:
        return list(csv.reader(io.StringIO(ended, newline="")))
    except csv.Error as error:
        raise Refusal("not_a_shot_list", f"The list cannot be read as CSV: {error}.") from None


def _time(line: dict[str, str], number: int) -> datetime | None:
    text = line.get("capture time", "").strip()
    try:
        return datetime.fromisoformat(text) if text else None
    except ValueError:
        raise Refusal(
            "not_a_shot_list", f"Line {number} has the capture time “{text[:40]}”, which is no time."
        ) from None


def to_otio(name: str, folder: str, stills: Sequence[Listed], rate: Fraction, missing: MissingFrames = "error") -> str:
    """Write the stills that are not set aside as an OpenTimelineIO document.

    Every run of names that count on evenly becomes one clip with an image sequence; a clip's frames play at ``rate``.
    ``missing`` says what a reader should show for a file that is gone.
    """
    measurements = otio.schema.Track(name=name, kind=otio.schema.TrackKind.Video)
    for run in _runs([still.name for still in stills if not still.aside]):
        measurements.extend(_clips(run, folder, rate, missing))
    timeline = otio.schema.Timeline(name=name)
    timeline.tracks.append(measurements)
    return str(otio.adapters.write_to_string(timeline, "otio_json"))


def from_otio(text: str) -> ShotList:
    """Read the stills of an OpenTimelineIO document in playing order, by their paths; gaps and transitions are passed
    over.

    Raises ``Refusal`` (``not_a_shot_list``) if it is no such document or has no image sequences.
    """
    try:
        timeline = otio.adapters.read_from_string(text, "otio_json")
        clips = list(timeline.find_clips())
        names: list[str] = []
        rate = None
        for clip in clips:
            in_clip, of_clip = _read(clip)
            names += in_clip
            rate = rate or of_clip
            if len(names) > _MOST_LINES:
                raise Refusal("not_a_shot_list", f"The document names more than {_MOST_LINES:,} stills.")
    except Refusal:
        raise
    except Exception:
        # The library's readers raise many kinds of errors on broken documents.
        raise Refusal("not_a_shot_list", "This is no OpenTimelineIO document that can be read.") from None
    if not names:
        raise Refusal("not_a_shot_list", "This OpenTimelineIO document names no stills.")
    return ShotList(tuple(Listed(name) for name in names), _usable(rate))


def by_name(names: Mapping[str, int], listed: Sequence[Listed]) -> list[int | None]:
    """Return which still each line of a list means, by id; ``names`` are those of a shot, relative to its folder.

    Where a list names a file by a longer path than the shot does, or by a shorter one, it means the still whose path
    ends alike; one that could mean several means none.
    """
    ends: dict[str, set[str]] = {}
    for name in names:
        for end in _ends(name):
            ends.setdefault(end, set()).add(name)
    return [_meant(one.name, names, ends) for one in listed]


def _meant(name: str, names: Mapping[str, int], ends: Mapping[str, set[str]]) -> int | None:
    for end in _ends(name):
        if end in names:
            return names[end]
        if len(found := ends.get(end, set())) == 1:
            return names[next(iter(found))]
        if found:
            return None
    return None


def _ends(name: str) -> list[str]:
    """Return a path and what is left of it without its first folder, its second, and so on: the longest first."""
    steps = [step for step in name.replace("\\", "/").split("/") if step not in ("", ".")]
    return ["/".join(steps[first:]) for first in range(len(steps))]


def _usable(rate: Fraction | None) -> Fraction | None:
    """Return a rate if it is one a clip can have; a document may say anything."""
    if rate is None:
        return None
    try:
        return parse_rate(rate)
    except Refusal:
        return None


@dataclass(frozen=True)
class _Run:
    """Names that count on: the first one's pieces, its number, the step, and how many there are."""

    folder: str
    prefix: str
    digits: int
    suffix: str
    start: int
    step: int
    count: int


def _runs(names: Sequence[str]) -> list[_Run]:
    pieces = [_pieces(name) for name in names]
    result: list[_Run] = []
    begin = 0
    step = 0
    for end in range(1, len(pieces) + 1):
        if end < len(pieces):
            distance = _distance(pieces[end - 1], pieces[end])
            if distance and (distance == step or end == begin + 1):
                step = distance
                continue
        folder, prefix, digits, suffix, start = pieces[begin]
        result.append(_Run(folder, prefix, digits, suffix, start, step if end > begin + 1 else 1, end - begin))
        begin, step = end, 0
    return result


def _pieces(name: str) -> tuple[str, str, int, str, int]:
    """Split a name into folder, prefix, count of digits (0 for none), suffix with its dot, and number."""
    folder, stem, suffix = parts(name)
    ending = f".{suffix}" if suffix else ""
    found = _NUMBERED.match(stem)
    if found is None or int(found[2][-_LONGEST_NUMBER:]) > _HIGHEST_FRAME or len(found[2]) > _LONGEST_NUMBER:
        return folder, stem, 0, ending, 0
    return folder, found[1], len(found[2]), ending, int(found[2])


def _distance(before: tuple[str, str, int, str, int], after: tuple[str, str, int, str, int]) -> int:
    """Return by how much one name counts on from another, or 0 if it does not."""
    same_text = (before[0], before[1], before[3]) == (after[0], after[1], after[3])
    # A number written without leading zeros counts on with more digits.
    same_digits = before[2] == after[2] or after[2] == len(str(after[4])) > before[2] == len(str(before[4]))
    if not same_text or not before[2] or not same_digits:
        return 0
    return max(0, after[4] - before[4])


def _clips(run: _Run, folder: str, rate: Fraction, missing: MissingFrames) -> list[Any]:
    """Return a run as one clip, or, where a reader's rounding would lose a file of it, as a clip for each file."""
    whole = _clip(run, folder, rate, missing)
    if run.count == 1 or whole.media_reference.number_of_images_in_sequence() == run.count:
        return [whole]
    alone = (replace(run, start=run.start + run.step * place, step=1, count=1) for place in range(run.count))
    return [_clip(one, folder, rate, missing) for one in alone]


def _clip(run: _Run, folder: str, rate: Fraction, missing: MissingFrames) -> Any:
    whole = PurePosixPath(folder, run.folder)
    if not run.digits:
        name = f"{run.prefix}{run.suffix}"
        played = _range(0, 1, rate)
        reference = otio.schema.ExternalReference(target_url=_url(whole / name), available_range=played)
        return otio.schema.Clip(name=name, media_reference=reference, source_range=played)
    # In a sequence that steps by two each file lasts two frames, so the frames must pass twice as fast.
    inner = rate * run.step
    reference = otio.schema.ImageSequenceReference(
        target_url_base=_url(whole) + "/",
        name_prefix=run.prefix,
        name_suffix=run.suffix,
        start_frame=run.start,
        frame_step=run.step,
        rate=float(inner),
        # Where names get longer as they count on, a reader must not fill them up with zeros.
        frame_zero_padding=run.digits if len(str(run.start)) < run.digits or _stays_as_wide(run) else 0,
        missing_frame_policy=getattr(otio.schema.ImageSequenceReference.MissingFramePolicy, missing),
        available_range=_range(run.start, run.count * run.step, inner),
    )
    first = f"{run.prefix}{run.start:0{run.digits}}{run.suffix}"
    return otio.schema.Clip(
        name=first, media_reference=reference, source_range=_range(run.start, run.count * run.step, inner)
    )


def _range(start: int, count: int, rate: Fraction) -> Any:
    time = otio.opentime.RationalTime
    return otio.opentime.TimeRange(time(start, float(rate)), time(count, float(rate)))


def _stays_as_wide(run: _Run) -> bool:
    return len(str(run.start + run.step * (run.count - 1))) == run.digits


def _read(clip: Any) -> tuple[list[str], Fraction | None]:
    """Return the names of the stills a clip plays, and at what rate they follow each other."""
    reference = clip.media_reference
    if isinstance(reference, otio.schema.ImageSequenceReference):
        played, step = clip.trimmed_range(), reference.frame_step
        there = reference.available_range
        skipped_s = (played.start_time - there.start_time).to_seconds() if there is not None else 0.0
        first = round(skipped_s * reference.rate / step)
        count = min(round(played.duration.to_seconds() * reference.rate / step), _MOST_LINES + 1)
        numbers = [reference.start_frame + step * (first + place) for place in range(count)]
        prefix, suffix = reference.name_prefix, reference.name_suffix
        digits = max(0, min(_LONGEST_NUMBER, reference.frame_zero_padding))
        rate = Fraction(reference.rate / step).limit_denominator(1001)
        folder = _path_of(reference.target_url_base)
        return [f"{folder}{prefix}{number:0{digits}}{suffix}" for number in numbers], rate
    if isinstance(reference, otio.schema.ExternalReference):
        return [_path_of(reference.target_url)], None
    return [], None


def _path_of(url: str) -> str:
    """Return the path in an address of files; a folder's ends with its slash."""
    return unquote(urlsplit(url).path if "://" in url else url)


def _url(path: PurePosixPath) -> str:
    return "file://" + quote(str(path))
