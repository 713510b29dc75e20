"""A still is the same still as long as its exposure is: files that change, go away, come back, or are stood in for."""

import hashlib
import os
import shutil
from datetime import timedelta
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.api.shots import again, encoded, folder_of, opened, small, stills_of
from tests.conftest import BEGINS, exif, scene, write_jpeg
from yarnkite.core.encode.verify import probe
from yarnkite.demo.dng import write_dng


def by_name(client, shot):
    return {still["name"].rpartition("/")[2]: still for still in stills_of(client, shot)}


def brighten(path):
    """Export a still anew over itself, as after adjusting it: same name, size and capture time, other pixels."""
    with Image.open(path) as image:
        tags, picture = image.getexif(), np.asarray(image)
    before = path.stat()
    Image.fromarray(np.clip(picture.astype(int) + 60, 0, 255).astype(np.uint8)).save(path, "JPEG", exif=tags)
    os.utime(path, ns=(before.st_atime_ns, before.st_mtime_ns + 10_000_000))


def decide_much(client, shot):
    """Set aside, bridge, hold, put in, note, choose a stretch and move by hand; returns what was decided."""
    ids = [still["id"] for still in stills_of(client, shot)]
    seen = opened(client, shot)["revision"]
    for path, body in (
        ("order/move", {"stills": [ids[9]], "to": 2}),
        ("aside", {"stills": [ids[3]], "aside": True}),
        ("note", {"still": ids[4], "text": "a gull"}),
        ("stretch", {"begin": ids[1], "end": ids[8]}),
    ):
        answer = client.post(f"/api/shots/{shot}/{path}", json={"seen": seen, **body})
        assert answer.status_code == 200, answer.text
        seen = answer.json()["revision"]
    decisions = answer.json()["decisions"]
    decisions["check"] |= {"bridged": [ids[5]], "repeated": [ids[6]], "filled": [{"after": ids[7], "count": 2}]}
    decisions["pace"]["longer"] = [{"still": ids[7], "frames": 4}]
    answer = client.put(f"/api/shots/{shot}/decisions", json={"seen": seen, "decisions": decisions})
    assert answer.status_code == 200, answer.text
    return answer.json()["decisions"]


def test_a_still_exported_over_itself_is_gathered_again_and_stays_the_same_still(client, gathered, card, finished):
    shot = gathered(12)
    decided, before = decide_much(client, shot), by_name(client, shot)
    path = folder_of(client, shot) / "MRW_5.jpg"
    brighten(path)
    assert "One still was changed on disk" in again(client, finished, shot)["message"]
    after = by_name(client, shot)
    assert {name: still["id"] for name, still in after.items()} == {name: still["id"] for name, still in before.items()}
    changed = [name for name in after if after[name]["fingerprint"] != before[name]["fingerprint"]]
    assert changed == ["MRW_5.jpg"]
    assert after["MRW_5.jpg"]["luminance"] > before["MRW_5.jpg"]["luminance"] + 0.05
    assert opened(client, shot)["decisions"] == decided
    assert again(client, finished, shot)["message"] == ""


def test_no_clip_is_made_of_files_that_changed_since_they_were_gathered(client, gathered, card, finished):
    shot = gathered(60)
    small(client, shot)
    assert encoded(client, finished, shot)["state"] == "finished"
    path = folder_of(client, shot) / "MRW_41.jpg"
    brighten(path)
    # All chunks of the old pixels are there still.
    refused = encoded(client, finished, shot)
    assert refused["state"] == "failed"
    assert "“MRW_41.jpg”" in refused["message"]
    assert "changed on disk" in refused["message"]
    again(client, finished, shot)
    assert encoded(client, finished, shot)["state"] == "finished"
    newer, older = client.get(f"/api/shots/{shot}/clips").json()
    files = [client.get(f"/api/clips/{clip['id']}/file").content for clip in (newer, older)]
    assert files[0] != files[1]
    assert newer["differences"] == []


