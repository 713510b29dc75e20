"""The queue of encodes: its order, resting and going on, sizes said before, files put into folders, and clips shown."""

import io

import av
import numpy as np
import pytest
from PIL import Image

from tests.api import slow
from tests.api.shots import small
from tests.patience import wait_for_job
from yarnkite.jobs import rendering as encoding

SIZE = {"width": 368, "height": 208}


def begin(client, shot, seen, status=202, **wish):
    answer = client.post(f"/api/shots/{shot}/encode", json={"seen": seen} | wish)
    assert answer.status_code == status, answer.text
    return answer.json()


@pytest.fixture
def place(card, project):
    """A folder for finished files in a place, by its path there."""
    folder = card / f"out-{project}"
    folder.mkdir()
    return folder


def queue(client):
    return [(one["job"]["id"], one["job"]["state"]) for one in client.get("/api/jobs/queue").json()]


def ended(client, job):
    def now():
        return next(one["job"] for one in client.get("/api/jobs/queue").json() if one["job"]["id"] == job)

    return wait_for_job(now)


def test_encodes_rest_go_on_change_turns_and_are_cancelled(client, gathered):
    shot = gathered(100)
    seen = small(client, shot, **SIZE, preset="slow", crf=11)
    first, second, third = (begin(client, shot, seen, format=name)["id"] for name in ("h265", "h264", "png"))
    assert [one for one, _ in queue(client)][:3] == [first, second, third]
    client.post(f"/api/jobs/{third}/before", json={"other": second})
    client.post(f"/api/jobs/{first}/pause")
    assert ended(client, first)["state"] == "paused"
    assert [one for one, _ in queue(client)][:1] == [first]
    assert ended(client, third)["state"] == "finished"
    assert ended(client, second)["state"] == "finished"
    done = {
        one["job"]["id"]: one["job"]["ended_at"]
        for one in client.get("/api/jobs/queue").json()
        if "ended_at" in one["job"]
    }
    assert not done or done[third] < done[second]
    assert dict(queue(client))[first] == "paused"
    assert client.post(f"/api/jobs/{first}/go-on").json()["state"] in ("waiting", "running")
    assert ended(client, first)["state"] == "finished"
    clips = {one["job_id"]: one for one in client.get(f"/api/shots/{shot}/clips").json()}
    assert all(clips[job]["differences"] == [] for job in (first, second, third))
    assert clips[first]["evidence"].startswith("100 frames compared in light and colour, lowest likeness 0.9")
    assert clips[third]["evidence"].startswith("100 frames compared, each exactly its picture")
    resting = begin(client, shot, seen, format="vp9")["id"]
    client.post(f"/api/jobs/{resting}/pause")
    assert ended(client, resting)["state"] == "paused"
    client.post(f"/api/jobs/{resting}/cancel")
    assert ended(client, resting)["state"] == "cancelled"
    assert client.post(f"/api/jobs/{first}/pause").status_code == 409
    assert client.post("/api/jobs/999999/pause").status_code == 404


@pytest.mark.long
def test_a_wanted_size_is_met_with_one_quality_all_through(client, gathered):
    shot = gathered(200)
    seen = small(client, shot, **SIZE, aim={"by": "size", "megabytes": 0.2})
    assert "that takes 0.2 MB" in "".join(
        part["text"] for part in client.get(f"/api/shots/{shot}").json()["brief"]["parts"]
    )
    job = begin(client, shot, seen)["id"]
    assert ended(client, job)["state"] == "finished"
    clip = client.get(f"/api/shots/{shot}/clips").json()[0]
    assert clip["differences"] == []
    assert clip["bytes"] == pytest.approx(200_000, rel=0.03)
    seen = small(client, shot, **SIZE, aim={"by": "size", "megabytes": 0.001})
    failed = ended(client, begin(client, shot, seen)["id"])
    assert failed["state"] == "failed"
    assert "Want more" in failed["message"]


