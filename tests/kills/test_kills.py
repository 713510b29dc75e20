"""The program, or a part of it, is killed at random moments: nothing that was acknowledged is lost, and it answers again.

A journal notes every answer that acknowledged something. After each kill the program is held against it. How many points
there are, what was lost, what was stuck and how long it took to answer again is printed as a table.
"""

import os
import random
import signal
import threading
import time
from contextlib import suppress
from pathlib import Path

import httpx
import pytest

from tests.conftest import write_jpeg
from tests.patience import wait_until
from tests.program import Program
from yarnkite.camera.simulated import SimulatedProcess

# No test of a second or ten: there is no limit to how long this may take.
pytestmark = pytest.mark.long
ROUNDS = int(os.environ.get("YARNKITE_KILLS", "200"))
SEED = int(os.environ.get("YARNKITE_KILLS_SEED", "20311104"))
FIRST_STARTS = int(os.environ.get("YARNKITE_FIRST_STARTS", "8"))
VICTIMS = ("server", "server asked to end", "database", "worker", "all of it")
ACTIVITIES = (
    *("gathering", "copying", "encoding", "renaming", "uploading", "deciding", "exporting", "capturing", "reeling"),
)
STILLS = 60


class Journal:
    """What was acknowledged: by a status, in an answer that arrived whole."""

    def __init__(self, program: Program) -> None:
        self.program = program
        self.notes: dict[int, tuple[int, str]] = {}
        self.offsets: dict[tuple[int, int], int] = {}
        self.jobs: set[int] = set()
        self.names: dict[int, set[str]] = {}
        self.exports: dict[int, tuple[Path, dict[str, bytes]]] = {}
        self.captured: dict[int, tuple[int, set[str]]] = {}
        self.upload = None
        self.wrong: list[str] = []

    def ask(self, method: str, path: str, **options):
        """Ask for something; returns the answer, or nothing where the program or its database was killed meanwhile."""
        try:
            answer = httpx.request(method, self.program.address + path, timeout=30, **options)
        except (httpx.TransportError, ValueError):
            return None
        if answer.status_code >= 500:
            assert answer.json()["code"] == "database_away", answer.text
            return None
        return answer

    def done(self, answer, code):
        """Tell whether something was done; what was refused for another reason than a shot that is busy is noted."""
        if answer is not None and answer.status_code not in (code, 409):
            self.wrong.append(f"{answer.request.url.path}: {answer.status_code} {answer.text[:200]}")
        return answer is not None and answer.status_code == code


@pytest.fixture(scope="module")
def device():
    process = SimulatedProcess("--scene", "plain", "--width", "240", "--writing", "0")
    yield process
    process.stop()


@pytest.fixture(scope="module")
def program(tmp_path_factory, device):
    place = tmp_path_factory.mktemp("place")
    for number in range(STILLS):
        write_jpeg(place / "reach" / f"MRW_{number:04}.jpg", number, (900, 600))
    program = Program(tmp_path_factory.mktemp("data"), place, device.address())
    program.start()
    yield program
    program.stop()


@pytest.fixture(scope="module", autouse=True)
def table():
    """Every point, and what came of it; printed at the end."""
    rows: list[tuple[str, str, int, float]] = []
    yield rows
    print(
        "\n| what was under way | what was killed | points | lost | longest until it answers, s |\n|---|---|---|---|---|"
    )
    for key in dict.fromkeys(row[:2] for row in rows):
        some = [row for row in rows if row[:2] == key]
        lost, longest = sum(row[2] for row in some), max(row[3] for row in some)
        print(f"| {key[0]} | {key[1]} | {len(some)} | {lost} | {longest:.1f} |")
    print(f"{len(rows)} points, {sum(row[2] for row in rows)} lost.", flush=True)


