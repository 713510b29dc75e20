"""How long tests take: the ten slowest are named, and one that takes longer than a test may fails the whole."""

import time
from collections import Counter

import pytest

from tests.patience import SLOWNESS, slowness

# On a machine as quick as usual; the limit grows as a machine is slower.
LIMIT_S = 10.0
# Tests that may take longer, each with its reason.
MAY_TAKE_LONGER: dict[str, str] = {}
_NAMED = 10


class Durations:
    """Adds up what each test takes, its preparations left out: those are shared, and the first test pays for all."""

    def __init__(self) -> None:
        self._began = time.monotonic()
        self._calls: Counter[str] = Counter()
        self._too_long: list[str] = []

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        if report.when == "call":
            self._calls[report.nodeid] += report.duration

    @pytest.hookimpl(trylast=True)
    def pytest_sessionfinish(self, session: pytest.Session) -> None:
        limit_s = LIMIT_S * max(SLOWNESS, slowness())
        self._too_long = [
            f"{name} took {seconds:.1f} s; a test may take {limit_s:.0f} s on this machine."
            for name, seconds in self._calls.items()
            if seconds > limit_s and name not in MAY_TAKE_LONGER
        ]
        if self._too_long and session.exitstatus == pytest.ExitCode.OK:
            session.exitstatus = pytest.ExitCode.TESTS_FAILED

    def pytest_terminal_summary(self, terminalreporter: pytest.TerminalReporter) -> None:
        if len(self._calls) <= _NAMED:
            return
        terminalreporter.section("how long tests take")
        for name, seconds in self._calls.most_common(_NAMED):
            terminalreporter.write_line(f"{seconds:6.1f} s  {name}")
        whole = time.monotonic() - self._began
        terminalreporter.write_line(f"All {len(self._calls)} tests took {whole // 60:.0f} min {whole % 60:.0f} s.")
        for sentence in self._too_long:
            terminalreporter.write_line(sentence, red=True)