@pytest.mark.long
def test_sizes_are_measured_of_the_very_clip_and_said_in_the_brief(client, gathered, finished):
    shot = gathered(60)
    small(client, shot, **SIZE, preset="fast")
    guessed = client.get(f"/api/shots/{shot}/offers").json()
    assert guessed["sampled"] == 0
    assert not any(one["is_measured"] for one in guessed["offers"])
    job = client.post(f"/api/shots/{shot}/offers/measure?every=true").json()
    assert client.post(f"/api/shots/{shot}/offers/measure").json()["id"] == job["id"]
    finished(job["id"])
    offers = client.get(f"/api/shots/{shot}/offers").json()
    assert offers["is_complete"]
    said = {one["format"]: one["bytes"] for one in offers["offers"] if not one["cannot"]}
    assert len(said) >= 20
    assert client.post(f"/api/shots/{shot}/offers/measure?every=true").json() is None
    seen = client.get(f"/api/shots/{shot}").json()["revision"]
    near = []
    for name in ("h264", "prores", "ffv1", "png", "av1"):
        assert ended(client, begin(client, shot, seen, format=name)["id"])["state"] == "finished"
        near.append(client.get(f"/api/shots/{shot}/clips").json()[0]["bytes"] / said[name])
    assert sum(abs(ratio - 1) < 0.15 for ratio in near) >= 4, near
    # What is decided of pixels makes what was measured of no use; what is said in the file does not.
    small(client, shot, **SIZE, preset="fast", title="Pier")
    assert client.get(f"/api/shots/{shot}/offers").json()["is_complete"]


def test_a_stretch_is_encoded_alone_and_the_whole_uses_its_chunks(client, gathered, services):
    shot = gathered(120)
    seen = small(client, shot, **SIZE, crf=17)
    before = {path.name for path in services.workspace.chunks.glob("*.chunk")}
    job = begin(client, shot, seen, stretch=[40, 110])["id"]
    assert ended(client, job)["state"] == "finished"
    clip = client.get(f"/api/shots/{shot}/clips").json()[0]
    assert (clip["frames"], clip["differences"]) == (70, [])
    assert "frames-41-110" in clip["name"]
    made = {
        path.name: path.stat().st_ino for path in services.workspace.chunks.glob("*.chunk") if path.name not in before
    }
    assert len(made) == 3
    assert ended(client, begin(client, shot, seen)["id"])["state"] == "finished"
    kept = {
        path.name: path.stat().st_ino for path in services.workspace.chunks.glob("*.chunk") if path.name not in before
    }
    # Frames 51 to 100 are a chunk of both.
    assert len(kept) == 5
    assert made.items() <= kept.items()
    begin(client, shot, seen, status=400, stretch=[100, 130])


def test_a_clip_goes_into_a_folder_and_never_over_a_file_unasked(client, gathered, services, place):
    shot = gathered(20)
    seen = small(client, shot, **SIZE, crf=19)
    folder = place
    into = {"location": "card", "path": folder.name}
    job = begin(client, shot, seen, into=into, pattern="{shot}_{format}_{rate}")["id"]
    assert ended(client, job)["state"] == "finished"
    clip = client.get(f"/api/shots/{shot}/clips").json()[0]
    assert clip["path"] == str(folder / clip["name"])
    assert clip["name"].endswith("_h264_25.mp4")
    assert (folder / clip["name"]).read_bytes() == client.get(f"/api/clips/{clip['id']}/file").content
    assert not services.workspace.clip(job).exists()
    again = begin(client, shot, seen, status=409, into=into, pattern="{shot}_{format}_{rate}")
    assert again["code"] == "file_exists"
    (folder / clip["name"]).write_bytes(b"mine")
    begin(client, shot, seen, status=409, into=into, pattern="{shot}_{format}_{rate}")
    assert (folder / clip["name"]).read_bytes() == b"mine"
    job = begin(client, shot, seen, into=into | {"replace": True}, pattern="{shot}_{format}_{rate}")["id"]
    assert ended(client, job)["state"] == "finished"
    assert (folder / clip["name"]).stat().st_size > 1000
    assert begin(client, shot, seen, status=400, pattern="{nothing}")["code"] == "name_not_usable"
    client.delete(f"/api/clips/{client.get(f'/api/shots/{shot}/clips').json()[0]['id']}")
    assert (folder / clip["name"]).exists()

    packed = begin(client, shot, seen, format="png", into=into, pattern="frames")["id"]
    assert ended(client, packed)["state"] == "finished"
    assert sorted(path.name for path in (folder / "frames").iterdir())[:2] == ["frames_0001.png", "frames_0002.png"]
    assert len(list((folder / "frames").iterdir())) == 20
    assert begin(client, shot, seen, status=409, format="png", into=into, pattern="frames")["code"] == "file_exists"


