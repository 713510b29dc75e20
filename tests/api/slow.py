"""Pieces of work that tests hold up or break at a known moment, in place of hoping that a machine is slow."""

import os
import signal
import time
from pathlib import Path

from yarnkite.core.base.errors import Refusal
from yarnkite.jobs import encode

# A test's own folder reaches the workers by the folder of its stills, which is all they are given.
_REAL = encode.render


def render_until_cancelled(task, folder, note):
    """Stand at the first frame of a chunk until the note is taken away, which is how a worker learns of a cancel."""
    note.write_text("1")
    deadline = time.monotonic() + 60
    while note.exists() and time.monotonic() < deadline:
        time.sleep(0.01)
    raise Refusal("cancelled", "This encode was cancelled.")


def render_and_die_once(task, folder, note):
    """Render a chunk, but end the worker in the middle the first time; each try is noted beside the stills."""
    tries = Path(task.specs[0].layers[0][0].picture.path).parent / f".tries-{task.chunk.number}"
    with tries.open("a") as file:
        file.write("x")
    if task.chunk.number == 0 and len(tries.read_text()) == 1:
        note.write_text("3")
        os.kill(os.getpid(), signal.SIGKILL)
    return _REAL(task, folder, note)
