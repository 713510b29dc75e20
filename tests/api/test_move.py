"""A view that travels through the whole program: in the clip, in versions, said in words, refused where it makes no
sense."""

import io

import av
import numpy as np
import pytest

from tests.api.test_light import decide, encoded, opened


def put(client, shot, **move):
    shown = opened(client, shot)
    decisions = shown["decisions"] | {"move": move}
    body = {"seen": shown["revision"], "decisions": decisions}
    return client.put(f"/api/shots/{shot}/decisions", json=body)


def travel(client, shot, change="{}"):
    asked = {"revision": opened(client, shot)["revision"], "change": change}
    return client.get(f"/api/shots/{shot}/move/travel", params=asked).json()


def usual(client, shot, name, amount=0.3):
    asked = {"revision": opened(client, shot)["revision"], "name": name, "amount": amount}
    return client.get(f"/api/shots/{shot}/move/usual", params=asked).json()


def test_a_push_in_by_one_click_is_in_the_finished_clip(client, services, finished, gathered):
    shot = gathered(6)
    decide(client, shot)
    still = travel(client, shot)
    assert still["sentence"] == "The view stays where the fit has it."
    assert put(client, shot, **usual(client, shot, "push in")).status_code == 200
    assert any(part["text"].startswith("pushing in 1.30") for part in opened(client, shot)["brief"]["parts"])
    found = travel(client, shot)
    assert len(found["outlines"]) == 2
    (first, last) = (np.array(one) for one in found["outlines"])
    assert np.ptp(last[:, 0]) == pytest.approx(np.ptp(first[:, 0]) / 1.3, rel=0.01)
    assert found["held"] == 0
    clip = encoded(client, finished, shot, services)
    with av.open(str(clip)) as container:
        frames = [frame.to_ndarray(format="gray").astype(float) for frame in container.decode(video=0)]
    seen = [frame_of(client, shot, number) for number in range(6)]
    for frame, shown in zip(frames, seen, strict=True):
        assert np.abs(frame - shown).mean() < 4
    assert np.abs(frames[-1] - frames[0]).mean() > 8


def frame_of(client, shot, number):
    asked = {"width": 320, "revision": opened(client, shot)["revision"], "state": "x"}
    data = client.get(f"/api/shots/{shot}/frames/{number}.jpg", params=asked).content
    with av.open(io.BytesIO(data), format="jpeg_pipe") as container:
        return next(container.decode(video=0)).to_ndarray(format="gray").astype(float)


def test_it_is_held_inside_the_still_and_says_so(client, gathered):
    shot = gathered(5)
    decide(client, shot)
    put(client, shot, views=[{"at": 0, "x": 0.0, "closeness": 2.0}, {"at": 1, "x": 1.0, "closeness": 2.0}])
    found = travel(client, shot)
    assert found["held"] >= 2
    assert "held inside" in found["sentence"]
    corners = np.array(found["outlines"]).reshape(-1, 2)
    assert corners.min() >= -1e-6
    assert corners.max() <= 1 + 1e-6
    assert found["fastest"] > 0.2


def test_versions_undo_and_split_each_keep_the_travel(client, gathered):
    shot = gathered(8)
    decide(client, shot)
    put(client, shot, **usual(client, shot, "drift right"))
    views = opened(client, shot)["decisions"]["move"]["views"]
    seen = opened(client, shot)["revision"]
    made = client.post(f"/api/shots/{shot}/versions", json={"seen": seen, "name": "still"}).json()
    put(client, shot, views=[])
    other = next(one["id"] for one in made["versions"] if one["id"] != made["version"])
    body = {"seen": opened(client, shot)["revision"], "version": other}
    client.post(f"/api/shots/{shot}/versions/open", json=body).raise_for_status()
    assert opened(client, shot)["decisions"]["move"]["views"] == views
    put(client, shot, views=[])
    client.post(f"/api/shots/{shot}/undo", json={"seen": opened(client, shot)["revision"]}).raise_for_status()
    assert opened(client, shot)["decisions"]["move"]["views"] == views
    ids = [one["id"] for one in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    (part,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids[4]]}).json()["shots"]
    assert opened(client, part)["decisions"]["move"]["views"] == views


def test_what_makes_no_sense_is_refused(client, gathered):
    shot = gathered(3)
    decide(client, shot)
    for views in (
        [{"at": 2}],
        [{"at": 0, "closeness": 0.5}],
        [{"at": 0, "level_deg": 90}],
        [{"at": n / 20} for n in range(15)],
    ):
        assert put(client, shot, views=views).status_code == 422
    asked = {"revision": opened(client, shot)["revision"], "name": "somersault"}
    assert client.get(f"/api/shots/{shot}/move/usual", params=asked).status_code == 422
    ids = [one["id"] for one in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    aside = {"seen": opened(client, shot)["revision"], "stills": ids, "aside": True}
    client.post(f"/api/shots/{shot}/aside", json=aside).raise_for_status()
    assert travel(client, shot)["outlines"] == []
    asked = {"revision": opened(client, shot)["revision"], "name": "push in"}
    assert client.get(f"/api/shots/{shot}/move/usual", params=asked).status_code in (400, 409, 422)
