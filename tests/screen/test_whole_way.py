"""From an empty project to a downloaded clip, in the real page."""

import json
import re
import subprocess
from fractions import Fraction

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import write_jpeg
from tests.program import Program
from tests.screen.fields import pick


@pytest.fixture(scope="module")
def own_folder(tmp_path_factory):
    folder = tmp_path_factory.mktemp("own") / "Evening tide"
    for number in range(36):
        write_jpeg(folder / f"MRW_{number + 1}.jpg", number, (1200, 800))
    (folder / "MRW_5.xmp").write_text("<settings/>")
    (folder / "MRW_37.jpg").write_bytes((folder / "MRW_36.jpg").read_bytes()[:5000])
    return folder


def new_project(page: Page, name: str) -> None:
    page.goto("/")
    page.get_by_label("A new project is called").fill(name)
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("heading", name="Bring in the stills of a shot")).to_be_visible()


def probe(path) -> dict:
    asked = ["ffprobe", "-v", "error", "-count_frames", "-show_streams", "-of", "json", str(path)]
    (stream,) = json.loads(subprocess.run(asked, capture_output=True, check=True).stdout)["streams"]
    return stream


def test_from_an_empty_project_to_a_downloaded_clip(page: Page, program: Program, own_folder, tmp_path):
    new_project(page, "Evening")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Choose a folder").click()
    chooser.value.set_files(own_folder)

    expect(page.get_by_role("heading", name="What was gathered")).to_be_visible()
    expect(page.get_by_text("36 stills, JPEG, 1200 × 800")).to_be_visible()
    expect(page.get_by_text("“MRW_37.jpg” ends early")).to_be_visible()
    page.get_by_role("button", name="1 sidecar file").click()
    expect(page.get_by_text("“MRW_5.xmp” was left out: it is a sidecar file")).to_be_visible()
    brief = page.get_by_role("region", name="What will be made")
    expect(brief).to_contain_text("Take 36 stills, one frame each at 25 fps, cover 1920 × 1080")
    expect(brief).to_contain_text("36 frames, 1.4 s (00:00:01:11)")

    page.get_by_role("button", name="Go on to fit").click()
    page.get_by_role("button", name="1280 × 720", exact=True).click()
    expect(brief).to_contain_text("cover 1280 × 720 keeping the middle")
    expect(brief).to_contain_text("Enlarges the stills 1.1×")
    page.get_by_role("button", name="bottom", exact=True).click()
    expect(brief).to_contain_text("keeping the lower part")
    expect(brief).to_contain_text("Loses 16 % at the top of each still")

    brief.get_by_role("button", name="25 fps").click()
    pick(page.get_by_role("dialog"), "Frames per second", "29.97")
    expect(brief).to_contain_text("29.97 fps")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Go on to move").click()
    page.get_by_role("button", name="Go on to pace").click()
    page.get_by_label("each still stays for").fill("2")
    page.get_by_label("each still stays for").press("Enter")
    expect(brief).to_contain_text("two frames each")
    expect(brief).to_contain_text("72 frames, 2.4 s (00:00:02;12)")

    page.get_by_role("button", name="Go on to encode").click()
    page.get_by_role("button", name="Encode the clip").click()
    program.wait_until(page.get_by_text("verified").first.is_visible)
    video = page.locator("video")
    expect(video).to_be_visible()
    played = video.evaluate(
        "v => { v.muted = true; return v.play().then(() => [v.videoWidth, v.videoHeight, v.duration]) }"
    )
    assert played == [1280, 720, pytest.approx(72 * 1001 / 30000, abs=0.01)]

    with page.expect_download() as download:
        page.get_by_role("link", name="Download").click()
    assert download.value.suggested_filename == "Evening-tide_1280x720_29.97fps.mp4"
    download.value.save_as(tmp_path / "clip.mp4")
    stream = probe(tmp_path / "clip.mp4")
    assert int(stream["nb_read_frames"]) == 72
    assert Fraction(stream["avg_frame_rate"]) == Fraction(30000, 1001)
    assert (stream["width"], stream["height"], stream["color_space"]) == (1280, 720, "bt709")

    page.reload()
    expect(page.get_by_text("verified")).to_be_visible()
    expect(brief).to_contain_text("two frames each at 29.97 fps, cover 1280 × 720 keeping the lower part")


