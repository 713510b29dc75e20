"""The real program as a process of its own, to be started, killed and started again by tests."""

import os
import signal
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import httpx

from tests import patience
from tests.patience import STANDSTILL_S, progress
from yarnkite.entrance import key_of, way_in

T = TypeVar("T")

# Every process the program starts inherits this variable, which tells them from those of other tests.
MARK = "YARNKITE_TEST_PROGRAM"
ROOT = Path(__file__).parents[1]


class Program:
    """``python -m yarnkite start`` on a data folder."""

    def __init__(self, data: Path, place: Path, camera: str = "") -> None:
        self.data, self.place, self.camera = data, place, camera
        self.address = self.printed = ""

    def start(self) -> None:
        command = [sys.executable, "-m", "yarnkite", "start", "--data", str(self.data), "--location", str(self.place)]
        command += ["--camera", self.camera] if self.camera else []
        self.process = subprocess.Popen(
            command,
            cwd=ROOT,
            env=os.environ | {MARK: str(self.data)},
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
        )
        said = []
        for line in self.process.stdout or ():
            said.append(line)
            if "ready:" in line:
                self.printed = line.split("ready:")[1].strip()
                self.address = self.printed.partition("/enter/")[0]
                # Nobody reads what it says from here on, and a full pipe would stop it.
                threading.Thread(target=self.process.stdout.read, daemon=True).start()
                # The server lets go of a connection nobody uses for five seconds: by then this end has, too.
                limits = httpx.Limits(keepalive_expiry=2)
                self.known = {"Authorization": f"Bearer {key_of(self.data)}"}
                self.client = httpx.Client(
                    base_url=self.address, headers=self.known, timeout=STANDSTILL_S, limits=limits
                )
                return
        raise AssertionError("".join(said))

    @property
    def way_in(self) -> str:
        """An address that lets a browser in once, as another start prints it."""
        return way_in(self.data, self.address)

    def kill(self) -> None:
        self.client.close()
        self.process.kill()
        self.process.wait()

    def stop(self) -> int:
        """End it as Ctrl-C does; returns its exit status."""
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGINT)
        return self.process.wait(timeout=STANDSTILL_S)

    def processes(self) -> list[str]:
        """Return the command lines of all living processes that the program started, itself included."""
        mark = f"{MARK}={self.data}\0".encode()
        found = []
        for entry in Path("/proc").glob("[0-9]*"):
            try:
                if mark in (entry / "environ").read_bytes():
                    found.append((entry / "cmdline").read_bytes().replace(b"\0", b" ").decode())
            except OSError:
                continue
        return [line for line in found if line]

    def gather(self, project: str, path: str, **wanted: object) -> tuple[int, int]:
        """Gather a folder of the place into a new project; returns the ids of the project and the shot."""
        number = int(self.client.post("/api/projects", json={"name": project}).json()["id"])
        where = {"location": self.place.name, "path": path, **wanted}
        started = self.client.post(f"/api/projects/{number}/shots", json=where).json()
        assert self.wait_for_job(started["job"]["id"])["state"] == "finished"
        return number, int(started["shot_id"])

    def decide(self, shot: int, **steps: object) -> int:
        """Decide on whole steps of a shot, whatever a page that was left still sends; returns the revision."""
        while True:
            shown = self.client.get(f"/api/shots/{shot}").json()
            body = {"seen": shown["revision"], "decisions": shown["decisions"] | steps}
            answer = self.client.put(f"/api/shots/{shot}/decisions", json=body)
            if answer.status_code != 409:
                return int(answer.raise_for_status().json()["revision"])

    def job(self, job_id: int) -> dict:
        return next(job for job in self.client.get("/api/jobs").json() if job["id"] == job_id)

    def wait_for_job(self, job_id: int) -> dict:
        """Return a job once it has ended."""
        return patience.wait_for_job(lambda: self.job(job_id))

    def wait_until(self, happens: Callable[[], T]) -> T:
        """Return what ``happens`` gives as soon as that is true, however long that takes as long as any job gets on."""
        return patience.wait_until(happens, lambda: [progress(job) for job in self.client.get("/api/jobs").json()])
