"""A card is emptied with proof: its shots in folders of their own, lists of hashes, and whether it may be wiped."""

import errno
import hashlib
import os
import shutil
import subprocess
import threading

import pytest

from tests.conftest import write_jpeg
from tests.patience import wait_until
from yarnkite import locations
from yarnkite.core.base.errors import DiskFull
from yarnkite.jobs import offload as job


@pytest.fixture(scope="module")
def disk(services, tmp_path_factory):
    """A location to copy to."""
    folder = tmp_path_factory.mktemp("disks") / "disk"
    folder.mkdir()
    locations.add(services.workspace, [folder])
    return folder


@pytest.fixture
def memory(card, request):
    """A card with two shots of twelve stills, the second an hour later, raw files beside one, a film and a text."""
    folder = card / request.node.name[:60]
    for number in range(12):
        write_jpeg(folder / "DCIM" / "100MRWOK" / f"MRW_{number + 1:04}.JPG", number, (96, 64))
        write_jpeg(folder / "DCIM" / "100MRWOK" / f"MRW_{number + 13:04}.JPG", number + 700, (96, 64))
    (folder / "DCIM" / "100MRWOK" / "MRW_0003.XMP").write_text("<x/>")
    film = folder / "PRIVATE" / "CLIP" / "C0001.MP4"
    film.parent.mkdir(parents=True)
    film.write_bytes(os.urandom(3_000_000))
    (folder / "DCIM" / ".hidden").write_text("a system's own")
    return folder


@pytest.fixture
def empty(client, project, memory, disk):
    """Look at the card and begin to empty it; returns the answer."""

    def empty(folder, **other):
        where = {"location": "card", "path": memory.name}
        looked = client.post("/api/card", json=where).json()
        body = {
            **where,
            "seen": looked["listing"],
            "folders": looked["folders"],
            "shots": list(range(len(looked["shots"]))),
            "into": [{"location": "disk", "path": "", "folder": folder}],
        }
        return client.post(f"/api/projects/{project}/offloads", json=body | other)

    return empty


def checks(folder):
    command = ["sha256sum", "--check", "--strict", "--quiet", "hashes.sha256"]
    return subprocess.run(command, cwd=folder, check=False).returncode == 0


def test_a_card_becomes_a_folder_a_shot_on_two_disks_and_may_be_wiped(
    client, project, memory, disk, finished, empty, request
):
    looked = client.post("/api/card", json={"location": "card", "path": memory.name}).json()
    assert [(shot["stills"], shot["files"]) for shot in looked["shots"]] == [(12, 13), (12, 12)]
    assert looked["shots"][0]["taken"] == "2031-05-04T09:30:00.250000"
    assert (looked["others"], looked["left"]) == (1, [])
    two = [{"location": "disk", "path": "", "folder": f"{name} {request.node.name}"} for name in ("one", "two")]
    began = empty("", into=two)
    assert began.status_code == 202
    ended = finished(began.json()["id"])
    assert ended["state"] == "finished"
    assert ended["message"].startswith("The card may be wiped: all its 26 files")
    assert "(both on one disk)" in ended["message"]
    for target in (disk / one["folder"] for one in two):
        assert sorted(one.name for one in target.iterdir()) == [
            "2031-05-04_shot01",
            "2031-05-04_shot02",
            "other-files",
        ]
        assert (target / "2031-05-04_shot01" / "MRW_0003.XMP").read_text() == "<x/>"
        film = target / "other-files" / "PRIVATE" / "CLIP" / "C0001.MP4"
        assert film.read_bytes() == (memory / "PRIVATE" / "CLIP" / "C0001.MP4").read_bytes()
        assert all(checks(folder) for folder in target.iterdir())
        assert len((target / "2031-05-04_shot02" / "hashes.sha256").read_text().splitlines()) == 12
    # The card is as it was.
    assert len([one for one in memory.rglob("*") if one.is_file()]) == 27

    def to_make():
        [listed] = client.get(f"/api/projects/{project}/offloads").json()
        return listed["to_make"]

    assert to_make() == 2
    made = client.post(f"/api/offloads/{ended['id']}/shots").json()
    assert [finished(one["job"]["id"])["state"] for one in made] == ["finished", "finished"]
    shots = client.get(f"/api/projects/{project}").json()["shots"]
    assert [(shot["name"], shot["stills"]) for shot in shots] == [("2031-05-04_shot01", 12), ("2031-05-04_shot02", 12)]
    again = client.post(f"/api/offloads/{ended['id']}/shots").json()
    assert [one["shot_id"] for one in again] == [one["shot_id"] for one in made]
    assert to_make() == 0


