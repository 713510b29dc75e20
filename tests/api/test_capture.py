"""A camera shoots into a shot that grows, and folders that others write into are watched."""

import io
import json
import shutil
import threading
import time
import urllib.request

import pytest
from PIL import Image

from tests.api.shots import encoded, small
from tests.conftest import write_jpeg
from tests.patience import STANDSTILL_S, wait_until
from tests.program import Program
from yarnkite.camera.simulated import SimulatedProcess
from yarnkite.core.base.safe_open import first_bytes
from yarnkite.store import jobs


@pytest.fixture(scope="module")
def device(services):
    """A quick simulated camera, the one the program has."""
    process = SimulatedProcess("--scene", "plain", "--width", "192", "--writing", "0")
    services.cameras._simulated_at = process.address()
    yield process.address()
    services.cameras.let_go("simulated")
    process.stop()


def fault(address, kind, seconds=0):
    urllib.request.urlopen(
        f"{address}/fault", json.dumps({"kind": kind, "seconds": seconds}).encode(), timeout=STANDSTILL_S
    ).read()


def begin(client, project, **capture):
    body = {"name": "Pellow at work", "capture": {"camera": "simulated", "interval_ms": 200} | capture}
    return client.post(f"/api/projects/{project}/captures", json=body)


def captured(client, shot):
    return client.get(f"/api/shots/{shot}/capture").json()


def names(client, shot):
    return [one["name"] for one in client.get(f"/api/shots/{shot}/stills").json()["stills"]]


def test_a_camera_shoots_goes_away_rests_and_the_shot_grows_all_the_while(client, project, device, finished):
    begun = begin(client, project, count=5000).json()
    shot, job = begun["shot_id"], begun["job"]["id"]
    again = begin(client, project, count=3)
    assert again.status_code == 400
    assert "shoots already" in again.json()["detail"]
    wait_until(lambda: len(names(client, shot)) >= 3)
    assert captured(client, shot)["job"]["state"] == "running"
    fault(device, "away")
    wait_until(lambda: any(gap["why"] == "away" for gap in captured(client, shot)["gaps"]))
    fault(device, "none")
    client.post(f"/api/captures/{job}/pause")
    wait_until(lambda: any(gap["why"] == "paused" for gap in captured(client, shot)["gaps"]))
    # A shot that grows can be decided about, and encoded, while it does.
    assert client.post(f"/api/shots/{shot}/brief", json={}).status_code == 200
    small(client, shot)
    assert encoded(client, finished, shot)["state"] == "finished"
    before = captured(client, shot)["taken"]
    client.post(f"/api/captures/{job}/go-on")
    wait_until(lambda: captured(client, shot)["taken"] >= before + 3)
    client.post(f"/api/captures/{job}/stop")
    assert finished(job)["state"] == "finished"
    found = captured(client, shot)
    assert found["missed"] >= 2
    stills = names(client, shot)
    assert len(stills) == len(set(stills)) == found["taken"] >= before + 3
    numbers = [int(name.rsplit("_")[-1][:6]) for name in stills]
    assert numbers == sorted(numbers)
    missing = {
        beat + 1 for gap in found["gaps"] if gap["why"] != "late" for beat in range(gap["first"], gap["last"] + 1)
    }
    assert set(range(1, numbers[-1] + 1)) - set(numbers) == missing & set(range(1, numbers[-1] + 1))


def test_captures_that_cannot_be_are_refused_before_they_begin(client, project, device):
    client.put("/api/cameras/settings", params={"key": "simulated"}, json={"exposure_s": 0.5, "sensitivity": 100})
    long = begin(client, project, count=3)
    assert "longer than the 1/5 s between stills" in long.json()["detail"]
    client.put("/api/cameras/settings", params={"key": "simulated"}, json={"exposure_s": 0.01, "sensitivity": 100})
    past = begin(client, project, count=3, starts_at="2020-01-01T10:00:00Z")
    assert "has passed" in past.json()["detail"]
    for wrong in (
        {"interval_ms": 0},
        {"interval_ms": -5},
        {"count": 0},
        {"span_s": -1},
        {"starts_at": "2030-01-01T10:00"},
    ):
        assert begin(client, project, **wrong).status_code == 422
    fault(device, "away")
    assert "does not answer" in begin(client, project, count=3).json()["detail"]
    assert client.get(f"/api/projects/{project}").json()["shots"] == []
    fault(device, "none")
    wait_until(lambda: client.get("/api/cameras/state", params={"key": "simulated"}).status_code == 200)


def test_a_capture_is_stopped_and_keeps_what_it_took(client, project, device, finished):
    begun = begin(client, project, follow=True).json()
    wait_until(lambda: captured(client, begun["shot_id"])["taken"] >= 3)
    client.post(f"/api/captures/{begun['job']['id']}/stop")
    job = finished(begun["job"]["id"])
    assert job["state"] == "finished"
    assert job["message"].startswith("Stopped on wish. ")
    assert len(names(client, begun["shot_id"])) == captured(client, begun["shot_id"])["taken"] >= 3


