"""Verifying: every frame compared with what it should be; whatever is wrong with a file is named, and where."""

import subprocess
import sys
from fractions import Fraction
from pathlib import Path
from types import SimpleNamespace

import av
import colour
import numpy as np
import pytest
from PIL import Image
from skimage.metrics import structural_similarity

from tests.clips import finished_clip
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode import chunk
from yarnkite.core.encode.assemble import assemble
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.compare import Comparison
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.likeness import Copies, parts_of, reduced, sheet, sheet_of_picture, similarity, similarity_map
from yarnkite.core.encode.naming import file_ending
from yarnkite.core.encode.render_plan import chunks, render_plan, task_of
from yarnkite.core.encode.sample import painted_anew, sample_of
from yarnkite.core.encode.verify import probe, verified
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.picture import Painter
from yarnkite.core.render.recipe import Recipe

SIZE = Size(width=480, height=270)


@pytest.fixture
def clip(stills, tmp_path):
    """A clip of 30 frames that move, its recipe and the folder of its chunks."""
    decisions = Decisions(fit=Fit(size=SIZE), encode=Encode(preset="ultrafast", crf=18))
    recipe = Recipe(stills=stills(30), decisions=decisions)
    verdict, path = finished_clip(recipe, tmp_path)
    assert verdict.differences == []
    return recipe, path, tmp_path


def written(frames, path: Path) -> Path:
    with av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"}) as container:
        stream = container.add_stream("libx264", rate=25, options={"crf": "12", "preset": "ultrafast"})
        stream.width, stream.height, stream.pix_fmt = SIZE.width, SIZE.height, "yuv420p"
        context = stream.codec_context
        context.color_primaries = context.color_trc = context.colorspace = context.color_range = 1
        for position, frame in enumerate(frames):
            frame.pts, frame.time_base = position, Fraction(1, 25)
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    return path


def frames_of(path):
    with av.open(str(path)) as container:
        return [frame.to_ndarray(format="yuv420p").copy() for frame in container.decode(video=0)]


