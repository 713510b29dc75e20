"""Shots of an evening treated like one of them, taken back and taken again, and their clips, in the real page."""

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import write_jpeg
from tests.program import Program


@pytest.fixture
def evening(program: Program, request: pytest.FixtureRequest) -> tuple[int, dict[str, int]]:
    """A project of three shots, the first of them decided about."""
    project = int(program.client.post("/api/projects", json={"name": request.node.name}).json()["id"])
    shots = {}
    for name in ("weir", "bank", "mill"):
        for number in range(8):
            write_jpeg(program.place / "evening" / name / f"E_{number}.jpg", number, (300, 200))
        where = {"location": program.place.name, "path": f"evening/{name}"}
        begun = program.client.post(f"/api/projects/{project}/shots", json=where).json()
        program.wait_for_job(begun["job"]["id"])
        shots[name] = begun["shot_id"]
    decisions = program.client.get(f"/api/shots/{shots['weir']}").json()["decisions"]
    fit = decisions["fit"] | {"size": {"width": 160, "height": 160}}
    program.decide(shots["weir"], fit=fit, light=decisions["light"] | {"even": {"flicker": True}})
    return project, shots


def hold_of(program: Program, shot: int) -> int:
    return int(program.client.get(f"/api/shots/{shot}").json()["decisions"]["pace"]["hold"])


def test_shots_are_treated_like_one_of_them_and_made_in_one_queue(page: Page, program: Program, evening):
    project, shots = evening
    page.goto(f"/projects/{project}")
    for name in ("bank", "mill"):
        page.get_by_label(f"tick {name}").check()
    many = page.get_by_role("region", name="The ticked shots")
    expect(many.get_by_text("2 shots ticked")).to_be_visible()
    expect(many.get_by_text("2 clips, about")).to_be_visible()
    many.get_by_label("to be like").select_option(label="“weir”")
    will = many.get_by_role("list", name="What they will be")
    expect(will.get_by_text("160 × 160")).to_have_count(2)
    expect(will.get_by_text("its light evened")).to_have_count(2)
    # Without its light: the sentences follow.
    many.get_by_role("checkbox", name="light").uncheck()
    expect(will.get_by_text("its light evened")).to_have_count(0)
    many.get_by_role("checkbox", name="light").check()
    expect(will.get_by_text("its light evened")).to_have_count(2)
    many.get_by_role("button", name="Treat 2 shots like that").click()
    alike = page.get_by_role("region", name="Treated alike")
    expect(alike).to_contain_text("“bank” and “mill” are like “weir” in light, fit, move, pace and format")
    expect(page.get_by_role("region", name="Shots").get_by_text("160 × 160")).to_have_count(3)
    page.get_by_role("button", name="Make their clips").click()
    made = [lambda shot=shots[name]: program.client.get(f"/api/shots/{shot}/clips").json() for name in ("bank", "mill")]
    for clips in made:
        assert program.wait_until(clips)[0]["differences"] == []
    # Asked once more, nothing is made twice.
    many.get_by_role("button", name="Make their clips").click()
    expect(many.get_by_text("is made as it is decided")).to_have_count(2)
    assert [len(clips()) for clips in made] == [1, 1]


def test_a_treatment_is_taken_again_and_taken_back_by_keys_alone(page: Page, program: Program, evening):
    project, shots = evening
    page.goto(f"/projects/{project}")
    page.get_by_label("tick bank").focus()
    page.keyboard.press("Space")
    page.get_by_label("tick mill").focus()
    page.keyboard.press("Space")
    like = page.get_by_label("to be like")
    like.focus()
    page.keyboard.press("ArrowDown")
    treat = page.get_by_role("button", name="Treat 2 shots like that")
    expect(treat).to_be_enabled()
    treat.focus()
    page.keyboard.press("Enter")
    alike = page.get_by_role("region", name="Treated alike")
    expect(alike).to_contain_text("are like “weir”")
    decisions = program.client.get(f"/api/shots/{shots['weir']}").json()["decisions"]
    program.decide(shots["weir"], pace=decisions["pace"] | {"hold": 3})
    page.reload()
    expect(alike).to_contain_text("which was changed since")
    alike.get_by_role("button", name="take it again").focus()
    page.keyboard.press("Enter")
    # The same shots like the same one again: that is said once.
    expect(alike.get_by_text("which was changed since")).to_have_count(0)
    program.wait_until(lambda: hold_of(program, shots["mill"]) == 3)
    # The newest first: only what it did goes, and then what the one before did.
    alike.get_by_role("button", name="take back").focus()
    page.keyboard.press("Enter")
    program.wait_until(lambda: hold_of(program, shots["mill"]) == 1)
    expect(alike.get_by_text("which was changed since")).to_have_count(1)
    alike.get_by_role("button", name="take back").click()
    expect(alike).to_have_count(0)
    size = program.client.get(f"/api/shots/{shots['mill']}").json()["decisions"]["fit"]["size"]
    assert size == {"width": 1920, "height": 1080}
