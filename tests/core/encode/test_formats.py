"""Every format: written, then read back by independent programs with the facts and the pictures that were planned."""

import io
import json
import os
import subprocess
import zipfile
from fractions import Fraction
from pathlib import Path

import av
import cv2
import imagecodecs
import numpy as np
import pytest
import tifffile
from PIL import Image, ImageCms, ImageSequence

from tests.clips import finished_clip, plan_of
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.core.encode.formats.format import Settings
from yarnkite.core.encode.labels import Labels
from yarnkite.core.encode.probe import probe
from yarnkite.core.encode.render_plan import chunks
from yarnkite.core.encode.streams import clip_stream
from yarnkite.core.encode.verify import verified, verify
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.icc import named_profile, srgb
from yarnkite.core.image.pixels import as_eight
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.picture import picture
from yarnkite.core.render.recipe import Recipe

SIZE = Size(width=320, height=180)
RATE = Fraction(24000, 1001)
JOINED = [(name, container) for name, one in FORMATS.items() if one.way == "joined" for container in one.containers]
# One of each codec in the suite, every other in the long run.
FIRST = {FORMATS[name].codec: (name, container) for name, container in reversed(JOINED)}.values()
EVERY = [one if one in FIRST else pytest.param(*one, marks=pytest.mark.long) for one in JOINED]
PROBED = {
    "av1": "av1",
    "prores": "prores",
    "dnxhd": "dnxhd",
    "h264": "h264",
    "hevc": "hevc",
    "vp9": "vp9",
    "ffv1": "ffv1",
}


def recipe_of(stills, encode, rate=RATE, count=60, size=SIZE):
    decisions = Decisions(fit=Fit(size=size), pace=Pace(rate=rate), encode=encode)
    return Recipe(stills=stills(count), decisions=decisions)


def psnr(one, other, peak=255.0):
    return 10 * np.log10(peak**2 / max(1e-9, ((one.astype(float) - other.astype(float)) ** 2).mean()))


def probed(path):
    asked = ["ffprobe", "-v", "error", "-count_frames", "-show_streams", "-show_format", "-of", "json", str(path)]
    return json.loads(subprocess.run(asked, capture_output=True, check=True).stdout)


def seen_by_another(path):
    """The picture's track as a second program of its own reads it."""
    said = subprocess.run(["mediainfo", "--Output=JSON", str(path)], capture_output=True, check=True).stdout
    return next(one for one in json.loads(said)["media"]["track"] if one["@type"] == "Video")


def decoded(path, count):
    """Frames decoded by Debian's ffmpeg, as RGB of 8 bits, by the matrix the file itself names."""
    asked = ["ffmpeg", "-v", "error", "-i", str(path), "-vf", "scale=out_range=pc:flags=accurate_rnd+full_chroma_int"]
    data = subprocess.run([*asked, "-f", "rawvideo", "-pix_fmt", "rgb24", "-"], capture_output=True, check=True).stdout
    return np.frombuffer(data, np.uint8).reshape(count, SIZE.height, SIZE.width, 3)


@pytest.mark.parametrize(("name", "container"), EVERY, ids=lambda one: str(one))
def test_a_video_is_what_was_planned_by_an_independent_probe_and_decoder(stills, tmp_path, name, container):
    encode = Encode(format=name, container=container, title="Two Boats", comment="From the pier", crf=16)
    if container in ("mov", "mxf"):
        encode = encode.model_copy(update={"start": "01:00:00:00"})
    recipe = recipe_of(stills, encode)
    verdict, clip = finished_clip(recipe, tmp_path, Labels.of(encode))
    assert [str(one) for one in verdict.differences] == []
    assert verdict.evidence.frames == 60

    format, found = FORMATS[name], probed(clip)
    video = next(one for one in found["streams"] if one["codec_type"] == "video")
    assert (video["codec_name"], int(video["nb_read_frames"])) == (PROBED[format.codec], 60)
    assert (video["width"], video["height"], video["pix_fmt"]) == (320, 180, format.pixel_format)
    assert Fraction(video["r_frame_rate"]) == RATE
    assert float(found["format"]["duration"]) == pytest.approx(60 / float(RATE), abs=0.002)
    tags = [video.get(tag) for tag in ("color_space", "color_transfer", "color_primaries", "color_range")]
    assert tags == ["bt709", "bt709", "bt709", "tv"]
    assert video.get("sample_aspect_ratio", "1:1") in ("1:1", "N/A")
    if format.profile and name != "vp9":
        assert video["profile"] == format.profile
    said = {key.lower(): text for key, text in found["format"].get("tags", {}).items()}
    if container != "mxf":
        assert (said.get("title"), said.get("comment")) == ("Two Boats", "From the pier")
    codes = [one.get("tags", {}).get("timecode") for one in (*found["streams"], found["format"])]
    assert ("01:00:00:00" in codes) == (container in ("mov", "mxf"))

    frames = ClipFrames(recipe)
    shown = decoded(clip, 60)
    floor = min(format.psnr_floor_db, 40.0) - (2.5 if format.samples.chroma == "420" else 0)
    for number in (0, 31, 59):
        # Its way through RGB and halved colour costs a little of what the frame itself keeps.
        assert psnr(shown[number], as_eight(picture(frames.spec(number)))) > floor
    if container in ("mp4", "mov"):
        assert clip.read_bytes().find(b"moov") < clip.read_bytes().find(b"mdat")
    if name == "h265":
        assert video["codec_tag_string"] == "hvc1"
    other = seen_by_another(clip)
    assert (int(other["Width"]), int(other["Height"])) == (320, 180)
    assert float(other["FrameRate"]) == pytest.approx(float(RATE), abs=0.01)
    assert int(other.get("FrameCount", 60)) == 60
    assert other.get("ChromaSubsampling", ":".join(format.samples.chroma)) == ":".join(format.samples.chroma)
    assert int(other.get("BitDepth", format.samples.depth)) in (
        format.samples.depth,
        12 if name == "prores-4444" else 0,
    )
    assert other.get("colour_primaries", "BT.709") == "BT.709"