def spoiled(kind, frames):
    frames = [frame.copy() for frame in frames]
    if kind == "swapped":
        frames[11], frames[12] = frames[12], frames[11]
    elif kind == "repeated":
        frames[11] = frames[10]
    elif kind == "black":
        frames[11][: SIZE.height] = 16
        frames[11][SIZE.height :] = 128
    elif kind == "torn":
        frames[11][SIZE.height * 3 // 4 : SIZE.height, : SIZE.width // 4] = 235
    elif kind == "grey":
        for frame in frames:
            frame[SIZE.height :] = 128
    elif kind == "colours exchanged":
        # Planes of a quarter each, below brightness.
        for number, frame in enumerate(frames):
            both = frame[SIZE.height :].reshape(2, -1)
            frames[number][SIZE.height :] = both[::-1].reshape(frame[SIZE.height :].shape)
    elif kind == "one grey":
        frames[11][SIZE.height :] = 128
    elif kind == "one lost":
        del frames[11]
    elif kind == "one more":
        frames.append(frames[-1])
    elif kind == "late by one":
        frames = [frames[0], *frames[:-1]]
    return frames


@pytest.mark.parametrize(
    ("kind", "named"),
    [
        ("swapped", "frame 12: planned its picture, found the picture of the frame after it"),
        ("repeated", "frame 12: planned its picture, found the picture of the frame before it"),
        ("black", "frame 12: planned its picture, found black"),
        ("torn", "frame 12: planned its picture, found a part"),
        ("grey", "frame 1: planned its picture, found"),
        ("colours exchanged", "frame 1: planned its picture, found"),
        ("one grey", "frame 12: planned its picture, found"),
        ("one lost", "frames: planned 30, found 29"),
        ("one more", "frames: planned 30, found 31"),
        ("late by one", "more frames that differ: planned none, found"),
        ("nothing", ""),
    ],
)
def test_a_spoiled_file_is_never_verified_and_the_frame_is_named(clip, kind, named):
    recipe, path, folder = clip
    ready = (av.VideoFrame.from_ndarray(frame, "yuv420p") for frame in spoiled(kind, frames_of(path)))
    other = written(ready, folder / "other.mp4")
    frames, encode = ClipFrames(recipe), recipe.decisions.encode
    verdict = verified(other, render_plan(frames, encode), chunks(frames, encode), folder)
    said = [str(one) for one in verdict.differences]
    if kind == "nothing":
        assert said == []
        assert verdict.sentence(render_plan(frames, encode)).startswith(
            "30 frames compared in light and colour, lowest likeness 0.99"
        )
    else:
        assert any(one.startswith(named) for one in said), said
    if kind == "black":
        assert verdict.evidence.lowest_at == 11


def test_a_file_that_is_cut_off_and_copies_that_are_lost_are_said(clip):
    recipe, path, folder = clip
    frames, encode = ClipFrames(recipe), recipe.decisions.encode
    plan, parts = render_plan(frames, encode), chunks(frames, encode)
    (folder / "cut.mp4").write_bytes(path.read_bytes()[:2000])
    with pytest.raises(Refusal, match="cannot be read back"):
        verified(folder / "cut.mp4", plan, parts, folder)
    (folder / parts[0].proof_name).unlink()
    (folder / parts[0].copies_name).write_bytes(b"no copies")
    with pytest.raises(Refusal, match="Encode again"):
        verified(path, plan, parts, folder)
    assert not parts[0].is_in(folder)


@pytest.mark.parametrize("name", ["h264", "prores", "ffv1", "ffv1-8", "vp9", "jpeg", "webp"])
@pytest.mark.parametrize("spoilt", ["another light", "mirrored", "red for blue"])
def test_what_was_rendered_wrong_is_found_by_painting_some_frames_anew(stills, tmp_path, monkeypatch, name, spoilt):
    """The copies are those of what was rendered, and the file holds just that: only the pictures themselves can
    tell."""
    recipe = Recipe(
        stills=stills(9), decisions=Decisions(fit=Fit(size=Size(width=160, height=90)), encode=Encode(format=name))
    )
    wrong = {
        "another light": lambda image: np.minimum(image.astype(int) * 106 // 100, np.iinfo(image.dtype).max),
        "mirrored": lambda image: image[:, ::-1],
        "red for blue": lambda image: image[..., ::-1],
    }[spoilt]
    paint = Painter.picture

    with monkeypatch.context() as patched:
        patched.setattr(
            Painter,
            "picture",
            lambda self, spec: np.ascontiguousarray(wrong(paint(self, spec)), paint(self, spec).dtype),
        )
        patched.setattr(chunk, "frame_by_planes", lambda spec, samples: None)
        frames, encode = ClipFrames(recipe), recipe.decisions.encode
        parts, plan = chunks(frames, encode), render_plan(frames, encode)
        render_chunks([task_of(frames, encode, part) for part in parts], tmp_path)
    clip = assemble(plan, parts, tmp_path, tmp_path / f"clip.{file_ending(encode)}")
    assert verified(clip, plan, parts, tmp_path).differences == []
    sample = sample_of(frames, recipe.digest())
    verdict = verified(clip, plan, parts, tmp_path, anew=painted_anew(sample, encode))
    said = [str(one) for one in verdict.differences]
    assert said
    assert all("painting it anew" in one for one in said), said
    assert said[0].startswith("frame 1:")


def test_a_sample_has_the_ends_what_lies_beside_borders_and_what_the_mark_chooses(stills):
    class Frames:
        borders = (30, 60)

        def __init__(self, count):
            self.count = count

        def __len__(self):
            return self.count

        def spec(self, frame):
            return SimpleNamespace(finish=SimpleNamespace(size=SIZE), moving=False)

    def chosen(count, mark="a", borders=(30, 60)):
        frames = Frames(count)
        frames.borders = borders
        return [one.frame for one in sample_of(frames, mark)]

    assert {0, 29, 30, 59, 60, 89} < set(chosen(90))
    assert chosen(3, borders=()) == [0, 1, 2]
    assert chosen(0, borders=()) == []
    assert len(chosen(90, borders=())) == 4
    assert len(chosen(9000, borders=())) == 10
    assert chosen(9000, borders=()) == chosen(9000, borders=())
    assert chosen(9000, borders=()) != chosen(9000, "b", borders=())
    many = tuple(range(50, 5000, 50))
    assert len(chosen(5000, borders=many)) < 16


def test_a_still_that_is_not_there_any_more_is_left_out_of_the_sample(stills, tmp_path):
    taken = stills(6)
    recipe = Recipe(stills=taken, decisions=Decisions(fit=Fit(size=Size(width=160, height=90))))
    sample = sample_of(ClipFrames(recipe), "a")
    Path(taken[0].path).unlink()
    assert set(painted_anew(sample, Encode())) == {one.frame for one in sample} - {0}


@pytest.mark.parametrize(("wide", "high"), [(240, 135), (2, 2), (161, 91), (320, 180), (64, 36), (3, 1)])
def test_a_copy_has_its_three_parts(wide, high):
    rng = np.random.default_rng(4)
    planes = [rng.integers(0, 255, (high, wide)).astype(np.uint8) for _ in range(3)]
    luma, blue, red = parts_of(sheet(planes, 8))
    assert luma.shape == reduced(planes[0], 8).shape
    assert blue.shape == red.shape == (max(1, luma.shape[0] // 2), max(1, luma.shape[1] // 2))
    grey = sheet([planes[0], np.full((high, wide), 128, np.uint8), np.full((high, wide), 128, np.uint8)], 8)
    assert {*np.unique(parts_of(grey)[1]), *np.unique(parts_of(grey)[2])} == {128}


def test_a_picture_s_copy_is_that_of_its_video_in_full_range():
    """By the matrix of BT.709 as another library has it."""
    rng = np.random.default_rng(6)
    image = np.repeat(np.repeat(rng.integers(0, 255, (30, 40, 3)), 4, 0), 4, 1).astype(np.uint8)
    _, blue, red = parts_of(sheet_of_picture(image))
    theirs = colour.RGB_to_YCbCr(image / 255, K=colour.WEIGHTS_YCBCR["ITU-R BT.709"], out_legal=False, out_int=False)
    mean = theirs.reshape(blue.shape[0], 120 // blue.shape[0], blue.shape[1], 160 // blue.shape[1], 3).mean(axis=(1, 3))
    assert np.abs(blue.astype(int) - 128 - mean[..., 1] * 255).max() < 1.5
    assert np.abs(red.astype(int) - 128 - mean[..., 2] * 255).max() < 1.5


def test_likeness_is_structural_similarity_as_an_independent_library_has_it():
    rng = np.random.default_rng(2)
    one = np.cumsum(rng.normal(size=(90, 160)), axis=1)
    one = np.uint8(np.clip((one - one.min()) / np.ptp(one) * 255, 0, 255))
    other = np.uint8(np.clip(one + rng.normal(0, 12, one.shape), 0, 255))
    # Windows of 7 there, of 8 here.
    theirs = structural_similarity(one, other, win_size=7, use_sample_covariance=False, data_range=255)
    assert similarity(one, other) == pytest.approx(theirs, abs=0.03)
    assert similarity(one, one) == pytest.approx(1.0, abs=1e-5)
    assert similarity_map(one, other).shape == one.shape


def test_a_copy_is_the_mean_of_its_squares_at_any_depth():
    rng = np.random.default_rng(3)
    luma = rng.integers(64, 940, (540, 960)).astype(np.uint16)
    exact = luma.reshape(135, 4, 240, 4).mean(axis=(1, 3)) / 4
    assert np.abs(reduced(luma, 10) - exact).max() <= 1


def test_copies_that_are_not_whole_are_no_evidence(tmp_path):
    copies = Copies(np.arange(600, dtype=np.uint8).reshape(2, 15, 20))
    copies.write(tmp_path / "a.copies")
    assert (Copies.read(tmp_path / "a.copies").frames == copies.frames).all()
    data = (tmp_path / "a.copies").read_bytes()
    (tmp_path / "a.copies").write_bytes(data[:-9])
    with pytest.raises(ValueError, match=r"incomplete|Error"):
        Copies.read(tmp_path / "a.copies")
    (tmp_path / "b.copies").write_bytes(data)
    with pytest.raises(ValueError, match="another chunk"):
        Copies.read(tmp_path / "b.copies")


def moving(folder, picture):
    """Stills of a picture that moves from left to right."""
    taken = []
    for number in range(12):
        path = folder / f"GRN_{number}.png"
        Image.fromarray(np.roll(picture, 30 * number, 1)).save(path)
        taken.append(Still(path=str(path), fingerprint=f"{folder.name}-{number}", width=640, height=420))
    return tuple(taken)


@pytest.fixture(scope="module")
def grainy(tmp_path_factory):
    """Coloured grain: the hardest there is for an encoder, and most of all in a small frame."""
    return moving(tmp_path_factory.mktemp("grainy"), np.random.default_rng(3).integers(0, 256, (420, 640, 3), np.uint8))


@pytest.fixture(scope="module")
def coloured(tmp_path_factory):
    """Coloured patches, with grain in them."""
    rng = np.random.default_rng(4)
    patches = np.kron(rng.integers(30, 220, (7, 8, 3)), np.ones((60, 80, 1)))
    return moving(
        tmp_path_factory.mktemp("coloured"), np.uint8(np.clip(patches + rng.normal(0, 6, patches.shape), 0, 255))
    )


@pytest.mark.parametrize("name", ["h264", "h265", "vp9", "prores-lt", "webp", "jpeg"])
@pytest.mark.parametrize(
    "size", [Size(width=64, height=36), Size(width=96, height=64), Size(width=320, height=180)], ids=str
)
def test_a_small_frame_of_grain_is_no_false_alarm(grainy, tmp_path, name, size):
    decisions = Decisions(fit=Fit(size=size), encode=Encode(format=name, crf=23))
    assert finished_clip(Recipe(stills=grainy, decisions=decisions), tmp_path)[0].differences == []


@pytest.mark.parametrize("kind", ["swapped", "repeated", "black", "grey", "colours exchanged", "one grey", "nothing"])
def test_and_a_small_frame_that_is_wrong_is_found(coloured, tmp_path, kind, monkeypatch):
    monkeypatch.setattr(sys.modules[__name__], "SIZE", Size(width=96, height=64))
    recipe = Recipe(stills=coloured, decisions=Decisions(fit=Fit(size=SIZE), encode=Encode(crf=18)))
    frames, encode = ClipFrames(recipe), recipe.decisions.encode
    _, path = finished_clip(recipe, tmp_path)
    ready = frames_of(path)
    if kind == "swapped":
        ready[4], ready[5] = ready[5], ready[4]
    elif kind == "repeated":
        ready[5] = ready[4]
    else:
        # What is done to the twelfth of many is done to the last one here.
        ready = spoiled(kind, ready)
    other = written((av.VideoFrame.from_ndarray(frame, "yuv420p") for frame in ready), tmp_path / "other.mp4")
    found = verified(other, render_plan(frames, encode), chunks(frames, encode), tmp_path).differences
    assert bool(found) == (kind != "nothing"), found


@pytest.mark.parametrize(
    ("step", "found", "is_fault"),
    [(5, 100, False), (5, 102.7, False), (5, 97.3, False), (5, 103.4, True), (5, 107, True), (0, 102.7, True)],
    ids=["its own", "ahead", "behind", "too far ahead", "as its neighbour", "without a fade"],
)
def test_in_a_fade_an_encoder_may_run_a_little_ahead_and_nowhere_else(step, found, is_fault):
    grain = np.random.default_rng(2).normal(0, 6, (135, 240))

    def copy(level):
        luma = np.clip(grain + level, 0, 255).astype(np.uint8)
        return sheet([luma, np.full((67, 120), 128, np.uint8), np.full((67, 120), 128, np.uint8)], 8)

    before, own, after = copy(100 - step), copy(100), copy(100 + step)
    comparison = Comparison(iter([before, own, after]), Encode(format="av1"), 240)
    for one in (before, copy(found), after):
        comparison.compare(one)
    assert [frame for frame, _ in comparison.result().faults] == ([1] if is_fault else [])


def test_a_single_frame_is_shown_as_long_as_its_file_says(tmp_path):
    still = tmp_path / "one.webp"
    pictures = [Image.new("RGB", (64, 64), shade) for shade in ("red", "blue")]
    pictures[0].save(still, save_all=True, append_images=pictures[1:], duration=[40, 40])
    assert probe(still).rate == 25
    one = tmp_path / "one.mp4"
    asked = ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "testsrc=s=64x64:r=25:d=0.04", str(one)]
    subprocess.run(asked, check=True)
    assert (probe(one).frames, probe(one).rate) == (1, 25)


def test_a_small_clip_that_is_nothing_but_grain_of_colour_is_verified(tmp_path):
    rng = np.random.default_rng(1)
    taken = []
    for number in range(3):
        path = tmp_path / f"{number}.jpg"
        Image.fromarray(np.clip(rng.normal(102, 26, (240, 320, 3)), 0, 255).astype(np.uint8)).save(path, quality=92)
        taken.append(Still(path=str(path), fingerprint=path.stem, width=320, height=240))
    decisions = Decisions(fit=Fit(size=Size(width=320, height=240)))
    verdict, _ = finished_clip(Recipe(stills=taken, decisions=decisions), tmp_path / "work")
    assert verdict.differences == []
