"""The command that makes a clip without a browser: the same stills, order and proof as the page has."""

import os
import subprocess
import sys
from datetime import timedelta

import av
import numpy as np
import pytest
from PIL import Image

from tests.clips import chunks_of, rendered
from tests.commands import run
from tests.conftest import BEGINS, exif, write_jpeg
from tests.patience import wait_until
from yarnkite.core.encode.verify import probe
from yarnkite.services import clip as resolved


def plain(path, value, seconds):
    """A still of one grey, taken at a moment."""
    path.parent.mkdir(parents=True, exist_ok=True)
    picture = np.full((90, 160, 3), value, np.uint8)
    Image.fromarray(picture).save(path, "JPEG", quality=95, exif=exif(BEGINS + timedelta(seconds=seconds)))


def greys(path):
    with av.open(str(path)) as container:
        return [round(frame.to_ndarray(format="gray").mean()) for frame in container.decode(video=0)]


SIZE = ("--size", "160x90")


def test_a_clip_is_in_shooting_order_where_names_are_not_and_verified(tmp_path):
    # The counter began again in the middle.
    for number in range(10):
        plain(tmp_path / "card" / f"A_{(number + 9995) % 10000:04}.jpg", 30 + 20 * number, 4 * number)
    (tmp_path / "card" / "A_0001.xmp").write_text("<settings/>")
    ended = run("clip", tmp_path / "card", tmp_path / "clip.mp4", *SIZE)
    assert "clip.mp4: verified" in ended.stdout
    assert "A_0001.xmp" in ended.stderr
    found = greys(tmp_path / "clip.mp4")
    assert found == sorted(found)
    assert len(found) == 10
    by_name = run("clip", tmp_path / "card", tmp_path / "text.mp4", *SIZE, "--order", "text")
    assert "verified" in by_name.stdout
    assert greys(tmp_path / "text.mp4") != found
    assert sorted(path.name for path in tmp_path.iterdir()) == ["card", "clip.mp4", "text.mp4"]


def test_what_a_broken_off_clip_of_one_folder_left_is_not_used_for_another(tmp_path):
    for number in range(120):
        plain(tmp_path / "one" / f"A_{number:04}.jpg", 60, number)
        plain(tmp_path / "two" / f"A_{number:04}.jpg", 180, number)
    target = tmp_path / "clip.mp4"
    run("clip", tmp_path / "one", target, *SIZE)
    # The first folder's clip was broken off before it was joined: its chunks are there still.
    left = tmp_path / "clip.chunks"
    target.unlink()
    making_of_one(tmp_path / "one", left)
    names = {path.name for path in left.iterdir()}
    assert len(names) == 9
    ended = run("clip", tmp_path / "two", target, *SIZE)
    assert "verified" in ended.stdout
    assert np.abs(np.array(greys(target)) - 180).max() <= 2
    assert not left.exists()


def making_of_one(folder, chunks_folder):
    from yarnkite.core.base.frozen import Size
    from yarnkite.core.fit.decisions import Fit
    from yarnkite.core.render.decisions import Decisions
    from yarnkite.core.render.recipe import Recipe

    decisions = Decisions(fit=Fit(size=Size(width=160, height=90)))
    with resolved.computing() as workers:
        stills = resolved.stills_of(folder, decisions, workers).stills
    chunks_folder.mkdir()
    recipe = Recipe(stills=stills, decisions=decisions.for_recipe())
    for chunk in chunks_of(recipe):
        rendered(recipe, chunk, chunks_folder)


def test_a_broken_off_clip_goes_on_with_its_own_chunks(tmp_path):
    for number in range(120):
        plain(tmp_path / "one" / f"A_{number:04}.jpg", 60 + number, number)
    left = tmp_path / "clip.chunks"
    making_of_one(tmp_path / "one", left)
    (left / "my notes.txt").write_text("keep me")
    (left / f"{'0' * 32}.chunk").write_bytes(b"left over from long ago")
    (tmp_path / "one" / "A_0119.jpg").unlink()
    assert "verified" in run("clip", tmp_path / "one", tmp_path / "clip.mp4", *SIZE).stdout
    assert probe(tmp_path / "clip.mp4").frames == 119
    assert [path.name for path in left.iterdir()] == ["my notes.txt"]


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (("--size", "161x90"), "161 is odd"),
        (("--size", "9" * 5000 + "x90"), "is not a size"),
        (("--rate", "1e999999999"), "not a frame rate"),
        (("--rate", "500"), "cannot be used"),
        (("--hold", "0"), "greater than or equal to 1"),
    ],
)
def test_what_cannot_be_is_refused_in_words(tmp_path, arguments, says):
    write_jpeg(tmp_path / "card" / "a.jpg")
    ended = run("clip", tmp_path / "card", tmp_path / "clip.mp4", *arguments, ends=1)
    assert says in ended.stderr
    assert not (tmp_path / "clip.mp4").exists()


def test_a_folder_that_is_none_and_one_without_stills_are_named(tmp_path):
    (tmp_path / "empty").mkdir()
    for folder, says in ((tmp_path / "nowhere", "is not a folder"), (tmp_path / "empty", "no stills")):
        assert says in run("clip", folder, tmp_path / "clip.mp4", ends=1).stderr


def test_odd_files_are_named_and_the_rest_goes_on(tmp_path):
    for number in range(6):
        write_jpeg(tmp_path / "card" / f"A_{number}.jpg", number)
    (tmp_path / "card" / "A_2.jpg").write_bytes(b"\xff\xd8\xff and no more")
    os.mkfifo(tmp_path / "card" / "A_3b.jpg")
    ended = run("clip", tmp_path / "card", tmp_path / "clip.mp4", *SIZE)
    assert {"A_2.jpg", "A_3b.jpg"} <= {name for name in ("A_2.jpg", "A_3b.jpg") if name in ended.stderr}
    assert probe(tmp_path / "clip.mp4").frames == 5


def test_one_that_is_told_to_end_leaves_nothing_running_and_its_chunks(tmp_path):
    for number in range(240):
        plain(tmp_path / "one" / f"A_{number:04}.jpg", number, number)
    command = [sys.executable, "-m", "yarnkite", "clip", str(tmp_path / "one"), str(tmp_path / "clip.mp4")]
    command += ["--size", "640x360"]
    pieces = tmp_path / "clip.chunks"
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True) as process:
        wait_until(lambda: list(pieces.glob("*.chunk")) or process.poll() is not None)
        process.terminate()
        _, warned = process.communicate()
    assert process.returncode == 1
    assert "What was rendered is used" in warned
    assert "leaked" not in warned
    assert "Traceback" not in warned
    assert list(pieces.glob("*.chunk"))
    assert not (tmp_path / "clip.mp4").exists()
