"""What would lose a still, double a shot, hide an original or lock a shot: none of it may happen."""

import os
import shutil
import signal
import subprocess
import sys
import threading
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pymysql
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.api.shots import again, contents, encoded, folder_of, rename, small, stills_of
from tests.conftest import write_jpeg
from tests.disks import fill, small_disk
from tests.patience import wait_for_job, wait_until
from tests.program import Program
from yarnkite.core.base.errors import Conflict, DiskFull
from yarnkite.core.order import renaming as moves
from yarnkite.jobs.runner import SET_ASIDE, Runner
from yarnkite.jobs.workers import Workers, in_turn
from yarnkite.store import jobs, removal, shots, snapshots
from yarnkite.store.database import retried


@pytest.fixture
def copied(client, project, card, finished):
    """A shot of eight stills that were copied, a sidecar among them, and the folder they came from."""
    folder = card / f"source-{project}"
    for number in range(8):
        write_jpeg(folder / f"MRW_{number}.jpg", number, (240, 160))
    (folder / "MRW_3.xmp").write_text("<settings/>")
    body = {"location": "card", "path": folder.name, "copy_files": True}
    started = client.post(f"/api/projects/{project}/shots", json=body).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    return started["shot_id"], folder


# Renaming.


@pytest.mark.parametrize("after", [0, 3, 7, 9, 14])
def test_a_database_killed_in_a_rename_leaves_the_folder_whole_and_the_shot_free(
    client, services, gathered, finished, monkeypatch, after
):
    shot = gathered(8)
    folder = folder_of(client, shot)
    before, pid = contents(folder), database_pid(services)
    count = iter(range(1000))
    move = moves.rename_exclusively

    def move_and_kill(source, target):
        if next(count) == after:
            os.kill(pid, signal.SIGKILL)
        move(source, target)

    monkeypatch.setattr(moves, "rename_exclusively", move_and_kill)
    answer = rename(client, shot)
    monkeypatch.undo()
    assert answer.status_code == 200 or answer.json()["code"] == "rename_broken_off", answer.text
    assert not [name for name in contents(folder) if name.startswith(".renaming")]
    assert sorted(contents(folder).values()) == sorted(before.values())
    assert (contents(folder) == before) == (answer.status_code != 200)
    assert sorted(contents(folder)) == sorted(one["name"] for one in stills_of(client, shot))
    again(client, finished, shot)
    assert len(stills_of(client, shot)) == 8


@pytest.mark.parametrize("after", [0, 7, 9, 15])
def test_a_database_killed_while_a_rename_is_taken_back_leaves_it_whole_and_said(
    client, services, gathered, monkeypatch, after
):
    shot = gathered(8)
    folder = folder_of(client, shot)
    old = contents(folder)
    assert rename(client, shot).status_code == 200
    new, pid = contents(folder), database_pid(services)
    count = iter(range(1000))
    move = moves.rename_exclusively

    def move_and_kill(source, target):
        move(source, target)
        if next(count) == after:
            os.kill(pid, signal.SIGKILL)

    monkeypatch.setattr(moves, "rename_exclusively", move_and_kill)
    answer = client.post(f"/api/shots/{shot}/rename/undo")
    monkeypatch.undo()
    assert answer.status_code == 200 or answer.json()["code"] == "rename_broken_off", answer.text
    assert contents(folder) == (old if answer.status_code == 200 else new)
    assert sorted(contents(folder)) == sorted(one["name"] for one in stills_of(client, shot))
    # What was taken back is not offered again; what was not, is.
    last = client.get(f"/api/shots/{shot}/rename").json()
    assert (last is None) == (answer.status_code == 200), last


def test_a_rename_does_not_keep_the_program_from_ending(services):
    """The database is gone because the program ends: what waits for it to come back gives up at once."""
    from yarnkite.core.base.errors import Unavailable
    from yarnkite.jobs import rename as renaming
    from yarnkite.store.database import Database

    address = services.database._address
    gone = Database(type(address)(address.host, 1, address.password))
    ended = threading.Event()

    def wait_for_it():
        with suppress(Unavailable):
            renaming._complete_when_back(gone, 1, Unavailable("database_away", "away"))
        ended.set()

    threading.Thread(target=wait_for_it, daemon=True).start()
    assert not ended.wait(0.5)
    gone.close()
    assert ended.wait(20)


