"""How long tests take: those over ten seconds are named, and one over thirty fails the whole.

Beside another test, on a machine that is busy, any test can take long. So what took too long is run again by itself
(``./run test`` does that at the end), and judged by that.
"""

import os
import time
from collections import Counter
from pathlib import Path

import pytest

from tests.patience import SLOWNESS, slowness

# On a machine as quick as usual, all of whose time is ours; the limits grow as a machine is slower.
LIMIT_S = 10.0
FAILS_FROM_S = 30.0
# Tests that may take longer, each with its reason.
MAY_TAKE_LONGER = {
    "tests/api/test_crash.py::test_a_killed_server_goes_on_with_gathering_and_encoding_and_ends_in_the_same_bytes": (
        "starts the program three times, and encodes its clip a second time without it"
    ),
    "tests/api/test_capture.py::test_a_capture_goes_on_after_the_program_was_killed_and_says_what_is_missing": (
        "starts the program three times"
    ),
    "tests/cli/test_commands.py::test_order_gather_check_and_rename_work_on_the_same_shot": (
        "each of its five commands starts and ends a database of its own"
    ),
    "tests/screen/test_reel.py::test_a_shot_gets_music_and_a_title_is_heard_and_encoded": (
        "listens to a clip while it plays, and to the one that was encoded"
    ),
}
# Where the names of tests that took too long go, one a line, to be run again; without it they fail the run.
SLOW = "YARNKITE_SLOW_TESTS"
_NAMED = 10


class Durations:
    """Adds up what each test takes, its preparations left out: those are shared, and the first test pays for all."""

    def __init__(self) -> None:
        self._began = time.monotonic()
        self._calls: Counter[str] = Counter()
        self._times = _processor_times()
        self._slower = 1.0

    def _longer_than(self, limit_s: float) -> list[str]:
        return [name for name, took in self._calls.items() if took > limit_s and name not in MAY_TAKE_LONGER]

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        if report.when == "call":
            self._calls[report.nodeid] += report.duration

    @pytest.hookimpl(trylast=True)
    def pytest_sessionfinish(self, session: pytest.Session) -> None:
        self._slower = max(SLOWNESS, slowness()) / _share_that_was_ours(self._times, _processor_times())
        too_long = self._longer_than(FAILS_FROM_S * self._slower)
        if SLOW in os.environ:
            Path(os.environ[SLOW]).write_text("".join(f"{name}\n" for name in too_long))
        elif too_long and session.exitstatus == pytest.ExitCode.OK:
            session.exitstatus = pytest.ExitCode.TESTS_FAILED

    def pytest_terminal_summary(self, terminalreporter: pytest.TerminalReporter) -> None:
        say = terminalreporter.write_line
        if len(self._calls) > _NAMED:
            terminalreporter.section("how long tests take")
            for name, seconds in self._calls.most_common(_NAMED):
                say(f"{seconds:6.1f} s  {name}")
            whole = time.monotonic() - self._began
            say(f"All {len(self._calls)} tests took {whole // 60:.0f} min {whole % 60:.0f} s.")
        limit_s = LIMIT_S * self._slower
        for name in self._longer_than(limit_s):
            say(f"{name} took {self._calls[name]:.1f} s; a test should take {limit_s:.0f} s here at most.", red=True)


def _processor_times() -> tuple[int, int]:
    """Return how long processors worked for us, and how long others of the same host kept them from it, since the start."""
    user, nice, system, _, _, irq, softirq, steal, *_ = map(int, Path("/proc/stat").read_text().split()[1:11])
    return user + nice + system + irq + softirq, steal


def _share_that_was_ours(before: tuple[int, int], after: tuple[int, int]) -> float:
    ours, others = after[0] - before[0], after[1] - before[1]
    return max(0.1, ours / (ours + others)) if ours + others else 1.0
