"""The whole program behind its interface: a real MariaDB, real workers, real files."""

import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from yarnkite import places
from yarnkite.api.app import create_app
from yarnkite.api.services import Services
from yarnkite.serve import running
from yarnkite.workspace import Workspace

ADDRESS = "http://127.0.0.1:8460"


@pytest.fixture(scope="session")
def card(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The one folder the program may read stills from."""
    return tmp_path_factory.mktemp("places") / "card"


@pytest.fixture(scope="session")
def services(tmp_path_factory: pytest.TempPathFactory, card: Path) -> Iterator[Services]:
    workspace = Workspace(tmp_path_factory.mktemp("data"))
    card.mkdir()
    places.remember(workspace, [card])
    with running(workspace, workers=2) as started:
        yield started


@pytest.fixture(scope="session")
def client(services: Services) -> Iterator[TestClient]:
    with TestClient(create_app(services), base_url=ADDRESS) as client:
        yield client


@pytest.fixture
def project(client: TestClient, request: pytest.FixtureRequest) -> int:
    return int(client.post("/api/projects", json={"name": request.node.name[:120]}).json()["id"])


@pytest.fixture
def finished(client: TestClient) -> Callable[[int], dict]:
    """Wait for a job to end, and return it."""

    def finished(job_id: int) -> dict:
        deadline = time.monotonic() + 90
        while time.monotonic() < deadline:
            job = next(job for job in client.get("/api/jobs").json() if job["id"] == job_id)
            if job["state"] not in ("waiting", "running"):
                return job
            time.sleep(0.05)
        raise AssertionError(f"job {job_id} did not end")

    return finished


def put_together(client: TestClient, finished: Callable[[int], dict], shot: int, **stretch: int) -> dict | None:
    """Have a stretch put together; returns the job that did it, or nothing if it was kept."""
    answer = client.post(f"/api/shots/{shot}/together", json=stretch).json()
    return None if answer["ready"] else finished(answer["job"]["id"])


@pytest.fixture
def gathered(client: TestClient, project: int, card: Path, finished: Callable[[int], dict], shoot: Callable[..., Path]):
    """Gather a fresh folder of stills and return the shot's id."""

    def gathered(count: int, size: tuple[int, int] = (480, 320)) -> int:
        folder = shoot(count, "shot", size)
        target = card / f"shot-{project}"
        folder.rename(target)
        started = client.post(f"/api/projects/{project}/shots", json={"place": "card", "path": target.name}).json()
        assert finished(started["job"]["id"])["state"] == "finished"
        return int(started["shot_id"])

    return gathered
