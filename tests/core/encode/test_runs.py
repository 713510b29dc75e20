"""Runs: every chunk once and in order, and a machine used as its cores and its memory allow."""

import pytest
from hypothesis import given
from hypothesis import strategies as some

from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.render_plan import Chunk
from yarnkite.core.encode.runs import Share, memory_bytes, runs, share_of

HD, UHD = Size(width=1920, height=1080), Size(width=3840, height=2160)
PLENTY = 64 << 30


@given(count=some.integers(0, 300), at_once=some.integers(1, 12))
def test_every_chunk_is_in_one_run_in_order(count, at_once):
    chunks = [Chunk(number, number * 50, 50, f"{number}") for number in range(count)]
    cut = runs(chunks, at_once)
    assert [chunk for run in cut for chunk in run] == chunks
    assert all(1 <= len(run) <= 8 for run in cut)
    # No run is so long that the others wait for it at the end.
    if at_once > 1 and count:
        assert max(map(len, cut)) <= max(1, count / (4 * at_once))


@pytest.mark.parametrize(("cores", "at_once"), [(1, 1), (2, 1), (4, 2), (8, 3), (16, 6)])
def test_cores_are_shared_between_encoders_and_pictures(cores, at_once):
    share = share_of(cores, PLENTY, HD)
    assert share.at_once == at_once
    assert share.at_once * (share.threads + 4) >= cores


def test_little_memory_or_a_large_frame_lets_fewer_go_at_once():
    assert share_of(16, 1_500_000_000, HD).at_once == 3
    assert share_of(16, 1_500_000_000, UHD).at_once == 1
    assert share_of(16, 0, UHD) == Share(1, 4)


@given(
    cores=some.integers(1, 64),
    free=some.integers(0, PLENTY),
    width=some.integers(16, 4095).map(lambda half: 2 * half),
    beside=some.integers(0, 8),
)
def test_what_goes_at_once_has_room_and_needs_more_for_what_is_larger(cores, free, width, beside):
    size = Size(width=width, height=1080)
    share = share_of(cores, free, size, beside)
    assert share.at_once == 1 or memory_bytes(share, size, beside) <= free
    alone = Share(1, 1)
    of_one = memory_bytes(alone, size, beside)
    assert memory_bytes(share, size, beside) == share.at_once * of_one
    assert memory_bytes(alone, Size(width=width + 2, height=1080), beside) > of_one > 100 * width * 1080
    assert memory_bytes(alone, size, beside + 1) > of_one


def test_a_full_frame_takes_as_much_memory_as_was_measured():
    """700 MB in all at most, of which the program itself takes some."""
    assert 400_000_000 < memory_bytes(Share(1, 4), HD) < 600_000_000