def test_pointing_at_a_folder_and_looking_through_it_with_keys_wheel_and_drag(page: Page):
    new_project(page, "Reach")
    page.get_by_role("button", name="reach", exact=True).click()
    expect(page.get_by_text("40 files from MRW_1.jpg to MRW_40.jpg")).to_be_visible()
    page.get_by_role("button", name="Use this folder").click()
    expect(page.get_by_text("40 stills, JPEG")).to_be_visible()
    page.get_by_role("link", name="order").click()
    stage = page.get_by_role("region", name="Stage")
    expect(stage).to_contain_text("still 1 of 40")
    expect(page.get_by_role("button", name="MRW_2.jpg")).to_contain_text("2031-05-04 09:30:05")

    for key, still in (("ArrowDown", 2), ("Shift+ArrowDown", 12), ("ArrowUp", 11), ("End", 40), ("Home", 1)):
        page.keyboard.press(key)
        expect(stage).to_contain_text(f"still {still} of 40")
    tail = page.get_by_role("slider", name="Still shown")
    box = tail.bounding_box()
    assert box
    page.mouse.move(box["x"] + 30, box["y"] + box["height"] * 0.5)
    expect(stage).to_contain_text("still 21 of 40")
    page.mouse.down()
    page.mouse.move(box["x"] + 30, box["y"] + box["height"] * 0.76, steps=5)
    page.mouse.up()
    expect(stage).to_contain_text("still 31 of 40")
    page.mouse.wheel(0, 120)
    page.mouse.move(700, 400)
    expect(stage).to_contain_text("still 32 of 40")
    expect(stage.get_by_role("img")).to_have_attribute("alt", "Still 32")
    page.get_by_role("button", name="MRW_30.jpg").hover()
    expect(stage).to_contain_text("still 30 of 40")


@pytest.mark.long
def test_the_whole_decision_can_be_made_without_a_mouse(page: Page, program: Program):
    new_project(page, "Keys only")
    page.get_by_role("button", name="reach", exact=True).press("Enter")
    expect(page.get_by_text("40 files from MRW_1.jpg")).to_be_visible()
    page.get_by_role("button", name="Use this folder").press("Enter")
    expect(page.get_by_role("heading", name="What was gathered")).to_be_visible()
    brief = page.get_by_role("region", name="What will be made")
    page.keyboard.press("5")
    expect(page.get_by_role("link", name="fit")).to_have_attribute("aria-current", "step")
    page.get_by_role("button", name="1:1").press("Enter")
    expect(brief).to_contain_text("1080 × 1080")
    page.get_by_role("group", name="Where the picture is held").get_by_role("button", name="left", exact=True).press(
        "Enter"
    )
    expect(brief).to_contain_text("keeping the left part")
    page.get_by_role("heading", name="Shape and size").click()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/move$"))
    expect(page.get_by_role("heading", name="Travel", exact=True)).to_be_visible()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/pace$"))
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("8")
    expect(page.get_by_role("button", name="Encode the clip")).to_be_enabled()
    page.keyboard.press("Enter")
    program.wait_until(page.get_by_text("verified").first.is_visible)


def test_an_odd_size_is_refused_with_a_sentence_and_nothing_changes(page: Page):
    new_project(page, "Odd")
    page.get_by_role("button", name="reach", exact=True).click()
    page.get_by_role("button", name="Use this folder").click()
    page.get_by_role("button", name="Go on to fit").click()
    page.get_by_label("Width").press("Control+a")
    page.keyboard.type("1919")
    expect(page.get_by_text("1919 × 1080 has an odd side.")).to_be_visible()
    expect(page.get_by_role("button", name="Use", exact=True)).to_be_disabled()
    expect(page.get_by_role("region", name="Stage").get_by_role("alert")).to_have_count(0)
    page.get_by_role("button", name="use 1920 × 1080").click()
    expect(page.get_by_label("Width")).to_have_value("1920")
    expect(page.get_by_role("region", name="What will be made")).to_contain_text("1920 × 1080")


def test_a_broken_connection_does_not_send_again_what_has_arrived(page: Page, tmp_path):
    folder = tmp_path / "Broken"
    for number in range(12):
        write_jpeg(folder / f"MRW_{number + 1}.jpg", number, (900, 600))
    sent: list[str] = []
    page.on("request", lambda request: sent.append(request.url) if request.method == "PATCH" else None)
    failed: list[str] = []
    # What was answered before the connection broke: whatever else was on its way then is sent again.
    arrived: list[str] = []
    page.on("response", lambda got: arrived.append(got.url) if got.request.method == "PATCH" and not failed else None)

    def break_once(route):
        if route.request.url.endswith("/files/6") and not failed:
            failed.append(route.request.url)
            route.abort()
        else:
            route.continue_()

    page.route("**/api/uploads/*/files/*", break_once)
    new_project(page, "Broken")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Choose a folder").click()
    chooser.value.set_files(folder)
    expect(page.get_by_text("12 stills, JPEG")).to_be_visible()
    assert failed
    numbers = [int(url.rsplit("/", 1)[1]) for url in sent]
    assert set(numbers) == set(range(12))
    assert arrived
    assert all(sent.count(url) == 1 for url in arrived)


