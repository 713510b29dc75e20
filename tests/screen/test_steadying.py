"""Steadying in the real page: a knock undone, a point anchored and corrected, strength changed while it plays, a model
look."""

import io

import av
import cv2
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.moved import knocked, place_of_mark, shares, walked, write_moved
from tests.patience import wait_until
from tests.program import Program

STILLS = 16


@pytest.fixture(scope="module")
def knock(program: Program) -> int:
    write_moved(program.place / "knock", knocked(STILLS, 12))
    return small(program, program.gather("Knock", "knock")[1])


@pytest.fixture(scope="module")
def walk(program: Program) -> int:
    write_moved(program.place / "walk", walked(STILLS), seed=5)
    return small(program, program.gather("Walk", "walk")[1])


def small(program: Program, shot: int) -> int:
    """Have a shot's clip be of a size that is quickly encoded; returns the shot."""
    shown = program.client.get(f"/api/shots/{shot}").json()
    shown["decisions"]["fit"]["size"] = {"width": 640, "height": 360}
    body = {"seen": shown["revision"], "decisions": shown["decisions"]}
    program.client.put(f"/api/shots/{shot}/decisions", json=body).raise_for_status()
    return shot


def steady(program: Program, shot: int) -> dict:
    return program.client.get(f"/api/shots/{shot}").json()["decisions"]["move"]["steady"]


def found(program: Program, shot: int) -> dict:
    seen = program.client.get(f"/api/shots/{shot}").json()["revision"]
    return program.client.get(f"/api/shots/{shot}/move/steady", params={"revision": seen}).json()


@pytest.mark.long
def test_a_knock_is_gone_in_the_preview_and_in_the_clip(page: Page, program: Program, knock: int):
    page.goto(f"/shots/{knock}/move")
    page.get_by_role("button", name="steady", exact=True).click()
    page.get_by_role("button", name="stand still", exact=True).click()
    expect(page.get_by_role("status").filter(has_text="Nothing but the scene moves")).to_be_visible()
    expect(page.get_by_role("region", name="What will be made")).to_contain_text("standing still")
    expect(page.get_by_text("moves", exact=True)).to_be_visible()
    page.get_by_role("checkbox", name="turns go too").uncheck()
    wait_until(lambda: steady(program, knock)["turn"] is False)
    page.keyboard.press("Control+z")
    wait_until(lambda: steady(program, knock)["turn"] is True)
    page.goto(f"/shots/{knock}/encode")
    page.get_by_role("button", name="Encode the clip").click()
    program.wait_until(page.get_by_text("verified").first.is_visible)
    (clip,) = program.client.get(f"/api/shots/{knock}/clips").json()
    data = program.client.get(f"/api/clips/{clip['id']}/file").content
    with av.open(io.BytesIO(data)) as container:
        frames = [frame.to_ndarray(format="gray") for frame in container.decode(video=0)]
    (shift, _), _ = cv2.phaseCorrelate(*(frames[number].astype(np.float32) for number in (11, 12)))
    assert abs(shift) < 0.3
    seen = program.client.get(f"/api/shots/{knock}").json()["revision"]
    asked = {"width": 640, "revision": seen, "state": "x"}
    data = program.client.get(f"/api/shots/{knock}/frames/12.jpg", params=asked).content
    preview = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_GRAYSCALE)
    small = cv2.resize(frames[12], preview.shape[::-1], interpolation=cv2.INTER_AREA)
    assert np.abs(preview.astype(int) - small).mean() < 4


