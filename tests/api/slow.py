"""Pieces of work that tests hold up or break at a known moment, in place of hoping that a machine is slow.

A worker loads this module to do them, and again after each that ends it: nothing heavy is imported here.
"""

import os
import signal
import time
from pathlib import Path

from tests.patience import wait_until
from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.gathering import gather_still
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


def render_once_the_folder_is_gone(tasks, folder, notes, threads):
    """Begin once the folder that the file shall go into is gone; it is called as that of the stills is."""
    stills = Path(tasks[0].specs[0].layers[0][0].picture.path).parent
    gone = stills.parent / stills.name.replace("shot-", "out-") / "gone"
    wait_until(lambda: not gone.exists())
    return _REAL(tasks, folder, notes, threads)


def gather_or_die(folder, name, *given):
    if name == "MRW_07.jpg":
        (folder / name).unlink()
    if name == "MRW_11.jpg":
        raise RuntimeError("an error nobody foresaw")
    if name == "MRW_13.jpg":
        os.kill(os.getpid(), signal.SIGKILL)
    return gather_still(folder, name, *given)


def counted(folder, number):
    """Note that a piece of work was begun; the third one ends its worker, always, the fifth the first time only."""
    tries = folder / f"{number}"
    with tries.open("a") as file:
        file.write("x")
    if number == 3 or (number == 5 and len(tries.read_text()) == 1):
        os.kill(os.getpid(), signal.SIGKILL)
    time.sleep(0.02)
    return number * number


def forever(path):
    """Read what never comes."""
    with path.open("rb") as file:
        return file.read()


def never_together(stills, proxies):
    """Take a while, as long stretches do; a cancelled job does not wait for it to end by itself."""
    time.sleep(1.5)
    raise AssertionError("this was cancelled")
