from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.order import natural_order


@given(st.lists(st.integers(0, 10**7), unique=True), st.randoms(use_true_random=False))
def test_where_there_is_one_counter_order_is_the_counters(numbers, random):
    names = [f"Reach_{number}.JPG" for number in numbers]
    random.shuffle(names)
    ordered = [names[index] for index in natural_order(names)]
    assert ordered == [f"Reach_{number}.JPG" for number in sorted(numbers)]


@given(st.lists(st.text(max_size=12)))
def test_any_names_come_out_as_a_permutation_that_does_not_depend_on_how_they_came(names):
    order = natural_order(names)
    assert sorted(order) == list(range(len(names)))
    backwards = names[::-1]
    assert [names[i] for i in order] == [backwards[i] for i in natural_order(backwards)]


def test_letters_are_compared_without_case_and_folders_before_what_is_in_them():
    names = ["b/IMG_2.jpg", "a/img_10.JPG", "a/IMG_9.jpg", "a/Img_11.jpeg"]
    assert [names[i] for i in natural_order(names)] == ["a/IMG_9.jpg", "a/img_10.JPG", "a/Img_11.jpeg", "b/IMG_2.jpg"]
