"""Light through the whole program: evened in the finished clip, kept with its stills, refused where it makes no
sense."""

import io
from datetime import timedelta
from pathlib import Path

import av
import colour
import imagecodecs
import numpy as np
import pytest
from PIL import Image

from tests.conftest import BEGINS, scene
from tests.planted import write_lamps
from yarnkite.core.light.colour import TO_XYZ
from yarnkite.demo import dng

COUNT = 48


def opened(client, shot):
    return client.get(f"/api/shots/{shot}").json()


def decide(client, shot, **light):
    shown = opened(client, shot)
    decisions = shown["decisions"]
    decisions["light"] |= light
    decisions["fit"]["size"] = {"width": 320, "height": 180}
    decisions["encode"] |= {"preset": "ultrafast", "crf": 10}
    answer = client.put(f"/api/shots/{shot}/decisions", json={"seen": shown["revision"], "decisions": decisions})
    assert answer.status_code == 200, answer.text
    return answer.json()


def course(client, shot, change="{}"):
    seen = opened(client, shot)["revision"]
    return client.get(f"/api/shots/{shot}/light/course", params={"revision": seen, "change": change}).json()


def ids_of(client, shot):
    return [still["id"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]


def setting(value=0.0, **keyframes):
    return {
        "value": value,
        "keyframes": [{"still": int(still[1:]), "value": value} for still, value in keyframes.items()],
    }


def light_of(clip: Path):
    """The mean light of each frame of a clip in stops, from the file itself, by code of its own."""
    found = []
    with av.open(str(clip)) as container:
        for frame in container.decode(video=0):
            codes = frame.to_ndarray(format="rgb24") / 255
            linear = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
            found.append(np.log2((linear @ [0.2126, 0.7152, 0.0722]).mean()))
    return np.array(found)


def encoded(client, finished, shot, services):
    job = finished(
        client.post(f"/api/shots/{shot}/encode", json={"seen": opened(client, shot)["revision"]}).json()["id"]
    )
    assert job["state"] == "finished", job["message"]
    clip = client.get(f"/api/shots/{shot}/clips").json()[0]
    assert clip["differences"] == []
    return services.workspace.clip(job["id"])


@pytest.fixture
def flickering(client, project, card, finished):
    """A still scene under lamps that are never the same, and a camera that exposes more from the thirtieth still on."""
    folder = write_lamps(card / f"flicker-{project}", COUNT, brighter_from=30)
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    return started["shot_id"]


def test_flicker_and_a_step_are_evened_out_of_the_finished_clip(client, services, finished, flickering):
    before = course(client, flickering)
    assert before["gains"] == [0] * COUNT
    findings = client.get(f"/api/shots/{flickering}/check").json()["findings"]
    named = {one["kind"]: one for one in findings}
    assert {"flicker", "exposure step"} <= set(named)
    for kind in ("flicker", "exposure step"):
        body = {"seen": opened(client, flickering)["revision"], "keys": [named[kind]["key"]], "remedy": "even out"}
        assert client.post(f"/api/shots/{flickering}/check/remedy", json=body).status_code == 200
    decided = opened(client, flickering)["decisions"]["light"]["even"]
    assert decided["flicker"]
    assert decided["steps"]
    findings = client.get(f"/api/shots/{flickering}/check").json()["findings"]
    assert all(one["settled"] for one in findings if one["kind"] in ("flicker", "exposure step"))
    decide(client, flickering)
    after = course(client, flickering)
    assert [one["position"] for one in after["steps"]] == [30]
    assert after["flicker_after"] < 0.01 < after["flicker_before"]
    light = light_of(encoded(client, finished, flickering, services))
    changes = np.diff(light, 2)
    assert np.sqrt(np.mean(changes**2)) < 0.02, "what is left from frame to frame"
    assert light[-1] - light[0] == pytest.approx(0.5, abs=0.2)


def test_taking_the_remedy_away_lets_it_flicker_again(client, flickering):
    findings = client.get(f"/api/shots/{flickering}/check").json()["findings"]
    keys = [one["key"] for one in findings if one["kind"] == "flicker"]
    for remedy, on in (("even out", True), ("none", False)):
        body = {"seen": opened(client, flickering)["revision"], "keys": keys, "remedy": remedy}
        client.post(f"/api/shots/{flickering}/check/remedy", json=body)
        assert opened(client, flickering)["decisions"]["light"]["even"]["flicker"] is on
    assert client.post(f"/api/shots/{flickering}/undo", json={"seen": opened(client, flickering)["revision"]}).json()[
        "decisions"
    ]["light"]["even"]["flicker"]


def test_a_stop_more_doubles_the_light_of_the_clip_and_undo_gives_the_old_clip_back(
    client, services, finished, gathered
):
    shot = gathered(6)
    decide(client, shot)
    plain = encoded(client, finished, shot, services)
    decide(client, shot, exposure=setting(-1))
    darker = encoded(client, finished, shot, services)
    assert light_of(darker) == pytest.approx(light_of(plain) - 1, abs=0.02)
    client.post(f"/api/shots/{shot}/undo", json={"seen": opened(client, shot)["revision"]})
    assert encoded(client, finished, shot, services).read_bytes() == plain.read_bytes()


def test_what_changes_over_the_shot_goes_with_its_stills(client, gathered):
    shot = gathered(10)
    ids = ids_of(client, shot)
    decide(client, shot, exposure=setting(**{f"s{ids[0]}": 0.0, f"s{ids[8]}": 2.0}))
    rising = course(client, shot)["changing"]["exposure"]
    assert rising[0] == 0
    assert rising[8] == rising[9] == 2
    assert all(np.diff(rising) >= 0)
    # A still that is set aside goes on saying what it said; so it does in another order.
    client.post(
        f"/api/shots/{shot}/aside", json={"seen": opened(client, shot)["revision"], "stills": [ids[8]], "aside": True}
    )
    assert course(client, shot)["changing"]["exposure"] == rising
    moved = {"seen": opened(client, shot)["revision"], "stills": [ids[8]], "to": 4}
    client.post(f"/api/shots/{shot}/order/move", json=moved)
    assert course(client, shot)["changing"]["exposure"][4:] == [2.0] * 6
    assert opened(client, shot)["decisions"]["light"]["exposure"]["keyframes"][1]["still"] == ids[8]


def switch(client, shot, version):
    body = {"seen": opened(client, shot)["revision"], "version": version}
    assert client.post(f"/api/shots/{shot}/versions/open", json=body).status_code == 200


def test_a_split_and_a_join_keep_each_stills_light(client, gathered):
    shot = gathered(12)
    ids = ids_of(client, shot)
    decide(client, shot, exposure=setting(**{f"s{ids[0]}": 0.0, f"s{ids[11]}": 1.0}))
    rising = course(client, shot)["changing"]["exposure"]
    seen = opened(client, shot)["revision"]
    made = client.post(f"/api/shots/{shot}/versions", json={"seen": seen, "name": "warm"}).json()
    plain, other = sorted((one["id"] for one in made["versions"]), key=lambda one: one == made["version"])
    warmth = setting(**{f"s{ids[0]}": -30.0, f"s{ids[11]}": 60.0})
    decide(client, shot, warmth=warmth, saturation=setting(0.4), exposure=setting())
    whole = course(client, shot)["changing"]["warmth"]
    (part,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids[7]]}).json()["shots"]
    one, two = course(client, shot)["changing"]["warmth"], course(client, part)["changing"]["warmth"]
    assert [one[0], one[-1], two[0], two[-1]] == pytest.approx([whole[0], whole[6], whole[7], whole[11]], abs=0.01)
    assert opened(client, part)["decisions"]["light"]["saturation"]["value"] == 0.4
    # The version that is not open kept its light at the end, too.
    switch(client, shot, plain)
    assert course(client, shot)["changing"]["exposure"] == pytest.approx(rising[:7], abs=0.2)
    assert course(client, shot)["changing"]["exposure"][-1] == pytest.approx(rising[6], abs=0.01)
    switch(client, shot, other)
    decide(client, part, saturation=setting(-1))
    assert client.post(f"/api/shots/{shot}/join", json={"other": part}).status_code == 200
    changing = course(client, shot)["changing"]
    assert changing["saturation"] == pytest.approx([0.4] * 7 + [-1] * 5)
    assert [changing["warmth"][place] for place in (0, 6, 7, 11)] == pytest.approx(
        [whole[place] for place in (0, 6, 7, 11)], abs=0.01
    )


