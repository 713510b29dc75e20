"""Bringing stills in: from a folder that stays where it is, and by sending files that may be interrupted."""

import os

import imagecodecs
import numpy as np
import pytest
from PIL import Image

from tests.conftest import scene, write_jpeg
from tests.core.gather.test_footage import film
from yarnkite.services.space import remove_given_up


def test_a_folder_becomes_a_shot_in_natural_order_and_stays_as_it_was(client, project, card, finished):
    folder = card / "harbour"
    for number in (1, 2, 9, 10, 11):
        write_jpeg(folder / f"IMG_{number}.jpg", number)
    write_jpeg(folder / "more" / "IMG_1.jpg", 50, size=(320, 480))
    (folder / "notes.txt").write_text("low tide at four")
    (folder / "IMG_12.jpg").write_bytes((folder / "IMG_11.jpg").read_bytes()[:4000])
    (folder / "IMG_13.jpg").touch()
    before = {path: (path.stat().st_mtime_ns, path.read_bytes()) for path in folder.rglob("*") if path.is_file()}

    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": "harbour"})
    assert started.status_code == 201
    assert finished(started.json()["job"]["id"])["state"] == "finished"
    shot_id = started.json()["shot_id"]
    answer = client.get(f"/api/shots/{shot_id}/stills").json()

    names = [still["name"] for still in answer["stills"]]
    assert names == [*(f"IMG_{number}.jpg" for number in (1, 2, 9, 10, 11)), "more/IMG_1.jpg"]
    assert [still["position"] for still in answer["stills"]] == [0, 1, 2, 3, 4, 5]
    assert answer["stills"][2]["captured_at"] == "2031-05-04T09:30:45.250000"
    reasons = {file["name"]: file["reason"] for file in answer["left_out"]}
    assert set(reasons) == {"notes.txt", "IMG_12.jpg", "IMG_13.jpg"}
    assert "ends early" in reasons["IMG_12.jpg"]
    assert "empty" in reasons["IMG_13.jpg"]
    assert "6 stills, JPEG, 480 × 320 (1 of another size)" in answer["found"]
    assert before == {
        path: (path.stat().st_mtime_ns, path.read_bytes()) for path in folder.rglob("*") if path.is_file()
    }
    assert client.get(f"/api/shots/{shot_id}").json()["brief"]["frames"] == 6


def test_the_tail_has_a_row_for_each_still(client, gathered):
    import io

    from PIL import Image

    shot = gathered(7)
    with Image.open(io.BytesIO(client.get(f"/api/shots/{shot}/tail.png").content)) as tail:
        assert tail.size == (160, 7)
        assert tail.convert("RGB").getpixel((2, 3)) != (0, 0, 0)


@pytest.mark.parametrize("path", ["..", "../..", "/etc", "harbour/../../..", "way-out", "%2e%2e", "nowhere\0"])
def test_folders_outside_the_named_places_are_refused(client, project, card, path):
    if not (card / "way-out").is_symlink():
        (card / "way-out").symlink_to("/etc")
    looked = client.get("/api/locations/card/folder", params={"path": path})
    used = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": path})
    for answer in (looked, used):
        assert answer.status_code in (400, 404)
        assert answer.json()["code"] in ("outside_location", "no_such_folder")
        assert answer.headers["content-type"] == "application/problem+json"
    assert client.get("/api/locations/attic/folder").json()["code"] == "no_such_location"


def test_a_place_can_be_looked_into(client, card):
    write_jpeg(card / "tray" / "a 2.jpg")
    write_jpeg(card / "tray" / "a 10.jpg")
    (card / "tray" / "a.xmp").touch()
    (card / "tray" / "night").mkdir()
    looked = client.get("/api/locations/card/folder", params={"path": "tray"}).json()
    assert looked["folders"] == ["night"]
    assert (looked["stills"], looked["others"], looked["first"], looked["last"]) == (2, 1, "a 2.jpg", "a 10.jpg")


def announce(paths):
    files = [{"name": name, "bytes": len(data), "modified_ms": 1_936_000_000_000} for name, data in paths.items()]
    return {"name": "Sent", "files": files}


def send(client, upload, number, data, offset=0):
    return client.patch(f"/api/uploads/{upload}/files/{number}", content=data, headers={"Upload-Offset": str(offset)})


