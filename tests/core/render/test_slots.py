"""Which pictures a clip is made of once stills are set aside, bridged, held or put in."""

from fractions import Fraction

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from skimage.metrics import structural_similarity

from tests.eight_bits import fitted
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.check.compare import difference, spot, with_clipping
from yarnkite.core.check.decisions import Check, Fill
from yarnkite.core.check.finding import Finding
from yarnkite.core.check.remedy import is_settled, remedied, restored
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.render.bridge import bridged
from yarnkite.core.render.recipe import Bridge
from yarnkite.core.render.slots import slots_of

COUNT = 12
STILLS = [
    (n, Still(path=f"/card/{n}.jpg", fingerprint=f"{n:032x}", width=600, height=400)) for n in range(1, COUNT + 1)
]
BY_ID = dict(STILLS)
ids = st.lists(st.integers(1, COUNT), max_size=8, unique=True).map(tuple)
checks = st.builds(
    Check,
    aside=ids,
    bridged=ids,
    repeated=ids,
    filled=st.lists(st.builds(Fill, after=st.integers(1, COUNT), count=st.integers(1, 4)), max_size=3).map(tuple),
    begin=st.none() | st.integers(1, COUNT),
    end=st.none() | st.integers(1, COUNT),
)


@given(checks)
def test_every_place_shows_sound_stills_in_order(check):
    places = slots_of(STILLS, check)
    spoiled = {*check.aside, *check.bridged, *check.repeated}
    order = [one.still for one in places]
    assert order == sorted(order)
    for one in places:
        assert one.still not in check.aside
        if isinstance(one.picture, Bridge):
            before, after = (int(still.fingerprint, 16) for still in (one.picture.before, one.picture.after))
            assert before < after
            assert before <= one.still < after
            if not {before, after} & spoiled:
                assert 0 < one.picture.share < 1
    if check.begin is None and check.end is None:
        assert {n for n in BY_ID if n not in check.aside} == set(order)


def test_nothing_decided_uses_all_as_they_are():
    assert [one.picture for one in slots_of(STILLS, Check())] == [still for _, still in STILLS]


def test_a_bridge_lies_between_its_neighbours_by_its_place():
    places = slots_of(STILLS, Check(bridged=(4, 5), aside=(6,)))
    first, second = (one.picture for one in places if one.still in (4, 5))
    assert isinstance(first, Bridge)
    assert isinstance(second, Bridge)
    assert (first.before, first.after, first.share) == (BY_ID[3], BY_ID[7], Fraction(1, 3))
    assert second.share == Fraction(2, 3)


def test_an_end_has_one_sound_side_only():
    places = slots_of(STILLS, Check(bridged=(1, 12), repeated=(2,)))
    assert places[0].picture == places[1].picture == BY_ID[3]
    assert places[-1].picture == BY_ID[11]


def test_missing_ones_are_put_in_evenly():
    places = slots_of(STILLS, Check(filled=(Fill(after=3, count=3),)))
    assert len(places) == COUNT + 3
    shares = [one.picture.share for one in places if isinstance(one.picture, Bridge)]
    assert shares == [Fraction(1, 4), Fraction(1, 2), Fraction(3, 4)]
    assert len(slots_of(STILLS, Check(filled=(Fill(after=COUNT, count=3),)))) == COUNT


def test_a_stretch_that_is_turned_round_is_not_used():
    assert [one.still for one in slots_of(STILLS, Check(begin=4, end=9))] == list(range(4, 10))
    assert len(slots_of(STILLS, Check(begin=9, end=4))) == COUNT


findings = st.builds(
    lambda kind, first, length: Finding(
        kind, tuple(range(first, min(COUNT, first + length) + 1)), "", {"missing": 2}, ()
    ),
    st.sampled_from(["misfire", "soft", "missing", "extra"]),
    st.integers(1, COUNT - 1),
    st.integers(0, 2),
)


@given(checks, findings, st.sampled_from(["set aside", "bridge", "repeat", "dismiss"]))
def test_a_remedy_settles_a_finding_and_can_be_taken_back(check, finding, remedy):
    done = remedied(check, [finding], remedy)
    if finding.kind != "missing" or remedy == "dismiss":
        assert is_settled(done, finding)
    treated = [set(done.aside), set(done.bridged), set(done.repeated)]
    if remedy != "dismiss":
        assert sum(set(finding.stills) <= one for one in treated) == 1
        assert all(not one & other for one in treated for other in treated if one is not other) or check != Check()
    back = restored(done, [finding])
    assert not is_settled(back, finding)
    others = set(BY_ID) - set(finding.stills)
    assert set(back.aside) & others == set(check.aside) & others