def test_a_card_that_is_taken_out_is_waited_for_and_copying_goes_on(
    client, memory, disk, finished, empty, monkeypatch, request
):
    copied, gone = [], threading.Event()
    real = job.copy_with_proof

    def counting(card, file, targets, told):
        if len(copied) >= 5:
            assert gone.wait(60)
        said = real(card, file, targets, told)
        copied.append(file.name)
        return said

    monkeypatch.setattr(job, "copy_with_proof", counting)
    began = empty(request.node.name).json()
    wait_until(lambda: len(copied) >= 5)
    away = memory.with_name(memory.name + "-away")
    memory.rename(away)
    # Another card has another one's files under the same names.
    write_jpeg(memory / "DCIM" / "100MRWOK" / "MRW_0001.JPG", 900)
    gone.set()

    def now():
        return next(one for one in client.get("/api/jobs").json() if one["id"] == began["id"])

    wait_until(lambda: "The card was taken out" in now()["message"])
    assert now()["state"] == "running"
    (memory / "DCIM" / "100MRWOK" / "MRW_0001.JPG").unlink()
    (memory / "DCIM" / "100MRWOK").rmdir()
    (memory / "DCIM").rmdir()
    memory.rmdir()
    away.rename(memory)
    assert finished(began["id"])["message"].startswith("The card may be wiped: all its 26 files")
    assert len(copied) == len(set(copied)) == 26
    assert all(checks(folder) for folder in (disk / request.node.name).iterdir())


def test_what_cannot_be_read_is_named_the_rest_is_copied_and_it_goes_on_from_there(
    client, memory, disk, finished, empty, monkeypatch, request
):
    bad = memory / "DCIM" / "100MRWOK" / "MRW_0007.JPG"
    kept = bad.read_bytes()
    times = bad.stat()
    real = job.copy_with_proof

    def refusing(card, file, targets, told):
        if file.name.endswith("MRW_0007.JPG") and times.st_size == file.bytes and not bad.exists():
            return real(card, file, targets, told)
        if file.name.endswith("MRW_0007.JPG"):
            bad.rename(bad.with_name(".away"))
        return real(card, file, targets, told)

    monkeypatch.setattr(job, "copy_with_proof", refusing)
    began = empty(request.node.name).json()
    ended = finished(began["id"])
    assert ended["state"] == "failed"
    assert ended["message"].startswith("Do not wipe the card.")
    assert "MRW_0007.JPG” cannot be read" in ended["message"]
    assert len(list((disk / request.node.name).rglob("MRW_*"))) == 24
    monkeypatch.undo()
    bad.write_bytes(kept)
    os.utime(bad, ns=(times.st_atime_ns, times.st_mtime_ns))
    # What was copied and taken away meanwhile is copied again.
    (disk / request.node.name / "2031-05-04_shot02" / "MRW_0020.JPG").unlink()
    assert client.post(f"/api/jobs/{began['id']}/go-on").status_code == 202
    assert finished(began["id"])["message"].startswith("The card may be wiped: all its 26 files")
    assert all(checks(folder) for folder in (disk / request.node.name).iterdir())


def test_a_name_that_a_disk_cannot_have_concerns_that_file_alone(memory, disk, finished, empty, monkeypatch, request):
    real = job.copy_with_proof

    def cannot(card, file, targets, told):
        if file.name.endswith("MRW_0005.JPG"):
            raise DiskFull("cannot_write", "“MRW_0005.JPG” cannot be written.") from OSError(
                errno.EINVAL, "no such name"
            )
        return real(card, file, targets, told)

    monkeypatch.setattr(job, "copy_with_proof", cannot)
    (memory / "out").symlink_to("/etc/hostname")
    ended = finished(empty(request.node.name).json()["id"])
    assert ended["state"] == "failed"
    assert "“MRW_0005.JPG” cannot be written." in ended["message"]
    assert "“out” is a link to a file elsewhere" in ended["message"]
    assert "meanwhile" not in ended["message"]
    assert len(list((disk / request.node.name).rglob("MRW_*"))) == 24


def test_a_disk_that_is_full_ends_it_and_it_goes_on_once_there_is_room(
    client, memory, disk, finished, empty, monkeypatch, request
):
    real, left = job.copy_with_proof, [10]

    def fills(card, file, targets, told):
        left[0] -= 1
        if left[0] < 0:
            raise DiskFull("cannot_write", "No space is left.") from OSError(errno.ENOSPC, "No space left on device")
        return real(card, file, targets, told)

    monkeypatch.setattr(job, "copy_with_proof", fills)
    began = empty(request.node.name).json()
    ended = finished(began["id"])
    assert (ended["state"], ended["message"]) == ("failed", "No space is left.")
    left[0] = 1000
    assert client.post(f"/api/jobs/{began['id']}/go-on").status_code == 202
    assert finished(began["id"])["message"].startswith("The card may be wiped: all its 26 files")
    assert all(checks(folder) for folder in (disk / request.node.name).iterdir())