def test_two_windows_do_not_overwrite_each_other(page: Page):
    new_project(page, "Two windows")
    page.get_by_role("button", name="reach", exact=True).click()
    page.get_by_role("button", name="Use this folder").click()
    page.get_by_role("button", name="Go on to fit").click()
    other = page.context.new_page()
    other.goto(page.url)
    other.get_by_role("button", name="2560 × 1440").click()
    expect(other.get_by_role("region", name="What will be made")).to_contain_text("2560 × 1440")
    page.get_by_role("button", name="Show all of it").click()
    expect(page.get_by_role("alert")).to_contain_text("In another window fit was changed meanwhile")
    expect(page.get_by_role("region", name="What will be made")).to_contain_text("cover 2560 × 1440")


def test_a_shot_whose_counter_starts_again_is_in_order_and_another_order_can_be_chosen(page: Page, program):
    numbers = [*range(9990, 10000), *range(1, 9), *range(11, 21)]
    for position, number in enumerate(numbers):
        # Two exposures are lost after number 8, and their time with them.
        taken = write_jpeg(program.place / "wrap" / f"LNTN{number:04}.JPG", position + (2 if position >= 18 else 0))
    assert taken.exists()
    new_project(page, "Wrap")
    page.get_by_role("button", name="wrap", exact=True).click()
    page.get_by_role("button", name="Use this folder").click()
    expect(page.get_by_text("28 stills, JPEG")).to_be_visible()
    page.get_by_role("link", name="order").click()
    expect(page.get_by_text("Counter starts again after 9999")).to_be_visible()
    expect(page.get_by_role("radio", name="counter")).to_be_checked()
    stage = page.get_by_role("region", name="Stage")
    expect(stage).to_contain_text("LNTN9990.JPG")
    page.get_by_role("button", name="2 stills are missing after “LNTN0008.JPG”").click()
    expect(stage).to_contain_text("still 19 of 28")
    expect(stage).to_contain_text("LNTN0011.JPG")
    page.get_by_role("radio", name="name as text").check()
    page.keyboard.press("Home")
    expect(stage).to_contain_text("LNTN0001.JPG")
    page.get_by_role("radio", name="counter").check()
    expect(stage).to_contain_text("LNTN9990.JPG")


def jobs_under_way(program: Program) -> list[dict]:
    return [job for job in program.client.get("/api/jobs").json() if job["state"] in ("waiting", "running")]


def test_renaming_shows_the_table_asks_renames_on_disk_and_takes_back(page: Page, program):
    folder = program.place / "names"
    for number in range(1, 8):
        write_jpeg(folder / f"IMG {number}.jpg", number)
    (folder / "IMG 3.xmp").write_text("<settings/>")
    before = sorted(path.name for path in folder.iterdir())
    new_project(page, "Names")
    page.get_by_role("button", name="names", exact=True).click()
    page.get_by_role("button", name="Use this folder").click()
    expect(page.get_by_text("7 stills, JPEG")).to_be_visible()
    page.get_by_role("link", name="order").click()
    page.get_by_role("button", name="Names", exact=True).click()
    expect(page.get_by_text("names_0007.jpg")).to_be_visible()
    page.get_by_role("button", name="Take counter out").click()
    expect(page.get_by_role("button", name="7 names cannot be")).to_be_disabled()
    page.get_by_role("button", name="counter", exact=True).click()
    # Nothing is renamed while the shot is worked on.
    shot = int(page.url.split("/")[-2])
    program.wait_until(lambda: not [job for job in jobs_under_way(program) if job["shot_id"] == shot])
    page.get_by_role("button", name="Rename 8 files").click()
    assert sorted(path.name for path in folder.iterdir()) == before
    page.get_by_role("button", name="Rename them").click()
    expect(page.get_by_text("8 files have their new names.")).to_be_visible()
    after = sorted(path.name for path in folder.iterdir())
    assert after == sorted([*(f"names_{n:04}.jpg" for n in range(1, 8)), "names_0003.xmp"])
    page.get_by_role("button", name="Take back the last 8").click()
    expect(page.get_by_text("8 files have their old names again.")).to_be_visible()
    assert sorted(path.name for path in folder.iterdir()) == before
