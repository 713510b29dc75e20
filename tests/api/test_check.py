"""Checking over the interface: findings, remedies that change the clip, and pictures to look closely by."""

import io
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from tests.patience import wait_until
from tests.planted import GAP, MISFIRE, SOFT, STILLS, write_planted
from tests.serving import copied_shot, put_together


@pytest.fixture(scope="module")
def folder(card: Path) -> Path:
    return write_planted(card / "planted")


@pytest.fixture(scope="module")
def master(client: TestClient, folder: Path) -> int:
    """The planted shot, gathered once."""
    project = client.post("/api/projects", json={"name": "Planted"}).json()["id"]
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    wait_until(lambda: client.get("/api/jobs").json()[0]["state"] == "finished")
    return int(started["shot_id"])


@pytest.fixture
def shot(services, project: int, folder: Path, master: int) -> int:
    return copied_shot(services, master, project, folder)


def found(client: TestClient, shot: int) -> dict[str, dict]:
    answer = client.get(f"/api/shots/{shot}/check").json()
    assert not answer["measuring"]
    return {one["kind"]: one for one in answer["findings"]}


def picture(client: TestClient, address: str) -> np.ndarray:
    answer = client.get(address)
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB")).astype(float)


def remedy(client: TestClient, shot: int, finding: dict, wanted: str) -> dict:
    seen = client.get(f"/api/shots/{shot}").json()["revision"]
    body = {"seen": seen, "keys": [finding["key"]], "remedy": wanted}
    return client.post(f"/api/shots/{shot}/check/remedy", json=body).json()


def test_the_findings_are_ready_when_the_gathering_is(client, shot):
    findings = found(client, shot)
    assert {kind: one["first"] for kind, one in findings.items()} == {
        "misfire": MISFIRE,
        "soft": SOFT,
        "missing": GAP - 1,
    }
    assert not any(one["settled"] for one in findings.values())


def test_a_remedy_changes_the_clip_and_can_be_undone(client, shot):
    findings = found(client, shot)
    aside = remedy(client, shot, findings["misfire"], "set aside")
    assert aside["brief"]["frames"] == STILLS - 1
    filled = remedy(client, shot, findings["missing"], "fill")
    assert filled["brief"]["frames"] == STILLS + 1
    assert found(client, shot)["missing"]["settled"]
    undone = client.post(f"/api/shots/{shot}/undo", json={"seen": filled["revision"]}).json()
    assert undone["brief"]["frames"] == STILLS - 1
    assert not found(client, shot)["missing"]["settled"]
    back = remedy(client, shot, findings["misfire"], "none")
    assert back["brief"]["frames"] == STILLS
    kept = remedy(client, shot, findings["misfire"], "dismiss")
    assert kept["brief"]["frames"] == STILLS
    assert found(client, shot)["misfire"]["settled"]


