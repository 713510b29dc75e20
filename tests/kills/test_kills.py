"""The program, or a part of it, is killed at random moments: nothing that was acknowledged is lost, and it answers
again.

A journal notes every answer that acknowledged something. After each kill the program is held against it. How many
points there are, what was lost, what was stuck and how long it took to answer again is printed as a table.
"""

import os
import random
import signal
import tempfile
import threading
import time
from contextlib import suppress
from pathlib import Path

import pytest

from tests.kills import activities
from tests.kills.activities import ACTIVITIES, encode
from tests.kills.journal import held_against
from tests.patience import wait_until
from tests.program import Program

# No test of a second or ten: there is no limit to how long this may take.
pytestmark = pytest.mark.long
ROUNDS = int(os.environ.get("YARNKITE_KILLS", "200"))
SEED = int(os.environ.get("YARNKITE_KILLS_SEED", "20311104"))
FIRST_STARTS = int(os.environ.get("YARNKITE_FIRST_STARTS", "8"))
VICTIMS = ("server", "server asked to end", "database", "worker", "all of it")


@pytest.fixture(scope="module")
def place():
    """The stills lie on another disk than what the program keeps."""
    memory = Path("/dev/shm")
    with tempfile.TemporaryDirectory(prefix="place-", dir=memory if memory.is_dir() else None) as folder:
        yield Path(folder)


@pytest.fixture(scope="module", autouse=True)
def table():
    """Every point, and what came of it; printed at the end."""
    rows: list[tuple[str, str, int, float]] = []
    yield rows
    print(
        "\n| what was under way | what was killed | points | lost | longest until it answers, s "
        "|\n|---|---|---|---|---|"
    )
    for key in dict.fromkeys(row[:2] for row in rows):
        some = [row for row in rows if row[:2] == key]
        lost, longest = sum(row[2] for row in some), max(row[3] for row in some)
        print(f"| {key[0]} | {key[1]} | {len(some)} | {lost} | {longest:.1f} |")
    print(f"{len(rows)} points, {sum(row[2] for row in rows)} lost.", flush=True)


def kill(program, victim, chance):
    if victim in ("server", "server asked to end", "all of it"):
        if victim == "server asked to end":
            program.process.send_signal(signal.SIGTERM)
            program.client.close()
            program.process.wait()
        elif victim == "all of it":
            # As when the power goes, but for what the disk holds.
            for pid in living(program):
                with suppress(ProcessLookupError):
                    os.kill(pid, signal.SIGKILL)
            program.client.close()
            program.process.wait()
        else:
            program.kill()
        wait_until(lambda: not program.processes())
        program.start()
    elif victim == "database":
        os.kill(int((program.data / "database" / "pid").read_text()), signal.SIGKILL)
    else:
        workers = [pid for pid, line in living(program).items() if "forkserver" in line and pid != program.process.pid]
        if workers:
            os.kill(chance.choice(workers), signal.SIGKILL)


def living(program):
    found = {}
    for entry in Path("/proc").glob("[0-9]*"):
        try:
            if f"YARNKITE_TEST_PROGRAM={program.data}\0".encode() in (entry / "environ").read_bytes():
                found[int(entry.name)] = (entry / "cmdline").read_bytes().replace(b"\0", b" ").decode()
        except OSError:
            continue
    return found


def test_a_first_start_that_is_killed_at_any_moment_is_followed_by_one_that_answers(tmp_path, table):
    chance = random.Random(SEED)
    for number in range(FIRST_STARTS):
        (tmp_path / f"place-{number}").mkdir()
        program = Program(tmp_path / f"data-{number}", tmp_path / f"place-{number}")
        starting = threading.Thread(target=lambda program=program: suppress_all(program.start), daemon=True)
        starting.start()
        wait_until(lambda program=program: hasattr(program, "process"))
        time.sleep(chance.uniform(0.0, 6.0))
        how = chance.choice([signal.SIGKILL, signal.SIGTERM])
        program.process.send_signal(how)
        program.process.wait()
        starting.join()
        wait_until(lambda program=program: not program.processes())
        began = time.monotonic()
        program.start()
        took = time.monotonic() - began
        assert program.client.get("/api/projects").json() == []
        table.append(("a first start", how.name, 0, took))
        program.stop()


def suppress_all(start):
    with suppress(AssertionError):
        start()


def test_nothing_acknowledged_is_lost_whatever_is_killed_whenever(program, journal, table):
    chance = random.Random(SEED)
    every = [(victim, activity) for activity in ACTIVITIES for victim in VICTIMS]
    order: list[tuple[str, str]] = []
    while len(order) < ROUNDS:
        order += chance.sample(every, len(every))
    lost = []
    for number, (victim, activity) in enumerate(order[:ROUNDS]):
        ended = threading.Event()
        delay = chance.uniform(0.0, 1.6)
        thread = threading.Thread(target=getattr(activities, activity), args=(journal, number, ended), daemon=True)
        thread.start()
        time.sleep(delay)
        began = time.monotonic()
        kill(program, victim, chance)
        wait_until(lambda: (answer := journal.ask("GET", "/api/projects")) is not None and answer.status_code == 200)
        took = time.monotonic() - began
        ended.set()
        thread.join(60)
        missing = [*held_against(journal), *journal.wrong]
        journal.wrong.clear()
        table.append((activity, victim, len(missing), took))
        print(
            f"{number + 1:3} {activity:10} {victim:19} after {delay:.2f} s: {missing or 'nothing lost'}, answered "
            f"after {took:.1f} s",
            flush=True,
        )
        lost += missing
    assert lost == []
    journal.ask("GET", f"/api/shots/{journal.shot}")
    for chunk in (program.data / "chunks").glob("*.chunk"):
        chunk.unlink(missing_ok=True)
    again = encode(journal, wait=True)
    assert again == journal.clip