@given(checks, findings, st.sampled_from(["set aside", "bridge", "repeat"]))
def test_the_same_remedy_twice_is_once(check, finding, remedy):
    once = remedied(check, [finding], remedy)
    assert remedied(once, [finding], remedy) == once


def test_a_gap_is_filled_by_as_many_as_are_missing():
    gap = Finding("missing", (3, 4), "", {"missing": 2.0}, ("fill", "dismiss"))
    done = remedied(Check(), [gap], "fill")
    assert done.filled == (Fill(after=3, count=2),)
    assert is_settled(done, gap)
    assert restored(done, [gap]) == Check()


def square(left: float, top: float = 60) -> np.ndarray:
    """A bright square on a dim pattern, drawn to a fraction of a pixel."""
    rows, columns = np.indices((160, 240))
    picture = 60 + 20 * np.sin(columns / 9.0) * np.cos(rows / 7.0)
    across = np.clip(np.minimum(columns + 1, left + 40) - np.maximum(columns, left), 0, 1)
    down = np.clip(np.minimum(rows + 1, top + 40) - np.maximum(rows, top), 0, 1)
    picture = picture + across * down * (130 + 30 * np.sin((columns - left) / 2))
    return np.repeat(np.rint(picture)[..., None], 3, axis=2).clip(0, 255).astype(np.uint8)


def test_a_blend_is_the_weighted_mean():
    mixed = bridged(square(80), square(100), 0.25, "blend")
    assert np.abs(mixed.astype(int) - as_light_adds_up(square(80), square(100), 0.25)).max() <= 1
    # Black and white in equal parts are 188 in sRGB, not 128 (IEC 61966-2-1).
    black, white = np.zeros((16, 16, 3), np.uint8), np.full((16, 16, 3), 255, np.uint8)
    assert (bridged(black, white, 0.5, "blend") == 188).all()


def as_light_adds_up(before, after, share):
    """The weighted mean of light, by the formulas of IEC 61966-2-1 in double precision."""
    one, other = (
        np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4)
        for code in (np.asarray(before, float) / 255, np.asarray(after, float) / 255)
    )
    light = one * (1 - share) + other * share
    return np.rint(np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055) * 255)


def test_motion_puts_what_moves_where_it_would_be():
    truth = square(88)
    like = {
        how: structural_similarity(bridged(square(80), square(96), 0.5, how), truth, channel_axis=2)
        for how in ("blend", "motion")
    }
    assert like["motion"] > like["blend"] + 0.02
    assert like["motion"] > 0.9


def reader(images):
    return lambda still, reduction: Pixels(images[still.fingerprint], 1)


def test_the_picture_of_a_bridge_is_made_of_fitted_stills():
    one, other = (Still(path=name, fingerprint=name, width=240, height=160) for name in "ab")
    read = reader({"a": square(80), "b": square(100)})
    fit, size = Fit(size=Size(width=120, height=80)), Size(width=120, height=80)
    bridge = Bridge(before=one, after=other, share=Fraction(1, 2))
    made = fitted(bridge, fit, size, read=read)
    sides = [fitted(still, fit, size, read=read).astype(float) for still in (one, other)]
    assert np.abs(made - as_light_adds_up(*sides, 0.5)).max() <= 1


def test_real_pixels_are_those_of_the_file():
    image = np.random.default_rng(1).integers(0, 255, (400, 600, 3), np.uint8)
    still = Still(path="x", fingerprint="pixels", width=600, height=400)
    read = reader({"pixels": image})
    assert (spot(still, 0.5, 0.5, 100, 80, read=read) == image[160:240, 250:350]).all()
    assert (spot(still, 0, 1, 100, 80, read=read) == image[320:, :100]).all()
    wide = spot(still, 0.5, 0.5, 700, 80, read=read)
    assert wide.shape == (80, 700, 3)


def test_a_difference_shows_which_way_and_nothing_where_nothing_changed():
    before, after = square(80), square(80)
    after[:20] += 10
    shown = difference(after, before)
    assert (shown[:20] == 168).all()
    assert (shown[20:] == 128).all()


def test_clipping_is_marked_by_pattern_and_only_there():
    image = np.full((64, 64, 3), 100, np.uint8)
    image[:16] = 255
    image[-16:] = 0
    marked = with_clipping(image)
    assert (marked[16:-16] == 100).all()
    assert 0.15 < (marked[:16] != 255).any(axis=2).mean() < 0.4
    assert 0.03 < (marked[-16:] != 0).any(axis=2).mean() < 0.15
    assert (image[:16] == 255).all()