def test_a_broken_still_and_a_full_card_cost_their_beats_and_are_warned_of(client, project, device, finished):
    begun = begin(client, project, count=5000).json()
    shot = begun["shot_id"]

    def left_out():
        return client.get(f"/api/shots/{shot}/stills").json()["left_out"]

    wait_until(lambda: captured(client, shot)["taken"] >= 2)
    fault(device, "broken")
    wait_until(left_out)
    fault(device, "full")
    wait_until(lambda: "The camera's card is full." in captured(client, shot)["warnings"])
    wait_until(lambda: any("card is full" in gap["sentence"] for gap in captured(client, shot)["gaps"]))
    fault(device, "none")
    client.post(f"/api/captures/{begun['job']['id']}/stop")
    assert finished(begun["job"]["id"])["state"] == "finished"
    assert all("Pellow-at-work" in file["reason"] for file in left_out())
    assert len(names(client, shot)) + len(left_out()) == captured(client, shot)["taken"]


def test_cameras_are_listed_looked_through_set_and_a_strange_one_is_refused(client, project, device):
    assert "simulated" in [one["key"] for one in client.get("/api/cameras").json()]
    state = client.get("/api/cameras/state", params={"key": "simulated"}).json()
    assert state["settings"]["exposure_s"] in state["exposures_s"]
    wanted = {"exposure_s": 0.021, "sensitivity": 210}
    set_to = client.put("/api/cameras/settings", params={"key": "simulated"}, json=wanted).json()
    assert (set_to["exposure_s"], set_to["sensitivity"]) == (0.02, 200)
    live = client.get("/api/cameras/live.jpg", params={"key": "simulated", "stripes": True})
    assert Image.open(io.BytesIO(live.content)).width == 192
    assert 0 <= float(live.headers["X-Sharpness"]) <= 100
    for key in ("webcam:video99", "cable:nothing", "../etc/passwd", "http://203.0.113.1:80"):
        refused = client.get("/api/cameras/state", params={"key": key})
        assert refused.status_code == 400, key
        assert "not there" in refused.json()["detail"]


