"""A folder full of what a folder may hold: what one file does costs that file, and the shot goes on."""

import os
import stat
import threading
from pathlib import Path

import pytest

from tests.api import slow
from tests.conftest import write_jpeg
from tests.odd_files import mutations, odd_files, whole_files
from tests.patience import STANDSTILL_S, wait_until
from yarnkite.jobs.workers import WorkerDied, Workers, in_turn


@pytest.fixture
def begun(client, project, card):
    def begun(folder):
        body = {"location": "card", "path": folder.name}
        answer = client.post(f"/api/projects/{project}/shots", json=body)
        assert answer.status_code == 201, answer.text
        return answer.json()["shot_id"], answer.json()["job"]["id"]

    return begun


def every_page(client, shot, project):
    """Ask for all that a page of the shot shows; none of it may fail."""
    for path in ("", "/stills", "/order", "/sorting", "/check", "/check/plots", "/tail.png", "/clips", "/revisions"):
        answer = client.get(f"/api/shots/{shot}{path}")
        assert answer.status_code == 200, (path, answer.text)
    assert client.get(f"/api/projects/{project}").status_code == 200
    count = len(client.get(f"/api/shots/{shot}/stills").json()["stills"])
    for position in range(count):
        assert client.get(f"/api/shots/{shot}/stills/{position}.jpg?width=160").status_code in (200,), position


def test_a_folder_of_broken_and_odd_files_is_gathered_with_a_sentence_for_each(client, project, card, begun, finished):
    folder = card / f"odd-{project}"
    for number in range(6):
        write_jpeg(folder / f"MRW_{number}.jpg", number)
    files = dict(odd_files())
    for name, data in whole_files(folder).items():
        files |= {f"{name[:-4]}-{n}{name[-5:]}": hurt for n, hurt in enumerate(mutations(data, 8, seed=23))}
    for name, data in files.items():
        (folder / name).write_bytes(data)
    os.mkfifo(folder / "pipe.jpg")
    os.mkfifo(folder / "pipe")
    deepest = folder
    for _ in range(140):
        deepest = deepest / "n"
    deepest.mkdir(parents=True)
    write_jpeg(deepest / "deep.jpg")
    (folder / "nowhere.jpg").symlink_to(folder / "nothing.jpg")
    (folder / "itself.jpg").symlink_to(folder / "itself.jpg")
    shot, job = begun(folder)
    ended = finished(job)
    assert ended["state"] == "finished", ended["message"]
    listed = client.get(f"/api/shots/{shot}/stills").json()
    stills = {still["name"] for still in listed["stills"]}
    reasons = {one["name"]: one["reason"] for one in listed["left_out"]}
    assert {f"MRW_{number}.jpg" for number in range(6)} <= stills
    assert not stills & reasons.keys()
    assert files.keys() <= stills | reasons.keys()
    assert "pipe or a device" in reasons["pipe.jpg"]
    assert any("folders deep" in reason for reason in reasons.values())
    assert {"nowhere.jpg", "itself.jpg"} <= reasons.keys()
    assert not any("should not" in reason for reason in reasons.values())
    every_page(client, shot, project)


def test_a_file_that_vanishes_or_ends_its_reader_costs_only_itself(client, project, card, begun, finished, monkeypatch):
    from yarnkite.jobs import gather

    folder = card / f"vanishing-{project}"
    for number in range(20):
        write_jpeg(folder / f"MRW_{number:02}.jpg", number)
    monkeypatch.setattr(gather, "gather_still", slow.gather_or_die)
    shot, job = begun(folder)
    assert finished(job)["state"] == "finished"
    listed = client.get(f"/api/shots/{shot}/stills").json()
    assert len(listed["stills"]) == 17
    reasons = {one["name"]: one["reason"] for one in listed["left_out"]}
    assert "no longer in" in reasons["MRW_07.jpg"]
    assert reasons["MRW_11.jpg"] == "“MRW_11.jpg” could not be used. Leave it out, or save it anew."
    assert reasons["MRW_13.jpg"] == "“MRW_13.jpg” could not be used. Leave it out, or save it anew."


def test_each_file_that_is_left_out_is_written_down_once(client, project, card, begun, finished, monkeypatch):
    from yarnkite.store import stills

    folder = card / f"unsupported-{project}"
    folder.mkdir()
    for number in range(150):
        (folder / f"MRW_{number:03}.nef").write_bytes(b"II*\0" + bytes(400))
    written = []
    real = stills._leave_out
    monkeypatch.setattr(
        stills,
        "_leave_out",
        lambda cursor, shot, first, files: (written.append(len(files)), real(cursor, shot, first, files)),
    )
    shot, job = begun(folder)
    assert finished(job)["state"] == "finished"
    assert sum(written) == 150
    left_out = client.get(f"/api/shots/{shot}/stills").json()["left_out"]
    assert sorted(one["name"] for one in left_out) == [f"MRW_{number:03}.nef" for number in range(150)]


def test_a_killed_worker_s_work_is_tried_again_alone_and_given_up_alone(tmp_path):
    workers = Workers(2)
    try:
        found = {}
        for number, future in in_turn(workers, slow.counted, range(12), lambda number: (tmp_path, number), spare=True):
            assert number not in found
            found[number] = future.exception() or future.result()
    finally:
        workers.stop()
    assert isinstance(found.pop(3), WorkerDied)
    assert found == {number: number * number for number in range(12) if number != 3}
    assert len((tmp_path / "3").read_text()) == 3
    assert len((tmp_path / "5").read_text()) == 2


def test_work_that_never_survives_ends_the_job_unless_it_is_spared(tmp_path):
    workers = Workers(2)
    try:
        with pytest.raises(WorkerDied, match="3 times"):
            list(in_turn(workers, slow.counted, [3], lambda number: (tmp_path, number)))
    finally:
        workers.stop()


def test_stopping_does_not_wait_for_what_does_not_answer(tmp_path):
    os.mkfifo(tmp_path / "pipe")
    workers = Workers(1)
    future = workers.submit(slow.forever, tmp_path / "pipe")
    wait_until(future.running)
    stopping = threading.Thread(target=workers.stop, daemon=True)
    stopping.start()
    stopping.join(STANDSTILL_S)
    assert not stopping.is_alive()
    assert threading.active_count() < 100


def test_what_goes_wrong_where_a_file_is_copied_to_is_not_told_of_the_file(tmp_path):
    from yarnkite.core.base.errors import DiskFull
    from yarnkite.jobs.export import write_one

    source = write_jpeg(tmp_path / "a.jpg", size=(1200, 800))
    with pytest.raises(DiskFull, match="cannot be written") as refusal:
        write_one(None, None, None, source, Path("/dev/full"))
    assert "a.jpg" not in refusal.value.sentence


def test_only_regular_files_are_opened(tmp_path):
    from yarnkite.core.base.errors import UnreadableStill
    from yarnkite.core.base.safe_open import read_bytes, safe_open

    os.mkfifo(tmp_path / "pipe.jpg")
    for path in (tmp_path / "pipe.jpg", tmp_path):
        with pytest.raises(UnreadableStill) as refusal:
            read_bytes(path)
        assert refusal.value.code == "not_a_file"
    regular = write_jpeg(tmp_path / "a.jpg")
    with safe_open(regular) as file:
        assert stat.S_ISREG(os.fstat(file.handle.fileno()).st_mode)
        assert file.size == regular.stat().st_size
