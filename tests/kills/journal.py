"""What was acknowledged, noted as it was, and held against the program afterwards."""

from pathlib import Path

import httpx

from tests.patience import wait_until
from tests.program import Program

# The still files of the shot that everything is done to.
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
        # Words one of which says that it was a disk that refused; none where all disks are sound.
        self.of_disks: tuple[str, ...] = ()

    def ask(self, method: str, path: str, **options):
        """Ask for something; returns the answer, or nothing where the program or its database was killed meanwhile."""
        try:
            headers = self.program.known | options.pop("headers", {})
            answer = httpx.request(method, self.program.address + path, headers=headers, timeout=30, **options)
        except (httpx.TransportError, ValueError):
            return None
        if answer.status_code >= 400 and any(word in answer.text for word in self.of_disks):
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

    def underway(self) -> set[int]:
        return self.jobs | self.exports.keys() | self.captured.keys()

    def made_again(self, failed: set[int]) -> None:
        """Have what failed made again; of an export that failed, what is there must be whole."""
        for job in failed & self.exports.keys():
            folder, wanted = self.exports.pop(job)
            for path in folder.iterdir() if folder.is_dir() else ():
                if wanted.get(path.name) != path.read_bytes():
                    self.wrong.append(f"{path.name} of job {job}: not what was to be there")
        self.jobs -= failed
        for shot in self.names:
            answer = self.ask("POST", f"/api/shots/{shot}/gather")
            if self.done(answer, 202):
                self.jobs.add(answer.json()["job"]["id"])


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
