"""The proof of a chunk: it is decoded where it was made, right after that, and every frame is compared with its
picture.

A file that is joined from proven chunks need not be decoded again to be known: it holds the same packets, in the same
order and shown in the same order, under the same headers. A file of which that is not so is decoded as a whole.
"""

import json
from array import array
from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass
from hashlib import sha256
from pathlib import Path

import av
import av.error
import numpy as np

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.compare import Comparison, Evidence
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.light_level import LightLevel, highest, level_in, light_level, without_level
from yarnkite.core.encode.probe import copy_of_frame
from yarnkite.core.encode.render_plan import Chunk
from yarnkite.core.encode.video_frame import plane_of
from yarnkite.core.image.pixels import EightBit

# Raise it when what is compared, or how strictly, changes: what was proven otherwise is decoded and compared again.
COMPARING = 2
# Their pictures say all that decoding them takes, and not every container has room for what an encoder adds to that.
_WITHOUT_HEADERS = ("dnxhd", "prores")
# Before the lists of a record of headers (ISO/IEC 14496-15, 8.3.3.1.2), and how a list begins: with one bit that says
# whether more of its kind may come in the stream, which containers set each as they like.
_LISTS_AT, _KIND = 22, 0x3F


@dataclass(frozen=True)
class Proof:
    """What a chunk holds: ``frames`` decoded, hashes of its packets and of its headers, and what comparing gave.

    ``light`` is its light level where that is measured, in PQ.
    """

    frames: int
    packets: str
    headers: str
    evidence: Evidence
    light: LightLevel | None = None
    edition: int = COMPARING

    def write(self, path: Path) -> None:
        """Keep it beside its chunk; raises ``DiskFull``."""
        write_completed(path, json.dumps({**asdict(self), "of": path.stem}).encode())

    @classmethod
    def read(cls, path: Path) -> "Proof | None":
        """Read what was kept, or return ``None`` where none is whole, of this chunk, and of this way to compare."""
        try:
            said = json.loads(path.read_bytes())
            if said.pop("of") != path.stem:
                return None
            evidence = said.pop("evidence")
            faults = [(int(frame), str(what)) for frame, what in evidence.pop("faults")]
            light = LightLevel(**one) if (one := said.pop("light")) else None
            proof = cls(**said, evidence=Evidence(**evidence, faults=faults), light=light)
            return proof if proof.edition == COMPARING else None
        except (OSError, ValueError, KeyError, TypeError):
            return None


def proof_of(path: Path, encode: Encode, size: Size, copies: Sequence[EightBit], threads: int = 1) -> Proof | None:
    """Decode a chunk of a video, compare each frame with its copy, and return what was found; ``None`` if it cannot be
    read, which is said once the file made of it is.
    """
    comparison = Comparison(iter(copies), encode, size.width)
    is_pq = format_of(encode).range_of(encode) == "pq"
    frames, levels = 0, list[LightLevel]()
    try:
        with av.open(str(path)) as container:
            stream = container.streams.video[0]
            stream.thread_type = "AUTO"
            stream.codec_context.thread_count = threads
            headers, mark = _headers(stream), _Mark(stream)
            for packet in container.demux(stream):
                mark.add(packet)
                for frame in packet.decode():
                    comparison.compare(copy_of_frame(frame))
                    frames += 1
                    if is_pq:
                        levels.append(light_level([plane_of(frame, index, 10) for index in range(3)]))
    except (av.error.FFmpegError, ValueError):
        return None
    return Proof(frames, mark.digest(), headers, comparison.result(), highest(levels) if levels else None)


def times_if_proven(path: Path, proofs: Sequence[Proof | None]) -> "array[int] | None":
    """Return when each frame of a file is shown, in its own ticks and in order, if it holds the packets of proven
    chunks, all of them and no others; else ``None``.

    Raises ``FFmpegError`` for a file that cannot be read.
    """
    times = array("q")
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        headers = _headers(stream)
        packets = (packet for packet in container.demux(stream) if packet.size)
        for proof in proofs:
            if proof is None or proof.headers != headers:
                return None
            mark = _Mark(stream)
            while mark.count < proof.frames and (packet := next(packets, None)) is not None:
                mark.add(packet)
            if mark.digest() != proof.packets:
                return None
            times.extend(sorted(mark.shown))
        return None if next(packets, None) is not None else times


def level_of(proofs: Iterable[Proof | None]) -> LightLevel | None:
    """Return the light level of a clip of proven chunks; ``None`` where that of a part is not known."""
    levels = [one.light if one else None for one in proofs]
    known = [one for one in levels if one]
    return highest(known) if known and len(known) == len(levels) else None


def level_said_by(path: Path) -> LightLevel | None:
    """Return the light level a finished file says."""
    with av.open(str(path)) as container:
        return level_in(container.streams.video[0].codec_context.extradata or b"")


def put_together(parts: Sequence[Chunk], proofs: Sequence[Proof]) -> Evidence:
    """Return what comparing gave for a clip of proven chunks."""
    found = [one.evidence for one in proofs]
    frames = sum(one.frames for one in found)
    lowest, at = min(((one.lowest, part.first + one.lowest_at) for part, one in zip(parts, found, strict=True)))
    return Evidence(
        frames=frames,
        lowest=lowest,
        lowest_at=at,
        mean=sum(one.mean * one.frames for one in found) / max(1, frames),
        faults=[(part.first + at, what) for part, one in zip(parts, found, strict=True) for at, what in one.faults],
    )


class _Mark:
    """Names packets by their bytes, their order, and the order they are shown in, wherever on a clock that is."""

    def __init__(self, stream: av.VideoStream) -> None:
        self._hash, self.shown = sha256(), array("q")
        self._may_say_a_level = stream.codec_context.name == "hevc"

    @property
    def count(self) -> int:
        return len(self.shown)

    def add(self, packet: "av.Packet[av.VideoStream]") -> None:
        # At the end comes a packet of nothing, that has what is left decoded.
        if packet.size:
            self._hash.update(packet.size.to_bytes(8, "little"))
            self._hash.update(without_level(bytes(packet)) if self._may_say_a_level else packet)
            self.shown.append(packet.pts if packet.pts is not None else -1)

    def digest(self) -> str:
        order = np.argsort(np.asarray(self.shown, np.int64), kind="stable").astype("<u4")
        both = self._hash.copy()
        both.update(order.tobytes())
        return both.hexdigest()


def _headers(stream: av.VideoStream) -> str:
    context = stream.codec_context
    said = context.extradata or b""
    if context.name in _WITHOUT_HEADERS:
        said = b""
    return sha256(without_level(_alike(said)) if context.name == "hevc" else said).hexdigest()


def _alike(said: bytes) -> bytes:
    """Return a record of headers of H.265 with what containers may say differently left out; others as they are."""
    if len(said) <= _LISTS_AT or said[0] != 1:
        return said
    alike, at = bytearray(said), _LISTS_AT + 1
    for _ in range(said[_LISTS_AT]):
        if at + 3 > len(said):
            return said
        alike[at] &= _KIND
        many = int.from_bytes(said[at + 1 : at + 3])
        at += 3
        for _ in range(many):
            at += 2 + int.from_bytes(said[at : at + 2])
    return bytes(alike)