def test_a_file_with_another_time_and_the_same_bytes_is_no_changed_still(client, gathered, card, finished):
    shot = gathered(10)
    small(client, shot)
    path = folder_of(client, shot) / "MRW_3.jpg"
    os.utime(path, ns=(1, path.stat().st_mtime_ns + 7_000_000_000))
    assert encoded(client, finished, shot)["state"] == "finished"


def test_a_still_that_changes_while_its_clip_is_rendered_is_not_in_it(
    services, client, gathered, card, finished, tmp_path
):
    from yarnkite.core.base.errors import UnreadableStill
    from yarnkite.core.image.decode import read_still
    from yarnkite.store import shots, snapshots

    shot = gathered(3)
    brighten(folder_of(client, shot) / "MRW_2.jpg")
    stills = dict(snapshots.of_shot(services.database, shots.one(services.database, shot)).stills)
    changed = next(still for still in stills.values() if still.path.endswith("MRW_2.jpg"))
    with pytest.raises(UnreadableStill, match="was changed since it was gathered"):
        read_still(changed)


def test_stills_whose_files_are_away_keep_all_decisions_and_come_back_as_they_were(
    client, gathered, card, finished, tmp_path
):
    shot = gathered(12)
    decided, before = decide_much(client, shot), stills_of(client, shot)
    folder, ids = folder_of(client, shot), {still["name"]: still["id"] for still in before}
    for name in ("MRW_2.jpg", "MRW_5.jpg", "MRW_7.jpg"):
        shutil.move(folder / name, tmp_path / name)
    said = again(client, finished, shot)["message"]
    assert "3 stills are away" in said
    listed = client.get(f"/api/shots/{shot}/stills").json()
    assert listed["away"] == 3
    assert "3 files are away" in listed["found"]
    assert {still["name"] for still in listed["stills"] if still["away"]} == {"MRW_2.jpg", "MRW_5.jpg", "MRW_7.jpg"}
    assert [still["id"] for still in listed["stills"]] == [still["id"] for still in before]
    play = client.get(f"/api/shots/{shot}/pace/play?revision={opened(client, shot)['revision']}").json()
    away = {still["position"] for still in listed["stills"] if still["away"]}
    assert not away & set(play["stills"])
    small(client, shot)
    assert encoded(client, finished, shot)["state"] == "finished"
    assert client.post(f"/api/shots/{shot}/undo", json={"seen": opened(client, shot)["revision"]}).status_code == 200
    for name in ("MRW_2.jpg", "MRW_5.jpg", "MRW_7.jpg"):
        shutil.move(tmp_path / name, folder / name)
    assert again(client, finished, shot)["message"] == ""
    assert stills_of(client, shot) == before
    assert opened(client, shot)["decisions"] == decided
    assert {still["name"]: still["id"] for still in stills_of(client, shot)} == ids


def test_a_changed_still_that_cannot_be_read_is_away_until_it_can(client, gathered, card, finished):
    shot = gathered(6)
    path = folder_of(client, shot) / "MRW_3.jpg"
    whole, before = path.read_bytes(), stills_of(client, shot)
    path.write_bytes(whole[:2000])
    assert "One still was" not in again(client, finished, shot)["message"]
    assert [still["away"] for still in stills_of(client, shot)] == [False, False, True, False, False, False]
    path.write_bytes(whole)
    again(client, finished, shot)
    after = stills_of(client, shot)
    assert [(still["id"], still["away"]) for still in after] == [(still["id"], False) for still in before]


def test_files_renamed_outside_are_the_stills_they_were(client, gathered, card, finished):
    shot = gathered(8)
    before = {still["fingerprint"]: still["id"] for still in stills_of(client, shot)}
    folder = folder_of(client, shot)
    for path in sorted(folder.iterdir()):
        path.rename(folder / f"reach_{path.stem[4:].zfill(4)}.jpg")
    again(client, finished, shot)
    after = stills_of(client, shot)
    assert {still["fingerprint"]: still["id"] for still in after} == before
    assert after[0]["name"] == "reach_0001.jpg"
    assert not any(still["away"] for still in after)


