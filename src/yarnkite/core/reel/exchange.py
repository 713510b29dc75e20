"""Interchange of reels: OpenTimelineIO, an edit decision list (CMX 3600), and titles as WebVTT."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import opentimelineio as otio
from opentimelineio.opentime import RationalTime, TimeRange
from pydantic import ValidationError

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.base.timecode import DROP_FRAME_RATES, timecode
from yarnkite.core.reel.decisions import Join, Part, Picture, Reel, Title
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.reel.timing import Span
from yarnkite.core.render.recipe import schedule_of, stills_in
from yarnkite.core.sound.decisions import RATE, samples_of
from yarnkite.core.sound.mix import heard

_OURS = "yarnkite"
_SCHEMA = 1
_REEL_NAME = 8


@dataclass(frozen=True)
class ReadReel:
    """A reel that was read: its name, what it decides, and what of it has no place here, in sentences."""

    name: str
    reel: Reel
    left_out: tuple[str, ...]


def to_otio(name: str, recipe: ReelRecipe, frames: ReelFrames, sound_names: dict[int, str]) -> str:
    """Write a reel as an OpenTimelineIO document.

    Each part is a clip with its stills as references, dissolves are transitions, titles markers, sounds audio tracks.
    All that was decided goes along as metadata, so that reading it here gives the same reel.
    """
    timeline = otio.schema.Timeline(name=name)
    timeline.metadata[_OURS] = {"schema": _SCHEMA, "reel": recipe.reel.model_dump_json()}
    video = otio.schema.Track(name="picture", kind=otio.schema.TrackKind.Video)
    timeline.tracks.append(video)
    shown = [number for number, span in enumerate(frames.spans) if span.frames]
    before = 0
    for number in shown:
        span, rate = frames.spans[number], frames.rate
        out = span.over - span.over // 2
        length = span.frames - before - (span.over // 2 if span.over else 0)
        first = next((clip.first for clip in recipe.clips[number] if clip is not None), 0)
        clip = otio.schema.Clip(
            name=recipe.names[number],
            source_range=TimeRange(_time(first + before, rate), _time(length, rate)),
            media_reference=_reference(recipe, number),
        )
        clip.metadata[_OURS] = {"part": recipe.reel.parts[number].id}
        video.append(clip)
        if span.over:
            video.append(
                otio.schema.Transition(
                    transition_type=otio.schema.TransitionTypes.SMPTE_Dissolve,
                    in_offset=_time(out, rate),
                    out_offset=_time(span.over // 2, rate),
                )
            )
        before = out
    for seen in frames.titles:
        video.markers.append(
            otio.schema.Marker(
                name=seen.title.text.split("\n")[0] or seen.title.kind,
                marked_range=TimeRange(_time(seen.start, frames.rate), _time(seen.end - seen.start, frames.rate)),
            )
        )
    total = samples_of(len(frames), frames.rate)
    for track in recipe.reel.sound.tracks:
        file = recipe.sounds.get(track.sound)
        if file is None:
            continue
        length = heard(track, file.samples, total)
        if length <= 0:
            continue
        audio = otio.schema.Track(name=sound_names.get(track.sound, "sound"), kind=otio.schema.TrackKind.Audio)
        if track.start:
            audio.append(
                otio.schema.Gap(source_range=TimeRange(RationalTime(0, RATE), RationalTime(track.start, RATE)))
            )
        audio.append(
            otio.schema.Clip(
                name=sound_names.get(track.sound, "sound"),
                source_range=TimeRange(RationalTime(track.skip, RATE), RationalTime(length, RATE)),
                media_reference=otio.schema.ExternalReference(target_url=sound_names.get(track.sound, "sound")),
            )
        )
        timeline.tracks.append(audio)
    return str(otio.adapters.write_to_string(timeline, "otio_json"))


def _reference(recipe: ReelRecipe, number: int) -> Any:
    clip = next((one for one in recipe.clips[number] if one is not None), None)
    if clip is None:
        return otio.schema.MissingReference()
    reference = otio.schema.MissingReference(name=recipe.names[number])
    reference.metadata[_OURS] = {"stills": [Path(still.path).name for still in stills_in(clip.recipe)]}
    length = len(schedule_of(clip.recipe))
    reference.available_range = TimeRange(
        _time(0, clip.recipe.decisions.pace.written_rate), _time(length, clip.recipe.decisions.pace.written_rate)
    )
    return reference


def _time(frames: int, rate: Fraction) -> RationalTime:
    return RationalTime(frames, float(rate))


def from_otio(text: str, shots: Sequence[tuple[int, str]], fallback_name: str) -> ReadReel:
    """Read a reel; ``shots`` are those of the project it is read into, by id and name.

    A document that was written here gives what it was; of another, clips named like shots, their lengths and dissolves.

    Raises
    ------
    Refusal (``not_a_reel``) if it is no such document or names none of the shots
    """
    try:
        timeline = otio.adapters.read_from_string(text, "otio_json")
        tracks = list(timeline.video_tracks())
        ours = timeline.metadata.get(_OURS, {}).get("reel")
    except Exception:
        # The library's readers raise many kinds of errors on broken documents.
        raise _unreadable() from None
    name = timeline.name or fallback_name
    if isinstance(ours, str):
        return _own(name, ours, tracks, shots)
    try:
        return _other(name, tracks, shots)
    except Refusal:
        raise
    except Exception:
        raise _unreadable() from None


def _own(name: str, text: str, tracks: Sequence[Any], shots: Sequence[tuple[int, str]]) -> ReadReel:
    """Read what was written here; in another project shots are known by their names."""
    try:
        reel = Reel.model_validate_json(text)
    except ValidationError:
        raise _unreadable() from None
    known, by_name = {number for number, _ in shots}, {own: number for number, own in shots}
    named = {clip.metadata.get(_OURS, {}).get("part"): clip.name for track in tracks for clip in track.find_clips()}
    left_out, parts = [], []
    for part in reel.parts:
        pictures = []
        for picture in part.pictures:
            number = picture.shot if picture.shot in known else by_name.get(named.get(part.id, ""))
            if number is None:
                left_out.append(f"“{named.get(part.id, 'a shot')}” is not a shot of this project.")
                continue
            same = number == picture.shot
            own = {} if same else {"shot": number, "version": None, "begin": None, "end": None}
            pictures.append(picture.model_copy(update=own))
        if pictures:
            kind = part.arrangement if len(pictures) > 1 else "one"
            parts.append(part.model_copy(update={"pictures": tuple(pictures), "arrangement": kind}))
    return ReadReel(name, reel.model_copy(update={"parts": tuple(parts)}), tuple(left_out))


def _other(name: str, tracks: Sequence[Any], shots: Sequence[tuple[int, str]]) -> ReadReel:
    by_name = {own.casefold(): number for number, own in shots}
    parts: list[Part] = []
    left_out: list[str] = []
    rate = None
    for item in tracks[0] if tracks else []:
        if isinstance(item, otio.schema.Transition):
            length = round(item.in_offset.value + item.out_offset.value)
            if parts and length > 0:
                parts[-1] = parts[-1].model_copy(update={"join": Join(kind="dissolve", frames=length)})
            continue
        if not isinstance(item, otio.schema.Clip):
            continue
        span = item.trimmed_range()
        rate = rate or parse_rate(Fraction(span.duration.rate).limit_denominator(1001))
        number = by_name.get(item.name.casefold())
        if number is None:
            left_out.append(f"“{item.name}” is not a shot of this project.")
            continue
        frames = max(1, round(span.duration.value))
        parts.append(Part(id=len(parts) + 1, pictures=(Picture(shot=number),), frames=frames))
    if not parts:
        raise Refusal("not_a_reel", "This document names none of the shots of this project.")
    titles = tuple(
        Title(
            id=number,
            text=marker.name,
            first=round(marker.marked_range.start_time.value),
            frames=max(1, round(marker.marked_range.duration.value)),
        )
        for number, marker in enumerate(tracks[0].markers, 1)
        if marker.name
    )
    decided = Reel(parts=tuple(parts), titles=titles)
    return ReadReel(name, decided.model_copy(update={"rate": rate} if rate else {}), tuple(left_out))


def to_edl(name: str, recipe: ReelRecipe, frames: ReelFrames) -> str:
    """Write a reel's running order as an edit decision list (CMX 3600); a second picture beside another is left out."""
    rate = frames.rate
    drop = rate in DROP_FRAME_RATES
    lines = [f"TITLE: {_plain(name)}", f"FCM: {'DROP FRAME' if drop else 'NON-DROP FRAME'}", ""]
    event, before = 0, 0
    previous: tuple[int, Span] | None = None
    for number, span in enumerate(frames.spans):
        if not span.frames:
            continue
        event += 1
        clip = next(one for one in recipe.clips[number] if one is not None)
        source, record = clip.first, span.start
        kind, own = _event_reel(recipe.names[number]), f"* FROM CLIP NAME: {_plain(recipe.names[number])}"
        if before and previous is not None:
            last, earlier = previous
            at = next(one for one in recipe.clips[last] if one is not None).first + earlier.frames - before
            lines.append(_event(event, _event_reel(recipe.names[last]), "C   ", (at, at), (record, record), rate))
            cut = f"D    {before:03}"[:8]
            lines.append(_event(event, kind, cut, (source, source + span.frames), (record, span.end), rate))
            lines.append(f"* FROM CLIP NAME: {_plain(recipe.names[last])}")
            lines.append(f"* TO CLIP NAME: {_plain(recipe.names[number])}")
        else:
            end = span.end - span.over
            lines.append(_event(event, kind, "C       ", (source, source + end - span.start), (record, end), rate))
            lines.append(own)
        before, previous = span.over, (number, span)
    return "\n".join(lines) + "\n"


