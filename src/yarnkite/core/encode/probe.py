"""Probing a clip: open the finished file again, decode all of it, and read back what is really in it."""

import re
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import BinaryIO

import av
import av.error
import numpy as np
from PIL import Image, ImageSequence

from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.likeness import sheet, sheet_of_picture
from yarnkite.core.encode.numbered import read_frame
from yarnkite.core.encode.render_plan import RenderPlan
from yarnkite.core.encode.samples import Depth
from yarnkite.core.encode.sound_stream import decoded
from yarnkite.core.encode.video_frame import plane_of
from yarnkite.core.image.pixels import EightBit
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import Loudness, loudness_of
from yarnkite.core.sound.stored import Wave

Compare = Callable[[EightBit], None]
Listen = Callable[[Wave], None]
_PIXEL_DEPTHS: dict[str, Depth] = {"p": 8, "p10le": 10, "p12le": 12, "p16le": 16}


@dataclass(frozen=True)
class Facts:
    """What a clip holds: every frame decoded and counted, sizes in pixels, length in exact seconds.

    ``chapters`` are their names and the seconds they begin at, ``tick`` is the length, in seconds, of the steps times
    are written in; ``rate`` is 0 where frames are not evenly apart, to half a tick.
    """

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
    container: str = ""
    profile: str = ""
    timecode: str = ""
    pixel_shape: Fraction = Fraction(1)
    tick: Fraction = Fraction(0)
    labels: dict[str, str] = field(default_factory=dict, hash=False)
    chapters: tuple[tuple[str, Fraction], ...] = ()


@dataclass(frozen=True)
class SoundFacts:
    """What the sound of a clip holds, all of it decoded: ``gaps`` is how often a packet does not follow on the one
    before."""

    codec: str
    rate: int
    channels: int
    samples: int
    start: Fraction
    gaps: int
    loudness: Loudness


def probe(
    path: Path,
    plan: RenderPlan | None = None,
    compare: Compare | None = None,
    times: Sequence[int] | None = None,
    listen: Listen | None = None,
) -> Facts:
    """Open a clip and decode all of it; raises ``av.error.FFmpegError`` or ``ValueError`` if it cannot be read.

    ``plan`` tells how pictures that are files each were written and which rate to look for, ``compare`` gets each
    frame, reduced, and ``listen`` the sound as a player hears it. ``times`` are when the frames of a video are shown,
    in its ticks, where it is proven already which these are: then none is decoded.
    """
    with path.open("rb") as file:
        head = file.read(16)
    if head[:2] == b"PK":
        return _archive(path, plan.encode if plan else Encode(), compare)
    if head[8:12] == b"WEBP":
        return _webp(path, plan, compare)
    return _video(path, plan, compare, times, listen)


def _video(
    path: Path, plan: RenderPlan | None, compare: Compare | None, known: Sequence[int] | None, listen: Listen | None
) -> Facts:
    with av.open(str(path)) as container:
        # A loop of pictures has its first one apart, as a stream of one frame.
        stream = max(container.streams.video, key=lambda one: one.frames)
        stream.thread_type = "AUTO"
        tick = stream.time_base or Fraction(1)
        kind = _container(path, container.format.name)
        # Steps are counted, not kept: there may be a million frames.
        times = _Times(tick, plan.rate if plan else stream.average_rate or Fraction(0))
        for at in known or ():
            times.add(at)
        for frame in container.decode(stream) if known is None else ():
            times.add(frame.pts)
            if compare is not None:
                compare(copy_of_frame(frame, is_picture=kind == "avif"))
        context = stream.codec_context
        seconds = (stream.duration or 0) * tick
        if stream.duration is None:
            # Sound may go on a few milliseconds beyond the pictures, to the end of its last block.
            seconds = _said_length(stream.metadata) or Fraction(container.duration or 0, av.time_base)
            # Length and begin of the last frame are rounded each.
            tick = 2 * tick
        labels = dict(container.metadata)
        codes = [
            str(one.metadata.get("timecode", "")) for one in container.streams if one.type in ("video", "data")
        ] + [str(container.metadata.get("timecode", ""))]
        return Facts(
            frames=times.frames,
            rate=times.rate(stream.duration or 0),
            width=context.width,
            height=context.height,
            seconds=seconds,
            codec=_CODECS.get(context.name, context.name),
            pixel_format=context.pix_fmt or "",
            colour=(context.color_primaries, context.color_trc, context.colorspace, context.color_range),
            fast_start=_index_comes_first(path),
            bytes=path.stat().st_size,
            sound=_sound_in(path, listen),
            container=kind,
            profile=str(context.profile or ""),
            timecode=next((code for code in codes if code), ""),
            pixel_shape=stream.sample_aspect_ratio or Fraction(1),
            tick=tick,
            labels=labels,
            chapters=tuple(
                (str(one["metadata"].get("title", "")), one["start"] * (one["time_base"] or Fraction(1)))
                for one in container.chapters()
            ),
        )


