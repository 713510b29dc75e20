"""All stills as a sheet, in the real page: chosen by mouse and keys, set aside, bridged, moved, made a shot."""

import pytest
from playwright.sync_api import Page, expect

from tests.program import Program


@pytest.fixture
def shot(program: Program, request: pytest.FixtureRequest) -> int:
    return program.gather(request.node.name[:100], "reach")[1]


def check_of(program: Program, shot: int) -> dict:
    return program.client.get(f"/api/shots/{shot}").json()["decisions"]["check"]


def ids_of(program: Program, shot: int) -> list[int]:
    return [still["id"] for still in program.client.get(f"/api/shots/{shot}/stills").json()["stills"]]


def opened(page: Page, shot: int, step: str):
    page.goto(f"/shots/{shot}/{step}")
    page.get_by_role("button", name="all stills").click()
    sheet = page.get_by_role("listbox", name="All stills")
    expect(sheet.get_by_role("option").first).to_be_visible()
    return sheet


def test_runs_are_chosen_by_keys_alone_and_set_aside_and_bridged(page: Page, program: Program, shot: int):
    ids = ids_of(program, shot)
    sheet = opened(page, shot, "check")
    expect(sheet).to_be_focused()
    slider = page.get_by_role("slider", name="Still shown")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    expect(sheet.get_by_role("option", selected=True)).to_have_count(3)
    # What is looked at is the same on the tail.
    expect(slider).to_have_attribute("aria-valuenow", "4")
    page.keyboard.press("x")
    expect(sheet.get_by_text("set aside")).to_have_count(3)
    assert check_of(program, shot)["aside"] == sorted(ids[1:4])
    acts = page.get_by_role("toolbar", name="What to do with the chosen stills")
    acts.get_by_role("button", name="bridge").click()
    expect(sheet.get_by_text("bridged")).to_have_count(3)
    found = check_of(program, shot)
    assert (found["aside"], found["bridged"]) == ([], sorted(ids[1:4]))
    acts.get_by_role("button", name="repeat").click()
    expect(sheet.get_by_text("repeated")).to_have_count(3)
    acts.get_by_role("button", name="as it is").click()
    expect(sheet.get_by_text("repeated")).to_have_count(0)
    assert check_of(program, shot)["repeated"] == []
    # Down is a row on, and back up is where it was; the last still is brought into sight.
    sheet.focus()
    page.keyboard.press("ArrowDown")
    below = int(slider.get_attribute("aria-valuenow") or 0)
    assert below > 5
    page.keyboard.press("ArrowUp")
    expect(slider).to_have_attribute("aria-valuenow", "4")
    # A run that was let go of does not go on.
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Escape")
    expect(sheet.get_by_role("option", selected=True)).to_have_count(1)
    page.keyboard.press("Shift+ArrowRight")
    expect(sheet.get_by_role("option", selected=True)).to_have_count(2)
    page.keyboard.press("End")
    expect(sheet.get_by_role("option", name=f"still {len(ids)},")).to_be_in_viewport()
    page.keyboard.press("Enter")
    expect(sheet).to_have_count(0)
    expect(slider).to_have_attribute("aria-valuenow", str(len(ids)))


def test_stills_are_dragged_to_another_place_and_made_a_shot_of_their_own(page: Page, program: Program, shot: int):
    ids = ids_of(program, shot)
    sheet = opened(page, shot, "order")
    sheet.get_by_role("option", name="still 2,").click()
    sheet.get_by_role("option", name="still 3,").click(modifiers=["Shift"])
    expect(sheet.get_by_role("option", selected=True)).to_have_count(2)
    there = sheet.get_by_role("option", name="still 6,")
    box = there.bounding_box()
    assert box is not None
    # Behind its middle is after it.
    sheet.get_by_role("option", name="still 3,").drag_to(there, target_position={"x": box["width"] - 5, "y": 20})
    program.wait_until(lambda: ids_of(program, shot)[4:6] == ids[1:3])
    assert ids_of(program, shot)[:4] == [ids[0], *ids[3:6]]
    expect(sheet.get_by_role("option", name="still 6,")).to_have_attribute("aria-selected", "true")
    acts = page.get_by_role("toolbar", name="What to do with the chosen stills").last
    acts.get_by_role("button", name="a shot of its own").click()
    project = program.client.get(f"/api/shots/{shot}").json()["project_id"]
    program.wait_until(lambda: len(program.client.get(f"/api/projects/{project}").json()["shots"]) == 2)
    first, second = program.client.get(f"/api/projects/{project}").json()["shots"]
    assert (first["stills"], second["stills"]) == (len(ids) - 2, 2)
    assert ids_of(program, second["id"]) == ids[1:3]
    assert second["name"] == f"{first['name']} 2"


def test_stills_are_rated_shown_by_their_ratings_and_the_rest_set_aside(page: Page, program: Program, shot: int):
    ids = ids_of(program, shot)
    sheet = opened(page, shot, "check")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    acts = page.get_by_role("toolbar", name="What to do with the chosen stills")
    acts.get_by_label("Rating").select_option("★★★★")
    expect(sheet.get_by_text("★★★★")).to_have_count(2)
    page.keyboard.press("Escape")
    sheet.get_by_role("option", name="still 6,").click()
    acts.get_by_label("Rating").select_option("rejected")
    expect(sheet.get_by_text("rejected")).to_have_count(1)
    bar = page.get_by_role("toolbar", name="Which stills are shown")
    bar.get_by_label("Stills of which rating").select_option("★★★ and more")
    expect(sheet.get_by_role("option")).to_have_count(2)
    expect(bar.get_by_role("status")).to_have_text(f"2 of {len(ids)} shown")
    # What is hidden is not chosen with what is shown on either side of it.
    bar.get_by_label("Stills of which rating").select_option("not rated")
    sheet.get_by_role("option", name="still 1,").click()
    sheet.get_by_role("option", name="still 4,").click(modifiers=["Shift"])
    sheet.focus()
    page.keyboard.press("x")
    expect(sheet.get_by_text("set aside")).to_have_count(2)
    assert check_of(program, shot)["aside"] == sorted([ids[0], ids[3]])
    sheet.focus()
    page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("slider", name="Still shown")).to_have_attribute("aria-valuenow", "1")
    bar.get_by_label("Stills of which rating").select_option("rated")
    bar.get_by_role("button", name="set all others aside").click()
    program.wait_until(lambda: len(check_of(program, shot)["aside"]) == len(ids) - 2)
    assert not {ids[1], ids[2]} & set(check_of(program, shot)["aside"])
    # What was rated is written beside the stills, once it was seen what.
    page.get_by_role("button", name="Write the ratings beside the stills").click()
    expect(page.get_by_role("dialog")).to_contain_text("3 sidecars are new")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
