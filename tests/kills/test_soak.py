"""A long day: thousands of questions and twenty encodes, and nothing of the program grows with them."""

import os
import random
from pathlib import Path

import pytest

from tests.conftest import write_jpeg
from tests.patience import wait_for_job
from tests.program import Program

REQUESTS = int(os.environ.get("YARNKITE_SOAK", "2000"))
ENCODES, STILLS = 20, 48
# What a server may keep beyond what it has once all its caches are warm, and hold of what the system counts.
MOST_GROWTH, MOST_MORE = 0.1, 8


@pytest.fixture
def program(tmp_path):
    for number in range(STILLS):
        write_jpeg(tmp_path / "places" / "reach" / f"MRW_{number + 1}.jpg", number, (900, 600))
    program = Program(tmp_path / "data", tmp_path / "places")
    program.start()
    yield program
    program.stop()


def counted(program: Program) -> dict[str, int]:
    """Memory in MB, open files, sockets among them, and threads of the server's own process."""
    process = Path(f"/proc/{program.process.pid}")
    status = dict(line.split(":", 1) for line in (process / "status").read_text().splitlines())
    files = [str(one.readlink()) for one in (process / "fd").iterdir() if one.exists() or one.is_symlink()]
    return {
        "memory": int(status["VmRSS"].split()[0]) // 1024,
        "files": len(files),
        "sockets": sum("socket" in one for one in files),
        "threads": int(status["Threads"]),
    }


def ask(program: Program, shot: int, chance: random.Random) -> None:
    """Ask something that a page asks, of any still."""
    client, still = program.client, chance.randrange(STILLS)
    revision = client.get(f"/api/shots/{shot}").json()["revision"]
    width = chance.choice([320, 640, 960])
    about = f"revision={revision}&change=%7B%7D"
    address = chance.choice(
        [
            *(f"/api/shots/{shot}/{view}" for view in ("stills", "order", "check", "clips", "sorting")),
            *("/api/projects", "/api/jobs", "/api/locations", "/api/space"),
            f"/api/shots/{shot}/tail.png",
            f"/api/shots/{shot}/check/plots",
            f"/api/shots/{shot}/stills/{still}/frame.jpg?width={width}&state=1&{about}",
            f"/api/shots/{shot}/light/stills/{still}/tone?{about}",
            f"/api/shots/{shot}/light/stills/{still}/laid?{about}",
            f"/api/shots/{shot}/pace/play?{about}",
        ]
    )
    answer = client.get(address)
    assert answer.status_code == 200, (address, answer.text[:300])
    if chance.random() < 0.1:
        decisions = client.get(f"/api/shots/{shot}").json()["decisions"]
        decisions["fit"]["x"] = round(chance.random(), 3)
        client.put(f"/api/shots/{shot}/decisions", json={"seen": revision, "decisions": decisions}).raise_for_status()


def encode(program: Program, shot: int) -> None:
    shown = program.client.get(f"/api/shots/{shot}").json()
    begun = program.client.post(f"/api/shots/{shot}/encode", json={"seen": shown["revision"]})
    begun.raise_for_status()
    job = begun.json()["id"]
    ended = wait_for_job(lambda: next(one for one in program.client.get("/api/jobs").json() if one["id"] == job))
    assert ended["state"] == "finished", ended


def test_nothing_grows_over_a_long_day(program):
    _, shot = program.gather("Reach", "reach")
    chance = random.Random(20311104)
    found = []
    every = max(1, REQUESTS // ENCODES)
    for number in range(REQUESTS):
        ask(program, shot, chance)
        if number % every == every - 1:
            encode(program, shot)
            found.append(counted(program))
            print(f"{number + 1:5} questions, {len(found):2} encodes: {found[-1]}", flush=True)
    warm, last = found[len(found) // 2 - 1], found[-1]
    assert last["memory"] <= warm["memory"] * (1 + MOST_GROWTH), (warm, last)
    for what in ("files", "sockets", "threads"):
        assert last[what] <= warm[what] + MOST_MORE, (what, warm, last)
