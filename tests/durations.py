"""How long tests take: the slowest are named, and those that take over ten seconds.

Beside another test, on a machine that is busy, any test can take long: no clock fails the whole. What took too long is
told and kept, and ``./run test slow`` runs that by itself and judges by it, less what other machines of the same host
took meanwhile, and what the disk was waited for. Tests marked ``long`` have their own run, and no limit.
"""

import os
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.patience import SLOWNESS, slowness

# On a machine as quick as usual, all of whose time is ours; the limit grows as a machine is slower.
LIMIT_S = 10.0
# Tests that may take longer, each with its reason.
MAY_TAKE_LONGER: dict[str, str] = {
    "tests/api/test_capture.py::test_a_camera_shoots_goes_away_rests_and_the_shot_grows_all_the_while": (
        "a camera shoots, is away and is paused by the clock"
    ),
    "tests/api/test_queue.py::test_encodes_rest_go_on_change_turns_and_are_cancelled": (
        "four encodes at their real pace, so that there is something to pause"
    ),
    "tests/screen/test_reel.py::test_three_shots_in_a_row_two_beside_each_other_and_undo": (
        "three shots are gathered, put into a reel and played"
    ),
    "tests/screen/test_whole_way.py::test_from_an_empty_project_to_a_downloaded_clip": (
        "the whole job, of which the first step is the first its program does: run alone, workers start in it"
    ),
    "tests/screen/test_planning_and_capturing.py::"
    "test_the_short_way_leads_from_a_folder_to_a_verified_clip_in_eight_clicks": ("the whole job at its real size"),
}
# Where the names of tests that took too long go, one a line, to be run by themselves.
SLOW_TESTS = Path(__file__).parent.parent / "build" / "slow-tests"
# Set where what takes too long fails the run.
JUDGED = "YARNKITE_JUDGE_DURATIONS"
_NAMED = 10
# As many tests as only a run of the whole suite has: its slow ones are kept.
_MANY = 1000


class Durations:
    """Adds up what each test takes, its preparations left out: those are shared, and the first test pays for all."""

    def __init__(self) -> None:
        self._began = time.monotonic()
        self._calls: Counter[str] = Counter()
        self._kept_waiting: Counter[str] = Counter()
        self._long: set[str] = set()
        self._times = _processor_times()
        self._slower = self._at_end = 1.0

    @pytest.hookimpl(wrapper=True)
    def pytest_runtest_call(self, item: pytest.Item) -> Iterator[None]:
        """Only where tests run in this very process, one at a time, is it known of each what kept it waiting."""
        before = _processor_times()[1]
        yield
        self._kept_waiting[item.nodeid] += _processor_times()[1] - before

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        if "long" in report.keywords:
            self._long.add(report.nodeid)
        if report.when == "call":
            self._calls[report.nodeid] += report.duration

    @pytest.hookimpl(trylast=True)
    def pytest_sessionfinish(self, session: pytest.Session) -> None:
        self._at_end = slowness()
        self._slower = max(SLOWNESS, self._at_end)
        if JUDGED in os.environ:
            if self._too_long() and session.exitstatus == pytest.ExitCode.OK:
                session.exitstatus = pytest.ExitCode.TESTS_FAILED
        elif len(self._calls) > _MANY:
            self._slower /= _share_that_was_ours(self._times, _processor_times())
            SLOW_TESTS.parent.mkdir(exist_ok=True)
            SLOW_TESTS.write_text("".join(f"{name}\n" for name in self._too_long()))

    def pytest_terminal_summary(self, terminalreporter: pytest.TerminalReporter) -> None:
        say = terminalreporter.write_line
        if len(self._calls) > _NAMED:
            terminalreporter.section("how long tests take")
            for name, seconds in self._calls.most_common(_NAMED):
                say(f"{seconds:6.1f} s  {name}")
            whole = time.monotonic() - self._began
            say(
                f"All {len(self._calls)} tests took {whole // 60:.0f} min {whole % 60:.0f} s, where work takes "
                f"{SLOWNESS:.1f} (at the start) and {self._at_end:.1f} times (at the end) what it usually does."
            )
        for name in self._too_long():
            took, most = self._calls[name] - self._kept_waiting[name], LIMIT_S * self._slower
            say(f"{name} took {took:.1f} s; a test may take {most:.0f} s here.", red=True)

    def _too_long(self) -> list[str]:
        judged = self._calls.keys() - self._long - MAY_TAKE_LONGER.keys()
        return sorted(name for name in judged if self._calls[name] - self._kept_waiting[name] > LIMIT_S * self._slower)


def _processor_times() -> tuple[float, float]:
    """Return the seconds that processors worked for us, and that others of the same host, or the disk, kept them from
    it, since the start."""
    user, nice, system, _, disk, irq, softirq, steal, *_ = map(int, Path("/proc/stat").read_text().split()[1:11])
    a_second = os.sysconf("SC_CLK_TCK")
    return (user + nice + system + irq + softirq) / a_second, (steal + disk) / a_second


def _share_that_was_ours(before: tuple[float, float], after: tuple[float, float]) -> float:
    ours, others = after[0] - before[0], after[1] - before[1]
    return max(0.1, ours / (ours + others)) if ours + others else 1.0