def as_gathered_before(services, client, shot, every=1):
    """Give stills the fingerprints, and their copies the names, that an earlier edition gave them."""
    folder, proxies = Path(opened(client, shot)["folder"]), services.workspace.proxies
    for still in stills_of(client, shot)[::every]:
        old = hashlib.blake2b((folder / still["name"]).read_bytes(), digest_size=16).hexdigest()
        with services.database.transaction() as cursor:
            cursor.execute("SELECT fingerprint FROM still WHERE id = %s", (still["id"],))
            new = cursor.fetchone()["fingerprint"]
            cursor.execute("UPDATE still SET fingerprint = %s WHERE id = %s", (old, still["id"]))
        for one, other in zip(proxies.copies(new), proxies.copies(old), strict=True):
            if one.exists():
                other.parent.mkdir(exist_ok=True)
                shutil.copyfile(one, other)


@pytest.mark.parametrize("every", [1, 2], ids=["all of one edition", "joined of two editions"])
def test_stills_gathered_by_an_earlier_edition_are_known_again(client, services, gathered, card, finished, every):
    shot = gathered(10)
    folder = folder_of(client, shot)
    as_gathered_before(services, client, shot, every)
    decided = decide_much(client, shot)
    before = by_name(client, shot)
    # Another time with the same bytes, other names, and a file that is there twice by now.
    os.utime(folder / "MRW_3.jpg", ns=(1, 1))
    for number in (5, 6):
        (folder / f"MRW_{number}.jpg").rename(folder / f"tide-{number}.jpg")
    shutil.copy2(folder / "MRW_7.jpg", folder / "MRW_11.jpg")
    again(client, finished, shot)
    after = by_name(client, shot)
    assert opened(client, shot)["decisions"] == decided
    for name, still in before.items():
        now = name.replace("MRW_", "tide-") if name in ("MRW_5.jpg", "MRW_6.jpg") else name
        assert after[now]["id"] == still["id"]
    assert len(after) == 11
    small(client, shot)
    assert encoded(client, finished, shot)["state"] == "finished"
    if every == 1:
        said = [proposal["kind"] for proposal in client.get(f"/api/shots/{shot}/sorting").json()["proposals"]]
        assert "same picture" in said


def test_files_renamed_outside_stay_with_the_part_of_a_split_they_belong_to(client, gathered, card, finished):
    shot = gathered(10)
    ids = [still["id"] for still in stills_of(client, shot)]
    (part,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids[6]]}).json()["shots"]
    client.post(f"/api/shots/{part}/aside", json={"seen": 1, "stills": [ids[8]], "aside": True})
    folder = folder_of(client, shot)
    for path in sorted(folder.iterdir()):
        path.rename(folder / f"reach_{path.stem[4:].zfill(4)}.jpg")
    for one in (shot, part):
        again(client, finished, one)
    assert [still["id"] for still in stills_of(client, shot)] == ids[:6]
    assert [still["id"] for still in stills_of(client, part)] == ids[6:]
    for one in (shot, part):
        assert all(still["name"].startswith("reach_") and not still["away"] for still in stills_of(client, one))
    assert opened(client, part)["decisions"]["check"]["aside"] == [ids[8]]


@pytest.fixture
def pairs(client, project, card, finished):
    """A shot of raw files with a JPEG each."""
    folder = card / f"pairs-{project}"
    for number in range(12):
        taken = BEGINS + timedelta(seconds=5 * number)
        write_dng_path = folder / f"P_{number + 1:04}.dng"
        write_dng_path.parent.mkdir(exist_ok=True)
        write_dng(write_dng_path, scene(480, 320, number), "Marrow Lantern", taken)
        Image.fromarray(scene(480, 320, number)).save(folder / f"P_{number + 1:04}.JPG", exif=exif(taken))
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    return started["shot_id"]


def test_switching_to_the_raw_files_and_back_keeps_ids_decisions_and_undo(client, pairs, finished):
    before = stills_of(client, pairs)
    decided = decide_much(client, pairs)
    for raws, kind in ((True, "RAW"), (False, "JPEG")):
        job = client.put(f"/api/shots/{pairs}/raws", json={"raws": raws}).json()["job"]
        assert finished(job["id"])["state"] == "finished"
        now = stills_of(client, pairs)
        assert {still["kind"] for still in now} == {kind}
        assert {still["id"] for still in now} == {still["id"] for still in before}
        assert opened(client, pairs)["decisions"] == decided
        assert [still["id"] for still in now][2] == before[9]["id"]
    undone = client.post(f"/api/shots/{pairs}/undo", json={"seen": opened(client, pairs)["revision"]}).json()
    assert undone["decisions"]["check"]["bridged"] == []
    assert undone["decisions"]["check"]["aside"] == decided["check"]["aside"]


