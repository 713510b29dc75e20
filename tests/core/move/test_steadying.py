"""Stills laid against each other: a knock undone, a walk that glides, a point that stays, in part and level."""

import numpy as np
import pytest

from tests.moved import HALF, HEIGHT, MARK, WIDTH, knocked, place_of_mark, shaken, walked
from yarnkite.core.base.homography import exponential, logarithm, mapped
from yarnkite.core.move.decisions import AnchoredPoint, Place, PlaceAt, Steady
from yarnkite.core.move.glide import jerk
from yarnkite.core.move.path import PLACES, Path
from yarnkite.core.move.steadying import steadying

ASPECT = WIDTH / HEIGHT
POINT = (AnchoredPoint(places=(PlaceAt(still=1, x=0.5, y=0.5),)),)


def path_by(cameras):
    numbers = logarithm(np.linalg.inv(cameras[0]) @ cameras)
    return Path(numbers, 0.0, np.ones(len(cameras), bool))


def laid(cameras, steady, **more):
    used = more.pop("used", np.ones(len(cameras), bool))
    return steadying(path_by(cameras), used, steady, ASPECT, **more)


def left_px(cameras, found):
    places = mapped((cameras @ np.linalg.inv(found.maps))[:, None], PLACES[None])
    return np.abs(places - np.median(places, axis=0)).max() * HALF


@pytest.mark.parametrize("reference", [None, 0, 7])
def test_a_shaken_shot_stands_still_on_one_still_or_on_the_middle_of_all(reference):
    cameras = shaken(15)
    found = laid(cameras, Steady(how="still"), reference=reference)
    assert left_px(cameras, found) < 0.05
    if reference is not None:
        assert np.array_equal(found.maps[reference], np.eye(3))


def test_a_knock_is_gone_for_good():
    cameras = knocked(20, 11)
    assert left_px(cameras, laid(cameras, Steady(how="still"))) < 0.05


def test_what_is_not_to_go_stays():
    cameras = shaken(12)
    found = laid(cameras, Steady(how="still", turn=False, size=False))
    kept = logarithm(cameras @ np.linalg.inv(found.maps))[:, 2:4]
    assert kept == pytest.approx(logarithm(cameras)[:, 2:4], abs=1e-6)


def test_a_walk_glides_and_half_of_it_half():
    cameras = walked(90)
    whole = laid(cameras, Steady(how="glide", place_over=40, level_over=40, size_over=40))
    half = laid(cameras, Steady(how="glide", place_over=40, level_over=40, size_over=40, share=0.5))
    unrest = [jerk(cameras @ np.linalg.inv(one.maps)) for one in (whole, half)]
    assert jerk(cameras) > 12 * unrest[0]
    assert unrest[1] == pytest.approx(jerk(cameras) / 2, rel=0.1)
    assert np.ptp(whole.steadied) < np.ptp(whole.as_shot)


def test_a_held_point_stays_where_it_was_pointed_at():
    cameras = walked(40)
    track = place_of_mark(cameras)
    found = laid(cameras, Steady(how="anchor", points=POINT), points=[track], clicked=5)
    shown = mapped(found.maps, track)
    assert shown * HALF == pytest.approx(np.tile(track[5] * HALF, (40, 1)), abs=1e-3)


def test_a_held_point_goes_straight_and_evenly_where_it_shall_be():
    cameras = walked(41)
    track = place_of_mark(cameras)
    steady = Steady(how="anchor", points=POINT, begins=Place(x=0.5, y=0.5), ends=Place(x=0.7, y=0.4))
    shown = mapped(laid(cameras, steady, points=[track]).maps, track) * HALF
    wanted = np.linspace([0, 0], [0.2 * WIDTH, -0.1 * HEIGHT], 41)
    assert shown == pytest.approx(wanted, abs=1e-2)


