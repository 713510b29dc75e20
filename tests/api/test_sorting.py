"""A folder is sorted out: proposals are accepted or turned down, shots split, joined, copied and found again."""

import csv
import io
import shutil
from datetime import timedelta
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.api.shots import small
from tests.conftest import BEGINS, exif, scene, write_jpeg
from tests.core.gather.test_footage import film
from yarnkite.demo.dng import write_dng


def write_at(path: Path, seconds: float, size=(480, 320), **tags: str) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    said = exif(BEGINS + timedelta(seconds=seconds))
    for tag, value in tags.items():
        said[int(tag[1:])] = value
    Image.fromarray(scene(*size, round(seconds))).save(path, "JPEG", quality=90, exif=said)


@pytest.fixture
def use(client, project, finished):
    """Gather a folder of the card; returns the shot's id."""

    def use(folder: Path, **more) -> int:
        body = {"location": "card", "path": folder.name} | more
        started = client.post(f"/api/projects/{project}/shots", json=body).json()
        assert finished(started["job"]["id"])["state"] == "finished"
        return started["shot_id"]

    return use


@pytest.fixture
def mess(card, project) -> Path:
    """A card with a test shot, a burst, an edited copy, a second burst after a pause, and what lies around."""
    folder = card / f"mess-{project}"
    write_at(folder / "A_0001.JPG", -3000)
    for number in range(14):
        write_at(folder / f"A_{number + 2:04}.JPG", 5 * number)
    write_at(folder / "A_0005-edit.JPG", 15, (240, 160), t305="Darkshed 4")
    for number in range(9):
        write_at(folder / f"A_{number + 16:04}.JPG", 4000 + 5 * number)
    write_dng(folder / "A_0003.DNG", scene(480, 320), "Marrow Lantern", BEGINS + timedelta(seconds=5))
    (folder / "A_0003.XMP").write_text("<notes/>")
    film(folder / "walk.mp4", frames=6)
    (folder / "wind.wav").write_bytes(b"RIFF")
    return folder