def test_each_version_has_its_own_light(client, gathered):
    shot = gathered(4)
    decide(client, shot, exposure=setting(1))
    seen = opened(client, shot)["revision"]
    made = client.post(f"/api/shots/{shot}/versions", json={"seen": seen, "name": "night"}).json()
    decide(client, shot, exposure=setting(-2))
    other = next(one["id"] for one in made["versions"] if one["id"] != made["version"])
    switch(client, shot, other)
    assert opened(client, shot)["decisions"]["light"]["exposure"]["value"] == 1


def test_what_is_grey_under_a_warm_light_is_made_grey(client, project, card, finished):
    folder = card / f"warm-{project}"
    folder.mkdir()
    for number in range(3):
        Image.new("RGB", (480, 320), (190, 150, 100)).save(folder / f"W_{number}.jpg", quality=97)
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    shot = started["shot_id"]
    seen = opened(client, shot)["revision"]
    found = client.get(
        f"/api/shots/{shot}/light/stills/1/neutral", params={"x": 0.5, "y": 0.5, "revision": seen}
    ).json()
    assert found["reached"]
    assert found["warmth"] < -50
    decide(client, shot, warmth=setting(found["warmth"]), tint=setting(found["tint"]))
    picture = client.get(
        f"/api/shots/{shot}/stills/1/frame.jpg",
        params={"width": 320, "revision": opened(client, shot)["revision"], "state": "x"},
    )
    (folder / "seen.jpg").write_bytes(picture.content)
    with Image.open(folder / "seen.jpg") as shown:
        assert np.ptp(np.asarray(shown)[90, 160].astype(int)) <= 1


