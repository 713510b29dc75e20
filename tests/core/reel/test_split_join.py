"""A reel whose shots are split or joined goes on showing the stills it showed, in the same order."""

from hypothesis import given
from hypothesis import strategies as st

from tests.core.reel.reels import part, reel_of
from yarnkite.core.reel.decisions import Join
from yarnkite.core.reel.split_join import after_join, after_split, stretch_of

IDS = list(range(11, 23))


def shown(reel, stills_of):
    """Return the stills each picture shows, by its shot's stills in order, one part after another."""
    found = []
    for one in reel.parts:
        (picture,) = one.pictures
        own = stills_of[picture.shot]
        first, last = stretch_of(own, {still: at for at, still in enumerate(own)}, picture.begin, picture.end)
        found += own[first : last + 1]
    return found


@given(
    owners=st.lists(st.integers(1, 3), min_size=len(IDS), max_size=len(IDS)),
    ends=st.tuples(st.none() | st.sampled_from(IDS), st.none() | st.sampled_from(IDS)),
)
def test_a_split_scatters_a_part_over_its_pieces(owners, ends):
    begin, end = ends
    if begin and end and begin > end:
        begin, end = end, begin
    reel = reel_of(part(1, own={"begin": begin, "end": end}, join=Join(kind="dissolve", frames=9)), part(5))
    before = shown(reel, {1: IDS, 5: [99]})
    shot_of = {still: owner for still, owner in zip(IDS, owners, strict=True) if owner != 1}
    after = after_split(reel, 1, IDS, shot_of, {})
    stills_of = {number: [still for still in IDS if shot_of.get(still, 1) == number] for number in (1, 2, 3)} | {
        5: [99]
    }
    assert shown(after, stills_of) == before
    assert len({one.id for one in after.parts}) == len(after.parts)
    # What stood between the part and the next still does, and nothing stands within it.
    assert [one.join.kind for one in after.parts[:-2]] == ["cut"] * (len(after.parts) - 2)
    assert after.parts[-2].join.kind == "dissolve"


@given(first=st.integers(1, 11), ends=st.tuples(st.none() | st.sampled_from(IDS), st.none() | st.sampled_from(IDS)))
def test_a_split_and_a_join_of_both_halves_show_what_was_shown(first, ends):
    begin, end = sorted(ends) if None not in ends else ends
    reel = reel_of(part(1, own={"begin": begin, "end": end}))
    before = shown(reel, {1: IDS})
    own, others = IDS[:first], IDS[first:]
    apart = after_split(reel, 1, IDS, dict.fromkeys(others, 2), {})
    together = after_join(apart, 1, own, 2, others, {})
    assert {picture.shot for one in together.parts for picture in one.pictures} == {1}
    assert shown(together, {1: IDS}) == before


def test_versions_follow_by_their_stand_ins():
    reel = reel_of(part(1, own={"version": 7}), part(2, own={"version": 8}))
    apart = after_split(reel, 1, IDS, dict.fromkeys(IDS[6:], 3), {(3, 7): 70})
    assert [one.pictures[0].version for one in apart.parts] == [7, 70, 8]
    together = after_join(reel, 1, IDS[:4], 2, IDS[4:], {8: 80})
    assert [one.pictures[0].version for one in together.parts] == [7, 80]


def test_a_stretch_whose_ends_are_gone_or_not_in_the_clip_gives_way():
    order = {still: at for at, still in enumerate(IDS)}
    used = [still for still in IDS if still not in (13, 18)]
    assert stretch_of(used, order, 13, 18) == (2, 5)
    assert stretch_of(used, order, 999, 15) == (0, 3)
    assert stretch_of(used, order, 18, 13) == (2, 5)
    assert stretch_of([11, 12], order, 20, 22) == (0, 1)
