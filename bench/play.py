"""Playing in the real page: 600 stills of 24 megapixels, from an edit to the first moving frame, and frames a
second."""

import os
import shutil
import time
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.program import Program
from tests.screen.conftest import ARGUMENTS
from tests.screen.fields import pick

from bench.stills import make_stills

MADE, STILLS = 200, 600
SECONDS = 12
EDITS = 8
DRAGS = 160

# Gives the milliseconds from the click or key that follows to the first frame of what it begins; that lies at least
# 0.9 s on in the timeline the browser plays. What plays for the first time has no video before it.
_FIRST_FRAME = """() => new Promise((resolve) => {
  const found = () => document.querySelector(".stage video");
  const before = found();
  let began = performance.now();
  const note = () => (began = performance.now());
  for (const kind of ["click", "keydown"]) window.addEventListener(kind, note, { capture: true, once: true });
  let last = before?.currentTime;
  const look = (now, { mediaTime }) => {
    if (last === undefined || mediaTime - last > 0.9) return resolve(performance.now() - began);
    last = mediaTime;
    found().requestVideoFrameCallback(look);
  };
  const begin = () => (found() ? found().requestVideoFrameCallback(look) : requestAnimationFrame(begin));
  begin();
})"""
_COUNT = """(seconds) => new Promise((resolve) => {
  const video = document.querySelector(".stage video");
  const at = () => ({ time: performance.now(), media: video.currentTime, ...quality() });
  const quality = () => {
    const { totalVideoFrames, droppedVideoFrames } = video.getVideoPlaybackQuality();
    return { total: totalVideoFrames, dropped: droppedVideoFrames };
  };
  const first = at();
  setTimeout(() => {
    const last = at();
    resolve({
      shown: (last.total - last.dropped - first.total + first.dropped) / ((last.time - first.time) / 1000),
      dropped: last.dropped - first.dropped,
      speed: (last.media - first.media) / ((last.time - first.time) / 1000),
    });
  }, seconds * 1000);
})"""


_COUNT_PICTURES = """() => {
  window.pictures = 0;
  const image = document.querySelector(".frame-box img");
  new MutationObserver(() => { window.pictures += 1; }).observe(image, { attributes: true, attributeFilter: ["src"] });
}"""
_SKY = {"kind": "gradient", "x": 0.5, "y": 0.0, "to_x": 0.5, "to_y": 0.5}
_BOAT = {"kind": "ellipse", "x": 0.5, "y": 0.7, "x_radius": 0.25, "y_radius": 0.2}
_LIGHT = {
    "even": {"flicker": True, "steps": True},
    "exposure": {"value": 0.3},
    "dark": {"value": 0.2},
    "warmth": {"value": 20},
    "saturation": {"value": 0.2},
    "areas": [
        {"name": "sky", "mask": {"parts": [{"shape": _SKY}]}, "grade": {"exposure": {"value": -0.7}}},
        {"name": "boat", "mask": {"parts": [{"shape": _BOAT}]}, "grade": {"warmth": {"value": 30}}},
    ],
}


_MOVE = {
    "views": [{"at": 0}, {"at": 1, "x": 0.55, "y": 0.52, "closeness": 1.3}],
    "steady": {"how": "glide", "place_over": 60, "level_over": 60, "size_over": 60},
}


def run(folder: Path) -> None:
    """Measure and print."""
    place = _shot_of(folder)
    data = folder / "playing"
    shutil.rmtree(data, ignore_errors=True)
    program = Program(data, place.parent)
    program.start()
    try:
        project = program.client.post("/api/projects", json={"name": "Play"}).json()["id"]
        started = program.client.post(
            f"/api/projects/{project}/shots", json={"location": place.parent.name, "path": place.name}
        ).json()
        print(f"\nPlay: gathering {STILLS} stills of 24 megapixels …", flush=True)
        program.wait_for_job(started["job"]["id"])
        _wait_for_rest(program)
        _play(program, started["shot_id"])
    finally:
        program.stop()
        shutil.rmtree(data, ignore_errors=True)
        shutil.rmtree(place.parent, ignore_errors=True)


def _shot_of(folder: Path) -> Path:
    """Return a folder of stills that are all different files: those made, each with a few bytes after its end."""
    render_segment = make_stills(folder / "stills", MADE)
    target = folder / "play" / "reach"
    target.mkdir(parents=True, exist_ok=True)
    for number in range(STILLS):
        still = target / f"MRW_{number + 1:04}.jpg"
        if not still.exists():
            still.write_bytes(Path(render_segment[number % MADE].path).read_bytes() + number.to_bytes(4, "big"))
    return target


def _wait_for_rest(program: Program) -> None:
    for job in program.client.get("/api/jobs").json():
        program.wait_for_job(job["id"])


