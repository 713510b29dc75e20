"""Reels: sounds to the sample, loudness, light of dissolves, what titles cost, and the same bytes however they are
made."""

import multiprocessing
import os
import resource
import shutil
import subprocess
import time
from concurrent.futures import ProcessPoolExecutor
from fractions import Fraction
from pathlib import Path

import numpy as np
from tests.sounds import Samples, clicks, noise, piece, stored

from bench.stills import make_stills
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.join import join
from yarnkite.core.encode.render_plan import Chunk, chunks, task_of
from yarnkite.core.encode.sound_stream import decoded, encode_sound, sound_segment
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.srgb import dissolved, to_codes, to_light
from yarnkite.core.reel.decisions import Join, Part, Picture, Reel, Title
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.recipe import ClipStretch, ReelRecipe
from yarnkite.core.render.composite import Composite, Scene, Tile, composed
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe
from yarnkite.core.render.titles import Overlay, Text
from yarnkite.core.sound.decisions import RATE, Track, samples_of
from yarnkite.core.sound.loudness import Mastered, blocks, mastering
from yarnkite.core.sound.made import BEDS, NOISES, Made, made
from yarnkite.core.sound.mix import Mix
from yarnkite.jobs.reel import encode_wanted

HD = Size(width=1920, height=1080)
QUICK = Encode(preset="ultrafast")


def run(folder: Path) -> None:
    """Print what reels are measured by."""
    work = folder / "reel"
    shutil.rmtree(work, ignore_errors=True)
    work.mkdir(parents=True)
    print("\nreel")
    _places(work)
    _fades(work)
    _loudness(work)
    _dissolve()
    _costs()
    _mixing(work)
    _segments()
    _same_bytes(folder, work)


def _places(work: Path) -> None:
    """A click planted in a track: where it is before and after encoding."""
    worst_before = worst_after = 0
    for start, skip, at in ((0, 0, 24_000), (12_345, 0, 40_001), (3, 9_999, 70_000), (480_007, 1, 96_000)):
        total = 600_000
        mix = Mix(
            [Track(id=1, sound=1, start=start, skip=skip)], {1: stored(clicks(200_000, at), work / "c.f32")}, total
        )
        expected = start + at - skip
        worst_before = max(worst_before, abs(_peak(mix.read(0, total)) - expected))
        encode_sound(mix, work / "c.m4a")
        heard = np.concatenate(list(decoded(work / "c.m4a")))
        worst_after = max(worst_after, abs(_peak(heard) - expected))
    print(
        f"  a planted click is off by {worst_before} samples before encoding, {1000 * worst_after / RATE:.3f} ms "
        "after AAC"
    )


def _peak(wave: np.ndarray) -> int:
    return int(np.argmax(np.abs(wave[:, 0])))


