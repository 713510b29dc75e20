"""The real page in a real browser, against the real program."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect, sync_playwright

from tests.conftest import write_jpeg
from tests.patience import STANDSTILL_S
from tests.program import Program
from yarnkite.camera.simulated import SimulatedProcess

expect.set_options(timeout=1000 * STANDSTILL_S)
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking"]


@pytest.fixture(scope="session")
def device() -> Iterator[SimulatedProcess]:
    """The simulated camera the program shoots with, quick enough for two stills a second beside everything else."""
    process = SimulatedProcess("--scene", "plain", "--width", "480", "--writing", "0")
    yield process
    process.stop()


@pytest.fixture(scope="session")
def program(tmp_path_factory: pytest.TempPathFactory, device: SimulatedProcess) -> Iterator[Program]:
    place = tmp_path_factory.mktemp("places") / "Card"
    for number in range(40):
        write_jpeg(place / "reach" / f"MRW_{number + 1}.jpg", number, (1200, 800))
    program = Program(tmp_path_factory.mktemp("data"), place, device.address())
    program.start()
    yield program
    program.stop()


@pytest.fixture(scope="session")
def browser():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        yield browser
        browser.close()


@pytest.fixture
def page(browser, program: Program, tmp_path: Path) -> Iterator[Page]:
    """A page at 1280 × 800 on which nothing may go wrong unseen."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, accept_downloads=True, base_url=program.address
    )
    page = context.new_page()
    page.set_default_timeout(1000 * STANDSTILL_S)
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    yield page
    context.close()
    assert troubles == []
