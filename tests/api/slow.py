"""Pieces of work that tests hold up or break at a known moment, in place of hoping that a machine is slow."""

import os
import signal
from pathlib import Path

from tests.patience import wait_until
from yarnkite.core.base.errors import Refusal
from yarnkite.jobs import rendering

# A test's own folder reaches the workers by the folder of its stills, which is all they are given.
_REAL = rendering.render


def render_until_cancelled(tasks, folder, notes, threads):
    """Stand at the first frame of a chunk until the note is taken away, which is how a worker learns of a cancel."""
    note = notes[0]
    note.write_text("1")
    wait_until(lambda: not note.exists())
    raise Refusal("cancelled", "This encode was cancelled.")


def render_and_die_once(tasks, folder, notes, threads):
    """End the worker once the first chunk of a run is there, the first time; which file that is is noted at the
    stills."""
    noted = Path(tasks[0].specs[0].layers[0][0].picture.path).parent / ".first-chunk"
    if not noted.exists():
        _REAL(tasks[:1], folder, notes[:1], threads)
        noted.write_text(str((folder / tasks[0].chunk.file_name).stat().st_ino))
        os.kill(os.getpid(), signal.SIGKILL)
    return _REAL(tasks, folder, notes, threads)