def _fades(work: Path) -> None:
    flat = stored(np.full((RATE * 4, 2), 0.5, np.float32), work / "flat.f32")
    worst = 0.0
    for length in (RATE // 10, RATE, RATE * 2):
        wave = Mix([Track(id=1, sound=1, fade_in=length, fade_out=length)], {1: flat}, RATE * 4).read(0, RATE * 4)[:, 0]
        share = (np.arange(length) + 0.5) / length
        curve = np.sin(share * np.pi / 2) * 0.5
        loud = curve > 0.005
        for part in (wave[:length], wave[::-1][:length]):
            worst = max(worst, float(np.abs(20 * np.log10(part[loud] / curve[loud])).max()))
    print(f"  fades follow their curve within {worst:.4f} dB (bar 0.1)")


def _loudness(work: Path) -> None:
    """Loudness of finished files by Debian's ffmpeg, against what was wanted."""
    sounds = {
        kind: Samples(np.concatenate(list(made(Made(kind=kind, seconds=12, seed=7))))) for kind in (*BEDS, *NOISES)
    }
    sounds |= {"noise": Samples(noise(12, 0.2)), "drums": Samples(piece("abab", 132))}
    worst, highest = 0.0, -99.0
    for sound in sounds.values():
        for wanted in (-23.0, -14.0):
            encode_wanted(sound, wanted, work / "l.m4a", lambda: None)
            said = subprocess.run(
                ["ffmpeg", "-nostats", "-i", work / "l.m4a", "-af", "ebur128=peak=true", "-f", "null", "-"],
                capture_output=True,
                text=True,
                check=True,
            ).stderr
            worst = max(worst, abs(float(said.rsplit("I:", 1)[1].split("LUFS")[0]) - wanted))
            highest = max(highest, float(said.rsplit("Peak:", 1)[1].split("dBFS")[0]))
    print(
        f"  {2 * len(sounds)} files: loudness within {worst:.2f} LU of the wanted (bar 0.3), true peak at most "
        f"{highest:.1f} dBTP"
    )


def _dissolve() -> None:
    random = np.random.default_rng(3)
    pictures = [random.integers(0, 256, (270, 480, 3), dtype=np.uint8) for _ in range(2)]
    worst = 0.0
    for step in range(1, 25):
        share = Fraction(step, 25)
        mixed = dissolved(*pictures, float(share))
        exact = 255 * to_codes(
            (1 - float(share)) * to_light(pictures[0] / 255) + float(share) * to_light(pictures[1] / 255)
        )
        worst = max(worst, abs(float(mixed.mean() - exact.mean())))
    print(f"  cross-dissolve: mean within {worst:.3f} code of the computed (bar 0.5)")


def _costs() -> None:
    """What titles and a dissolve add to pictures that are ready, at 1920 × 1080."""
    random = np.random.default_rng(1)
    ready = [random.integers(0, 256, (1080, 1920, 3), dtype=np.uint8) for _ in range(2)]
    tile = Tile(_Plain())  # type: ignore[arg-type]
    title = Overlay(
        Text(("A title over the picture", "and one more line"), "book", 0.09, "#ffffff", "soft"), 0.5, 0.9, (0.5, 1)
    )
    clock = Overlay(Text(("18:42",), "typewriter", 0.04, "#ffffff", "soft"), 0.95, 0.05, (1, 0))
    plain = Composite(HD, ((Scene((tile,)), Fraction(1)),))
    titled = Composite(HD, plain.scenes, (title, clock))
    half = Composite(HD, ((Scene((tile,)), Fraction(1, 2)), (Scene((tile,)), Fraction(1, 2))))
    times = {}
    fading = Composite(HD, plain.scenes, (), ("#000000", Fraction(1, 3)))
    for name, frame in (("plain", plain), ("titled", titled), ("dissolve", half), ("fade", fading)):
        taken = []
        for _ in range(12):
            begun = time.perf_counter()
            composed(frame, HD, lambda spec, size, number: ready[number])
            taken.append(time.perf_counter() - begun)
        times[name] = 1000 * min(taken)
    print(
        f"  at 1920 × 1080 a title and a clock add {times['titled'] - times['plain']:.1f} ms a frame,"
        f" a dissolve {times['dissolve'] - times['plain']:.1f} ms, a fade {times['fade'] - times['plain']:.1f} ms "
        "(bar 10)"
    )


class _Plain:
    class finish:
        size = HD

    mark = "plain"


def _mixing(work: Path) -> None:
    for number in range(1, 5):
        stored(noise(120, 0.1, number), work / f"{number}.f32")
    sounds = {number: stored(noise(120, 0.1, number), work / f"{number}.f32") for number in range(1, 5)}
    tracks = [
        Track(id=n, sound=n, start=n * 1000, fade_in=RATE, fade_out=RATE, repeats=True, duck_db=9 if n == 1 else 0)
        for n in range(1, 5)
    ]
    total = 300 * RATE
    begun = time.perf_counter()
    for _ in blocks(Mix(tracks, sounds, total)):
        pass
    mixing = 300 / (time.perf_counter() - begun)
    begun = time.perf_counter()
    found = mastering(Mix(tracks, sounds, total), -16.0)
    whole = 300 / (time.perf_counter() - begun)
    print(
        f"  four tracks, one stepping back: mixed {mixing:.0f} × real time (bar 50), mixed and measured {whole:.0f} ×"
    )
    peaks = []
    for minutes in (2, 60):
        context = multiprocessing.get_context("spawn")
        with ProcessPoolExecutor(1, mp_context=context) as pool:
            peaks.append(pool.submit(_memory, tracks, sounds, minutes, found.gain_db).result() / 1e6)
    print(
        f"  memory of mixing, holding down and encoding: {peaks[0]:.0f} MB for 2 minutes, {peaks[1]:.0f} MB for an hour"
    )


def _memory(tracks: list[Track], sounds: dict, minutes: int, gain_db: float) -> int:
    mix = Mix(tracks, sounds, minutes * 60 * RATE)
    encode_sound(Mastered(mix, gain_db, limited=False), Path(sounds[1].path).with_suffix(".m4a"))
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024


def _segments() -> None:
    """How far the sound of a segment that is played lies from its pictures, over ten minutes at awkward rates."""
    worst = 0.0
    for rate in (Fraction(24000, 1001), Fraction(30000, 1001), Fraction(25), Fraction(60000, 1001)):
        step = max(4, round(rate) // 3)
        for first in range(0, int(600 * rate), step):
            worst = max(worst, abs(samples_of(first, rate) / RATE - float(first / rate)))
    data = sound_segment(noise(0.4, 0.1))
    print(
        f"  sound and picture of segments within {1000 * worst:.4f} ms over ten minutes (bar 20); {len(data)} bytes "
        "for 0.4 s"
    )


def _same_bytes(folder: Path, work: Path) -> None:
    """A reel of three shots, made by one worker, by two, and by one that is killed in the middle and gone on with."""
    stills = tuple(make_stills(folder, 100)[:60])
    fit = Decisions(fit=Fit(size=Size(width=640, height=360)))
    rows = tuple(
        (ClipStretch(recipe=Recipe(stills=stills[low : low + 30], decisions=fit), first=0, frames=30),)
        for low in (0, 15, 30)
    )
    over = Join(kind="dissolve", frames=8)
    reel = Reel(
        parts=tuple(Part(id=n, pictures=(Picture(shot=n),), join=over) for n in (1, 2, 3)),
        size=Size(width=640, height=360),
        titles=(Title(id=1, text="Three shots", part=2),),
    )
    recipe = ReelRecipe(reel=reel, clips=rows, names=("a", "b", "c"))
    parts = chunks(ReelFrames(recipe), QUICK)
    made_by = {"one": [parts], "two": [parts[::2], parts[1::2]]}
    files = {}
    for name, shares in made_by.items():
        target = work / name
        target.mkdir()
        context = multiprocessing.get_context("spawn")
        with ProcessPoolExecutor(len(shares), mp_context=context) as pool:
            list(pool.map(_render, [recipe] * len(shares), shares, [target] * len(shares)))
        files[name] = _joined(recipe, parts, target)
    target = work / "killed"
    target.mkdir()
    worker = multiprocessing.get_context("spawn").Process(target=_render, args=(recipe, parts, target))
    worker.start()
    while not list(target.glob("????????????????????????????????.mp4")):
        time.sleep(0.01)
    worker.kill()
    worker.join()
    left = len(list(target.glob("????????????????????????????????.mp4")))
    _render(recipe, parts, target)
    files["killed"] = _joined(recipe, parts, target)
    same = len({path.read_bytes() for path in files.values()}) == 1
    print(
        f"  three shots by one worker, by two, and after a kill with {left} of {len(parts)} chunks done: "
        f"{'the same bytes' if same else 'OTHER BYTES'}"
    )
    if not same:
        os._exit(1)


def _render(recipe: ReelRecipe, parts: list[Chunk], target: Path) -> None:
    frames = ReelFrames(recipe)
    render_chunks([task_of(frames, QUICK, part) for part in parts], target)


def _joined(recipe: ReelRecipe, parts: list[Chunk], target: Path) -> Path:
    return join(recipe.reel.rate, [target / part.file_name for part in parts], target / "reel.mp4")
