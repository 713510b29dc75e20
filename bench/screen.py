"""A shot of 10,000 stills: its plan of new names, its answers, and the page that shows it."""

import json
import shutil
import time
from datetime import datetime, timedelta
from itertools import pairwise
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright
from tests.program import Program
from tests.screen.conftest import ARGUMENTS

from yarnkite.core.base.counter import numbering
from yarnkite.core.check.shift import Shift
from yarnkite.core.gather.measures import GRID
from yarnkite.core.order.renaming import DEFAULT, Named, renaming
from yarnkite.resolve.check import looked_for_dirt
from yarnkite.serve import running
from yarnkite.store import check as checks
from yarnkite.store import projects, shots, snapshots
from yarnkite.workspace import Workspace

STILLS = 10_000
BEGINS = datetime(2031, 9, 14)


def run(folder: Path) -> None:
    """Measure and print."""
    print(f"\nA shot of {STILLS:,} stills")
    _plan_names()
    data = folder / "many"
    shutil.rmtree(data, ignore_errors=True)
    shot = many_stills(Workspace(data), STILLS)
    program = Program(data, folder)
    program.start()
    try:
        for what in ("stills", "order", "sorting", "tail.png", "check", "check", "check/plots"):
            began = time.perf_counter()
            program.client.get(f"/api/shots/{shot}/{what}")
            print(f"{what:35} {time.perf_counter() - began:5.2f} s")
        _open_page(program, shot)
    finally:
        program.stop()
        shutil.rmtree(data, ignore_errors=True)


def _plan_names() -> None:
    named = [Named(f"MRW_{number + 1:05}.JPG", BEGINS + timedelta(seconds=4 * number)) for number in range(STILLS)]
    there = [one.name for one in named] + [one.name.replace("JPG", "XMP") for one in named]
    began = time.perf_counter()
    lines = renaming(named, DEFAULT, "Many", numbering([one.name for one in named]), there)
    print(
        f"plan of new names, with sidecars    {time.perf_counter() - began:5.2f} s   (bar: 0.30), {len(lines):,} files"
    )


def many_stills(workspace: Workspace, count: int) -> int:
    """Put a shot of so many stills into a data folder, as if they had been gathered and checked; returns its id."""
    workspace.create()
    with running(workspace, workers=1) as services:
        project = projects.add(services.database, "Many")
        shot = shots.add(services.database, project, "Many", workspace.folder, copied=False)
        with services.database.transaction() as cursor:
            cursor.executemany(
                "INSERT INTO still (shot_id, number, position, name, kind, bytes, modified_at, width, height,"
                " captured_at, fingerprint, luminance, tail_row,"
                " measures, blocks) VALUES (%s, %s, %s, %s, 'JPEG', 8000000, %s, 6000, 4000, %s, %s, %s, %s, %s, %s)",
                [_row(shot, number, count) for number in range(count)],
            )
        shots.set_gathered(services.database, shot, None)
        gathered = snapshots.of_shot(services.database, shots.one(services.database, shot)).stills
        every = [still for _, still in gathered]
        still = [Shift(0.0, 0.0, 0.0, 0.8)] * (count - 1)
        checks.add_pairs(services.database, list(pairwise(every)), still)
        looked_at, _ = looked_for_dirt(gathered)
        checks.keep_dirt(services.database, shot, looked_at, [])
    return shot


def _row(shot: int, number: int, count: int) -> tuple[object, ...]:
    captured = BEGINS + timedelta(seconds=4 * number)
    grey = bytes([40 + number * 160 // count] * 480)
    rng = np.random.default_rng(number)
    # Every hundredth still misfired, so that the page has a hundred findings to list.
    light = -3 + np.sin(number / 900) - 3 * (number % 100 == 50)
    blocks = (light + rng.normal(0, 0.05, GRID)).astype("<f2").tobytes()
    values = {"red": 0.1, "blue": -0.1, "sharpness": float(rng.normal(-1, 0.01)), "bright": 0.0, "dark": 0.0}
    measures = json.dumps(values | {"dhash": f"{int(rng.integers(2**62)):016x}"})
    return (
        *(shot, number, number, f"MRW_{number + 1:05}.JPG", captured, captured, f"{number:032x}", 0.3, grey),
        *(measures, blocks),
    )


def _open_page(program: Program, shot: int) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=program.address)
        page.goto(program.way_in)
        page.goto("/")
        began = time.perf_counter()
        page.goto(f"/shots/{shot}/order")
        page.locator(".list .row").first.wait_for()
        print(f"page with its list                  {time.perf_counter() - began:5.2f} s   (bar: 1.50)")
        began = time.perf_counter()
        page.keyboard.press("End")
        page.get_by_text("MRW_10000.JPG").first.wait_for()
        print(f"from the first still to the last    {time.perf_counter() - began:5.2f} s")
        page.keyboard.press("Home")
        shown = page.evaluate(
            """async () => {
              const key = (name) => window.dispatchEvent(new KeyboardEvent("keydown", { key: name }));
              const began = performance.now();
              for (let still = 0; still < 60; still += 1) {
                key("ArrowDown");
                await new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)));
              }
              return 60000 / (performance.now() - began);
            }"""
        )
        print(f"stills stepped through a second     {shown:5.0f}     (bar: 20)")
        browser.close()