def test_two_points_keep_level_and_size_as_well():
    cameras = shaken(25)
    tracks = [mapped(np.linalg.inv(cameras), one[None]) for one in (MARK, np.array([-0.4, 0.2]))]
    found = laid(cameras, Steady(how="anchor", points=POINT * 2), points=tracks, clicked=3)
    for track in tracks:
        assert mapped(found.maps, track) * HALF == pytest.approx(np.tile(track[3] * HALF, (25, 1)), abs=1e-2)
    assert left_px(cameras, found) < 0.05


def test_the_horizon_lies_level_in_every_still():
    cameras = walked(30)
    turns = logarithm(np.linalg.inv(cameras[0]) @ cameras)[:, 2]
    tilt = np.radians(2.5)
    found = laid(cameras, Steady(how="glide", place_over=30, level_over=0, size_over=0, upright=True), tilt=tilt)
    # In a still the horizon is turned by what the world's is less what the camera turned.
    shown = tilt - turns + logarithm(found.maps)[:, 2]
    assert np.degrees(shown) == pytest.approx(np.zeros(30), abs=0.02)


def test_a_held_point_stays_also_where_the_horizon_is_levelled():
    cameras = walked(30)
    track, turns = place_of_mark(cameras), logarithm(np.linalg.inv(cameras[0]) @ cameras)[:, 2]
    tilt = np.radians(2.0)
    found = laid(cameras, Steady(how="anchor", points=POINT, upright=True), points=[track], clicked=4, tilt=tilt)
    assert mapped(found.maps, track) * HALF == pytest.approx(np.tile(track[4] * HALF, (30, 1)), abs=1e-2)
    assert np.degrees(tilt - turns + logarithm(found.maps)[:, 2]) == pytest.approx(np.zeros(30), abs=0.02)


def test_stills_that_are_not_used_do_not_pull_at_the_others():
    cameras = walked(40)
    cameras[20] = exponential(np.array([0.3, 0.2, 0.1, 0, 0, 0, 0, 0]))
    used = np.ones(40, bool)
    used[20] = False
    found = laid(cameras, Steady(how="glide", place_over=20), used=used)
    rest = laid(np.delete(cameras, 20, axis=0), Steady(how="glide", place_over=20))
    assert np.delete(found.maps, 20, axis=0) == pytest.approx(rest.maps, abs=1e-9)


def test_what_moves_by_less_than_a_fiftieth_of_a_pixel_is_left_alone():
    cameras = np.tile(np.eye(3), (10, 1, 1))
    numbers = np.random.default_rng(1).normal(0, 0.004 / 1153.8, (10, 8))
    cameras = exponential(numbers)
    assert np.array_equal(laid(cameras, Steady(how="still")).maps, np.tile(np.eye(3), (10, 1, 1)))


def test_no_still_used_lays_none():
    assert (
        laid(shaken(4), Steady(how="still"), used=np.zeros(4, bool)).maps.tolist()
        == np.tile(np.eye(3), (4, 1, 1)).tolist()
    )


def test_a_camera_that_turns_all_round_and_two_points_in_one_place_are_no_trouble():
    turning = np.zeros((30, 8))
    turning[:, 2] = np.linspace(0, 2 * np.pi, 30)
    cameras = np.stack([exponential(one) for one in turning])
    path = Path(np.nan_to_num(logarithm(cameras)), 0.0, np.ones(30, bool))
    for steady in (Steady(how="still"), Steady(how="glide"), Steady(how="still", upright=True)):
        found = steadying(path, np.ones(30, bool), steady, ASPECT)
        assert np.isfinite(found.maps).all()
        assert (np.abs(np.linalg.det(found.maps)) > 1e-6).all()
    track = place_of_mark(walked(20))
    found = laid(walked(20), Steady(how="anchor", points=POINT * 2), points=[track, track], clicked=0)
    assert mapped(found.maps, track) * HALF == pytest.approx(np.tile(track[0] * HALF, (20, 1)), abs=1e-3)
