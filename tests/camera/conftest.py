"""The simulated camera as a real process of its own, painting next to nothing so that only timing counts."""

import json
import urllib.request

import pytest

from tests.patience import STANDSTILL_S
from yarnkite.camera.simulated import SimulatedCamera, SimulatedProcess


@pytest.fixture
def process():
    """A simulated camera's process with a card for 20,000 stills."""
    process = SimulatedProcess("--scene", "plain", "--width", "96", "--writing", "0", "--card", "20000")
    yield process
    process.stop()


@pytest.fixture
def camera(process):
    camera = SimulatedCamera(process.address())
    yield camera
    camera.close()


def fault(process, kind, seconds=0):
    """Have a simulated camera do wrong."""
    body = json.dumps({"kind": kind, "seconds": seconds}).encode()
    urllib.request.urlopen(f"{process.address()}/fault", body, timeout=STANDSTILL_S).read()


def released(process):
    """Return when a camera's shutter opened, in seconds on the steady clock all processes of a machine share."""
    with urllib.request.urlopen(f"{process.address()}/log", timeout=STANDSTILL_S) as answer:
        return [one / 1e9 for one in json.loads(answer.read())]
