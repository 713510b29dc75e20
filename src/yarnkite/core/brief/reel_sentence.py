"""The brief of a reel: one sentence about the whole video, and what is to be known about its parts."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text, timecode
from yarnkite.core.base.wording import counted, frames_text
from yarnkite.core.brief.sentence import Part, written_text
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.size_model import ORDINARY, SizeModel, estimated_bytes, known_bytes, said_size
from yarnkite.core.image.lettering import missing
from yarnkite.core.reel.decisions import Reel
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.reel.timing import one_for_one
from yarnkite.core.sound.decisions import RATE, samples_of
from yarnkite.core.sound.mix import heard

_SOUND_BYTES_A_SECOND = 32_500


@dataclass(frozen=True)
class Remark:
    """Something to know about a part, a title or a track, by its number; ``about`` says which of them."""

    about: str
    number: int
    sentence: str


@dataclass(frozen=True)
class ReelBrief:
    """The sentence, remarks, and the same facts as numbers."""

    parts: tuple[Part, ...]
    remarks: tuple[Remark, ...]
    frames: int
    length: str
    timecode: str
    bytes: int

    def __str__(self) -> str:
        return "".join(part.text for part in self.parts)


def reel_brief(
    recipe: ReelRecipe,
    frames: ReelFrames,
    models: Sequence[SizeModel | None],
    remarks: Sequence[Remark] = (),
    expected: int | None = None,
) -> ReelBrief:
    """Say what a reel will be; ``models`` has what each part's shot was found to weigh, ``remarks`` what else is
    known."""
    reel, count = recipe.reel, len(frames)
    nothing = timecode(0, reel.rate)
    if not count:
        why = "no shot is in it yet" if not reel.parts else "none of its shots can be shown"
        return ReelBrief((Part(f"Nothing to make yet: {why}."),), tuple(remarks), 0, "0.0 s", nothing, 0)
    length = duration_text(count / reel.rate)
    known = known_bytes(reel.encode, count / reel.rate, expected)
    size = reel_bytes(recipe, frames, models, reel.encode) if known is None else known
    tracks = [track for track in reel.sound.tracks if track.sound in recipe.sounds and not track.muted]
    said = (
        Part("Show "),
        Part(_shots(recipe), "order"),
        *_joins(reel, frames),
        Part(", cover "),
        Part(str(reel.size), "size"),
        Part(" at "),
        Part(f"{rate_label(reel.rate)} fps", "rate"),
        *((Part(", with "), Part(counted(len(frames.titles), "title"), "titles")) if frames.titles else ()),
        *_sounds(reel, len(tracks)),
        *_fades(reel),
        *written_text(reel.encode),
        Part(f"{' with sound' if tracks and format_of(reel.encode).has_sound else ''}: {frames_text(count)}, "),
        Part(length),
        Part(
            f" ({timecode(count, reel.rate)}), {said_size(size, is_sure=known is not None, are_weighed=all(models))}."
        ),
    )
    every = (*remarks, *_about_parts(recipe, frames), *_about_titles(reel, frames), *_about_tracks(recipe, count))
    return ReelBrief(said, every, count, length, timecode(count, reel.rate), size)


def _shots(recipe: ReelRecipe) -> str:
    shown = sum(any(clip is not None for clip in part) for part in recipe.clips)
    beside = sum(len(part.pictures) > 1 for part in recipe.reel.parts)
    if shown == 1:
        return f"{len(recipe.reel.parts[0].pictures)} shots beside each other" if beside else f"“{_first(recipe)}”"
    said = f"{shown} parts one after another"
    return f"{said}, {beside} of them several shots beside each other" if beside else said


def _first(recipe: ReelRecipe) -> str:
    return next(name for name, part in zip(recipe.names, recipe.clips, strict=True) if any(part))


def _joins(reel: Reel, frames: ReelFrames) -> tuple[Part, ...]:
    dissolves = sum(span.over > 0 for span in frames.spans)
    dips = sum(span.dip > 0 for span in frames.spans)
    said = [counted(dissolves, "dissolve")] if dissolves else []
    said += [counted(dips, "dip") + " to a colour"] if dips else []
    return (Part(" by way of "), Part(" and ".join(said), "order")) if said else ()


def _sounds(reel: Reel, tracks: int) -> tuple[Part, ...]:
    if not tracks:
        return ()
    loud = "as loud as they are" if reel.sound.loudness is None else f"at −{-reel.sound.loudness:g}\u00a0LUFS"
    return (Part(", lay "), Part(counted(tracks, "sound"), "sound"), Part(f" under it {loud}"))


def _fades(reel: Reel) -> tuple[Part, ...]:
    fades = reel.fades
    come, go = max(fades.picture_in, fades.sound_in), max(fades.picture_out, fades.sound_out)
    said = [f"fade in over {duration_text(come / reel.rate)}"] if come else []
    said += [f"fade out over {duration_text(go / reel.rate)}"] if go else []
    return (Part(", "), Part(" and ".join(said), "fades")) if said else ()


def reel_bytes(recipe: ReelRecipe, frames: ReelFrames, models: Sequence[SizeModel | None], encode: Encode) -> int:
    """Return about how many bytes a reel takes, from what its shots' frames weigh."""
    reel, total = recipe.reel, 0
    for clips, span, model in zip(recipe.clips, frames.spans, models, strict=True):
        clip = next((one for one in clips if one is not None), None)
        if clip is None or not span.frames:
            continue
        decided = clip.recipe.decisions
        fit = decided.fit.model_copy(update={"size": reel.size})
        decisions = decided.model_copy(update={"fit": fit, "encode": encode})
        changing = min(span.frames, clip.frames)
        total += estimated_bytes(decisions, span.frames, changing, model or ORDINARY)
    return total + round(_SOUND_BYTES_A_SECOND * len(frames) / reel.rate) * bool(reel.sound.tracks)