def test_a_broken_upload_goes_on_where_it_stopped(client, project, tmp_path, finished):
    data = {f"card/MRW_{n}.jpg": write_jpeg(tmp_path / f"{n}.jpg", n).read_bytes() for n in (8, 9, 10)}
    data["card/MRW_8.xmp"] = b"<settings/>"
    opened = client.post(f"/api/projects/{project}/uploads", json=announce(data)).json()
    assert [file["offset"] for file in opened["files"]] == [0, 0, 0, 0]
    assert "sidecar" in opened["files"][3]["skip"]
    first, second, third = list(data.values())[:3]
    assert send(client, opened["id"], 0, first).status_code == 204
    assert send(client, opened["id"], 1, second[:5000]).headers["Upload-Offset"] == "5000"

    again = client.post(f"/api/projects/{project}/uploads", json=announce(data)).json()
    assert again["id"] == opened["id"]
    assert [file["offset"] for file in again["files"]] == [len(first), 5000, 0, 0]
    wrong = send(client, opened["id"], 1, second, 0)
    assert (wrong.status_code, wrong.headers["Upload-Offset"]) == (409, "5000")
    early = client.post(f"/api/uploads/{opened['id']}/complete")
    assert (early.status_code, early.json()["code"]) == (409, "not_complete")
    assert "MRW_9.jpg" in early.json()["detail"]
    send(client, opened["id"], 1, second[5000:], 5000)
    send(client, opened["id"], 2, third)

    done = client.post(f"/api/uploads/{opened['id']}/complete").json()
    assert finished(done["job"]["id"])["state"] == "finished"
    answer = client.get(f"/api/shots/{done['shot_id']}/stills").json()
    assert [still["name"] for still in answer["stills"]] == [f"card/MRW_{n}.jpg" for n in (8, 9, 10)]
    assert [file["name"] for file in answer["left_out"]] == ["card/MRW_8.xmp"]
    folder = client.get(f"/api/shots/{done['shot_id']}").json()["folder"]
    with open(os.path.join(folder, "card/MRW_9.jpg"), "rb") as kept:  # noqa: PTH118, PTH123
        assert kept.read() == second


def test_a_film_that_is_sent_is_kept_once_and_stills_are_taken_from_it(client, project, tmp_path, finished, services):
    data = film(tmp_path / "boat.mp4", sound=True).read_bytes()
    announced = {"name": "boat.mp4", "files": announce({"boat.mp4": data})["files"]}
    opened = client.post(f"/api/projects/{project}/uploads", json=announced).json()
    assert (opened["is_film"], opened["files"]) == (True, [{"number": 0, "offset": 0, "skip": None}])
    early = client.post(f"/api/uploads/{opened['id']}/film")
    assert (early.status_code, early.json()["code"]) == (409, "not_complete")
    send(client, opened["id"], 0, data[:5000])
    send(client, opened["id"], 0, data[5000:], 5000)
    # It is a film: nothing can be gathered as it is.
    assert client.post(f"/api/uploads/{opened['id']}/complete").json()["code"] == "is_film"
    kept = client.post(f"/api/uploads/{opened['id']}/film").json()
    assert kept == {"sent": opened["id"], "name": "boat.mp4"}
    # Sent again it is there already.
    again = client.post(f"/api/projects/{project}/uploads", json=announced).json()
    assert (again["id"], again["files"][0]["offset"]) == (opened["id"], len(data))
    assert client.post(f"/api/uploads/{opened['id']}/film").json() == kept

    asked = {"sent": opened["id"], "taking": {"every_frames": 10}}
    assert client.post("/api/footage", json=asked).json()["stills"] == 6
    (held,) = [one for one in client.get("/api/space").json()["projects"] if one["id"] == project]
    assert held["films"] == len(data)
    started = client.post(f"/api/projects/{project}/footage", json=asked).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    assert client.get(f"/api/shots/{started['shot_id']}").json()["name"] == "boat"
    # Its sound is still to be had, so it stays; nobody took anything from another one, so that one goes.
    other = services.workspace.film(99_999)
    other.mkdir(parents=True)
    (other / "left.mp4").write_bytes(data)
    for folder in (other, services.workspace.film(opened["id"])):
        os.utime(folder, (0, 0))
    remove_given_up(services.database, services.workspace)
    assert not other.exists()
    assert (services.workspace.film(opened["id"]) / "boat.mp4").read_bytes() == data
    assert client.post("/api/footage", json=asked | {"sent": 99_999}).json()["code"] == "no_such_film"