@pytest.mark.long
def test_strength_is_changed_while_it_plays_and_each_says_its_price(page: Page, program: Program, walk: int):
    page.goto(f"/shots/{walk}/move")
    page.get_by_role("button", name="steady", exact=True).click()
    page.get_by_role("button", name="glide", exact=True).click()
    prices = page.get_by_role("list", name="Strength, what is lost")
    expect(prices.get_by_role("listitem").first).to_contain_text("loses")
    page.get_by_role("button", name="play", exact=True).click()
    wait_until(lambda: page.evaluate("document.querySelector('video')?.currentTime ?? 0") > 0)
    prices.get_by_role("button", name="12 stills").click()
    wait_until(lambda: steady(program, walk)["place_over"] == 12)
    expect(page.get_by_role("button", name="pause", exact=True)).to_be_visible()
    wait_until(lambda: page.evaluate("document.querySelector('video')?.currentTime ?? 0") > 0.3)
    page.get_by_role("button", name="pause", exact=True).click()
    page.get_by_role("button", name="the one that goes on best").click()
    expect(page.get_by_role("region", name="What will be made")).to_contain_text("of every 3 the one that goes on best")
    page.get_by_role("button", name="all of them", exact=True).click()
    expect(page.get_by_role("region", name="What will be made")).not_to_contain_text("goes on best")


def test_a_point_is_held_by_a_click_and_corrected_by_keys_at_a_later_still(page: Page, program: Program, walk: int):
    page.goto(f"/shots/{walk}/move")
    page.get_by_role("button", name="steady", exact=True).click()
    page.get_by_role("button", name="anchor a point", exact=True).click()
    stage = page.get_by_label("The still: click on the point")
    expect(stage.locator("img")).to_be_visible()
    box = stage.bounding_box()
    truth = shares(place_of_mark(walked(STILLS)))
    page.mouse.click(box["x"] + truth[0][0] * box["width"], box["y"] + truth[0][1] * box["height"])
    wait_until(lambda: len(steady(program, walk)["points"]) == 1)
    expect(page.get_by_text(f"seen in {STILLS} of {STILLS} stills")).to_be_visible()
    wait_until(lambda: found(program, walk)["is_complete"])
    page.get_by_role("slider", name="Still shown").focus()
    for _ in range(10):
        page.keyboard.press("ArrowDown")
    mark = page.locator(".point")
    expect(mark).to_be_visible()
    wait_until(lambda: abs(share_of(page) - truth[10][0]) < 0.004)
    page.get_by_role("button", name="it is here …").click()
    stage = page.get_by_label("The still: click on the point")
    expect(stage).to_be_focused()
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Enter")
    wait_until(lambda: len(steady(program, walk)["points"][0]["places"]) == 2)
    ids = [one["id"] for one in program.client.get(f"/api/shots/{walk}/stills").json()["stills"]]
    corrected = steady(program, walk)["points"][0]["places"][1]
    assert corrected["still"] == ids[10]
    assert corrected["x"] == pytest.approx(truth[10][0] + 0.02, abs=0.01)
    page.get_by_role("button", name="forget the point").click()
    wait_until(lambda: steady(program, walk)["points"] == [])


def share_of(page: Page) -> float:
    """Where the mark of the point is, in shares of the still's width."""
    at, box = (page.locator(one).bounding_box() for one in (".point", ".steady"))
    return (at["x"] + at["width"] / 2 - box["x"]) / box["width"]


def test_a_model_look_is_pulled_dragged_and_undone(page: Page, program: Program, walk: int):
    def model() -> dict:
        return program.client.get(f"/api/shots/{walk}").json()["decisions"]["move"]["model"]

    page.goto(f"/shots/{walk}/move")
    page.get_by_role("button", name="miniature look", exact=True).click()
    strength = page.get_by_role("slider", name="how much")
    strength.focus()
    for _ in range(6):
        page.keyboard.press("PageUp")
    wait_until(lambda: model()["strength"] >= 0.5)
    band = page.get_by_label("The band that stays sharp")
    box = band.bounding_box()
    middle = box["x"] + box["width"] / 2, box["y"] + 0.55 * box["height"]
    page.mouse.move(*middle)
    page.mouse.down()
    page.mouse.move(middle[0], middle[1] - 0.2 * box["height"], steps=5)
    page.mouse.up()
    wait_until(lambda: abs(model()["bands"][0]["y"] - 0.35) < 0.01)
    page.keyboard.press("Control+z")
    wait_until(lambda: model()["bands"][0]["y"] == 0.55)
    page.get_by_role("button", name="stronger colour").click()
    wait_until(lambda: program.client.get(f"/api/shots/{walk}").json()["decisions"]["light"]["saturation"]["value"] > 0)
