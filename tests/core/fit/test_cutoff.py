"""Cut-off: planted movement outside of the frame is found, and named with its stretch and edge."""

import numpy as np

from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.cutoff import activity, cutoffs, worst
from yarnkite.core.fit.decisions import Fit

STILLS, ROWS, COLUMNS = 120, 16, 24
UPRIGHT = Fit(size=Size(width=1080, height=1920))
FULL_HD = Size(width=1920, height=1080)


def quiet(seed: int = 1):
    """Light of a shot in which only the light changes, with the noise of a camera."""
    dusk = -np.linspace(0, 4, STILLS)
    return dusk[:, None, None] + np.random.default_rng(seed).normal(0, 0.02, (STILLS, ROWS, COLUMNS))


def crossing(blocks, column: int, first: int, last: int, row: int = 8):
    """Let something bright cross up and down a column."""
    for still in range(first, last + 1):
        place = row + (still - first) % 5
        blocks[still, place : place + 3, column : column + 2] += 1.5
    return blocks


def test_movement_beside_an_upright_frame_is_named():
    (found,) = cutoffs(crossing(quiet(), 1, 40, 70), (6000, 4000), UPRIGHT)
    assert abs(found.first - 40) <= 5
    assert abs(found.last - 70) <= 5
    assert found.edge == "left"
    assert found.share > 0.9
    said = worst([found], range(STILLS))
    assert said.startswith(f"From still {found.first + 1} to {found.last + 1}, ")
    assert said.endswith("most of it at the left.")


def test_the_edge_follows_mirroring_and_turning():
    blocks = crossing(quiet(), 1, 40, 70)
    (found,) = cutoffs(blocks, (6000, 4000), UPRIGHT.model_copy(update={"mirror": True}))
    assert found.edge == "right"
    (found,) = cutoffs(blocks, (6000, 4000), Fit(size=FULL_HD, quarters=1))
    assert found.edge == "top"


def test_movement_inside_the_frame_or_none_at_all_is_not_cut_off():
    assert cutoffs(crossing(quiet(), 12, 40, 70), (6000, 4000), UPRIGHT) == []
    assert cutoffs(quiet(), (6000, 4000), UPRIGHT) == []


def test_moving_the_frame_over_it_settles_it():
    blocks = crossing(quiet(), 1, 40, 70)
    assert cutoffs(blocks, (6000, 4000), UPRIGHT.model_copy(update={"x": 0.0})) == []


def test_a_still_shown_whole_cuts_nothing_off():
    blocks = crossing(quiet(), 1, 40, 70)
    assert cutoffs(blocks, (6000, 4000), Fit(size=FULL_HD, how="contain")) == []


def test_a_lamp_that_flickers_all_the_time_counts_little():
    blocks = quiet()
    blocks[:, 3:5, 0:2] += np.random.default_rng(2).normal(0, 0.6, (STILLS, 2, 2))
    assert cutoffs(blocks, (6000, 4000), UPRIGHT) == []


def test_glitter_in_a_few_blocks_is_too_little_to_warn_of():
    blocks = quiet()
    blocks[50:60, 14:16, 1] += np.random.default_rng(3).normal(0, 0.25, (10, 2))
    assert cutoffs(blocks, (6000, 4000), UPRIGHT) == []


def test_light_that_changes_everywhere_is_no_activity():
    blocks = quiet()
    blocks[60:] -= 1.0
    assert activity(blocks)[60].max() == 0


def test_each_edge_is_named_by_what_moves_beyond_it():
    rows, columns = {"top": 0, "bottom": 15}, {"left": 1, "right": 21}
    wide = Fit(size=Size(width=1920, height=540))
    for edge, row in rows.items():
        blocks = quiet()
        blocks[40:71, row, 4:18] += np.where(np.arange(31) % 2, 1.5, 0)[:, None]
        (found,) = cutoffs(blocks, (6000, 4000), wide)
        assert found.edge == edge
    for edge, column in columns.items():
        (found,) = cutoffs(crossing(quiet(), column, 40, 70), (6000, 4000), UPRIGHT)
        assert found.edge == edge


def test_what_moves_in_the_last_block_inside_is_in_the_frame_and_in_the_first_beyond_is_not():
    # Cut from 24 × 16 blocks, a frame of 12 × 16 in the middle ends at the sixth and the eighteenth column.
    half = Fit(size=Size(width=1440, height=1920))
    assert half.size.width / half.size.height == 12 / 16
    for inside, outside in ((6, 4), (16, 18)):
        assert cutoffs(crossing(quiet(), inside, 40, 70), (3840, 2560), half.model_copy(update={"zoom": 1.0})) == []
        (found,) = cutoffs(crossing(quiet(), outside, 40, 70), (3840, 2560), half)
        assert found.share > 0.95


def test_several_stretches_are_named_the_worst_first():
    blocks = crossing(crossing(quiet(), 1, 10, 25), 21, 60, 100)
    first, second = cutoffs(blocks, (6000, 4000), UPRIGHT)
    assert (first.edge, second.edge) == ("right", "left")
    positions = range(1000, 1120)
    said = worst([first, second], positions)
    assert said.startswith(f"From still {1001 + first.first:,} to {1001 + first.last:,}, ")
    assert said.endswith("most of it at the right. 1 other stretch is like it.")
    assert worst([first, second, second], positions).endswith("2 other stretches are like it.")
    assert worst([], positions) == ""


def test_a_shot_of_a_few_stills_warns_of_nothing():
    assert cutoffs(crossing(quiet(), 1, 0, 4)[:5], (6000, 4000), UPRIGHT) == []