def database_pid(services):
    path = services.workspace.database / "pid"
    return int(path.read_text())


def test_a_still_missing_outside_stops_a_rename_before_it_begins_and_locks_nothing(client, gathered, finished):
    shot = gathered(5)
    folder = folder_of(client, shot)
    (folder / "MRW_3.jpg").unlink()
    before = contents(folder)
    refused = rename(client, shot)
    assert (refused.status_code, refused.json()["code"]) == (400, "file_gone")
    assert "“MRW_3.jpg”" in refused.json()["detail"]
    assert contents(folder) == before
    again(client, finished, shot)
    assert [one["away"] for one in stills_of(client, shot)] == [False, False, True, False, False]
    assert rename(client, shot).status_code == 200


def test_whatever_goes_wrong_in_a_rename_everything_is_as_before_and_the_shot_is_free(
    client, gathered, finished, monkeypatch
):
    shot = gathered(5)
    before = contents(folder_of(client, shot))
    for error in (OSError(5, "Input/output error"), ValueError("what nobody thought of")):
        count = iter(range(1000))

        def fail(source, target, count=count, error=error, move=moves.rename_exclusively):
            if next(count) == 7:
                raise error
            move(source, target)

        with monkeypatch.context() as patched:
            patched.setattr(moves, "rename_exclusively", fail)
            if isinstance(error, OSError):
                assert rename(client, shot).status_code in (400, 507)
            else:
                with pytest.raises(ValueError, match="nobody"):
                    rename(client, shot)
        assert contents(folder_of(client, shot)) == before
    again(client, finished, shot)
    assert rename(client, shot).status_code == 200


def test_names_that_were_exchanged_are_not_exchanged_again(client, services, gathered):
    """A batch that is finished twice, because its first answer was lost, is finished once."""
    from yarnkite.store import rename as renames

    shot = gathered(2)
    folder = folder_of(client, shot)
    one, other = (still["name"] for still in stills_of(client, shot))
    exchange = [moves.FileMove(one, ".a", other), moves.FileMove(other, ".b", one)]
    batch, todo = renames.begin(services.database, shot, folder, lambda _: exchange)
    for _ in range(2):
        renames.finish(services.database, batch, folder, todo)
    assert [still["name"] for still in stills_of(client, shot)] == [other, one]


def test_a_copied_shot_that_was_renamed_is_gathered_again_as_it_is(client, copied, finished, services):
    shot, source = copied
    before = {still["id"]: still["fingerprint"] for still in stills_of(client, shot)}
    assert rename(client, shot).status_code == 200
    copies, names = contents(folder_of(client, shot)), [still["name"] for still in stills_of(client, shot)]
    assert names[0].endswith("_0001.jpg")
    for _ in range(2):
        again(client, finished, shot)
        assert {still["id"]: still["fingerprint"] for still in stills_of(client, shot)} == before
        assert contents(folder_of(client, shot)) == copies
    assert client.post(f"/api/shots/{shot}/rename/undo").status_code == 200
    again(client, finished, shot)
    assert [still["name"] for still in stills_of(client, shot)] == [f"MRW_{n}.jpg" for n in range(8)]
    assert rename(client, shot).status_code == 200
    # What is new in the source comes under its own name; what is exported anew replaces the copy under its new one.
    write_jpeg(source / "MRW_8.jpg", 8, (240, 160))
    write_jpeg(source / "MRW_2.jpg", 2, (240, 162))
    again(client, finished, shot)
    after = stills_of(client, shot)
    assert [still["name"] for still in after] == [*names, "MRW_8.jpg"]
    assert (folder_of(client, shot) / names[2]).read_bytes() == (source / "MRW_2.jpg").read_bytes()
    assert (after[2]["id"], after[2]["height"]) == (list(before)[2], 162)
    # Without its source it is what it is.
    shutil.move(source, source.with_name(f"{source.name}-away"))
    again(client, finished, shot)
    assert [(still["name"], still["away"]) for still in stills_of(client, shot)] == [
        (name, False) for name in (*names, "MRW_8.jpg")
    ]


