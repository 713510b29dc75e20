"""Encoding through the interface: verified, playable in ranges, cancellable, and telling what went wrong."""

import subprocess
from pathlib import Path

from tests.api import slow
from tests.api.shots import small
from tests.patience import wait_until
from yarnkite.jobs import rendering as encoding


def encode(client, shot):
    revision = client.get(f"/api/shots/{shot}").json()["revision"]
    return client.post(f"/api/shots/{shot}/encode", json={"seen": revision})


def test_from_stills_to_a_verified_clip(client, gathered, finished, tmp_path):
    shot = gathered(30)
    small(client, shot, 320, 180, hold=4)
    job = finished(encode(client, shot).json()["id"])
    assert (job["state"], job["done"], job["total"]) == ("finished", 120, 120)
    (clip,) = client.get(f"/api/shots/{shot}/clips").json()
    assert clip["id"] == job["clip_id"]
    assert clip["differences"] == []
    assert clip["summary"].startswith("120 frames, 25 fps, 320 × 180, 4.8 s")
    assert clip["name"].endswith("_320x180_25fps.mp4")
    whole = client.get(f"/api/clips/{clip['id']}/file?download=true")
    assert whole.headers["content-disposition"].startswith("attachment")
    part = client.get(f"/api/clips/{clip['id']}/file", headers={"Range": "bytes=100-199"})
    assert (part.status_code, part.content) == (206, whole.content[100:200])
    (tmp_path / "clip.mp4").write_bytes(whole.content)
    counted = subprocess.run(
        [
            "ffprobe",
            "-v",
            "error",
            "-count_frames",
            "-show_entries",
            "stream=nb_read_frames",
            "-of",
            "csv=p=0",
            tmp_path / "clip.mp4",
        ],
        capture_output=True,
        text=True,
        check=True,
    )
    assert counted.stdout.strip() == "120"


def test_a_still_that_is_held_for_many_chunks_is_rendered_once(client, gathered, finished):
    shot = gathered(2)
    small(client, shot, 320, 180, hold=150)
    job = finished(encode(client, shot).json()["id"])
    assert (job["state"], job["done"], job["total"]) == ("finished", 300, 300)
    (clip,) = client.get(f"/api/shots/{shot}/clips").json()
    assert (clip["frames"], clip["differences"]) == (300, [])


def test_encoding_again_uses_what_is_there_and_gives_the_same_bytes(client, services, gathered, finished):
    shot = gathered(30)
    small(client, shot, 320, 180, hold=4)
    first, second = (finished(encode(client, shot).json()["id"]) for _ in range(2))
    files = [services.workspace.clip(job["id"]).read_bytes() for job in (first, second)]
    assert files[0] == files[1]


def frames_done(client, job):
    return next(one for one in client.get("/api/jobs").json() if one["id"] == job)["done"]


def test_a_cancelled_encode_ends_and_goes_on_later(client, services, gathered, finished, monkeypatch):
    shot = gathered(40)
    small(client, shot, 320, 180)
    monkeypatch.setattr(encoding, "render", slow.render_until_cancelled)
    job = encode(client, shot).json()
    wait_until(lambda: frames_done(client, job["id"]) > 0)
    client.post(f"/api/jobs/{job['id']}/cancel")
    ended = finished(job["id"])
    assert ended["state"] == "cancelled"
    assert client.get(f"/api/shots/{shot}/clips").json() == []
    assert not services.workspace.clip(job["id"]).exists()
    assert not list(services.workspace.chunks.glob("*.note"))
    assert not list(services.workspace.chunks.glob("*.part"))
    monkeypatch.undo()
    assert finished(encode(client, shot).json()["id"])["state"] == "finished"


def test_encodes_are_made_in_the_order_they_were_asked_for_and_one_that_waits_can_be_cancelled(
    client, services, gathered, finished, monkeypatch
):
    shot = gathered(30)
    small(client, shot, 320, 180)
    monkeypatch.setattr(encoding, "render", slow.render_until_cancelled)
    held = encode(client, shot).json()["id"]
    wait_until(lambda: frames_done(client, held) > 0)
    waiting = [encode(client, shot).json()["id"] for _ in range(6)]
    states = {job["id"]: job["state"] for job in client.get("/api/jobs").json()}
    assert [states[job] for job in waiting] == ["waiting"] * 6
    client.post(f"/api/jobs/{waiting[2]}/cancel")
    assert finished(waiting[2])["state"] == "cancelled"
    monkeypatch.undo()
    client.post(f"/api/jobs/{held}/cancel")
    assert finished(held)["state"] == "cancelled"
    left = [job for job in waiting if job != waiting[2]]
    assert {finished(job)["state"] for job in left} == {"finished"}
    with services.database.transaction() as cursor:
        cursor.execute(
            "SELECT id FROM job WHERE shot_id = %s AND state = 'finished' AND kind = 'encode' ORDER BY ended_at",
            (shot,),
        )
        assert [row["id"] for row in cursor.fetchall()] == left


def test_a_still_lost_since_gathering_is_named_and_nothing_is_shown_as_a_clip(client, gathered, finished):
    shot = gathered(12)
    small(client, shot, 320, 180)
    Path(client.get(f"/api/shots/{shot}").json()["folder"], "MRW_7.jpg").unlink()
    job = finished(encode(client, shot).json()["id"])
    assert job["state"] == "failed"
    assert "“MRW_7.jpg” is no longer in" in job["message"]
    assert client.get(f"/api/shots/{shot}/clips").json() == []