@pytest.fixture(scope="module")
def journal(program):
    journal = Journal(program)
    journal.project = journal.ask("POST", "/api/projects", json={"name": "Kills"}).json()["id"]
    body = {"root": program.place.name, "path": "reach"}
    started = journal.ask("POST", f"/api/projects/{journal.project}/shots", json=body).json()
    journal.shot = started["shot_id"]
    program.wait_for_job(started["job"]["id"])
    decisions = journal.ask("GET", f"/api/shots/{journal.shot}").json()["decisions"]
    decisions["fit"]["size"] = {"width": 480, "height": 270}
    journal.ask("PUT", f"/api/shots/{journal.shot}/decisions", json={"seen": 1, "decisions": decisions})
    journal.noted = journal.ask("GET", f"/api/shots/{journal.shot}/stills").json()["stills"][3]["id"]
    journal.clip = encode(journal, wait=True)
    return journal


def encode(journal, *, wait=False):
    revision = journal.ask("GET", f"/api/shots/{journal.shot}")
    answer = revision and journal.ask(
        "POST", f"/api/shots/{journal.shot}/encode", json={"seen": revision.json()["revision"]}
    )
    if not journal.done(answer or None, 202):
        return None
    job = answer.json()["id"]
    journal.jobs.add(job)
    if wait:
        journal.program.wait_for_job(job)
        (clip, *_) = journal.ask("GET", f"/api/shots/{journal.shot}/clips").json()
        return journal.ask("GET", f"/api/clips/{clip['id']}/file").content
    return None


def gathering(journal, number, ended):
    folder = journal.program.place / f"more-{number}"
    for still in range(24):
        write_jpeg(folder / f"MRW_{still:04}.jpg", still + number, (600, 400))
    body = {"root": journal.program.place.name, "path": folder.name}
    answer = journal.ask("POST", f"/api/projects/{journal.project}/shots", json=body)
    if answer is not None:
        journal.jobs.add(answer.json()["job"]["id"])
        journal.names[answer.json()["shot_id"]] = {path.name for path in folder.iterdir()}


def copying(journal, number, ended):
    """As gathering, but the files are copied into the project: the copies must be what the originals are."""
    folder = journal.program.place / f"copied-{number}"
    for still in range(24):
        write_jpeg(folder / f"MRW_{still:04}.jpg", still + number, (600, 400))
    body = {"root": journal.program.place.name, "path": folder.name, "copy_files": True}
    answer = journal.ask("POST", f"/api/projects/{journal.project}/shots", json=body)
    if answer is not None:
        journal.jobs.add(answer.json()["job"]["id"])
        shot = answer.json()["shot_id"]
        journal.names[shot] = {path.name for path in folder.iterdir()}
        copies = journal.program.data / "stills" / f"shot-{shot}"
        journal.exports[answer.json()["job"]["id"]] = copies, {one.name: one.read_bytes() for one in folder.iterdir()}


def exporting(journal, number, ended):
    where = {"root": journal.program.place.name, "path": "", "folder": f"out-{number}"}
    body = {"parts": [{"kind": "name"}], "what": "files", **where}
    answer = journal.ask("POST", f"/api/shots/{journal.shot}/export", json=body)
    if journal.done(answer, 202):
        job = answer.json()["id"]
        journal.jobs.add(job)
        wanted = {one.name: one.read_bytes() for one in (journal.program.place / "reach").iterdir()}
        journal.exports[job] = journal.program.place / f"out-{number}", wanted


def capturing(journal, number, ended):
    body = {"name": f"Watch {number}", "capture": {"camera": "simulated", "interval_ms": 250}}
    begun = journal.ask("POST", f"/api/projects/{journal.project}/captures", json=body)
    if not journal.done(begun, 202):
        return
    shot, job = begun.json()["shot_id"], begun.json()["job"]["id"]
    journal.captured[job] = shot, set()
    while not ended.is_set():
        listed = journal.ask("GET", f"/api/shots/{shot}/stills")
        if listed is None:
            return
        journal.captured[job][1].update(still["name"] for still in listed.json()["stills"])
        time.sleep(0.05)


