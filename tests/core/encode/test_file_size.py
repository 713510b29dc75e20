"""What a clip will take: of samples whose truth is known, and which stretches are sampled."""

import pytest

from tests.core.encode.test_chunk import recipe_of
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.file_size import (
    Sample,
    Weights,
    expected,
    frames_a_stretch,
    measure,
    offered,
    ordinary_core_s,
    weighed,
    weights_of,
    windows,
)
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.core.encode.render_plan import Chunk, chunks, task_of
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.decode import read_still
from yarnkite.core.render.frame_source import ClipFrames

H264, PRORES = FORMATS["h264"], FORMATS["prores-hq"]


def weights(number, first, *rest):
    return Weights(number, (first, *rest))


def test_all_of_a_short_clip_is_weighed_and_of_a_long_one_evenly_spread_chunks():
    short = [Chunk(number, 50 * number, 50 * number + 50, "") for number in range(80)]
    assert weighed(short) == short
    long = [Chunk(number, 50 * number, 50 * number + 50, "") for number in range(81)]
    assert [one.number for one in weighed(long)] == list(range(0, 81, 2))
    assert len(weighed(short * 100)) <= 80


def test_sampled_stretches_are_those_in_which_most_usually_changes_the_middle_first():
    # Of each sixth of the clip, the chunk of the middle change; what is known first says most.
    clip = [weights(number, 900, *[10 * (number % 3) + number // 3] * 9) for number in range(18)]
    found = windows(clip)
    assert len(found) == 6
    assert [one.weights.number % 3 for one in found] == [1] * 6
    assert all(one.offset == 0 for one in found)
    assert {one.weights.number // 3 for one in found[:2]} == {2, 3}
    assert {one.weights.number // 3 for one in found[4:]} == {0, 5}


@pytest.mark.parametrize(("frames", "offsets"), [(48, [0, 8, 16, 24, 32, 40]), (24, [0, 4, 8]), (7, [0])])
def test_a_clip_of_one_chunk_is_sampled_in_several_places_of_it(frames, offsets):
    found = windows([weights(0, 900, *[10] * (frames - 1))])
    assert sorted(one.offset for one in found) == offsets


@pytest.mark.parametrize(("side", "frames"), [(720, 17), (1080, 17), (2160, 5), (4096, 5)])
def test_of_large_frames_fewer_are_held_at_once(side, frames):
    assert frames_a_stretch(Size.model_construct(width=side * 16 // 9, height=side)) == frames


def sample(of, share, beside, frames=5):
    """Return a sample that takes a share of its quick weight, and so much a frame beside it."""
    first, rest = of.first, sum(of.each[1:frames])
    return Sample(of.number, 3 * share * first + 7, first, share * rest + beside * (frames - 1), rest, frames, 2.0, 3.0)


def test_what_is_a_share_of_a_quick_encode_is_expected_to_the_byte():
    clip = [weights(number, 400 + 31 * number, *range(20 + number, 69 + number)) for number in range(9)]
    samples = [sample(one, 4.0, 0.0) for one in clip[1::3]]
    found = expected(H264, samples, clip, 450)
    # The seven bytes beside the share of a first frame are taken for a share of the lightest one.
    truth = sum(12.0 * one.first + 4.0 * one.rest for one in clip)
    assert found.bytes == pytest.approx(truth, abs=9 * 7.5)
    assert found.core_s_a_frame == pytest.approx(1.0)


def test_noise_that_a_quick_encode_does_not_see_goes_over_from_one_stretch_to_the_next():
    clip = [weights(number, 100, *[20] * 49) for number in range(11)]
    samples = [
        Sample(number, 500, 100, 49 * (80 + noise), 49 * 20, 50, 0, 0) for number, noise in [(0, 0), (5, 50), (10, 0)]
    ]
    # It grows to the middle and falls again: of eleven chunks, 0 10 … 50 … 10 0 bytes a frame.
    noise = sum(10 * min(number, 10 - number) for number in range(11))
    assert expected(H264, samples, clip, 550).bytes == 11 * (500 + 49 * 80) + 49 * noise


def test_a_stretch_that_began_a_group_only_for_being_sampled_says_nothing_of_first_frames():
    clip = [weights(0, 100, *[20] * 49)]
    begun = Sample(0, 500, 100, 4 * 60, 4 * 20, 5, 0, 0)
    within = Sample(0, 0, 0, 4 * 60, 4 * 20, 5, 0, 0)
    assert expected(H264, [begun, within], clip, 50).bytes == 500 + 49 * 60
    assert expected(H264, [begun], clip, 100).bytes == 2 * (500 + 49 * 60)


def test_frames_that_are_all_coded_by_themselves_go_with_those_a_quick_encode_codes_so():
    clip = [weights(number, 100 * (1 + number), 5, 5, 5) for number in range(3)]
    samples = [Sample(one.number, 2 * 30 * one.first, 2 * one.first, 0, 0, 2, 0, 0) for one in clip[::2]]
    assert expected(PRORES, samples, clip, 12).bytes == 4 * 30 * (100 + 200 + 300)


def test_nothing_sampled_is_nothing_expected():
    assert expected(H264, [], [weights(0, 100, 20)], 2).bytes == 0


@pytest.mark.parametrize("name", ["h264", "prores-hq", "gif", "png"])
def test_a_stretch_is_encoded_as_the_clip_will_be(stills, name):
    recipe = recipe_of(stills(13))
    source = ClipFrames(recipe)
    (chunk,) = chunks(source, recipe.decisions.encode)
    task = task_of(source, recipe.decisions.encode, chunk)
    quick = weights_of(task, read_still)
    assert len(quick.each) == 13
    assert quick.first > max(quick.each[1:])
    whole, late = windows([quick])[0], windows([weights(0, *quick.each * 2)])[-1]
    assert whole.offset == 0
    wanted = [Encode(format=name, preset="ultrafast")]
    found = measure(task, whole, wanted, read_still)[name]
    format = FORMATS[name]
    assert found.frames == (3 if format.intra else min(13, format.sampled_frames))
    assert found.render_s > 0
    if format.intra:
        assert (found.first_weight, found.rest_bytes) == (3 * quick.first, 0)
        assert found.first_bytes > 0
    else:
        assert found.first_weight == quick.first
        assert found.rest_weight == sum(quick.each[1 : found.frames])
        assert found.first_bytes > found.rest_bytes / (found.frames - 1)
    assert late.offset > 0
    begun = measure(task, late, wanted, read_still)[name]
    if not format.intra:
        assert (begun.first_bytes, begun.first_weight) == (0, 0)
        assert begun.rest_weight == sum(late.weights.each[late.offset + 1 : late.offset + begun.frames])


def test_a_small_frame_is_read_and_drawn_sooner_and_the_slow_encoders_are_told_as_slow():
    small, large = Size(width=640, height=360), Size(width=1920, height=1080)
    for format in FORMATS.values():
        assert ordinary_core_s(format, small) < ordinary_core_s(format, large)
    assert ordinary_core_s(FORMATS["vp9"], large) > ordinary_core_s(H264, large)
    assert ordinary_core_s(H264, large) == pytest.approx(1 / H264.fps + 0.15)


def test_what_is_decided_is_offered_first_with_the_file_it_goes_into():
    found = offered(Encode(format="prores-hq", container="mxf", crf=21))
    assert found[0].format == "prores-hq"
    assert sorted(one.format for one in found) == sorted(FORMATS)
    assert found[0].container == "mxf"
    assert {one.container for one in found[1:]} == {None}
    assert {one.crf for one in found} == {21}


@pytest.mark.parametrize("size", [(640, 360), (1280, 720), (360, 640)])
def test_a_quick_encode_is_as_small_however_large_the_clip(stills, size):
    recipe = recipe_of(stills(3), fit=Fit(size=Size(width=size[0], height=size[1])))
    source = ClipFrames(recipe)
    (chunk,) = chunks(source, recipe.decisions.encode)
    quick = weights_of(task_of(source, recipe.decisions.encode, chunk), read_still)
    small = recipe_of(
        stills(3), fit=Fit(size=Size(width=size[0] * 320 // max(size), height=size[1] * 320 // max(size)))
    )
    (part,) = chunks(ClipFrames(small), small.decisions.encode)
    same = weights_of(task_of(ClipFrames(small), small.decisions.encode, part), read_still)
    assert quick.each == same.each
