"""Chunks: the same bytes however they are made, joined into exactly the planned clip."""

import json
import multiprocessing
import os
import resource
import subprocess
import sys
import zipfile
from concurrent.futures import ProcessPoolExecutor
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.clips import chunks_of, clip_of, frame_of, plan_of, rendered
from yarnkite.core.base.errors import DiskFull, Refusal, UnreadableStill
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import OFFERED, rate_label
from yarnkite.core.base.result_source import OneByOne
from yarnkite.core.base.still import Still
from yarnkite.core.encode.chunk import encoded_bytes, render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.join import join
from yarnkite.core.encode.render_plan import task_of
from yarnkite.core.encode.verify import probe, verify
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe
from yarnkite.jobs.ahead import Ahead

SMALL = Fit(size=Size(width=128, height=72))
QUICK = Encode(preset="ultrafast", crf=18)


def recipe_of(stills, fit=SMALL, encode=QUICK, **pace):
    return Recipe(stills=stills, decisions=Decisions(fit=fit, pace=Pace(**pace), encode=encode))


@pytest.mark.parametrize("name", ["h264", "png"])
def test_what_a_chunk_s_frames_take_is_what_their_packets_or_files_take(stills, tmp_path, name):
    recipe = recipe_of(stills(3), encode=Encode(format=name, preset="ultrafast"))
    (chunk,) = chunks_of(recipe)
    path = rendered(recipe, chunk, tmp_path)
    if name == "png":
        with zipfile.ZipFile(path) as archive:
            truth = sum(len(archive.read(one)) for one in archive.namelist())
    else:
        shown = ["ffprobe", "-v", "error", "-show_packets", "-of", "json", str(path)]
        packets = json.loads(subprocess.run(shown, capture_output=True, check=True).stdout)["packets"]
        truth = sum(int(one["size"]) for one in packets)
    assert encoded_bytes(path) == truth
    assert truth < path.stat().st_size


@pytest.mark.parametrize("rate", OFFERED, ids=rate_label)
def test_what_comes_out_is_what_was_planned_by_an_independent_probe(stills, tmp_path, rate):
    recipe = recipe_of(stills(13), rate=rate, hold=9)
    clip = clip_of(recipe, tmp_path / "work")
    asked = ["ffprobe", "-v", "error", "-count_frames", "-show_streams", "-of", "json", str(clip)]
    (stream,) = json.loads(subprocess.run(asked, capture_output=True, check=True).stdout)["streams"]
    assert int(stream["nb_read_frames"]) == 13 * 9
    assert Fraction(stream["avg_frame_rate"]) == Fraction(stream["r_frame_rate"]) == rate
    assert int(stream["duration_ts"]) * Fraction(stream["time_base"]) == 13 * 9 / rate
    assert (stream["width"], stream["height"], stream["pix_fmt"]) == (128, 72, "yuv420p")
    tags = [stream[name] for name in ("color_space", "color_transfer", "color_primaries", "color_range")]
    assert tags == ["bt709", "bt709", "bt709", "tv"]
    assert stream["chroma_location"] == "left"
    assert verify(probe(clip), plan_of(recipe)) == []


def test_a_clip_of_ten_bits_is_verified_as_one_and_has_the_levels_of_a_deep_still(tmp_path):
    slope = np.tile(np.linspace(0, 10_000, 640)[None, :, None], (360, 1, 3)).astype(np.uint16)
    tifffile.imwrite(tmp_path / "a.tif", slope, photometric="rgb")
    still = Still(path=str(tmp_path / "a.tif"), fingerprint="a", width=640, height=360)
    encode = Encode(preset="ultrafast", crf=10, depth=10)
    fit = Fit(size=Size(width=640, height=360))
    recipe = Recipe(stills=(still,) * 30, decisions=Decisions(fit=fit, encode=encode))
    clip = clip_of(recipe, tmp_path / "work")
    facts = probe(clip)
    assert verify(facts, plan_of(recipe)) == []
    assert facts.pixel_format == "yuv420p10le"
    plain = recipe.model_copy(update={"decisions": Decisions(fit=fit)})
    assert [one.what for one in verify(facts, plan_of(plain))] == ["pixel format"]
    with av.open(str(clip)) as container:
        frame = next(container.decode(video=0))
    luma = np.frombuffer(memoryview(frame.planes[0]), np.uint16).reshape(360, -1)[:, :640]
    assert len(np.unique(luma)) > 100
    assert np.abs(luma.mean(axis=0) - (64 + 876 * (slope[0, :, 0] / 65535))).max() < 2