def reeling(journal, number, ended):
    body = {"name": f"Reel {number}", "shots": [journal.shot]}
    made = journal.ask("POST", f"/api/projects/{journal.project}/reels", json=body)
    if not journal.done(made, 201):
        return
    path = f"/api/reels/{made.json()['id']}/encode"
    answer = journal.ask("POST", path, json={"seen": made.json()["revision"]})
    if journal.done(answer, 202):
        journal.jobs.add(answer.json()["id"])


def encoding(journal, number, ended):
    for chunk in (journal.program.data / "chunks").glob("*.chunk"):
        chunk.unlink(missing_ok=True)
    encode(journal)


def renaming(journal, number, ended):
    text = f"k{number}"
    while not ended.is_set():
        parts = [{"kind": "text", "text": f"{text}_"}, {"kind": "counter"}]
        planned = journal.ask("POST", f"/api/shots/{journal.shot}/rename/plan", json={"parts": parts})
        if planned is None or planned.status_code != 200:
            return
        body = {"parts": parts, "plan": planned.json()["plan"]}
        done = journal.ask("POST", f"/api/shots/{journal.shot}/rename", json=body)
        if done is None or done.status_code != 200:
            return
        journal.renamed = {line["new"] for line in planned.json()["lines"]}
        text = text + "x"


def uploading(journal, number, ended):
    data = write_jpeg(journal.program.place.parent / f"sent-{number}.jpg", number, (900, 600)).read_bytes()
    body = {
        "name": f"Sent {number}",
        "files": [{"name": "a.jpg", "bytes": len(data), "modified_ms": 1_936_000_000_000}],
    }
    opened = journal.ask("POST", f"/api/projects/{journal.project}/uploads", json=body)
    if opened is None:
        return
    upload, at = opened.json()["id"], opened.json()["files"][0]["offset"]
    journal.upload = (number, upload, data, body)
    while at < len(data) and not ended.is_set():
        piece = data[at : at + 7000]
        answer = journal.ask(
            "PATCH", f"/api/uploads/{upload}/files/0", content=piece, headers={"Upload-Offset": str(at)}
        )
        if answer is None or answer.status_code != 204:
            return
        at = int(answer.headers["Upload-Offset"])
        journal.offsets[upload, 0] = at
        time.sleep(0.02)


def deciding(journal, number, ended):
    shown = journal.ask("GET", f"/api/shots/{journal.shot}")
    if shown is None:
        return
    still, revision = journal.noted, shown.json()["revision"]
    for count in range(10_000):
        if ended.is_set():
            return
        body = {"seen": revision, "still": still, "text": f"{number}-{count}"}
        answer = journal.ask("POST", f"/api/shots/{journal.shot}/note", json=body)
        if answer is None or answer.status_code != 200:
            return
        revision = answer.json()["revision"]
        journal.notes[still] = (revision, body["text"])


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


