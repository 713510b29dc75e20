"""The simulated camera: a process of its own that stands in for a real device, behind a small HTTP interface on
loopback.

It paints a demo scene as it is now, or in quick motion, exposes it as it is set, writes to a card that is slow and
fills, lives from a battery that ends, has a clock that drifts, and does wrong on demand.
"""

import json
import os
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from math import log2
from typing import Any

import cv2
import numpy as np
import simplejpeg
from PIL import Image

from yarnkite.core.image.exif import with_exif
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.image.srgb import SRGB_TO_LINEAR, codes_of
from yarnkite.core.plan.daylight import illuminance_lux

NAME = "Marrow Lantern 3 (simulated)"
# From 1/2500 s to 25 s in steps of a third of a stop, 1/100 s among them.
EXPOSURES_S = tuple(float(f"{0.01 * 2 ** (step / 3):.4g}") for step in range(-14, 35))
SENSITIVITIES = (100, 125, 160, 200, 250, 320, 400, 500, 640, 800, 1000, 1250, 1600, 2000, 2500, 3200)
FAULTS = ("none", "away", "slow", "broken", "full", "empty", "knock")
LIVE_WIDTH = 960
_FRESH_S, _OLDEST_S = 0.4, 6.0
_APERTURE = 8.0
# The scene as painted at noon is right at these settings.
_RIGHT = (0.01, 100)
# Lamps and the sky's own glow keep a painted night from being as dark as the sun's height says.
_NIGHT_SHARE, _DARKEST = 0.55, -8.0


@dataclass
class Scene:
    """A painter of a demo scene, and which part of its day a moment of real time is."""

    paint: Callable[[float], ImageArray]
    since: datetime
    lasts_s: float

    def share(self, when: datetime) -> float:
        """Return how far the scene is, 0 … 1; it stays at its end."""
        return min(max((when - self.since).total_seconds() / self.lasts_s, 0.0), 1.0)


