"""Deleting, taking back and freeing in the real page, with the mouse and with keys alone."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import write_jpeg
from tests.program import Program


@pytest.fixture(scope="module")
def shot(program: Program) -> int:
    """A copied shot of a few stills, in a project of its own."""
    for number in range(6):
        write_jpeg(program.place / "slip" / f"MRW_{number}.jpg", 700 + number)
    return program.gather("Slipway", "slip", copy_files=True)[1]


def test_a_project_is_deleted_seen_under_space_and_taken_back(page: Page, program: Program, shot: int):
    page.goto("/")
    page.get_by_role("link", name=re.compile("Slipway")).click()
    page.get_by_role("button", name="delete this project").click()
    asked = page.get_by_role("dialog", name="Delete “Slipway”?")
    expect(asked).to_contain_text("1 shot with all decisions, clips and copied stills go")
    expect(asked.get_by_role("button", name="Keep it")).to_be_focused()
    page.keyboard.press("Escape")
    expect(asked).to_have_count(0)
    page.get_by_role("button", name="delete this project").click()
    asked.get_by_role("button", name="Delete the project").click()
    expect(page.get_by_role("heading", name="Projects", exact=True)).to_be_visible()
    expect(page.get_by_text("Slipway")).to_have_count(0)
    page.get_by_role("link", name="What takes how much space").click()
    page.get_by_role("button", name="Take back The project “Slipway”").click()
    expect(page.get_by_text("Nothing. What you delete is kept here for 30 days")).to_be_visible()
    page.get_by_role("link", name="Slipway").click()
    expect(page.get_by_role("heading", name="slip", exact=True)).to_be_visible()
    assert program.client.get(f"/api/shots/{shot}").status_code == 200


def test_a_shot_is_deleted_and_freed_for_good_with_keys_alone(page: Page, program: Program, shot: int):
    folder = program.client.get(f"/api/shots/{shot}").json()["folder"]
    page.goto(f"/shots/{shot}/gather")
    page.get_by_role("button", name="delete this shot").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("with the stills that were copied")
    # Nothing takes the focus a second time: a hand that knows the way need not wait.
    expect(page.get_by_role("button", name="Keep it")).to_be_focused()
    page.keyboard.press("Tab")
    expect(page.get_by_role("button", name="Delete the shot")).to_be_focused()
    assert page.get_by_role("dialog").evaluate("it => it.getAnimations().length") == 0
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Slipway")).to_be_visible()
    page.goto("/space")
    expect(page.get_by_text("The shot “slip” of “Slipway”")).to_be_visible()
    free = page.get_by_role("button", name=re.compile("Free .* of what is deleted"))
    free.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Keep it")).to_be_focused()
    page.keyboard.press("Tab")
    expect(page.get_by_role("button", name="Free it for good")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing. What you delete is kept here for 30 days")).to_be_visible()
    assert not Path(folder).exists()
    assert len(list((program.place / "slip").iterdir())) == 6
