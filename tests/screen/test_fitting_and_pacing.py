"""Fitting and pacing in the real page: dragging, levelling, a wanted length, playing and editing meanwhile,
versions."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.patience import wait_until
from tests.program import Program
from tests.screen.fields import pick
from yarnkite.core.render.decisions import Decisions

# Frames of the clip bar's timecode, once it has left where it was.
MOVING = "([before]) => document.querySelector('.code').textContent !== before"


@pytest.fixture(scope="module")
def shot(program: Program) -> int:
    """A shot of forty stills, gathered once."""
    return program.gather("Quayside", "reach")[1]


@pytest.fixture
def fitting(page: Page, program: Program, shot: int) -> Page:
    """The fit step of the shot, decided as it was at first."""
    program.decide(shot, **Decisions().model_dump(mode="json"))
    page.goto(f"/shots/{shot}/fit")
    expect(page.get_by_role("img", name="Still 1 as the clip shows it")).to_be_visible()
    return page


def decided(page: Page, program: Program) -> dict:
    shot = int(re.search(r"/shots/(\d+)", page.url)[1])
    return program.client.get(f"/api/shots/{shot}").json()


def brief(page: Page):
    return page.get_by_role("region", name="What will be made")


def frame(page: Page):
    return page.get_by_role("group", name="The picture in its frame")


def timecode(page: Page) -> str:
    return page.get_by_label("Timecode").inner_text()


def plays(page: Page) -> None:
    """Wait until the timecode moves and the video is what is seen."""
    page.wait_for_function(MOVING, arg=[timecode(page)])
    expect(page.locator(".stage video.unseen")).to_have_count(0)


def test_the_crop_is_dragged_nudged_and_undone(fitting: Page, program: Program):
    page = fitting
    box = frame(page).bounding_box()
    assert box
    middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(*middle)
    page.mouse.down()
    page.mouse.move(middle[0] + 40, middle[1] + 20, steps=4)
    page.mouse.up()
    expect(brief(page)).to_contain_text("from the bottom cut off")
    # 200 pixels of the frame can be moved (125 rows of 675, enlarged to 1080); dragged down, more of the top shows.
    moved = 20 * 1080 / box["height"]
    wait_until(lambda: decided(page, program)["decisions"]["fit"]["y"] != 0.5)
    fit = decided(page, program)["decisions"]["fit"]
    assert fit["y"] == pytest.approx(0.5 - moved / 200, abs=0.01)
    assert fit["x"] == 0.5

    frame(page).focus()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowUp")
    expect(page.get_by_role("slider", name="Still shown")).to_have_attribute("aria-valuenow", "1")
    wait_until(lambda: decided(page, program)["decisions"]["fit"]["y"] == pytest.approx(fit["y"] + 2 / 200, abs=2e-4))
    page.get_by_role("button", name="undo").click()
    page.get_by_role("button", name="undo").click()
    expect(brief(page)).to_contain_text("keeping the middle")
    assert decided(page, program)["decisions"]["fit"]["y"] == 0.5


def test_what_is_dragged_is_left_where_it_was_by_escape(fitting: Page, program: Program):
    page = fitting
    before = decided(page, program)
    box = frame(page).bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + 20, steps=4)
    expect(brief(page)).to_contain_text("from the bottom cut off")
    page.keyboard.press("Escape")
    expect(brief(page)).to_contain_text("keeping the middle")
    page.mouse.move(box["x"] + 40, box["y"] + 40, steps=4)
    page.mouse.up()
    expect(brief(page)).to_contain_text("keeping the middle")
    now = decided(page, program)
    assert (now["revision"], now["decisions"]["fit"]) == (before["revision"], before["decisions"]["fit"])


def test_coming_closer_with_the_wheel_keeps_what_is_under_the_pointer(fitting: Page, program: Program):
    page = fitting
    box = frame(page).bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] * 0.25, box["y"] + box["height"] * 0.5)
    page.mouse.wheel(0, -400)
    expect(brief(page)).to_contain_text("× closer")
    wait_until(lambda: decided(page, program)["decisions"]["fit"]["zoom"] > 1.5)
    fit = decided(page, program)["decisions"]["fit"]
    assert fit["zoom"] == pytest.approx(1.616, abs=0.01)
    # The spot at a quarter of the width stays: left + width × ¼ is the same before and after.
    shown = 1 / fit["zoom"]
    assert fit["x"] * (1 - shown) + shown / 4 == pytest.approx(0.25, abs=0.005)


def test_a_line_drawn_along_the_horizon_levels_the_picture(fitting: Page, program: Program):
    page = fitting
    page.get_by_role("button", name="level along a line").click()
    box = frame(page).bounding_box()
    assert box
    page.mouse.move(box["x"] + 100, box["y"] + 200)
    page.mouse.down()
    page.mouse.move(box["x"] + 500, box["y"] + 214, steps=5)
    page.mouse.up()
    expect(brief(page)).to_contain_text(re.compile(r"levelled by (2|1\.99|2\.01)°"))
    assert decided(page, program)["decisions"]["fit"]["level"] == pytest.approx(-2.0, abs=0.02)
    page.get_by_role("button", name="mirror").click()
    expect(brief(page)).to_contain_text("mirrored and levelled by")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(brief(page)).not_to_contain_text("levelled")


def test_sizes_slips_surrounds_and_the_whole_shot(fitting: Page):
    page = fitting
    page.get_by_role("button", name="9:16").click()
    expect(brief(page)).to_contain_text("cover 1080 × 1920")
    page.get_by_label("Width").press("Control+a")
    page.keyboard.type("1082")
    expect(page.get_by_text("1082 × 1920 looks like 1080 × 1920")).to_be_visible()
    page.get_by_role("button", name="Use it anyway").click()
    expect(brief(page)).to_contain_text("cover 1082 × 1920")
    brief(page).get_by_role("button", name="make it 1080 × 1920").click()
    expect(brief(page)).to_contain_text("cover 1080 × 1920")

    page.get_by_role("button", name="Show all of it").click()
    expect(brief(page)).to_contain_text("with black edges")
    page.get_by_role("button", name="take it from the picture").click()
    whole = page.get_by_role("img", name="Still 1 whole")
    expect(whole).to_be_visible()
    whole.click(position={"x": 20, "y": 20}, force=True)
    expect(brief(page)).to_contain_text(re.compile("edges in #[0-9a-f]{6}"))
    page.get_by_label("the same picture, enlarged and blurred").check()
    expect(brief(page)).to_contain_text("with a blurred surround")

    page.get_by_role("button", name="all around the frame").click()
    for under in ("brightest", "mean", "activity"):
        page.get_by_role("button", name=under, exact=True).click()
        expect(page.get_by_role("img", name=f"{under} of the whole shot")).to_be_visible()
    page.get_by_role("toolbar").get_by_role("button", name="first, middle, last").click()
    expect(page.get_by_role("img", name="The middle still as the clip shows it")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("img", name="Still 1 as the clip shows it")).to_be_visible()


def test_this_revision_against_an_earlier_one(fitting: Page):
    page = fitting
    page.get_by_role("group", name="Where the picture is held").get_by_role("button", name="bottom", exact=True).click()
    expect(brief(page)).to_contain_text("keeping the lower part")
    page.keyboard.press("b")
    expect(page.get_by_role("img", name=re.compile(r"as revision \d+ shows it"))).to_be_visible()
    page.keyboard.press("b")
    page.get_by_role("button", name="split").click()
    line = page.get_by_role("slider", name="Where the earlier picture ends")
    expect(line).to_have_attribute("aria-valuenow", "50")
    line.press("ArrowRight")
    expect(line).to_have_attribute("aria-valuenow", "52")
    earlier = page.get_by_role("img", name=re.compile(r"The frame in revision \d+"))
    expect(earlier).to_have_attribute("style", re.compile(r"inset\(0px 48% 0px 0px\)"))
    page.get_by_role("button", name="side by side").click()
    expect(page.get_by_role("img", name="The frame as it is now")).to_be_visible()


def test_a_wanted_length_is_reached_by_choosing_a_way(fitting: Page, program: Program):
    page = fitting
    page.get_by_role("link", name="pace").click()
    page.get_by_label("Wanted length").fill("2 s")
    page.get_by_role("button", name="Find ways").click()
    ways = page.get_by_role("list", name="Ways to this length")
    expect(ways.get_by_role("listitem").first).to_be_visible()
    ways.get_by_role("button", name=re.compile("1.25 frames each")).click()
    expect(brief(page)).to_contain_text("2.0 s")
    assert decided(page, program)["brief"]["frames"] == 50
    # The clip's end is dragged: what comes of it is said and shown meanwhile, and kept where it is let go of.
    seconds = decided(page, program)["brief"]["seconds"]
    end = page.get_by_role("slider", name="Length of the clip")
    expect(end).to_have_attribute("aria-valuenow", f"{seconds:.2f}")
    place = end.bounding_box()
    page.mouse.move(place["x"] + 2, place["y"] + 5)
    page.mouse.down()
    page.mouse.move(place["x"] - 60, place["y"] + 5, steps=4)
    shorter = float(end.get_attribute("aria-valuenow"))
    assert 0.3 * seconds < shorter < 0.9 * seconds
    expect(ways.get_by_role("listitem").first).to_be_visible()
    assert decided(page, program)["brief"]["seconds"] == seconds
    page.mouse.up()
    wait_until(lambda: abs(decided(page, program)["brief"]["seconds"] - shorter) < 0.05)
    # Arrow keys do what the pointer does.
    expect(end).not_to_have_attribute("aria-valuenow", f"{seconds:.2f}")
    before = float(end.get_attribute("aria-valuenow"))
    end.focus()
    page.keyboard.press("Shift+ArrowRight")
    wait_until(lambda: abs(decided(page, program)["brief"]["seconds"] - before - 1) < 0.05)
    page.get_by_label("Wanted length").fill("soon")
    page.get_by_role("button", name="Find ways").click()
    expect(page.get_by_text("“soon” is not a length")).to_be_visible()


def test_holds_in_seconds_curves_and_thinning(fitting: Page, program: Program):
    page = fitting
    page.get_by_role("link", name="pace").click()
    page.get_by_label("the last one for").fill("2 s")
    page.get_by_label("the last one for").press("Enter")
    expect(brief(page)).to_contain_text("the last one 50 frames")
    page.get_by_label("each still stays for").fill("0.1 s")
    page.get_by_label("each still stays for").press("Enter")
    expect(page.get_by_text("0.1 s would be 2.50 frames")).to_be_visible()
    expect(brief(page)).to_contain_text("three frames each")
    surface = page.get_by_label("Speed over the shot")
    surface.scroll_into_view_if_needed()
    surface.click(position={"x": 60, "y": 120})
    surface.click(position={"x": 260, "y": 40})
    expect(brief(page)).to_contain_text("along a speed curve")
    wait_until(
        lambda: [knot["speed"] < 1 for knot in decided(page, program)["decisions"]["pace"]["curve"]] == [True, False]
    )
    surface.press("ArrowUp")
    surface.press("Delete")
    page.get_by_role("button", name="constant speed again").click()
    expect(brief(page)).not_to_contain_text("along a speed curve")
    pick(page, "Which stills are used", "every so many")
    expect(brief(page)).to_contain_text("every second one")
    expect(page.locator(".tail .plot g")).not_to_have_count(0)


def test_playing_editing_while_playing_and_stopping(fitting: Page, program: Program):
    page = fitting
    page.get_by_role("link", name="pace").click()
    expect(page.get_by_text("frame 1 of 40")).to_be_visible()
    page.keyboard.press("Space")
    plays(page)
    page.get_by_role("button", name="there and back").click()
    expect(page.get_by_text(re.compile("of 78$"))).to_be_visible()
    plays(page)
    page.get_by_role("link", name="fit").click()
    plays(page)
    page.get_by_role("group", name="Where the picture is held").get_by_role("button", name="top", exact=True).click()
    expect(brief(page)).to_contain_text("keeping the upper part")
    plays(page)
    expect(page.get_by_role("status").filter(has_text=re.compile("frame"))).to_be_visible()

    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="play", exact=True)).to_be_visible()
    expect(page.locator(".stage video.unseen")).to_have_count(1)
    stopped = timecode(page)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_label("Timecode")).not_to_have_text(stopped)
    page.get_by_role("slider", name="Frame of the clip").click(position={"x": 2, "y": 10})
    expect(page.get_by_text("frame 1 of 78")).to_be_visible()
    expect(page.get_by_label("Timecode")).to_have_text("00:00:00:00")
    expect(page.get_by_label("Timecode")).to_have_attribute("title", re.compile("the last pair counts frames, 0 to 24"))


def test_the_clip_and_the_shot_are_gone_through_apart(fitting: Page):
    page = fitting
    page.get_by_role("link", name="pace").click()
    page.get_by_role("button", name="last to first").click()
    expect(brief(page)).to_contain_text("last to first")
    bar = page.get_by_role("slider", name="Frame of the clip")
    tail = page.get_by_role("slider", name="Still shown")
    expect(bar).to_have_attribute("aria-valuenow", "40")
    page.keyboard.press("ArrowLeft")
    expect(bar).to_have_attribute("aria-valuenow", "39")
    expect(tail).to_have_attribute("aria-valuenow", "2")
    page.keyboard.press("ArrowDown")
    expect(tail).to_have_attribute("aria-valuenow", "3")
    expect(bar).to_have_attribute("aria-valuenow", "38")
    page.keyboard.press("End")
    expect(bar).to_have_attribute("aria-valuenow", "1")


def test_an_upright_version_beside_the_first_and_a_preset_for_it(fitting: Page, program: Program):
    page = fitting
    page.get_by_role("button", name="one version").click()
    page.get_by_label("Name of a new version").fill("upright")
    page.get_by_role("button", name="Begin a version").click()
    expect(page.get_by_role("button", name="upright ▾")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="9:16").click()
    expect(brief(page)).to_contain_text("1080 × 1920")

    page.get_by_role("button", name="presets").click()
    page.get_by_label("Name of the preset").fill("tall")
    page.get_by_role("button", name="Keep as it is now").click()
    expect(page.get_by_role("button", name=re.compile("^tall 1080 × 1920, 25 fps"))).to_be_visible()
    page.keyboard.press("Escape")

    page.get_by_role("button", name="upright ▾").click()
    page.get_by_role("button", name="first version", exact=True).click()
    expect(brief(page)).to_contain_text("1920 × 1080")
    expect(page.get_by_role("button", name="first version ▾")).to_be_visible()
    page.get_by_role("button", name="presets").click()
    page.get_by_role("button", name=re.compile("^tall")).click()
    expect(brief(page)).to_contain_text("1080 × 1920")
    page.keyboard.press("Control+z")
    expect(brief(page)).to_contain_text("1920 × 1080")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="upright ▾")).to_be_visible()
    expect(brief(page)).to_contain_text("1080 × 1920")