def test_a_folder_is_not_renamed_while_another_shot_of_it_is_encoded(client, gathered, finished, monkeypatch, services):
    from tests.api import slow
    from yarnkite.jobs import rendering

    shot = gathered(12)
    ids = [still["id"] for still in stills_of(client, shot)]
    answer = client.post(f"/api/shots/{shot}/split", json={"before": [ids[6]]})
    assert answer.status_code == 200, answer.text
    project = client.get(f"/api/shots/{shot}").json()["project_id"]
    other = next(one["id"] for one in client.get(f"/api/projects/{project}").json()["shots"] if one["id"] != shot)
    monkeypatch.setattr(rendering, "render", slow.render_until_cancelled)
    seen = client.get(f"/api/shots/{other}").json()["revision"]
    job = client.post(f"/api/shots/{other}/encode", json={"seen": seen}).json()["id"]
    refused = rename(client, shot)
    assert (refused.status_code, refused.json()["code"]) == (409, "shot_busy")
    client.post(f"/api/jobs/{job}/cancel")
    finished(job)
    assert rename(client, shot).status_code == 200


# Transactions.


def test_nothing_is_carried_out_again_within_a_transaction(services):
    @retried
    def part(cursor):
        return cursor.execute("SELECT 1")

    with services.database.transaction() as cursor, pytest.raises(RuntimeError, match="not within a transaction"):
        part(cursor)
    with services.database.transaction() as cursor:
        cursor.execute("SELECT 1")


def test_deleting_and_a_real_deadlock_take_effect_whole(services, client, gathered):
    """Broken off at its second lock, a deletion is carried out again from its first statement."""
    shot = gathered(2)
    database = services.database
    holds, wants = threading.Event(), threading.Event()
    project = client.get(f"/api/shots/{shot}").json()["project_id"]

    def rival():
        with database.transaction() as cursor:
            cursor.execute("CREATE OR REPLACE TEMPORARY TABLE heavy (n INT PRIMARY KEY) ENGINE=InnoDB")
            cursor.executemany("INSERT INTO heavy VALUES (%s)", [(n,) for n in range(500)])
            cursor.execute("UPDATE shot SET name = 'by the rival' WHERE id = %s", (shot,))
            holds.set()
            assert wants.wait(60)
            cursor.execute("UPDATE project SET name = CONCAT(name, '!') WHERE id = %s", (project,))

    tries = []
    original = shots.locked

    def held(cursor, number):
        tries.append(number)
        holds.wait(60)
        if len(tries) == 1:
            threading.Timer(0.3, wants.set).start()
        return original(cursor, number)

    other = threading.Thread(target=rival)
    try:
        shots.locked = removal.shots.locked = held
        with database.transaction() as cursor:
            cursor.execute("SELECT 1")
        other.start()
        assert holds.wait(60)
        removal.delete_project(database, project)
    finally:
        shots.locked = removal.shots.locked = original
        wants.set()
        other.join()
    assert len(tries) == 2
    assert client.get(f"/api/projects/{project}").status_code == 404
    with database.transaction() as cursor:
        cursor.execute("SELECT name, deleted_at FROM project WHERE id = %s", (project,))
        row = cursor.fetchone()
    assert row["name"].endswith("!")
    assert row["deleted_at"] is not None


def test_a_full_disk_is_said_to_be_full(services):
    for number in (1114, 1021):
        with pytest.raises(DiskFull, match="is full"), services.database.transaction():
            raise pymysql.err.OperationalError(number, "The table is full")


# Versions of what is there.


