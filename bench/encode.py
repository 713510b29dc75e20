"""Encoding 24-megapixel JPEGs to 1920 × 1080 H.264, against the floor and against the plain pipeline."""

import shutil
import tempfile
from concurrent.futures import ProcessPoolExecutor
from fractions import Fraction
from pathlib import Path

import av

from bench.measure import Measured, begin_again, cores, measure
from bench.plain import plain
from bench.stills import USUAL, make_stills
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.assemble import assemble
from yarnkite.core.encode.chunk import encode_frames, render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.naming import file_ending
from yarnkite.core.encode.planes import frame_by_planes
from yarnkite.core.encode.render_plan import Chunk, ChunkTask, chunks, render_plan, task_of
from yarnkite.core.encode.runs import runs, share_of
from yarnkite.core.encode.verify import verified
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.decode import read_still
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.frame_spec import FrameSpec
from yarnkite.core.render.picture import picture
from yarnkite.core.render.recipe import Recipe
from yarnkite.jobs.ahead import Ahead
from yarnkite.jobs.workers import compute_alone, free_memory_bytes

STILLS = 200
FEW = 50
LONG = 1000
READY = 25
HD = Size(width=1920, height=1080)
_USUAL = Encode()


def run(folder: Path) -> None:
    """Measure and print."""
    stills = make_stills(folder / "stills", STILLS)
    work = Path(tempfile.mkdtemp(prefix="yarnkite-bench-"))
    try:
        _warm(stills, work)
        few = measure(ours, stills[:FEW], work / "few", memory=True)
        many = measure(ours, stills, work / "many")
        # More frames than there are files: what is kept from chunk to chunk would show in the memory.
        again = [
            still.model_copy(update={"fingerprint": f"{still.fingerprint}-{turn}"})
            for turn in range(LONG // STILLS)
            for still in stills
        ]
        long = measure(ours, again, work / "long", memory=True)
        plainly = measure(plain, stills, USUAL, HD, work / "plain.mp4")
        decode = measure(decode_alone, stills)
        encode = measure(encode_alone, stills[:READY], STILLS)
        clip = (work / "many" / "clip.mp4").stat().st_size, (work / "plain.mp4").stat().st_size
    finally:
        shutil.rmtree(work)
    _print(few, many, long, plainly, decode, encode, clip)


def ours(stills: list[Still], folder: Path, size: Size = HD, encode: Encode = _USUAL) -> None:
    """Render, join and compare as the program does."""
    folder.mkdir()
    recipe = Recipe(stills=tuple(stills), decisions=Decisions(fit=Fit(size=size), encode=encode))
    frames = ClipFrames(recipe)
    parts = chunks(frames, encode)
    share = share_of(cores(), free_memory_bytes(), frames.size)
    work = [[task_of(frames, encode, chunk) for chunk in run] for run in runs(parts, share.at_once)]
    with ProcessPoolExecutor(share.at_once, initializer=compute_alone) as pool:
        # The program's workers run when an encode begins, with the code they need.
        list(pool.map(_made_ready, [work[0][0].specs[0]] * 4 * share.at_once))
        begin_again()
        list(pool.map(_render, work, [folder] * len(work), [share.threads] * len(work)))
    plan = render_plan(frames, encode)
    clip = assemble(plan, parts, folder, folder / f"clip.{file_ending(encode)}")
    differences = verified(clip, plan, parts, folder).differences
    if differences:
        raise RuntimeError(f"not as planned: {differences}")


def _render(tasks: list[ChunkTask], folder: Path, threads: int) -> None:
    render_chunks(tasks, folder, making=Ahead(threads))


def _made_ready(spec: FrameSpec) -> None:
    frame_by_planes(spec)
    to_video_frame(picture(spec, Size(width=192, height=108)))


def decode_alone(stills: list[Still]) -> None:
    """Decode each still at the smallest scale that covers 1920 pixels, and nothing else."""
    for still in stills:
        read_still(still, Fraction(still.width, 1920))


def encode_alone(stills: list[Still], frames: int) -> None:
    """Encode ready frames with the same settings, and nothing else; making them ready is not counted."""
    recipe = Recipe(stills=tuple(stills))
    source, encode = ClipFrames(recipe), recipe.decisions.encode
    ready = [to_video_frame(picture(source.spec(frame))) for frame in range(len(stills))]
    task = ChunkTask(Chunk(0, 0, frames, ""), (), source.size, source.rate, encode)
    begin_again()
    with av.open("/dev/null", "w", format="mp4", options={"movflags": "frag_keyframe"}) as container:
        encode_frames(container, task, (ready[frame % len(ready)] for frame in range(frames)))


def _warm(stills: list[Still], folder: Path) -> None:
    """Have compiled code on disk and stills in the system's cache, alike for everyone."""
    picture(ClipFrames(Recipe(stills=tuple(stills[:1]))).spec(0))
    for still in stills:
        Path(still.path).read_bytes()
    folder.mkdir(exist_ok=True)


def _print(
    few: Measured,
    many: Measured,
    long: Measured,
    plain: Measured,
    decode: Measured,
    encode: Measured,
    clip: tuple[int, int],
) -> None:
    floor = decode.cpu_s + encode.cpu_s
    print(f"\nEncode: {STILLS} stills of 24 megapixels to 1920 × 1080, x264 medium crf 18, {cores()} cores")
    print(f"{'':34}{'clock':>9}{'processor':>11}{'memory':>9}")
    for name, one in (
        ("ours", many),
        (f"ours, {FEW} stills", few),
        (f"ours, {LONG:,} stills", long),
        ("plain pipeline", plain),
        ("decode alone, one core", decode),
        ("encode alone, one core", encode),
    ):
        memory_used = f"{one.peak_mb:7.0f}MB" if one.peak_mb else ""
        print(f"{name:34}{one.wall_s:8.1f}s{one.cpu_s:10.1f}s{memory_used}")
    print("the plain pipeline is ffmpeg with the whole of x264's medium preset")
    print(f"speed against the plain pipeline    {plain.wall_s / many.wall_s:5.2f}   (bar: 1.50)")
    print(f"processor against the floor         {many.cpu_s / floor:5.2f}   (bar: 1.15 at most)")
    memory = ", ".join(f"{one.peak_mb:.0f}" for one in (few, long))
    print(f"memory, {FEW} and {LONG:,} stills           {memory} MB   (bar: 700)")
    print(f"file size, ours and plain           {clip[0] / 1e6:.1f} and {clip[1] / 1e6:.1f} MB")
    print(
        f"where the time goes: decode {decode.cpu_s / many.cpu_s:.0%}, x264 {encode.cpu_s / many.cpu_s:.0%}, "
        f"the rest (reading, resampling, colour, joining, verifying) {1 - floor / many.cpu_s:.0%}"
    )
