"""Whose a piece of music is, read from files as other programs write them."""

import subprocess
from pathlib import Path

import pytest

from tests.sounds import tone, written
from yarnkite.core.sound.credit import CREDIT_LETTERS, credit_of


def tagged(folder: Path, ending: str, **tags: str) -> Path:
    plain, path = written(tone(0.2), folder / "plain.wav"), folder / f"tagged.{ending}"
    said = [word for name, text in tags.items() for word in ("-metadata", f"{name}={text}")]
    subprocess.run(["ffmpeg", "-v", "error", "-y", "-i", plain, *said, path], check=True)
    return path


@pytest.mark.parametrize("ending", ["flac", "mp3", "ogg", "m4a", "wav"])
def test_title_maker_and_terms_are_one_line_whatever_the_kind_of_file(tmp_path, ending):
    path = tagged(tmp_path, ending, title="Slow Tide", artist="A. Piper", copyright="CC BY 4.0")
    assert credit_of(path) == "“Slow Tide” by A. Piper, CC BY 4.0"


@pytest.mark.parametrize(
    ("tags", "credit"),
    [
        ({"artist": "A. Piper"}, "A. Piper"),
        ({"title": "Slow Tide", "composer": "B. Reed"}, "“Slow Tide” by B. Reed"),
        ({"title": "Slow Tide", "copyright": "free to use"}, "“Slow Tide”, free to use"),
        # A title alone says nothing of whose it is.
        ({"title": "Slow Tide"}, ""),
        ({"artist": "A.\tPiper \u0007\n and others"}, "A. Piper and others"),
        ({"artist": "x" * 2 * CREDIT_LETTERS}, "x" * CREDIT_LETTERS),
        ({}, ""),
    ],
)
def test_what_is_not_said_is_left_out(tmp_path, tags, credit):
    assert credit_of(tagged(tmp_path, "flac", **tags)) == credit


def test_what_is_no_sound_has_no_credit(tmp_path):
    (tmp_path / "notes.mp3").write_bytes(b"no sound at all" * 99)
    assert credit_of(tmp_path / "notes.mp3") == ""
    assert credit_of(tmp_path / "nowhere.mp3") == ""