_BLACK, _WHITE, _COLOUR_SPAN = 16, 235, 224
_CODECS = {"libdav1d": "av1", "libvpx-vp9": "vp9", "libopus": "opus"}


class _Times:
    """When frames are shown: how many there are, and whether each is where its rate says, to half a tick."""

    def __init__(self, tick: Fraction, wanted: Fraction) -> None:
        self._tick, self._wanted = tick, wanted
        self.frames, self._last, self._first = 0, 0, 0
        self._steps: Counter[int] = Counter()
        self._as_wanted = wanted > 0

    def add(self, pts: int | None) -> None:
        at = self._last if pts is None else pts
        if self.frames:
            self._steps[at - self._last] += 1
        else:
            self._first = at
        off = (at - self._first) * self._tick - (self.frames / self._wanted if self._wanted else 0)
        self._as_wanted = self._as_wanted and pts is not None and abs(off) <= self._tick / 2
        self._last = at
        self.frames += 1

    def rate(self, duration: int) -> Fraction:
        """Return frames a second; of a single frame, as its stated duration says."""
        if len(self._steps) == 1 and (step := next(iter(self._steps))) > 0:
            exact = 1 / (step * self._tick)
            return self._wanted if self._as_wanted and abs(exact - self._wanted) > 0 else exact
        if self.frames == 1:
            return 1 / (duration * self._tick) if duration else self._wanted
        return self._wanted if self._as_wanted else Fraction(0)


def copy_of_frame(frame: av.VideoFrame, *, is_picture: bool = False) -> EightBit:
    """Return a frame reduced as its copy is: of a loop of pictures, in full range."""
    name = frame.format.name
    if is_picture and name.startswith("yuv"):
        luma = (plane_of(frame, 0, 8).astype(np.float32) - _BLACK) * (255 / (_WHITE - _BLACK))
        colours = (
            (plane_of(frame, index, 8).astype(np.float32) - 128) * (255 / _COLOUR_SPAN) + 128 for index in (1, 2)
        )
        return sheet([np.asarray(np.rint(np.clip(one, 0, 255)), np.uint8) for one in (luma, *colours)], 8)
    if name.startswith("yuv"):
        depth = next(bits for end, bits in _PIXEL_DEPTHS.items() if name.endswith(end))
        return sheet([plane_of(frame, index, depth) for index in range(3)], depth)
    return sheet_of_picture(np.asarray(frame.to_ndarray(format="rgb24"), np.uint8))


def _said_length(metadata: Mapping[str, str]) -> Fraction | None:
    """Return how many seconds a track of Matroska says it lasts (its tag ``DURATION``)."""
    found = re.fullmatch(r"(\d+):(\d\d):(\d\d(?:\.\d+)?)", metadata.get("DURATION", ""))
    return int(found[1]) * 3600 + int(found[2]) * 60 + Fraction(found[3]) if found else None


def _container(path: Path, name: str) -> str:
    """Return which container a file is; what one reader reads under one name is told apart by its first box or its
    type."""
    with path.open("rb") as file:
        head = file.read(4096)
    if "mp4" in name:
        brand = head[8:12]
        return {b"qt  ": "mov", b"avis": "avif"}.get(brand, "mp4")
    if "matroska" in name:
        return "webm" if b"webm" in head[:64] else "mkv"
    return name


