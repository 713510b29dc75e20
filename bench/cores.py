"""A model of encoding on more cores than there are here: from parts measured one by one, checked against this
machine."""

import heapq
import shutil
import statistics
import tempfile
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from fractions import Fraction
from itertools import count
from pathlib import Path

import av

from bench.encode import ours
from bench.measure import begin_again, cores, measure
from bench.plain import ffmpeg, plain
from bench.stills import USUAL, make_stills
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.chunk import encode_frames
from yarnkite.core.encode.formats.format import THREADS
from yarnkite.core.encode.planes import frame_by_planes
from yarnkite.core.encode.render_plan import Chunk, ChunkTask
from yarnkite.core.encode.runs import runs, share_of
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe

SIZE = Size(width=1920, height=1080)
FRAMES = 250
CHUNK = 50
FEW = 40
ROUNDS = 3
PLENTY = 1 << 40
# x264 decides the kinds of frames beside encoding them, on one thread for each six, which is this share of a frame's
# time; a frame waits until the part of the one before that it may refer to is there, which it makes smaller with more
# threads.
DECIDES, LOOKING = 0.15, 6
# ffmpeg's own choice: threads of x264 a core. Its JPEG decoder has one thread; its scaler shares a frame among the
# cores.
THREADS_A_CORE = 1.5


@dataclass(frozen=True)
class Parts:
    """Seconds of one core a frame: making ``picture`` s of ours, ``encode`` ing ours; the plain pipeline's three
    parts."""

    picture: float
    encode: float
    plain_decode: float
    plain_scale: float
    plain_encode: float


def run(folder: Path) -> None:
    """Measure and print."""
    stills = make_stills(folder / "stills", 200)
    for still in stills:
        Path(still.path).read_bytes()
    work = Path(tempfile.mkdtemp(prefix="yarnkite-bench-"))
    try:
        parts = _parts(stills[:FEW], work)
        pairs = [
            (
                measure(ours, stills[:100], work / f"ours-{number}").wall_s,
                measure(plain, stills[:100], USUAL, SIZE, work / "plain.mp4").wall_s,
            )
            for number in range(ROUNDS)
        ]
        here = [statistics.median(times) for times in zip(*pairs, strict=True)]
    finally:
        shutil.rmtree(work)
    print(f"\nCores: a model of {FRAMES} frames of {USUAL.name} to 1920 × 1080, from parts measured one by one")
    print(", ".join(f"{name} {value * 1000:.0f} ms" for name, value in vars(parts).items()))
    modelled = our_seconds(parts, 100, cores()), plain_seconds(parts, 100, cores())
    for name, measured, expected in zip(("ours", "plain"), here, modelled, strict=True):
        print(
            f"{name}, 100 frames on the {cores()} cores here: measured {measured:.1f} s, by the model {expected:.1f} s"
        )
    for number in (2, 4, 8, 16):
        one, other = our_seconds(parts, FRAMES, number), plain_seconds(parts, FRAMES, number)
        print(f"{number:3} cores: ours {one:5.1f} s, plain {other:5.1f} s: {other / one:.2f}   (bar: 1.40 on 8 and 16)")


def _parts(stills: list[Still], work: Path) -> Parts:
    """Measure each part several times in turn, since the machine's speed changes; medians."""
    parts = (_decoded_alone, _scaled_alone, _encoded_plainly, _pictures_alone, _encode_alone)
    rounds = [[_busy(part, stills, work) for part in parts] for _ in range(ROUNDS)]
    decoded, scaled, encoded, pictures, ours_encoded = (statistics.median(times) for times in zip(*rounds, strict=True))
    return Parts(pictures, ours_encoded, decoded, scaled - decoded, encoded - scaled)


def _busy(work: Callable[..., None], stills: list[Still], folder: Path) -> float:
    """Return the seconds of processor a frame takes while all cores do the same: a core alone is faster than that."""
    with ThreadPoolExecutor(cores()) as pool:
        done = list(pool.map(lambda number: measure(work, stills, folder / f"{number}.mp4"), range(cores())))
    return sum(one.cpu_s for one in done) / len(stills) / len(done)


def _decoded_alone(stills: list[Still], target: Path) -> None:
    ffmpeg(stills, USUAL, None, "-f", "null", "-", threads=1)


def _scaled_alone(stills: list[Still], target: Path) -> None:
    ffmpeg(stills, USUAL, SIZE, "-f", "null", "-", threads=1)


def _encoded_plainly(stills: list[Still], target: Path) -> None:
    encoder = ("-c:v", "libx264", "-preset", "medium", "-crf", "18", "-threads", "1")
    ffmpeg(stills, USUAL, SIZE, *encoder, str(target), threads=1)


