"""What leaves the program and what comes in as lists: never outside the named folders, never to the wrong still."""

import asyncio
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import opentimelineio as otio
import pytest
import tifffile

from tests.api import slow
from tests.conftest import scene, write_jpeg
from yarnkite.api import uploads
from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.locations import Location
from yarnkite.services.uploads import PartFile
from yarnkite.store.uploads import UploadFile

PARTS = [{"kind": "shot"}, {"kind": "text", "text": "_"}, {"kind": "counter"}]


@pytest.fixture
def outside(tmp_path):
    folder = tmp_path / "outside"
    folder.mkdir()
    return folder


def export(client, shot, path, folder, what="files", **more):
    body = {"parts": PARTS, "what": what, "location": "card", "path": path, "folder": folder} | more
    return client.post(f"/api/shots/{shot}/export", json=body)


def test_an_export_does_not_leave_the_place_through_a_link(client, gathered, card, project, outside, finished):
    shot = gathered(2)
    trap = card / f"trap-{project}"
    trap.mkdir()
    (trap / "link").symlink_to(outside)
    (trap / "dangling").symlink_to(outside / "not-there-yet")
    for folder in ("link/new", "link/new/deeper", "link", "dangling/new", "dangling"):
        answer = export(client, shot, trap.name, folder)
        assert answer.status_code in (400, 404), (folder, answer.text)
        assert answer.json()["code"] in ("outside_location", "no_such_folder")
    assert list(outside.iterdir()) == []
    job = export(client, shot, trap.name, "new/deeper")
    assert finished(job.json()["id"])["state"] == "finished"
    assert len(list((trap / "new" / "deeper").iterdir())) == 2


def test_a_link_made_after_an_export_was_asked_for_is_not_followed(
    services, client, gathered, card, project, outside, finished
):
    shot = gathered(2)
    target = card / f"late-{project}" / "new"
    target.parent.mkdir()
    wanted = {
        "folder": str(target),
        "location": str(card),
        "writing": None,
        "names": [["MRW_1.jpg", "a.jpg"], ["MRW_2.jpg", "b.jpg"]],
    }
    target.symlink_to(outside)
    ended = finished(services.runner.start("export", shot, 2, wanted=wanted))
    assert (ended["state"], list(outside.iterdir())) == ("failed", [])
    assert "leads out of" in ended["message"]


def test_what_does_not_exist_yet_is_placed_by_what_does(tmp_path, outside):
    place = Location("card", tmp_path / "card")
    place.folder.mkdir()
    assert place.new_inside("a/b/c") == place.folder.resolve() / "a" / "b" / "c"
    for wrong in ("../outside/new", "/etc/new", "a/../../outside"):
        with pytest.raises(Refusal) as refusal:
            place.new_inside(wrong)
        assert refusal.value.code in ("outside_location", "no_such_folder")


def test_an_export_never_writes_over_a_file_that_came_meanwhile(
    services, client, gathered, card, project, finished, tmp_path
):
    from yarnkite.core.base.errors import DiskFull
    from yarnkite.jobs.export import write_one

    write_jpeg(tmp_path / "a.jpg")
    (tmp_path / "b.jpg").write_bytes(b"somebody else's")
    with pytest.raises(DiskFull, match="File exists"):
        write_one(None, None, None, tmp_path / "a.jpg", tmp_path / "b.jpg")
    assert (tmp_path / "b.jpg").read_bytes() == b"somebody else's"
    assert sorted(path.name for path in tmp_path.iterdir() if path.is_file()) == ["a.jpg", "b.jpg"]


def test_planar_sixteen_bit_stills_are_exported_as_they_are(client, project, card, finished):
    folder = card / f"planes-{project}"
    folder.mkdir()
    truth = scene(96, 64).astype(np.uint16) * 201
    tifffile.imwrite(folder / "P_1.tif", np.moveaxis(truth, 2, 0), photometric="rgb", planarconfig="separate")
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    job = export(client, started["shot_id"], folder.name, "out", what="shot", format="TIFF").json()
    assert finished(job["id"])["state"] == "finished"
    (written,) = (folder / "out").iterdir()
    assert (tifffile.imread(written) == truth).all()


