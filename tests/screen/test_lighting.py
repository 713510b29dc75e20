"""Light in the real page: evened from a finding, pulled, balanced, changed over the shot, compared, undone."""

import json
import re
from pathlib import Path
from threading import Event

import pytest
from PIL import Image, ImageEnhance
from playwright.sync_api import Locator, Page, Route, expect

from tests.patience import wait_until
from tests.planted import write_lamps
from tests.program import Program


@pytest.fixture(scope="module")
def shot(program: Program) -> int:
    write_lamps(program.place / "lamps", 36, brighter_from=24)
    return program.gather("Lamps", "lamps")[1]


@pytest.fixture
def lighting(page: Page, program: Program, shot: int) -> Page:
    program.decide(shot, light={})
    page.goto(f"/shots/{shot}/light")
    expect(page.get_by_role("heading", name="Even light")).to_be_visible()
    expect(page.locator(".frame-box img")).to_be_visible()
    return page


def decided(program: Program, shot: int) -> dict:
    return program.client.get(f"/api/shots/{shot}").json()["decisions"]["light"]


def work_on(page: Page, section: str) -> None:
    page.get_by_role("navigation", name="What of the light").get_by_role("button", name=section, exact=True).click()


def take_up(page: Page, tool: str) -> None:
    """Take what an area is drawn with; it has come once the frame says so by its pointer."""
    page.get_by_role("button", name=tool, exact=True).first.click()
    expect(page.locator(".frame-box .laying")).to_be_visible()


def drag(page: Page, where: Locator, *places: tuple[float, float]) -> None:
    """Drag from place to place, in shares of something's box."""
    box = where.bounding_box()
    for number, (x, y) in enumerate(places):
        page.mouse.move(box["x"] + x * box["width"], box["y"] + y * box["height"], steps=1 if not number else 5)
        if not number:
            page.mouse.down()
    page.mouse.up()


