"""The page as a person feels it: from a click on a step to its picture, light opened first, and *Make a clip now*."""

import os
import shutil
import statistics
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.program import Program
from tests.screen.conftest import ARGUMENTS

from bench.stills import make_stills

STILLS = int(os.environ.get("YARNKITE_BENCH_STILLS", "120"))
ROUNDS = 3
STEPS = ("gather", "order", "check", "light", "fit", "move", "pace", "encode")
_QUESTIONS = ("How long should it be?", "Which shape?", "Even the light, steady it?", "Title and music?")
SETTLED_MS = 2500
# Gives the milliseconds from the click on a step until its sheet, and the picture its stage still shows when all has
# settled, are first drawn.
_UNTIL_SHOWN = """([step, settled]) => new Promise((resolve) => {
  const link = [...document.querySelectorAll("nav a")].find((one) => one.textContent.trim() === step);
  const drawn = new Map();
  const began = performance.now();
  const look = () => {
    const took = performance.now() - began;
    const image = document.querySelector(".stage img");
    const sheet = document.querySelector(`[aria-label="Sheet: ${step}"]`)?.children.length;
    const shown = sheet && image?.complete && image.naturalWidth ? image.src : undefined;
    if (shown && !drawn.has(shown)) drawn.set(shown, took);
    if (took > settled) return resolve(drawn.get(shown) ?? settled);
    requestAnimationFrame(look);
  };
  link.click();
  look();
})"""


def run(folder: Path) -> None:
    """Measure and print."""
    place = _folder_of(folder)
    print(f"\nThe page: {STILLS} stills of 24 megapixels, cores {len(os.sched_getaffinity(0))}")
    try:
        with _opened(folder, place) as (program, page):
            short, decisions = _clip_now(program, page, place)
        with _opened(folder, place) as (program, page):
            _, shot = program.gather("Pages", place.name)
            _wait_for_rest(program)
            _light_first(page, shot)
            _each_step(page)
            # A page that stays open has things of its own made, such as the size of the file.
            page.goto("about:blank")
            _wait_for_rest(program)
            alone = _encode(program, shot, decisions)
    finally:
        shutil.rmtree(place.parent, ignore_errors=True)
    print(
        f"{'Make a clip now, from the last answer':44}{short:6.1f} s  {short / alone:.2f} × the encode alone, "
        f"{alone:.1f} s (bar: 1.10)"
    )


@contextmanager
def _opened(folder: Path, place: Path) -> Iterator[tuple[Program, Page]]:
    """Give a program that knows nothing yet, and a page of it."""
    data = folder / "pages-data"
    shutil.rmtree(data, ignore_errors=True)
    program = Program(data, place.parent)
    program.start()
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=program.address)
            page.goto(program.way_in)
            yield program, page
            browser.close()
    finally:
        program.stop()
        shutil.rmtree(data, ignore_errors=True)


def _encode(program: Program, shot: int, decisions: dict[str, object]) -> float:
    """Return how long it takes to encode the same as the short way did, in seconds."""
    seen = program.decide(shot, **decisions)
    began = time.perf_counter()
    job = program.client.post(f"/api/shots/{shot}/encode", json={"seen": seen}).raise_for_status().json()
    program.wait_for_job(job["id"])
    return time.perf_counter() - began


def _light_first(page: Page, shot: int) -> None:
    page.goto(f"/shots/{shot}/gather")
    page.wait_for_load_state("networkidle")
    answered: list[float] = []
    page.on("response", lambda _: answered.append(time.perf_counter()))
    began = time.perf_counter()
    print(f"{'light, opened first: its picture':44}{_until_shown(page, 'light'):6.0f} ms (bar: 500)")
    page.wait_for_load_state("networkidle")
    print(f"{'light, opened first: the last answer':44}{(answered[-1] - began) * 1000:6.0f} ms")


def _until_shown(page: Page, step: str) -> float:
    return float(page.evaluate(_UNTIL_SHOWN, [step, SETTLED_MS]))


def _each_step(page: Page) -> None:
    for _ in range(ROUNDS):
        took = {step: _until_shown(page, step) for step in STEPS}
    slowest = max(took, key=lambda one: took[one])
    print(
        f"{'a step, from its click to its picture':44}{statistics.median(took.values()):6.0f} ms "
        f"at most {took[slowest]:.0f} ({slowest}; bar: 500)"
    )


def _clip_now(program: Program, page: Page, place: Path) -> tuple[float, dict[str, object]]:
    """Return how long a clip took from the last answer, in seconds, and what was decided about its shot."""
    page.goto("/now")
    page.get_by_role("button", name=place.name).click()
    for heading in _QUESTIONS:
        page.get_by_role("button", name="Go on").click()
        page.get_by_role("heading", name=heading).wait_for()
    made = page.get_by_role("button", name="Make the clip")
    program.wait_until(made.is_enabled)
    _wait_for_rest(program)
    began = time.perf_counter()
    made.click()
    page.get_by_text("The clip is done").first.wait_for(timeout=600_000)
    took = time.perf_counter() - began
    return took, program.client.get("/api/shots/1").json()["decisions"]


def _wait_for_rest(program: Program) -> None:
    for job in program.client.get("/api/jobs").json():
        program.wait_for_job(job["id"])


def _folder_of(folder: Path) -> Path:
    target = folder / "pages" / "reach"
    shutil.rmtree(target, ignore_errors=True)
    target.mkdir(parents=True)
    for still in make_stills(folder / "stills", STILLS):
        os.link(still.path, target / Path(still.path).name)
    return target
