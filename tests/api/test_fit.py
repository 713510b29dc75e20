"""Fitting through the interface: sizes, levelling, the whole still, what is cut off, and pictures of each."""

import io
import json

import numpy as np
import pytest
from PIL import Image

from tests.api.test_decisions import change
from tests.conftest import scene
from tests.core.fit.test_small_lights import night
from tests.serving import put_together


def shown(answer):
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB")).astype(int)


def trying(**fit):
    return json.dumps({"fit": fit})


def test_sizes_end_with_the_shape_of_the_stills(client, gathered):
    shot = gathered(2, (1500, 1000))
    shapes = client.get(f"/api/shots/{shot}/fit/sizes").json()
    assert shapes[0]["name"] == "16:9"
    assert [7680, 4320] in shapes[0]["sizes"]
    assert shapes[-1] == {"name": "as shot", "sizes": [[1080, 720], [1500, 1000]]}


def test_a_slip_is_pointed_out_and_a_good_size_is_not(client, gathered):
    shot = gathered(1)
    asked = client.get(f"/api/shots/{shot}/fit/advice", params={"width": 1918, "height": 1080}).json()
    assert asked["usable"]
    assert asked["meant"][0] == {"width": 1920, "height": 1080}
    assert client.get(f"/api/shots/{shot}/fit/advice", params={"width": 1920, "height": 1080}).json() is None
    assert not client.get(f"/api/shots/{shot}/fit/advice", params={"width": 0, "height": 1080}).json()["usable"]


def test_a_slip_may_be_insisted_on_and_the_brief_offers_what_was_meant(client, gathered):
    shot = gathered(3)
    kept = change(client, shot, fit={"size": {"width": 1918, "height": 1080}}).json()
    part = next(part for part in kept["brief"]["parts"] if part["control"] == "size")
    assert "looks like 1920 × 1080" in part["warning"] or "Enlarges" in part["warning"]
    remedy = next(one for one in kept["brief"]["remedies"] if one["name"] == "make it 1920 × 1080")
    settled = client.put(
        f"/api/shots/{shot}/decisions", json={"seen": kept["revision"], "decisions": remedy["decisions"]}
    ).json()
    assert settled["decisions"]["fit"]["size"] == {"width": 1920, "height": 1080}
    assert settled["brief"]["remedies"] == []


def test_a_drawn_line_gives_the_level(client, gathered):
    shot = gathered(1)
    fit = client.get(f"/api/shots/{shot}").json()["decisions"]["fit"]
    body = {"line": [100, 500, 1100, 500 + 1000 * np.tan(np.radians(1.5))], "fit": fit}
    assert client.post(f"/api/shots/{shot}/fit/level", json=body).json() == {"level": -1.5}
    body["line"][0] = float(10**6)
    assert client.post(f"/api/shots/{shot}/fit/level", json=body).status_code == 422


def test_the_brief_says_what_of_the_still_is_seen(client, gathered):
    shot = gathered(1, (1200, 800))
    seen = client.get(f"/api/shots/{shot}").json()["brief"]["seen"]
    assert (seen["width"], seen["height"]) == (1200, 800)
    lost = (1 - 675 / 800) / 2
    assert seen["corners"] == [
        [0, pytest.approx(lost)],
        [1, pytest.approx(lost)],
        [1, pytest.approx(1 - lost)],
        [0, pytest.approx(1 - lost)],
    ]
    # 125 rows of the still can be moved away, in pixels of a frame of 1080.
    assert seen["room"] == [0, pytest.approx(125 * 1080 / 675)]


def test_the_frame_lies_where_the_corners_say_on_the_picture_around_it(client, gathered):
    """The part of the whole still within the corners is the frame itself, turned and mirrored alike."""
    shot = gathered(1, (1200, 800))
    fit = {
        "size": {"width": 640, "height": 360},
        "mirror": True,
        "quarters": 2,
        "zoom": 1.5,
        "x": 0.2,
        "y": 0.9,
    }
    kept = change(client, shot, fit=fit).json()
    asked = {"revision": kept["revision"], "width": 1200}
    around = shown(client.get(f"/api/shots/{shot}/fit/stills/0/around.jpg", params=asked))
    frame = shown(client.get(f"/api/shots/{shot}/frames/0.jpg", params=asked))
    (left, top), _, (right, bottom), _ = kept["brief"]["seen"]["corners"]
    height, width = around.shape[:2]
    part = Image.fromarray(around.astype(np.uint8)).resize(
        (640, 360), Image.Resampling.BOX, box=(left * width, top * height, right * width, bottom * height)
    )
    assert np.abs(np.asarray(part).astype(int) - frame).mean() < 4


