"""Folders of this machine are found, named as locations and looked into, without a start anew."""

import json
import os
import subprocess
import threading

import pytest

from tests.conftest import write_jpeg
from tests.patience import wait_until
from yarnkite.services import disks
from yarnkite.services import locations as services_of_locations


@pytest.fixture
def evening(tmp_path):
    """A folder with six stills, beside a hidden one."""
    for number in range(6):
        write_jpeg(tmp_path / "shoots" / "evening" / f"MRW_{number}.jpg", number, (96, 64))
    (tmp_path / "shoots" / ".hidden").mkdir()
    return tmp_path / "shoots" / "evening"


def test_a_folder_is_found_named_and_gathered_at_once(client, project, evening, finished):
    above = client.get("/api/machine/folder", params={"path": str(evening.parent)}).json()
    assert above == {
        "path": str(evening.parent),
        "above": str(evening.parent.parent),
        "folders": ["evening"],
        "stills": 0,
    }
    inside = client.get("/api/machine/folder", params={"path": str(evening)}).json()
    assert (inside["stills"], inside["folders"]) == (6, [])
    named = client.post("/api/locations", json={"folder": str(evening)})
    assert (named.status_code, named.json()) == (201, {"name": "evening", "folder": str(evening)})
    # Once more it is the same one.
    assert client.post("/api/locations", json={"folder": f"{evening}/../evening/"}).json() == named.json()
    begun = client.post(f"/api/projects/{project}/shots", json={"location": "evening", "path": ""}).json()
    assert finished(begun["job"]["id"])["state"] == "finished"
    assert client.delete("/api/locations/evening").status_code == 204
    assert client.post(f"/api/projects/{project}/shots", json={"location": "evening", "path": ""}).status_code == 404
    # The shot stays, with its stills where they lie.
    assert len(client.get(f"/api/shots/{begun['shot_id']}/stills").json()["stills"]) == 6
    assert client.delete("/api/locations/evening").status_code == 404


@pytest.mark.parametrize(
    ("path", "status"),
    [("evening", 400), ("../..", 400), ("/no/such/folder", 404), ("/proc/self/environ", 404), ("/\0", 400), ("", 422)],
)
def test_what_is_no_whole_path_of_a_folder_is_refused_with_a_sentence(client, path, status):
    before = client.get("/api/locations").json()
    for answer in (
        client.get("/api/machine/folder", params={"path": path}),
        client.post("/api/locations", json={"folder": path}),
    ):
        assert answer.status_code == status
        assert answer.json()["detail"].endswith(".")
    assert client.get("/api/locations").json() == before


def test_neither_the_whole_machine_nor_what_is_no_text_becomes_a_location(client, tmp_path):
    odd = tmp_path / os.fsdecode(b"odd\xff")
    odd.mkdir()
    before = client.get("/api/locations").json()
    assert client.get("/api/machine/folder", params={"path": "/"}).json()["above"] is None
    assert client.get("/api/machine/folder", params={"path": str(tmp_path)}).json()["folders"] == []
    for folder in ("/", str(odd)):
        answer = client.post("/api/locations", content=json.dumps({"folder": folder}))
        assert answer.status_code in (400, 422), answer.text
    assert client.get("/api/locations").json() == before


def test_the_machine_names_home_and_what_is_mounted(client, tmp_path, monkeypatch):
    card = tmp_path / "LANTERN"
    (card / "DCIM").mkdir(parents=True)
    table = tmp_path / "mountinfo"
    # A file can be mounted too, and a disk can have gone by now.
    others = [card, tmp_path, table, tmp_path / "gone"]
    table.write_text("".join(f"51 28 8:17 / {folder} rw - vfat /dev/sdb1 rw\n" for folder in others))
    monkeypatch.setattr(services_of_locations, "MOUNTS", table)
    found = client.get("/api/machine").json()
    assert found["disks"][0] == {"name": "LANTERN", "folder": str(card), "is_card": True}
    assert [disk["is_card"] for disk in found["disks"]] == [True, False]
    table.unlink()
    assert client.get("/api/machine").json()["disks"] == []


class Told:
    """Notes what is published."""

    def __init__(self):
        self.names = []

    def publish(self, name, data):
        del data
        self.names.append(name)


def test_a_card_that_is_plugged_in_or_taken_out_is_told_at_once(tmp_path, monkeypatch):
    source, card = tmp_path / "source", tmp_path / "LANTERN"
    source.mkdir()
    card.mkdir()
    if subprocess.run(["mount", "--bind", source, card], capture_output=True).returncode:
        pytest.skip("nothing may be mounted here")
    subprocess.run(["umount", card], check=True)
    looked, look = [], services_of_locations.disks
    monkeypatch.setattr(services_of_locations, "disks", lambda: looked.append(True) or look())
    told, stopping = Told(), threading.Event()
    watching = threading.Thread(target=disks.watch, args=(told, stopping))
    watching.start()
    try:
        wait_until(lambda: looked)
        subprocess.run(["mount", "--bind", source, card], check=True)
        wait_until(lambda: told.names == ["disks"])
        assert card in [disk.folder for disk in look()]
        subprocess.run(["umount", card], check=True)
        wait_until(lambda: told.names == ["disks", "disks"])
        assert card not in [disk.folder for disk in look()]
    finally:
        stopping.set()
        watching.join()
        subprocess.run(["umount", card], capture_output=True)


def test_each_folder_with_stills_becomes_a_shot_in_the_order_of_names(client, project, card, finished):
    for folder, count in (("reel 10", 3), ("reel 9", 2), ("empty", 0), ("below/deep", 2)):
        (card / f"each-{project}" / folder).mkdir(parents=True)
        for number in range(count):
            write_jpeg(card / f"each-{project}" / folder / f"MRW_{number}.jpg", number, (96, 64))
    (card / f"each-{project}" / "empty" / "notes.txt").write_text("nothing to see")
    wanted = {"location": "card", "path": f"each-{project}"}
    begun = client.post(f"/api/projects/{project}/shots/each", json=wanted)
    assert begun.status_code == 201
    assert all(finished(one["job"]["id"])["state"] == "finished" for one in begun.json())
    shots = client.get(f"/api/projects/{project}").json()["shots"]
    assert [(shot["name"], shot["stills"]) for shot in shots] == [("below", 2), ("reel 9", 2), ("reel 10", 3)]
    # Once more they are gathered again, and none is made twice.
    for one in client.post(f"/api/projects/{project}/shots/each", json=wanted).json():
        finished(one["job"]["id"])
    assert len(client.get(f"/api/projects/{project}").json()["shots"]) == 3
    refused = client.post(f"/api/projects/{project}/shots/each", json=wanted | {"path": f"each-{project}/reel 9"})
    assert (refused.status_code, refused.json()["code"]) == (400, "no_stills")
