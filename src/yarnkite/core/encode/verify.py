"""Verifying: open the finished file again, read back what is really in it, and compare every frame with its picture."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from pathlib import Path
from types import MappingProxyType

import av.error

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.timecode import timecode, timecode_from
from yarnkite.core.encode import aim
from yarnkite.core.encode.colours import BT709, colours_of
from yarnkite.core.encode.compare import Comparison, Evidence
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.join import WITHOUT_CHAPTERS, Chapter
from yarnkite.core.encode.labels import Labels, same_labels
from yarnkite.core.encode.likeness import Copies
from yarnkite.core.encode.probe import Facts, SoundFacts, probe
from yarnkite.core.encode.proof import Proof, level_of, level_said_by, put_together, times_if_proven
from yarnkite.core.encode.render_plan import Chunk, RenderPlan
from yarnkite.core.encode.sample import differing
from yarnkite.core.encode.sound_likeness import SoundComparison, SoundEvidence
from yarnkite.core.encode.sound_stream import LOSSLESS
from yarnkite.core.image.pixels import EightBit
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.stored import CHANNELS

LOUDNESS_WITHIN_LU = 0.3
# Two measures of what lies between samples differ by a little.
_PEAK_DBTP = -0.9
_MOST_NAMED = 5


@dataclass(frozen=True)
class Difference:
    """One thing about a clip that is not as planned."""

    what: str
    planned: str
    found: str

    def __str__(self) -> str:
        return f"{self.what}: planned {self.planned}, found {self.found}"


@dataclass(frozen=True)
class Verdict:
    """What a clip holds, how it differs from its plan, and what comparing its frames and its sound gave."""

    facts: Facts
    differences: list[Difference]
    evidence: Evidence = field(default_factory=Evidence)
    heard: SoundEvidence | None = None

    def sentence(self, plan: RenderPlan) -> str:
        """Say what was compared, and where the least likeness is: by the file's own timecode, if it has one."""
        evidence = self.evidence
        if not evidence.frames:
            return ""
        many = "all" if evidence.anew == evidence.frames else f"{evidence.anew:,}"
        anew = f"; {many} of them painted anew" if evidence.anew else ""
        anew += self._said_of_sound()
        if evidence.lowest >= 1.0:
            return f"{evidence.frames:,} frames compared, each exactly its picture{anew}"
        start = Labels.of(plan.encode).timecode(format_of(plan.encode).container_of(plan.encode))
        lowest_at = evidence.lowest_at
        at = timecode_from(start, lowest_at, plan.rate) if start else timecode(lowest_at, plan.rate)
        return (
            f"{evidence.frames:,} frames compared in light and colour, lowest likeness {evidence.lowest:.3f} at {at}, "
            f"mean {evidence.mean:.3f}{anew}"
        )

    def _said_of_sound(self) -> str:
        if self.heard is None:
            return ""
        alike = "exactly its mix" if self.heard.lowest >= 1.0 else f"lowest likeness {self.heard.lowest:.3f}"
        return f"; {self.heard.samples / RATE:.1f} s of sound compared, {alike}"