def _webp(path: Path, plan: RenderPlan | None, compare: Compare | None) -> Facts:
    tick = Fraction(1, 1000)
    rate = plan.rate if plan else Fraction(0)
    times = _Times(tick, rate)
    at = 0
    with Image.open(path) as image:
        width, height = image.size
        for shown in ImageSequence.Iterator(image):
            shown.load()
            begins, at = at, at + int(shown.info.get("duration", 0))
            found = sheet_of_picture(np.asarray(shown.convert("RGB"))) if compare is not None else None
            # Equal frames that follow each other are one in the file that lasts as long as all of them; when the next
            # one is shown is what the file says, and is held against the plan.
            due = begins
            while due == begins or (rate and due < at):
                times.add(due)
                if compare is not None and found is not None:
                    compare(found)
                due = max(begins + 1, round(times.frames / rate * 1000)) if rate else at
    return Facts(
        frames=times.frames,
        rate=times.rate(at),
        width=width,
        height=height,
        seconds=at * tick,
        codec="webp",
        pixel_format="",
        colour=(0, 0, 0, 0),
        fast_start=True,
        bytes=path.stat().st_size,
        container="webp",
        tick=2 * tick,
    )


def _archive(path: Path, encode: Encode, compare: Compare | None) -> Facts:
    """Read pictures packed in an archive; raises ``ValueError`` for one that is no picture."""
    count, shape, depth, ending = 0, (0, 0), 8, ""
    with zipfile.ZipFile(path) as archive:
        for name in archive.namelist():
            # What is read is what was written: the check sum of each file in the archive is compared too.
            image = read_frame(archive.read(name), encode)
            count, ending = count + 1, name.rpartition(".")[2]
            shape, depth = (image.shape[1], image.shape[0]), 8 * image.dtype.itemsize
            if compare is not None:
                compare(sheet_of_picture(image))
    return Facts(
        frames=count,
        rate=Fraction(0),
        width=shape[0],
        height=shape[1],
        seconds=Fraction(0),
        codec=ending,
        pixel_format=f"{depth} bits",
        colour=(0, 0, 0, 0),
        fast_start=True,
        bytes=path.stat().st_size,
        container="zip",
    )


def _sound_in(path: Path, listen: Listen | None) -> SoundFacts | None:
    with av.open(str(path)) as container:
        if not container.streams.audio:
            return None
        stream = container.streams.audio[0]
        time_base = stream.time_base or Fraction(1, RATE)
        context = stream.codec_context
        gaps, expected = 0, None
        # Where times are written in steps coarser than samples, packets follow on one another to a step.
        slack = 0 if time_base <= Fraction(1, RATE) else 1
        for packet in container.demux(stream):
            if packet.pts is None:
                continue
            gaps += expected is not None and abs(packet.pts - expected) > slack
            expected = packet.pts + (packet.duration or 0)
        duration = None if stream.duration is None else round(stream.duration * time_base * RATE)
        codec, rate, channels = context.name, context.sample_rate, context.channels
        start = (stream.start_time or 0) * time_base
    heard = 0

    def counted() -> Iterator[Wave]:
        nonlocal heard
        for wave in decoded(path):
            heard += len(wave)
            if listen is not None:
                listen(wave)
            yield wave

    loudness = loudness_of(counted())
    samples = heard if duration is None else duration
    return SoundFacts(_CODECS.get(codec, codec), rate, channels, samples, start, gaps, loudness)


def _index_comes_first(path: Path) -> bool:
    """Tell whether the index of a file that has one comes first: ``moov`` before ``mdat`` (ISO/IEC 14496-12), ``Cues``
    before the first ``Cluster`` (RFC 9559); other containers have none to wait for.
    """
    with path.open("rb") as file:
        head = file.read(8)
        file.seek(0)
        if head[:4] == _EBML:
            return _cues_come_first(file)
        if head[4:] not in (b"ftyp", b"moov", b"mdat", b"wide", b"free"):
            return True
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


_EBML, _SEGMENT, _CLUSTER, _CUES = b"\x1a\x45\xdf\xa3", b"\x18\x53\x80\x67", b"\x1f\x43\xb6\x75", b"\x1c\x53\xbb\x6b"


def _cues_come_first(file: BinaryIO) -> bool:
    while begin := file.read(1):
        name = begin + file.read(_extra_bytes(begin[0]))
        first = file.read(1)
        if name in (_CUES, _CLUSTER) or not first:
            return name == _CUES
        extra = _extra_bytes(first[0])
        # The bits that say how long a length is are not part of it (RFC 8794, 4).
        length = int.from_bytes(bytes((first[0] & (0x7F >> extra),)) + file.read(extra))
        if name != _SEGMENT:
            file.seek(length, 1)
    return False


def _extra_bytes(first: int) -> int:
    """Return how many bytes follow the first of a number of variable length."""
    return 8 - first.bit_length() if first else 7
