"""Projects, decisions and the pictures they make."""

import io
import json

import numpy as np
import pytest
from PIL import Image

from tests.clips import frame_of
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe


def change(client, shot, **changes):
    before = client.get(f"/api/shots/{shot}").json()
    decisions = {step: before["decisions"][step] | changes.get(step, {}) for step in before["decisions"]}
    return client.put(f"/api/shots/{shot}/decisions", json={"seen": before["revision"], "decisions": decisions})


def test_a_decision_is_kept_and_the_brief_follows(client, gathered):
    shot = gathered(30)
    answer = change(client, shot, pace={"rate": "24000/1001", "hold": 3}, fit={"size": {"width": 1080, "height": 1920}})
    assert answer.status_code == 200
    kept = client.get(f"/api/shots/{shot}").json()
    assert kept["revision"] == 2
    assert kept["decisions"]["pace"] | {"rate": "24000/1001", "hold": 3} == kept["decisions"]["pace"]
    assert (kept["brief"]["frames"], kept["brief"]["timecode"]) == (90, "00:00:03:18")
    assert kept["brief"]["seconds"] == pytest.approx(90 * 1001 / 24000)
    assert "1080 × 1920" in "".join(part["text"] for part in kept["brief"]["parts"])


def test_a_change_made_from_an_older_revision_says_what_the_newer_one_changed(client, gathered):
    shot = gathered(2)
    before = client.get(f"/api/shots/{shot}").json()
    assert change(client, shot, pace={"hold": 4}).status_code == 200
    stale = client.put(f"/api/shots/{shot}/decisions", json={"seen": 1, "decisions": before["decisions"]})
    assert (stale.status_code, stale.json()["code"]) == (409, "stale_revision")
    assert "pace was changed" in stale.json()["detail"]
    assert client.get(f"/api/shots/{shot}").json()["decisions"]["pace"]["hold"] == 4


@pytest.mark.parametrize(
    ("changes", "sentence"),
    [
        (
            {"fit": {"size": {"width": 1919, "height": 1080}}},
            "1919 is odd; a video's sides are even. 1918 and 1920 both work.",
        ),
        ({"pace": {"rate": "0"}}, "A rate of 0 frames per second cannot be used. Choose 1 to 240."),
        ({"pace": {"hold": 0}}, "“0” is too small for hold: it must be 1 or more."),
        ({"fit": {"how": "squash"}}, "“squash” is not a choice for how: it is 'cover', 'contain' or 'stretch'."),
        (
            {"fit": {"size": {"width": 20000, "height": 1080}}},
            "“20000” is too large for width: it must be 8192 or less.",
        ),
    ],
)
def test_decisions_that_cannot_be_are_refused_with_a_sentence(client, gathered, changes, sentence):
    shot = gathered(1)
    refused = change(client, shot, **changes)
    assert refused.status_code == 422
    assert refused.headers["content-type"] == "application/problem+json"
    assert refused.json()["detail"] == sentence
    assert client.get(f"/api/shots/{shot}").json()["revision"] == 1


def test_the_picture_on_the_stage_is_the_frame_of_the_clip(client, gathered, card):
    shot = gathered(4, (1200, 800))
    decisions = Decisions.model_validate(
        {"fit": {"size": {"width": 640, "height": 360}, "y": 0.2}, "pace": {"hold": 2}}
    )
    rows = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    folder = client.get(f"/api/shots/{shot}").json()["folder"]
    taken = tuple(
        Still(path=f"{folder}/{row['name']}", fingerprint=row["fingerprint"], width=1200, height=800) for row in rows
    )
    tried = {"fit": decisions.fit.model_dump(), "pace": decisions.pace.model_dump(mode="json")}
    asked = {"revision": 1, "change": json.dumps(tried), "width": 320}
    answer = client.get(f"/api/shots/{shot}/frames/5.jpg", params=asked)
    assert answer.headers["Yarnkite-Timecode"] == "00:00:00:05"
    shown = np.asarray(Image.open(io.BytesIO(answer.content)), float)
    expected = frame_of(Recipe(stills=taken, decisions=decisions), 5, Size(width=320, height=180))
    assert shown.shape == expected.shape
    assert np.abs(shown - expected).mean() < 2
    of_still = client.get(f"/api/shots/{shot}/stills/2/frame.jpg", params=asked)
    assert (of_still.content, of_still.headers["Yarnkite-Timecode"]) == (
        client.get(f"/api/shots/{shot}/frames/4.jpg", params=asked).content,
        "00:00:00:04",
    )
    assert client.get(f"/api/shots/{shot}/frames/8.jpg", params=asked).status_code == 404
    assert client.get(f"/api/shots/{shot}/frames/0.jpg", params=asked | {"revision": 9}).status_code == 404
    assert client.get(f"/api/shots/{shot}/frames/0.jpg", params=asked | {"change": "{broken"}).status_code == 422