@pytest.fixture
def nested(client, project, card, finished):
    """A shot with files of one name in the folder and below it."""
    folder = card / f"nested-{project}"
    for number, name in enumerate(("a.jpg", "b.jpg", "sub/a.jpg", "sub/c.jpg")):
        write_jpeg(folder / name, number)
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    return started["shot_id"]


def names_in_order(client, shot):
    return [still["name"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]


def open_list(client, shot, text, kind="csv"):
    seen = client.get(f"/api/shots/{shot}").json()["revision"]
    return client.post(f"/api/shots/{shot}/list", json={"seen": seen, "format": kind, "text": text})


def test_a_list_tells_files_of_one_name_apart_by_their_folders(client, nested):
    opened = open_list(client, nested, "position,name\n1,sub/a.jpg\n2,a.jpg\n3,c.jpg\n4,b.jpg\n").json()
    assert (opened["placed"], opened["unknown"]) == (4, [])
    assert names_in_order(client, nested) == ["sub/a.jpg", "a.jpg", "sub/c.jpg", "b.jpg"]


@pytest.mark.parametrize("kind", ["csv", "otio"])
def test_a_written_list_is_read_back_to_the_same_stills_also_from_sub_folders(client, nested, kind):
    stills = client.get(f"/api/shots/{nested}/stills").json()["stills"]
    seen = client.get(f"/api/shots/{nested}").json()["revision"]
    order = [stills[place]["id"] for place in (2, 0, 3, 1)]
    client.post(f"/api/shots/{nested}/order/reverse", json={"seen": seen, "stills": []})
    text = client.get(f"/api/shots/{nested}/list.{kind}").text
    before = names_in_order(client, nested)
    seen = client.get(f"/api/shots/{nested}").json()["revision"]
    client.post(f"/api/shots/{nested}/order/move", json={"seen": seen, "stills": order[:1], "to": 3})
    opened = open_list(client, nested, text, kind).json()
    assert (opened["placed"], opened["unknown"]) == (4, [])
    assert names_in_order(client, nested) == before


@pytest.mark.parametrize(
    ("text", "status"),
    [
        ("position,name\r1,b.jpg\r2,a.jpg\r", 200),
        ("position,name\n1," + "x" * 200_000 + "\n", 400),
        ("position,name\n" + "9" * 5000 + ",a.jpg\n", 400),
        ("position,name\n1,a.jpg\0\n", 400),
        ('position,name\n1,"a.jpg\n', 400),
        ("\r\r\r", 400),
        ("name,capture time\na.jpg," + "9" * 5000, 400),
    ],
    ids=["carriage returns", "huge field", "huge number", "zero", "open quote", "nothing", "huge time"],
)
def test_lists_of_any_make_are_read_or_refused_in_words(client, nested, text, status):
    answer = open_list(client, nested, text)
    assert answer.status_code == status
    assert status == 200 or answer.json()["code"] in ("not_a_shot_list", "other_shot")


def test_a_timeline_of_an_impossible_rate_orders_the_stills_and_leaves_the_rate(client, nested):
    rate = 5_000_000.0
    clip = otio.schema.Clip(
        media_reference=otio.schema.ImageSequenceReference(
            target_url_base="file:///elsewhere/sub/", name_prefix="a", name_suffix=".jpg", start_frame=1, rate=rate
        ),
        source_range=otio.opentime.TimeRange(otio.opentime.RationalTime(1, rate), otio.opentime.RationalTime(1, rate)),
    )
    other = otio.schema.Clip(media_reference=otio.schema.ExternalReference(target_url="file:///elsewhere/sub/c.jpg"))
    timeline = otio.schema.Timeline()
    timeline.tracks.append(otio.schema.Track(children=[clip, other]))
    text = otio.adapters.write_to_string(timeline, "otio_json")
    opened = open_list(client, nested, text, "otio")
    assert opened.status_code == 200, opened.text
    assert opened.json()["revised"]["decisions"]["pace"]["rate"] == "25"
    assert names_in_order(client, nested)[0] == "sub/c.jpg"


def test_strange_names_and_dates_are_written_into_lists(client, project, card, finished, services):
    folder = card / f"strange-{project}"
    for number, name in enumerate(
        ("ä ö%20.jpg", "semi;colon,comma.jpg", '"quoted" 1.jpg', "0099999999999999999999.jpg")
    ):
        write_jpeg(folder / name, number)
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    shot = started["shot_id"]
    before = names_in_order(client, shot)
    for kind in ("csv", "otio"):
        text = client.get(f"/api/shots/{shot}/list.{kind}")
        assert text.status_code == 200, text.text
        opened = open_list(client, shot, text.text, kind)
        assert (opened.status_code, opened.json().get("placed")) == (200, 4), opened.text
        assert names_in_order(client, shot) == before


def announced(client, project, name, count, modified_ms=1_936_000_000_000):
    body = {"name": "Sent", "files": [{"name": name, "bytes": count, "modified_ms": modified_ms}]}
    return client.post(f"/api/projects/{project}/uploads", json=body).json()


def test_two_who_send_one_file_at_once_do_not_mix_their_bytes(client, project, tmp_path, services):
    data = write_jpeg(tmp_path / "a.jpg", size=(1200, 800)).read_bytes()
    upload = announced(client, project, "a.jpg", len(data))["id"]
    gate = threading.Barrier(2)
    answers = []

    def pieces():
        for low in range(0, len(data), 20_000):
            yield data[low : low + 20_000]
            time.sleep(0.002)

    def send():
        gate.wait()
        answer = client.patch(f"/api/uploads/{upload}/files/0", content=pieces(), headers={"Upload-Offset": "0"})
        answers.append((answer.status_code, answer.headers.get("Upload-Offset")))

    threads = [threading.Thread(target=send) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(answers) == [(204, str(len(data))), (409, str(len(data)))]
    assert (services.workspace.arriving(upload) / "0.part").read_bytes() == data


def test_two_who_complete_an_upload_at_once_make_one_shot(client, project, tmp_path):
    data = write_jpeg(tmp_path / "a.jpg").read_bytes()
    upload = announced(client, project, "a.jpg", len(data))["id"]
    client.patch(f"/api/uploads/{upload}/files/0", content=data, headers={"Upload-Offset": "0"})
    gate, answers = threading.Barrier(4), []

    def complete():
        gate.wait()
        answers.append(client.post(f"/api/uploads/{upload}/complete").status_code)

    threads = [threading.Thread(target=complete) for _ in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(answers) == [201, 409, 409, 409]
    assert len(client.get(f"/api/projects/{project}").json()["shots"]) == 1


def test_more_bytes_than_there_are_do_not_harm_a_file_that_is_complete(tmp_path):
    part, final = tmp_path / "0.part", tmp_path / "a.jpg"
    part.write_bytes(b"all of it")

    class Sender:
        async def stream(self):
            # The upload is completed while this request has the file open and has not sent its byte yet.
            part.rename(final)
            yield b"!"

    taking = uploads._take(Sender(), PartFile(UploadFile("a.jpg", 9, 0), part), 9)
    # In a thread of its own: the browser that other tests drive has this one's loop.
    with ThreadPoolExecutor(1) as other, pytest.raises(Refusal) as refusal:
        other.submit(asyncio.run, taking).result()
    assert refusal.value.code == "too_many_bytes"
    assert final.read_bytes() == b"all of it"


def test_a_part_that_became_longer_than_the_file_begins_again_and_ends(client, project, tmp_path, services, finished):
    data = write_jpeg(tmp_path / "a.jpg").read_bytes()
    upload = announced(client, project, "a.jpg", len(data))["id"]
    (services.workspace.arriving(upload) / "0.part").write_bytes(data + b"more")
    again = announced(client, project, "a.jpg", len(data))
    assert (again["id"], again["files"][0]["offset"]) == (upload, 0)
    assert (
        client.patch(f"/api/uploads/{upload}/files/0", content=data, headers={"Upload-Offset": "0"}).status_code == 204
    )
    done = client.post(f"/api/uploads/{upload}/complete").json()
    assert finished(done["job"]["id"])["state"] == "finished"


def test_files_that_were_put_in_place_before_a_kill_are_not_asked_for_again(client, project, tmp_path, services):
    data = write_jpeg(tmp_path / "a.jpg").read_bytes()
    upload = announced(client, project, "a.jpg", len(data))["id"]
    placed = services.workspace.stills(upload) / "a.jpg"
    placed.parent.mkdir(parents=True)
    placed.write_bytes(data)
    assert announced(client, project, "a.jpg", len(data))["files"][0]["offset"] == len(data)
    assert client.post(f"/api/uploads/{upload}/complete").status_code == 201


def test_an_upload_of_a_time_no_file_has_is_kept_under_a_possible_one(client, project, tmp_path, finished):
    data = write_jpeg(tmp_path / "a.jpg").read_bytes()
    upload = announced(client, project, "a.jpg", len(data), 8_640_000_000_000_000)["id"]
    client.patch(f"/api/uploads/{upload}/files/0", content=data, headers={"Upload-Offset": "0"})
    done = client.post(f"/api/uploads/{upload}/complete").json()
    assert finished(done["job"]["id"])["state"] == "finished"
    assert client.get(f"/api/shots/{done['shot_id']}/stills").status_code == 200


def test_a_picture_is_kept_by_the_browser_only_under_the_state_it_shows(client, gathered):
    shot = gathered(6)
    listed = client.get(f"/api/shots/{shot}/stills").json()
    state = listed["state"]
    addresses = [
        f"/api/shots/{shot}/stills/2.jpg?width=160",
        f"/api/shots/{shot}/frames/2.jpg?width=160&revision=1",
        f"/api/shots/{shot}/stills/2/frame.jpg?width=160&revision=1",
        f"/api/shots/{shot}/stills/2/used.jpg?width=160&revision=1",
        f"/api/shots/{shot}/stills/2/difference.jpg?width=160",
        f"/api/shots/{shot}/stills/2/clipped.jpg?width=160",
        f"/api/shots/{shot}/stills/2/spot.jpg?x=0.5&y=0.5",
        f"/api/shots/{shot}/fit/stills/2/around.jpg?width=160&revision=1",
        f"/api/shots/{shot}/stills/2/try.jpg?width=160&revision=1&remedy=repeat&first=2&last=2",
    ]

    def cached(address, of):
        answer = client.get(f"{address}&state={of}")
        assert answer.status_code == 200, answer.text
        return "immutable" in answer.headers["Cache-Control"]

    assert all(cached(address, state) for address in addresses)
    assert not any(cached(address, "") or cached(address, "another") for address in addresses)
    pictures = [client.get(f"{address}&state={state}").content for address in addresses]
    client.post(f"/api/shots/{shot}/split", json={"before": [listed["stills"][1]["id"]]})
    split = client.get(f"/api/shots/{shot}/stills").json()
    assert split["state"] != state
    gone = client.get(f"{addresses[0]}&state={state}")
    assert gone.status_code == 404
    (other,) = [one["id"] for one in client.get(f"/api/shots/{shot}/sorting").json()["siblings"]]
    newer = client.get(f"/api/shots/{other}/stills").json()["state"]
    again = client.get(addresses[0].replace(f"/shots/{shot}/", f"/shots/{other}/") + f"&state={newer}")
    assert "immutable" in again.headers["Cache-Control"]
    assert again.content != pictures[0]


def test_whole_shot_pictures_tell_how_far_they_are_are_cancelled_and_kept(
    client, gathered, finished, services, monkeypatch
):
    from tests.serving import put_together
    from yarnkite.jobs import together

    shot = gathered(30)
    monkeypatch.setattr(together, "seen_together", slow.never_together)
    job = client.post(f"/api/shots/{shot}/together", json={}).json()["job"]
    assert (job["kind"], job["total"]) == ("together", 30)
    again = client.post(f"/api/shots/{shot}/together", json={}).json()
    assert again["job"]["id"] == job["id"]
    assert client.post(f"/api/shots/{shot}/aside", json={"seen": 1, "stills": [1], "aside": True}).status_code == 200
    client.post(f"/api/jobs/{job['id']}/cancel")
    assert finished(job["id"])["state"] == "cancelled"
    monkeypatch.undo()
    done = put_together(client, finished, shot)
    assert (done["state"], done["done"], done["total"]) == ("finished", 30, 30)
    mean = client.get(f"/api/shots/{shot}/stack/mean.png").content
    from yarnkite.services import check

    check._stacks._values.clear()
    assert put_together(client, finished, shot) is None
    assert client.get(f"/api/shots/{shot}/stack/mean.png").content == mean


def test_of_a_shot_that_is_being_gathered_only_what_came_is_asked_for(client, gathered):
    shot = gathered(8)
    every = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    middle = sorted(still["id"] for still in every)[4]
    since = client.get(f"/api/shots/{shot}/stills?since={middle}").json()["stills"]
    assert {still["id"] for still in since} == {still["id"] for still in every if still["id"] > middle}
