"""One program a data folder: a second start says where the first one answers, and disturbs nothing."""

import subprocess
import sys

import httpx
import pytest

from tests.conftest import write_jpeg
from tests.patience import wait_until
from tests.program import Program
from yarnkite.alone import alone_in
from yarnkite.core.base.errors import Conflict


@pytest.fixture
def program(tmp_path):
    (tmp_path / "card").mkdir()
    program = Program(tmp_path / "data", tmp_path / "card")
    program.start()
    yield program
    program.stop()


@pytest.mark.long
def test_a_second_start_names_the_first_and_does_not_cancel_its_encode(program, tmp_path):
    for number in range(120):
        write_jpeg(tmp_path / "card" / "reach" / f"MRW_{number}.jpg", number)
    project = program.client.post("/api/projects", json={"name": "Reach"}).json()["id"]
    started = program.client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": "reach"}).json()
    assert program.wait_for_job(started["job"]["id"])["state"] == "finished"
    decisions = program.client.get(f"/api/shots/{started['shot_id']}").json()["decisions"]
    decisions["fit"]["size"] = {"width": 1280, "height": 720}
    body = {"seen": 1, "decisions": decisions}
    assert program.client.put(f"/api/shots/{started['shot_id']}/decisions", json=body).status_code == 200
    job = program.client.post(f"/api/shots/{started['shot_id']}/encode", json={"seen": 2}).json()["id"]
    wait_until(lambda: list((program.data / "chunks").glob("*.note")))
    second = [sys.executable, "-m", "yarnkite", "start", "--data", str(program.data)]
    ended = subprocess.run(second, capture_output=True, text=True)
    assert ended.returncode == 1
    assert program.address in ended.stderr
    assert "--data" in ended.stderr
    assert list((program.data / "chunks").glob("*.note"))
    assert program.wait_for_job(job)["state"] == "finished"
    (clip,) = program.client.get(f"/api/shots/{started['shot_id']}/clips").json()
    assert clip["differences"] == []


def test_the_printed_address_lets_a_browser_in_and_enter_prints_another_while_the_program_runs(program):
    asked = [sys.executable, "-m", "yarnkite", "enter", "--data", str(program.data)]
    for way_in in (program.printed, subprocess.run(asked, capture_output=True, text=True).stdout.strip()):
        with httpx.Client(base_url=program.address) as browser:
            assert browser.get("/api/projects").status_code == 401
            assert browser.get(way_in).status_code == 200
            assert browser.get("/api/projects").status_code == 200
    program.kill()
    ended = subprocess.run(asked, capture_output=True, text=True)
    assert (ended.returncode, "No Yarn Kite runs" in ended.stderr) == (1, True)


def test_the_lock_ends_with_the_program_however_it_ends(program):
    with pytest.raises(Conflict, match="runs already"), alone_in(program.data):
        pass
    program.kill()
    wait_until(lambda: not program.processes())
    with alone_in(program.data) as held:
        held.announce("http://127.0.0.1:1/")
        with pytest.raises(Conflict, match=r"http://127\.0\.0\.1:1/"), alone_in(program.data):
            pass
    with alone_in(program.data):
        pass
