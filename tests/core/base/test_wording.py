"""Numbers as people read them."""

import pytest

from yarnkite.core.base.frozen import digest
from yarnkite.core.base.wording import counted, frames_text, ordinal, percent, printable, size_range_text, size_text


def test_counts_of_frames_are_words_up_to_twelve():
    assert [frames_text(count) for count in (0, 1, 2, 9, 12, 13, 1234)] == [
        *("no frames", "one frame", "two frames", "nine frames"),
        *("twelve frames", "13 frames", "1,234 frames"),
    ]
    assert [counted(count, "still") for count in (0, 1, 2, 1240)] == ["0 stills", "1 still", "2 stills", "1,240 stills"]


def test_places_in_a_row():
    said = {1: "first", 2: "second", 3: "third", 4: "fourth", 5: "fifth", 8: "eighth", 9: "ninth", 10: "tenth"}
    said |= {11: "11th", 12: "12th", 13: "13th", 14: "14th", 19: "19th", 20: "20th", 21: "21st", 22: "22nd", 23: "23rd"}
    said |= {24: "24th", 30: "30th", 101: "101st", 110: "110th", 111: "111th", 112: "112th", 120: "120th", 121: "121st"}
    assert {number: ordinal(number) for number in said} == said


def test_shares_have_a_decimal_where_they_are_small():
    shares = {0.16: "16 %", 0.0096: "1 %", 0.0094: "0.9 %", 0.004: "0.4 %", 1.0: "100 %", 0.0: "0.0 %"}
    assert {share: percent(share) for share in shares} == shares


def test_sizes_of_files():
    sizes = {38_000_000: "38 MB", 1_200_000_000: "1.2 GB", 1_000_000_000: "1.0 GB", 999_400_000: "999 MB"}
    sizes |= {10_000_000: "10 MB", 9_960_000: "10.0 MB", 2_140_000: "2.1 MB", 30_000: "0.1 MB", 0: "0.1 MB"}
    assert {count: size_text(count) for count in sizes} == sizes


def test_between_which_sizes_one_lies():
    assert size_range_text(9_000_000, 36_000_000) == "9.0 to 36 MB"
    assert size_range_text(900_000_000, 3_600_000_000) == "900 MB to 3.6 GB"
    assert size_range_text(1_000, 20_000) == "0.1 MB"


def test_a_name_that_is_no_text_can_be_said():
    assert printable("ä.jpg") == "ä.jpg"
    assert printable("a\udcff.jpg") == "a?.jpg"


@pytest.mark.parametrize(
    ("one", "other"), [(("a", "bc"), ("ab", "c")), (("1", 2), ("12",)), (("",), ()), (("a", "b"), ("b", "a"))]
)
def test_parts_of_a_digest_are_set_apart(one, other):
    assert digest(*one) != digest(*other)
    assert digest(*one) == digest(*one)
    assert len(digest(*one)) == 32