def verified(
    path: Path,
    plan: RenderPlan,
    parts: Sequence[Chunk],
    folder: Path,
    labels: Labels = Labels(),
    anew: Mapping[int, EightBit] = MappingProxyType({}),
    chapters: Sequence[Chapter] = (),
) -> Verdict:
    """Compare each frame of a finished clip with the copy kept while rendering, its sound with the mix, all facts with
    the plan.

    What was decoded and compared as its chunks were made is not decoded again, where the file holds the same packets.
    ``folder`` has the chunks, their copies and proofs; ``anew`` are copies of some frames that were painted anew, by
    number, which the rendered ones are held against. Raises ``Refusal`` (``clip_damaged``) for a file that cannot be
    read, or (``chunks_differ``) for copies that cannot.
    """
    heard = (
        SoundComparison(plan.sound.mix, lossless=plan.sound.codec in LOSSLESS)
        if plan.sound and plan.sound.mix
        else None
    )
    listen = heard.add if heard else None
    try:
        if proven := _proven(path, plan, parts, folder, anew):
            evidence, others, times = proven
            facts = probe(path, plan, times=times, listen=listen)
        else:
            others = list[Difference]()
            copies = _held_against(_copies(parts, folder), anew, others, plan.size.width)
            comparison = Comparison(copies, plan.encode, plan.size.width)
            facts = probe(path, plan, comparison.compare, listen=listen)
            evidence = comparison.result()
    except (av.error.FFmpegError, ValueError) as error:
        raise Refusal(
            "clip_damaged", f"The finished file cannot be read back: {error}. Encode again; what is rendered is kept."
        ) from error
    named = [Difference(f"frame {frame + 1:,}", "its picture", what) for frame, what in evidence.faults[:_MOST_NAMED]]
    if (more := len(evidence.faults) - _MOST_NAMED) > 0:
        named.append(Difference("more frames that differ", "none", f"{more:,}"))
    sound = heard.result() if heard and facts.sound else None
    if sound and sound.fault is not None:
        at = timecode(int(sound.fault * plan.rate / RATE), plan.rate)
        named.append(Difference(f"sound from {at} on", "its mix", "something else"))
    differences = [*verify(facts, plan, labels, chapters), *named, *others[:_MOST_NAMED]]
    return Verdict(facts, differences, replace(evidence, anew=len(anew)), sound)


def _proven(
    path: Path, plan: RenderPlan, parts: Sequence[Chunk], folder: Path, anew: Mapping[int, EightBit]
) -> tuple[Evidence, list[Difference], Sequence[int]] | None:
    """Return what is known of a file that holds exactly the packets of proven chunks, and when its frames are shown, in
    its ticks; ``None`` for any other file.
    """
    if format_of(plan.encode).way != "joined":
        return None
    proofs = [one for part in parts if (one := Proof.read(folder / part.proof_name)) and one.frames == part.frames]
    if len(proofs) != len(parts) or (times := times_if_proven(path, proofs)) is None:
        return None
    evidence, others = put_together(parts, proofs), list[Difference]()
    for part, proof in zip(parts, proofs, strict=True):
        if any(part.first <= frame < part.first + part.frames for frame in anew):
            for _ in _held_against(_copies([part], folder), anew, others, plan.size.width, part.first):
                pass
        if proof.evidence.faults:
            # What is wrong from the beginning is made anew by the next who wants it.
            for name in (part.file_name, *part.beside):
                (folder / name).unlink(missing_ok=True)
    if (level := level_of(proofs)) and (said := level_said_by(path)) != level:
        others.append(Difference("light level (brightest, mean)", str(level), str(said)))
    return evidence, others, times


def _held_against(
    copies: Iterator[EightBit], anew: Mapping[int, EightBit], differences: list[Difference], width: int, first: int = 0
) -> Iterator[EightBit]:
    """Yield copies of frames from ``first`` on as they are, and note those that are not what was painted anew."""
    for frame, copy in enumerate(copies, first):
        if frame in anew and (said := differing(copy, anew[frame], width)):
            differences.append(Difference(f"frame {frame + 1:,}", "what painting it anew gives", said))
        yield copy


def _copies(parts: Sequence[Chunk], folder: Path) -> Iterator[EightBit]:
    for part in parts:
        try:
            copies = Copies.read(folder / part.copies_name)
        except (ValueError, OSError):
            # Without them the chunk counts as not rendered.
            (folder / part.copies_name).unlink(missing_ok=True)
            raise Refusal(
                "chunks_differ", "What a rendered piece is to be compared with cannot be read. Encode again."
            ) from None
        yield from copies.frames


