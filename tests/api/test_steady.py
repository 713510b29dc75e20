"""Stills laid against each other through the whole program: in the clip, in numbered pictures, in versions, and
undone."""

import json
from itertools import pairwise

import av
import cv2
import numpy as np
import pytest
from PIL import Image

from tests.api.test_light import encoded, ids_of, opened
from tests.api.test_move import frame_of, put
from tests.moved import HEIGHT, WIDTH, knocked, place_of_mark, shaken, shares, walked, write_moved
from tests.serving import gather

STILLS = 16


@pytest.fixture
def moved(client, finished, project, card):
    """Return a gathered shot whose movement is known."""

    def moved(cameras, **more) -> int:
        folder = write_moved(card / f"moved-{project}", cameras, **more)
        shot = gather(client, finished, project, folder)
        shown = opened(client, shot)
        decisions = shown["decisions"]
        decisions["fit"]["size"] = {"width": 640, "height": 360}
        decisions["encode"] |= {"preset": "ultrafast", "crf": 10}
        body = {"seen": shown["revision"], "decisions": decisions}
        assert client.put(f"/api/shots/{shot}/decisions", json=body).status_code == 200
        return shot

    return moved


def steady(client, shot, change="{}"):
    asked = {"revision": opened(client, shot)["revision"], "change": change}
    return client.get(f"/api/shots/{shot}/move/steady", params=asked).json()


def measured(client, finished, shot):
    job = client.post(f"/api/shots/{shot}/move/measure").json()
    if job is not None:
        assert finished(job["id"])["state"] == "finished", finished(job["id"])
    found = steady(client, shot)
    assert found["is_complete"], found
    return found


def frames_of(clip):
    with av.open(str(clip)) as container:
        return [frame.to_ndarray(format="gray").astype(float) for frame in container.decode(video=0)]


def unrest(frames):
    """How much a frame differs from the one before where nothing but the camera moves, in codes, by code of its own."""
    return float(np.mean([np.abs(one - other).mean() for one, other in pairwise(frames)]))


def test_a_shaken_shot_stands_still_in_the_finished_clip(client, services, finished, moved):
    shot = moved(shaken(STILLS))
    before = unrest(frames_of(encoded(client, finished, shot, services)))
    state = client.get(f"/api/shots/{shot}/stills").json()["state"]
    assert put(client, shot, steady={"how": "still"}).status_code == 200
    refused = client.post(f"/api/shots/{shot}/encode", json={"seen": opened(client, shot)["revision"]})
    assert (refused.status_code, refused.json()["code"]) == (409, "not_measured")
    found = measured(client, finished, shot)
    assert found["left_px"] < 0.2
    assert 1.01 < found["closer"] < 1.06
    after = unrest(frames_of(encoded(client, finished, shot, services)))
    assert before > 6 * after, (before, after)
    assert client.get(f"/api/shots/{shot}/stills").json()["state"] != state, "old pictures would be shown on"


def mark_in(frames):
    """Where the dark spot with the light rim is in each frame, in pixels: the heaviest answer to a ring, by code of its
    own."""
    down, across = np.mgrid[-12:13, -12:13]
    away = np.hypot(down, across)
    ring = np.where(away < 5, -1.0, np.where((away > 6) & (away < 11), 1.0, 0.0))
    ring -= ring.mean()
    found = []
    for frame in frames:
        answer = cv2.filter2D(frame, -1, ring)
        y, x = np.unravel_index(int(answer.argmax()), answer.shape)
        near = np.maximum(answer[y - 2 : y + 3, x - 2 : x + 3] - answer.max() * 0.7, 0)
        found.append(
            (x + (near * np.arange(-2, 3)).sum() / near.sum(), y + (near.T * np.arange(-2, 3)).sum() / near.sum())
        )
    return np.array(found)


def test_a_knock_is_gone_and_a_person_sees_what_it_costs(client, services, finished, moved):
    shot = moved(knocked(STILLS, 9))
    assert put(client, shot, steady={"how": "still"}).status_code == 200
    assert any(part["text"] == "standing still" for part in opened(client, shot)["brief"]["parts"])
    found = measured(client, finished, shot)
    assert np.ptp(found["as_shot"]) > 0.02
    assert np.ptp(found["steadied"]) < 0.001
    assert "Nothing but the scene moves" in found["sentence"]
    assert client.post(f"/api/shots/{shot}/move/measure").json() is None, "nothing is measured twice"
    frames = frames_of(encoded(client, finished, shot, services))
    assert np.ptp(mark_in(frames), axis=0).max() < 0.25
    preview = [frame_of(client, shot, number) for number in range(STILLS)]
    scale = frames[0].shape[1] / preview[0].shape[1]
    assert np.abs(mark_in(frames) - mark_in([cv2.resize(one, None, fx=scale, fy=scale) for one in preview])).max() < 0.8
    seen = opened(client, shot)["revision"]
    assert client.post(f"/api/shots/{shot}/undo", json={"seen": seen}).status_code == 200
    assert steady(client, shot)["closer"] == 1.0


