"""Every view against WCAG 2.2 AA, by axe-core: no violation on any."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.planted import write_planted
from tests.program import Program

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
# Not of the standard, but what people who listen to a page find their way by.
BESIDES = ["page-has-heading-one", "region", "heading-order", "landmark-one-main"]


@pytest.fixture(scope="module")
def shot(program: Program) -> tuple[int, int]:
    """A project and a shot of it with findings, a clip, and a file that was left out."""
    folder = write_planted(program.place / "fen")
    (folder / "notes.txt").write_text("where I stood")
    project, shot = program.gather("Fen", "fen")
    planned = {
        "name": "Fen again",
        "starts": "2027-06-21T20:30",
        "spot": {"latitude": 52, "longitude": 0},
        "subject": "shadows",
    }
    program.client.post(f"/api/projects/{project}/plans", json=planned).raise_for_status()
    shown = program.client.get(f"/api/shots/{shot}").json()
    decisions = shown["decisions"]
    decisions["fit"]["size"] = {"width": 320, "height": 180}
    body = {"seen": shown["revision"], "decisions": decisions}
    revision = program.client.put(f"/api/shots/{shot}/decisions", json=body).json()["revision"]
    job = program.client.post(f"/api/shots/{shot}/encode", json={"seen": revision}).json()["id"]
    assert program.wait_for_job(job)["state"] == "finished"
    return project, shot


SETTLED = """() => document.fonts.status === "loaded"
  && [...document.images].every((image) => image.complete)
  && document.getAnimations().every((one) => one.playState !== "running" || one.effect.getTiming().iterations ===
  Infinity)"""


def settle(page: Page) -> None:
    """Wait until what was asked for is there and nothing fades in any more: half-faded text has too little contrast."""
    for _ in range(2):
        page.wait_for_function(SETTLED)
        page.evaluate("() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))")


def violations(page: Page, within: str = "body") -> list[str]:
    """What axe-core finds by day and in a dark room, in the whole page or within what lies over it."""
    # An answer that comes after that may enable a button: its colours are then there at once, not on their way.
    page.add_style_tag(content="* { transition: none !important; animation: none !important; }")
    found = []
    for appearance in ("light", "dark"):
        page.emulate_media(color_scheme=appearance)
        settle(page)
        page.evaluate(AXE.read_text())
        options = {"runOnly": {"type": "tag", "values": RULES}, "rules": {rule: {"enabled": True} for rule in BESIDES}}
        found += page.evaluate(
            "async ([where, options]) => (await axe.run(where, options)).violations", [within, options]
        )
    page.emulate_media(color_scheme="light")
    return [f"{one['id']}: {node['target']} {node['failureSummary']}" for one in found for node in one["nodes"]]


VIEWS = {
    "projects": ("/", "heading", "Projects"),
    "project": ("/projects/{project}", "heading", "Fen"),
    "space": ("/space", "heading", "Made again when needed"),
    "gather": ("/shots/{shot}/gather", "heading", "What was gathered"),
    "order": ("/shots/{shot}/order", "heading", "Order"),
    "check": ("/shots/{shot}/check", "toolbar", "How to look"),
    "light": ("/shots/{shot}/light", "heading", "Even light"),
    "fit": ("/shots/{shot}/fit", "heading", "Fit"),
    "pace": ("/shots/{shot}/pace", "heading", "Pace"),
    "encode": ("/shots/{shot}/encode", "heading", "What is it for?"),
    "plan": ("/projects/{project}/plan", "heading", "What follows"),
    "capture": ("/projects/{project}/capture", "img", "What the camera sees now"),
    "now": ("/now", "heading", "Where are the stills?"),
    "queue": ("/queue", "heading", "The queue"),
}


# Each of these stands for the others that are built of the same parts.
OFTEN = {"projects", "check", "light", "encode", "capture"}


@pytest.mark.parametrize("view", [one if one in OFTEN else pytest.param(one, marks=pytest.mark.long) for one in VIEWS])
def test_a_view_has_no_violation(page: Page, shot: tuple[int, int], view: str):
    address, role, name = VIEWS[view]
    page.goto(address.format(project=shot[0], shot=shot[1]))
    expect(page.get_by_role(role, name=name).first).to_be_visible()
    assert not (found := violations(page)), "\n".join(found)


def test_what_opens_over_a_view_has_no_violation(page: Page, shot: tuple[int, int]):
    page.goto(f"/shots/{shot[1]}/encode")
    page.get_by_role("button", name="jobs", exact=True).click()
    expect(page.get_by_role("dialog")).to_be_visible()
    assert not (found := violations(page, "[role=dialog]")), "\n".join(found)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Delete", exact=False).first.click()
    expect(page.get_by_role("dialog", name="Delete this clip?")).to_be_visible()
    assert not (found := violations(page, "[role=dialog]")), "\n".join(found)
    page.get_by_role("button", name="Keep it").click()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    expect(page.get_by_role("dialog")).to_have_count(1)
    assert not (found := violations(page, "[role=dialog]")), "\n".join(found)


@pytest.mark.parametrize(
    "tab",
    [pytest.param("order", marks=pytest.mark.long), "titles", pytest.param("sound", marks=pytest.mark.long), "finish"],
)
def test_a_tab_of_a_reel_has_no_violation(page: Page, program: Program, reel: int, tab: str):
    page.goto(f"/reels/{reel}/{tab}")
    expect(page.get_by_role("img", name="Frame 1 of the reel")).to_be_visible()
    worked = {"order": "fen", "titles": "Low water", "sound": "water 1"}.get(tab)
    if worked:
        page.get_by_label("Sheet").get_by_role("button", name=worked).first.click()
    assert not (found := violations(page)), "\n".join(found)


@pytest.fixture(scope="module")
def reel(program: Program, shot: tuple[int, int]) -> int:
    """A reel of the shot twice, with a dissolve, a title, and a sound."""
    body = {"name": "Fens", "shots": [shot[1], shot[1]]}
    made = program.client.post(f"/api/projects/{shot[0]}/reels", json=body).json()
    decisions = made["decisions"]
    decisions["parts"][0]["join"] = {"kind": "dissolve", "frames": 5, "colour": "#000000"}
    decisions["titles"] = [{"id": 1, "text": "Low water", "first": 0}]
    body = {"seen": made["revision"], "decisions": decisions}
    program.client.put(f"/api/reels/{made['id']}/decisions", json=body).raise_for_status()
    wish = {"kind": "water", "seconds": 8, "seed": 1}
    job = program.client.post(f"/api/reels/{made['id']}/made-sounds", json=wish).json()
    assert program.wait_for_job(job["id"])["state"] == "finished"
    return made["id"]


LOOKS = ["all stills", "before, it, after", "first, middle, last", "mean of all", "real pixels"]


@pytest.mark.long
@pytest.mark.parametrize("look", LOOKS)
def test_each_way_to_look_has_no_violation(page: Page, shot: tuple[int, int], look: str):
    page.goto(f"/shots/{shot[1]}/check")
    page.get_by_role("toolbar", name="How to look").get_by_role("button", name=look).click()
    assert not (found := violations(page)), "\n".join(found)


def test_dark_is_the_system_s_wish_or_a_choice_that_is_kept(page: Page):
    page.emulate_media(color_scheme="light")
    page.goto("/")
    root, button = page.locator("html"), page.get_by_role("button", name="dark", exact=True)
    expect(root).to_have_attribute("data-appearance", "light")
    page.emulate_media(color_scheme="dark")
    expect(root).to_have_attribute("data-appearance", "dark")
    expect(button).to_have_attribute("aria-pressed", "true")
    page.emulate_media(color_scheme="dark", media="print")
    assert page.evaluate("getComputedStyle(document.body).color") == "rgb(35, 38, 43)"
    page.emulate_media(color_scheme="dark", media="screen")
    assert page.evaluate("getComputedStyle(document.body).color") == "rgb(201, 196, 186)"
    button.click()
    expect(root).to_have_attribute("data-appearance", "light")
    page.reload()
    expect(root).to_have_attribute("data-appearance", "light")
    # Back at what the system wishes, it is followed again.
    button.click()
    page.emulate_media(color_scheme="light")
    expect(root).to_have_attribute("data-appearance", "light")
    assert page.evaluate("getComputedStyle(document.body).backgroundColor") == "rgb(244, 242, 238)"