@pytest.mark.parametrize(("name", "container"), [("prores", "mov"), ("h264", "mov"), ("dnxhr-hq", "mxf")])
def test_a_timecode_that_drops_numbers_is_kept_as_one(stills, tmp_path, name, container):
    encode = Encode(format=name, container=container, start="01:00:00;02")
    recipe = recipe_of(stills, encode, rate=Fraction(30000, 1001), count=6)
    verdict, clip = finished_clip(recipe, tmp_path, Labels.of(encode))
    assert [str(one) for one in verdict.differences] == []
    found = probed(clip)
    codes = [one.get("tags", {}).get("timecode") for one in (*found["streams"], found["format"])]
    assert "01:00:00;02" in codes


# One whose frames rest on each other, and one in which each stands by itself; the rest of their kinds in the long run.
TOGETHER = ["h265", "prores"]
ALIKE = ["h264-422", "av1-10", "vp9", "dnxhr-hqx", "ffv1"]


@pytest.mark.parametrize("name", [*TOGETHER, *(pytest.param(one, marks=pytest.mark.long) for one in ALIKE)])
def test_what_is_joined_is_one_stream_though_its_chunks_were_rendered_alone(stills, tmp_path, name):
    """Of two chunks: the same packets, whether they are rendered together or apart."""
    recipe = recipe_of(stills, Encode(format=name, preset="fast"))
    assert len(chunks(ClipFrames(recipe), recipe.decisions.encode)) == 2
    one, two = (finished_clip(recipe, tmp_path / which, apart=apart)[1] for which, apart in (("a", 0), ("b", 1)))
    assert one.read_bytes() == two.read_bytes()


def test_ten_bits_come_from_stills_of_eight_without_a_step_of_eight_in_between(tmp_path):
    """A slope between two neighbouring codes: averaging 4 × 4 of its dithered pixels gives levels between them."""
    rng = np.random.default_rng(5)
    slope = np.linspace(100, 104, 1280)[None, :] + rng.uniform(-0.5, 0.5, (720, 1280))
    path = tmp_path / "slope.png"
    Image.fromarray(np.repeat(np.rint(slope)[..., None], 3, 2).astype(np.uint8)).save(path)
    still = Still(path=str(path), fingerprint="slope", width=1280, height=720)
    for name, levels in (("ffv1-8", 6), ("ffv1", 12)):
        decisions = Decisions(fit=Fit(size=SIZE), encode=Encode(format=name))
        _, clip = finished_clip(Recipe(stills=(still,) * 2, decisions=decisions), tmp_path / name)
        with av.open(str(clip)) as container:
            frame = next(container.decode(video=0))
        kind = np.uint8 if name == "ffv1-8" else np.uint16
        luma = np.frombuffer(memoryview(frame.planes[0]), kind).reshape(180, -1)[:, :320]
        found = len(np.unique(luma))
        assert (found <= levels) if name == "ffv1-8" else (found >= levels)