def test_what_was_taken_out_and_is_brought_back_is_the_same_still(client, gathered, finished):
    shot = gathered(12)
    decided, before = decide_much(client, shot), stills_of(client, shot)
    gone = [before[3]["id"], before[7]["id"]]
    assert client.post(f"/api/shots/{shot}/take-out", json={"stills": gone}).status_code == 204
    assert len(stills_of(client, shot)) == 10
    finished(client.post(f"/api/shots/{shot}/bring-back").json()["job"]["id"])
    assert [still["id"] for still in stills_of(client, shot)] == [still["id"] for still in before]
    assert opened(client, shot)["decisions"] == decided


@pytest.fixture
def two(client, project, card, finished):
    """Two shots of one project, in folders beside each other."""
    made = []
    for name, first in (("one", 0), ("two", 40)):
        folder = card / f"both-{project}" / name
        for number in range(12):
            write_jpeg(folder / f"MRW_{first + number:04}.jpg", first + number)
        body = {"location": "card", "path": f"both-{project}/{name}"}
        started = client.post(f"/api/projects/{project}/shots", json=body).json()
        finished(started["job"]["id"])
        made.append(started["shot_id"])
    return made


def shown_stills(client, shot):
    """The ids of the stills a shot's clip shows, and how many frames it has."""
    listed = stills_of(client, shot)
    play = client.get(f"/api/shots/{shot}/pace/play?revision={opened(client, shot)['revision']}").json()
    return {listed[position]["id"] for position in play["stills"]}, play["frames"]


def test_joining_keeps_what_was_decided_about_both_and_what_both_clips_show(client, two, finished):
    decided = [decide_much(client, shot) for shot in two]
    (one, frames), (other, more) = (shown_stills(client, shot) for shot in two)
    small(client, two[1])
    clip = encoded(client, finished, two[1])
    assert clip["state"] == "finished"
    assert client.post(f"/api/shots/{two[0]}/join", json={"other": two[1]}).status_code == 200
    now = opened(client, two[0])["decisions"]
    for field in ("bridged", "repeated", "filled", "notes"):
        assert sorted(map(str, now["check"][field])) == sorted(
            str(value) for decisions in decided for value in decisions["check"][field]
        )
    assert len(now["pace"]["longer"]) == 2
    together, count = shown_stills(client, two[0])
    assert together == one | other
    assert count == frames + more
    # The other shot's clip, and the fit it had of its own, are there still.
    assert [one["id"] for one in client.get(f"/api/shots/{two[0]}/clips").json()] == [clip["clip_id"]]
    (version,) = [one for one in opened(client, two[0])["versions"] if one["name"] != "first version"]
    switched = client.post(
        f"/api/shots/{two[0]}/versions/open",
        json={"seen": opened(client, two[0])["revision"], "version": version["id"]},
    ).json()
    assert switched["decisions"]["fit"]["size"] == {"width": 160, "height": 90}
    assert shown_stills(client, two[0])[0] == one | other


def test_there_is_no_undo_past_a_join_that_would_lose_what_was_decided(client, two):
    decide_much(client, two[0])
    decide_much(client, two[1])
    client.post(f"/api/shots/{two[0]}/join", json={"other": two[1]})
    assert opened(client, two[0])["can_undo"] is False
    stale = client.post(f"/api/shots/{two[0]}/note", json={"seen": 6, "still": 1, "text": "from a stale tab"})
    assert (stale.status_code, stale.json()["code"]) == (409, "stale_revision")


