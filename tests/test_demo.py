"""The painted demo: the same every time, with the times a camera would have written."""

from datetime import timedelta

import numpy as np
import pytest
from PIL import Image

from yarnkite.core.header import read_header
from yarnkite.demo.paint import SHOTS, paint_still


@pytest.mark.parametrize("shot", SHOTS, ids=lambda shot: shot.title)
def test_a_still_is_the_same_whenever_it_is_painted_and_differs_from_the_next(tmp_path, shot):
    folders = [tmp_path / name for name in ("one", "two")]
    for folder in folders:
        folder.mkdir()
    first, again = (paint_still(folder, shot, 30) for folder in folders)
    later = paint_still(folders[0], shot, shot.stills - 1)
    assert first.read_bytes() == again.read_bytes()
    pictures = [np.asarray(Image.open(path), np.float32) for path in (first, later)]
    assert np.abs(pictures[0] - pictures[1]).mean() > 5


def test_times_and_names_are_a_cameras(tmp_path):
    reach, tray = SHOTS
    header = read_header(paint_still(tmp_path, reach, 5).read_bytes(), "a.jpg")
    assert (header.width, header.height) == (2400, 1600)
    assert header.captured is not None
    assert abs(header.captured.replace(tzinfo=None) - (reach.begins + timedelta(seconds=75 * 5))) < timedelta(
        seconds=0.1
    )
    names = [reach.name(index) for index in range(reach.stills)]
    assert names[60:62] == ["LNTN9941.JPG", "LNTN9944.JPG"]
    assert names[116:118] == ["LNTN9999.JPG", "LNTN0001.JPG"]
    assert len(set(names)) == 240
    assert (reach.stills, tray.stills) == (240, 120)
