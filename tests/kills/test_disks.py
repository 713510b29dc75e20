"""Disks fill up, and turn read-only, in the middle of everything: it is said, reading goes on, and nothing is lost.

The stills lie on one disk, what the program keeps on another; each is small, and made for this.
"""

import random
import subprocess
import threading
import time

import pytest

from tests.disks import fill, small_disk
from tests.kills import activities
from tests.kills.activities import ACTIVITIES
from tests.kills.journal import held_against
from tests.patience import progress, wait_until
from tests.program import Program

pytestmark = pytest.mark.long
SEED = 20311105
# Which disk, and what becomes of it.
TROUBLES = (("kept", 2_000_000), ("kept", 0), ("stills", 0), ("stills", "ro"))
# What is said of a disk.
WORDS = ("space", "free", "full", "read-only", "room")
READ = ("", "/stills", "/order", "/check", "/sorting", "/tail.png", "/clips", "/revisions")


@pytest.fixture(scope="module")
def disks(tmp_path_factory):
    """Two disks, of 700 and 100 MB."""
    places = {name: tmp_path_factory.mktemp(name) for name in ("kept", "stills")}
    with small_disk(places["kept"], 700), small_disk(places["stills"], 100):
        yield places


@pytest.fixture(scope="module")
def data(disks):
    return disks["kept"] / "data"


@pytest.fixture(scope="module")
def place(disks):
    (disks["stills"] / "place").mkdir()
    return disks["stills"] / "place"


def go_wrong(disk, trouble):
    if trouble == "ro":
        # Not while a file is being written.
        wait_until(lambda: not subprocess.run(["mount", "-o", "remount,ro", str(disk)], capture_output=True).returncode)
    else:
        fill(disk, trouble)


def mend(disk, trouble):
    if trouble == "ro":
        subprocess.run(["mount", "-o", "remount,rw", str(disk)], check=True)
    else:
        (disk / "filled").unlink(missing_ok=True)


@pytest.mark.parametrize("activity", ACTIVITIES)
@pytest.mark.parametrize(("which", "trouble"), TROUBLES)
def test_a_disk_that_takes_nothing_more_costs_nothing(program, journal, disks, activity, which, trouble):
    chance = random.Random(f"{SEED} {activity} {which} {trouble}")
    ended = threading.Event()
    number = 10 * ACTIVITIES.index(activity) + TROUBLES.index((which, trouble))
    journal.of_disks = WORDS
    thread = threading.Thread(target=getattr(activities, activity), args=(journal, number, ended), daemon=True)
    thread.start()
    time.sleep(chance.uniform(0.0, 0.8))
    go_wrong(disks[which], trouble)
    try:
        time.sleep(1.0)
        for page in READ:
            answer = journal.ask("GET", f"/api/shots/{journal.shot}{page}")
            assert answer is not None, page
            assert answer.status_code == 200, (page, answer.text)
        jobs = journal.ask("GET", "/api/jobs").json()
        assert all("should not" not in job["message"] for job in jobs), [job["message"] for job in jobs]
    finally:
        mend(disks[which], trouble)
        ended.set()
        thread.join()
    failed = failed_jobs(journal)
    assert all(any(word in message for word in WORDS) for message in failed.values()), failed
    journal.made_again(failed.keys())
    assert [*held_against(journal), *journal.wrong] == []


def failed_jobs(journal):
    """Return what those said that failed, once all of them have ended; a capture goes on."""

    def ended():
        jobs = [job for job in journal.ask("GET", "/api/jobs").json() if job["id"] in journal.underway()]
        return all(job["state"] not in ("waiting", "running") or job["kind"] == "capture" for job in jobs)

    wait_until(ended, lambda: [progress(job) for job in journal.ask("GET", "/api/jobs").json()])
    jobs = journal.ask("GET", "/api/jobs").json()
    return {job["id"]: job["message"] for job in jobs if job["id"] in journal.underway() and job["state"] == "failed"}


def test_a_start_on_a_disk_that_takes_nothing_says_so_in_a_sentence(tmp_path):
    with small_disk(tmp_path / "disk", 100) as disk:
        with pytest.raises(AssertionError, match=r"A new database needs 300 MB in .*, and \d+ MB are free"):
            Program(disk / "data", tmp_path).start()
        go_wrong(disk, "ro")
        for name in ("data", "another"):
            with pytest.raises(AssertionError, match=r"Nothing can be kept in .*: Read-only file system\. Make it"):
                Program(disk / name, tmp_path).start()
