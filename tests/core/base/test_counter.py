"""Counters in names: which digits count, whatever else is in the names."""

from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.counter import digit_groups, numbering, parts


def test_a_name_has_a_folder_a_stem_and_an_ending():
    assert parts("a/b/MRW_1.jpg") == ("a/b", "MRW_1", "jpg")
    assert parts("MRW_1") == ("", "MRW_1", "")
    assert parts(".hidden") == ("", ".hidden", "")


@given(st.lists(st.integers(0, 9999), min_size=2, max_size=30, unique=True))
def test_four_digits_are_read_as_the_numbers_they_are(numbers):
    found = numbering([f"MRW_{number:04}.jpg" for number in sorted(numbers)])
    read = [value for value in found.counters if value is not None]
    assert len(read) == len(numbers)
    # Where the counter starts again, what is read goes on; the differences stay.
    first = sorted(numbers)[0]
    assert found.wraps or [value - read[0] for value in read] == [value - first for value in sorted(numbers)]


def test_names_of_another_pattern_have_no_counter_and_the_others_keep_theirs():
    found = numbering(["MRW_1.jpg", "holiday.jpg", "MRW_3.jpg", "MRW_5.jpg"])
    assert found.counters == (1, None, 3, 5)
    assert found.step == 2
    assert not found.complete


def test_a_group_that_is_the_same_in_all_does_not_count_and_one_can_be_chosen_by_hand():
    names = [f"2031-05-{day:02}_{number:03}.jpg" for day, number in ((4, 17), (5, 18), (6, 19))]
    assert numbering(names).counters == (17, 18, 19)
    assert numbering(names, 2).counters == (4, 5, 6)
    assert numbering(names, 9).counters == (None, None, None)
    assert numbering(["a.jpg", "b.jpg"]).counters == (None, None)
    assert numbering([]).counters == ()


def test_groups_of_digits_say_where_they_stand_and_how_many_values_they_take():
    found = digit_groups(["2031_001.jpg", "2031_002.jpg", "2031_003.jpg"])
    assert [(one.digits, one.values) for one in found] == [("2031", 1), ("001", 3)]
    assert (found[1].before, found[1].after) == ("2031_", "")
