"""Killing the server and the database: nothing acknowledged is lost, and work goes on where it stopped."""

import os
import signal
from datetime import datetime
from pathlib import Path

import pytest

from tests.clips import chunks_of, rendered
from tests.conftest import write_jpeg
from tests.patience import wait_until
from tests.program import Program
from yarnkite.core.base.still import Still
from yarnkite.core.encode.join import join
from yarnkite.core.encode.labels import Labels
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe

STILLS = 110


@pytest.fixture(scope="module")
def program(tmp_path_factory):
    card = tmp_path_factory.mktemp("place") / "card"
    for number in range(STILLS):
        write_jpeg(card / "reach" / f"MRW_{number}.jpg", number, (600, 400))
    program = Program(tmp_path_factory.mktemp("data"), card)
    program.start()
    yield program
    program.stop()


def undisturbed(program: Program, shot: int, folder: Path) -> bytes:
    shown = program.client.get(f"/api/shots/{shot}").json()
    rows = program.client.get(f"/api/shots/{shot}/stills").json()["stills"]
    taken = tuple(
        Still(path=f"{shown['folder']}/{row['name']}", fingerprint=row["fingerprint"], width=600, height=400)
        for row in rows
    )
    recipe = Recipe(stills=taken, decisions=Decisions.model_validate(shown["decisions"]))
    folder.mkdir()
    first = min(row["captured_at"] for row in rows)
    return join(
        recipe.decisions.pace.written_rate,
        [rendered(recipe, one, folder) for one in chunks_of(recipe)],
        folder / "clip.mp4",
        labels=Labels(captured=datetime.fromisoformat(first)),
    ).read_bytes()


@pytest.mark.long
def test_a_killed_server_goes_on_with_gathering_and_encoding_and_ends_in_the_same_bytes(program, tmp_path):
    project = program.client.post("/api/projects", json={"name": "Reach"}).json()["id"]
    started = program.client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": "reach"}).json()
    shot = started["shot_id"]
    wait_until(lambda: program.job(started["job"]["id"])["done"] > 20)
    program.kill()
    wait_until(lambda: not program.processes())
    program.start()
    assert program.wait_for_job(started["job"]["id"])["state"] == "finished"
    assert len(program.client.get(f"/api/shots/{shot}/stills").json()["stills"]) == STILLS

    decisions = program.client.get(f"/api/shots/{shot}").json()["decisions"]
    decisions["fit"]["size"] = {"width": 640, "height": 360}
    kept = program.client.put(f"/api/shots/{shot}/decisions", json={"seen": 1, "decisions": decisions}).json()
    job = program.client.post(f"/api/shots/{shot}/encode", json={"seen": kept["revision"]}).json()["id"]
    whole = wait_until(lambda: list((program.data / "chunks").glob("*.chunk")))
    program.kill()
    made = {path: path.stat().st_ino for path in whole}
    wait_until(lambda: not program.processes())
    program.start()
    assert program.client.get(f"/api/shots/{shot}").json()["decisions"] == decisions
    assert program.wait_for_job(job)["state"] == "finished"
    assert {path: path.stat().st_ino for path in made} == made
    (clip,) = program.client.get(f"/api/shots/{shot}/clips").json()
    assert clip["differences"] == []
    assert program.client.get(f"/api/clips/{clip['id']}/file").content == undisturbed(program, shot, tmp_path / "alone")


def test_a_killed_database_comes_back_with_all_that_was_acknowledged(program):
    names = {program.client.post("/api/projects", json={"name": f"Project {n}"}).json()["name"] for n in range(5)}
    os.kill(int((program.data / "database" / "pid").read_text()), signal.SIGKILL)

    def answered():
        answer = program.client.get("/api/projects")
        return answer.status_code == 200 and names & {project["name"] for project in answer.json()}

    assert wait_until(answered) == names


def test_ctrl_c_ends_everything_that_was_started_and_a_second_start_finds_it_all(program):
    program.client.post("/api/projects", json={"name": "Kept"})
    before = program.client.get("/api/projects").json()
    project = before[0]["id"]
    program.client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": "reach"})
    wait_until(
        lambda: (
            {"mariadbd", "forkserver"}
            <= {name for name in ("mariadbd", "forkserver") if name in str(program.processes())}
        )
    )
    assert program.stop() == 0
    wait_until(lambda: not program.processes())
    program.start()
    after = program.client.get("/api/projects").json()
    assert [project["name"] for project in after] == [project["name"] for project in before]
    assert after[0]["name"] == "Kept"