def held_against(journal):
    """Compare the program with the journal once it answers again; returns what is missing."""
    program, missing = journal.program, []
    wait_until(lambda: (answer := journal.ask("GET", "/api/projects")) is not None and answer.status_code == 200)
    for still, (revision, text) in journal.notes.items():
        shown = journal.ask("GET", f"/api/shots/{journal.shot}").json()
        notes = {note["still"]: note["text"] for note in shown["decisions"]["check"]["notes"]}
        # A note that came later, and whose answer was lost, may be there instead.
        same_round = notes.get(still, "").split("-")[0] == text.split("-")[0]
        if shown["revision"] < revision or not same_round:
            missing.append(f"note {text} of revision {revision}: {notes.get(still)!r} at {shown['revision']}")
    for job in journal.jobs:
        ended = program.wait_for_job(job)
        if ended["state"] != "finished":
            missing.append(f"job {job}: {ended['state']}, {ended['message']}")
    journal.jobs.clear()
    for job, (folder, wanted) in journal.exports.items():
        there = {path.name: path.read_bytes() for path in folder.iterdir()} if folder.is_dir() else {}
        if there != wanted:
            missing.append(f"files of job {job} in {folder.name}: {len(there)} of {len(wanted)}, or other bytes")
    journal.exports.clear()
    for job, (shot, names) in journal.captured.items():
        before = len(journal.ask("GET", f"/api/shots/{shot}/stills").json()["stills"])
        wait_until(
            lambda shot=shot, least=before: (
                len(journal.ask("GET", f"/api/shots/{shot}/stills").json()["stills"]) > least
            )
        )
        journal.ask("POST", f"/api/captures/{job}/stop")
        program.wait_for_job(job)
        listed = [still["name"] for still in journal.ask("GET", f"/api/shots/{shot}/stills").json()["stills"]]
        files = {path.name for path in (program.data / "stills" / f"shot-{shot}").glob("*.jpg")}
        if not names <= set(listed) or len(set(listed)) != len(listed) or set(listed) != files:
            missing.append(f"captured stills of shot {shot}: {names - set(listed)}, {set(listed) ^ files}")
    journal.captured.clear()
    for job in journal.ask("GET", "/api/jobs").json():
        # A capture whose beginning was not answered goes on, as it should; the next one needs the camera.
        if job["kind"] == "capture" and job["state"] in ("waiting", "running"):
            journal.ask("POST", f"/api/captures/{job['id']}/stop")
            program.wait_for_job(job["id"])
    for shot, names in journal.names.items():
        listed = {still["name"] for still in journal.ask("GET", f"/api/shots/{shot}/stills").json()["stills"]}
        if listed != names:
            missing.append(f"stills of shot {shot}: {names ^ listed}")
    journal.names.clear()
    on_disk = {path.name for path in (program.place / "reach").iterdir()}
    known = {still["name"] for still in journal.ask("GET", f"/api/shots/{journal.shot}/stills").json()["stills"]}
    stems = {name.rpartition("_")[0] for name in on_disk}
    if on_disk != known or len(on_disk) != STILLS or len(stems) != 1:
        missing.append(f"names: {len(on_disk)} files of {stems}, {len(on_disk ^ known)} differ from what is known")
    hidden = [path.name for path in (program.place / "reach").iterdir() if path.name.startswith(".")]
    if hidden:
        missing.append(f"hidden: {len(hidden)} files")
    if journal.upload:
        _, upload, data, body = journal.upload
        again = journal.ask("POST", f"/api/projects/{journal.project}/uploads", json=body).json()
        at = again["files"][0]["offset"]
        if again["id"] != upload or at < journal.offsets.get((upload, 0), 0):
            missing.append(f"upload {upload}: {at} bytes left of {journal.offsets.get((upload, 0))}")
        if at < len(data):
            headers = {"Upload-Offset": str(at)}
            journal.ask("PATCH", f"/api/uploads/{upload}/files/0", content=data[at:], headers=headers)
        done = journal.ask("POST", f"/api/uploads/{upload}/complete").json()
        program.wait_for_job(done["job"]["id"])
        folder = Path(journal.ask("GET", f"/api/shots/{done['shot_id']}").json()["folder"])
        if (folder / "a.jpg").read_bytes() != data:
            missing.append(f"upload {upload}: other bytes")
        journal.upload = None
    return missing


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
        thread = threading.Thread(target=globals()[activity], args=(journal, number, ended), daemon=True)
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
            f"{number + 1:3} {activity:10} {victim:19} after {delay:.2f} s: {missing or 'nothing lost'}, answered after "
            f"{took:.1f} s",
            flush=True,
        )
        lost += missing
    assert lost == []
    journal.ask("GET", f"/api/shots/{journal.shot}")
    for chunk in (program.data / "chunks").glob("*.chunk"):
        chunk.unlink(missing_ok=True)
    again = encode(journal, wait=True)
    assert again == journal.clip
