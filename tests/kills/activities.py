"""What the program does while something goes away beneath it; what it acknowledges is noted."""

import time

from tests.conftest import write_jpeg

ACTIVITIES = (
    *("gathering", "copying", "encoding", "renaming", "uploading", "deciding", "exporting", "capturing", "reeling"),
)


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
    body = {"location": journal.program.place.name, "path": folder.name}
    answer = journal.ask("POST", f"/api/projects/{journal.project}/shots", json=body)
    if answer is not None:
        journal.jobs.add(answer.json()["job"]["id"])
        journal.names[answer.json()["shot_id"]] = {path.name for path in folder.iterdir()}


def copying(journal, number, ended):
    """As gathering, but the files are copied into the project: the copies must be what the originals are."""
    folder = journal.program.place / f"copied-{number}"
    for still in range(24):
        write_jpeg(folder / f"MRW_{still:04}.jpg", still + number, (600, 400))
    body = {"location": journal.program.place.name, "path": folder.name, "copy_files": True}
    answer = journal.ask("POST", f"/api/projects/{journal.project}/shots", json=body)
    if answer is not None:
        journal.jobs.add(answer.json()["job"]["id"])
        shot = answer.json()["shot_id"]
        journal.names[shot] = {path.name for path in folder.iterdir()}
        copies = journal.program.data / "stills" / f"shot-{shot}"
        journal.exports[answer.json()["job"]["id"]] = copies, {one.name: one.read_bytes() for one in folder.iterdir()}


def exporting(journal, number, ended):
    where = {"location": journal.program.place.name, "path": "", "folder": f"out-{number}"}
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
        planned = journal.ask("POST", f"/api/shots/{journal.shot}/rename/table", json={"parts": parts})
        if planned is None or planned.status_code != 200:
            return
        body = {"parts": parts, "table": planned.json()["table"]}
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
