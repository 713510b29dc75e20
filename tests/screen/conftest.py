"""The real page in a real browser, against the real program."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, Playwright, expect, sync_playwright

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
        write_jpeg(place / "reach" / f"MRW_{number + 1}.jpg", number, (600, 400))
    program = Program(tmp_path_factory.mktemp("data"), place, device.address())
    program.start()
    yield program
    program.stop()


class Browser:
    """One browser with one profile for all tests: what it has loaded and compiled of the pages it need not load
    again."""

    def __init__(self, playwright: Playwright, profile: Path) -> None:
        self._playwright, self._profile = playwright, profile
        self._context: BrowserContext | None = None
        self._address = ""

    def page(self, program: Program) -> Page:
        """Give a new page at 1280 × 800 of a program; one that was started again may answer at another address."""
        address = program.address
        if self._context is None or self._address != address:
            self.close()
            self._address = address
            self._context = self.profile(self._profile, address)
            self._context.pages[0].goto(program.way_in)
        return self._context.new_page()

    def profile(self, folder: Path, address: str) -> BrowserContext:
        """Open a profile, which a program may know or not."""
        return self._playwright.chromium.launch_persistent_context(
            folder,
            executable_path="/usr/bin/chromium",
            args=ARGUMENTS,
            viewport={"width": 1280, "height": 800},
            accept_downloads=True,
            base_url=address,
        )

    def forget(self, page: Page) -> None:
        """Close the pages, and forget what they kept in the browser."""
        page.context.set_offline(False)
        if page.url.startswith("http"):
            page.evaluate("() => { localStorage.clear(); sessionStorage.clear(); }")
        for one in page.context.pages[1:]:
            one.close()

    def close(self) -> None:
        if self._context is not None:
            self._context.close()


@pytest.fixture(scope="session")
def browser(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = Browser(playwright, tmp_path_factory.mktemp("profile"))
        yield browser
        browser.close()


def is_trouble(kind: str, text: str) -> bool:
    return kind == "error" and "Failed to load resource" not in text


@pytest.fixture
def page(browser: Browser, program: Program) -> Iterator[Page]:
    """A page on which nothing may go wrong unseen."""
    page = browser.page(program)
    page.set_default_timeout(1000 * STANDSTILL_S)
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    # What a component throws while it is shown is written down, not thrown on; an answer that refuses is no trouble.
    page.on("console", lambda said: troubles.append(said.text) if is_trouble(said.type, said.text) else None)
    yield page
    browser.forget(page)
    assert troubles == []
