"""Frames from a JPEG's planes: the same pictures as by way of RGB, and nearer to the truth."""

from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import pytest
import simplejpeg
from PIL import Image

from tests.clips import chunks_of, frame_of, rendered
from tests.conftest import scene, write_jpeg
from tests.core.encode.test_video_frame import by_the_standard, likeness, planes
from tests.ideal import resampled
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.planes import frame_by_planes
from yarnkite.core.encode.verify import probe
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.icc import dcf_optional
from yarnkite.core.image.jpeg_planes import read_planes
from yarnkite.core.light.adjustment import Adjustment
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.picture import picture
from yarnkite.core.render.recipe import Bridge, Correction, Recipe

SIZE = Size(width=480, height=270)


def photo(width=1920, height=1280):
    """A picture with soft slopes, coloured edges and grain, finer than the frame shows."""
    small = cv2.resize(scene(480, 320), (width, height), interpolation=cv2.INTER_CUBIC).astype(float)
    grain = np.random.default_rng(4).normal(0, 4, (height, width, 1))
    # Nothing of it is black or blown out: by way of RGB what overshoots there is cut off, by planes it is not.
    return np.clip(40 + 0.7 * small + grain, 0, 255).astype(np.uint8)


@pytest.fixture
def still_of(tmp_path):
    """Write a picture as a JPEG; returns it as a still."""

    def still_of(picture, subsampling="422", name="a.jpg", **options):
        data = simplejpeg.encode_jpeg(np.ascontiguousarray(picture), quality=95, colorsubsampling=subsampling)
        (tmp_path / name).write_bytes(data)
        if options:
            Image.fromarray(picture).save(tmp_path / name, quality=95, **options)
        return Still(path=str(tmp_path / name), fingerprint=name, width=picture.shape[1], height=picture.shape[0])

    return still_of


def recipe_of(*stills, encode=None, corrections=(), **fit):
    decisions = Decisions(fit=Fit(**({"size": SIZE} | fit)), encode=encode or Encode(preset="ultrafast"))
    return Recipe(stills=stills, decisions=decisions, corrections=tuple(corrections))


def spec_of(*stills, **options):
    return ClipFrames(recipe_of(*stills, **options)).spec(0)


def agree(straight, by_rgb):
    # Both are dithered; colour is reduced in one step here and in two there.
    for one, other, most in zip(planes(straight), planes(by_rgb), (2, 4, 4), strict=True):
        assert abs((one - other).mean()) < 0.05
        assert np.percentile(np.abs(one - other), 99) <= most


@pytest.mark.parametrize("subsampling", ["422", "420", "444"])
@pytest.mark.parametrize(
    "fit", [{}, {"x": 0.1, "y": 0.9, "zoom": 1.37}, {"size": Size(width=270, height=480)}], ids=str
)
def test_both_ways_show_the_same(still_of, subsampling, fit):
    still = still_of(photo(), subsampling)
    straight = frame_by_planes(spec_of(still, **fit))
    assert straight is not None
    by_rgb = to_video_frame(picture(spec_of(still, **fit)))
    agree(straight, by_rgb)


@pytest.mark.parametrize("subsampling", [0, 1, 2])
def test_a_progressive_file_shows_the_same_too(still_of, subsampling):
    still = still_of(photo(), name="p.jpg")
    Image.fromarray(photo()).save(still.path, quality=95, progressive=True, subsampling=subsampling)
    straight = frame_by_planes(spec_of(still))
    assert straight is not None
    by_rgb = to_video_frame(picture(spec_of(still)))
    agree(straight, by_rgb)