@pytest.mark.parametrize("wanted", ["hlg", "pq"])
def test_a_high_range_is_said_and_white_lies_where_programmes_have_it(tmp_path, wanted):
    path = tmp_path / "grey.tif"
    field = np.zeros((180, 320, 3), np.uint16)
    field[:, 160:] = 65535
    tifffile.imwrite(path, field, photometric="rgb")
    still = Still(path=str(path), fingerprint="grey", width=320, height=180)
    encode = Encode(format="h265", range=wanted, crf=10)
    verdict, clip = finished_clip(
        Recipe(stills=(still,) * 3, decisions=Decisions(fit=Fit(size=SIZE), encode=encode)), tmp_path / "work"
    )
    assert verdict.differences == []
    video = probed(clip)["streams"][0]
    curve = {"hlg": "arib-std-b67", "pq": "smpte2084"}[wanted]
    tags = (video["color_primaries"], video["color_transfer"], video["color_space"])
    assert tags == ("bt2020", curve, "bt2020nc")
    with av.open(str(clip)) as container:
        frame = next(container.decode(video=0))
    luma = np.frombuffer(memoryview(frame.planes[0]), np.uint16).reshape(180, -1)[:, :320]
    # ITU-R BT.2408: white of a picture at 75 % of HLG's signal, 58 % of PQ's; limited range of 10 bits.
    signal = (float(np.median(luma[:, 240:])) - 64) / 876
    assert signal == pytest.approx({"hlg": 0.75, "pq": 0.58}[wanted], abs=0.01)
    assert float(np.median(luma[:, :80])) == pytest.approx(64, abs=1)


READERS = {
    "jpeg": lambda data: np.asarray(cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)[..., ::-1]),
    "png": lambda data: np.asarray(Image.open(io.BytesIO(data))),
    "png-16": lambda data: np.asarray(cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)[..., ::-1]),
    "tiff": lambda data: np.asarray(imagecodecs.tiff_decode(data)),
}


@pytest.mark.parametrize("name", list(READERS))
@pytest.mark.parametrize("profile", ["sRGB", "opRGB"])
def test_numbered_stills_hold_the_frames_their_profile_and_their_resolution(stills, tmp_path, name, profile):
    encode = Encode(format=name, profile=profile, ppi=240, crf=14)
    recipe = recipe_of(stills, encode, count=3)
    verdict, packed = finished_clip(recipe, tmp_path)
    assert verdict.differences == []
    with zipfile.ZipFile(packed) as archive:
        ending = FORMATS[name].codec
        assert archive.namelist() == [f"frame_{number:04}.{ending}" for number in (1, 2, 3)]
        files = [archive.read(one) for one in archive.namelist()]
    truth = as_eight(picture(ClipFrames(recipe).spec(2)))
    shown = READERS[name](files[2])
    assert shown.dtype == (np.uint16 if FORMATS[name].samples.depth == 16 else np.uint8)
    opened = Image.open(io.BytesIO(files[2]))
    assert opened.info["icc_profile"] == (srgb() if profile == "sRGB" else named_profile(profile))
    assert opened.info["dpi"][0] == pytest.approx(240, abs=0.1)
    # Through its own profile, by the library and not by ours, it is the frame again.
    eight = as_eight(shown)
    if profile != "sRGB":
        own = ImageCms.ImageCmsProfile(io.BytesIO(opened.info["icc_profile"]))
        eight = np.asarray(
            ImageCms.profileToProfile(Image.fromarray(eight), own, ImageCms.createProfile("sRGB"), renderingIntent=1)
        )
    assert psnr(eight, truth) > (36 if name == "jpeg" else 44)


def test_openexr_is_linear_light_of_half_floats_read_by_an_independent_program(stills, tmp_path):
    recipe = recipe_of(stills, Encode(format="exr"), count=2)
    verdict, packed = finished_clip(recipe, tmp_path)
    assert verdict.differences == []
    with zipfile.ZipFile(packed) as archive:
        (tmp_path / "a.exr").write_bytes(archive.read("frame_0001.exr"))
    asked = ["ffmpeg", "-v", "error", "-i", str(tmp_path / "a.exr"), "-f", "rawvideo", "-pix_fmt", "gbrpf32le", "-"]
    data = np.frombuffer(subprocess.run(asked, capture_output=True, check=True).stdout, np.float32)
    green, blue, red = data.reshape(3, SIZE.height, SIZE.width)
    codes = picture(ClipFrames(recipe).spec(0)) / 65535
    light = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
    found = np.stack([red, green, blue], axis=-1)
    # Half floats keep 11 bits.
    assert np.abs(found - light).max() < 0.001