@given(data=st.data())
@settings(max_examples=25, deadline=None)
def test_values_exchanged_between_stills_are_another_state(services, client, shot_of_six, data):
    one, other = data.draw(st.lists(st.sampled_from(range(6)), min_size=2, max_size=2, unique=True))
    column = data.draw(st.sampled_from(["name", "fingerprint", "away", "modified_ns", "bytes", "captured_at", "width"]))
    ids = [still["id"] for still in stills_of(client, shot_of_six)]

    def exchange(cursor):
        cursor.execute(f"SELECT id, {column} AS value FROM still WHERE id IN (%s, %s)", (ids[one], ids[other]))
        now = {row["id"]: row["value"] for row in cursor.fetchall()}
        for still, value in ((ids[one], now[ids[other]]), (ids[other], now[ids[one]])):
            cursor.execute(f"UPDATE still SET {column} = %s WHERE id = %s", (value, still))
        return now[ids[one]] != now[ids[other]]

    before = snapshots.state(services.database, shot_of_six)
    with services.database.transaction() as cursor:
        differ = exchange(cursor)
    assert (snapshots.state(services.database, shot_of_six) != before) == differ
    with services.database.transaction() as cursor:
        exchange(cursor)
    # A state that is like an earlier one may have another name; one name never stands for two states.
    assert (snapshots.state(services.database, shot_of_six) != before) == differ


# What a changed value of each kind of column is, other than any that tests write.
_ANOTHER = {"int": "31", "varchar": "'another'", "char": "'another'", "datetime": "'2041-01-01 00:00:00'"}
_ANOTHER |= {"double": "0.125", "varbinary": "X'01'", "longtext": "'{}'"}


def test_whatever_changes_of_a_still_is_another_state_but_its_number_in_the_folder(services, client, gathered):
    shot = gathered(4)
    still = stills_of(client, shot)[2]["id"]
    with services.database.transaction() as cursor:
        cursor.execute("SHOW COLUMNS FROM still")
        columns = {row["Field"]: row["Type"] for row in cursor.fetchall() if row["Field"] not in ("id", "shot_id")}
    assert len(columns) > 25
    states = [snapshots.state(services.database, shot)]
    for name, kind in columns.items():
        value = next(value for start, value in _ANOTHER.items() if start in kind)
        with services.database.transaction() as cursor:
            assert cursor.execute(f"UPDATE still SET {name} = {value} WHERE id = %s", (still,)), name
        states.append(snapshots.state(services.database, shot))
        assert (states[-1] == states[-2]) == (name == "number"), name
        with services.database.transaction() as cursor:
            assert not cursor.execute(f"UPDATE still SET {name} = {value} WHERE id = %s", (still,))
        assert snapshots.state(services.database, shot) == states[-1]


def test_stills_that_come_go_or_change_shots_are_other_states_of_all_shots_concerned(services, client, gathered):
    one, other = gathered(4), gathered(4)

    def states():
        return [snapshots.state(services.database, shot) for shot in (one, other)]

    before = states()
    still = stills_of(client, one)[3]["id"]
    with services.database.transaction() as cursor:
        cursor.execute("UPDATE still SET shot_id = %s, number = number + 100 WHERE id = %s", (other, still))
    moved = states()
    with services.database.transaction() as cursor:
        cursor.execute("DELETE FROM still WHERE id = %s", (still,))
    gone = states()
    assert [a != b for a, b in zip(before, moved, strict=True)] == [True, True]
    assert [a != b for a, b in zip(moved, gone, strict=True)] == [False, True]


@pytest.fixture(scope="module")
def shot_of_six(client, services, card):
    project = client.post("/api/projects", json={"name": "Six"}).json()["id"]
    for number in range(6):
        write_jpeg(card / "six" / f"MRW_{number}.jpg", number, (240, 160))
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": "six"}).json()
    wait_for_job(lambda: jobs.one(services.database, started["job"]["id"]))
    with services.database.transaction() as cursor:
        cursor.execute(
            "UPDATE still SET away = number = 2, width = width + number WHERE shot_id = %s", (started["shot_id"],)
        )
    return started["shot_id"]


