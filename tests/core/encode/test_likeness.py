"""How alike two frames are, in numbers that a hand can work out, and what their reduced copies hold."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from yarnkite.core.encode.likeness import (
    Copies,
    coarser,
    parts_of,
    reduced,
    sheet,
    sheet_of_picture,
    shift,
    similarity,
    similarity_map,
    tile_means,
)

C1, C2 = (0.01 * 255) ** 2, (0.03 * 255) ** 2
GRAIN = np.random.default_rng(3).integers(40, 215, (60, 120)).astype(np.uint8)


@pytest.mark.parametrize(("one", "other"), [(100, 100), (100, 120), (10, 240), (0, 255)])
def test_flat_frames_are_alike_by_their_light_alone(one, other):
    pictures = [np.full((30, 40), code, np.uint8) for code in (one, other)]
    assert similarity(*pictures) == pytest.approx((2 * one * other + C1) / (one**2 + other**2 + C1), abs=1e-5)


def test_what_is_turned_upside_down_in_light_is_as_unlike_as_can_be():
    board = np.where(np.indices((40, 60)).sum(axis=0) % 2, 148, 108).astype(np.uint8)
    inside = similarity_map(board, (256 - board.astype(int)).astype(np.uint8))[8:-8, 8:-8]
    # Windows of 8 × 8 hold as much of either: the same mean, a variance of 20², and a covariance of −20².
    assert inside == pytest.approx((C2 - 800) / (C2 + 800), abs=1e-4)
    assert similarity_map(board, board)[8:-8, 8:-8] == pytest.approx(1.0, abs=1e-5)


@given(some.integers(1, 2_000), some.integers(2, 40), some.sampled_from([8, 10, 16]), some.integers(0, 99))
def test_a_copy_has_the_means_of_squares(width, height, depth, seed):
    luma = np.random.default_rng(seed).integers(0, 1 << depth, (height, width)).astype(np.uint16)
    found = reduced(luma, depth)
    step = max(1, width // 240)
    assert found.shape == (max(1, height // step), max(1, width // step))
    assert width < 480 or 240 <= found.shape[1] < 480
    rows = min(step, height)
    expected = luma[: found.shape[0] * rows, : found.shape[1] * rows].astype(float)
    if rows == step:
        means = expected.reshape(found.shape[0], step, found.shape[1], step).mean(axis=(1, 3))
        assert np.abs(found - np.minimum(means / (1 << (depth - 8)), 255)).max() <= 1


def test_colours_lie_below_brightness_and_come_back():
    planes = [np.full((90, 160), 70, np.uint8), np.full((45, 80), 150, np.uint8), np.full((45, 80), 99, np.uint8)]
    assert [float(part.mean()) for part in parts_of(sheet(planes, 8))] == [70, 150, 99]
    deep = [plane.astype(np.uint16) * 4 + 1 for plane in planes]
    assert [float(part.mean()) for part in parts_of(sheet(deep, 10))] == [70, 150, 99]


@pytest.mark.parametrize(
    ("colour", "expected"),
    [
        # BT.709: luma by 0.2126, 0.7152, 0.0722, differences over 1.8556 and 1.5748.
        ((255, 0, 0), (54, 99, 255)),
        ((0, 255, 0), (182, 30, 12)),
        ((0, 0, 255), (18, 255, 116)),
        ((90, 90, 90), (90, 128, 128)),
    ],
)
def test_the_copy_of_a_picture_is_what_a_video_of_full_range_holds(colour, expected):
    found = parts_of(sheet_of_picture(np.full((60, 100, 3), colour, np.uint8)))
    assert [float(part.mean()) for part in found] == pytest.approx(expected, abs=1)


@pytest.mark.parametrize(("across", "down"), [(0.3, 0.0), (0.0, 0.45), (0.2, 0.1)])
def test_a_copy_that_lies_beside_another_says_by_how_much(across, down):
    y, x = np.mgrid[:80, :120].astype(float)

    def at(dx, dy):
        return np.rint(128 + 50 * np.sin((x + dx) / 7) + 50 * np.cos((y + dy) / 9)).astype(np.uint8)

    assert shift(at(0, 0), at(across, down)) == pytest.approx((across, down), abs=0.03)
    assert shift(np.full((20, 30), 90, np.uint8), np.full((20, 30), 130, np.uint8)) == (0, 0)


@pytest.mark.parametrize(
    ("width", "shape"), [(120, (7, 15)), (479, (7, 15)), (480, (15, 30)), (960, (30, 60)), (1920, None)]
)
def test_copies_of_small_frames_are_judged_as_those_of_large_ones(width, shape):
    found = coarser(GRAIN, width)
    assert found.shape == (shape or GRAIN.shape)
    assert (found is GRAIN) == (shape is None)


def test_means_are_of_sixteen_parts():
    quarters = np.kron(np.arange(16, dtype=np.uint8).reshape(4, 4), np.ones((5, 7), np.uint8))
    assert tile_means(quarters) == list(range(16))


def test_copies_are_kept_under_their_own_name(tmp_path):
    kept = Copies(np.stack([GRAIN, GRAIN[::-1]]))
    kept.write(tmp_path / "one.copies")
    assert np.array_equal(Copies.read(tmp_path / "one.copies").frames, kept.frames)
    (tmp_path / "two.copies").write_bytes((tmp_path / "one.copies").read_bytes())
    with pytest.raises(ValueError, match="another chunk"):
        Copies.read(tmp_path / "two.copies")
    (tmp_path / "one.copies").write_bytes((tmp_path / "one.copies").read_bytes()[:-5])
    with pytest.raises(ValueError):  # noqa: PT011
        Copies.read(tmp_path / "one.copies")
