"""How large a clip will be in each format, and how long it will take, from samples of this very clip.

Nearly all of a clip is encoded quickly at a small size, which tells how what its frames take is spread over it. Short
stretches all along it are encoded as they will be. What the whole takes follows from the two (a regression estimator:
Cochran, "Sampling techniques", 1977, chapter 7), apart for frames coded by themselves and for those coded as changes: a
share of what a quick frame takes, and beside it what it does not show, as noise, which goes over from one stretch to
the next and grows with dusk.
"""

import io
import tempfile
import time
from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise
from math import ceil, sqrt
from pathlib import Path

import av
import numpy as np

from yarnkite.core.base.frozen import Size, even_side
from yarnkite.core.encode.chunk import finished, packets_of, painted_as, painter_for, write_chunk
from yarnkite.core.encode.decisions import Encode, FormatName
from yarnkite.core.encode.formats.catalogue import FORMATS, format_of
from yarnkite.core.encode.formats.format import Format, Settings
from yarnkite.core.encode.loops import write_loop
from yarnkite.core.encode.render_plan import Chunk, ChunkTask
from yarnkite.core.encode.streams import preview_stream
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.image.decode import Read
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.render.picture import Painter

_QUICK_WIDTH = 320
_MOST_WEIGHED = 80
_STRETCHES = 6
_FEWEST_FRAMES = 8
_FRAMES_A_STRETCH = 17
_PIXELS_HELD = 36_000_000
_ALONE_A_STRETCH = 3


@dataclass(frozen=True)
class Weights:
    """What frames of a chunk take when they are encoded quickly, in bytes, the one coded by itself first."""

    number: int
    each: tuple[int, ...]

    @property
    def first(self) -> int:
        return self.each[0]

    @property
    def rest(self) -> int:
        return sum(self.each[1:])


@dataclass(frozen=True)
class Sample:
    """What the beginning of a chunk takes in a format, and what the same frames weigh; times are of one core, in
    seconds."""

    number: int
    first_bytes: float
    first_weight: float
    rest_bytes: float
    rest_weight: float
    frames: int
    render_s: float
    encode_s: float


@dataclass(frozen=True)
class Expected:
    """What a clip is expected to take: bytes, and seconds of one core a frame."""

    bytes: int
    core_s_a_frame: float


def weighed(parts: Sequence[Chunk]) -> list[Chunk]:
    """Return the chunks that are encoded quickly: all of a short clip, evenly spread ones of a long one."""
    step = max(1, ceil(len(parts) / _MOST_WEIGHED))
    return list(parts[::step])


def weights_of(task: ChunkTask, read: Read) -> Weights:
    """Encode a chunk quickly and at a small size, in memory; raises ``UnreadableStill``."""
    size = _quick_size(task.size)
    painter = Painter(size, read)
    memory = io.BytesIO()
    settings = Settings(task.encode, size, task.rate, max(2, len(task.specs)))
    with av.open(memory, "w", format="mp4") as container:
        stream = preview_stream(container, settings)
        for position, spec in enumerate(task.specs):
            frame = to_video_frame(painter.picture(spec))
            frame.pts, frame.time_base = position, 1 / task.rate
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    memory.seek(0)
    with av.open(memory, "r") as container:
        sizes = tuple(packet.size for packet in container.demux(video=0) if packet.size)
    return Weights(task.chunk.number, sizes)


def _quick_size(size: Size) -> Size:
    scale = min(1.0, _QUICK_WIDTH / max(size.width, size.height))
    return Size(width=even_side(size.width * scale), height=even_side(size.height * scale))


@dataclass(frozen=True)
class Window:
    """A stretch that is sampled: from a frame of a chunk on, ``offset`` frames after its first."""

    weights: Weights
    offset: int