@dataclass
class Device:
    """What the camera has and does: settings, card, battery, clock, a fault; ``shutter_ns`` when it was released."""

    scene: Scene
    width: int = 1500
    card_stills: int = 2000
    charge_stills: int = 3000
    writing_s: float = 0.0
    drift_ppm: float = 0.0
    exposure_s: float = _RIGHT[0]
    sensitivity: int = _RIGHT[1]
    taken: int = 0
    fault: str = "none"
    until: float = 0.0
    began: float = field(default_factory=time.monotonic)
    shutter_ns: list[int] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)
    _painting: threading.Lock = field(default_factory=threading.Lock)
    _seen: tuple[float, float, ImageArray] | None = None

    def now_wrong(self) -> str:
        """Return the fault that is on now."""
        if self.fault != "none" and self.until and time.monotonic() > self.until:
            self.fault = "none"
        return self.fault

    def clock(self) -> datetime:
        """Return what the camera's own clock shows, which runs a little wrong."""
        since = time.monotonic() - self.began
        return datetime.now(UTC) + timedelta(seconds=since * self.drift_ppm / 1e6)

    def state(self) -> dict[str, Any]:
        return {
            "name": NAME,
            "battery": 0.0 if self.now_wrong() == "empty" else max(0.0, 1 - self.taken / self.charge_stills),
            "stills_left": 0 if self.now_wrong() == "full" else max(0, self.card_stills - self.taken),
            "exposure_s": self.exposure_s,
            "sensitivity": self.sensitivity,
            "exposures_s": EXPOSURES_S,
            "sensitivities": SENSITIVITIES,
        }

    def set(self, exposure_s: float, sensitivity: int) -> None:
        """Set the nearest of what the camera has."""
        self.exposure_s = min(EXPOSURES_S, key=lambda one: abs(log2(one / exposure_s)))
        self.sensitivity = min(SENSITIVITIES, key=lambda one: abs(log2(one / sensitivity)))

    def seen(self, width: int) -> ImageArray:
        """Return what the lens sees as the camera exposes it."""
        share, painted = self._painted()
        if self.now_wrong() == "knock":
            painted = np.roll(painted, (14, 22), (0, 1))
        size = (width, width * painted.shape[0] // painted.shape[1] // 2 * 2)
        small = np.asarray(cv2.resize(painted, size, interpolation=cv2.INTER_AREA), np.uint8)
        gathered = log2(self.exposure_s / _RIGHT[0]) + log2(self.sensitivity / _RIGHT[1])
        return exposed(small, scene_stops(share) + gathered)

    def _painted(self) -> tuple[float, ImageArray]:
        """Return the scene of about this moment: painting takes longer than a camera needs, so it runs a little
        behind."""
        seen = self._seen
        age = None if seen is None else time.monotonic() - seen[0]
        if seen is None or age is None or age > _OLDEST_S:
            return self._paint()
        if age > _FRESH_S:
            threading.Thread(target=self._paint, daemon=True).start()
        return seen[1], seen[2]

    def _paint(self) -> tuple[float, ImageArray]:
        with self._painting:
            seen = self._seen
            if seen is None or time.monotonic() - seen[0] > _FRESH_S:
                share = self.scene.share(datetime.now(UTC))
                seen = self._seen = (time.monotonic(), share, self.scene.paint(share))
            return seen[1], seen[2]

    def take(self) -> bytes:
        """Take a still: its shutter opens at once; writing takes as long as the card needs."""
        with self.lock:
            self.shutter_ns.append(time.monotonic_ns())
            at = self.clock()
            self.taken += 1
            picture = self.seen(self.width)
            data = with_exif(simplejpeg.encode_jpeg(picture, quality=92, colorsubsampling="422"), self._exif(at))
            time.sleep(self.writing_s + (2.0 if self.now_wrong() == "slow" else 0.0))
            return data[: len(data) // 3] if self.now_wrong() == "broken" else data

    def _exif(self, at: datetime) -> Image.Exif:
        """Return Exif 2.32 tags of an invented camera."""
        exif = Image.Exif()
        exif[0x010F], exif[0x0110], exif[0x0112] = "Marrow Optical", "Lantern 3", 1
        detail = exif.get_ifd(0x8769)
        detail[0x9003] = detail[0x9004] = f"{at:%Y:%m:%d %H:%M:%S}"
        detail[0x9291] = f"{at.microsecond // 1000:03}"
        detail[0x9011] = "+00:00"
        detail[0x829A], detail[0x829D], detail[0x8827], detail[0x920A] = (
            self.exposure_s,
            _APERTURE,
            self.sensitivity,
            24.0,
        )
        return exif


def scene_stops(share: float) -> float:
    """Return how light the painted scene really is at a share of its day, in stops against its beginning."""
    height = 27 - 43 * share
    return max(_DARKEST, _NIGHT_SHARE * log2(illuminance_lux(height) / illuminance_lux(27)))


def exposed(painted: ImageArray, stops: float) -> ImageArray:
    """Return a painted picture, uint8, as a sensor records it that is ``stops`` away from what was painted."""
    light = SRGB_TO_LINEAR[painted] * np.float32(2.0**stops)
    return codes_of(light.ravel()).reshape(painted.shape)


def serve(device: Device, port: int, tell: Callable[[str], None]) -> None:
    """Serve a camera on loopback until the standard input ends; ``tell`` is given its address."""
    server = ThreadingHTTPServer(("127.0.0.1", port), _handler(device))
    server.daemon_threads = True
    # Whoever started this process ends it by ending.
    threading.Thread(target=_end_with_input, daemon=True).start()
    # What is compiled when it is first used would make the first stills late.
    device.seen(device.width)
    tell(f"http://127.0.0.1:{server.server_address[1]}")
    server.serve_forever(poll_interval=0.2)


def _end_with_input() -> None:
    """End at once, whatever is being painted: nothing that a simulated camera has is worth keeping."""
    while os.read(sys.stdin.fileno(), 4096):
        pass
    os._exit(0)


def plain(share: float) -> ImageArray:
    """Paint next to nothing, quickly: a slope that moves, for measuring when stills are taken."""
    row = ((np.arange(96) * 2 + round(share * 997)) % 256).astype(np.uint8)
    return np.ascontiguousarray(np.broadcast_to(row[None, :, None], (64, 96, 3)))


def _handler(device: Device) -> type[BaseHTTPRequestHandler]:
    class Handler(BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"
        # An answer in two packets would wait for the other side's acknowledgement of the first.
        disable_nagle_algorithm = True

        def do_GET(self) -> None:
            if self.path == "/log":
                self._answer(200, json.dumps(device.shutter_ns).encode())
            elif self._is_there() and self.path == "/state":
                self._answer(200, json.dumps(device.state()).encode())
            elif self.path == "/live.jpg" and device.now_wrong() != "away":
                picture = device.seen(min(device.width, LIVE_WIDTH))
                self._answer(200, simplejpeg.encode_jpeg(picture, quality=82), "image/jpeg")
            elif device.now_wrong() != "away":
                self._answer(404, b"{}")

        def do_POST(self) -> None:
            body = self._body()
            if self.path == "/fault" and body.get("kind") in FAULTS:
                device.fault = body["kind"]
                device.until = time.monotonic() + float(body["seconds"]) if body.get("seconds") else 0.0
                self._answer(200, b"{}")
            elif not self._is_there():
                return
            elif self.path == "/settings":
                device.set(float(body["exposure_s"]), int(body["sensitivity"]))
                self._answer(200, json.dumps(device.state()).encode())
            elif self.path == "/still":
                state = device.state()
                if not state["stills_left"] or not state["battery"]:
                    self._answer(409, json.dumps({"why": "full" if state["battery"] else "empty"}).encode())
                else:
                    self._answer(200, device.take(), "image/jpeg")
            else:
                self._answer(404, b"{}")

        def _is_there(self) -> bool:
            """An absent camera closes the connection without a word."""
            if device.now_wrong() == "away":
                self.close_connection = True
                return False
            return True

        def _body(self) -> dict[str, Any]:
            length = min(int(self.headers.get("Content-Length") or 0), 10_000)
            try:
                return dict(json.loads(self.rfile.read(length) or b"{}"))
            except ValueError:
                return {}

        def _answer(self, status: int, body: bytes, kind: str = "application/json") -> None:
            head = f"HTTP/1.1 {status} .\r\nContent-Type: {kind}\r\nContent-Length: {len(body)}\r\n\r\n"
            self.wfile.write(head.encode() + body)

        def log_message(self, format: str, *args: object) -> None:
            pass

    return Handler
