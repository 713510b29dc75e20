"""A webcam of this machine: Video4Linux through PyAV."""

import threading
from datetime import UTC, datetime
from pathlib import Path

import av
import simplejpeg
from PIL import Image

from yarnkite.camera.camera import CameraAway, Settings, State, Taken
from yarnkite.core.image.exif import with_exif

_QUALITY = 94
_LIVE_QUALITY = 82
_LIVE_WIDTH = 960
# Pictures that lay in the device's buffer show what was before.
_STALE = 4


def devices(folder: Path = Path("/dev")) -> list[Path]:
    """Return the video devices of this machine, by number."""
    return sorted(folder.glob("video[0-9]*"), key=lambda one: int(one.name[5:]))


class Webcam:
    """A webcam, or anything PyAV opens as a row of pictures: a recorded one stands in for it in tests."""

    def __init__(self, path: str, *, format: str | None = "v4l2", options: dict[str, str] | None = None) -> None:
        self._path, self._format, self._options = path, format, options or {}
        self._lock = threading.Lock()
        self._container: av.container.InputContainer | None = None

    def state(self) -> State:
        with self._lock:
            self._opened()
        return State(name=f"Webcam {Path(self._path).name}")

    def live_view(self) -> bytes:
        frame = self._next(1)
        width = min(_LIVE_WIDTH, frame.width)
        small = frame.reformat(width=width, height=frame.height * width // frame.width // 2 * 2, format="rgb24")
        return bytes(simplejpeg.encode_jpeg(small.to_ndarray(), quality=_LIVE_QUALITY))

    def set(self, settings: Settings) -> Settings:
        # A webcam exposes by itself.
        return settings

    def take(self) -> Taken:
        picture = self._next(_STALE).to_ndarray(format="rgb24")
        taken = datetime.now(UTC)
        exif = Image.Exif()
        detail = exif.get_ifd(0x8769)
        # Exif 2.32: DateTimeOriginal, SubSecTimeOriginal and OffsetTimeOriginal; a webcam says none of them itself.
        detail[0x9003], detail[0x9291] = f"{taken:%Y:%m:%d %H:%M:%S}", f"{taken.microsecond // 1000:03}"
        detail[0x9011] = "+00:00"
        return Taken(with_exif(simplejpeg.encode_jpeg(picture, quality=_QUALITY, colorsubsampling="422"), exif))

    def close(self) -> None:
        with self._lock:
            self._let_go()

    def _next(self, count: int) -> av.VideoFrame:
        """Return the last of the next pictures; raises ``CameraAway``."""
        with self._lock:
            try:
                frames = self._opened().decode(video=0)
                for _ in range(count - 1):
                    next(frames)
                return next(frames)
            except (OSError, StopIteration, av.FFmpegError):
                self._let_go()
                raise CameraAway(
                    "camera_away", f"The webcam {Path(self._path).name} gives no picture. Is it plugged in?"
                ) from None

    def _opened(self) -> "av.container.InputContainer":
        if self._container is None:
            try:
                self._container = av.open(self._path, format=self._format, options=self._options)
            except (OSError, av.FFmpegError):
                raise CameraAway(
                    "camera_away", f"The webcam {Path(self._path).name} cannot be opened. Another program may use it."
                ) from None
        return self._container

    def _let_go(self) -> None:
        if self._container is not None:
            self._container.close()
        self._container = None