def test_splitting_keeps_what_was_decided_about_each_part_in_every_version(client, gathered):
    shot = gathered(12)
    seen = opened(client, shot)["revision"]
    client.post(f"/api/shots/{shot}/versions", json={"seen": seen, "name": "tall"})
    small(client, shot)
    first = next(one for one in opened(client, shot)["versions"] if one["name"] == "first version")
    client.post(
        f"/api/shots/{shot}/versions/open", json={"seen": opened(client, shot)["revision"], "version": first["id"]}
    )
    decided = decide_much(client, shot)
    before, _ = shown_stills(client, shot)
    ids = [still["id"] for still in stills_of(client, shot)]
    (made,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids[6]]}).json()["shots"]
    parts = [opened(client, one)["decisions"] for one in (shot, made)]
    for field in ("aside", "bridged", "repeated", "filled", "notes"):
        assert sorted(str(value) for part in parts for value in part["check"][field]) == sorted(
            map(str, decided["check"][field])
        )
    assert shown_stills(client, shot)[0] | shown_stills(client, made)[0] == before
    assert [one["name"] for one in opened(client, made)["versions"]] == ["tall", "first version"]
    tall = opened(client, made)["versions"][0]
    switched = client.post(
        f"/api/shots/{made}/versions/open", json={"seen": opened(client, made)["revision"], "version": tall["id"]}
    ).json()
    assert switched["decisions"]["fit"]["size"] == {"width": 160, "height": 90}
    assert switched["decisions"]["check"] == parts[1]["check"]


def test_a_stretch_whose_first_still_leaves_the_shot_goes_on_beginning_there(client, gathered):
    shot = gathered(12)
    ids = [still["id"] for still in stills_of(client, shot)]
    client.post(f"/api/shots/{shot}/stretch", json={"seen": 1, "begin": ids[4], "end": None})
    (made,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids[4]]}).json()["shots"]
    assert shown_stills(client, made)[0] == set(ids[4:])
    # Nothing of what stayed was in the stretch, so it says nothing about it any more.
    assert opened(client, shot)["decisions"]["check"]["begin"] is None


def test_a_copied_still_is_replaced_by_its_new_export_and_never_by_another_picture(
    client, project, card, finished, services
):
    folder = card / f"source-{project}"
    for number in range(6):
        write_jpeg(folder / f"MRW_{number}.jpg", number)
    body = {"location": "card", "path": folder.name, "copy_files": True}
    started = client.post(f"/api/projects/{project}/shots", json=body).json()
    shot = started["shot_id"]
    finished(started["job"]["id"])
    before, copies = by_name(client, shot), services.workspace.copied(shot)
    brighten(folder / "MRW_2.jpg")
    # The card was used again: the same name, another exposure.
    write_jpeg(folder / "MRW_4.jpg", 400)
    kept = (copies / "MRW_4.jpg").read_bytes()
    again(client, finished, shot)
    after = by_name(client, shot)
    assert after["MRW_2.jpg"]["fingerprint"] != before["MRW_2.jpg"]["fingerprint"]
    assert (copies / "MRW_2.jpg").read_bytes() == (folder / "MRW_2.jpg").read_bytes()
    assert (copies / "MRW_4.jpg").read_bytes() == kept
    reasons = {one["name"]: one["reason"] for one in client.get(f"/api/shots/{shot}/stills").json()["left_out"]}
    assert "another picture" in reasons["MRW_4.jpg"]
    assert not after["MRW_4.jpg"]["away"]
    shutil.rmtree(folder)
    again(client, finished, shot)
    assert {name: still["id"] for name, still in by_name(client, shot).items()} == {
        name: still["id"] for name, still in before.items()
    }


def test_the_clip_of_changed_stills_has_the_new_pixels(client, gathered, card, finished, services):
    import av

    shot = gathered(6)
    small(client, shot)
    for path in folder_of(client, shot).iterdir():
        brighten(path)
    again(client, finished, shot)
    clip = services.workspace.clip(encoded(client, finished, shot)["id"])
    assert probe(clip).frames == 6
    with av.open(str(clip)) as container:
        first = next(container.decode(video=0)).to_ndarray(format="gray")
    plain = np.asarray(Image.fromarray(scene(480, 320, 0)).convert("L"))[25:295]
    assert first.mean() > plain.mean() + 35
