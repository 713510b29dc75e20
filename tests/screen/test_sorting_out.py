"""From a folder that is not a shot to files with good names, in the real page, with the folder checked on disk."""

from datetime import timedelta
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.conftest import BEGINS, exif, scene
from tests.program import Program
from tests.screen.test_whole_way import new_project


@pytest.fixture
def mess(program: Program) -> Path:
    """A test shot, a burst of twelve whose counter starts again, and a burst of nine after a pause."""
    folder = program.place / "mess"
    folder.mkdir()
    moments = [-4000, *(5 * n for n in range(12)), *(5000 + 5 * n for n in range(9))]
    for exposure, seconds in enumerate(moments):
        said = exif(BEGINS + timedelta(seconds=seconds))
        picture = Image.fromarray(scene(480, 320, exposure))
        picture.save(folder / f"LNTN{(9990 + exposure) % 9999 + 1:04}.JPG", "JPEG", quality=88, exif=said)
    return folder


def listing(folder: Path) -> dict[str, bytes]:
    return {path.name: path.read_bytes() for path in folder.iterdir()}


def test_a_mess_is_split_ordered_renamed_and_put_back(page: Page, mess: Path):
    before = listing(mess)
    new_project(page, "Out of a mess")
    page.get_by_role("button", name="mess", exact=True).click()
    page.get_by_role("button", name="Use this folder").click()
    expect(page.get_by_text("One still was taken")).to_be_visible()
    expect(page.get_by_text("9 stills make a burst apart")).to_be_visible()
    page.get_by_role("button", name="Do this").click()
    expect(page.get_by_text("1 still set aside, 1 new shot in this project.")).to_be_visible()
    brief = page.get_by_role("region", name="What will be made")
    expect(brief).to_contain_text("Take 12 of 13 stills")

    page.get_by_role("link", name="order").click()
    rows = page.locator(".list .row")
    expect(rows).to_have_count(13)
    expect(rows.nth(9)).to_contain_text("LNTN0001.JPG")
    rows.nth(3).click()
    rows.nth(5).click(modifiers=["Shift"])
    expect(page.get_by_text("Stills 4 to 6")).to_be_visible()
    rows.nth(4).drag_to(rows.nth(1), target_position={"x": 60, "y": 3})
    expect(rows.nth(1)).to_contain_text("LNTN9994.JPG")
    expect(page.get_by_role("radio", name="by hand")).to_be_checked()
    page.keyboard.press("x")
    expect(brief).to_contain_text("Take 9 of 13 stills")
    page.keyboard.press("Control+z")
    expect(brief).to_contain_text("Take 12 of 13 stills")
    page.keyboard.press("Control+z")
    expect(rows.nth(3)).to_contain_text("LNTN9994.JPG")
    page.keyboard.press("Control+Shift+z")
    expect(rows.nth(1)).to_contain_text("LNTN9994.JPG")
    page.keyboard.press("Control+z")
    expect(rows.nth(1)).to_contain_text("LNTN9992.JPG")

    page.get_by_role("button", name="Names", exact=True).click()
    page.get_by_role("checkbox", name="set aside").uncheck()
    page.get_by_role("button", name="Rename 12 files").click()
    page.get_by_role("button", name="Rename them").click()
    expect(page.get_by_text("12 files have their new names.")).to_be_visible()
    burst = [before[f"LNTN{(9991 + n) % 9999 + 1:04}.JPG"] for n in range(12)]
    after = listing(mess)
    assert [after[f"mess_{n:04}.JPG"] for n in range(1, 13)] == burst
    assert after["LNTN9991.JPG"] == before["LNTN9991.JPG"]
    assert len(after) == len(before)
    page.get_by_role("button", name="Take back the last 12").click()
    expect(page.get_by_text("12 files have their old names again.")).to_be_visible()
    assert listing(mess) == before


def test_a_shot_list_and_numbered_pictures_are_written(page: Page, program: Program, tmp_path: Path):
    new_project(page, "Written out")
    page.get_by_role("button", name="reach", exact=True).click()
    page.get_by_role("button", name="Use this folder").click()
    expect(page.get_by_text("40 stills, JPEG")).to_be_visible()
    page.get_by_role("link", name="order").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="save as CSV").click()
    listed = Path(download.value.path()).read_text()
    lines = listed.splitlines()
    assert lines[0] == "position,name,capture time,set aside"
    turned = tmp_path / "turned.csv"
    turned.write_text("\n".join(["name", *(line.split(",")[1] for line in reversed(lines[1:31]))]))
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="open …").click()
    chooser.value.set_files(turned)
    expect(page.get_by_text("30 stills in the order of the list, 10 set aside.")).to_be_visible()
    expect(page.get_by_role("region", name="What will be made")).to_contain_text("Take 30 of 40 stills")

    page.get_by_role("button", name="Names", exact=True).click()
    page.get_by_role("radio", name="as pictures").check()
    page.get_by_role("radio", name="as they were shot").check()
    page.get_by_role("radio", name="PNG").check()
    page.get_by_label("Name of the new folder").fill("numbered")
    page.get_by_role("button", name="Write 30 files").click()
    expect(page.get_by_text("30 files written into")).to_be_visible()
    written = sorted((program.place / "numbered").iterdir())
    assert [path.name for path in written] == [f"reach_{n:04}.png" for n in range(1, 31)]
    assert Image.open(written[0]).size == (600, 400)