def test_strengths_play_without_measuring_again_and_each_says_its_price(client, finished, moved):
    shot = moved(walked(24))
    put(client, shot, steady={"how": "glide", "place_over": 12, "level_over": 12, "size_over": 12})
    measured(client, finished, shot)
    asked = {"revision": opened(client, shot)["revision"]}
    prices = client.get(f"/api/shots/{shot}/move/trade-offs", params=asked).json()
    assert [one["strength"] for one in prices] == sorted(one["strength"] for one in prices)
    assert [one["stays"] for one in prices] == sorted((one["stays"] for one in prices), reverse=True)
    assert prices[-1]["stays"] < 0.05
    for wanted in ({"most_lost": 0.01}, {"share": 0.5}, {"edges": "fill"}):
        body = {"move": {"steady": {"how": "glide", "place_over": 24, "level_over": 24, "size_over": 24} | wanted}}
        tried = steady(client, shot, json.dumps(body))
        assert tried["is_complete"]
        assert 1 <= tried["closer"] < prices[-1]["closer"] + 0.01, wanted


def test_edges_filled_from_neighbours_lose_less_and_are_never_black(client, services, finished, moved):
    shot = moved(walked(24))
    lost = {}
    for edges in ("crop", "fill"):
        put(client, shot, steady={"how": "glide", "place_over": 24, "level_over": 24, "size_over": 24, "edges": edges})
        lost[edges] = measured(client, finished, shot)["closer"] - 1
        frames = frames_of(encoded(client, finished, shot, services))
        assert (
            min(
                np.median(frame[rows, columns])
                for frame in frames
                for rows in (slice(0, 5), slice(-5, None))
                for columns in (slice(0, 5), slice(-5, None))
            )
            > 25
        )
    assert lost["fill"] < 0.75 * lost["crop"]


def hold(client, shot, cameras, at=0, **more):
    x, y = shares(place_of_mark(cameras))[at]
    place = {"still": ids_of(client, shot)[at], "x": float(x), "y": float(y)}
    return put(
        client, shot, steady={"how": "anchor", "points": [{"places": [place]}], "level_over": 0, "size_over": 0} | more
    )


def test_a_point_is_held_through_the_clip_also_where_it_is_hidden(client, services, finished, moved):
    cameras = walked(STILLS)
    shot = moved(cameras, hidden=range(6, 9))
    assert hold(client, shot, cameras).status_code == 200
    found = measured(client, finished, shot)
    assert [number for number, sure in enumerate(found["sure"][0]) if sure == 0] == [6, 7, 8]
    sight = client.get(
        f"/api/shots/{shot}/move/stills/7/observations", params={"revision": opened(client, shot)["revision"]}
    ).json()[0]
    assert (sight["x"] * WIDTH, sight["y"] * HEIGHT) == pytest.approx(
        shares(place_of_mark(cameras))[7] * [WIDTH, HEIGHT], abs=0.5
    )
    frames = frames_of(encoded(client, finished, shot, services))
    places = np.delete(mark_in(frames), [6, 7, 8], axis=0)
    assert np.ptp(places, axis=0).max() < 0.7


def test_a_correction_at_a_later_still_counts_from_there_on(client, finished, moved):
    cameras = walked(STILLS)
    shot = moved(cameras)
    hold(client, shot, cameras)
    measured(client, finished, shot)
    revision = opened(client, shot)["revision"]
    place = client.get(
        f"/api/shots/{shot}/move/stills/10/pointed", params={"revision": revision, "x": 0.3, "y": 0.3}
    ).json()
    assert place == {"still": ids_of(client, shot)[10], "x": 0.3, "y": 0.3}
    steadied = opened(client, shot)["decisions"]["move"]["steady"]
    steadied["points"][0]["places"].append(place)
    put(client, shot, steady=steadied)
    measured(client, finished, shot)

    def sight(position):
        asked = {"revision": opened(client, shot)["revision"]}
        one = client.get(f"/api/shots/{shot}/move/stills/{position}/observations", params=asked).json()[0]
        return np.array([one["x"], one["y"]])

    truth = shares(place_of_mark(cameras))
    assert sight(9) == pytest.approx(truth[9], abs=0.001)
    assert sight(10) == pytest.approx([0.3, 0.3], abs=0.001)
    # From there on it is followed from the new place, as far from the old one as it was.
    assert np.abs(sight(12) - truth[12]).max() > 0.05


