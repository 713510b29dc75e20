"""Calling commands as people and scripts call them, in this process or, where that is the point, in one of their
own."""

import io
import subprocess
import sys
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import dataclass

from yarnkite.cli.main import main


@dataclass(frozen=True)
class Ended:
    """What a command said, and how it ended."""

    returncode: int
    stdout: str
    stderr: str


def run(*arguments: object, ends: int = 0) -> Ended:
    """Call a command in this process; starting another takes longer than most commands do."""
    said, warned = io.StringIO(), io.StringIO()
    with redirect_stdout(said), redirect_stderr(warned):
        status = main([str(argument) for argument in arguments])
    assert status == ends, said.getvalue() + warned.getvalue()
    return Ended(status, said.getvalue(), warned.getvalue())


def run_alone(*arguments: object, ends: int = 0) -> Ended:
    """Call a command in a process of its own."""
    command = [sys.executable, "-m", "yarnkite", *map(str, arguments)]
    ended = subprocess.run(command, capture_output=True, text=True)
    assert ended.returncode == ends, ended.stdout + ended.stderr
    assert "Traceback" not in ended.stderr
    return Ended(ended.returncode, ended.stdout, ended.stderr)