def test_one_still_away_after_another_is_not_the_same_clip(client, gathered, finished):
    shot = gathered(20)
    small(client, shot)
    folder, clips = folder_of(client, shot), []
    for missing in ("MRW_12.jpg", "MRW_13.jpg"):
        hidden = folder.parent / f"{folder.name}-{missing}"
        shutil.move(folder / missing, hidden)
        again(client, finished, shot)
        ended = encoded(client, finished, shot)
        assert ended["state"] == "finished", ended["message"]
        clips.append(client.get(f"/api/clips/{ended['clip_id']}/file").content)
        shutil.move(hidden, folder / missing)
    assert clips[0] != clips[1]


# Files that change where nobody looks.


def written_over(path, data):
    """Write a file over as ``cp`` and ``touch -r`` do, so that its size and its time are what they were."""
    status = path.stat()
    assert len(data) <= status.st_size
    path.write_bytes(data + bytes(status.st_size - len(data)))
    os.utime(path, ns=(status.st_atime_ns, status.st_mtime_ns))
    assert path.stat().st_mtime_ns == status.st_mtime_ns


def test_a_file_written_over_with_the_same_size_and_time_is_noticed(client, gathered, finished, tmp_path):
    shot = gathered(20)
    small(client, shot)
    again(client, finished, shot)
    assert encoded(client, finished, shot)["state"] == "finished"
    path = folder_of(client, shot) / "MRW_7.jpg"
    before = {still["name"]: still for still in stills_of(client, shot)}
    written_over(path, write_jpeg(tmp_path / "other.jpg", 900, (240, 160)).read_bytes())
    refused = encoded(client, finished, shot)
    assert refused["state"] == "failed"
    assert "“MRW_7.jpg”" in refused["message"]
    assert "One still was changed on disk" in again(client, finished, shot)["message"]
    after = {still["name"]: still for still in stills_of(client, shot)}
    assert [name for name in after if after[name]["fingerprint"] != before[name]["fingerprint"]] == ["MRW_7.jpg"]
    assert encoded(client, finished, shot)["state"] == "finished"


def test_a_file_that_was_only_touched_is_not_read_again(client, services, gathered, finished):
    shot = gathered(6)
    again(client, finished, shot)
    path = folder_of(client, shot) / "MRW_3.jpg"
    before = changed_ns(services, shot)
    wait_until(lambda: (path.chmod(0o640), path.stat().st_ctime_ns not in before.values())[1])
    path.chmod(0o600)
    assert again(client, finished, shot)["message"] == ""
    after = changed_ns(services, shot)
    assert [name for name in after if after[name] != before[name]] == ["MRW_3.jpg"]
    assert after["MRW_3.jpg"] == path.stat().st_ctime_ns


def changed_ns(services, shot):
    with services.database.transaction() as cursor:
        cursor.execute("SELECT name, changed_ns FROM still WHERE shot_id = %s", (shot,))
        return {row["name"]: row["changed_ns"] for row in cursor.fetchall()}


@pytest.mark.parametrize("cycle", [("MRW_2.jpg", "MRW_5.jpg"), ("MRW_1.jpg", "MRW_4.jpg", "MRW_6.jpg")])
def test_where_names_were_exchanged_outside_decisions_follow_the_picture(client, gathered, finished, cycle):
    shot = gathered(8)
    folder = folder_of(client, shot)
    before = {still["fingerprint"]: still for still in stills_of(client, shot)}
    noted = next(still for still in before.values() if still["name"] == cycle[0])
    seen = client.get(f"/api/shots/{shot}").json()["revision"]
    body = {"seen": seen, "still": noted["id"], "text": "a gull"}
    assert client.post(f"/api/shots/{shot}/note", json=body).status_code == 200
    for name in cycle:
        (folder / name).rename(folder / f"{name}.moving")
    for name, target in zip(cycle, cycle[1:] + cycle[:1], strict=True):
        (folder / f"{name}.moving").rename(folder / target)
    again(client, finished, shot)
    after = {still["fingerprint"]: still for still in stills_of(client, shot)}
    assert {print: still["id"] for print, still in after.items()} == {
        print: still["id"] for print, still in before.items()
    }
    assert after[noted["fingerprint"]]["name"] == cycle[1]
    assert [still["name"] for still in stills_of(client, shot)] == [f"MRW_{n}.jpg" for n in range(1, 9)]
    assert again(client, finished, shot)["message"] == ""