def test_what_cannot_be_meant_is_refused_with_a_sentence(client, gathered):
    shot = gathered(3)
    seen = opened(client, shot)["revision"]
    for change in ('{"light":{"exposure":{"value":9}}}', '{"light":{"exposure":{"value":NaN}}}', '{"light":3}'):
        answer = client.get(f"/api/shots/{shot}/light/course", params={"revision": seen, "change": change})
        assert answer.status_code == 422
    assert client.get(f"/api/shots/{shot}/light/stills/3/tone", params={"revision": seen}).status_code == 404
    where = {"x": 0.5, "y": 0.5, "revision": seen}
    assert client.get(f"/api/shots/{shot}/light/stills/7/neutral", params=where).status_code == 404
    decisions = opened(client, shot)["decisions"]
    decisions["light"]["exposure"] = setting(s999999=3.0)
    # A still this shot does not have says nothing here, and no harm is done.
    body = {"seen": seen, "decisions": decisions}
    assert client.put(f"/api/shots/{shot}/decisions", json=body).status_code == 200
    assert course(client, shot)["sentence"] == ""


def test_the_curve_and_the_spread_of_a_shot(client, gathered):
    shot = gathered(5)
    decide(client, shot, middle=setting(0.5))
    seen = opened(client, shot)["revision"]
    tone = client.get(f"/api/shots/{shot}/light/stills/2/tone", params={"revision": seen}).json()
    assert tone["curve"][32] == pytest.approx(0.6, abs=0.01)
    assert tone["curve"][0] == 0
    assert tone["curve"][-1] == pytest.approx(1)
    assert max(tone["spread"]) == 1
    assert min(tone["spread"]) >= 0


def test_numbered_pictures_that_are_fitted_have_the_light_of_the_clip(
    client, services, finished, gathered, card, project
):
    shot = gathered(5)
    ids = ids_of(client, shot)
    sky = {"shape": {"kind": "gradient", "x": 0.5, "y": 0.0, "to_x": 0.5, "to_y": 0.6}}
    dark = {"name": "sky", "mask": {"parts": [sky]}, "grade": {"exposure": setting(-1)}}
    rising = setting(**{f"s{ids[0]}": -2.0, f"s{ids[4]}": 0.0})
    decide(client, shot, exposure=rising, saturation=setting(-1), areas=[dark], over_time=1, fine=setting(0.3))
    body = {"parts": [{"kind": "counter"}], "format": "PNG", "location": "card", "path": ""}
    for what in ("fitted", "shot"):
        into = body | {"what": what, "folder": f"lit-{what}-{project}"}
        assert finished(client.post(f"/api/shots/{shot}/export", json=into).json()["id"])["state"] == "finished"
    clip = encoded(client, finished, shot, services)
    with av.open(str(clip)) as container:
        frames = [frame.to_ndarray(format="rgb24").astype(int) for frame in container.decode(video=0)]
    written = sorted((card / f"lit-fitted-{project}").iterdir())
    assert len(written) == len(frames) == 5
    for path, frame in zip(written, frames, strict=True):
        assert np.abs(imagecodecs.imread(path).astype(float) / 257 - frame).mean() < 2.5
    as_shot = np.asarray(Image.open(min((card / f"lit-shot-{project}").iterdir())))
    assert as_shot.dtype == np.uint8
    assert np.ptp(as_shot.astype(int), axis=2).max() > 100


