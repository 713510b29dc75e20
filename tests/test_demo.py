"""The painted demo: the same every time, with the times a camera would have written."""

from datetime import timedelta

import numpy as np
import pytest

from yarnkite.core.image.decode import decode
from yarnkite.core.image.header import read_header
from yarnkite.core.image.scene import developed
from yarnkite.core.light.colour import mired_of
from yarnkite.demo.paint import SHOTS, paint_still

# The quickest to paint; the others in the long run.
OFTEN = ("Pellow Reach", "Merged Cards")


def seen(path):
    """The pixels of a still, as they are read."""
    data = path.read_bytes()
    header = read_header(data, path.name)
    return developed(decode(data, header, path.name)).array.astype(np.float32) / (257 if header.kind == "RAW" else 1)


@pytest.mark.parametrize(
    "shot",
    [pytest.param(shot, marks=() if shot.title in OFTEN else pytest.mark.long, id=shot.title) for shot in SHOTS],
)
def test_a_still_is_the_same_whenever_it_is_painted_and_differs_from_the_next(tmp_path, shot):
    folders = [tmp_path / name for name in ("one", "two")]
    for folder in folders:
        folder.mkdir()
    first, again = (paint_still(folder, shot, 30) for folder in folders)
    later = paint_still(folders[0], shot, shot.stills - 1)
    assert first.read_bytes() == again.read_bytes()
    pictures = [seen(path) for path in (first, later)]
    assert np.abs(pictures[0] - pictures[1]).mean() > 5


def test_times_and_names_are_a_cameras(tmp_path):
    reach, tray, merged, *_ = SHOTS
    header = read_header(paint_still(tmp_path, reach, 5).read_bytes(), "a.jpg")
    assert (header.width, header.height) == (2400, 1600)
    assert header.captured is not None
    assert abs(header.captured.replace(tzinfo=None) - (reach.begins + timedelta(seconds=75 * 5))) < timedelta(
        seconds=0.1
    )
    names = [reach.name(index) for index in range(reach.stills)]
    assert names[60:62] == ["LNTN9941.JPG", "LNTN9944.JPG"]
    assert names[116:118] == ["LNTN9999.JPG", "LNTN0001.JPG"]
    assert len(set(names)) == 256
    assert (reach.stills, merged.stills, tray.stills) == (256, 72, 120)
    assert reach.captured(240) - reach.captured(239) > timedelta(minutes=50)


def test_two_cards_are_shuffled_and_the_clock_goes_back_once(tmp_path):
    merged = SHOTS[2]
    names = [merged.name(index) for index in range(72)]
    assert len(set(names)) == 72
    assert (names[13], names[14], names[34], names[35]) == (
        *("LNTN0425.JPG", "LNTN0087.JPG", "LNTN0107.JPG", "LNTN0426.JPG"),
    )
    before, after = (read_header(paint_still(tmp_path, merged, n).read_bytes(), "a.jpg").captured for n in (39, 40))
    assert after.replace(tzinfo=None) < before.replace(tzinfo=None)
    assert timedelta(seconds=59) < after - before < timedelta(seconds=61)


def test_what_lies_beside_a_still_is_written_with_it(tmp_path):
    reach = SHOTS[0]
    for index in (24, 31):
        paint_still(tmp_path, reach, index)
    assert {path.name for path in tmp_path.iterdir()} == {
        *("LNTN9905.JPG", "LNTN9905.DNG", "LNTN9905.XMP", "LNTN9912.JPG", "LNTN9912.XMP", "LNTN9912-edit.JPG"),
    }
    headers = {path.name: read_header(path.read_bytes(), path.name) for path in tmp_path.glob("*.[JD]*")}
    assert headers["LNTN9905.DNG"].kind == "RAW"
    assert headers["LNTN9912-edit.JPG"].captured == headers["LNTN9912.JPG"].captured
    assert headers["LNTN9912-edit.JPG"].software != headers["LNTN9912.JPG"].software


def test_the_raw_shot_says_the_light_it_was_taken_in(tmp_path):
    slack = SHOTS[3]
    path = paint_still(tmp_path, slack, 20)
    header = read_header(path.read_bytes(), path.name)
    assert (header.kind, header.width, header.height) == ("RAW", 1600, 1066)
    assert header.white is not None
    mired, _ = mired_of(np.array(header.white))
    assert 200 < mired < 300, "a low sun, about 4,500 K"