def test_a_clip_of_kept_frames_says_that_the_originals_were_not_there(client, gathered, finished):
    shot = gathered(12)
    small(client, shot)
    assert encoded(client, finished, shot)["message"] == ""
    folder = folder_of(client, shot)
    shutil.move(folder, folder.with_name(f"{folder.name}-away"))
    ended = encoded(client, finished, shot)
    assert ended["state"] == "finished"
    assert "12 stills were not there" in ended["message"]


# Full disks.


@pytest.fixture
def disk(tmp_path):
    with small_disk(tmp_path / "disk", 400) as disk:
        yield disk


@pytest.mark.long
def test_on_a_full_disk_everything_can_be_read_and_what_cannot_be_kept_says_so(disk, tmp_path):
    for number in range(60):
        write_jpeg(tmp_path / "Card" / "reach" / f"MRW_{number}.jpg", number, (240, 160))
    program = Program(disk / "data", tmp_path / "Card")
    program.start()
    try:
        project, shot = program.gather("Reach", "reach")
        ask = program.client.get
        pages = ("", "/stills", "/order", "/check", "/sorting", "/tail.png", "/clips", "/revisions")
        seen = {page: ask(f"/api/shots/{shot}{page}").status_code for page in pages}
        for left in (2_000_000, 0):
            fill(disk, left)
            assert (
                {page: ask(f"/api/shots/{shot}{page}").status_code for page in pages}
                == seen
                == dict.fromkeys(pages, 200)
            )
            revision = ask(f"/api/shots/{shot}").json()["revision"]
            answers = [
                program.client.post(f"/api/shots/{shot}/encode", json={"seen": revision}),
                program.client.post(f"/api/projects/{project}/shots", json={"location": "Card", "path": "reach"}),
            ]
            assert {answer.status_code for answer in answers} <= {201, 202, 409, 507}
            said = [answer.json()["detail"] for answer in answers if answer.status_code == 507]
            assert all("full" in one or "free" in one for one in said)
        (disk / "filled").unlink()
        # What could not be kept then is kept now: nothing waits for ever.
        wait_until(lambda: all(job["state"] in ("finished", "failed") for job in ask("/api/jobs").json()))
        messages = [job["message"] for job in ask("/api/jobs").json() if job["state"] == "failed"]
        assert messages
        assert all("ree" in message and "should not" not in message for message in messages)
        ended = program.client.post(f"/api/shots/{shot}/encode", json={"seen": revision}).json()
        assert program.wait_for_job(ended["id"])["state"] == "finished"
    finally:
        (disk / "filled").unlink(missing_ok=True)
        program.stop()


@pytest.mark.parametrize(("way", "name"), [("gather_on", "MRW_9.jpg"), ("gather", "another.jpg")])
def test_a_watch_goes_on_after_a_disk_was_full(client, project, card, finished, shoot, monkeypatch, way, name):
    from yarnkite.jobs import growing

    folder = card / f"watched-{project}"
    shoot(3, "watched", (230, 150)).rename(folder)
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    finished(started["job"]["id"])
    shot, full = started["shot_id"], threading.Event()
    gather = getattr(growing.gather, way)
    full.set()

    def gather_or_not(*arguments, **named):
        if full.is_set():
            raise DiskFull("disk_full", "Only 3 MB are free.")
        return gather(*arguments, **named)

    monkeypatch.setattr(growing.gather, way, gather_or_not)
    monkeypatch.setattr(growing, "AFTER_TROUBLE_S", 0.1)
    job = client.post(f"/api/shots/{shot}/watch").json()["id"]

    def row():
        return next(one for one in client.get("/api/jobs").json() if one["id"] == job)

    write_jpeg(folder / name, 9, (230, 150))
    wait_until(lambda: "Only 3 MB are free." in row()["message"])
    assert row()["state"] == "running"
    full.clear()
    wait_until(lambda: len(stills_of(client, shot)) == 4)
    wait_until(lambda: row()["message"] == "")
    client.post(f"/api/jobs/{job}/cancel")
    finished(job)