def test_a_still_that_is_set_aside_is_shown_with_the_light_it_would_have(client, gathered):
    shot = gathered(4)
    ids = ids_of(client, shot)
    decide(client, shot, exposure=setting(-3))
    where = {"width": 320, "state": "x"}

    def seen():
        asked = where | {"revision": opened(client, shot)["revision"]}
        return client.get(f"/api/shots/{shot}/stills/2/frame.jpg", params=asked).content

    before = seen()
    body = {"seen": opened(client, shot)["revision"], "stills": [ids[2]], "aside": True}
    client.post(f"/api/shots/{shot}/aside", json=body)
    assert seen() == before


@pytest.fixture
def wandering(client, project, card, finished, monkeypatch):
    """Raw stills of one scene in one light, which the camera balanced for another one in every still but three."""
    folder = card / f"wandering-{project}"
    folder.mkdir()
    lights = [5_000, 5_000, 4_400, 5_000, 5_800, 4_700]

    # A sensor that sees green best, as all do: what is white clips there first, whatever the balance.
    sensitive = np.array([0.5, 1.0, 0.6])

    def neutral(kelvin):
        x, y = colour.CCT_to_xy(kelvin, method="Kang 2002")
        seen = sensitive * (np.linalg.inv(TO_XYZ) @ [x / y, 1, (1 - x - y) / y])
        return tuple(float(one) for one in seen / seen.max())

    matrix = np.rint(sensitive[:, None] * np.linalg.inv(TO_XYZ) * 10_000).astype(int)
    monkeypatch.setattr(dng, "_COLOR_MATRIX", tuple(matrix.reshape(-1).tolist()))

    for number, kelvin in enumerate(lights):
        said = tuple(value for one in neutral(kelvin) for value in (round(one * 10_000), 10_000))
        monkeypatch.setattr(dng, "_neutral", lambda light, said=said: said)
        taken = BEGINS + timedelta(seconds=5 * number)
        picture = np.clip(scene(480, 320), 20, 150)
        dng.write_dng(folder / f"W_{number:04}.dng", picture, "Marrow Lantern", taken, neutral(5_000))
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    return started["shot_id"]


def frames_of(client, shot, count):
    seen = {"width": 320, "revision": opened(client, shot)["revision"]}
    found = (client.get(f"/api/shots/{shot}/stills/{place}/frame.jpg", params=seen).content for place in range(count))
    return np.stack([np.asarray(Image.open(io.BytesIO(data)), float) for data in found])


def test_raw_stills_whose_balance_wanders_are_shown_in_one(client, wandering):
    said = client.get(f"/api/shots/{wandering}/light/camera").json()
    assert said["kelvin"] == pytest.approx(5_000, rel=0.05)
    assert said["warmest"] == pytest.approx(4_400, rel=0.05)
    assert said["coldest"] == pytest.approx(5_800, rel=0.05)
    decide(client, wandering)
    as_shot = frames_of(client, wandering, 6)
    assert np.abs(as_shot[4] - as_shot[0]).mean(axis=(0, 1))[2] > 3
    decide(client, wandering, one_balance=True)
    one = frames_of(client, wandering, 6)
    assert np.abs(one[0] - as_shot[0]).max() <= 3
    for still in one[1:]:
        assert np.abs((still - one[0]).mean(axis=(0, 1))).max() < 0.8
    # Evening of colour finds nothing left to do then, and what it does is no second balance.
    even = opened(client, wandering)["decisions"]["light"]["even"] | {"colour": True}
    decide(client, wandering, one_balance=True, even=even)
    both = frames_of(client, wandering, 6)
    assert np.abs((both - one).mean(axis=(1, 2))).max() < 0.8


def test_a_lens_is_chosen_where_the_stills_name_none(client, gathered):
    shot = gathered(3, (600, 400))
    assert client.get(f"/api/shots/{shot}/light/camera").json()["profile"] is None
    found = client.get(f"/api/shots/{shot}/light/lenses", params={"words": "18"}).json()
    chosen = next(one for one in found if one["longest_mm"] > one["shortest_mm"])
    seen = opened(client, shot)
    decisions = seen["decisions"]
    decisions["light"] |= {"lens_profile": True, "lens": {"name": chosen["name"], "focal_mm": chosen["shortest_mm"]}}
    body = {"seen": seen["revision"], "decisions": decisions}
    revision = client.put(f"/api/shots/{shot}/decisions", json=body).json()["revision"]
    frames = [
        client.get(f"/api/shots/{shot}/stills/1/frame.jpg", params={"revision": one, "width": 480}).content
        for one in (seen["revision"], revision)
    ]
    assert frames[0] != frames[1]