def test_stills_gathered_before_colours_were_measured_are_checked_and_measured_when_gathered_again(
    client, services, finished, shot
):
    with services.database.transaction() as cursor:
        # Half of them, as a growing shot would have.
        cursor.execute("UPDATE still SET colours = NULL WHERE shot_id = %s AND position < %s", (shot, STILLS // 2))
    before = found(client, shot)
    assert before.keys() == {"misfire", "soft", "missing"}
    kept = remedy(client, shot, before["misfire"], "dismiss")
    finished(client.post(f"/api/shots/{shot}/gather").json()["job"]["id"])
    with services.database.transaction() as cursor:
        cursor.execute("SELECT colours FROM still WHERE shot_id = %s ORDER BY position", (shot,))
        measured = [row["colours"] for row in cursor.fetchall()]
    assert [len(one or b"") for one in measured] == [2 * 2 * 16 * 24] * STILLS
    assert found(client, shot)["misfire"]["settled"]
    assert client.get(f"/api/shots/{shot}").json()["revision"] == kept["revision"]


def test_a_bridge_shows_what_lies_between_before_and_after_it_is_accepted(client, shot):
    finding = found(client, shot)["misfire"]
    base = f"/api/shots/{shot}/stills"
    before, spoiled, after = (picture(client, f"{base}/{MISFIRE + n}.jpg?width=640") for n in (-1, 0, 1))
    between = (before + after) / 2
    tried = picture(
        client, f"{base}/{MISFIRE}/try.jpg?revision=1&remedy=bridge&first={MISFIRE}&last={MISFIRE}&width=640"
    )
    assert np.abs(tried - between).mean() < 2 < np.abs(spoiled - between).mean()
    decided = remedy(client, shot, finding, "bridge")
    used = picture(client, f"{base}/{MISFIRE}/used.jpg?revision={decided['revision']}&width=640")
    assert np.abs(used - tried).max() == 0
    frame = picture(client, f"/api/shots/{shot}/frames/{MISFIRE}.jpg?revision={decided['revision']}&width=640")
    crop = round((used.shape[0] - frame.shape[0]) / 2)
    assert np.abs(frame - used[crop : crop + frame.shape[0]]).mean() < 3
    filled = picture(client, f"{base}/{GAP - 1}/try.jpg?revision=1&remedy=fill&first={GAP - 1}&last={GAP}&width=640")
    left, right = (picture(client, f"{base}/{GAP - n}.jpg?width=640") for n in (1, 0))
    assert np.abs(filled - (left + right) / 2).mean() < 2


def test_a_stretch_and_a_note_are_kept(client, shot):
    stills = [one["id"] for one in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    body = {"seen": 1, "begin": stills[5], "end": stills[24]}
    kept = client.post(f"/api/shots/{shot}/stretch", json=body).json()
    assert kept["brief"]["frames"] == 20
    body = {"seen": kept["revision"], "still": stills[3], "text": " the gull "}
    noted = client.post(f"/api/shots/{shot}/note", json=body).json()
    assert noted["decisions"]["check"]["notes"] == [{"still": stills[3], "text": "the gull"}]
    body |= {"seen": noted["revision"], "text": "  "}
    assert client.post(f"/api/shots/{shot}/note", json=body).json()["decisions"]["check"]["notes"] == []


def test_plots_have_a_value_for_each_still(client, shot):
    plots = {one["name"]: one for one in client.get(f"/api/shots/{shot}/check/plots").json()}
    assert all(len(one["values"]) == STILLS for one in plots.values())
    assert np.argmin(plots["sharpness"]["values"]) == SOFT
    light = np.array(plots["brightness"]["values"])
    assert np.argmax(np.abs(light - np.median(light))) == MISFIRE
    assert plots["interval"]["values"][0] is None
    assert plots["interval"]["values"][GAP] == 15.0
    assert "exposure" not in plots


def test_real_pixels_are_those_of_the_file(client, shot, folder):
    name = client.get(f"/api/shots/{shot}/stills").json()["stills"][4]["name"]
    original = np.asarray(Image.open(folder / name)).astype(float)
    shown = picture(client, f"/api/shots/{shot}/stills/4/spot.jpg?x=0.5&y=0.5&width=300&height=200")
    top, left = (original.shape[0] - 200) // 2, (original.shape[1] - 300) // 2
    assert np.abs(shown - original[top : top + 200, left : left + 300]).mean() < 3


def test_what_changed_and_what_clips_is_shown(client, shot):
    changed = picture(client, f"/api/shots/{shot}/stills/{MISFIRE}/difference.jpg?width=640")
    calm = picture(client, f"/api/shots/{shot}/stills/{MISFIRE - 3}/difference.jpg?width=640")
    assert np.abs(changed - 128).mean() > 3 * np.abs(calm - 128).mean()
    assert np.abs(picture(client, f"/api/shots/{shot}/stills/0/difference.jpg") - 128).max() < 4
    assert picture(client, f"/api/shots/{shot}/stills/3/clipped.jpg?width=640").shape[1] == 640


def test_the_whole_shot_is_put_together_without_what_is_set_aside(client, shot, finished):
    remedy(client, shot, found(client, shot)["misfire"], "set aside")
    not_yet = client.get(f"/api/shots/{shot}/stack/mean.jpg")
    assert (not_yet.status_code, not_yet.json()["code"]) == (409, "not_put_together")
    put_together(client, finished, shot)
    put_together(client, finished, shot, first=3, last=3)
    brightest, darkest, mean = (
        picture(client, f"/api/shots/{shot}/stack/{kind}.png") for kind in ("brightest", "darkest", "mean")
    )
    assert (darkest <= mean + 1).all()
    assert (mean <= brightest + 1).all()
    part = picture(client, f"/api/shots/{shot}/stack/mean.png?first=3&last=3")
    still = picture(client, f"/api/shots/{shot}/stills/3.jpg?width={part.shape[1]}")
    assert np.abs(part - still).mean() < 2
    assert picture(client, f"/api/shots/{shot}/stack/activity.jpg").shape == mean.shape


def test_what_is_not_there_is_refused_in_a_sentence(client, shot):
    body = {"seen": 1, "keys": ["misfire:1-1"], "remedy": "bridge"}
    gone = client.post(f"/api/shots/{shot}/check/remedy", json=body)
    assert (gone.status_code, gone.json()["code"]) == (409, "finding_gone")
    base = f"/api/shots/{shot}"
    for address in ("stills/99/spot.jpg?x=0&y=0", "stills/99/difference.jpg", "stills/99/used.jpg?revision=1"):
        assert client.get(f"{base}/{address}").status_code == 404
    assert client.get(f"{base}/stills/99/try.jpg?revision=1&remedy=repeat&first=99&last=99").status_code == 404
    assert client.get(f"{base}/stack/mean.jpg?first=50").status_code == 404
    assert client.get(f"{base}/stills/0/spot.jpg?x=2&y=0").status_code == 422
    assert client.get(f"{base}/stack/median.jpg").status_code == 422


def test_new_neighbours_are_measured_when_the_order_changes(client, shot):
    order = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    body = {"seen": 1, "stills": [order[30]["id"]], "to": 2}
    assert client.post(f"/api/shots/{shot}/order/move", json=body).status_code == 200
    # The check that this starts stands in nobody's way.
    client.get(f"/api/shots/{shot}/check")
    split = client.post(f"/api/shots/{shot}/split", json={"before": [order[33]["id"]]})
    assert split.status_code == 200, split.text
    wait_until(lambda: not client.get(f"/api/shots/{shot}/check").json()["measuring"])


def test_stills_are_bridged_or_repeated_whatever_was_found_about_them(client, gathered):
    shot = gathered(5)
    ids = [still["id"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    revision = client.get(f"/api/shots/{shot}").json()["revision"]

    def mended(stills, how):
        nonlocal revision
        answer = client.post(f"/api/shots/{shot}/mend", json={"seen": revision, "stills": stills, "how": how})
        assert answer.status_code == 200, answer.text
        revision = answer.json()["revision"]
        check = answer.json()["decisions"]["check"]
        return check["aside"], check["bridged"], check["repeated"]

    assert mended(ids[1:3], "bridged") == ([], sorted(ids[1:3]), [])
    # A still is in one state at a time.
    assert mended([ids[2]], "repeated") == ([], [ids[1]], [ids[2]])
    aside = client.post(f"/api/shots/{shot}/aside", json={"seen": revision, "stills": [ids[3]], "aside": True})
    revision = aside.json()["revision"]
    assert mended(ids, "as it is") == ([], [], [])
    stale = client.post(f"/api/shots/{shot}/mend", json={"seen": revision - 1, "stills": ids, "how": "bridged"})
    assert stale.status_code == 409
    assert client.post(f"/api/shots/{shot}/undo", json={"seen": revision}).json()["decisions"]["check"]["aside"] == [
        ids[3]
    ]
