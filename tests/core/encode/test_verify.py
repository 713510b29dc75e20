"""Verifying: every frame compared with what it should be; whatever is wrong with a file is named, and where."""

from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from skimage.metrics import structural_similarity

from tests.clips import finished_clip
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.likeness import Copies, reduced, similarity, similarity_map
from yarnkite.core.encode.plan import chunks, clip_plan
from yarnkite.core.encode.verify import verified
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
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
    verdict = verified(other, clip_plan(frames, encode), chunks(frames, encode), folder)
    said = [str(one) for one in verdict.differences]
    if kind == "nothing":
        assert said == []
        assert verdict.sentence(frames.rate).startswith("30 frames compared, lowest likeness 0.99")
    else:
        assert any(one.startswith(named) for one in said), said
    if kind == "black":
        assert verdict.evidence.lowest_at == 11


def test_a_file_that_is_cut_off_and_copies_that_are_lost_are_said(clip):
    recipe, path, folder = clip
    frames, encode = ClipFrames(recipe), recipe.decisions.encode
    plan, parts = clip_plan(frames, encode), chunks(frames, encode)
    (folder / "cut.mp4").write_bytes(path.read_bytes()[:2000])
    with pytest.raises(Refusal, match="cannot be read back"):
        verified(folder / "cut.mp4", plan, parts, folder)
    (folder / parts[0].copies_name).write_bytes(b"no copies")
    with pytest.raises(Refusal, match="Encode again"):
        verified(path, plan, parts, folder)
    assert not parts[0].is_in(folder)


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
