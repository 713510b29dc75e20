"""Checking in the real page: the findings, looking closely, remedies, and what the brief and the tail say of them."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect

from tests.api.test_dust import write_dusty
from tests.core.image.test_dust import shot as dusty_stills
from tests.patience import wait_until
from tests.planted import GAP, MISFIRE, SOFT, STILLS, write_misfires, write_planted
from tests.program import Program
from tests.screen.test_whole_way import new_project
from yarnkite.core.render.decisions import Decisions


@pytest.fixture(scope="module")
def shot(program: Program) -> int:
    """The shot with a misfire, a soft still and a gap, gathered once."""
    write_planted(program.place / "fenland")
    return program.gather("Fenland", "fenland")[1]


@pytest.fixture
def checking(page: Page, program: Program, shot: int) -> Page:
    """The check step of the shot, decided as it was at first."""
    program.decide(shot, **Decisions().model_dump(mode="json"))
    page.goto(f"/shots/{shot}/check")
    program.wait_until(page.get_by_text("3 things to look at").first.is_visible)
    return page


def region(page: Page, name: str):
    return page.get_by_role("region", name=name)


def brief_says(page: Page, text: str) -> None:
    expect(region(page, "What will be made")).to_contain_text(text)


def source_of(page: Page) -> str:
    return page.locator(".stage img").first.get_attribute("src") or ""


def test_findings_lead_to_remedies_and_the_brief_and_the_tail_follow(checking: Page):
    page = checking
    slider = page.get_by_role("slider", name="Still shown")
    region(page, "1 misfire").get_by_role("button", name=re.compile("FEN")).click()
    expect(slider).to_have_attribute("aria-valuenow", str(MISFIRE + 1))
    stage = region(page, "Stage")
    expect(stage.locator("figure img")).to_have_count(3)

    bridge = region(page, "1 misfire").get_by_role("button", name="bridge")
    bridge.hover()
    expect(stage.get_by_text("as bridged")).to_be_visible()
    brief_says(page, f"Take {STILLS} stills")
    bridge.click()
    expect(region(page, "1 misfire").get_by_text("settled").first).to_be_visible()
    expect(page.locator(".tail .mended")).to_have_count(1)
    expect(page.get_by_text("2 things to look at")).to_be_visible()

    region(page, "1 loss of sharpness").get_by_role("button", name="set aside").click()
    brief_says(page, f"Take {STILLS - 1} of {STILLS} stills")
    expect(page.locator(".tail .aside-band")).to_have_count(1)
    page.keyboard.press("Control+z")
    brief_says(page, f"Take {STILLS} stills")
    expect(page.locator(".tail .aside-band")).to_have_count(0)
    expect(page.locator(".tail .mended")).to_have_count(1)

    region(page, "1 gap").get_by_role("button", name="put in").click()
    brief_says(page, f"{STILLS} stills and 2 put in")
    expect(page.get_by_text("One thing to look at")).to_be_visible()
    region(page, "1 gap").get_by_role("button", name="take back").click()
    brief_says(page, f"Take {STILLS} stills")


def test_what_is_settled_by_now_moves_no_button_when_it_is_told_late(checking: Page):
    page = checking
    soft, gap = region(page, "1 loss of sharpness"), region(page, "1 gap")
    before = gap.bounding_box()
    soft.get_by_role("button", name="set aside").click()
    expect(soft.get_by_text("settled").first).to_be_visible()
    assert gap.bounding_box() == before
    held: list[Route] = []
    page.route("**/check", lambda route: held.append(route), times=1)
    page.keyboard.press("Control+z")
    brief_says(page, f"Take {STILLS} stills")
    wait_until(lambda: page.evaluate("true") and held)
    button = gap.get_by_role("button", name="put in").bounding_box()
    page.mouse.move(button["x"] + button["width"] / 2, button["y"] + button["height"] / 2)
    page.mouse.down()
    held[0].continue_()
    expect(soft.get_by_text("settled")).to_have_count(0)
    page.mouse.up()
    brief_says(page, f"{STILLS} stills and 2 put in")
    assert gap.bounding_box() == before


# The sheet of the step that is opened while nothing answers.
FETCHED = "performance.getEntriesByType('resource').filter(({ name }) => name.includes('FitSheet')).length > 1"


def test_an_outage_is_told_and_what_was_decided_meanwhile_is_kept_after_it(checking: Page, program: Program):
    page = checking
    shot = int(page.url.split("/shots/")[1].split("/")[0])
    stage = region(page, "Stage")
    page.wait_for_function(FETCHED)
    page.context.set_offline(True)
    # A still that nobody looked at before: what the browser keeps is shown without the program.
    page.keyboard.press("End")
    expect(stage.get_by_text("The program does not answer.").first).to_be_visible()
    page.get_by_role("link", name=re.compile("^fit")).click()
    page.get_by_role("button", name="mirror", exact=True).click()
    expect(page.get_by_role("button", name="mirror", exact=True)).to_have_attribute("aria-pressed", "true")
    brief_says(page, "The program does not answer.")
    page.context.set_offline(False)
    wait_until(lambda: program.client.get(f"/api/shots/{shot}").json()["decisions"]["fit"]["mirror"])
    expect(page.get_by_text("The program does not answer")).to_have_count(0)
    expect(page.get_by_role("img", name=f"Still {STILLS} as the clip shows it")).to_be_visible()


def test_stepping_blinking_and_real_pixels_by_keys(checking: Page):
    page = checking
    slider = page.get_by_role("slider", name="Still shown")
    page.keyboard.press("n")
    expect(slider).to_have_attribute("aria-valuenow", str(MISFIRE + 1))
    page.keyboard.press("n")
    expect(slider).to_have_attribute("aria-valuenow", str(SOFT + 1))
    page.keyboard.press("ArrowDown")
    expect(slider).to_have_attribute("aria-valuenow", str(SOFT + 2))
    page.keyboard.press("ArrowUp")
    page.keyboard.press("p")
    expect(slider).to_have_attribute("aria-valuenow", str(MISFIRE + 1))

    page.keyboard.press("b")
    stage = region(page, "Stage")
    expect(stage.get_by_role("button", name="blink")).to_have_attribute("aria-pressed", "true")
    expect(stage.get_by_alt_text(f"Still {MISFIRE}", exact=True)).to_be_visible()
    expect(stage.get_by_alt_text(f"Still {MISFIRE + 1}", exact=True)).to_be_visible()
    page.keyboard.press("b")
    expect(stage.get_by_alt_text(f"Still {MISFIRE + 1}", exact=True)).to_be_visible()

    box = stage.get_by_alt_text(f"Still {MISFIRE + 1}", exact=True).bounding_box()
    assert box
    page.mouse.move(box["x"] + 0.7 * box["width"], box["y"] + 0.6 * box["height"])
    with page.expect_response(re.compile(r"/stills/9/spot\.jpg.*x=0\.(69|7).*y=0\.(59|6)")):
        page.keyboard.press("z")
    with page.expect_response(re.compile(r"/stills/10/spot\.jpg.*x=0\.(69|7).*y=0\.(59|6)")):
        page.keyboard.press("ArrowDown")
    expect(stage.get_by_alt_text(f"Real pixels of still {MISFIRE + 2}")).to_be_visible()
    with page.expect_response(re.compile(r"/stills/10/spot\.jpg.*x=0\.6[0-6]")):
        page.mouse.down()
        page.mouse.move(box["x"] + 0.7 * box["width"] + 80, box["y"] + 0.6 * box["height"], steps=4)
        page.mouse.up()
    page.keyboard.press("Escape")
    expect(stage.get_by_alt_text(f"Still {MISFIRE + 2}", exact=True)).to_be_visible()


def test_a_stretch_is_accepted_and_the_whole_of_it_is_seen(checking: Page):
    page = checking
    tail = page.get_by_role("slider", name="Still shown")
    page.keyboard.press("Home")
    for _ in range(4):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("[")
    page.keyboard.press("End")
    for _ in range(6):
        page.keyboard.press("ArrowUp")
    page.keyboard.press("]")
    page.get_by_role("button", name="use only 5 to 30").click()
    brief_says(page, f"Take 26 of {STILLS} stills")
    expect(page.locator(".tail .unused")).to_have_count(2)
    stage = region(page, "Stage")
    stage.get_by_role("button", name="activity").click()
    expect(stage.get_by_alt_text("activity of stills 5 to 30 together")).to_be_visible()
    with page.expect_download() as download:
        stage.get_by_role("button", name="save PNG").click()
    assert Path(download.value.path()).read_bytes().startswith(b"\x89PNG")
    stage.get_by_role("button", name="first, middle, last").click()
    expect(stage.get_by_role("button", name=re.compile("^still (5|17|30)$"))).to_have_count(3)
    page.get_by_role("button", name="use the whole shot").click()
    brief_says(page, f"Take {STILLS} stills")
    expect(tail).to_have_attribute("aria-valuemax", str(STILLS))


def test_plots_and_notes(checking: Page):
    page = checking
    page.get_by_label("First plot").select_option("movement")
    page.get_by_label("Second plot").select_option("interval")
    tail = page.get_by_role("slider", name="Still shown")
    box = tail.bounding_box()
    assert box
    page.mouse.move(box["x"] + 60, box["y"] + box["height"] * (GAP + 0.5) / STILLS)
    expect(page.get_by_title("interval", exact=True)).to_have_text("15 s")
    page.keyboard.press("Home")
    note = page.get_by_placeholder("for yourself")
    note.fill("gull at the left edge")
    note.press("Tab")
    expect(region(page, "Stage").get_by_text("“gull at the left edge”")).to_be_visible()
    page.reload()
    expect(region(page, "Stage").get_by_text("“gull at the left edge”")).to_be_visible()


def test_of_many_findings_twenty_are_listed_and_settled_ones_fold_away(page: Page, program: Program):
    write_misfires(program.place / "misfires", 24)
    new_project(page, "Misfires")
    page.get_by_role("button", name="misfires", exact=True).click()
    page.get_by_role("button", name="Use this folder").click()
    program.wait_until(page.get_by_text("175 stills, JPEG").first.is_visible)
    page.get_by_role("link", name=re.compile("^check")).click()
    many = region(page, "24 misfires")
    expect(many.get_by_role("listitem")).to_have_count(20)
    expect(page.locator(".tail .plot .found")).to_have_count(24)
    many.get_by_role("button", name="and 4 more like this").click()
    expect(many.get_by_role("listitem")).to_have_count(24)
    many.locator("header").get_by_role("button", name="bridge").click()
    settled = region(page, "24 misfires")
    expect(settled.get_by_role("listitem")).to_have_count(0)
    expect(page.get_by_text("All that was found is settled.")).to_be_visible()
    expect(page.locator(".tail .plot .found.settled")).to_have_count(24)
    settled.get_by_role("button", name="24 settled").click()
    settled.get_by_role("button", name="take back").first.click()
    expect(region(page, "1 misfire").get_by_role("button", name="23 settled")).to_be_visible()


def test_dust_is_marked_by_keys_looked_at_where_it_showed_most_and_brought_back(page: Page, program: Program):
    write_dusty(program.place / "haze", dusty_stills("clouds")[1][:14])
    shot = program.gather("Haze", "haze")[1]
    page.goto(f"/shots/{shot}/check")
    page.get_by_role("button", name="mark a spot").click()
    tool = page.get_by_role("application", name="Where the dust is")
    expect(tool).to_be_focused()
    for key, times in (("Shift+ArrowLeft", 2), ("ArrowLeft", 2), ("Shift+ArrowUp", 4), ("ArrowUp", 2)):
        for _ in range(times):
            page.keyboard.press(key)
    page.keyboard.press("+")
    page.keyboard.press("Enter")
    spots = page.get_by_role("list", name="Spots that are removed")
    expect(spots.get_by_text("from the left and 33 % from the top: took")).to_be_visible()
    expect(tool.locator(".removed")).to_have_count(1)
    # Where nothing is dark, it says so, and nothing is changed.
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing there is darker")).to_be_visible()
    page.keyboard.press("Escape")
    expect(tool).to_have_count(0)
    spots.get_by_role("button", name=re.compile(r"^\d+$")).first.click()
    expect(region(page, "Stage").get_by_alt_text(re.compile("Real pixels of still"))).to_be_visible()
    spots.get_by_role("button", name="bring back").click()
    expect(spots).to_have_count(0)
    page.get_by_role("button", name="undo").click()
    expect(spots).to_have_count(1)