def _event(number: int, reel: str, cut: str, source: tuple[int, int], record: tuple[int, int], rate: Fraction) -> str:
    codes = " ".join(timecode(frame, rate) for frame in (*source, *record))
    return f"{number:03}  {reel:<8} V     {cut:<8} {codes}"


def _event_reel(name: str) -> str:
    """Return a name as a reel of a list has it: eight capital letters or digits."""
    letters = "".join(one for one in name.upper() if one.isascii() and one.isalnum())
    return letters[:_REEL_NAME] or "AX"


def _plain(text: str) -> str:
    return " ".join(text.split())[:120]


def to_vtt(frames: ReelFrames) -> str:
    """Write the texts of a reel as WebVTT (W3C): a cue for each, from when to when it is seen."""
    cues = ["WEBVTT", ""]
    for seen in sorted(frames.titles, key=lambda one: (one.start, one.end)):
        text = "\n".join(line for line in seen.title.text.split("\n") if line.strip())
        if seen.title.kind != "text" or not text:
            continue
        cues.append(f"{_vtt_time(seen.start / frames.rate)} --> {_vtt_time(seen.end / frames.rate)}")
        cues.append(text.replace("&", "&amp;").replace("<", "&lt;").replace("-->", "→"))
        cues.append("")
    return "\n".join(cues)


def _vtt_time(seconds: Fraction) -> str:
    whole = round(seconds * 1000)
    minutes, rest = divmod(whole, 60_000)
    hours, minutes = divmod(minutes, 60)
    return f"{hours:02}:{minutes:02}:{rest // 1000:02}.{rest % 1000:03}"


def _unreadable() -> Refusal:
    return Refusal("not_a_reel", "This is no OpenTimelineIO document that can be read.")