def test_a_held_point_survives_split_join_and_reorder(client, finished, moved):
    cameras = walked(STILLS)
    shot = moved(cameras)
    hold(client, shot, cameras)
    before = measured(client, finished, shot)
    ids = ids_of(client, shot)
    (part,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids[9]]}).json()["shots"]
    taken = opened(client, part)["decisions"]["move"]["steady"]["points"]
    truth = shares(place_of_mark(cameras))
    (place,) = taken[0]["places"]
    assert place["still"] == ids[9]
    assert (place["x"], place["y"]) == pytest.approx(tuple(truth[9]), abs=0.001)
    assert len(measured(client, finished, part)["sure"][0]) == STILLS - 9
    assert client.post(f"/api/shots/{shot}/join", json={"other": part}).status_code == 200
    places = opened(client, shot)["decisions"]["move"]["steady"]["points"][0]["places"]
    assert [one["still"] for one in places] == [ids[0], ids[9]]
    after = measured(client, finished, shot)
    assert after["closer"] == pytest.approx(before["closer"], abs=0.01)
    shown = opened(client, shot)
    decisions = shown["decisions"] | {"order": {"by": "hand", "hand": ids[::-1]}}
    assert (
        client.put(f"/api/shots/{shot}/decisions", json={"seen": shown["revision"], "decisions": decisions}).status_code
        == 200
    )
    assert measured(client, finished, shot)["closer"] == pytest.approx(before["closer"], abs=0.01)


def test_stills_that_are_set_aside_ask_for_nothing_new(client, finished, moved):
    shot = moved(shaken(STILLS))
    put(client, shot, steady={"how": "still"})
    measured(client, finished, shot)
    ids = ids_of(client, shot)
    answer = client.post(
        f"/api/shots/{shot}/aside", json={"seen": opened(client, shot)["revision"], "stills": ids[5:7], "aside": True}
    )
    assert answer.status_code == 200, answer.text
    found = steady(client, shot)
    assert found["is_complete"]
    assert found["left_px"] < 0.3


def test_numbered_pictures_lie_as_the_clip_has_them(client, services, finished, moved, card, project):
    shot = moved(knocked(8, 4))
    put(client, shot, steady={"how": "still"})
    body = {"parts": [{"kind": "text", "text": "S"}, {"kind": "number", "start": 1, "step": 1, "digits": 3}]}
    wanted = body | {
        "what": "fitted",
        "format": "PNG",
        "quality": 95,
        "location": "card",
        "path": "",
        "folder": f"out-{project}",
    }
    refused = client.post(f"/api/shots/{shot}/export", json=wanted)
    assert refused.json()["code"] == "not_measured", refused.text
    measured(client, finished, shot)
    job = client.post(f"/api/shots/{shot}/export", json=wanted).json()
    assert finished(job["id"])["state"] == "finished"
    pictures = [
        cv2.imread(str(one), cv2.IMREAD_GRAYSCALE).astype(float) for one in sorted((card / f"out-{project}").iterdir())
    ]
    assert np.ptp(mark_in(pictures), axis=0).max() < 0.2


def test_of_every_three_the_one_that_goes_on_best_is_a_decision_of_pace(client, finished, moved):
    shot = moved(walked(24, seed=9))
    seen = opened(client, shot)["revision"]
    assert client.post(f"/api/shots/{shot}/move/pick", json={"seen": seen, "every": 3}).json()["code"] == "not_measured"
    measured(client, finished, shot)
    assert client.post(f"/api/shots/{shot}/move/pick", json={"seen": seen, "every": 3}).status_code == 200
    shown = opened(client, shot)
    ids = ids_of(client, shot)
    chosen = [ids.index(one) for one in shown["decisions"]["pace"]["picked"]]
    assert len(chosen) == 8
    assert all(3 * place <= one < 3 * place + 3 for place, one in enumerate(chosen))
    assert shown["brief"]["frames"] == 8
    assert any("the one that goes on best" in part["text"] for part in shown["brief"]["parts"])
    (part,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids[12]]}).json()["shots"]
    assert len(opened(client, part)["decisions"]["pace"]["picked"]) == 4
    assert opened(client, part)["brief"]["frames"] == 4


@pytest.mark.parametrize("count", [1, 2])
def test_a_shot_of_a_still_or_two_is_steadied_without_a_word_of_complaint(client, services, finished, moved, count):
    shot = moved(shaken(count))
    for how in ("still", "glide"):
        put(client, shot, steady={"how": how})
        assert measured(client, finished, shot)["sentence"]
    assert len(frames_of(encoded(client, finished, shot, services))) == count