def windows(weights: Sequence[Weights]) -> list[Window]:
    """Return the stretches that are sampled: of each part of the clip the chunk in which most usually changes.

    Of a clip of few chunks each gets several. The middle of the clip comes first, then its ends: what is known soonest
    says most.
    """
    count = min(_STRETCHES, len(weights))
    edges = [place * len(weights) // count for place in range(count + 1)]
    parts = [sorted(weights[first:end], key=_change) for first, end in pairwise(edges)]
    each = _STRETCHES // count
    chosen = [
        Window(one, place * len(one.each) // each)
        for part in parts
        for one in [part[len(part) // 2]]
        for place in range(min(each, max(1, len(one.each) // _FEWEST_FRAMES)))
    ]
    return sorted(chosen, key=lambda one: abs(chosen.index(one) - (len(chosen) - 1) / 2))


def _change(weights: Weights) -> tuple[float, int]:
    return weights.rest / len(weights.each), weights.number


def frames_a_stretch(size: Size) -> int:
    """Return how many frames of a stretch are sampled: fewer of large ones, which are all held at once."""
    return max(5, min(_FRAMES_A_STRETCH, _PIXELS_HELD // (size.width * size.height)))


def measure(task: ChunkTask, window: Window, wanted: Sequence[Encode], read: Read) -> dict[FormatName, Sample]:
    """Encode a stretch of a chunk in each of some formats; returns what each takes.

    Raises ``UnreadableStill``.
    """
    specs = task.specs[window.offset :][: frames_a_stretch(task.size)]
    found: dict[FormatName, Sample] = {}
    for formats in _painted_alike(wanted):
        painter = painter_for(formats[0], task.size, read)
        begun = time.process_time()
        # The library hands out its last picture again where nothing changed; none is written to.
        pictures = [painter.picture(spec) for spec in specs]
        render_s = time.process_time() - begun
        for encode in formats:
            found[encode.format] = _measured(replace(task, encode=encode), window, pictures, render_s)
    return found


def _painted_alike(wanted: Sequence[Encode]) -> list[list[Encode]]:
    """Return formats in groups of those that have the same pictures."""
    groups: dict[tuple[bool, bool], list[Encode]] = {}
    for encode in wanted:
        groups.setdefault(painted_as(encode), []).append(encode)
    return list(groups.values())


def _measured(task: ChunkTask, window: Window, pictures: Sequence[ImageArray], render_s: float) -> Sample:
    format, weights = format_of(task.encode), window.weights
    used = pictures[: _ALONE_A_STRETCH if format.intra else format.sampled_frames]
    begun = time.process_time()
    if format.way == "streamed":
        sizes = _looped(task, used)
    else:
        sizes = packets_of(task, [finished(picture, task.encode, format) for picture in used])
    encode_s = time.process_time() - begun
    render_s *= len(used) / len(pictures)
    if format.intra:
        # What is coded by itself goes with what a quick frame takes by itself, of which there is one a chunk.
        return Sample(weights.number, sum(sizes), weights.first * len(sizes), 0, 0, len(sizes), render_s, encode_s)
    first, rest = sizes[0], sum(sizes[1:])
    weight = sum(weights.each[window.offset + 1 : window.offset + len(sizes)])
    if window.offset:
        # It began a group only for being sampled: its first frame says nothing of those that do.
        return Sample(weights.number, 0, 0, rest, weight, len(sizes), render_s, encode_s)
    return Sample(weights.number, first, weights.first, rest, weight, len(sizes), render_s, encode_s)


def _looped(task: ChunkTask, pictures: Sequence[ImageArray]) -> list[int]:
    """Return what the frames of a loop take, as if each took the same."""
    format = format_of(task.encode)
    with tempfile.TemporaryDirectory() as folder:
        part, target = Path(folder) / "part", Path(folder) / "loop"
        write_chunk(part, task, (finished(picture, task.encode, format).frame for picture in pictures))
        write_loop(task.rate, task.size, [part], target, task.encode)
        each = target.stat().st_size / len(pictures)
    return [round(each)] * len(pictures)


def expected(format: Format, samples: Sequence[Sample], weights: Sequence[Weights], frames: int) -> Expected:
    """Return what a clip of so many frames is expected to take; ``weights`` are of all its chunks or of evenly spread
    ones."""
    seconds = sum(one.render_s + one.encode_s for one in samples) / max(1, sum(one.frames for one in samples))
    numbers = [one.number for one in weights]
    every = sum(len(one.each) for one in weights)
    began = [one for one in samples if one.first_weight > 0]
    alone = _along(numbers, [(one.number, one.first_bytes, one.first_weight, _alone(one, format)) for one in began])
    changing = [one for one in samples if one.frames > 1]
    change = _along(numbers, [(one.number, one.rest_bytes, one.rest_weight, one.frames - 1) for one in changing])
    found = 0.0
    for one, first, rest in zip(weights, alone, change, strict=True):
        if format.intra:
            found += len(one.each) * first(one.first, 1)
        else:
            found += first(one.first, 1) + rest(one.rest, len(one.each) - 1)
    return Expected(round(found * frames / every), seconds)


def _alone(sample: Sample, format: Format) -> int:
    """Return how many frames of a sample were coded by themselves."""
    return sample.frames if format.intra else 1


def _along(
    numbers: Sequence[int], known: Sequence[tuple[int, float, float, int]]
) -> list[Callable[[float, int], float]]:
    """Return, for each chunk, what frames take of which a quick weight and a count are given.

    ``known`` are chunk, bytes, quick weight and count of sampled frames. Where the quick weight says most, it says all;
    what is beside that elsewhere is the same for each frame, and lies between those of the chunks on either side.
    """
    share = min((size / weight for _, size, weight, _ in known if weight > 0), default=0.0)
    beside: dict[int, list[float]] = defaultdict(lambda: [0.0, 0])
    for number, size, weight, count in known:
        beside[number][0] += size - share * weight
        beside[number][1] += count
    if not beside:
        return [lambda weight, count: 0.0] * len(numbers)
    at = sorted(beside)
    found = np.interp(numbers, at, [beside[number][0] / max(1, beside[number][1]) for number in at])
    return [partial(_taken, share, float(one)) for one in found]


def _taken(share: float, beside: float, weight: float, count: int) -> float:
    return share * weight + beside * count


def ordinary_core_s(format: Format, size: Size) -> float:
    """Return how long one core usually takes for a frame, until it is measured: reading and drawing it, and its
    encoder."""
    share = size.width * size.height / (1920 * 1080)
    return share / format.fps + 0.15 * sqrt(share)


def offered(encode: Encode) -> list[Encode]:
    """Return the decisions in each format, all else as it is decided; the format that is decided first."""
    formats = [encode.format, *(name for name in FORMATS if name != encode.format)]
    return [
        encode.model_copy(update={"format": name, "container": encode.container if name == encode.format else None})
        for name in formats
    ]