# What runs for long.


def test_an_upload_that_is_being_sent_is_not_freed(client, services, project, tmp_path):
    data = write_jpeg(tmp_path / "a.jpg", 1).read_bytes()
    files = [{"name": "a.jpg", "bytes": len(data), "modified_ms": 1_936_000_000_000}]
    opened = client.post(f"/api/projects/{project}/uploads", json={"name": "Sent", "files": files}).json()
    part = f"/api/uploads/{opened['id']}/files/0"
    assert client.patch(part, content=data[:900], headers={"Upload-Offset": "0"}).status_code == 204
    for other in (services.workspace.folder / "arriving").iterdir():
        if other.name != str(opened["id"]):
            shutil.rmtree(other)
    refused = client.post("/api/space/free", json={"what": "arriving"})
    assert (refused.status_code, refused.json()["code"]) == (409, "being_sent")
    assert client.patch(part, content=data[900:], headers={"Upload-Offset": "900"}).status_code == 204
    # One nothing has come of for long was broken off.
    folder = services.workspace.arriving(opened["id"])
    for path in (*folder.iterdir(), folder):
        os.utime(path, (1, 1))
    assert client.post("/api/space/free", json={"what": "arriving"}).status_code == 200
    assert not folder.exists()


def test_a_shot_a_camera_shoots_into_is_not_deleted(client, services, gathered, project):
    shot = gathered(2)
    with services.database.transaction() as cursor:
        cursor.execute("INSERT INTO job (kind, shot_id, state) VALUES ('capture', %s, 'running')", (shot,))
        job = cursor.lastrowid
    for address in (f"/api/shots/{shot}", f"/api/projects/{project}"):
        refused = client.delete(address)
        assert (refused.status_code, refused.json()["code"]) == (409, "camera_shoots")
    jobs.end(services.database, job, "finished")
    assert client.delete(f"/api/shots/{shot}").status_code == 204


def test_a_job_in_which_the_program_ends_again_and_again_is_set_aside(services, gathered):
    """Twice at the same place; one that gets further each time goes on."""
    shot = gathered(2)
    with services.database.transaction() as cursor:
        cursor.execute("INSERT INTO job (kind, shot_id, state, done) VALUES ('export', %s, 'running', 5)", (shot,))
        job = cursor.lastrowid
    database, began = services.database, []
    workers = Workers(1)

    def next_start():
        runner = Runner(database, services.workspace, workers, lambda *_: None, {"export": lambda _: began.append(1)})
        runner.go_on()
        wait_until(lambda: not runner._under_way)
        return jobs.one(database, job)

    assert next_start()["state"] == "running"
    with database.transaction() as cursor:
        cursor.execute("UPDATE job SET done = 9 WHERE id = %s", (job,))
    assert next_start()["state"] == "running"
    ended = next_start()
    assert (ended["state"], ended["message"]) == ("failed", SET_ASIDE)
    assert len(began) == 2
    workers.stop()


def test_a_job_that_was_left_in_good_order_is_not_held_to_have_died(services, gathered):
    shot = gathered(2)
    entered = threading.Event()

    def work(context):
        entered.set()
        while True:
            context.check()
            threading.Event().wait(0.01)

    for _ in range(3):
        entered.clear()
        workers = Workers(1)
        runner = Runner(services.database, services.workspace, workers, lambda *_: None, {"export": work})
        waiting = [one for one in jobs.unfinished(services.database) if one["shot_id"] == shot]
        if not waiting:
            runner.start("export", shot, 1)
        else:
            runner.go_on()
        assert entered.wait(60)
        runner.stop()
    (job,) = (one for one in jobs.unfinished(services.database) if one["shot_id"] == shot)
    assert job["state"] == "waiting"
    jobs.end(services.database, job["id"], "cancelled")