def test_a_progressive_file_that_is_cut_off_or_broken_is_never_taken_for_whole(still_of):
    still = still_of(photo(960, 640), name="p.jpg", progressive=True)
    whole = Path(still.path).read_bytes()
    broken = bytearray(whole)
    broken[len(whole) // 2 : len(whole) // 2 + 200] = bytes(200)
    for data in (whole[: len(whole) // 3] + b"\xff\xd9", bytes(broken)):
        Path(still.path).write_bytes(data)
        frame = frame_by_planes(spec_of(still))
        if frame is not None:
            with pytest.raises(UnreadableStill):
                frame_of(recipe_of(still), 0)
            pytest.fail("a file that cannot be read was made into a frame")


@pytest.mark.parametrize("subsampling", ["422", "420", "444"])
def test_the_way_by_planes_is_as_like_the_truth(still_of, subsampling):
    taken = photo(2400, 1350)
    still = still_of(taken, subsampling)
    straight, by_rgb = frame_by_planes(spec_of(still)), to_video_frame(picture(spec_of(still)))
    truth = by_the_standard(resampled(taken, (0, 0, 2400, 1350), (480, 270)))
    found = [likeness(one, exact) for one, exact in zip(planes(straight), truth, strict=True)]
    other = [likeness(one, exact) for one, exact in zip(planes(by_rgb), truth, strict=True)]
    # Dithered samples are half a step off on the mean: 55.9 dB would be as near as they come.
    assert found[0] > max(52, other[0] - 0.5)
    assert min(found[1:]) > 52


@pytest.mark.parametrize(
    "fit",
    [
        {"level": 1.0},
        {"quarters": 1},
        {"mirror": True},
        {"sharpen": "screen"},
        {"linear": True},
        {"lens": {"k1": 0.05}},
        {"how": "contain", "size": Size(width=480, height=480)},
        {"size": Size(width=3840, height=2160)},
    ],
    ids=str,
)
def test_what_needs_rgb_goes_that_way(still_of, fit):
    assert frame_by_planes(spec_of(still_of(photo()), **fit)) is None


def test_corrections_and_bridges_go_by_rgb(still_of):
    one, other = still_of(photo()), still_of(photo()[::-1].copy(), name="b.jpg")
    assert frame_by_planes(spec_of(one, corrections=[Correction(light=Adjustment(gain=0.5))])) is None
    assert frame_by_planes(spec_of(Bridge(before=one, after=other, share=Fraction(1, 2)), one)) is None


def test_files_that_are_not_plain_go_by_rgb(tmp_path, still_of):
    turned = write_jpeg(tmp_path / "turned.jpg", size=(480, 320), orientation=6)
    assert read_planes(Still(path=str(turned), fingerprint="t", width=320, height=480), Fraction(1)) is None
    assert read_planes(still_of(photo(), name="wide.jpg", icc_profile=dcf_optional()), Fraction(1)) is None
    Image.fromarray(photo()).convert("L").save(tmp_path / "grey.jpg")
    assert (
        read_planes(Still(path=str(tmp_path / "grey.jpg"), fingerprint="g", width=1920, height=1280), Fraction(1))
        is None
    )
    Image.fromarray(photo()).save(tmp_path / "a.png")
    assert (
        read_planes(Still(path=str(tmp_path / "a.png"), fingerprint="p", width=1920, height=1280), Fraction(1)) is None
    )


@pytest.mark.parametrize("hurt", ["cut", "garbled"])
def test_a_truncated_or_garbled_file_is_never_shown_by_planes(tmp_path, still_of, hurt):
    still = still_of(photo())
    path = tmp_path / "a.jpg"
    data = bytearray(path.read_bytes())
    if hurt == "cut":
        path.write_bytes(data[: len(data) // 2])
    else:
        data[len(data) // 3 : len(data) // 3 + 2000] = bytes(2000)
        path.write_bytes(data)
    assert read_planes(still, Fraction(4)) is None
    if hurt == "cut":
        recipe = recipe_of(still)
        with pytest.raises(UnreadableStill, match="ends early"):
            rendered(recipe, chunks_of(recipe)[0], tmp_path)


def test_a_file_that_is_not_what_was_gathered_is_refused_here_too(still_of):
    still = still_of(photo()).model_copy(update={"bytes": 12, "modified_ns": 0})
    with pytest.raises(UnreadableStill, match="was changed since"):
        read_planes(still, Fraction(1))


def test_a_chunk_rendered_by_planes_has_the_frames_of_the_stage(tmp_path, still_of):
    stills = [still_of(np.roll(photo(), 40 * number, axis=1), name=f"{number}.jpg") for number in range(3)]
    recipe = recipe_of(*stills, encode=Encode(preset="ultrafast", crf=10))
    path = rendered(recipe, chunks_of(recipe)[0], tmp_path)
    assert probe(path).frames == 3
    import av

    with av.open(str(path)) as container:
        decoded = list(container.decode(video=0))
    for number, frame in enumerate(decoded):
        exact = planes(to_video_frame(picture(ClipFrames(recipe).spec(number))))
        assert likeness(planes(frame)[0], exact[0]) > 38
