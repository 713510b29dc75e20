"""From a plan to a clip of what a camera takes: the plan's page, the capture's page, and the short way, in the real
page."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.camera.conftest import fault
from tests.conftest import write_jpeg
from tests.patience import wait_until
from tests.program import Program
from yarnkite.camera.simulated import SimulatedProcess


@pytest.fixture(scope="module")
def project(program: Program) -> int:
    return int(program.client.post("/api/projects", json={"name": "Quay by night"}).json()["id"])


def plan_of(program: Program, project: int) -> dict:
    return program.client.get(f"/api/projects/{project}/plans").json()[0]


def test_a_shot_is_planned_by_one_sentence_with_numbers_that_are_locked(page: Page, program: Program, project: int):
    page.goto(f"/projects/{project}")
    page.get_by_role("link", name="plan shots").click()
    page.get_by_role("button", name="add a shot").click()
    clip = page.get_by_role("textbox", name="the clip's length")
    expect(clip).to_have_value("12.0 s")
    clip.fill("20")
    clip.press("Enter")
    stills = page.get_by_role("textbox", name="the number of stills")
    expect(stills).to_have_value("500")
    expect(page.get_by_text("Moved with it: the number of stills, the shooting time.")).to_be_visible()
    page.get_by_role("button", name="moves: the number of stills").click()
    shooting = page.get_by_role("textbox", name="the shooting time")
    shooting.fill("1 h")
    shooting.press("Enter")
    expect(page.get_by_role("textbox", name="the interval")).to_have_value("7.2 s")
    expect(stills).to_have_value("500")
    expect(page.get_by_text("500 whole stills make 59 min 53 s of the 1 h 00 min asked for.")).to_be_visible()
    page.get_by_role("button", name="moves: the rate").click()
    clip.fill("1 min")
    clip.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text(
        "follows from the rate and the number of stills, which are locked"
    )
    page.get_by_label("high or calm clouds").check()
    page.get_by_label("starts").fill("2027-06-21T20:30")
    page.get_by_label("starts").press("Tab")
    page.get_by_label("latitude, north +").fill("50.4")
    page.get_by_label("latitude, north +").press("Tab")
    expect(page.get_by_text("sunset", exact=False).first).to_be_visible()
    expect(page.get_by_role("img", name="The light over the shoot")).to_be_visible()
    # A tab that saw an earlier state is told, and shows how it is now.
    kept = plan_of(program, project)
    other = kept["planned"] | {"name": "Changed elsewhere", "locked": []}
    program.client.put(f"/api/plans/{kept['id']}", json={"seen": kept["number"], "planned": other}).raise_for_status()
    clip.fill("8")
    clip.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("another tab")
    expect(page.get_by_role("textbox", name="Name of the planned shot")).to_have_value("Changed elsewhere")
    with page.expect_download() as download:
        page.get_by_role("link", name="into a calendar").click()
    assert "BEGIN:VEVENT" in download.value.path().read_text()
    page.get_by_role("button", name="take off").click()
    expect(page.get_by_text("is off the list")).to_be_visible()
    page.get_by_role("button", name="put it back").click()
    expect(page.get_by_role("textbox", name="Name of the planned shot")).to_have_value("Changed elsewhere")


def test_what_is_being_typed_stays_when_the_answer_to_something_else_comes(page: Page, program: Program, project: int):
    plan = program.client.post(f"/api/projects/{project}/plans", json={"name": "Typed"}).json()
    page.goto(f"/projects/{project}/plan/{plan['id']}")
    held = []
    page.route(
        "**/api/plans/*", lambda route: held.append(route) if route.request.method == "PUT" else route.fallback()
    )
    page.get_by_label("starts").fill("2027-06-21T20:30")
    page.get_by_label("starts").press("Tab")
    latitude = page.get_by_label("latitude, north +")
    latitude.fill("50.4")
    wait_until(lambda: page.evaluate("true") and held)
    page.unroute("**/api/plans/*")
    held[0].fallback()
    expect(page.get_by_role("navigation", name="Planned shots")).to_contain_text("2027-06-21 20:30")
    expect(latitude).to_have_value("50.4")
    latitude.press("Tab")
    wait_until(lambda: (plan_with(program, project, plan["id"])["spot"] or {}).get("latitude") == 50.4)


def plan_with(program: Program, project: int, number: int) -> dict:
    return next(one for one in program.client.get(f"/api/projects/{project}/plans").json() if one["id"] == number)[
        "planned"
    ]


@pytest.mark.long
def test_a_plan_is_shot_with_a_pause_and_an_absent_camera_played_and_encoded(
    page: Page, program: Program, project: int, device: SimulatedProcess
):
    # More stills than are waited for: it is stopped once all has been seen, however long a machine takes for that.
    planned = {"name": "Quay at work", "stills": 5000, "interval_ms": 500}
    plan = program.client.post(f"/api/projects/{project}/plans", json=planned).json()
    page.goto(f"/projects/{project}/plan/{plan['id']}")
    page.get_by_role("link", name="Shoot it from here").click()
    expect(page.get_by_role("img", name="What the camera sees now")).to_be_visible()
    expect(page.get_by_role("status").first).to_have_text(
        "Take 5,000 stills, one every 0.5 s: that takes 41 min 40 s and gives 3 min 20.0 s at 25 fps."
    )
    page.get_by_role("button", name="thirds").click()
    page.get_by_label("exposure", exact=True).select_option(label="1/50 s")
    page.get_by_role("button", name="Start shooting").click()
    expect(page.get_by_role("status").first).to_contain_text("of 5,000 stills, one every 0.5 s")
    shot = int(page.url.rsplit("/", 1)[1])
    # The tail grows by itself, and a reload of the page loses nothing.
    wait_until(lambda: len(program.client.get(f"/api/shots/{shot}/stills").json()["stills"]) >= 4)
    page.reload()
    expect(page.get_by_role("button", name="pause")).to_be_visible()
    page.get_by_role("button", name="pause").click()
    expect(page.get_by_text("It rests: stills are left out until it goes on.")).to_be_visible()
    expect(page.get_by_text("Left out on wish.").first).to_be_visible()
    page.get_by_role("button", name="go on").click()
    fault(device, "away")
    expect(page.get_by_text("The camera does not answer").first).to_be_visible()
    fault(device, "none")
    taken = len(program.client.get(f"/api/shots/{shot}/stills").json()["stills"])
    wait_until(lambda: len(program.client.get(f"/api/shots/{shot}/stills").json()["stills"]) >= taken + 2)
    page.get_by_role("link", name="play the clip so far").click()
    expect(page.get_by_role("heading", name="Pace")).to_be_visible()
    page.goto(f"/projects/{project}/capture/{shot}")
    page.get_by_role("button", name="stop").click()
    program.wait_until(page.get_by_text("stills taken", exact=False).first.is_visible)
    stills = program.client.get(f"/api/shots/{shot}/stills").json()["stills"]
    expect(page.get_by_text(f"{len(stills)} stills taken", exact=False)).to_be_visible()
    assert len({one["name"] for one in stills}) == len(stills)
    page.get_by_role("link", name="encode").click()
    page.get_by_role("button", name="Encode", exact=False).first.click()
    clip = program.wait_until(lambda: program.client.get(f"/api/shots/{shot}/clips").json())[0]
    assert clip["frames"] == len(stills)
    assert clip["differences"] == []


def test_enter_on_a_link_of_the_short_way_follows_it_and_begins_nothing(page: Page, program: Program):
    for number in range(6):
        write_jpeg(program.place / "quay-now" / f"MRW_{number + 1}.jpg", number, (640, 420))
    page.goto("/now")
    page.get_by_role("button", name="quay-now").click()
    page.get_by_role("button", name="Go on").click()
    for heading in ("How long should it be?", "Which shape?", "Even the light, steady it?"):
        expect(page.get_by_role("heading", name=heading)).to_be_visible()
        page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Title and music?")).to_be_visible()
    expect(page.get_by_role("button", name="Make the clip")).to_be_enabled()
    with page.expect_request("**/api/shots/*/stills*") as followed:
        page.get_by_role("link", name="all steps of this shot").focus()
        page.keyboard.press("Enter")
        page.wait_for_url("**/fit")
    shot = int(followed.value.url.split("/shots/")[1].split("/")[0])
    assert not [
        one for one in program.client.get("/api/jobs").json() if one["shot_id"] == shot and one["kind"] == "encode"
    ]


def test_the_short_way_leads_from_a_folder_to_a_verified_clip_in_eight_clicks(page: Page, program: Program):
    folder = program.place / "harbour-now"
    for number in range(24):
        write_jpeg(folder / f"MRW_{number + 1}.jpg", number, (640, 420))
    clicks = 0

    def click(what):
        nonlocal clicks
        clicks += 1
        what.click()

    page.goto("/")
    click(page.get_by_role("link", name="Make a clip now"))
    click(page.get_by_role("button", name="harbour-now"))
    expect(page.get_by_text("24 stills, MRW_1.jpg to MRW_24.jpg")).to_be_visible()
    click(page.get_by_role("button", name="Go on"))
    expect(page.get_by_role("heading", name="How long should it be?")).to_be_visible()
    # From here on Enter goes on; the answers are given already.
    expect(page.get_by_role("status").first).to_contain_text("Take 24 stills")
    page.get_by_label("How long, such as 12 s").fill("2 s")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Which shape?")).to_be_visible()
    click(page.get_by_text("1:1"))
    expect(page.get_by_role("status").first).to_contain_text("1080 × 1080")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Even the light, steady it?")).to_be_visible()
    page.keyboard.press("Enter")
    page.get_by_label("Title").fill("Harbour")
    page.get_by_label("Music").select_option("calm")
    with page.expect_request("**/clip-now") as asked:
        page.get_by_label("Title").press("Enter")
    assert asked.value.post_data_json["answers"]["title"] == "Harbour"
    program.wait_until(page.get_by_text("The clip is done", exact=False).first.is_visible)
    assert clicks <= 8
    expect(page.get_by_text("frames compared", exact=False)).to_be_visible()
    # What came of it is ordinary: a reel of a shot, all of whose steps are open.
    reel = program.client.get("/api/projects").json()[0]
    assert reel["name"] == "harbour-now"
    click(page.get_by_role("link", name="open all steps of the shot"))
    brief = page.get_by_role("region", name="What will be made")
    expect(brief).to_contain_text("1080 × 1080")
    expect(brief).to_contain_text("its light evened")
    shot = int(page.url.split("/")[4])
    decisions = program.client.get(f"/api/shots/{shot}").json()["decisions"]
    assert decisions["light"]["even"]["flicker"]
    made = program.client.get(f"/api/projects/{reel['id']}/reels").json()[0]
    opened = program.client.get(f"/api/reels/{made['id']}").json()["decisions"]
    assert [title["text"] for title in opened["titles"]] == ["Harbour"]
    assert len(opened["sound"]["tracks"]) == 1


def test_a_folder_is_dropped_into_the_short_way_and_needs_no_place(page: Page, program: Program, tmp_path: Path):
    folder = tmp_path / "quarry-now"
    for number in range(20):
        write_jpeg(folder / f"MRW_{number + 1}.jpg", number, (640, 420))
    # A copy that broke off left a project of the folder's name, with nothing in it.
    begun = program.client.post("/api/projects", json={"name": "quarry-now"}).json()
    page.goto("/now")
    page.get_by_label("A folder of stills").set_input_files(folder)
    expect(page.get_by_role("heading", name="How long should it be?")).to_be_visible()
    expect(page.get_by_role("button", name="Where are the stills?")).to_contain_text("quarry-now")
    for heading in ("Which shape?", "Even the light, steady it?", "Title and music?"):
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=heading)).to_be_visible()
    expect(page.get_by_role("button", name="Make the clip")).to_be_enabled()
    page.keyboard.press("Enter")
    program.wait_until(page.get_by_text("The clip is done", exact=False).first.is_visible)
    (shot,) = program.client.get(f"/api/projects/{begun['id']}").json()["shots"]
    assert shot["name"] == "quarry-now"
    assert program.client.get(f"/api/shots/{shot['id']}/clips").json()[0]["differences"] == []
    assert len(list(folder.iterdir())) == 20


def test_what_to_bring_is_offered_ticked_and_goes_on_paper(page: Page, program: Program, tmp_path: Path):
    project = int(program.client.post("/api/projects", json={"name": "Kit"}).json()["id"])
    program.client.post(
        f"/api/projects/{project}/plans", json={"name": "Weir", "exposing": {"exposure_s": 2, "metered_s": 0.03}}
    ).raise_for_status()
    page.goto(f"/projects/{project}/plan")
    kit = page.get_by_role("region", name="Kit and settings")
    kit.get_by_role("button", name="+ filter of 6 stops").click()
    kit.get_by_role("button", name="all of these").click()
    kit.get_by_label("Something of your own").fill("a chair")
    kit.get_by_label("Something of your own").press("Enter")
    listed = kit.get_by_role("list", name="On the list")
    expect(listed.get_by_role("checkbox", name="a chair")).to_be_visible()
    expect(kit.get_by_text("usual here:")).to_have_count(0)
    listed.get_by_role("checkbox", name="stabiliser off").check()
    kit.get_by_role("button", name="Take filter of 6 stops off").click()
    expect(kit.get_by_role("button", name="+ filter of 6 stops")).to_be_visible()
    page.reload()
    expect(listed.get_by_role("checkbox", name="stabiliser off")).to_be_checked()
    # What each shape would leave of a test still, before anything is shot: 3:2 in 16:9, and upright.
    page.get_by_label("A test still").set_input_files(write_jpeg(tmp_path / "test.jpg", 1, (600, 400)))
    expect(page.get_by_text("16:9 shows 84 % of it.")).to_be_visible()
    page.get_by_role("group", name="Shape that is looked at").get_by_role("button", name="9:16").click()
    expect(page.get_by_text("9:16 shows 38 % of it.")).to_be_visible()
    page.emulate_media(media="print")
    paper = page.locator(".on-paper")
    expect(paper).to_contain_text("☑ stabiliser off")
    expect(paper).to_contain_text("☐ a chair")
    page.emulate_media(media="screen")
