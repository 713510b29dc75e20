"""Which cameras there are on this machine, and opening one by its key."""

import threading
from dataclasses import dataclass

from yarnkite.camera import gphoto, webcam
from yarnkite.camera.camera import Camera, CameraAway
from yarnkite.camera.simulated import SimulatedCamera, SimulatedProcess


@dataclass(frozen=True)
class Found:
    """A camera that could be opened: a ``key`` that names it again later, and a name for people."""

    key: str
    name: str


class Cameras:
    """The cameras of this machine; ``simulated_at`` is the address of a simulated one that runs already."""

    def __init__(self, simulated_at: str = "") -> None:
        self._simulated_at = simulated_at
        self._process = SimulatedProcess()
        self._opened: dict[str, Camera] = {}
        self._lock = threading.Lock()
        # Held from seeing that a camera is free to noting that it is in use.
        self.choosing = threading.Lock()

    def every(self) -> list[Found]:
        """Return the cameras there are: those on cables, webcams, and the simulated one."""
        gp = gphoto.library()
        cables = [] if gp is None else [Found(f"cable:{name}", name) for name, _ in gphoto.found(gp)]
        webcams = [Found(f"webcam:{path.name}", f"Webcam {path.name}") for path in webcam.devices()]
        return [*cables, *webcams, Found("simulated", "Simulated camera: Pellow Reach, a day in four minutes")]

    def open(self, key: str) -> Camera:
        """Return a camera by its key, opened once for all who use it; raises ``CameraAway`` where it is not there."""
        with self._lock:
            if key not in self._opened:
                self._opened[key] = self._open(key)
            return self._opened[key]

    def let_go(self, key: str) -> None:
        """Let go of a camera that does not answer, so that it is opened anew the next time."""
        with self._lock:
            camera = self._opened.pop(key, None)
        if camera is not None:
            camera.close()

    def _open(self, key: str) -> Camera:
        kind, _, name = key.partition(":")
        if kind == "simulated":
            return SimulatedCamera(self._simulated_at or self._process.address())
        if kind == "webcam":
            for path in webcam.devices():
                if path.name == name:
                    return webcam.Webcam(str(path))
        gp = gphoto.library() if kind == "cable" else None
        if gp is not None and any(name == model for model, _ in gphoto.found(gp)):
            return gphoto.CableCamera(gp, name)
        raise CameraAway("camera_away", f"The camera “{name or key}” is not there. Plug it in, or pick another one.")

    def stop(self) -> None:
        """Let go of every camera, and end what was started for them."""
        for key in list(self._opened):
            self.let_go(key)
        self._process.stop()