@pytest.mark.parametrize(
    "pace",
    [
        {"rate": "12", "repeat": 2},
        {"rate": "25", "thin": {"way": "leave", "use": 2, "leave": 3}, "direction": "there and back"},
        {"rate": "24000/1001", "hold": 3, "blend": "neighbours", "last": 20},
        {"rate": "30", "thin": {"way": "every", "every": 3}, "blend": "shutter", "curve": [{"at": 0.5, "speed": 0.4}]},
        {"rate": "25", "hold": 4, "blend": "motion", "direction": "back"},
    ],
    ids=lambda pace: " ".join(pace),
)
def test_every_pace_is_written_with_exactly_the_frames_that_were_planned(stills, tmp_path, pace):
    recipe = recipe_of(stills(21), **pace)
    clip = clip_of(recipe, tmp_path / "work")
    plan = plan_of(recipe)
    assert verify(probe(clip), plan) == []
    with av.open(str(clip)) as container:
        shown = [frame.to_ndarray(format="rgb24").astype(int) for frame in container.decode(video=0)]
    assert len(shown) == plan.frames
    for frame in (0, plan.frames // 2, plan.frames - 1):
        assert np.abs(shown[frame] - frame_of(recipe, frame)).mean() < 6


def test_chunks_of_a_blended_clip_are_the_same_rendered_alone_or_after_others(stills, tmp_path):
    recipe = recipe_of(stills(30), hold=4, blend="motion")
    parts = chunks_of(recipe)
    whole, alone = tmp_path / "whole", tmp_path / "alone"
    for folder in (whole, alone):
        folder.mkdir()
    for part in parts:
        rendered(recipe, part, whole)
    last = rendered(recipe, parts[-1], alone)
    assert last.read_bytes() == (whole / parts[-1].file_name).read_bytes()


@pytest.mark.parametrize(
    "pace", [{"hold": 8}, {"hold": 3, "blend": "motion"}, {"blend": "shutter", "thin": 3}], ids=str
)
def test_the_bytes_do_not_depend_on_how_many_threads_make_pictures_or_where_a_run_begins(stills, tmp_path, pace):
    thinned = {"thin": {"way": "every", "every": pace["thin"]}} if "thin" in pace else {}
    recipe = recipe_of(stills(24), **{**pace, **thinned})
    source, parts = ClipFrames(recipe), chunks_of(recipe)
    tasks = [task_of(source, QUICK, part) for part in parts]
    made = {}
    for name, making in (("one", OneByOne()), ("two", Ahead(2)), ("five", Ahead(5))):
        (tmp_path / name).mkdir()
        render_chunks(tasks, tmp_path / name, making=making)
        made[name] = [(tmp_path / name / part.file_name).read_bytes() for part in parts]
    (tmp_path / "alone").mkdir()
    for task in tasks[::-1]:
        render_chunks([task], tmp_path / "alone", making=Ahead(3))
    alone = [(tmp_path / "alone" / part.file_name).read_bytes() for part in parts]
    assert made["one"] == made["two"] == made["five"] == alone


def test_a_still_that_cannot_be_read_ends_a_run_at_its_frame_and_leaves_the_chunks_before(stills, tmp_path):
    taken = stills(20)
    Path(taken[12].path).unlink()
    recipe = recipe_of(taken, hold=8)
    parts = chunks_of(recipe)
    told = []
    with pytest.raises(UnreadableStill, match=r"MRW_13\.jpg"):
        render_chunks(
            [task_of(ClipFrames(recipe), QUICK, part) for part in parts],
            tmp_path,
            making=Ahead(3),
            on_frame=lambda chunk, done: told.append((chunk.number, done)),
        )
    assert told[-1] == (1, 12 * 8 - 50)
    assert [path.name for path in tmp_path.glob("*.chunk*")] == [parts[0].file_name]


def test_the_same_recipe_gives_the_same_bytes_from_one_process_or_several_in_any_order(stills, tmp_path):
    recipe = recipe_of(stills(20), hold=8)
    parts = chunks_of(recipe)
    assert len(parts) == 4
    alone = clip_of(recipe, tmp_path / "alone")
    many = tmp_path / "many"
    many.mkdir()
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(2, mp_context=context) as pool:
        list(pool.map(rendered, [recipe] * 4, parts[::-1], [many] * 4))
    together = join(recipe.decisions.pace.written_rate, [many / part.file_name for part in parts], many / "clip.mp4")
    assert together.read_bytes() == alone.read_bytes()


def test_a_change_costs_only_the_chunks_it_touches(stills):
    taken = stills(20)
    before = chunks_of(recipe_of(taken, hold=8))
    other = taken[0].model_copy(update={"fingerprint": "another picture"})
    after = chunks_of(recipe_of((other, *taken[1:]), hold=8))
    assert [one.key == two.key for one, two in zip(before, after, strict=True)] == [False, True, True, True]
    moved = taken[3].model_copy(update={"path": "/elsewhere/MRW_4.jpg"})
    assert chunks_of(recipe_of((*taken[:3], moved, *taken[4:]), hold=8)) == before
    assert not {one.key for one in before} & {one.key for one in chunks_of(recipe_of(taken, hold=8, rate="24"))}


def test_the_frames_of_the_clip_are_the_pictures_of_the_recipe_in_order_and_colour(stills, tmp_path):
    fit = Fit(size=Size(width=320, height=180))
    recipe = recipe_of(stills(60), fit=fit)
    with av.open(str(clip_of(recipe, tmp_path / "work"))) as container:
        frames = [
            frame.to_ndarray(format="rgb24", src_colorspace=1, dst_colorspace=1) for frame in container.decode(video=0)
        ]
    assert len(frames) == 60
    for number in (0, 49, 50, 59):
        away = [
            np.abs(frames[number].astype(float) - frame_of(recipe, other)).mean()
            for other in (number, (number + 7) % 60)
        ]
        assert away[0] < 3
        assert away[0] < away[1]


@pytest.mark.parametrize("colour", [(255, 255, 255), (200, 30, 30), (30, 160, 60), (40, 60, 200), (90, 90, 90)])
def test_flat_colours_survive_within_two_levels(tmp_path, colour):
    path = tmp_path / "flat.png"
    Image.new("RGB", (128, 72), colour).save(path)
    recipe = recipe_of((Still(path=str(path), fingerprint=str(colour), width=128, height=72),), hold=3)
    with av.open(str(clip_of(recipe, tmp_path / "work"))) as container:
        for frame in container.decode(video=0):
            y, u, v = (plane.mean() for plane in (frame.to_ndarray()[:72], *np.split(frame.to_ndarray()[72:], 2)))
    # BT.709 in limited range, ITU-R BT.709-6 §3.
    luma = (y - 16) * 255 / 219
    shown = [luma + 1.7927 * (v - 128), luma - 0.2132 * (u - 128) - 0.5329 * (v - 128), luma + 2.1124 * (u - 128)]
    assert np.abs(np.array(shown) - colour).max() <= 2.5


def test_verifying_says_what_differs(stills, tmp_path):
    recipe = recipe_of(stills(20), hold=8)
    parts = [rendered(recipe, chunk, tmp_path) for chunk in chunks_of(recipe)]
    short = join(recipe.decisions.pace.written_rate, parts[:-1], tmp_path / "short.mp4")
    said = [str(difference) for difference in verify(probe(short), plan_of(recipe))]
    assert said == ["frames: planned 160, found 150", "length in seconds: planned 32/5, found 6"]
    other = plan_of(recipe_of(stills(20), fit=Fit(size=Size(width=130, height=72)), hold=8, rate="24"))
    assert {difference.what for difference in verify(probe(short), other)} >= {"width", "frames per second", "frames"}


def test_chunks_of_different_recipes_are_not_joined(stills, tmp_path):
    taken = stills(4)
    one, two = recipe_of(taken), recipe_of(taken, fit=Fit(size=Size(width=64, height=64)))
    parts = [rendered(recipe, chunks_of(recipe)[0], tmp_path) for recipe in (one, two)]
    with pytest.raises(Refusal, match="do not belong together"):
        join(one.decisions.pace.written_rate, parts, tmp_path / "mixed.mp4")
    assert not list(tmp_path.glob("mixed*"))


def test_a_lost_still_leaves_nothing_half_written(stills, tmp_path):
    taken = stills(6)
    Path(taken[4].path).unlink()
    recipe = recipe_of(taken)
    with pytest.raises(UnreadableStill, match=r"MRW_5\.jpg"):
        rendered(recipe, chunks_of(recipe)[0], tmp_path)
    assert not list(tmp_path.glob("*.chunk*"))


def test_a_full_disk_is_said_and_leaves_nothing_half_written(stills, tmp_path):
    recipe = recipe_of(stills(40), fit=Fit(size=Size(width=640, height=360)), hold=1)
    (tmp_path / "recipe.json").write_text(recipe.model_dump_json())
    said = subprocess.run(
        [sys.executable, "-m", "tests.core.encode.test_chunk", str(tmp_path)],
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    assert "cannot_write" in said
    assert "Free some space" in said
    assert not list(tmp_path.glob("*.chunk*"))


def _with_little_room(folder: Path) -> None:
    """Render where no file may grow past 20 kB: the system then answers as a full disk does, to any write."""
    recipe = Recipe.model_validate_json((folder / "recipe.json").read_text())
    resource.setrlimit(resource.RLIMIT_FSIZE, (20_000, 20_000))
    try:
        rendered(recipe, chunks_of(recipe)[0], folder)
    except DiskFull as refusal:
        print(refusal.code, refusal.sentence)


def test_a_shot_without_stills_makes_no_clip():
    with pytest.raises(Refusal, match="has no stills"):
        chunks_of(recipe_of(()))


if __name__ == "__main__":
    _with_little_room(Path(sys.argv[1]))


ENCODED = """
import hashlib, sys
from pathlib import Path
from tests.clips import chunks_of, rendered
from yarnkite.core.render.recipe import Recipe
recipe = Recipe.model_validate_json(Path(sys.argv[1]).read_text())
folder = Path(sys.argv[2])
folder.mkdir()
for chunk in chunks_of(recipe):
    print(hashlib.md5(rendered(recipe, chunk, folder).read_bytes()).hexdigest())
"""


@pytest.mark.parametrize("size", [(480, 272)])
def test_bytes_do_not_depend_on_what_lies_in_memory(tmp_path, stills, size):
    """The encoder's code for the newest processors once read beyond its rows: each fill of free memory gave other
    bytes."""
    decisions = Decisions(fit=Fit(size=Size(width=size[0], height=size[1])))
    recipe = Recipe(stills=stills(50, (480, 320)), decisions=decisions)
    (tmp_path / "recipe.json").write_text(recipe.model_dump_json())
    found = set()
    for fill in ("1", "170"):
        ended = subprocess.run(
            [sys.executable, "-c", ENCODED, str(tmp_path / "recipe.json"), str(tmp_path / fill)],
            env=os.environ | {"MALLOC_PERTURB_": fill},
            capture_output=True,
            text=True,
            check=True,
        )
        found.add(ended.stdout)
    assert len(found) == 1