def test_work_goes_on_after_the_process_was_killed_that_workers_are_forked_from():
    from multiprocessing import forkserver

    workers = Workers(1)
    try:
        assert workers.submit(abs, -1).result(60) == 1
        os.kill(forkserver._forkserver._forkserver_pid, signal.SIGKILL)
        workers.stop()
        found = {task: future.result() for task, future in in_turn(workers, abs, [-2, -3], lambda task: (task,))}
        assert found == {-2: 2, -3: 3}
    finally:
        workers.stop()


def test_a_clock_that_was_put_back_makes_no_capture_wait(services):
    """By the steady clock: the next still is due where it was, not when the clock of the day is as late again."""
    from yarnkite.camera.decisions import Capture
    from yarnkite.jobs.capture import _Capturing
    from yarnkite.store.capture import Course

    wanted = Capture(camera="simulated", interval_ms=5000, count=100)
    began = datetime.now(UTC) + timedelta(days=3)
    capturing = _Capturing.__new__(_Capturing)
    capturing._wanted, capturing._job, capturing._said_first = wanted, 1, ""
    course = Course(1, 1, began.replace(tzinfo=None), 7, 7, 0, 0, paused=False)
    assert capturing._since(course, began) == pytest.approx(30.0)
    assert "put back" in capturing._said_first
    # As it usually is, and one that is planned for later, nothing is changed.
    assert capturing._since(course, datetime.now(UTC) - timedelta(seconds=36)) == pytest.approx(36, abs=1)
    capturing._wanted = wanted.model_copy(update={"starts_at": began})
    fresh = Course(1, 1, began.replace(tzinfo=None), 0, 0, 0, 0, paused=False)
    assert capturing._since(fresh, began) < -200_000


def test_a_simulated_camera_ends_with_who_started_it(tmp_path):
    """Killed while it paints its first picture, or later: its pipe ends, and so does it."""
    code = (
        "import subprocess, sys, time; c = subprocess.Popen([sys.executable, '-m', 'yarnkite', 'camera'],"
        " stdin=subprocess.PIPE, stdout=subprocess.PIPE); print(c.pid, flush=True); time.sleep(600)"
    )
    for wait_for_it in (False, True):
        parent = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True)
        camera = int(parent.stdout.readline())
        if wait_for_it:
            wait_until(lambda camera=camera: b"camera" in Path(f"/proc/{camera}/cmdline").read_bytes())
        parent.kill()
        parent.wait()
        wait_until(lambda camera=camera: not Path(f"/proc/{camera}").exists() or "Z" in state_of(camera))


def state_of(pid):
    with suppress(OSError):
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
    return "Z"


def test_nobody_else_of_this_machine_can_look_into_the_data_folder(services):
    made = [one for one in services.workspace.folder.iterdir() if one.is_dir()]
    assert {"stills", "proxies", "clips", "database"} <= {one.name for one in made}
    for folder in made:
        assert folder.stat().st_mode & 0o077 == 0, folder
    # What is not ours is not touched.
    other = services.workspace.folder / "holiday"
    other.mkdir(mode=0o755)
    other.chmod(0o755)
    services.workspace.create()
    assert other.stat().st_mode & 0o777 == 0o755
    other.rmdir()
    assert services.workspace.locations.stat().st_mode & 0o077 == 0


def test_a_reel_that_shares_a_folder_is_waited_for(services, client, gathered, project):
    shot = gathered(2)
    reel = client.post(f"/api/projects/{project}/reels", json={"name": "Both", "shots": [shot]}).json()["id"]
    with services.database.transaction() as cursor:
        cursor.execute("INSERT INTO job (kind, reel_id, state) VALUES ('reel', %s, 'waiting')", (reel,))
        job = cursor.lastrowid
    refused = rename(client, shot)
    assert (refused.status_code, refused.json()["code"]) == (409, "reel_busy")
    jobs.end(services.database, job, "finished")
    assert rename(client, shot).status_code == 200
    with services.database.transaction() as cursor:
        cursor.execute("UPDATE rename_batch SET state = 'placing' WHERE shot_id = %s", (shot,))
        with pytest.raises(Conflict):
            jobs._check_no_shot_is_renamed(cursor, reel)
        cursor.execute("UPDATE rename_batch SET state = 'done' WHERE shot_id = %s", (shot,))