def test_the_whole_shot_is_shown_as_the_stills_are_turned(client, gathered, finished):
    shot = gathered(6, (600, 400))
    put_together(client, finished, shot)
    plain = shown(client.get(f"/api/shots/{shot}/fit/stack/mean.jpg", params={"revision": 1}))
    turned = shown(
        client.get(f"/api/shots/{shot}/fit/stack/mean.jpg", params={"revision": 1, "change": trying(quarters=1)})
    )
    assert np.abs(turned - np.rot90(plain, -1)).mean() < 3
    assert client.get(f"/api/shots/{shot}/fit/stack/secret.jpg", params={"revision": 1}).status_code == 422


def test_a_colour_is_taken_from_the_picture_and_fills_the_surround(client, gathered):
    shot = gathered(1, (600, 400))
    asked = {"revision": 1, "x": 0.2, "y": 0.4}
    colour = client.get(f"/api/shots/{shot}/fit/stills/0/colour", params=asked).json()["colour"]
    expected = scene(600, 400)[160, 120]
    found = [int(colour[at : at + 2], 16) for at in (1, 3, 5)]
    assert np.abs(np.array(found) - expected).max() <= 6
    fit = {"how": "contain", "surround": {"kind": "colour", "colour": colour}}
    kept = change(client, shot, fit=fit).json()
    assert f"edges in {colour}" in "".join(part["text"] for part in kept["brief"]["parts"])
    frame = shown(client.get(f"/api/shots/{shot}/frames/0.jpg", params={"revision": kept["revision"], "width": 640}))
    assert np.abs(frame[:, 5].mean(axis=0) - found).max() <= 2


def test_what_is_cut_off_is_asked_with_a_change_and_needs_no_check(client, gathered):
    shot = gathered(20)
    change_text = trying(size={"width": 360, "height": 640})
    found = client.get(f"/api/shots/{shot}/fit/cutoff", params={"revision": 1, "change": change_text}).json()
    assert set(found) == {"sentence", "stretches"}
    for stretch in found["stretches"]:
        assert 0 <= stretch["first"] <= stretch["last"] < 20
    whole = client.get(f"/api/shots/{shot}/fit/cutoff", params={"revision": 1, "change": trying(how="contain")}).json()
    assert whole == {"sentence": "", "stretches": []}


@pytest.mark.parametrize(
    "fit",
    [
        {"surround": {"colour": "red"}},
        {"surround": {"colour": "#12345"}},
        {"zoom": 0},
        {"zoom": 1e9},
        {"level": 90},
        {"quarters": 4},
        {"lens": {"k1": 3}},
        {"sharpen": "very"},
        {"x": float("1e400")},
    ],
)
def test_a_fit_that_cannot_be_is_refused(client, gathered, fit):
    shot = gathered(1)
    text = json.dumps({"fit": fit})
    answer = client.get(f"/api/shots/{shot}/frames/0.jpg", params={"revision": 1, "change": text})
    assert answer.status_code == 422
    assert answer.json()["detail"]


def test_a_frame_made_quickly_is_the_same_frame(client, gathered):
    shot = gathered(3, (1800, 1200))
    asked = {"revision": 1, "width": 640, "change": trying(level=3.0)}
    careful, quick = (
        shown(client.get(f"/api/shots/{shot}/frames/1.jpg", params=asked | {"quickly": quickly}))
        for quickly in (False, True)
    )
    assert careful.shape == quick.shape == (360, 640, 3)
    assert np.abs(careful - quick).mean() < 2.5


def test_what_stars_lose_is_told_until_they_are_kept_bright(client, project, card, finished):
    (card / "sky").mkdir()
    for number in range(3):
        Image.fromarray(night(500, level=0, seed=number)).save(card / "sky" / f"sky_{number}.png")
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": "sky"}).json()
    finished(started["job"]["id"])
    shot = started["shot_id"]

    def said(**fit):
        revision = change(client, shot, fit=fit).json()["revision"]
        return client.get(f"/api/shots/{shot}/fit/small-lights", params={"revision": revision}).json()["sentence"]

    # One pixel of nine: a ninth of its light against that of a ninth of its code value, log2(0.111 / 0.0118).
    told = said(size={"width": 400, "height": 300})
    assert told == "In “sky_0.png” small lights lose 3.2 stops at this size: keep them bright."
    assert said(linear=True) == ""
    assert said(linear=False, size={"width": 1200, "height": 900}) == ""


def test_a_picture_without_small_lights_says_nothing_of_them(client, gathered):
    shot = gathered(3, (1500, 1000))
    revision = change(client, shot, fit={"size": {"width": 480, "height": 320}}).json()["revision"]
    asked = client.get(f"/api/shots/{shot}/fit/small-lights", params={"revision": revision})
    assert asked.json() == {"sentence": ""}