def _about_parts(recipe: ReelRecipe, frames: ReelFrames) -> list[Remark]:
    reel, found = recipe.reel, []
    for part, clips, name, span in zip(reel.parts, recipe.clips, recipe.names, frames.spans, strict=True):
        for clip in clips:
            if clip is not None:
                rate = clip.recipe.decisions.pace.written_rate
                if sentence := _about_rate(reel, rate, clip.frames, name):
                    found.append(Remark("part", part.id, sentence))
                shape = clip.decided_size or clip.recipe.decisions.fit.size
                if len(part.pictures) == 1 and shape.width * reel.size.height != shape.height * reel.size.width:
                    found.append(
                        Remark(
                            "part",
                            part.id,
                            f"“{name}” was decided for {shape}; in this reel of {reel.size} its stills are fitted "
                            "anew, so that more or less of them is seen.",
                        )
                    )
        wished = part.join.frames if part.join.kind == "dissolve" else 0
        if wished and span.frames and span.over and span.over < wished:
            found.append(
                Remark(
                    "part",
                    part.id,
                    f"The dissolve after “{name}” takes {frames_text(span.over)} "
                    f"instead of {wished}: its neighbours are too short for more.",
                )
            )
    return found


def _about_rate(reel: Reel, rate: Fraction, frames: int, name: str) -> str:
    """Say what happens to a shot whose rate is not the reel's."""
    if rate == reel.rate:
        return ""
    own, whole = rate_label(rate), rate_label(reel.rate)
    if one_for_one(reel, rate):
        change = float(reel.rate / rate - 1) * 100
        by = f"{abs(change):.2g}" if abs(change) < 10 else f"{abs(change):.0f}"
        lasts = duration_text(frames / reel.rate)
        close = (
            f"{own} and {whole} fps are not the same: "
            if abs(change) < 1
            else f"“{name}” has {own} fps, this reel {whole}: "
        )
        how = "faster" if change > 0 else "slower"
        return f"{close}each frame of “{name}” is shown once, so it runs {by} % {how} and lasts {lasts}."
    kept = "some of its frames are shown twice" if reel.rate > rate else "some of its frames are left out"
    return f"“{name}” has {own} fps; in this reel of {whole} it keeps its length, and {kept}."


def _about_titles(reel: Reel, frames: ReelFrames) -> list[Remark]:
    found, seen = [], {one.title.id for one in frames.titles}
    for title in reel.titles:
        if title.id not in seen:
            found.append(Remark("title", title.id, "This title is not seen: what it hangs on is not in the reel."))
            continue
        lost = missing(title.text.replace("\n", ""), title.face) if title.kind != "picture" else ""
        if lost:
            found.append(
                Remark(
                    "title", title.id, f"No typeface here has “{lost[:12]}”; an empty box is drawn for each instead."
                )
            )
        elif title.kind in ("clock", "date", "days", "compression") and not frames.says_something(title):
            found.append(
                Remark(
                    "title", title.id, "The stills of this shot do not say when they were taken, so nothing is shown."
                )
            )
        elif frames.reaches_beyond(title):
            found.append(Remark("title", title.id, "This title reaches beyond the frame. Make it smaller or shorter."))
    return found


def _about_tracks(recipe: ReelRecipe, count: int) -> list[Remark]:
    reel, found = recipe.reel, []
    total = samples_of(count, reel.rate)
    for track in reel.sound.tracks:
        sound = recipe.sounds.get(track.sound)
        if sound is None:
            found.append(Remark("track", track.id, "This sound is not in the project any more. Bring it in again."))
            continue
        if track.start >= total or track.skip >= sound.samples:
            found.append(Remark("track", track.id, "This sound begins after the video ends, so it is not heard."))
            continue
        ends = track.start + heard(track, sound.samples, total)
        if total - ends > RATE:
            early = duration_text(Fraction(total - ends, RATE))
            found.append(Remark("track", track.id, f"This sound ends {early} before the picture."))
    return found