def verify(
    facts: Facts, plan: RenderPlan, labels: Labels = Labels(), chapters: Sequence[Chapter] = ()
) -> list[Difference]:
    """Compare what a clip holds with what was planned; an empty list means that all is as it should be."""
    format = format_of(plan.encode)
    container = format.container_of(plan.encode)
    expected: list[tuple[str, object, object]] = [
        ("container", container, facts.container),
        ("frames", plan.frames, facts.frames),
        ("width", plan.size.width, facts.width),
        ("height", plan.size.height, facts.height),
        ("codec", format.codec, facts.codec),
    ]
    if format.way != "numbered":
        off = abs(facts.seconds - plan.seconds) <= facts.tick / 2
        expected += [
            ("frames per second", plan.rate, facts.rate),
            ("length in seconds", plan.seconds, plan.seconds if off else facts.seconds),
        ]
    if format.way == "joined":
        colours = colours_of(format.range_of(plan.encode))
        said = labels.metadata(container)
        expected += [
            ("pixel format", format.pixel_format, facts.pixel_format),
            ("shape of a pixel", Fraction(1), facts.pixel_shape),
            (f"colour tags ({colours.name}, limited range)", colours.tags, facts.colour),
            ("index before the pictures (fast start)", True, facts.fast_start),
            ("timecode of the first frame", labels.timecode(container), facts.timecode),
            ("title and comment", True, same_labels(said, facts.labels)),
        ]
        planned = [] if container in WITHOUT_CHAPTERS else [(one.name, one.first / plan.rate) for one in chapters]
        expected.append(("chapters", _chapters_text(planned), _chapters_text(facts.chapters)))
        if format.profile:
            expected.append(("profile", format.profile, facts.profile))
    if format.name == "avif":
        expected.append((f"colour tags ({BT709.name}, limited range)", BT709.tags, facts.colour))
    differences = [Difference(what, str(planned), str(found)) for what, planned, found in expected if planned != found]
    return [*differences, *_size_differences(facts, plan), *_sound_differences(facts.sound, plan)]


def _chapters_text(chapters: Iterable[tuple[str, Fraction]]) -> str:
    """Say chapters, to a thousandth of a second: no container needs to write them finer."""
    return ", ".join(f"“{name}” at {float(begins):.3f} s" for name, begins in chapters) or "none"


def _size_differences(facts: Facts, plan: RenderPlan) -> list[Difference]:
    """Say where a size that was wanted was not met: larger it may never be, smaller where no quality fills it."""
    total = format_of(plan.encode).wanted_total(plan.encode, float(plan.seconds))
    if total is None or facts.bytes <= total * (1 + aim.WITHIN):
        return []
    return [Difference("size", f"{total / 1e6:.1f} MB", f"{facts.bytes / 1e6:.1f} MB")]


def _sound_differences(found: SoundFacts | None, plan: RenderPlan) -> list[Difference]:
    planned = plan.sound
    if planned is None or found is None:
        same = planned is None and found is None
        return [] if same else [Difference("sound", "some" if planned else "none", "some" if found else "none")]
    expected: list[tuple[str, object, object]] = [
        ("codec of the sound", planned.codec, found.codec),
        ("samples a second of the sound", RATE, found.rate),
        ("channels of the sound", CHANNELS, found.channels),
        ("samples of the sound", planned.samples, found.samples),
        ("begin of the sound", Fraction(0), found.start),
        ("gaps in the sound", 0, found.gaps),
    ]
    differences = [Difference(what, str(one), str(other)) for what, one, other in expected if one != other]
    heard = found.loudness.lufs
    # What is too short for a measure may be long enough once its encoder has filled up its last block.
    measurable = planned.lufs is not None or planned.samples > RATE // 2
    if measurable and (
        (planned.lufs is None) != (heard is None) or abs((planned.lufs or 0) - (heard or 0)) > LOUDNESS_WITHIN_LU
    ):
        differences.append(Difference("loudness", _lufs_text(planned.lufs), _lufs_text(heard)))
    if found.loudness.true_peak_dbtp > _PEAK_DBTP:
        peak = f"{found.loudness.true_peak_dbtp:.1f} dBTP"
        differences.append(Difference("true peak", f"at most {_PEAK_DBTP:.1f} dBTP", peak))
    return differences


def _lufs_text(lufs: float | None) -> str:
    return "silence" if lufs is None else f"{lufs:.1f} LUFS"