def test_a_killed_worker_costs_nothing_but_the_chunk_it_was_at(client, services, gathered, finished, monkeypatch):
    shot = gathered(120)
    small(client, shot, 320, 180)
    folder = Path(client.get(f"/api/shots/{shot}").json()["folder"])
    monkeypatch.setattr(encoding, "render", slow.render_and_die_once)
    assert finished(encode(client, shot).json()["id"])["state"] == "finished"
    first = int((folder / ".first-chunk").read_text())
    assert first in {chunk.stat().st_ino for chunk in services.workspace.chunks.glob("*.chunk")}
    assert client.get(f"/api/shots/{shot}/clips").json()[0]["differences"] == []


def test_decisions_changed_elsewhere_are_not_encoded_unseen(client, gathered):
    shot = gathered(3)
    small(client, shot, 320, 180)
    refused = client.post(f"/api/shots/{shot}/encode", json={"seen": 1})
    assert (refused.status_code, refused.json()["code"]) == (409, "stale_revision")


def changes(client, shot):
    return {one["clip_id"]: one for one in client.get(f"/api/shots/{shot}/clips/changes").json()}


def test_a_clip_that_is_out_of_date_says_what_was_changed_and_is_made_anew_under_its_name(client, gathered, finished):
    shot = gathered(4)
    small(client, shot)
    finished(encode(client, shot).json()["id"])
    (clip,) = client.get(f"/api/shots/{shot}/clips").json()
    assert changes(client, shot) == {}
    revision = small(client, shot, hold=3)
    told = changes(client, shot)
    assert told == {clip["id"]: {"clip_id": clip["id"], "changed": ["pace"], "is_open": True}}
    # Another format of the next clip says nothing of this one.
    revision = small(client, shot, hold=3, format="ffv1-8")
    assert changes(client, shot)[clip["id"]]["changed"] == ["pace"]
    stale = client.post(f"/api/clips/{clip['id']}/anew", json={"seen": revision - 1})
    assert stale.status_code == 409
    job = finished(client.post(f"/api/clips/{clip['id']}/anew", json={"seen": revision}).json()["id"])
    assert job["state"] == "finished"
    newest, before = client.get(f"/api/shots/{shot}/clips").json()
    assert (newest["name"], newest["format"], newest["frames"]) == (clip["name"], "h264", 12)
    assert before["id"] == clip["id"]
    # The first one was made anew: it is no matter any more. Undone, the second one is not what would be made.
    assert changes(client, shot) == {}
    while set(changes(client, shot)) != {newest["id"]}:
        revision = client.post(f"/api/shots/{shot}/undo", json={"seen": revision}).json()["revision"]


def test_a_clip_of_another_version_is_held_against_that_version(client, gathered, finished):
    shot = gathered(3)
    small(client, shot)
    finished(encode(client, shot).json()["id"])
    seen = client.get(f"/api/shots/{shot}").json()["revision"]
    made = client.post(f"/api/shots/{shot}/versions", json={"seen": seen, "name": "slow"}).json()
    small(client, shot, hold=4)
    # One made while there was but one version is of the first.
    assert changes(client, shot) == {}
    finished(encode(client, shot).json()["id"])
    first, slow = made["versions"][0]["id"], made["version"]
    seen = client.get(f"/api/shots/{shot}").json()["revision"]
    opened = client.post(f"/api/shots/{shot}/versions/open", json={"seen": seen, "version": first})
    assert opened.status_code == 200, opened.text
    assert changes(client, shot) == {}
    # Order and check are shared: a still that is set aside is missing in every version.
    still = client.get(f"/api/shots/{shot}/stills").json()["stills"][1]["id"]
    decisions = opened.json()["decisions"] | {"check": {"aside": [still]}}
    body = {"seen": opened.json()["revision"], "decisions": decisions}
    revision = client.put(f"/api/shots/{shot}/decisions", json=body).json()["revision"]
    found = changes(client, shot)
    assert [(one["changed"], one["is_open"]) for one in found.values()] == [(["stills"], False), (["stills"], True)]
    clip = max(found)
    refused = client.post(f"/api/clips/{clip}/anew", json={"seen": revision})
    assert (refused.status_code, refused.json()["code"]) == (409, "other_version")
    client.delete(f"/api/shots/{shot}/versions/{slow}").raise_for_status()
    assert set(changes(client, shot)) == {min(found)}


def test_a_clip_in_a_folder_is_replaced_by_its_new_one_and_nothing_else_is(client, gathered, finished, card):
    shot = gathered(3)
    (card / "delivered").mkdir()
    into = {"location": "card", "path": "delivered"}
    body = {"seen": small(client, shot), "into": into}
    finished(client.post(f"/api/shots/{shot}/encode", json=body).json()["id"])
    (clip,) = client.get(f"/api/shots/{shot}/clips").json()
    file = Path(clip["path"])
    before = file.read_bytes()
    revision = small(client, shot, hold=2)
    finished(client.post(f"/api/clips/{clip['id']}/anew", json={"seen": revision}).json()["id"])
    assert [path.name for path in (card / "delivered").iterdir()] == [file.name]
    assert file.read_bytes() != before
    # What somebody put there under its name since is not the clip.
    file.write_bytes(b"cut by somebody else")
    newest = client.get(f"/api/shots/{shot}/clips").json()[0]
    refused = client.post(f"/api/clips/{newest['id']}/anew", json={"seen": small(client, shot, hold=3)})
    assert (refused.status_code, refused.json()["code"]) == (409, "file_exists")
    assert file.read_bytes() == b"cut by somebody else"
