"""What a shot's frames weigh: of still, moving and noisy stills, and what follows for clips."""

from fractions import Fraction

import numpy as np
import pytest
from PIL import Image

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Aim, Encode
from yarnkite.core.encode.size_model import (
    ORDINARY,
    SizeModel,
    estimated_bytes,
    known_bytes,
    measured_size_model,
    said_size,
)
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions


@pytest.fixture
def taken(tmp_path):
    """Write stills of noise, of which ``sharing`` is the same in all of them."""

    def write(count, *, sharing, size=(320, 240), fine=1):
        rng = np.random.default_rng(4)
        kept = rng.normal(0, 40, (size[1] // fine, size[0] // fine, 3))
        found = []
        for number in range(count):
            noise = sharing * kept + (1 - sharing) * rng.normal(0, 40, kept.shape)
            pixels = np.clip(128 + noise.repeat(fine, 0).repeat(fine, 1), 0, 255).astype(np.uint8)
            path = tmp_path / f"s{number}-{sharing}-{fine}-{size[0]}.png"
            Image.fromarray(pixels).save(path)
            found.append(Still(path=str(path), fingerprint=path.stem, width=size[0], height=size[1]))
        return found

    return write


def decisions(size=(1920, 1080), rate=25, **encode):
    return Decisions(
        fit=Fit(size=Size(width=size[0], height=size[1])), pace=Pace(rate=Fraction(rate)), encode=Encode(**encode)
    )


def test_what_stands_still_weighs_nothing_after_its_first_frame_and_what_changes_as_much(taken):
    standing = measured_size_model(taken(4, sharing=1))
    changing = measured_size_model(taken(4, sharing=0))
    assert standing.change < 0.05 * standing.whole
    assert changing.change > 0.5 * changing.whole


def test_fine_noise_weighs_more_than_what_is_coarse_and_more_of_it_on_a_finer_grid(taken):
    fine, coarse = measured_size_model(taken(4, sharing=0)), measured_size_model(taken(4, sharing=0, fine=8))
    assert fine.whole > 2 * coarse.whole
    assert -1.2 <= coarse.slope < fine.slope <= 0.8


@pytest.mark.parametrize(("size", "width"), [((320, 240), 320), ((321, 240), 320), ((240, 320), 240)])
def test_small_stills_are_weighed_on_their_own_grid(taken, size, width):
    found = measured_size_model(taken(2, sharing=0.5, size=size))
    assert (found.width, found.own) == (width, max(size))


def test_of_many_stills_a_few_runs_all_along_are_weighed(taken):
    # The last third moves, the rest stands: of three runs of four, one.
    small = (96, 64)
    standing, moving = taken(30, sharing=1, size=small), taken(10, sharing=0, size=small)
    assert measured_size_model(standing).change < 0.1 * measured_size_model(moving).change
    mixed = measured_size_model([*standing, *moving]).change
    assert mixed == pytest.approx(measured_size_model(moving).change / 3, rel=0.4)


MODEL = SizeModel(own=6000, width=1920, whole=0.2, change=0.05, slope=-0.5)
PIXELS = 1920 * 1080


def test_each_chunk_begins_with_a_whole_frame_and_a_held_still_costs_next_to_nothing():
    one = estimated_bytes(decisions(crf=18), 1, 1, MODEL)
    assert one == pytest.approx(PIXELS * 0.2 * 1.4, rel=1e-6)
    all_change = estimated_bytes(decisions(crf=18), 100, 100, MODEL)
    assert all_change == pytest.approx(PIXELS * 1.4 * (2 * 0.2 + 98 * 0.05), rel=1e-6)
    held = estimated_bytes(decisions(crf=18), 100, 10, MODEL)
    assert held == pytest.approx(PIXELS * 1.4 * (2 * 0.2 + 0.05 * (8 + 0.03 * 90)), rel=1e-6)
    # At 50 a second twice as many frames are one chunk.
    assert estimated_bytes(decisions(crf=18, rate=50), 100, 100, MODEL) == pytest.approx(
        PIXELS * 1.4 * (0.2 + 99 * 0.05), rel=1e-6
    )


def test_six_steps_of_crf_are_half_and_a_finer_grid_weighs_by_its_slope():
    at = lambda size=(1920, 1080), **more: estimated_bytes(decisions(size, **more), 50, 50, MODEL)  # noqa: E731
    assert at(crf=24) == pytest.approx(at(crf=18) / 2, rel=1e-6)
    # Twice as fine: four times the pixels, each weighing 2 ** -0.5 as much.
    assert at((3840, 2160), crf=18) == pytest.approx(at(crf=18) * 4 * 2**-0.5, rel=1e-6)
    upright = at((1080, 1920), crf=18)
    assert upright == at(crf=18)


def test_beyond_their_own_grid_stills_weigh_little_more():
    small = SizeModel(own=1920, width=1920, whole=0.2, change=0.05, slope=-0.5)
    own = estimated_bytes(decisions(), 50, 50, small)
    enlarged = estimated_bytes(decisions((3840, 2160)), 50, 50, small)
    assert enlarged == pytest.approx(own * 4 * 2**-1.2, rel=1e-6)


def test_masters_take_so_many_bits_a_pixel_whatever_the_stills():
    master = decisions(format="prores-hq")
    assert estimated_bytes(master, 40, 3, MODEL) == estimated_bytes(master, 40, 40, ORDINARY)
    assert estimated_bytes(master, 80, 80) == pytest.approx(2 * estimated_bytes(master, 40, 40), rel=1e-6)


def test_what_is_measured_or_wanted_is_known_and_all_else_said_as_a_range():
    assert known_bytes(Encode(), Fraction(10), None) is None
    assert known_bytes(Encode(), Fraction(10), 12_345_678) == 12_345_678
    assert known_bytes(Encode(aim=Aim(by="size", megabytes=5)), Fraction(10), None) == 5_000_000
    assert said_size(20_000_000, is_sure=True, are_weighed=False) == "about 20 MB"
    assert said_size(20_000_000, is_sure=False, are_weighed=True) == "10 to 40 MB"
    assert said_size(20_000_000, is_sure=False, are_weighed=False) == "2.0 to 40 MB"
