"""Probing a clip: open the finished file again and read back what is really in it."""

from collections import Counter
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av.error

from yarnkite.core.encode.plan import ClipPlan
from yarnkite.core.encode.sound_stream import decoded
from yarnkite.core.encode.video_frame import PIXEL_FORMATS
from yarnkite.core.encode.x264 import BT709, LIMITED_RANGE
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import Loudness, loudness_of
from yarnkite.core.sound.stored import CHANNELS

LOUDNESS_WITHIN_LU = 0.3
# Two measures of what lies between samples differ by a little.
_PEAK_DBTP = -0.9


@dataclass(frozen=True)
class Facts:
    """What a clip holds: every frame decoded and counted, sizes in pixels, length in exact seconds."""

    frames: int
    rate: Fraction
    width: int
    height: int
    seconds: Fraction
    codec: str
    pixel_format: str
    colour: tuple[int, int, int, int]
    fast_start: bool
    bytes: int
    sound: "SoundFacts | None" = None


@dataclass(frozen=True)
class SoundFacts:
    """What the sound of a clip holds, all of it decoded: ``gaps`` is how often a packet does not follow on the one before."""

    codec: str
    rate: int
    channels: int
    samples: int
    start: Fraction
    gaps: int
    loudness: Loudness


@dataclass(frozen=True)
class Difference:
    """One thing about a clip that is not as planned."""

    what: str
    planned: str
    found: str

    def __str__(self) -> str:
        return f"{self.what}: planned {self.planned}, found {self.found}"


def probe(path: Path) -> Facts:
    """Open a clip and decode all of it; raises ``av.error.FFmpegError`` if it cannot be read."""
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        stream.thread_type = "AUTO"
        time_base = stream.time_base or Fraction(1)
        steps: Counter[int] = Counter()
        frames, last = 0, None
        for frame in container.decode(stream):
            frames += 1
            if last is not None and frame.pts is not None:
                steps[frame.pts - last] += 1
            last = frame.pts
        context = stream.codec_context
        # A single frame has no step to measure; its stated duration is the rate then.
        step = steps.most_common(1)[0][0] * time_base if len(steps) == 1 else (stream.duration or 0) * time_base
        uneven = len(steps) > 1
        return Facts(
            frames=frames,
            rate=Fraction(0) if uneven or not step else 1 / step,
            width=context.width,
            height=context.height,
            seconds=(stream.duration or 0) * time_base,
            codec=context.name,
            pixel_format=context.pix_fmt or "",
            colour=(context.color_primaries, context.color_trc, context.colorspace, context.color_range),
            fast_start=_index_comes_first(path),
            bytes=path.stat().st_size,
            sound=_sound_in(path),
        )


def _sound_in(path: Path) -> SoundFacts | None:
    with av.open(str(path)) as container:
        if not container.streams.audio:
            return None
        stream = container.streams.audio[0]
        time_base = stream.time_base or Fraction(1, RATE)
        context = stream.codec_context
        gaps, expected = 0, None
        for packet in container.demux(stream):
            if packet.pts is None:
                continue
            gaps += expected is not None and packet.pts != expected
            expected = packet.pts + (packet.duration or 0)
        duration = (stream.duration or 0) * time_base
        codec, rate, channels = context.name, context.sample_rate, context.channels
        start = (stream.start_time or 0) * time_base
    return SoundFacts(codec, rate, channels, round(duration * RATE), start, gaps, loudness_of(decoded(path)))


def verify(facts: Facts, plan: ClipPlan) -> list[Difference]:
    """Compare what a clip holds with what was planned; an empty list means it is verified."""
    expected: list[tuple[str, object, object]] = [
        ("frames", plan.frames, facts.frames),
        ("frames per second", plan.rate, facts.rate),
        ("width", plan.size.width, facts.width),
        ("height", plan.size.height, facts.height),
        ("length in seconds", plan.seconds, facts.seconds),
        ("codec", "h264", facts.codec),
        ("pixel format", PIXEL_FORMATS[plan.depth], facts.pixel_format),
        ("colour tags (BT.709, limited range)", (BT709, BT709, BT709, LIMITED_RANGE), facts.colour),
        ("index before the pictures (fast start)", True, facts.fast_start),
    ]
    differences = [Difference(what, str(planned), str(found)) for what, planned, found in expected if planned != found]
    return [*differences, *_sound_differences(facts.sound, plan)]


def _sound_differences(found: SoundFacts | None, plan: ClipPlan) -> list[Difference]:
    planned = plan.sound
    if planned is None or found is None:
        same = planned is None and found is None
        return [] if same else [Difference("sound", "some" if planned else "none", "some" if found else "none")]
    expected: list[tuple[str, object, object]] = [
        ("codec of the sound", "aac", found.codec),
        ("samples a second of the sound", RATE, found.rate),
        ("channels of the sound", CHANNELS, found.channels),
        ("samples of the sound", planned.samples, found.samples),
        ("begin of the sound", Fraction(0), found.start),
        ("gaps in the sound", 0, found.gaps),
    ]
    differences = [Difference(what, str(one), str(other)) for what, one, other in expected if one != other]
    said = found.loudness.lufs
    # What is too short for a measure may be long enough once its encoder has filled up its last block.
    measurable = planned.lufs is not None or planned.samples > RATE // 2
    if measurable and (
        (planned.lufs is None) != (said is None) or abs((planned.lufs or 0) - (said or 0)) > LOUDNESS_WITHIN_LU
    ):
        differences.append(Difference("loudness", _lufs_text(planned.lufs), _lufs_text(said)))
    if found.loudness.true_peak_dbtp > _PEAK_DBTP:
        peak = f"{found.loudness.true_peak_dbtp:.1f} dBTP"
        differences.append(Difference("true peak", f"at most {_PEAK_DBTP:.1f} dBTP", peak))
    return differences


def _lufs_text(lufs: float | None) -> str:
    return "silence" if lufs is None else f"{lufs:.1f} LUFS"


def _index_comes_first(path: Path) -> bool:
    """Tell whether an MP4's ``moov`` box stands before its ``mdat`` (ISO/IEC 14496-12)."""
    with path.open("rb") as file:
        while header := file.read(8):
            size, name = int.from_bytes(header[:4]), header[4:]
            if name in (b"moov", b"mdat"):
                return name == b"moov"
            if size == 1:
                size = int.from_bytes(file.read(8)) - 8
            if size < 8:
                return False
            file.seek(size - 8, 1)
    return False
