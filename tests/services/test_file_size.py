"""What a clip is expected to take: from what was measured of it, at the quality that is wanted."""

import pytest

from tests.core.encode.test_chunk import recipe_of
from yarnkite.core.encode.decisions import Aim, Encode
from yarnkite.core.encode.file_size import Expected
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.services import file_size
from yarnkite.store import clips
from yarnkite.store import file_size as stored
from yarnkite.store.file_size import MeasuredSizes

KNOWN = MeasuredSizes(
    crf=18,
    wanted=6,
    formats={"h264": Expected(1_000_000, 0.2), "prores-hq": Expected(9_000_000, 0.1)},
    counts={"h264": 6, "prores-hq": 4},
)


def expected(services, frames, encode, known=KNOWN, **more):
    return file_size.expectation(services, known, encode, frames, lambda encode: 123_456, **more)


@pytest.fixture
def frames(stills):
    return ClipFrames(recipe_of(stills(25)))


def test_what_was_measured_is_expected_and_at_another_quality_half_for_six_steps(services, frames):
    usual, _ = clips.usual_error(services.database, "h264")
    at = expected(services, frames, Encode(crf=18))
    assert at.bytes == round(1_000_000 * usual)
    assert at.raw == KNOWN.formats["h264"]
    finer = expected(services, frames, Encode(crf=12))
    assert finer.bytes == pytest.approx(2 * at.bytes, rel=1e-4)
    # What was measured at another quality is no measure of what a correction rests on.
    assert finer.raw is None


def test_a_master_has_no_quality_to_be_scaled_by(services, frames):
    usual, _ = clips.usual_error(services.database, "prores-hq")
    for crf in (12, 18, 24):
        found = expected(services, frames, Encode(format="prores-hq", crf=crf))
        assert found.bytes == round(9_000_000 * usual)
        assert found.raw == KNOWN.formats["prores-hq"]


def test_a_size_that_is_wanted_is_what_is_expected_and_a_part_is_its_share(services, frames):
    wanted = Encode(aim=Aim(by="size", megabytes=7))
    whole, half = expected(services, frames, wanted), expected(services, frames, wanted, share=0.5)
    assert (whole.bytes, half.bytes, whole.raw) == (7_000_000, 3_500_000, None)
    assert half.seconds == pytest.approx(whole.seconds / 2)
    assert file_size.expected_bytes(services, recipe_of(()), wanted, 1.0) == 7_000_000


def test_until_it_is_measured_a_guess_stands_in(services, frames):
    usual, slower = clips.usual_error(services.database, "h264")
    found = expected(services, frames, Encode(), known=None)
    assert (found.bytes, found.raw) == (round(123_456 * usual), None)
    assert found.seconds > 0
    assert slower > 0


def test_frames_are_named_by_what_they_show_whatever_they_are_encoded_as(stills):
    taken = stills(3)
    one = recipe_of(taken)
    master = recipe_of(taken, encode=Encode(format="prores-hq"))
    assert file_size.frames_digest(one) == file_size.frames_digest(master)
    assert file_size.frames_digest(one) != file_size.frames_digest(recipe_of(taken[:2]))
    assert file_size.quality_digest(Encode(crf=18)) == file_size.quality_digest(Encode(crf=18, format="av1"))
    assert file_size.quality_digest(Encode(crf=18)) != file_size.quality_digest(Encode(crf=19))


def test_what_was_measured_of_frames_is_found_again_at_its_quality_or_another(services, stills):
    recipe = recipe_of(stills(4))
    encode = Encode(crf=18)
    assert file_size.measured(services, recipe, encode) is None
    stored.keep(services.database, file_size.frames_digest(recipe), file_size.quality_digest(encode), KNOWN)
    found = file_size.measured(services, recipe, encode)
    assert (found.formats, found.has("h264"), found.has("prores-hq")) == (KNOWN.formats, True, False)
    # Of another quality it is a guess, and still to be measured.
    other = file_size.measured(services, recipe, Encode(crf=30))
    assert (other.formats, other.has("h264")) == (KNOWN.formats, False)
