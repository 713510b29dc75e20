"""The pattern that samples are cut by: each threshold once, over and over, whatever the width."""

import numpy as np
import pytest

from yarnkite.core.image.dither import DITHER, dithered, over_a_row


@pytest.mark.parametrize("width", [1, 15, 16, 17, 250, 1920])
def test_a_row_has_the_thresholds_of_its_places(width):
    thresholds = np.rint(DITHER * 1000).astype(np.int32)
    rows = over_a_row(thresholds, width)
    expected = [[thresholds[y, x % 16] for x in range(width)] for y in range(16)]
    assert np.array_equal(rows, expected)


def test_what_lies_between_two_steps_becomes_some_of_each_by_its_share():
    for quarter in range(5):
        code = 100 * 257 + quarter * 257 // 4
        cut = dithered(np.full((64, 64, 3), code, np.uint16))
        assert set(np.unique(cut)) <= {100, 101}
        assert abs((cut == 101).mean() - quarter / 4) < 0.01