@pytest.mark.parametrize("name", ["gif", "webp", "avif"])
def test_a_loop_has_every_frame_at_its_time_and_never_ends(stills, tmp_path, name):
    rate = Fraction(10)
    recipe = recipe_of(stills, Encode(format=name), rate=rate, count=24)
    verdict, loop = finished_clip(recipe, tmp_path)
    assert [str(one) for one in verdict.differences] == []
    assert verdict.evidence.frames == 24
    truth = as_eight(picture(ClipFrames(recipe).spec(23)))
    with Image.open(loop) as image:
        frames = [(one.convert("RGB"), one.info.get("duration")) for one in ImageSequence.Iterator(image)]
        forever = image.info.get("loop", 0)
    assert (len(frames), forever) == (24, 0)
    assert {duration for _, duration in frames} == {100}
    assert psnr(np.asarray(frames[23][0]), truth) > FORMATS[name].psnr_floor_db


@pytest.mark.parametrize("name", ["gif", "webp", "avif", "h264", "vp9", "jpeg"])
def test_frames_that_are_shown_again_are_all_there(stills, tmp_path, name):
    """Held, repeated, there and back, and a last still that stays: a file may hold equal frames as one that lasts
    longer."""
    pace = Pace(rate=Fraction(12), hold=2, last=7, direction="there and back", repeat=2)
    decisions = Decisions(fit=Fit(size=SIZE), pace=pace, encode=Encode(format=name))
    recipe = Recipe(stills=stills(4), decisions=decisions)
    verdict, _ = finished_clip(recipe, tmp_path)
    assert [str(one) for one in verdict.differences] == []
    assert verdict.evidence.frames == len(ClipFrames(recipe)) > 30


def test_a_picture_that_lasts_too_long_is_not_taken_for_many(stills, tmp_path):
    """The times of a loop are the file's: a frame left out between two that are held is missed."""
    recipe = recipe_of(stills, Encode(format="webp"), rate=Fraction(10), count=6)
    _, loop = finished_clip(recipe, tmp_path)
    with Image.open(loop) as image:
        frames = [one.convert("RGB") for one in ImageSequence.Iterator(image)]
    other = tmp_path / "other.webp"
    frames[0].save(
        other, save_all=True, append_images=[frames[1], *frames[3:]], duration=[100, 200, 100, 100, 100], loop=0
    )
    plan = plan_of(recipe)
    verdict = verified(other, plan, chunks(ClipFrames(recipe), recipe.decisions.encode), tmp_path)
    assert [one.what for one in verdict.differences] == ["frame 3"]
    frames[0].save(other, save_all=True, append_images=frames[1:], duration=[100, 140, 60, 100, 100, 100], loop=0)
    verdict = verified(other, plan, chunks(ClipFrames(recipe), recipe.decisions.encode), tmp_path)
    assert "frames per second" in [one.what for one in verdict.differences]


def test_what_is_not_as_planned_is_named(stills, tmp_path):
    encode = Encode(format="prores", title="One", start="02:00:00:00")
    recipe = recipe_of(stills, encode, count=4)
    verdict, _ = finished_clip(recipe, tmp_path, Labels.of(encode))
    other = Encode(format="prores-hq", title="Two", start="03:00:00:00")
    plan = recipe.model_copy(update={"decisions": recipe.decisions.model_copy(update={"encode": other})})
    found = {one.what for one in verify(verdict.facts, plan_of(plan), Labels.of(other))}
    assert found == {"profile", "title and comment", "timecode of the first frame"}


def test_an_index_that_comes_last_is_noticed(stills, tmp_path):
    _, clip = finished_clip(recipe_of(stills, Encode(format="ffv1-8"), count=4), tmp_path)
    late = tmp_path / "late.mkv"
    subprocess.run(["ffmpeg", "-v", "error", "-i", str(clip), "-c", "copy", str(late)], check=True)
    assert (probe(clip).fast_start, probe(late).fast_start) == (True, False)


def test_an_encoder_that_claims_real_time_gets_no_more_than_the_rest(tmp_path):
    with av.open(str(tmp_path / "one.mp4"), "w") as container:
        settings = Settings(Encode(format="av1"), Size(width=320, height=180), Fraction(25), 2)
        stream = clip_stream(container, settings)
        rules = {os.sched_getscheduler(int(one.name)) for one in Path("/proc/self/task").iterdir()}
        assert rules == {os.SCHED_OTHER}
        container.mux(stream.encode(av.VideoFrame(320, 180, stream.pix_fmt)))
        container.mux(stream.encode(None))
    assert os.sched_getscheduler(0) == os.SCHED_OTHER
