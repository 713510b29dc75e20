"""Travel in the real page: begun by one click, dragged on the stage, pulled by keys, played, undone."""

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import write_jpeg
from tests.patience import wait_until
from tests.program import Program


@pytest.fixture(scope="module")
def shot(program: Program) -> int:
    for number in range(30):
        write_jpeg(program.place / "travel" / f"T_{number:03}.jpg", number, (1200, 800))
    return program.gather("Travel", "travel")[1]


def views(program: Program, shot: int) -> list[dict]:
    return program.client.get(f"/api/shots/{shot}").json()["decisions"]["move"]["views"]


def test_a_push_in_is_begun_dragged_played_and_undone(page: Page, program: Program, shot: int):
    page.goto(f"/shots/{shot}/move")
    expect(page.get_by_role("status").filter(has_text="stays where the fit has it")).to_be_visible()
    page.get_by_role("button", name="push in", exact=True).click()
    wait_until(lambda: len(views(program, shot)) == 2)
    expect(page.get_by_role("region", name="What will be made")).to_contain_text("pushing in 1.20 ×")
    stage = page.get_by_label("The way of the view over the still")
    expect(stage.locator("img")).to_be_visible()
    box = stage.bounding_box()
    middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(*middle)
    page.mouse.down()
    page.mouse.move(middle[0] + 0.06 * box["width"], middle[1] + 0.04 * box["height"], steps=5)
    page.mouse.up()
    wait_until(lambda: views(program, shot)[1]["x"] > 0.54)
    assert views(program, shot)[0]["x"] == pytest.approx(0.5)
    stage.focus()
    page.keyboard.press("Shift+ArrowLeft")
    wait_until(lambda: views(program, shot)[1]["x"] < 0.545)
    page.get_by_role("button", name="play", exact=True).click()
    expect(page.get_by_role("button", name="pause", exact=True)).to_be_visible()
    wait_until(lambda: page.evaluate("document.querySelector('video')?.currentTime ?? 0") > 0)
    page.get_by_role("button", name="pause", exact=True).click()
    for _ in range(3):
        page.keyboard.press("Control+z")
    wait_until(lambda: views(program, shot) == [])


def test_a_frame_is_dragged_before_the_page_knows_where_frames_lie(page: Page, program: Program, shot: int):
    page.goto(f"/shots/{shot}/move")
    expect(page.get_by_role("status").filter(has_text="stays where the fit has it")).to_be_visible()
    page.route("**/move/travel?*", lambda route: None)
    page.get_by_role("button", name="push in", exact=True).click()
    wait_until(lambda: len(views(program, shot)) == 2)
    stage = page.get_by_label("The way of the view over the still")
    expect(stage.locator("img")).to_be_visible()
    box = stage.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 0.56 * box["width"], box["y"] + box["height"] / 2, steps=5)
    page.mouse.up()
    wait_until(lambda: views(program, shot)[1]["x"] > 0.54)
    page.unroute("**/move/travel?*")
    for _ in range(2):
        page.keyboard.press("Control+z")
    wait_until(lambda: views(program, shot) == [])


def test_one_more_view_is_put_between_and_taken_away(page: Page, program: Program, shot: int):
    page.goto(f"/shots/{shot}/move")
    page.get_by_role("button", name="drift right", exact=True).click()
    wait_until(lambda: len(views(program, shot)) == 2)
    page.get_by_role("region", name="Stage").click(position={"x": 5, "y": 300})
    for _ in range(15):
        page.keyboard.press("ArrowDown")
    page.get_by_role("button", name="put one here").click()
    wait_until(lambda: len(views(program, shot)) == 3)
    assert views(program, shot)[1]["at"] == pytest.approx(15 / 29, abs=0.02)
    closer = page.get_by_role("spinbutton", name="closer")
    closer.fill("1.8")
    closer.press("Enter")
    wait_until(lambda: views(program, shot)[1]["closeness"] == pytest.approx(1.8))
    page.get_by_role("list", name="Views, from the start").get_by_role("button", name="remove").nth(1).click()
    wait_until(lambda: len(views(program, shot)) == 2)
    page.get_by_role("button", name="at once", exact=True).click()
    wait_until(lambda: program.client.get(f"/api/shots/{shot}").json()["decisions"]["move"]["ends"] == "hard")
    page.get_by_role("button", name="stay still", exact=True).click()
    wait_until(lambda: views(program, shot) == [])
