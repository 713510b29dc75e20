"""Stills that were rated elsewhere, rated here, and ratings written beside them."""

import os
from pathlib import Path

import pytest

from tests.api.shots import again, opened, rename, stills_of
from tests.conftest import write_jpeg
from tests.core.image.test_xmp import packet
from yarnkite.core.image.xmp import read_xmp


@pytest.fixture
def folder(card: Path, project: int) -> Path:
    """Five stills: two rated by sidecars, one with edits, one with a sidecar that is torn."""
    made = card / f"rated-{project}"
    made.mkdir()
    for number in range(1, 6):
        write_jpeg(made / f"A_{number}.jpg", number)
    (made / "A_1.xmp").write_text(packet('xmp:Rating="4" xmp:Label="Keep"'))
    (made / "A_2.jpg.xmp").write_text(packet('xmp:Rating="-1" xmlns:own="urn:workbench:1" own:Warmth="5400"'))
    (made / "A_3.XMP").write_text("torn")
    return made


@pytest.fixture
def shot(client, project, finished, folder) -> int:
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    return started["shot_id"]


def ratings(client, shot: int) -> list[tuple[int | None, str]]:
    return [(still["rating"], still["label"]) for still in stills_of(client, shot)]


def rate(client, shot: int, places: list[int], rating: int | None) -> None:
    ids = [still["id"] for still in stills_of(client, shot)]
    body = {"seen": opened(client, shot)["revision"], "stills": [ids[place] for place in places], "rating": rating}
    assert client.post(f"/api/shots/{shot}/ratings", json=body).status_code == 200


def test_sidecars_are_read_told_and_read_again_when_they_change(client, finished, shot: int, folder: Path):
    assert ratings(client, shot) == [(4, "Keep"), (-1, ""), (None, ""), (None, ""), (None, "")]
    assert "1 rated and 1 rejected" in client.get(f"/api/shots/{shot}/stills").json()["found"]
    remarks = client.get(f"/api/shots/{shot}/sorting").json()["remarks"]
    assert any("“A_3.XMP”" in said for said in remarks)
    assert any("“A_2.jpg”" in said and "which may be edits" in said for said in remarks)
    plots = {plot["name"]: plot["values"] for plot in client.get(f"/api/shots/{shot}/check/plots").json()}
    assert plots["rating"] == [4, -1, None, None, None]
    ids = [still["id"] for still in stills_of(client, shot)]
    # The size stays what it was: its time of change tells.
    (folder / "A_1.xmp").write_text(packet('xmp:Rating="2" xmp:Label="Keep"'))
    os.utime(folder / "A_1.xmp", (1, 1))
    (folder / "A_2.jpg.xmp").unlink()
    (folder / "A_3.XMP").write_text(packet('xmp:Rating="5"'))
    again(client, finished, shot)
    assert ratings(client, shot) == [(2, "Keep"), (None, ""), (5, ""), (None, ""), (None, "")]
    assert [still["id"] for still in stills_of(client, shot)] == ids
    assert client.get(f"/api/shots/{shot}/sorting").json()["remarks"] == []


def test_what_is_rated_here_counts_more_changes_no_clip_and_is_undone(client, shot: int):
    before = opened(client, shot)
    rate(client, shot, [0, 4], 3)
    rate(client, shot, [1], 0)
    decided = opened(client, shot)["decisions"]["check"]
    ids = [still["id"] for still in stills_of(client, shot)]
    assert {one["still"]: one["rating"] for one in decided["rated"]} == {ids[0]: 3, ids[4]: 3, ids[1]: 0}
    plots = {plot["name"]: plot["values"] for plot in client.get(f"/api/shots/{shot}/check/plots").json()}
    assert plots["rating"] == [3, None, None, None, 3]
    assert opened(client, shot)["brief"] == before["brief"]
    rate(client, shot, [0], None)
    assert {one["still"] for one in opened(client, shot)["decisions"]["check"]["rated"]} == {ids[4], ids[1]}
    client.post(f"/api/shots/{shot}/undo", json={"seen": opened(client, shot)["revision"]})
    assert {one["still"] for one in opened(client, shot)["decisions"]["check"]["rated"]} == {ids[0], ids[4], ids[1]}


def test_ratings_go_with_their_stills_into_another_shot(client, shot: int):
    rate(client, shot, [0, 4], 3)
    ids = [still["id"] for still in stills_of(client, shot)]
    (other,) = client.post(f"/api/shots/{shot}/split-off", json={"stills": ids[3:]}).json()["shots"]
    assert [one["still"] for one in opened(client, other)["decisions"]["check"]["rated"]] == [ids[4]]
    assert ids[0] in [one["still"] for one in opened(client, shot)["decisions"]["check"]["rated"]]
    assert ratings(client, shot)[0] == (4, "Keep")


def test_ratings_are_written_beside_the_stills_as_shown_and_nothing_else_changes(
    client, finished, shot: int, folder: Path
):
    rate(client, shot, [0, 1, 2, 4], 5)
    before = {path.name: path.read_bytes() for path in folder.iterdir()}
    shown = client.get(f"/api/shots/{shot}/ratings/sidecars").json()
    assert shown["sentence"].startswith(
        "2 sidecars beside the stills get another rating and keep all else, 1 sidecar is new"
    )
    assert len(shown["refused"]) == 1
    assert "“A_3.XMP”" in shown["refused"][0]
    assert {path.name: path.read_bytes() for path in folder.iterdir()} == before
    (folder / "A_2.jpg.xmp").write_text(packet('xmp:Rating="5"'))
    stale = client.post(f"/api/shots/{shot}/ratings/sidecars", json={"digest": shown["digest"]})
    assert stale.status_code == 409
    (folder / "A_2.jpg.xmp").write_bytes(before["A_2.jpg.xmp"])
    written = client.post(f"/api/shots/{shot}/ratings/sidecars", json={"digest": shown["digest"]})
    assert written.json() == {"files": 3}
    after = {path.name: path.read_bytes() for path in folder.iterdir()}
    assert after.keys() - before.keys() == {"A_5.xmp"}
    changed = {name for name in before if after[name] != before[name]}
    assert changed == {"A_1.xmp", "A_2.jpg.xmp"}
    assert {name: read_xmp(after[name], name).rating for name in (*changed, "A_5.xmp")} == dict.fromkeys(
        (*changed, "A_5.xmp"), 5
    )
    assert b'own:Warmth="5400"' in after["A_2.jpg.xmp"]
    again(client, finished, shot)
    assert [rating for rating, _ in ratings(client, shot)] == [5, 5, None, None, 5]
    assert client.get(f"/api/shots/{shot}/ratings/sidecars").json()["files"] == 0


def test_a_sidecar_follows_its_still_when_that_is_renamed(client, finished, shot: int, folder: Path):
    assert rename(client, shot).status_code == 200
    again(client, finished, shot)
    assert ratings(client, shot)[:2] == [(4, "Keep"), (-1, "")]
    rate(client, shot, [0], 1)
    shown = client.get(f"/api/shots/{shot}/ratings/sidecars").json()
    assert shown["files"] == 1
    client.post(f"/api/shots/{shot}/ratings/sidecars", json={"digest": shown["digest"]})
    name = Path(stills_of(client, shot)[0]["name"]).with_suffix(".xmp").name
    assert read_xmp((folder / name).read_bytes(), name).rating == 1