def names(client, shot: int) -> list[str]:
    return [still["name"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]


def files_in(folder: Path) -> dict[str, bytes]:
    return {str(path.relative_to(folder)): path.read_bytes() for path in folder.rglob("*") if path.is_file()}


def test_what_a_messy_card_holds_is_said_and_put_right_by_one_action(client, use, mess):
    before = files_in(mess)
    shot = use(mess)
    found = client.get(f"/api/shots/{shot}/sorting").json()
    assert {kind["kind"]: kind["files"] for kind in found["left_out"]} == {
        "pair": 1,
        "sidecar": 1,
        "footage": 1,
        "sound": 1,
    }
    proposed = {one["kind"]: one for one in found["proposals"]}
    assert {kind: (one["action"], len(one["stills"])) for kind, one in proposed.items()} == {
        "edited copy": ("set aside", 1),
        "test shot": ("set aside", 1),
        "another burst": ("own shot", 9),
    }
    choices = [{"key": one["key"], "action": one["action"]} for one in found["proposals"]]
    done = client.post(f"/api/shots/{shot}/sorting", json={"seen": 1, "choices": choices}).json()
    assert (len(done["shots"]), done["aside"]) == (1, 2)
    assert client.get(f"/api/shots/{shot}").json()["brief"]["frames"] == 14
    other = client.get(f"/api/shots/{done['shots'][0]}").json()
    assert other["brief"]["frames"] == 9
    assert other["gathered"]
    assert client.get(f"/api/shots/{shot}/sorting").json()["proposals"] == []
    again = client.post(f"/api/shots/{shot}/sorting", json={"seen": 2, "choices": choices})
    assert again.json()["code"] == "proposal_gone"
    assert files_in(mess) == before


def test_a_proposal_that_is_turned_down_stays_down(client, use, mess):
    shot = use(mess)
    proposals = client.get(f"/api/shots/{shot}/sorting").json()["proposals"]
    choices = [{"key": one["key"], "action": "keep"} for one in proposals]
    assert client.post(f"/api/shots/{shot}/sorting", json={"seen": 1, "choices": choices}).json()["shots"] == []
    assert client.get(f"/api/shots/{shot}/sorting").json()["proposals"] == []
    assert client.get(f"/api/shots/{shot}").json()["brief"]["frames"] == 25


def test_shots_are_split_by_hand_and_joined_again(client, use, mess, project):
    shot = use(mess)
    rows = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    ids, all_names = [row["id"] for row in rows], names(client, shot)
    client.post(f"/api/shots/{shot}/aside", json={"seen": 1, "stills": [ids[4], ids[12]], "aside": True})
    made = client.post(f"/api/shots/{shot}/split", json={"before": [ids[10], ids[20]]}).json()["shots"]
    assert [names(client, one) for one in (shot, *made)] == [all_names[:10], all_names[10:20], all_names[20:]]
    assert [client.get(f"/api/shots/{one}").json()["brief"]["frames"] for one in (shot, *made)] == [9, 9, 5]
    assert client.post(f"/api/shots/{shot}/split", json={"before": [ids[0]]}).json()["code"] == "nothing_left"
    assert client.post(f"/api/shots/{shot}/split", json={"before": [ids[20]]}).json()["code"] == "no_such_still"
    for other in reversed(made):
        client.post(f"/api/shots/{shot}/join", json={"other": other})
    assert names(client, shot) == all_names
    assert client.get(f"/api/shots/{shot}").json()["brief"]["frames"] == 23
    assert [one["id"] for one in client.get(f"/api/projects/{project}").json()["shots"]] == [shot]


def test_shots_of_two_folders_join_under_their_common_one(client, project, use, card, finished):
    for place, first in (("one", 1), ("two", 7)):
        for number in range(6):
            write_at(card / f"cards-{project}" / place / f"B_{first + number}.JPG", 5 * (first + number))
    shots = []
    for place in ("one", "two"):
        body = {"location": "card", "path": f"cards-{project}/{place}"}
        started = client.post(f"/api/projects/{project}/shots", json=body).json()
        assert finished(started["job"]["id"])["state"] == "finished"
        shots.append(started["shot_id"])
    client.post(f"/api/shots/{shots[0]}/join", json={"other": shots[1]})
    assert names(client, shots[0]) == [
        *(f"one/B_{number}.JPG" for number in range(1, 7)),
        *(f"two/B_{number}.JPG" for number in range(7, 13)),
    ]
    assert client.get(f"/api/shots/{shots[0]}/stills/8.jpg?width=64").status_code == 200


def test_a_folder_used_again_gives_only_what_is_new(client, use, mess):
    shot = use(mess)
    rows = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    out = [row["id"] for row in rows if row["name"] in ("A_0001.JPG", "A_0010.JPG")]
    assert client.post(f"/api/shots/{shot}/take-out", json={"stills": out}).status_code == 204
    (split,) = client.post(f"/api/shots/{shot}/split", json={"before": [rows[20]["id"]]}).json()["shots"]
    before, ids = names(client, shot), {row["name"]: row["id"] for row in rows}
    write_at(mess / "A_0100.JPG", 5000)
    assert use(mess) == shot
    assert names(client, shot) == [*before, "A_0100.JPG"]
    after = client.get(f"/api/shots/{shot}/stills").json()
    assert all(ids[row["name"]] == row["id"] for row in after["stills"] if row["name"] in ids)
    assert {file["name"] for file in after["left_out"] if file["kind"] == "taken out"} == {"A_0001.JPG", "A_0010.JPG"}
    assert len(names(client, split)) == 5
    assert (mess / "A_0001.JPG").exists()


def test_what_was_taken_out_can_be_brought_back(client, use, mess, finished):
    shot = use(mess)
    before = names(client, shot)
    ids = [row["id"] for row in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    client.post(f"/api/shots/{shot}/take-out", json={"stills": ids[3:7]})
    assert names(client, shot) == before[:3] + before[7:]
    assert finished(client.post(f"/api/shots/{shot}/bring-back").json()["job"]["id"])["state"] == "finished"
    assert names(client, shot) == before


def test_the_raw_file_of_a_pair_can_be_used_instead(client, use, mess, finished):
    shot = use(mess)
    assert "A_0003.JPG" in names(client, shot)
    started = client.put(f"/api/shots/{shot}/raws", json={"raws": True}).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    assert "A_0003.DNG" in names(client, shot)
    assert "A_0003.JPG" not in names(client, shot)
    place = names(client, shot).index("A_0003.DNG")
    shown = Image.open(io.BytesIO(client.get(f"/api/shots/{shot}/stills/{place}.jpg?width=480").content))
    assert np.abs(np.asarray(shown, float) - scene(480, 320)).mean() < 20


def test_copied_stills_outlive_the_card(client, use, mess, project):
    originals = files_in(mess)
    shot = use(mess, copy_files=True)
    folder = Path(client.get(f"/api/shots/{shot}").json()["folder"])
    copies = files_in(folder)
    assert copies == {name: data for name, data in originals.items() if not name.endswith((".mp4", ".wav"))}
    assert (folder / "A_0004.JPG").stat().st_mtime == (mess / "A_0004.JPG").stat().st_mtime
    shutil.rmtree(mess)
    assert client.get(f"/api/projects/{project}/lost").json() == []
    assert client.get(f"/api/shots/{shot}/stills/3.jpg?width=320").status_code == 200


def test_moved_stills_are_found_again_by_name_and_fingerprint(client, use, mess, project, card, finished):
    shot = use(mess)
    before = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    moved = card / f"shelf-{project}" / "2031"
    shutil.move(mess, moved)
    (moved / "A_0004.JPG").rename(moved / "renamed.JPG")
    (moved / "A_0006.JPG").unlink()
    write_at(moved / "A_0006.JPG", 99)
    (lost,) = client.get(f"/api/projects/{project}/lost").json()
    assert (lost["shot_id"], lost["lost"], lost["first"]) == (shot, 25, "A_0001.JPG")
    # What a reduced copy is fine enough for is still shown; what needs the file names it.
    assert client.get(f"/api/shots/{shot}/stills/3.jpg?width=320").status_code == 200
    large = client.get(f"/api/shots/{shot}/stills/3/frame.jpg?revision=1&width=2000")
    assert (large.status_code, large.json()["code"]) == (422, "lost")
    assert "“A_0004.JPG”" in large.json()["detail"]
    wrong = card / f"empty-{project}"
    wrong.mkdir()
    for place, state in ((wrong.name, "failed"), (f"shelf-{project}", "finished")):
        answer = client.post(f"/api/projects/{project}/find", json={"location": "card", "path": place}).json()
        job = finished(answer["jobs"][0]["id"])
        assert job["state"] == state
    assert "24 stills found" in job["message"]
    assert "1 are still lost" in job["message"]
    after = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    assert [still["id"] for still in after] == [still["id"] for still in before]
    assert after[3]["name"] == "renamed.JPG"
    assert [one["lost"] for one in client.get(f"/api/projects/{project}/lost").json()] == []


def test_footage_becomes_a_shot(client, card, project, finished):
    film(card / f"walk-{project}.mp4", frames=60, sound=True)
    asked = {"location": "card", "path": f"walk-{project}.mp4", "taking": {"every_frames": 12}}
    seen = client.post("/api/footage", json=asked).json()
    assert (seen["frames"], seen["rate"], seen["sound"], seen["stills"]) == (60, "25", True, 5)
    started = client.post(f"/api/projects/{project}/footage", json=asked).json()
    job = finished(started["job"]["id"])
    assert job["state"] == "finished"
    assert "sound can be laid under it" in job["message"]
    shot = started["shot_id"]
    assert names(client, shot) == [f"walk-{project}_{n:04}.jpg" for n in range(1, 6)]
    assert client.get(f"/api/shots/{shot}/stills").json()["stills"][1]["interval_s"] == pytest.approx(0.48)
    levels = []
    for n in range(5):
        shown = Image.open(io.BytesIO(client.get(f"/api/shots/{shot}/stills/{n}.jpg?width=160").content))
        levels.append(round((np.asarray(shown)[-8:].mean() - 20) / 3))
    assert levels == [0, 12, 24, 36, 48]
    assert client.post("/api/footage", json=asked | {"path": "../film.mp4"}).status_code in (400, 404)
    assert client.post("/api/footage", json=asked | {"taking": {}}).status_code == 422


COUNTER = [{"kind": "shot"}, {"kind": "text", "text": "_"}, {"kind": "counter"}]


@pytest.mark.parametrize("what", ["files", "shot", "fitted"])
def test_stills_are_written_under_new_names_into_a_new_folder(client, use, mess, card, project, finished, what):
    shot = use(mess)
    ids = [row["id"] for row in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    client.post(f"/api/shots/{shot}/aside", json={"seen": 1, "stills": ids[:2], "aside": True})
    small(client, shot)
    before, used = files_in(mess), names(client, shot)[2:]
    body = {"parts": [{"kind": "text", "text": "reach_"}, {"kind": "counter"}], "what": what, "format": "PNG"}
    planned = client.post(f"/api/shots/{shot}/export/list", json=body).json()
    stills = [line for line in planned["lines"] if line["still"] is not None]
    assert [line["old"] for line in stills] == used
    assert planned["problems"] == 0
    into = body | {"location": "card", "path": "", "folder": f"written-{project}"}
    job = finished(client.post(f"/api/shots/{shot}/export", json=into).json()["id"])
    assert job["state"] == "finished", job["message"]
    written = files_in(card / f"written-{project}")
    if what == "files":
        follows = {"A_0003.DNG": "DNG", "A_0003.XMP": "XMP"}
        pairs = zip([line["old"] for line in stills], [line["new"] for line in stills], strict=True)
        expected = {new: before[old] for old, new in pairs}
        place = used.index("A_0003.JPG") + 1
        expected |= {f"reach_{place:04}.{ending}": before[old] for old, ending in follows.items()}
        assert written == expected
        assert planned["needed"] == sum(map(len, written.values()))
    else:
        assert sorted(written) == [f"reach_{n:04}.png" for n in range(1, len(used) + 1)]
        size = Image.open(io.BytesIO(written["reach_0001.png"])).size
        assert size == ((480, 320) if what == "shot" else (160, 90))
    assert files_in(mess) == before
    assert client.post(f"/api/shots/{shot}/export", json=into).json()["code"] == "folder_not_empty"
    for wrong in ("../out", "/etc/out", "a/../../out"):
        assert client.post(f"/api/shots/{shot}/export", json=into | {"folder": wrong}).status_code in (400, 404)


def test_a_shot_list_goes_out_and_comes_back(client, use, mess):
    shot = use(mess)
    rows = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    ids, first = [row["id"] for row in rows], names(client, shot)
    client.post(f"/api/shots/{shot}/aside", json={"seen": 1, "stills": [ids[2]], "aside": True})
    client.post(f"/api/shots/{shot}/order/reverse", json={"seen": 2, "stills": []})
    listed = client.get(f"/api/shots/{shot}/list.csv").text
    document = client.get(f"/api/shots/{shot}/list.otio").text
    assert [row["name"] for row in csv.DictReader(io.StringIO(listed))] == first[::-1]
    for _ in range(2):
        seen = client.get(f"/api/shots/{shot}").json()["revision"]
        client.post(f"/api/shots/{shot}/undo", json={"seen": seen})
    assert names(client, shot) == first
    for kind, text in (("csv", listed), ("otio", document)):
        seen = client.get(f"/api/shots/{shot}").json()["revision"]
        opened = client.post(f"/api/shots/{shot}/list", json={"seen": seen, "format": kind, "text": text}).json()
        assert (opened["placed"], opened["aside"], opened["unknown"]) == (24, 1, [])
        assert opened["revised"]["decisions"]["check"]["aside"] == [ids[2]]
        used = [name for name in names(client, shot) if name != rows[2]["name"]]
        assert used == [name for name in first[::-1] if name != rows[2]["name"]]
        assert opened["revised"]["decisions"]["pace"]["rate"] == "25"
        seen = opened["revised"]["revision"]
        client.post(f"/api/shots/{shot}/undo", json={"seen": seen})
    other = client.post(f"/api/shots/{shot}/list", json={"seen": seen + 1, "format": "csv", "text": "name\nx.jpg\n"})
    assert other.json()["code"] == "other_shot"


def test_patterns_are_kept_by_name_and_nothing_else_carries_over(client):
    parts = [{"kind": "text", "text": "x", "start": 1, "step": 1, "digits": 0}]
    assert client.put("/api/patterns", json={"name": "plain", "parts": parts}).status_code == 200
    assert {"name": "plain", "parts": parts} in client.get("/api/patterns").json()
    assert client.delete("/api/patterns/plain").status_code == 204
    assert "plain" not in [one["name"] for one in client.get("/api/patterns").json()]


def test_a_shot_can_have_another_name_and_be_forgotten(client, use, card, project):
    write_jpeg(card / f"few-{project}" / "A_1.jpg")
    shot = use(card / f"few-{project}")
    assert client.put(f"/api/shots/{shot}/name", json={"name": " Low tide "}).status_code == 204
    assert client.get(f"/api/shots/{shot}").json()["name"] == "Low tide"
    assert client.delete(f"/api/shots/{shot}").status_code == 204
    assert client.get(f"/api/shots/{shot}").status_code == 404
    assert (card / f"few-{project}" / "A_1.jpg").exists()


def test_any_run_of_stills_becomes_a_shot_of_its_own(client, gathered):
    shot = gathered(6)
    ids = [still["id"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    (made,) = client.post(f"/api/shots/{shot}/split-off", json={"stills": ids[2:4]}).json()["shots"]
    assert [still["id"] for still in client.get(f"/api/shots/{made}/stills").json()["stills"]] == ids[2:4]
    left = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    assert [still["id"] for still in left] == [*ids[:2], *ids[4:]]
    # Never under a name there is already.
    (other,) = client.post(f"/api/shots/{shot}/split-off", json={"stills": [ids[0]]}).json()["shots"]
    names = {client.get(f"/api/shots/{one}").json()["name"] for one in (shot, made, other)}
    assert len(names) == 3
    every = client.post(f"/api/shots/{shot}/split-off", json={"stills": [still["id"] for still in left[1:]]})
    assert (every.status_code, every.json()["code"]) == (409, "nothing_left")
    strange = client.post(f"/api/shots/{shot}/split-off", json={"stills": [ids[2]]})
    assert strange.status_code == 404


def test_a_thumbnail_is_the_copy_of_gathering_and_made_anew_where_that_is_gone(client, gathered, services):
    shot = gathered(2)
    first, second = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    copy = services.workspace.proxies.thumbnail(first["fingerprint"])
    served = client.get(f"/api/shots/{shot}/stills/0/thumbnail.jpg")
    assert served.content == copy.read_bytes()
    services.workspace.proxies.thumbnail(second["fingerprint"]).unlink()
    again = client.get(f"/api/shots/{shot}/stills/1/thumbnail.jpg")
    with Image.open(io.BytesIO(again.content)) as picture:
        assert max(picture.size) >= 240
    assert client.get(f"/api/shots/{shot}/stills/9/thumbnail.jpg").status_code == 404
