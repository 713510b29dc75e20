"""Light in the real page: evened from a finding, pulled, balanced, changed over the shot, compared, undone."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.planted import write_lamps
from tests.program import Program, wait_until


@pytest.fixture(scope="module")
def shot(program: Program) -> int:
    write_lamps(program.place / "lamps", 36, brighter_from=24)
    return program.gather("Lamps", "lamps")[1]


@pytest.fixture
def lighting(page: Page, program: Program, shot: int) -> Page:
    shown = program.client.get(f"/api/shots/{shot}").json()
    plain = {"seen": shown["revision"], "decisions": shown["decisions"] | {"light": {}}}
    program.client.put(f"/api/shots/{shot}/decisions", json=plain).raise_for_status()
    page.goto(f"/shots/{shot}/light")
    expect(page.get_by_role("heading", name="Even light")).to_be_visible()
    expect(page.locator(".frame-box img")).to_be_visible()
    return page


def decided(program: Program, shot: int) -> dict:
    return program.client.get(f"/api/shots/{shot}").json()["decisions"]["light"]


def colour(page: Page, x: float, y: float) -> list[int]:
    """The colour of the picture on the stage at shares of its width and height."""
    return page.locator(".frame-box img").evaluate(
        """(image, [x, y]) => {
          const canvas = document.createElement("canvas");
          [canvas.width, canvas.height] = [image.naturalWidth, image.naturalHeight];
          const drawn = canvas.getContext("2d");
          drawn.drawImage(image, 0, 0);
          return [...drawn.getImageData(x * canvas.width, y * canvas.height, 1, 1).data].slice(0, 3);
        }""",
        [x, y],
    )


def test_a_finding_leads_to_even_light_and_undo_back(page: Page, program: Program, shot: int, lighting: Page):
    page.goto(f"/shots/{shot}/check")
    page.get_by_role("button", name=re.compile("flicker by")).first.click()
    page.get_by_role("button", name="even out", exact=True).first.click()
    wait_until(lambda: decided(program, shot)["even"]["flicker"])
    page.get_by_role("link", name="light", exact=True).click()
    expect(page.get_by_label("even out flicker")).to_be_checked()
    expect(page.get_by_role("status").filter(has_text="Flicker of")).to_contain_text(re.compile(r"becomes 0\.00\d"))
    page.get_by_label("take out changes of exposure").check()
    expect(page.get_by_role("status").filter(has_text="one change of exposure")).to_be_visible()
    page.get_by_role("button", name="as the eye saw it").click()
    wait_until(lambda: decided(program, shot)["even"]["course"] == "as seen")
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(page.get_by_label("even out flicker")).not_to_be_checked()


def test_the_curve_is_pulled_with_mouse_and_keys(lighting: Page, program: Program, shot: int):
    before = colour(lighting, 0.5, 0.9)
    surface = lighting.get_by_label("How bright becomes how bright")
    box = surface.bounding_box()
    x, y = box["x"] + box["width"] * 0.25, box["y"] + box["height"] * 0.75
    lighting.mouse.move(x, y)
    lighting.mouse.down()
    lighting.mouse.move(x, y - 25, steps=4)
    wait_until(lambda: sum(colour(lighting, 0.5, 0.9)) > sum(before) + 20)
    lighting.mouse.up()
    wait_until(lambda: decided(program, shot)["dark"]["value"] > 0.5)
    surface.focus()
    lighting.keyboard.press("ArrowRight")
    lighting.keyboard.press("ArrowUp")
    wait_until(lambda: decided(program, shot)["middle"]["value"] == pytest.approx(0.02))
    lighting.keyboard.press("Control+z")
    wait_until(lambda: decided(program, shot)["middle"]["value"] == 0)


def test_what_is_clicked_on_becomes_grey(lighting: Page, program: Program, shot: int):
    lighting.get_by_role("button", name="something here is grey").click()
    box = lighting.locator(".frame-box").bounding_box()
    lighting.mouse.click(box["x"] + box["width"] * 0.75, box["y"] + box["height"] * 0.75)
    wait_until(lambda: decided(program, shot)["warmth"]["value"])
    wait_until(lambda: max(found := colour(lighting, 0.75, 0.75)) - min(found) <= 3)
    lighting.keyboard.press("l")
    expect(lighting.get_by_text("as it was shot")).to_be_visible()
    wait_until(lambda: max(found := colour(lighting, 0.75, 0.75)) - min(found) > 10)
    lighting.keyboard.press("l")
    lighting.get_by_role("button", name="as shot", exact=True).click()
    wait_until(lambda: decided(program, shot)["warmth"]["value"] == 0)


def test_a_setting_changes_from_the_first_still_to_the_last(lighting: Page, program: Program, shot: int):
    lighting.get_by_role("checkbox", name="exposure changes over the shot").check()
    lighting.get_by_role("region", name="Stage").click(position={"x": 5, "y": 300})
    lighting.keyboard.press("End")
    expect(lighting.get_by_role("region", name="Stage")).to_contain_text("still 36 of 36")
    field = lighting.get_by_role("spinbutton", name="exposure", exact=True)
    field.fill("-2")
    field.press("Enter")
    keyframes = lighting.get_by_role("list", name="exposure over the shot")
    expect(keyframes.get_by_role("listitem")).to_have_count(2)
    keyframes.get_by_role("button", name="still 1", exact=True).click()
    expect(field).to_have_value("0 stops")
    lighting.get_by_role("region", name="Stage").click(position={"x": 5, "y": 300})
    for _ in range(18):
        lighting.keyboard.press("ArrowDown")
    expect(field).to_have_value(re.compile(r"-(0\.9|1)"))
    keyframes.get_by_role("button", name="forget exposure at this still").first.click()
    expect(keyframes.get_by_role("listitem")).to_have_count(2)
    expect(keyframes).to_contain_text("Go to another still")
    assert [one["value"] for one in decided(program, shot)["exposure"]["keyframes"]] == [-2]
    lighting.get_by_role("checkbox", name="exposure changes over the shot").uncheck()
    wait_until(lambda: decided(program, shot)["exposure"] == {"value": -2, "keyframes": []})


def test_it_plays_while_it_is_evened(lighting: Page, program: Program, shot: int):
    lighting.get_by_role("button", name="play", exact=True).click()
    expect(lighting.get_by_role("button", name="pause", exact=True)).to_be_visible()
    lighting.get_by_label("even out flicker").check()
    wait_until(lambda: decided(program, shot)["even"]["flicker"])
    wait_until(lambda: lighting.evaluate("document.querySelector('video')?.currentTime ?? 0") > 0)
    expect(lighting.get_by_role("button", name="pause", exact=True)).to_be_visible()
