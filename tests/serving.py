"""The whole program behind its interface: a real MariaDB, real workers, real files."""

import shutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.patience import wait_for_job
from yarnkite import locations
from yarnkite.api.app import create_app
from yarnkite.entrance import key_of
from yarnkite.serve import running
from yarnkite.services.running import Services
from yarnkite.store import shots
from yarnkite.workspace import Workspace

ADDRESS = "http://127.0.0.1:8460"


@pytest.fixture(scope="session")
def card(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The one folder the program may read stills from."""
    return tmp_path_factory.mktemp("places") / "card"


@pytest.fixture(scope="session")
def services(tmp_path_factory: pytest.TempPathFactory, card: Path) -> Iterator[Services]:
    with started(tmp_path_factory.mktemp("data"), card) as program:
        yield program


@contextmanager
def started(data: Path, card: Path) -> Iterator[Services]:
    """Start a program on a data folder that may read stills from a card, and end it."""
    workspace = Workspace(data)
    card.mkdir()
    locations.add(workspace, [card])
    with running(workspace, workers=2) as services:
        yield services


def known(data: Path) -> dict[str, str]:
    """Return what a program says to be let in."""
    return {"Authorization": f"Bearer {key_of(data)}"}


@pytest.fixture(scope="session")
def client(services: Services) -> Iterator[TestClient]:
    with TestClient(create_app(services), base_url=ADDRESS, headers=known(services.workspace.folder)) as client:
        yield client


@pytest.fixture
def project(client: TestClient, request: pytest.FixtureRequest) -> int:
    return int(client.post("/api/projects", json={"name": request.node.name[:120]}).json()["id"])


@pytest.fixture
def finished(client: TestClient) -> Callable[[int], dict]:
    """Wait for a job to end, and return it."""

    def finished(job_id: int) -> dict:
        return wait_for_job(lambda: next(job for job in client.get("/api/jobs").json() if job["id"] == job_id))

    return finished


def put_together(client: TestClient, finished: Callable[[int], dict], shot: int, **stretch: int) -> dict | None:
    """Have a stretch put together; returns the job that did it, or nothing if it was kept."""
    answer = client.post(f"/api/shots/{shot}/together", json=stretch).json()
    return None if answer["ready"] else finished(answer["job"]["id"])


@pytest.fixture(scope="session")
def masters() -> dict[tuple[int, tuple[int, int]], tuple[int, Path]]:
    """Shots that were gathered once: by count and size, the shot's id and its folder."""
    return {}


@pytest.fixture
def gathered(
    services: Services,
    client: TestClient,
    project: int,
    card: Path,
    finished: Callable[[int], dict],
    shoot: Callable[..., Path],
    masters: dict[tuple[int, tuple[int, int]], tuple[int, Path]],
) -> Callable[..., int]:
    """Return a shot of fresh stills, in a folder of its own, as gathering leaves it; what it gathers it gathers
    once."""

    def gathered(count: int, size: tuple[int, int] = (480, 320)) -> int:
        if (count, size) not in masters:
            folder = card / f"master-{count}-{size[0]}x{size[1]}"
            shoot(count, "shot", size).rename(folder)
            own = client.post("/api/projects", json={"name": folder.name}).json()["id"]
            masters[count, size] = gather(client, finished, own, folder), folder
        master, folder = masters[count, size]
        names = (f"shot-{project}{suffix}" for suffix in ("", "-other", "-third", "-fourth"))
        target = next(card / name for name in names if not (card / name).exists())
        shutil.copytree(folder, target, copy_function=shutil.copy2)
        return copied_shot(services, master, project, target)

    return gathered


def gather(client: TestClient, finished: Callable[[int], dict], project: int, folder: Path) -> int:
    """Gather a folder of the card; returns the shot's id."""
    body = {"location": "card", "path": folder.name}
    started = client.post(f"/api/projects/{project}/shots", json=body).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    return int(started["shot_id"])


def copied_shot(services: Services, master: int, project: int, folder: Path) -> int:
    """Make a shot with the rows gathering made of another, whose files a folder has copies of; returns its id."""
    with services.database.transaction() as cursor:
        made = shots.insert(cursor, project, folder.name, folder, copied=False)
        cursor.execute(
            "UPDATE shot JOIN shot AS master ON master.id = %s SET shot.gathered = TRUE, shot.size_model = "
            "master.size_model"
            " WHERE shot.id = %s",
            (master, made),
        )
        for table, skipped in (
            ("still", {"id", "shot_id", "changed_ns"}),
            ("left_out", {"shot_id"}),
            ("shot_dirt", {"shot_id"}),
        ):
            cursor.execute(f"SHOW COLUMNS FROM {table}")
            names = ", ".join(row["Field"] for row in cursor.fetchall() if row["Field"] not in skipped)
            cursor.execute(
                f"INSERT INTO {table} (shot_id, {names}) SELECT %s, {names} FROM {table} WHERE shot_id = %s",
                (made, master),
            )
    return made