def test_a_disk_that_is_taken_out_is_not_written_to_where_it_was(
    client, memory, disk, finished, empty, monkeypatch, request
):
    folder, away = disk / request.node.name, disk / "taken out"
    real, left = job.copy_with_proof, [10]

    def taken_out(card, file, targets, told):
        left[0] -= 1
        if left[0] == 0:
            folder.rename(away)
        return real(card, file, targets, told)

    monkeypatch.setattr(job, "copy_with_proof", taken_out)
    began = empty(folder.name).json()
    ended = finished(began["id"])
    assert ended["state"] == "failed"
    monkeypatch.undo()
    # Files that were on their way may have made it again; nothing of them counts.
    shutil.rmtree(folder, ignore_errors=True)
    assert client.post(f"/api/jobs/{began['id']}/go-on").status_code == 202
    ended = finished(began["id"])
    assert "Plug its disk in again" in ended["message"]
    assert not folder.exists()
    away.rename(folder)
    assert client.post(f"/api/jobs/{began['id']}/go-on").status_code == 202
    assert finished(began["id"])["message"].startswith("The card may be wiped: all its 26 files")
    assert all(checks(one) for one in folder.iterdir())
    done = client.post(f"/api/jobs/{began['id']}/go-on")
    assert (done.status_code, done.json()["code"]) == (409, "job_ended")


def test_it_may_not_be_wiped_when_something_was_left_or_came_to_it(
    client, memory, disk, finished, empty, monkeypatch, request
):
    real = job.copy_with_proof

    def shooting_on(card, file, targets, told):
        (memory / "DCIM" / "100MRWOK" / "MRW_0099.JPG").write_bytes(b"new")
        return real(card, file, targets, told)

    monkeypatch.setattr(job, "copy_with_proof", shooting_on)
    ended = finished(empty(request.node.name, shots=[1], others=False).json()["id"])
    assert ended["state"] == "finished"
    assert ended["message"].startswith("Do not wipe the card. 14 files on it were not to be copied.")
    assert "MRW_0099.JPG” among them" in ended["message"]
    assert [one.name for one in (disk / request.node.name).iterdir()] == ["2031-05-04_shot02"]


def test_a_pattern_names_the_stills_and_is_shown_before(client, memory, disk, finished, empty, request):
    names = {
        "folders": [{"kind": "text", "text": "dusk "}, {"kind": "counter", "digits": 1}],
        "stills": [{"kind": "shot"}, {"kind": "text", "text": "_"}, {"kind": "counter"}],
    }
    shown = client.post("/api/card/names", json={"location": "card", "path": memory.name, **names}).json()
    assert shown[1] == {"folder": "dusk 2", "first": "dusk-2_0001.JPG", "last": "dusk-2_0012.JPG"}
    finished(empty(request.node.name, **names).json()["id"])
    folder = disk / request.node.name / "dusk 2"
    whole = (memory / "DCIM" / "100MRWOK" / "MRW_0013.JPG").read_bytes()
    assert (folder / "dusk-2_0001.JPG").read_bytes() == whole
    assert f"{hashlib.sha256(whole).hexdigest()}  dusk-2_0001.JPG" in (folder / "hashes.sha256").read_text()


def test_what_cannot_be_done_is_said_before_anything_is_copied(client, memory, disk, empty, request):
    def refusal(**other):
        answer = empty(request.node.name, **other)
        assert answer.status_code >= 400
        return answer.json()["detail"]

    assert "has changed since" in refusal(seen="another")
    assert "Nothing of this card was chosen" in refusal(shots=[], others=False)
    on_card = {"location": "card", "path": memory.name, "folder": "copy"}
    assert "lies on the card itself" in refusal(into=[on_card])
    same = {"location": "disk", "path": "", "folder": "same"}
    assert "the same, or one lies in the other" in refusal(into=[same, {**same, "folder": "same/inside"}])
    (disk / "taken").mkdir(exist_ok=True)
    (disk / "taken" / "file").write_text("")
    assert "There are files in" in refusal(into=[{**same, "folder": "taken"}])
    assert "not a name" in refusal(into=[{**same, "folder": ".."}])
    assert "Add a counter" in refusal(folders=[{"kind": "date"}])
    assert not (disk / request.node.name).exists()
