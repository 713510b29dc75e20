"""A card is emptied in the page, from looking at it to shots in the project, by mouse; it says whether to wipe it."""

import subprocess

import pytest
from playwright.sync_api import expect

from tests.conftest import write_jpeg
from tests.screen.test_accessibility import violations


@pytest.fixture
def card(program):
    """A card in the location: two shots, and a picture that is none."""
    folder = program.place / "Evening card"
    for number in range(12):
        write_jpeg(folder / "DCIM" / "100MRWOK" / f"MRW_{number + 1:04}.JPG", number, (300, 200))
        write_jpeg(folder / "DCIM" / "100MRWOK" / f"MRW_{number + 13:04}.JPG", number + 700, (300, 200))
    (folder / "MISC").mkdir()
    (folder / "MISC" / "notes.txt").write_text("wind from the west")
    return folder


def test_a_card_becomes_shots_and_it_is_said_that_it_may_be_wiped(page, program, card):
    project = program.client.post("/api/projects", json={"name": "Oxbow"}).json()["id"]
    page.goto(f"/projects/{project}")
    page.get_by_role("link", name="empty a card safely").click()
    source = page.get_by_role("region", name="From which card")
    source.get_by_role("button", name="Evening card").click()
    source.get_by_role("button", name="Look what is on it").click()
    shots = page.get_by_role("list", name="Shots on the card")
    expect(shots.get_by_role("listitem")).to_have_count(3)
    expect(shots).to_contain_text("2031-05-04, 10:28 to 10:29")
    expect(shots).to_contain_text("→ 2031-05-04_shot02/MRW_0013.JPG … MRW_0024.JPG")
    page.get_by_label("are called").check()
    expect(shots).to_contain_text("→ 2031-05-04_shot01/2031-05-04_shot01_0001.JPG … 2031-05-04_shot01_0012.JPG")
    assert not (found := violations(page)), "\n".join(found)
    # What lies on the card itself is refused, and said.
    target = page.get_by_role("group", name="the copy")
    target.get_by_role("button", name="Evening card").click()
    copy = page.get_by_role("button", name="Copy and prove 25 files")
    copy.click()
    expect(page.get_by_role("alert")).to_contain_text("lies on the card itself")
    target.get_by_role("navigation", name="Folder").get_by_role("button").first.click()
    target.get_by_label("Name of the folder").fill("Evening, copied")
    copy.click()
    cards = page.get_by_role("region", name="Cards")
    expect(cards).to_contain_text("The card may be wiped: all its 25 files")
    cards.get_by_role("button", name="Make 2 shots of it").click()
    made = page.get_by_role("region", name="Shots")
    expect(made.get_by_role("heading", name="2031-05-04_shot02")).to_be_visible()
    expect(cards.get_by_role("button", name="of it")).to_have_count(0)
    for folder in (program.place / "Evening, copied").iterdir():
        check = ["sha256sum", "--check", "--strict", "--quiet", "hashes.sha256"]
        assert subprocess.run(check, cwd=folder, check=False).returncode == 0
