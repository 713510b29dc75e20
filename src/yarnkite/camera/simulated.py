"""The simulated camera as the program sees it: a device behind HTTP on loopback, in a process of its own."""

import contextlib
import http.client
import json
import subprocess
import sys
import threading
from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any
from urllib.parse import urlsplit

from yarnkite.camera.camera import Abilities, CameraAway, CameraRefuses, Settings, State, Taken
from yarnkite.core.base.errors import Refusal

_PATIENCE_S = 5.0
MOST_BYTES = 200_000_000
_REFUSALS = {
    "full": "The camera's card is full. Put in another one; the capture goes on by itself.",
    "empty": "The camera's battery is empty. Change it; the capture goes on by itself.",
}


class SimulatedCamera:
    """A camera at an address on this machine; each thread that uses it has a connection of its own."""

    def __init__(self, address: str) -> None:
        parts = urlsplit(address)
        if parts.scheme != "http" or parts.hostname not in ("127.0.0.1", "localhost") or parts.port is None:
            raise Refusal("camera_not_known", "A simulated camera is on this machine: http://127.0.0.1 and a port.")
        self._host, self._port = parts.hostname, parts.port
        self._local = threading.local()

    def state(self) -> State:
        return _state(json.loads(self._ask("GET", "/state")))

    def live_view(self) -> bytes:
        return self._ask("GET", "/live.jpg")

    def set(self, settings: Settings) -> Settings:
        body = {"exposure_s": settings.exposure_s, "sensitivity": settings.sensitivity}
        found = _state(json.loads(self._ask("POST", "/settings", body)))
        return found.settings or settings

    def take(self) -> Taken:
        return Taken(self._ask("POST", "/still"))

    def close(self) -> None:
        connection = getattr(self._local, "connection", None)
        if connection is not None:
            connection.close()

    def _ask(self, method: str, path: str, body: Mapping[str, object] | None = None) -> bytes:
        connection = getattr(self._local, "connection", None)
        if connection is None:
            connection = self._local.connection = http.client.HTTPConnection(
                self._host, self._port, timeout=_PATIENCE_S
            )
        try:
            connection.request(method, path, json.dumps(body).encode() if body else None)
            answer = connection.getresponse()
            data = bytes(answer.read(MOST_BYTES + 1))
        except (OSError, http.client.HTTPException):
            # Nothing is asked twice of itself: the still may have been taken, and only its way here broken off.
            connection.close()
            raise CameraAway("camera_away", "The camera does not answer. Is it on, and its cable in?") from None
        if answer.status == 409:
            why = str(json.loads(data).get("why"))
            raise CameraRefuses(f"camera_{why}", _REFUSALS.get(why, "The camera cannot take a still now."))
        if answer.status != 200 or len(data) > MOST_BYTES:
            raise CameraRefuses("camera_refuses", "The camera answered what is not understood. Switch it off and on.")
        return data


class SimulatedProcess:
    """The process of a simulated camera, started when it is first wanted; it ends with the program."""

    def __init__(self, *options: str) -> None:
        self._options = options
        self._process: subprocess.Popen[bytes] | None = None
        self._address = ""
        self._lock = threading.Lock()

    def address(self) -> str:
        """Return where the camera is, starting it if it is not there; raises ``CameraAway`` where it does not start."""
        with self._lock:
            if self._process is None or self._process.poll() is not None:
                self._start()
            return self._address

    def stop(self) -> None:
        """End the process."""
        with self._lock:
            if self._process is None:
                return
            if self._process.stdin is not None:
                self._process.stdin.close()
            with contextlib.suppress(subprocess.TimeoutExpired):
                self._process.wait(5)
            self._process.kill()
            self._process.wait()
            self._process = None

    def _start(self) -> None:
        since = datetime.now(UTC).isoformat()
        command = [sys.executable, "-m", "yarnkite", "camera", "--since", since, *self._options]
        self._process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE)
        assert self._process.stdout is not None
        line = self._process.stdout.readline().decode().strip()
        if not line.startswith("http://"):
            raise CameraAway("camera_away", "The simulated camera did not start. Start the program again.")
        self._address = line


def _state(said: dict[str, Any]) -> State:
    return State(
        name=str(said["name"])[:120],
        battery=float(said["battery"]),
        stills_left=int(said["stills_left"]),
        settings=Settings(float(said["exposure_s"]), int(said["sensitivity"])),
        abilities=Abilities(tuple(map(float, said["exposures_s"])), tuple(map(int, said["sensitivities"]))),
    )
