"""A program with a shot, a clip of it and a camera, for whatever happens to it."""

import pytest

from tests.conftest import write_jpeg
from tests.kills.activities import encode
from tests.kills.journal import STILLS, Journal
from tests.program import Program
from yarnkite.camera.simulated import SimulatedProcess


@pytest.fixture(scope="module")
def device():
    process = SimulatedProcess("--scene", "plain", "--width", "240", "--writing", "0")
    yield process
    process.stop()


@pytest.fixture(scope="module")
def data(tmp_path_factory):
    return tmp_path_factory.mktemp("data")


@pytest.fixture(scope="module")
def program(place, data, device):
    for number in range(STILLS):
        write_jpeg(place / "reach" / f"MRW_{number:04}.jpg", number, (900, 600))
    program = Program(data, place, device.address())
    program.start()
    yield program
    program.stop()


@pytest.fixture(scope="module")
def journal(program):
    journal = Journal(program)
    journal.project = journal.ask("POST", "/api/projects", json={"name": "Kills"}).json()["id"]
    body = {"location": program.place.name, "path": "reach"}
    started = journal.ask("POST", f"/api/projects/{journal.project}/shots", json=body).json()
    journal.shot = started["shot_id"]
    program.wait_for_job(started["job"]["id"])
    decisions = journal.ask("GET", f"/api/shots/{journal.shot}").json()["decisions"]
    decisions["fit"]["size"] = {"width": 480, "height": 270}
    journal.ask("PUT", f"/api/shots/{journal.shot}/decisions", json={"seen": 1, "decisions": decisions})
    journal.noted = journal.ask("GET", f"/api/shots/{journal.shot}/stills").json()["stills"][3]["id"]
    journal.clip = encode(journal, wait=True)
    return journal