def _frames(stills: list[Still]) -> Iterator[av.VideoFrame]:
    source = ClipFrames(Recipe(stills=tuple(stills)))
    for number in range(len(stills)):
        frame = frame_by_planes(source.spec(number))
        if frame is None:
            raise RuntimeError("these stills should go by planes")
        yield frame


def _pictures_alone(stills: list[Still], target: Path) -> None:
    for number, _ in enumerate(_frames(stills)):
        if number == 0:
            begin_again()


def _encode_alone(stills: list[Still], target: Path) -> None:
    recipe = Recipe(stills=tuple(stills))
    ready = list(_frames(stills))
    task = ChunkTask(Chunk(0, 0, len(ready), ""), (), SIZE, Fraction(25), recipe.decisions.encode)
    begin_again()
    with av.open("/dev/null", "w", format="mp4", options={"movflags": "frag_keyframe"}) as container:
        encode_frames(container, task, iter(ready))


class _Machine:
    """Work that is done by a number of cores, each piece when those it waits for are done and a core is free."""

    def __init__(self, number: int) -> None:
        self._free = [0.0] * number

    def seconds(self, pieces: list["_Piece"]) -> float:
        """Return when the last of the pieces is done; those that were ready first go first."""
        order = count()
        ready = [(0.0, next(order), piece) for piece in pieces if not piece.waits_for]
        heapq.heapify(ready)
        last = 0.0
        while ready:
            at, _, piece = heapq.heappop(ready)
            begin = max(at, heapq.heappop(self._free))
            end = begin + piece.seconds
            heapq.heappush(self._free, end)
            last = max(last, end)
            for other in piece.before:
                other.waits_for -= 1
                other.ready = max(other.ready, end)
                if not other.waits_for:
                    heapq.heappush(ready, (other.ready, next(order), other))
        return last


class _Piece:
    def __init__(self, seconds: float, *after: "_Piece | None") -> None:
        self.seconds, self.ready = seconds, 0.0
        self.before: list[_Piece] = []
        waits = [piece for piece in after if piece is not None]
        self.waits_for = len(waits)
        for piece in waits:
            piece.before.append(self)


def our_seconds(parts: Parts, frames: int, number: int) -> float:
    """Return how long a clip takes on a number of cores: runs of chunks, threads that make pictures, encoders of
    four."""
    share = share_of(number, PLENTY, SIZE)
    chunks = [Chunk(i, first, min(CHUNK, frames - first), "") for i, first in enumerate(range(0, frames, CHUNK))]
    pieces: list[_Piece] = []
    ends: list[_Piece | None] = [None] * share.at_once
    for order, run_of in enumerate(runs(chunks, share.at_once)):
        before = ends[order % share.at_once]
        pictures: list[_Piece] = []
        for chunk in run_of:
            encoded: list[_Piece] = []
            for frame in range(chunk.frames):
                held = pictures[-share.threads] if len(pictures) >= share.threads else before
                pictures.append(_Piece(parts.picture, held))
                pieces.append(pictures[-1])
                first = before if not frame else None
                encoded += _encoded(parts.encode, encoded, THREADS, pictures[-1], first)
            pieces += encoded
            before = encoded[-1]
        ends[order % share.at_once] = before
    return _Machine(number).seconds(pieces)


def plain_seconds(parts: Parts, frames: int, number: int) -> float:
    """Return how long the plain pipeline takes: one thread that decodes and scales, an encoder of many."""
    pictures: list[_Piece] = []
    encoded: list[_Piece] = []
    for _ in range(frames):
        pictures.append(_Piece(parts.plain_decode + parts.plain_scale / number, pictures[-1] if pictures else None))
        encoded += _encoded(parts.plain_encode, encoded, round(number * THREADS_A_CORE), pictures[-1], None)
    return _Machine(number).seconds([*pictures, *encoded])


def _encoded(
    seconds: float, earlier: list[_Piece], threads: int, picture: _Piece, before: _Piece | None
) -> list[_Piece]:
    """Return the three pieces of encoding a frame: deciding, the part the next frame waits for, and the rest."""
    decided = earlier[-3] if earlier else before
    decides = _Piece(seconds * DECIDES / max(1, threads // LOOKING), picture, decided)
    begun = earlier[-2] if earlier else None
    freed = earlier[-1 - 3 * (threads - 1)] if len(earlier) >= 3 * threads else None
    begins = _Piece(seconds * (1 - DECIDES) / threads, decides, begun, freed)
    return [decides, begins, _Piece(seconds * (1 - DECIDES) * (1 - 1 / threads), begins)]
