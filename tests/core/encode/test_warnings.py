"""What does not go together is said before the work starts."""

from fractions import Fraction

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.levels import level_of
from yarnkite.core.encode.purposes import PURPOSES, QUALITIES, purpose_of
from yarnkite.core.encode.warnings import Companion, check_possible, disagreements

HD, UHD, CINEMA = Size(width=1920, height=1080), Size(width=3840, height=2160), Size(width=4096, height=2160)


def said(encode=Encode(), size=HD, rate=25, frames=250, expected=10_000_000, **more):
    return " ".join(disagreements(encode, size, Fraction(rate), frames, expected, **more))


def test_an_ordinary_clip_has_nothing_to_say():
    assert said() == ""


@pytest.mark.parametrize(
    ("words", "of"),
    [
        ("level 6.2", {"size": Size.model_construct(width=8192, height=4320), "rate": 120}),
        ("no rate an editor knows", {"rate": Fraction(27)}),
        ("screens that are called 4K", {"size": CINEMA}),
        ("FAT32", {"expected": 5_000_000_000}),
        ("hundredths of a second", {"encode": Encode(format="gif"), "rate": 24, "size": Size(width=640, height=360)}),
        ("much for a page", {"encode": Encode(format="webp")}),
        ("need a video of 10 bits", {"encode": Encode(range="hlg")}),
        ("no place for a timecode", {"encode": Encode(start="01:00:00:00")}),
        ("no place for a title", {"encode": Encode(format="dnxhr-hq", container="mxf", title="Pier")}),
        (
            "has no sound",
            {"encode": Encode(format="gif"), "rate": 25, "has_sound": True, "size": Size(width=64, height=64)},
        ),
        ("old devices decode up to 4.0", {"encode": PURPOSES[3].encode, "size": UHD}),
        (
            "Its shape is another",
            {"companions": [Companion("the reel “Pier”", Size(width=1080, height=1920), Fraction(25))]},
        ),
        ("Its size is another", {"companions": [Companion("the reel “Pier”", UHD, Fraction(25))]}),
        ("has 30 frames a second, this 25", {"companions": [Companion("the reel “Pier”", HD, Fraction(30))]}),
    ],
    ids=lambda one: one if isinstance(one, str) else "",
)
def test_each_disagreement_has_its_sentence(words, of):
    assert words in said(**of)


@pytest.mark.parametrize(
    ("side", "frames", "is_much"), [(640, 250, False), (640, 2500, True), (1920, 50, True), (64, 25, False)]
)
def test_a_loop_is_much_for_a_page_where_it_is_large_or_long(side, frames, is_much):
    found = said(encode=Encode(format="webp"), size=Size(width=side, height=side // 2), frames=frames)
    assert ("much for a page" in found) == is_much


@pytest.mark.parametrize(
    ("remedy", "encode", "size", "rate"),
    [
        ("Choose MOV", Encode(format="dnxhr-hq", container="mxf"), HD, 27),
        ("WebP or AVIF", Encode(format="gif"), HD, 60),
        ("Choose a larger size", Encode(format="dnxhr-hq"), Size(width=128, height=72), 25),
        ("Choose a smaller size", Encode(format="h265"), Size.model_construct(width=9000, height=4000), 25),
        ("with a colon", Encode(start="01:00:00;00", format="prores"), HD, 25),
        ("no timecode ends with 25", Encode(start="01:00:00:25", format="prores"), HD, 25),
        ("ends at 23 hours", Encode(start="24:00:00:00", format="prores"), HD, 25),
    ],
    ids=lambda one: one if isinstance(one, str) else "",
)
def test_what_cannot_be_is_refused_with_its_remedy(remedy, encode, size, rate):
    with pytest.raises(Refusal, match=remedy) as refused:
        check_possible(encode, size, Fraction(rate))
    assert refused.value.code == "format_cannot"


def test_levels_are_those_of_the_standard():
    """ITU-T H.264, table A-1: what each level is usually named by."""
    assert level_of(Size(width=1280, height=720), Fraction(30)) == "3.1"
    assert level_of(HD, Fraction(30)) == "4.0"
    assert level_of(HD, Fraction(60)) == "4.2"
    assert level_of(UHD, Fraction(30)) == "5.1"
    assert level_of(UHD, Fraction(60)) == "5.2"
    assert level_of(Size.model_construct(width=16384, height=16384), Fraction(120)) is None


def test_every_purpose_begins_as_itself_and_words_are_in_order():
    for purpose in PURPOSES:
        assert purpose_of(purpose.encode) is purpose
        for name in purpose.others:
            assert purpose_of(Encode(format=name)) is not None
    assert [one.crf for one in QUALITIES] == sorted(one.crf for one in QUALITIES)


def test_decisions_of_the_time_of_one_format_are_read_as_what_they_were():
    assert Encode.model_validate({"crf": 20, "preset": "fast", "depth": 10}).format == "h264-10"
    assert Encode.model_validate({"crf": 20, "preset": "fast", "depth": 8}).format == "h264"
    with pytest.raises(ValueError, match="no timecode"):
        Encode(start="1:2:3")