def colour(page: Page, x: float, y: float) -> list[int]:
    """The colour of the picture on the stage at shares of its width and height."""
    return page.locator(".frame-box img:not(.overlay-mask)").evaluate(
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
    work_on(lighting, "brightness")
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
    work_on(lighting, "colour")
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
    work_on(lighting, "brightness")
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
    wait_until(lambda: [one["value"] for one in decided(program, shot)["exposure"]["keyframes"]] == [-2])
    lighting.get_by_role("checkbox", name="exposure changes over the shot").uncheck()
    wait_until(lambda: decided(program, shot)["exposure"] == {"value": -2, "keyframes": []})


def test_it_plays_while_it_is_evened(lighting: Page, program: Program, shot: int):
    lighting.get_by_role("button", name="play", exact=True).click()
    expect(lighting.get_by_role("button", name="pause", exact=True)).to_be_visible()
    lighting.get_by_label("even out flicker").check()
    wait_until(lambda: decided(program, shot)["even"]["flicker"])
    wait_until(lambda: lighting.evaluate("document.querySelector('video')?.currentTime ?? 0") > 0)
    expect(lighting.get_by_role("button", name="pause", exact=True)).to_be_visible()


def test_the_curve_is_pulled_at_any_place_and_the_place_forgotten(lighting: Page, program: Program, shot: int):
    work_on(lighting, "brightness")
    surface = lighting.get_by_label("How bright becomes how bright")
    expect(lighting.get_by_text("the middle: 0.00")).to_be_visible()
    drag(lighting, surface, (0.1, 0.9), (0.1, 0.75))
    wait_until(lambda: [one["at"] for one in decided(program, shot)["pulls"]] == [pytest.approx(0.1, abs=0.01)])
    assert decided(program, shot)["pulls"][0]["by"]["value"] > 0.3
    lighting.get_by_role("button", name="forget this place").click()
    wait_until(lambda: decided(program, shot)["pulls"] == [])
    field = lighting.get_by_role("spinbutton", name="exposure", exact=True)
    field.fill("4")
    field.press("Enter")
    expect(lighting.get_by_text(re.compile(r"White: [1-9]"))).to_be_visible()
    lighting.get_by_label("stripes over what is black or white").check()
    expect(lighting.locator("img.overlay-mask")).to_be_visible()


def test_a_part_of_the_circle_is_dragged_to_another_hue_and_to_less(lighting: Page, program: Program, shot: int):
    work_on(lighting, "colour")
    circle = lighting.get_by_label("The picture's colours by hue")
    expect(circle.locator("circle").nth(3)).to_be_attached()
    circle.scroll_into_view_if_needed()
    drag(lighting, circle, (0.75, 0.4), (0.7, 0.3))
    wait_until(lambda: decided(program, shot)["hues"])
    (pull,) = decided(program, shot)["hues"]
    assert pull["hue"] == pytest.approx(22, abs=3)
    assert pull["turn"]["value"] > 10
    circle.focus()
    lighting.keyboard.press("Shift+ArrowDown")
    wait_until(lambda: decided(program, shot)["hues"][0]["colour"]["value"] < pull["colour"]["value"])
    lighting.get_by_label("black and white").check()
    wait_until(lambda: max(found := colour(lighting, 0.3, 0.3)) - min(found) <= 3)
    lighting.get_by_role("button", name="forget this part").click()
    wait_until(lambda: decided(program, shot)["hues"] == [])


def test_a_gradient_is_laid_on_the_sky_and_darkens_it_alone(lighting: Page, program: Program, shot: int):
    frame = lighting.locator(".frame-box")
    before = colour(lighting, 0.5, 0.05), colour(lighting, 0.5, 0.9)
    work_on(lighting, "areas")
    take_up(lighting, "a gradient")
    expect(lighting.get_by_role("status").filter(has_text="Drag in the picture")).to_be_visible()
    drag(lighting, frame, (0.5, 0.1), (0.5, 0.6))
    wait_until(lambda: len(decided(program, shot)["areas"]) == 1)
    expect(lighting.locator("img.overlay-mask")).to_be_visible()
    name = lighting.get_by_role("textbox", name="its name")
    name.fill("sky")
    name.press("Enter")
    wait_until(lambda: decided(program, shot)["areas"][0]["name"] == "sky")
    lighting.get_by_role("button", name="brightness", exact=True).last.click()
    field = lighting.get_by_role("spinbutton", name="exposure", exact=True)
    field.fill("-2")
    field.press("Enter")
    wait_until(lambda: sum(colour(lighting, 0.5, 0.05)) < 0.75 * sum(before[0]))
    assert colour(lighting, 0.5, 0.9) == pytest.approx(before[1], abs=8)
    grade = decided(program, shot)["areas"][0]["grade"]
    assert grade["exposure"]["value"] == -2
    assert decided(program, shot)["exposure"]["value"] == 0
    work_on(lighting, "areas")
    handle = lighting.get_by_role("button", name="where it ends")
    handle.focus()
    lighting.keyboard.press("Shift+ArrowDown")
    wait_until(lambda: decided(program, shot)["areas"][0]["mask"]["parts"][0]["shape"]["to_y"] > 0.62)
    lighting.get_by_label("sky works", exact=True).uncheck()
    wait_until(lambda: colour(lighting, 0.5, 0.05) == pytest.approx(before[0], abs=4))


def test_a_brush_paints_wipes_and_is_undone(lighting: Page, program: Program, shot: int):
    frame = lighting.locator(".frame-box")
    work_on(lighting, "areas")
    take_up(lighting, "a brush")
    drag(lighting, frame, (0.3, 0.3), (0.5, 0.35), (0.6, 0.3))
    wait_until(lambda: len(decided(program, shot)["areas"]) == 1)
    drag(lighting, frame, (0.3, 0.7), (0.6, 0.7))

    def strokes() -> list[dict]:
        return decided(program, shot)["areas"][0]["mask"]["parts"][0]["shape"]["strokes"]

    wait_until(lambda: len(strokes()) == 2)
    lighting.get_by_label("wipe away what was painted").check()
    drag(lighting, frame, (0.4, 0.7), (0.5, 0.7))
    wait_until(lambda: len(strokes()) == 3)
    assert [one["erases"] for one in strokes()] == [False, False, True]
    assert strokes()[0]["width"] == pytest.approx(0.06, abs=0.01)
    lighting.get_by_role("region", name="Stage").focus()
    lighting.keyboard.press("Control+z")
    wait_until(lambda: len(strokes()) == 2)


def test_a_shape_that_is_drawn_before_the_page_knows_where_the_frame_lies_is_laid(
    lighting: Page, program: Program, shot: int
):
    held: list[Route] = []
    let_go = Event()
    # How often it asks is the page's affair: once let go, nothing that it asks is held.
    lighting.route("**/laid?*", lambda route: route.continue_() if let_go.is_set() else held.append(route))
    lighting.goto(f"/shots/{shot}/light")
    expect(lighting.locator(".frame-box img")).to_be_visible()
    work_on(lighting, "areas")
    take_up(lighting, "an ellipse")
    drag(lighting, lighting.locator(".frame-box"), (0.5, 0.5), (0.7, 0.6))
    wait_until(lambda: lighting.evaluate("true") and held)
    let_go.set()
    for route in held:
        route.continue_()
    (area,) = wait_until(lambda: lighting.evaluate("true") and decided(program, shot)["areas"])
    shape = area["mask"]["parts"][0]["shape"]
    assert (shape["x"], shape["x_radius"]) == (pytest.approx(0.5, abs=0.02), pytest.approx(0.2, abs=0.02))


def test_a_stroke_drawn_while_another_is_kept_is_kept_too(lighting: Page, program: Program, shot: int):
    frame = lighting.locator(".frame-box")
    work_on(lighting, "areas")
    take_up(lighting, "a brush")
    held: list[Route] = []
    lighting.route("**/stroke", lambda route: held.append(route), times=1)
    drag(lighting, frame, (0.3, 0.3), (0.5, 0.35))
    wait_until(lambda: lighting.evaluate("true") and held)  # the page is asked so that its requests are heard of
    box = frame.bounding_box()
    lighting.mouse.move(box["x"] + 0.3 * box["width"], box["y"] + 0.7 * box["height"])
    lighting.mouse.down()
    lighting.mouse.move(box["x"] + 0.5 * box["width"], box["y"] + 0.7 * box["height"], steps=4)
    held[0].continue_()
    expect(lighting.get_by_text("what was painted, 1 stroke")).to_be_visible()
    lighting.mouse.move(box["x"] + 0.6 * box["width"], box["y"] + 0.7 * box["height"], steps=4)
    lighting.mouse.up()
    expect(lighting.get_by_text("what was painted, 2 strokes")).to_be_visible()
    assert len(decided(program, shot)["areas"]) == 1


def test_a_look_is_kept_and_used_on_another_shot(lighting: Page, program: Program, shot: int):
    before = colour(lighting, 0.3, 0.3)
    work_on(lighting, "looks")
    lighting.get_by_role("button", name="Graphite").click()
    wait_until(lambda: decided(program, shot)["monochrome"])
    wait_until(lambda: max(found := colour(lighting, 0.3, 0.3)) - min(found) <= 3)
    lighting.get_by_role("textbox", name="Name of the look").fill("Ash")
    lighting.get_by_role("button", name="Keep as a look").click()
    expect(lighting.get_by_role("button", name="Ash", exact=True)).to_be_visible()
    write_lamps(program.place / "lamps-again", 8, brighter_from=4)
    other = program.gather("Lamps again", "lamps-again")[1]
    lighting.goto(f"/shots/{other}/light")
    work_on(lighting, "looks")
    lighting.get_by_role("button", name="Ash", exact=True).click()
    wait_until(lambda: decided(program, other)["monochrome"])
    lighting.keyboard.press("Control+z")
    wait_until(lambda: not decided(program, other)["monochrome"])
    lighting.get_by_role("button", name="forget the look Ash").click()
    expect(lighting.get_by_role("button", name="Ash", exact=True)).not_to_be_visible()
    assert max(before) - min(before) > 3


def test_a_shot_follows_a_picture_that_was_developed_elsewhere(
    lighting: Page, program: Program, shot: int, tmp_path: Path
):
    still = next(iter(sorted((program.place / "lamps").iterdir())))
    developed = ImageEnhance.Brightness(Image.open(still)).enhance(1.4)
    developed.save(tmp_path / f"{still.stem}.tif")
    work_on(lighting, "looks")
    lighting.keyboard.press("End")
    lighting.get_by_label("Picture that is followed").set_input_files(tmp_path / f"{still.stem}.tif")
    expect(lighting.get_by_text(f"“{still.name}” looks like “{still.stem}.tif”")).to_be_visible(timeout=20_000)
    # It is the still that is looked at now, and looks like that.
    expect(lighting.get_by_role("slider", name="Still")).to_have_attribute("aria-valuenow", "1")
    wanted = developed.getpixel((360, 160))
    wait_until(lambda: max(abs(a - b) for a, b in zip(colour(lighting, 0.75, 0.5), wanted, strict=True)) < 12)
    assert decided(program, shot)["exposure"]["value"] or decided(program, shot)["pulls"]
    developed.crop((0, 0, 100, 400)).save(tmp_path / "part.tif")
    lighting.get_by_label("Picture that is followed").set_input_files(tmp_path / "part.tif")
    expect(lighting.get_by_role("alert").first).to_contain_text("“part.tif” has another shape")
    lighting.keyboard.press("Control+z")
    wait_until(lambda: not decided(program, shot)["exposure"]["value"])


def test_real_pixels_before_and_after(lighting: Page, program: Program, shot: int):
    work_on(lighting, "surface")
    lighting.locator(".frame-box").hover(position={"x": 100, "y": 100})
    lighting.keyboard.press("z")
    expect(lighting.get_by_role("button", name="real pixels")).to_have_attribute("aria-pressed", "true")
    wait_until(lambda: lighting.locator(".frame-box img").first.evaluate("image => image.naturalWidth") >= 1900)
    lighting.keyboard.press("l")
    expect(lighting.get_by_text("as it was shot")).to_be_visible()
    lighting.keyboard.press("l")
    lighting.keyboard.press("Escape")
    expect(lighting.get_by_role("button", name="real pixels")).to_have_attribute("aria-pressed", "false")


def test_light_follows_a_course_that_is_drawn(lighting: Page, program: Program, shot: int):
    lighting.get_by_label("take out changes of exposure").check()
    lighting.get_by_role("button", name="as it is drawn").click()
    wait_until(lambda: len(decided(program, shot)["even"]["drawn"]["keyframes"]) == 2)
    plot = lighting.get_by_label("The course of light as it is drawn")
    drag(lighting, plot, (0.5, 0.5), (0.5, 0.2))
    wait_until(lambda: len(decided(program, shot)["even"]["drawn"]["keyframes"]) == 3)

    def follows() -> bool:
        kept = program.client.get(f"/api/shots/{shot}").json()
        asked = {"revision": kept["revision"]}
        planned = program.client.get(f"/api/shots/{shot}/light/course", params=asked).json()["planned"]
        keyframes = kept["decisions"]["light"]["even"]["drawn"]["keyframes"]
        return planned[18] == pytest.approx(max(one["value"] for one in keyframes), abs=0.3)

    wait_until(follows)
    plot.focus()
    lighting.keyboard.press("Delete")
    wait_until(lambda: len(decided(program, shot)["even"]["drawn"]["keyframes"]) == 2)


def test_what_is_tried_reaches_the_stage_however_much_was_painted(program: Program, shot: int):
    """Through the real server, whose requests have a longest head."""
    stroke = {"points": "ABCD" * 1990, "width": 0.1}
    area = {"name": "all of it", "mask": {"parts": [{"shape": {"kind": "brush", "strokes": [stroke] * 3}}]}}
    change = json.dumps(
        {"light": {"areas": [area] + [area | {"mask": {"parts": [{"shape": {"kind": "everything"}}]}}] * 11}}
    )
    revision = program.client.get(f"/api/shots/{shot}").json()["revision"]
    asked = {"width": 320, "revision": revision, "change": change}
    assert program.client.get(f"/api/shots/{shot}/stills/1/frame.jpg", params=asked).status_code == 200
