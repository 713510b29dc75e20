"""A shot that grows is in the end what gathering its whole folder at once makes of it, however it came to that."""

import uuid
from datetime import datetime

import numpy as np
import pytest

from tests.conftest import write_jpeg
from tests.patience import wait_until
from yarnkite.demo.dng import write_dng
from yarnkite.jobs import growing
from yarnkite.store import stills
from yarnkite.store.rows import rows

CAPTURED = datetime(2031, 5, 4, 9, 31, 25)
COLUMNS = ("name", "number", "position", "captured_at", "fingerprint", "bytes", "modified_ns", "width", "away")


@pytest.fixture
def whole_looks(monkeypatch):
    """What is noted whenever a growing shot is gathered as a whole."""
    noted = []
    gather = growing.gather.gather

    def noting(context, only_new=None):
        if only_new is not None:
            noted.append(set(only_new))
        return gather(context, only_new=only_new)

    monkeypatch.setattr(growing.gather, "gather", noting)
    return noted


@pytest.fixture
def watched(client, project, card, finished, shoot):
    """A shot of the stills 11 to 15 whose folder is watched, and the folder."""
    folder = card / f"growing-{project}"
    shoot(5, "growing", (230, 150), first=11).rename(folder)
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    job = client.post(f"/api/shots/{started['shot_id']}/watch").json()["id"]
    yield started["shot_id"], folder
    client.post(f"/api/jobs/{job}/cancel")
    finished(job)


def bring(services, shot, folder, files, count=None):
    """Write files (name, what is on them) into a folder, and wait until a shot has so many stills."""
    wanted = count or stills.count(services.database, shot) + len(files)
    for name, number in files:
        aside = write_jpeg(folder.parent / f".{folder.name}" / name, number, (230, 150))
        aside.replace(folder / name)
    wait_until(lambda: stills.count(services.database, shot) == wanted)


def stands(services, shot):
    with services.database.transaction() as cursor:
        return rows(cursor, shot, COLUMNS)


def gathered_at_once(client, services, folder, finished):
    other = client.post("/api/projects", json={"name": f"At once {uuid.uuid4()}"}).json()["id"]
    started = client.post(f"/api/projects/{other}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    return stands(services, started["shot_id"])


def stands_as_gathered(client, services, shot, folder, finished):
    wanted = gathered_at_once(client, services, folder, finished)
    wait_until(lambda: stands(services, shot) == wanted, lambda: (stands(services, shot), wanted))


def ids(services, shot):
    return {row["name"]: row["id"] for row in stills.of_shot(services.database, shot)}


def test_what_only_comes_after_is_added_without_a_look_at_the_others(client, services, watched, finished, whole_looks):
    shot, folder = watched
    before = ids(services, shot)
    bring(services, shot, folder, [("MRW_16.jpg", 16), ("MRW_17.jpg", 17)])
    bring(services, shot, folder, [("MRW_18.jpg", 18)])
    assert whole_looks == []
    stands_as_gathered(client, services, shot, folder, finished)
    assert before.items() <= ids(services, shot).items()


def test_the_raw_file_of_each_picture_stays_beside_it_and_is_told(client, services, watched, finished, whole_looks):
    """A camera that writes both has the raw file come a moment after its picture, or at once with the next one."""
    shot, folder = watched
    bring(services, shot, folder, [("MRW_16.jpg", 16)])
    for number in (16, 17):
        raw = folder.parent / f".{folder.name}" / f"MRW_{number}.dng"
        write_dng(raw, np.full((150, 230, 3), 90, np.uint8), "Marrow Optical Lantern 3", CAPTURED)
        if number == 17:
            bring(services, shot, folder, [("MRW_17.jpg", 17)])
        raw.replace(folder / raw.name)
        wait_until(lambda raw=raw: raw.name in beside(services, shot))
    (folder / "MRW_17.xmp").write_text("rated: 4")
    wait_until(lambda: "MRW_17.xmp" in beside(services, shot))
    assert whole_looks == []
    assert beside(services, shot) == {"MRW_16.dng": "pair", "MRW_17.dng": "pair", "MRW_17.xmp": "sidecar"}
    stands_as_gathered(client, services, shot, folder, finished)


def beside(services, shot):
    return {one["name"]: one["kind"] for one in stills.left_out(services.database, shot)}


@pytest.mark.parametrize(
    "files",
    [
        [("MRW_9.jpg", 9)],
        [("MRW_16.jpg", 3)],
        [("tern_16.jpg", 16)],
        [("MRW_15.jpeg", 16)],
        [("second/MRW_16.jpg", 16)],
        [("MRW_16.jpg", 17), ("MRW_17.jpg", 16)],
    ],
    ids=["number before", "time before", "other name", "same exposure", "other folder", "times exchanged"],
)
def test_what_may_belong_elsewhere_has_the_whole_shot_looked_at(
    client, services, watched, finished, whole_looks, files
):
    shot, folder = watched
    (folder / "second").mkdir()
    bring(services, shot, folder, files)
    assert [name for looked in whole_looks for name in looked]
    stands_as_gathered(client, services, shot, folder, finished)
    # And after it, what only comes after goes on being added.
    bring(services, shot, folder, [("MRW_40.jpg", 40)])
    stands_as_gathered(client, services, shot, folder, finished)


def test_a_still_that_comes_back_after_it_was_taken_out_is_the_one_it_was(client, services, watched, whole_looks):
    shot, _ = watched
    last = ids(services, shot)["MRW_15.jpg"]
    with services.database.transaction() as cursor:
        cursor.execute(
            "INSERT INTO taken_out (shot_id, name, still_id, wanted_back) VALUES (%s, 'MRW_15.jpg', %s, TRUE)",
            (shot, last),
        )
        cursor.execute("DELETE FROM still WHERE id = %s", (last,))
    wait_until(lambda: ids(services, shot).get("MRW_15.jpg") == last)
    assert {"MRW_15.jpg"} in whole_looks


def test_an_order_by_hand_takes_what_comes_as_a_whole(client, services, watched, finished, whole_looks):
    shot, folder = watched
    every = list(ids(services, shot).values())
    seen = client.get(f"/api/shots/{shot}").json()["revision"]
    moved = client.post(f"/api/shots/{shot}/order/move", json={"seen": seen, "stills": [every[0]], "to": 4})
    assert moved.status_code == 200, moved.text
    bring(services, shot, folder, [("MRW_16.jpg", 16)])
    wanted = [f"MRW_{number}.jpg" for number in (12, 13, 14, 15, 11, 16)]
    wait_until(lambda: [row["name"] for row in stands(services, shot)] == wanted)
    assert whole_looks
