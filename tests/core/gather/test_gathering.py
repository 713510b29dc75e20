"""What is in a folder, and what is learned about each still."""

import os
import shutil
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.conftest import scene, write_jpeg
from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.base.still import Still
from yarnkite.core.gather.gathering import TAIL_WIDTH, gather_still
from yarnkite.core.gather.locations import Location, files_below, safe_relative
from yarnkite.core.gather.proxies import Proxies, proxy_reduction
from yarnkite.core.gather.sorting import sort_out


def test_a_mixed_folder_is_sorted_out_with_a_reason_for_each_file_left(tmp_path):
    kept = [
        "day 1/IMG_1.JPG",
        "day 1/it's “so”.jpg",
        "day 2/IMG_1.JPG",
        "Überfahrt.jpeg",
        "🪁.png",
        "no-ending",
        "x" * 250 + ".jpg",
    ]
    for name in kept:
        write_jpeg(tmp_path / name)
    for name in ("IMG_1.xmp", "IMG_1.dng", "film.MOV", "sound.wav", "Thumbs.db", "notes.txt", "._IMG_1.JPG"):
        (tmp_path / name).write_bytes(b"something else")
    found, left_out = sort_out(tmp_path, list(files_below(tmp_path, tmp_path)))
    assert sorted(file.name for file in found) == sorted(kept)
    reasons = {file.name: file.reason for file in left_out}
    assert "sidecar" in reasons["IMG_1.xmp"]
    assert "raw" in reasons["IMG_1.dng"]
    assert "video" in reasons["film.MOV"]
    assert "sound" in reasons["sound.wav"]
    assert "system" in reasons["Thumbs.db"]
    assert "hidden" in reasons["._IMG_1.JPG"]
    assert len(reasons) == 7
    assert all(f"“{Path(name).name}”" in reason for name, reason in reasons.items())


def test_a_link_that_leads_out_is_left_and_named(tmp_path):
    outside = write_jpeg(tmp_path / "private" / "a.jpg")
    card = tmp_path / "card"
    card.mkdir()
    (card / "link.jpg").symlink_to(outside)
    write_jpeg(card / "own.jpg")
    (card / "inner.jpg").symlink_to(card / "own.jpg")
    found, left_out = sort_out(card, list(files_below(card, card)))
    assert {file.name for file in found} == {"own.jpg", "inner.jpg"}
    assert [file.name for file in left_out] == ["link.jpg"]


def test_a_name_that_is_not_text_is_left_and_named(tmp_path):
    shutil.copy(write_jpeg(tmp_path / "a.jpg"), os.fsencode(tmp_path) + b"/\xff\xfe.jpg")
    found, left_out = sort_out(tmp_path, list(files_below(tmp_path, tmp_path)))
    assert [file.name for file in found] == ["a.jpg"]
    assert "not readable text" in left_out[0].reason


def test_one_reading_finds_the_rows_and_the_light(tmp_path):
    picture = np.zeros((400, 600, 3), np.uint8)
    picture[:200] = (180, 40, 40)
    Image.fromarray(picture).save(tmp_path / "half.png")
    gathered = gather_still(tmp_path, "half.png", Proxies(tmp_path / "proxies"))
    row = np.frombuffer(gathered.tail_row, np.uint8).reshape(TAIL_WIDTH, 3)
    assert (row[: TAIL_WIDTH // 2 - 1] == (180, 40, 40)).all()
    assert (row[TAIL_WIDTH // 2 + 1 :] == 0).all()
    # Relative luminance of sRGB (180, 40, 40), IEC 61966-2-1, over half of the picture.
    linear = {180: 0.456411, 40: 0.021219}
    expected = (0.2126 * linear[180] + (0.7152 + 0.0722) * linear[40]) / 2
    assert gathered.measures.mean == pytest.approx(expected, rel=0.02)
    assert gathered.size == (tmp_path / "half.png").stat().st_size


def test_the_fingerprint_is_of_the_bytes_not_of_the_name(tmp_path):
    proxies = Proxies(tmp_path / "proxies")
    write_jpeg(tmp_path / "a.jpg", 1)
    shutil.copy(tmp_path / "a.jpg", tmp_path / "b.jpg")
    write_jpeg(tmp_path / "c.jpg", 2)
    prints = [gather_still(tmp_path, name, proxies).fingerprint for name in ("a.jpg", "b.jpg", "c.jpg")]
    assert prints[0] == prints[1] != prints[2]


@pytest.mark.parametrize(
    ("size", "divisor"), [((480, 320), 1), ((2559, 1700), 1), ((2560, 1707), 2), ((6001, 4001), 4), ((12000, 9000), 8)]
)
def test_proxies_keep_at_least_1280_pixels(size, divisor):
    assert proxy_reduction(*size) == divisor


@pytest.mark.parametrize("kind", ["jpg", "png"])
def test_a_proxy_is_read_where_it_is_fine_enough_and_the_original_elsewhere(tmp_path, kind):
    path = tmp_path / f"large.{kind}"
    Image.fromarray(scene(2701, 1801)).save(path)
    proxies = Proxies(tmp_path / "proxies")
    gathered = gather_still(tmp_path, path.name, proxies)
    still = Still(path=str(path), fingerprint=gathered.fingerprint, width=2701, height=1801)
    whole = proxies.read(still, Fraction(3, 2))
    coarse = proxies.read(still, Fraction(2))
    assert (whole.reduction, coarse.reduction) == (1, 2)
    assert coarse.array.shape == (901, 1351, 3)
    path.unlink()
    assert proxies.read(still, Fraction(5)).reduction == 2
    expected = scene(2701, 1801)[:1800, :2700].reshape(900, 2, 1350, 2, 3).mean(axis=(1, 3))
    assert np.abs(coarse.array[:900, :1350] - expected).mean() < 2


@pytest.mark.parametrize("path", ["..", "../", "a/../../b", "/etc", "inside/../../..", "way-out", "way-out/x"])
def test_no_path_leads_out_of_a_place(tmp_path, path):
    for folder in ("place/inside", "place/a", "b"):
        (tmp_path / folder).mkdir(parents=True)
    (tmp_path / "place" / "way-out").symlink_to(tmp_path / "b")
    place = Location("card", tmp_path / "place")
    assert place.inside("inside") == tmp_path / "place" / "inside"
    with pytest.raises(Refusal) as refusal:
        place.inside(path)
    assert refusal.value.code in ("outside_location", "no_such_folder")
    with pytest.raises(NotFound, match="Choose another folder"):
        place.inside("nowhere")


@pytest.mark.parametrize(
    "name", ["", "/a.jpg", "../a.jpg", "a/../b.jpg", "a//b.jpg", "a\0.jpg", "x" * 256, "a\nb.jpg", "..\\..\\a.jpg"]
)
def test_names_that_lead_elsewhere_are_refused(name):
    with pytest.raises(Refusal, match="not a name"):
        safe_relative(name)
    assert str(safe_relative("day 1/Überfahrt 🪁.jpg")) == "day 1/Überfahrt 🪁.jpg"