def _play(program: Program, shot: int) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=program.address)
        page.goto(program.way_in)
        page.goto(f"/shots/{shot}/pace")
        page.get_by_role("button", name="play", exact=True).wait_for()
        pick(page, "Frames per second", "30")
        page.locator(".brief").filter(has_text="30 fps").wait_for()
        page.wait_for_timeout(1000)
        print(f"cores {len(os.sched_getaffinity(0))}; {STILLS} stills at 30 fps, 1920 × 1080, played at 960 × 540")
        _measure(page, "from the first still")
        page.goto(f"/shots/{shot}/fit")
        page.get_by_role("button", name="play", exact=True).wait_for()
        page.wait_for_timeout(1500)
        page.keyboard.press("Space")
        page.wait_for_timeout(2500)
        _edits(page)
        page.get_by_label("level (clockwise)").fill("2.5")
        page.get_by_label("level (clockwise)").press("Tab")
        page.wait_for_timeout(3000)
        _count(page, "levelled by 2.5°, made while playing")
        _lit(page, program, shot)
        _moving(page, program, shot)
        browser.close()


def _lit(page: Page, program: Program, shot: int) -> None:
    """Play with tone, colour, evening and two areas, and pull the curve."""
    opened = program.client.get(f"/api/shots/{shot}").json()
    decisions = opened["decisions"]
    decisions["light"] |= _LIGHT
    decisions["fit"] |= {"level": 0}
    decisions["pace"]["rate"] = "25"
    program.client.put(
        f"/api/shots/{shot}/decisions", json={"seen": opened["revision"], "decisions": decisions}
    ).raise_for_status()
    page.goto(f"/shots/{shot}/light")
    page.get_by_role("button", name="play", exact=True).wait_for()
    page.wait_for_timeout(2500)
    _measure(page, "with light and two areas, 25 fps (bar: 25)")
    page.keyboard.press("Space")
    page.get_by_role("button", name="brightness", exact=True).click()
    page.wait_for_timeout(1500)
    box = page.get_by_label("How bright becomes how bright").bounding_box()
    if box is None:
        raise RuntimeError("the curve is not on the page")
    page.evaluate(_COUNT_PICTURES)
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    began = time.perf_counter()
    for step in range(DRAGS):
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 - 40 + step % 40 * 2)
        page.wait_for_timeout(25)
    took = time.perf_counter() - began
    page.mouse.up()
    print(
        f"{'pictures a second while the curve is pulled':44}{page.evaluate('() => window.pictures') / took:7.1f}  "
        "(bar: 10)"
    )


def _moving(page: Page, program: Program, shot: int) -> None:
    """Play a push in over stills that glide, once how they lie was measured."""
    opened = program.client.get(f"/api/shots/{shot}").json()
    decisions = opened["decisions"]
    decisions["light"] = {}
    decisions["move"] = _MOVE
    program.client.put(
        f"/api/shots/{shot}/decisions", json={"seen": opened["revision"], "decisions": decisions}
    ).raise_for_status()
    began = time.perf_counter()
    job = program.client.post(f"/api/shots/{shot}/move/measure").json()
    program.wait_for_job(job["id"])
    cores = len(os.sched_getaffinity(0))
    print(
        f"{'measured how they lie, stills a second a core':44}{STILLS / (time.perf_counter() - began) / cores:7.1f}  "
        "(bar: 20)"
    )
    page.goto(f"/shots/{shot}/move")
    page.get_by_role("button", name="play", exact=True).wait_for()
    page.wait_for_timeout(2500)
    _measure(page, "with travel and steadying, 25 fps (bar: 25)")


def _measure(page: Page, what: str) -> None:
    handle = page.evaluate_handle(f"() => {{ window.first = ({_FIRST_FRAME})(); }}")
    handle.dispose()
    page.keyboard.press("Space")
    print(f"{'space to the first moving frame':44}{page.evaluate('() => window.first'):7.0f} ms  (bar: 1000)")
    _count(page, f"{what}, made while playing")


def _count(page: Page, what: str) -> None:
    found = page.evaluate(_COUNT, SECONDS)
    print(
        f"{what:44}{found['shown']:7.2f} frames a second (bar: 30), {found['dropped']} dropped of "
        f"{found['shown'] * SECONDS:.0f}, at {found['speed']:.3f} × true speed"
    )


def _edits(page: Page) -> None:
    waited = []
    for edit in range(EDITS):
        page.evaluate(f"() => {{ window.first = ({_FIRST_FRAME})(); }}")
        page.get_by_role("group", name="Where the picture is held").get_by_role("button").nth(
            (edit * 3 + 1) % 9
        ).click()
        waited.append(page.evaluate("() => window.first"))
        page.wait_for_timeout(1500)
    waited.sort()
    print(
        f"{'edit to the first frame that shows it':44}{waited[len(waited) // 2]:7.0f} ms, at worst {waited[-1]:.0f} "
        "ms  (bar: 1000)"
    )
    _count(page, "after the edits, made while playing")