def test_a_folder_that_vanishes_meanwhile_loses_nothing(client, gathered, services, place, monkeypatch):
    monkeypatch.setattr(encoding, "render", slow.render_once_the_folder_is_gone)
    shot = gathered(30)
    seen = small(client, shot, **SIZE)
    folder = place
    (folder / "gone").mkdir()
    job = begin(client, shot, seen, into={"location": "card", "path": f"{folder.name}/gone"})["id"]
    (folder / "gone").rmdir()
    done = ended(client, job)
    assert done["state"] == "finished"
    assert "It is kept here" in done["message"]
    clip = client.get(f"/api/shots/{shot}/clips").json()[0]
    assert clip["path"] is None
    assert client.get(f"/api/clips/{clip['id']}/file").status_code == 200


def test_a_clip_is_shown_frame_by_frame_and_by_a_stand_in_where_it_does_not_play(client, gathered):
    shot = gathered(30)
    seen = small(client, shot, **SIZE)
    assert ended(client, begin(client, shot, seen, format="prores")["id"])["state"] == "finished"
    clip = client.get(f"/api/shots/{shot}/clips").json()[0]
    assert clip["plays_as"] == ""
    with av.open(io.BytesIO(client.get(f"/api/clips/{clip['id']}/file").content)) as container:
        frames = [frame.to_ndarray(format="rgb24") for frame in container.decode(video=0)]
    for number in (0, 17, 29):
        shown = Image.open(io.BytesIO(client.get(f"/api/clips/{clip['id']}/frames/{number}.png").content))
        assert np.abs(np.asarray(shown).astype(int) - frames[number]).max() <= 1
    assert client.get(f"/api/clips/{clip['id']}/frames/30.png").status_code == 404
    with av.open(io.BytesIO(client.get(f"/api/clips/{clip['id']}/stand-in").content)) as container:
        assert container.streams.video[0].codec_context.name == "h264"
        assert sum(1 for _ in container.decode(video=0)) == 30
    assert Image.open(io.BytesIO(client.get(f"/api/clips/{clip['id']}/poster.jpg").content)).size == (368, 208)
    assert 'width="368" height="208"' in client.get(f"/api/clips/{clip['id']}/snippet").text
    saved = client.get(f"/api/shots/{shot}/shot.json").json()
    assert saved["kind"] == "yarn-kite shot"
    assert all("/" not in one["path"] for one in saved["recipe"]["stills"])


def test_what_a_format_cannot_do_is_refused_before_the_work(client, gathered):
    shot = gathered(10)
    seen = small(client, shot, **SIZE, start="01:00:00:30", container="mov")
    assert begin(client, shot, seen, status=400)["code"] == "format_cannot"
    decisions = client.get(f"/api/shots/{shot}").json()["decisions"]
    decisions["encode"]["format"] = "betamax"
    assert client.put(f"/api/shots/{shot}/decisions", json={"seen": seen, "decisions": decisions}).status_code == 422
