"""A camera on a cable, through libgphoto2's own Python binding (the optional package gphoto2)."""

import contextlib
import threading
from fractions import Fraction
from pathlib import PurePosixPath
from typing import Any

from yarnkite.camera.camera import Abilities, CameraAway, CameraRefuses, Settings, State, Taken

_EXPOSURE = ("shutterspeed", "shutterspeed2", "exptime")
_SENSITIVITY = ("iso", "isospeed")


def library() -> Any | None:
    """Return the binding, or ``None`` where it is not installed."""
    try:
        import gphoto2
    except ImportError:
        return None
    return gphoto2


def found(gp: Any) -> list[tuple[str, str]]:
    """Return the cameras on cables: their model names and ports."""
    try:
        cameras = gp.Camera.autodetect()
        return [(str(cameras.get_name(one)), str(cameras.get_value(one))) for one in range(cameras.count())]
    except gp.GPhoto2Error:
        return []


class CableCamera:
    """A camera libgphoto2 knows, at a port; ``gp`` is the binding, or what stands in for it in tests."""

    def __init__(self, gp: Any, name: str) -> None:
        self._gp, self._name = gp, name
        self._lock = threading.Lock()
        self._camera: Any = None

    def state(self) -> State:
        with self._lock:
            config = self._asked(lambda camera: camera.get_config())
            return State(
                name=self._name,
                battery=_charge(self._text(config, ("batterylevel",))),
                stills_left=_whole(self._text(config, ("availableshots",))),
                settings=self._settings(config),
                abilities=Abilities(
                    tuple(one for text in self._choices(config, _EXPOSURE) if (one := seconds_of(text)) is not None),
                    tuple(one for text in self._choices(config, _SENSITIVITY) if (one := _whole(text)) is not None),
                ),
            )

    def live_view(self) -> bytes:
        with self._lock:
            return bytes(self._asked(lambda camera: bytes(camera.capture_preview().get_data_and_size())))

    def set(self, settings: Settings) -> Settings:
        with self._lock:
            config = self._asked(lambda camera: camera.get_config())
            self._choose(config, _EXPOSURE, lambda text: _off(seconds_of(text), settings.exposure_s))
            self._choose(config, _SENSITIVITY, lambda text: _off(_whole(text), settings.sensitivity))
            self._asked(lambda camera: camera.set_config(config))
            return self._settings(config) or settings

    def take(self) -> Taken:
        gp = self._gp

        def still(camera: Any) -> Taken:
            path = camera.capture(gp.GP_CAPTURE_IMAGE)
            file = camera.file_get(path.folder, path.name, gp.GP_FILE_TYPE_NORMAL)
            return Taken(bytes(file.get_data_and_size()), PurePosixPath(path.name).suffix.lower() or ".jpg")

        with self._lock:
            taken: Taken = self._asked(still)
            return taken

    def close(self) -> None:
        with self._lock:
            self._let_go()

    def _asked(self, work: Any) -> Any:
        gp = self._gp
        try:
            if self._camera is None:
                camera = gp.Camera()
                camera.init()
                self._camera = camera
            return work(self._camera)
        except gp.GPhoto2Error as error:
            if error.code in (gp.GP_ERROR_CAMERA_BUSY, gp.GP_ERROR_NO_SPACE):
                full = error.code == gp.GP_ERROR_NO_SPACE
                why = "its card is full" if full else "it is busy"
                raise CameraRefuses(
                    "camera_full" if full else "camera_busy", f"{self._name} cannot take a still: {why}."
                ) from None
            self._let_go()
            raise CameraAway("camera_away", f"{self._name} does not answer. Is it on, and its cable in?") from None

    def _let_go(self) -> None:
        if self._camera is not None:
            with contextlib.suppress(self._gp.GPhoto2Error):
                self._camera.exit()
        self._camera = None

    def _widget(self, config: Any, names: tuple[str, ...]) -> Any | None:
        for name in names:
            try:
                return config.get_child_by_name(name)
            except self._gp.GPhoto2Error:
                continue
        return None

    def _text(self, config: Any, names: tuple[str, ...]) -> str:
        widget = self._widget(config, names)
        return "" if widget is None else str(widget.get_value())

    def _choices(self, config: Any, names: tuple[str, ...]) -> list[str]:
        widget = self._widget(config, names)
        return [] if widget is None else [str(one) for one in widget.get_choices()]

    def _choose(self, config: Any, names: tuple[str, ...], off: Any) -> None:
        widget = self._widget(config, names)
        choices = [one for one in self._choices(config, names) if off(one) is not None]
        if widget is not None and choices:
            widget.set_value(min(choices, key=off))

    def _settings(self, config: Any) -> Settings | None:
        exposure, sensitivity = seconds_of(self._text(config, _EXPOSURE)), _whole(self._text(config, _SENSITIVITY))
        return None if exposure is None or sensitivity is None else Settings(exposure, sensitivity)


def seconds_of(text: str) -> float | None:
    """Read a shutter speed as cameras write it: ``1/250``, ``0.4``, ``2.5s``, ``30``; ``None`` for Bulb or Auto."""
    try:
        seconds = float(Fraction(text.strip().rstrip("s").strip()))
    except (ValueError, ZeroDivisionError):
        return None
    return seconds if seconds > 0 else None


def _off(value: float | None, wanted: float) -> float | None:
    return None if value is None else abs(value / wanted - 1) if value >= wanted else abs(wanted / value - 1)


def _whole(text: str) -> int | None:
    return int(text) if text.strip().isdigit() else None


def _charge(text: str) -> float | None:
    digits = text.strip().rstrip("%").strip()
    return min(int(digits), 100) / 100 if digits.isdigit() else None
