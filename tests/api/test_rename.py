"""Renaming real files in place: as shown, journalled, whole or undone, and taken back."""

import errno
import json
import os
import subprocess
import sys

import pytest

from tests.api import slow
from tests.api.shots import PATTERN, contents, folder_of, rename
from yarnkite.core.base import exclusive_rename
from yarnkite.core.order import renaming as moves
from yarnkite.jobs import rendering as encoding
from yarnkite.jobs.rename import recover
from yarnkite.store import rename as renames


def test_files_get_the_names_that_were_shown_and_their_old_ones_back(client, gathered):
    shot = gathered(6)
    folder = folder_of(client, shot)
    (folder / "MRW_3.xmp").write_text("<settings/>")
    before = contents(folder)
    planned = client.post(f"/api/shots/{shot}/rename/table", json={"parts": PATTERN}).json()
    assert (planned["problems"], planned["changes"], len(planned["lines"])) == (0, 7, 7)
    assert contents(folder) == before
    assert rename(client, shot).json() == {"files": 7}
    assert contents(folder) == {line["new"]: before[line["old"]] for line in planned["lines"]}
    assert "_0003.xmp" in str(sorted(contents(folder)))
    names = [still["name"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    assert names == [line["new"] for line in planned["lines"] if line["still"] is not None]
    assert client.get(f"/api/shots/{shot}/stills/2.jpg?width=300").status_code == 200
    assert client.get(f"/api/shots/{shot}/rename").json()["files"] == 7
    assert client.post(f"/api/shots/{shot}/rename/undo").json() == {"files": 7}
    assert contents(folder) == before
    assert client.get(f"/api/shots/{shot}/rename").json() is None
    assert client.post(f"/api/shots/{shot}/rename/undo").json()["code"] == "no_rename"


def test_a_table_that_is_no_longer_true_is_not_carried_out(client, gathered):
    shot = gathered(3)
    folder = folder_of(client, shot)
    planned = client.post(f"/api/shots/{shot}/rename/table", json={"parts": PATTERN}).json()
    (folder / "MRW_2.xmp").write_text("new")
    before = contents(folder)
    refused = client.post(f"/api/shots/{shot}/rename", json={"parts": PATTERN, "table": planned["table"]})
    assert (refused.status_code, refused.json()["code"]) == (409, "plan_changed")
    assert contents(folder) == before


def test_a_plan_with_a_problem_changes_nothing(client, gathered):
    shot = gathered(3)
    before = contents(folder_of(client, shot))
    refused = rename(client, shot, [{"kind": "shot"}])
    assert (refused.status_code, refused.json()["code"]) == (400, "names_collide")
    assert contents(folder_of(client, shot)) == before


def test_a_file_that_changed_since_is_named_and_nothing_is_taken_back(client, gathered):
    shot = gathered(3)
    folder = folder_of(client, shot)
    rename(client, shot)
    touched = sorted(folder.iterdir())[1]
    os.utime(touched, (1, 1))
    before = contents(folder)
    refused = client.post(f"/api/shots/{shot}/rename/undo")
    assert (refused.status_code, refused.json()["code"]) == (409, "file_changed")
    assert touched.name in refused.json()["detail"]
    assert contents(folder) == before


def test_the_plan_can_be_had_as_csv(client, gathered):
    shot = gathered(2)
    said = client.post(f"/api/shots/{shot}/rename/table.csv", json={"parts": PATTERN}).text.splitlines()
    assert said[0] == "old name,new name"
    assert said[1].startswith("MRW_1.jpg,")


KILLED = """
import json, os, sys
from yarnkite.core.order import renaming as moves
from yarnkite.core.order.renaming import PatternPart
from yarnkite.jobs import rename
from yarnkite.store.database import Database
from yarnkite.store.server import Address

asked = json.loads(sys.argv[1])
steps = 0
original = moves.rename_exclusively

def rename_or_die(path, target):
    global steps
    if steps == asked["after"]:
        os.kill(os.getpid(), 9)
    steps += 1
    return original(path, target)

moves.rename_exclusively = rename_or_die
database = Database(Address(**asked["address"]))
lines = rename.renaming_of(database, asked["shot"], tuple(PatternPart(**part) for part in asked["pattern"]))
rename.carry_out(database, asked["shot"], lines)
"""


@pytest.mark.parametrize("after", [0, 1, 4, 5, 6, 9])
def test_a_rename_killed_at_any_step_leaves_the_folder_whole(client, services, gathered, after):
    shot = gathered(5)
    folder = folder_of(client, shot)
    before = contents(folder)
    planned = client.post(f"/api/shots/{shot}/rename/table", json={"parts": PATTERN}).json()
    address = services.database._address
    asked = {"after": after, "address": vars(address), "shot": shot, "pattern": PATTERN}
    ended = subprocess.run([sys.executable, "-c", KILLED, json.dumps(asked)], check=False)
    assert ended.returncode == -9
    (said,) = recover(services.database)
    names = [still["name"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    whole_old = contents(folder) == before
    whole_new = contents(folder) == {line["new"]: before[line["old"]] for line in planned["lines"]}
    assert whole_old != whole_new
    assert sorted(names) == sorted(contents(folder))
    assert whole_new == ("it is completed now" in said)
    assert whole_old or after >= 5
    assert recover(services.database) == []


def test_a_shot_that_is_being_encoded_is_not_renamed(client, gathered, finished, monkeypatch):
    shot = gathered(10)
    monkeypatch.setattr(encoding, "render", slow.render_until_cancelled)
    job = client.post(f"/api/shots/{shot}/encode", json={"seen": 1}).json()
    refused = rename(client, shot)
    assert (refused.status_code, refused.json()["code"]) == (409, "shot_busy")
    client.post(f"/api/jobs/{job['id']}/cancel")
    finished(job["id"])
    assert rename(client, shot).status_code == 200


def test_a_shot_whose_files_are_being_renamed_is_neither_gathered_nor_encoded(services, client, gathered):
    shot = gathered(3)
    batch, _ = renames.begin(services.database, shot, folder_of(client, shot), lambda _: [])
    for path, body in (("gather", None), ("encode", {"seen": 1}), ("split", {"before": [1]}), ("rename", None)):
        answer = client.post(f"/api/shots/{shot}/{path}", json=body) if path != "rename" else rename(client, shot)
        assert answer.status_code in (404, 409) if path == "split" else answer.status_code == 409, path
    # One that could not be completed at a start holds nothing up.
    renames.set_stuck(services.database, batch, True)
    assert client.post(f"/api/shots/{shot}/encode", json={"seen": 1}).status_code == 202
    renames.set_state(services.database, batch, "taken back")


def test_a_file_that_appears_under_the_new_name_meanwhile_is_not_replaced(client, gathered, monkeypatch):
    shot = gathered(5)
    folder = folder_of(client, shot)
    before = contents(folder)
    real = moves.rename_exclusively

    def another_came_first(source, target):
        if target.name.endswith("_0003.jpg") and not target.exists():
            target.write_bytes(b"somebody else's")
        real(source, target)

    monkeypatch.setattr(moves, "rename_exclusively", another_came_first)
    refused = rename(client, shot)
    assert (refused.status_code, refused.json()["code"]) == (400, "name_taken")
    now = contents(folder)
    assert now.pop(next(name for name in now if name.endswith("_0003.jpg"))) == b"somebody else's"
    assert now == before


@pytest.mark.parametrize("broken", [None, errno.EINVAL, errno.ENOSYS])
def test_no_file_is_ever_replaced_by_moving_another(tmp_path, monkeypatch, broken):
    if broken is not None:

        def missing(source, target):
            raise OSError(broken, "not here")

        monkeypatch.setattr(exclusive_rename, "_rename_noreplace", missing)
    one, other = tmp_path / "one", tmp_path / "other"
    one.write_text("one")
    other.write_text("other")
    with pytest.raises(FileExistsError):
        exclusive_rename.rename_exclusively(one, other)
    assert (one.read_text(), other.read_text()) == ("one", "other")
    exclusive_rename.rename_exclusively(one, tmp_path / "third")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["other", "third"]
    with pytest.raises(FileNotFoundError):
        exclusive_rename.rename_exclusively(one, tmp_path / "fourth")