def test_black_stills_say_that_there_is_nothing_to_go_by(client, finished, project, card):
    folder = card / f"black-{project}"
    folder.mkdir()
    for number in range(6):
        path = folder / f"BLK_{number:03}.jpg"
        Image.fromarray(np.full((320, 480, 3), number, np.uint8)).save(path, "JPEG")
    shot = gather(client, finished, project, folder)
    put(client, shot, steady={"how": "still"})
    assert "Nothing was found" in measured(client, finished, shot)["sentence"]
    outside = {"still": ids_of(client, shot)[0], "x": 1.5, "y": 0.5}
    assert put(client, shot, steady={"how": "anchor", "points": [{"places": [outside]}]}).status_code == 422
    gone = {"still": 4_000_000, "x": 0.5, "y": 0.5}
    put(client, shot, steady={"how": "anchor", "points": [{"places": [gone]}]})
    assert "not in this shot any more" in measured(client, finished, shot)["sentence"]


def test_a_model_look_is_in_the_clip_and_travels(client, services, finished, moved):
    shot = moved(knocked(6, 6))
    bands = [{"at": 0, "y": 0.2, "width": 0.2, "softness": 0.1}, {"at": 1, "y": 0.8, "width": 0.2, "softness": 0.1}]
    plain = frames_of(encoded(client, finished, shot, services))
    assert put(client, shot, model={"strength": 1.0, "bands": bands}).status_code == 200
    assert any(part["text"] == "like a model" for part in opened(client, shot)["brief"]["parts"])
    frames = frames_of(encoded(client, finished, shot, services))
    height = frames[0].shape[0]
    upper, lower = slice(0, height // 4), slice(3 * height // 4, None)
    change = [
        (np.abs(one - other)[upper].mean(), np.abs(one - other)[lower].mean())
        for one, other in zip(frames, plain, strict=True)
    ]
    assert change[0][1] > 2 * change[0][0], "at the start the lower part is soft"
    assert change[-1][0] > 2 * change[-1][1], "at the end the upper one"


def test_other_sizes_and_bridged_stills_inside_a_track_go_on(client, services, finished, project, card):
    cameras = walked(12)
    folder = write_moved(card / f"mixed-{project}", cameras)
    odd = folder / "WLK_0006.JPG"
    exif = Image.open(odd).info["exif"]
    Image.open(odd).resize((480, 320)).save(odd, "JPEG", quality=93, exif=exif)
    shot = gather(client, finished, project, folder)
    hold(client, shot, cameras)
    found = measured(client, finished, shot)
    assert found["sentence"]
    shown = opened(client, shot)
    decisions = shown["decisions"]
    decisions["fit"]["size"] = {"width": 640, "height": 360}
    decisions["encode"] |= {"preset": "ultrafast", "crf": 10}
    decisions["check"]["bridged"] = ids_of(client, shot)[7:9]
    assert (
        client.put(f"/api/shots/{shot}/decisions", json={"seen": shown["revision"], "decisions": decisions}).status_code
        == 200
    )
    assert measured(client, finished, shot)["is_complete"]
    frames = frames_of(encoded(client, finished, shot, services))
    whole = np.delete(mark_in(frames), [5, 7, 8], axis=0)
    assert np.ptp(whole, axis=0).max() < 1.0


def test_a_version_that_moves_otherwise_is_kept_when_its_shot_is_joined(client, gathered):
    shot, other = gathered(6), gathered(6)
    put(client, other, views=[{"at": 0}, {"at": 1, "closeness": 1.5}])
    seen = opened(client, other)["revision"]
    assert client.post(f"/api/shots/{other}/versions", json={"seen": seen, "name": "slow"}).status_code == 201
    put(client, other, views=[{"at": 0}, {"at": 1, "closeness": 2.5}])
    assert client.post(f"/api/shots/{shot}/join", json={"other": other}).status_code == 200
    closest = {one["closeness"] for one in opened(client, shot)["decisions"]["move"]["views"]}
    for version in [one for one in opened(client, shot)["versions"] if one["id"] != opened(client, shot)["version"]]:
        seen = opened(client, shot)["revision"]
        body = {"seen": seen, "version": version["id"]}
        answer = client.post(f"/api/shots/{shot}/versions/open", json=body)
        assert answer.status_code == 200, answer.text
        closest |= {one["closeness"] for one in opened(client, shot)["decisions"]["move"]["views"]}
    assert closest == {1.0, 1.5, 2.5}