def test_a_film_among_stills_is_left_out_and_stills_are_no_film(client, project):
    body = announce({"a.jpg": b"12345", "boat.mp4": b"12345"})
    opened = client.post(f"/api/projects/{project}/uploads", json=body).json()
    assert not opened["is_film"]
    assert "film" in opened["files"][1]["skip"]
    assert client.post(f"/api/uploads/{opened['id']}/film").json()["code"] == "is_no_film"
    asked = {"sent": opened["id"], "taking": {"every_s": 1}}
    assert client.post("/api/footage", json=asked).json()["code"] == "no_such_film"


@pytest.mark.parametrize(
    "names", [["../a.jpg"], ["/etc/a.jpg"], ["a.jpg", "a.jpg"], ["a/./b.jpg"], ["x" * 256 + ".jpg"]]
)
def test_uploads_with_names_that_cannot_be_kept_are_refused(client, project, names):
    body = {"name": "Sent", "files": [{"name": name, "bytes": 10, "modified_ms": 0} for name in names]}
    refused = client.post(f"/api/projects/{project}/uploads", json=body)
    assert (refused.status_code, refused.json()["code"] in ("bad_name", "same_name")) == (400, True)


def test_two_files_of_one_name_in_different_folders_are_both_kept(client, project, tmp_path, finished):
    data = {
        f"{day}/MRW_1.jpg": write_jpeg(tmp_path / f"{n}.jpg", n).read_bytes() for n, day in enumerate(("mon", "tue"))
    }
    opened = client.post(f"/api/projects/{project}/uploads", json=announce(data)).json()
    for number, content in enumerate(data.values()):
        send(client, opened["id"], number, content)
    done = client.post(f"/api/uploads/{opened['id']}/complete").json()
    finished(done["job"]["id"])
    stills = client.get(f"/api/shots/{done['shot_id']}/stills").json()["stills"]
    assert [still["name"] for still in stills] == ["mon/MRW_1.jpg", "tue/MRW_1.jpg"]


def test_more_bytes_than_announced_are_refused(client, project):
    opened = client.post(f"/api/projects/{project}/uploads", json=announce({"a.jpg": b"12345"})).json()
    refused = send(client, opened["id"], 0, b"1234567890")
    assert (refused.status_code, refused.json()["code"]) == (400, "too_many_bytes")


def test_more_than_the_disk_holds_is_refused_before_anything_is_sent(client, project):
    body = {
        "name": "Sent",
        "files": [{"name": f"{n}.jpg", "bytes": 1_900_000_000, "modified_ms": 0} for n in range(900)],
    }
    refused = client.post(f"/api/projects/{project}/uploads", json=body)
    assert (refused.status_code, refused.json()["code"]) == (507, "disk_full")


def test_what_is_odd_about_stills_that_are_used_is_told(client, project, card, finished):
    folder = card / "odd"
    for number in range(8):
        write_jpeg(folder / f"A_{number}.jpg", number)
    deep = np.full((320, 480, 3), 30_000, np.uint16)
    imagecodecs.imwrite(folder / "A_9.png", deep)
    Image.fromarray(scene(480, 320)).save(folder / "A_8.jpg", icc_profile=b"nothing of the kind")
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": "odd"}).json()
    finished(started["job"]["id"])
    told = client.get(f"/api/shots/{started['shot_id']}/sorting").json()["remarks"]
    assert [said.split(":")[0] for said in told] == [
        "One still has a colour profile that cannot be read",
        "One still has 16 bits a sample where the others have 8",
    ]
    assert ["“A_8.jpg”" in told[0], "“A_9.png”" in told[1]] == [True, True]
    # Told as long as it is so: the file is mended, and read again.
    Image.fromarray(scene(480, 320)).save(folder / "A_8.jpg")
    finished(client.post(f"/api/shots/{started['shot_id']}/gather").json()["job"]["id"])
    assert len(client.get(f"/api/shots/{started['shot_id']}/sorting").json()["remarks"]) == 1