def test_every_decision_can_be_undone_and_made_again(client, gathered):
    shot = gathered(2)

    def step(way: str) -> dict:
        seen = client.get(f"/api/shots/{shot}").json()["revision"]
        return client.post(f"/api/shots/{shot}/{way}", json={"seen": seen}).json()

    def holds(shown: dict) -> tuple[int, bool, bool]:
        return shown["decisions"]["pace"]["hold"], shown["can_undo"], shown["can_redo"]

    assert holds(client.get(f"/api/shots/{shot}").json()) == (1, False, False)
    assert step("undo")["code"] == "nothing_to_undo"
    for hold in (2, 3, 4):
        change(client, shot, pace={"hold": hold})
    assert [holds(step("undo")) for _ in range(3)] == [(3, True, True), (2, True, True), (1, False, True)]
    assert [holds(step("redo")) for _ in range(2)] == [(2, True, True), (3, True, True)]
    assert holds(step("undo")) == (2, True, True)
    change(client, shot, pace={"hold": 9})
    assert step("redo")["code"] == "nothing_to_redo"
    assert [holds(step("undo"))[0] for _ in range(2)] == [2, 1]
    assert client.post(f"/api/shots/{shot}/redo", json={"seen": 1}).json()["code"] == "stale_revision"


def test_stills_set_aside_leave_the_clip_and_come_back(client, gathered):
    shot = gathered(5)
    ids = [still["id"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    aside = {"seen": 1, "stills": [ids[1], ids[3]], "aside": True}
    kept = client.post(f"/api/shots/{shot}/aside", json=aside).json()
    assert kept["brief"]["frames"] == 3
    assert "3 of 5 stills" in "".join(part["text"] for part in kept["brief"]["parts"])
    asked = {"revision": 2, "width": 64}
    shown = [client.get(f"/api/shots/{shot}/frames/{n}.jpg", params=asked).content for n in range(3)]
    as_shot = [client.get(f"/api/shots/{shot}/stills/{n}/frame.jpg", params=asked) for n in range(5)]
    assert shown == [as_shot[n].content for n in (0, 2, 4)]
    assert [answer.headers.get("Yarnkite-Timecode") for answer in as_shot] == [
        *("00:00:00:00", None, "00:00:00:01", None, "00:00:00:02"),
    ]
    back = client.post(f"/api/shots/{shot}/aside", json={"seen": 2, "stills": [ids[1]], "aside": False}).json()
    assert back["decisions"]["check"]["aside"] == [ids[3]]
    assert back["brief"]["frames"] == 4


def test_a_lost_original_is_named_where_its_picture_would_be(client, gathered, card):
    shot = gathered(2, (900, 600))
    folder = client.get(f"/api/shots/{shot}").json()["folder"]
    next(path for path in card.rglob("MRW_2.jpg") if str(path).startswith(folder)).unlink()
    asked = client.get(f"/api/shots/{shot}/stills/1.jpg?width=800")
    assert (asked.status_code, asked.json()["code"]) == (422, "lost")
    assert "MRW_2.jpg" in asked.json()["detail"]
    assert client.get(f"/api/shots/{shot}/stills/0.jpg?width=800").status_code == 200


def test_projects_have_names_of_their_own(client, project):
    name = client.get(f"/api/projects/{project}").json()["name"]
    assert client.post("/api/projects", json={"name": name}).json()["code"] == "name_taken"
    assert client.post("/api/projects", json={"name": "   "}).status_code == 422
    assert client.put(f"/api/projects/{project}", json={"name": name + " ✓"}).json()["name"] == name + " ✓"
    assert client.get("/api/projects/99999").json()["code"] == "no_such_project"


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Host": "evil.example"}, 403),
        ({"Host": "127.0.0.1.evil.example:8460"}, 403),
        ({"Origin": "http://evil.example"}, 403),
        ({"Origin": "null"}, 403),
        ({"Origin": "http://127.0.0.1:8460"}, 422),
        ({"Host": "localhost:9"}, 422),
    ],
)
def test_only_our_own_pages_may_ask_for_changes(client, headers, status):
    assert client.post("/api/projects", json={}, headers=headers).status_code == status


ODD = ["0", "-1", "99999999999999999999", "1.5", "null", "%00", "a" * 300, "1;DROP TABLE shot", "'", "🪁"]


@pytest.mark.parametrize("value", ODD)
def test_odd_addresses_and_bodies_never_end_in_a_500(client, value):
    quoted = value if value == "%00" else value.replace("/", "%2F")
    for path in (
        "projects/{}",
        "shots/{}",
        "shots/{}/stills",
        "shots/{}/tail.png",
        "shots/{}/stills/0.jpg",
        "clips/{}/file",
    ):
        assert client.get("/api/" + path.format(quoted)).status_code in (404, 422)
    assert client.get(f"/api/shots/1/frames/{quoted}.jpg", params={"revision": 1, "change": value}).status_code in (
        404,
        422,
    )
    for body in (value, json.dumps(value), json.dumps({"seen": value, "decisions": value}), "[" * 500):
        sent = client.put("/api/shots/1/decisions", content=body, headers={"Content-Type": "application/json"})
        assert sent.status_code in (400, 404, 409, 422)