def write_slowly(path, data, pieces=4, rest_s=0.3):
    with path.open("wb") as file:
        for piece in range(pieces):
            file.write(data[piece * len(data) // pieces : (piece + 1) * len(data) // pieces])
            file.flush()
            time.sleep(rest_s)


@pytest.fixture
def watched(client, project, card, finished, shoot):
    """A shot of five stills whose folder is watched: its id, its folder, and the job."""
    folder = card / f"watched-{project}"
    shoot(5, "watched", (230, 150)).rename(folder)
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    job = client.post(f"/api/shots/{started['shot_id']}/watch").json()
    yield started["shot_id"], folder, job["id"]
    client.post(f"/api/jobs/{job['id']}/cancel")
    finished(job["id"])


def jpeg(tmp_path, number):
    return write_jpeg(tmp_path / "written" / f"{number}.jpg", number, (230, 150)).read_bytes()


def test_slow_writers_are_waited_for_and_no_half_file_is_ever_taken(client, watched, tmp_path):
    shot, folder, _ = watched
    again = client.post(f"/api/shots/{shot}/watch")
    assert again.status_code == 409
    ids = [one["id"] for one in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    split = client.post(f"/api/shots/{shot}/split", json={"before": [ids[2]]})
    assert split.status_code == 409
    assert "Stop that first" in split.json()["detail"]
    writers = [
        threading.Thread(target=write_slowly, args=(folder / f"MRW_{number}.jpg", jpeg(tmp_path, number)))
        for number in (8, 6, 7)
    ]
    for writer in writers:
        writer.start()
    seen = set()
    while any(writer.is_alive() for writer in writers):
        seen |= {file["kind"] for file in client.get(f"/api/shots/{shot}/stills").json()["left_out"]}
        time.sleep(0.1)
    wait_until(lambda: len(names(client, shot)) == 8)
    assert seen <= {"unreadable"} - {"unreadable"}
    assert names(client, shot) == [f"MRW_{number}.jpg" for number in range(1, 9)]
    assert client.get(f"/api/shots/{shot}/stills").json()["left_out"] == []


def test_of_a_folder_that_is_watched_only_what_is_new_is_opened(client, watched, tmp_path, monkeypatch):
    shot, folder, _ = watched
    opened: list[str] = []

    def noting(path, count):
        opened.append(path.name)
        return first_bytes(path, count)

    monkeypatch.setattr("yarnkite.core.gather.sorting.first_bytes", noting)
    for number in (6, 7):
        (folder / f"MRW_{number}.jpg").write_bytes(jpeg(tmp_path, number))
        wait_until(lambda number=number: len(names(client, shot)) == number)
    assert set(opened) == {"MRW_6.jpg", "MRW_7.jpg"}
    # One that was written over is another file, where all are looked at.
    (folder / "MRW_2.jpg").write_bytes(jpeg(tmp_path, 9))
    (folder / "MRW_0.jpg").write_bytes(jpeg(tmp_path, 0))
    wait_until(lambda: len(names(client, shot)) == 8)
    assert "MRW_2.jpg" in opened
    assert "MRW_3.jpg" not in opened


@pytest.mark.long
def test_many_at_once_are_taken_in_pieces_and_a_folder_that_goes_away_is_waited_for(
    client, watched, tmp_path, finished, monkeypatch
):
    monkeypatch.setattr("yarnkite.jobs.growing.AT_ONCE", 50)
    shot, folder, job = watched
    source = tmp_path / "many"
    for number in range(6, 126):
        write_jpeg(source / f"MRW_{number}.jpg", number, (96, 64))
    for file in source.iterdir():
        shutil.copy(file, folder / file.name)
    wait_until(lambda: len(names(client, shot)) == 125, lambda: len(names(client, shot)))
    assert names(client, shot)[-1] == "MRW_125.jpg"
    away = folder.with_name(folder.name + "-away")
    folder.rename(away)
    wait_until(lambda: "is away" in message(client, job))
    away.rename(folder)
    wait_until(lambda: "is away" not in message(client, job))
    (folder / "MRW_126.jpg").write_bytes(jpeg(tmp_path, 126))
    wait_until(lambda: len(names(client, shot)) == 126)


def message(client, job):
    return next(one["message"] for one in client.get("/api/jobs").json() if one["id"] == job)


def test_decisions_of_a_growing_shot_stay_and_its_files_can_be_renamed_meanwhile(client, watched, tmp_path):
    shot, folder, _ = watched
    opened = client.get(f"/api/shots/{shot}").json()
    ids = [one["id"] for one in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    decisions = opened["decisions"]
    decisions["check"]["aside"] = [ids[1]]
    revised = client.put(f"/api/shots/{shot}/decisions", json={"seen": opened["revision"], "decisions": decisions})
    assert revised.status_code == 200, revised.text
    (folder / "MRW_6.jpg").write_bytes(jpeg(tmp_path, 6))
    wait_until(lambda: len(names(client, shot)) == 6)
    after = client.get(f"/api/shots/{shot}").json()
    assert after["decisions"]["check"]["aside"] == [ids[1]]
    assert "Take 5 of 6 stills" in "".join(part["text"] for part in after["brief"]["parts"])


def test_a_watched_shot_that_is_deleted_is_watched_no_more(client, services, watched, finished):
    shot, _, job = watched
    wait_until(lambda: client.delete(f"/api/shots/{shot}").status_code == 204)
    wait_until(lambda: job not in [one["id"] for one in jobs.unfinished(services.database)])
    client.post(f"/api/shots/{shot}/take-back")
    assert "watched no more" in finished(job)["message"]


@pytest.mark.long
def test_a_capture_goes_on_after_the_program_was_killed_and_says_what_is_missing(tmp_path):
    process = SimulatedProcess("--scene", "plain", "--width", "192", "--writing", "0")
    (tmp_path / "place").mkdir()
    program = Program(tmp_path / "data", tmp_path / "place", process.address())
    try:
        program.start()
        project = program.client.post("/api/projects", json={"name": "Night watch"}).json()["id"]
        body = {"name": "Night watch", "capture": {"camera": "simulated", "interval_ms": 250}}
        begun = program.client.post(f"/api/projects/{project}/captures", json=body).json()
        shot, job = begun["shot_id"], begun["job"]["id"]
        wait_until(lambda: captured(program.client, shot)["taken"] >= 6)
        before = captured(program.client, shot)
        program.kill()
        program.start()
        wait_until(lambda: captured(program.client, shot)["taken"] >= before["taken"] + 4)
        after = captured(program.client, shot)
        assert after["began_at"] == before["began_at"]
        (gap,) = [gap for gap in after["gaps"] if gap["why"] == "stopped"]
        assert gap["last"] - gap["first"] >= 3
        # What is said to be stopped stays stopped, whatever becomes of the program.
        program.client.post(f"/api/captures/{job}/stop")
        program.kill()
        program.start()
        assert program.wait_for_job(job)["state"] == "finished"
        found = captured(program.client, shot)
        stills = names(program.client, shot)
        numbers = [int(name.rsplit("_")[-1][:6]) - 1 for name in stills]
        # Every still on the disk is in the shot, none of them at a beat that is said to be missing.
        assert len(numbers) == len(set(numbers))
        assert sorted(file.name for file in (tmp_path / "data" / "stills" / f"shot-{shot}").glob("*.jpg")) == sorted(
            stills
        )
        missing = {
            beat for gap in found["gaps"] if gap["why"] != "late" for beat in range(gap["first"], gap["last"] + 1)
        }
        assert not missing & set(numbers)
    finally:
        program.stop()
        process.stop()
