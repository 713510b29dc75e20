"""How bright a file in PQ says it is: what is measured on it, as another program reads it."""

import subprocess

import av
import colour
import numpy as np
import pytest
from PIL import Image

from tests.clips import finished_clip
from tests.conftest import BEGINS
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.light_level import NOT_KNOWN, LightLevel, level_in, without_level, write_level
from yarnkite.core.encode.proof import Proof, times_if_proven
from yarnkite.core.encode.render_plan import chunks, render_plan
from yarnkite.core.encode.verify import verified
from yarnkite.core.fit.decisions import Fit, Surround
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe
from yarnkite.demo.dng import write_dng

WHITE_CD = 203


@pytest.fixture
def clip(tmp_path):
    """Sixty frames, two chunks: grey, and in the second of them a quarter that is white, then one that is red."""
    taken = []
    for number in range(60):
        picture = np.full((180, 320, 3), 140, np.uint8)
        picture[:90, :160] = [(140, 140, 140), (255, 255, 255), (255, 0, 0)][(number >= 54) + (number >= 57)]
        path = tmp_path / f"LVL_{number}.png"
        Image.fromarray(picture).save(path)
        taken.append(Still(path=str(path), fingerprint=f"level-{number}", width=320, height=180))
    decisions = Decisions(fit=Fit(size=Size(width=320, height=180)), encode=Encode(format="h265", range="pq", crf=8))
    recipe = Recipe(stills=tuple(taken), decisions=decisions)
    verdict, path = finished_clip(recipe, tmp_path)
    assert verdict.differences == []
    return recipe, path, tmp_path


def test_the_file_says_what_is_measured_on_it(clip):
    recipe, path, folder = clip
    read = subprocess.run(
        ["ffprobe", "-v", "error", "-select_streams", "v", "-show_frames", "-of", "compact", path],
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    grey = colour.cctf_decoding(140 / 255, "sRGB") * WHITE_CD
    said = [
        dict(one.split("=") for one in line.split("|") if "=" in one)
        for line in read.splitlines()
        if "max_content" in line
    ]
    assert len(said) >= 2
    for one in said:
        assert int(one["max_content"]) == pytest.approx(WHITE_CD, rel=0.03)
        assert int(one["max_average"]) == pytest.approx(0.25 * WHITE_CD + 0.75 * grey, rel=0.03)
    proofs = [Proof.read(folder / part.proof_name) for part in chunks(ClipFrames(recipe), recipe.decisions.encode)]
    assert proofs[0].light.brightest == pytest.approx(grey, rel=0.05)
    assert times_if_proven(path, proofs) is not None


def test_a_raw_still_is_brighter_than_white_and_what_surrounds_it_is_not(tmp_path):
    """A sensor that is filled to the brim, and a white surround."""
    full = np.full((180, 320, 3), 255, np.uint8)
    write_dng(tmp_path / "bright.dng", full, "Pell One", BEGINS)
    still = Still(path=str(tmp_path / "bright.dng"), fingerprint="bright", width=320, height=180)
    white = Surround(colour="#ffffff")
    fit = Fit(size=Size(width=320, height=200), how="contain", surround=white)
    recipe = Recipe(stills=(still,) * 3, decisions=Decisions(fit=fit, encode=Encode(format="h265", range="pq", crf=6)))
    verdict, path = finished_clip(recipe, tmp_path / "work")
    assert verdict.differences == []
    with av.open(str(path)) as container:
        frame = next(container.decode(video=0))
    luma = np.frombuffer(memoryview(frame.planes[0]), np.uint16).reshape(200, -1)[:, :320]
    light = colour.models.eotf_ST2084((luma.astype(float) - 64) / 876, L_p=10_000)
    # Where the sensor is full lies two thirds of a stop above white, by which the base curve raises what it saw.
    assert float(np.median(light[20:180])) == pytest.approx(WHITE_CD * 2 ** (2 / 3), rel=0.03)
    assert float(np.median(light[:8])) == pytest.approx(WHITE_CD, rel=0.02)
    level = level_in(path.read_bytes())
    assert level is not None
    assert level.brightest == pytest.approx(WHITE_CD * 2 ** (2 / 3), rel=0.06)


def test_a_file_that_says_another_level_is_not_verified(clip):
    recipe, path, folder = clip
    frames, encode = ClipFrames(recipe), recipe.decisions.encode
    data = path.read_bytes()
    level = level_in(data)
    other = folder / "other.mp4"
    other.write_bytes(data.replace(level.written, LightLevel(4000, 900).written))
    said = verified(other, render_plan(frames, encode), chunks(frames, encode), folder).differences
    assert [one.what for one in said] == ["light level (brightest, mean)"]


def test_only_what_says_a_level_is_written_over(tmp_path):
    message = b"\x00\x09\x4e\x01\x90\x04" + NOT_KNOWN.written + b"\x80"
    file = tmp_path / "some.mp4"
    file.write_bytes(b"before" + message + bytes(1000) + NOT_KNOWN.written + message + b"after")
    write_level(file, LightLevel(203, 61))
    data = file.read_bytes()
    assert level_in(data) == LightLevel(203, 61)
    assert data.count(NOT_KNOWN.written) == 1
    assert without_level(data[6:100]) == (message + bytes(1000))[:94]
