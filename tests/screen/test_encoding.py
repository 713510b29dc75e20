"""The encode step and the queue in a real browser: purposes, sizes side by side, a trial, rest over a restart,
comparing."""

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import write_jpeg
from tests.patience import wait_until
from tests.program import Program
from tests.screen.fields import pick


@pytest.fixture(scope="module")
def shot(program: Program) -> int:
    for number in range(60):
        write_jpeg(program.place / "quay" / f"MRW_{number:03}.jpg", number)
    _, shot = program.gather("Quay", "quay")
    shown = program.client.get(f"/api/shots/{shot}").json()
    decisions = shown["decisions"]
    decisions["fit"]["size"] = {"width": 320, "height": 180}
    body = {"seen": shown["revision"], "decisions": decisions}
    assert program.client.put(f"/api/shots/{shot}/decisions", json=body).status_code == 200
    return shot


def encode_of(program: Program, shot: int) -> dict:
    return program.client.get(f"/api/shots/{shot}").json()["decisions"]["encode"]


def clips(program: Program, shot: int) -> list[dict]:
    return program.client.get(f"/api/shots/{shot}/clips").json()


@pytest.mark.long
def test_a_purpose_is_chosen_sizes_stand_side_by_side_and_two_clips_are_compared(
    page: Page, program: Program, shot: int
):
    page.goto(f"/shots/{shot}/encode")
    brief = page.get_by_role("region", name="What will be made")
    takes = page.get_by_role("region", name="What it takes")
    expect(takes.get_by_role("row")).to_have_count(5)
    program.wait_until(takes.get_by_text("stretches of this very clip").first.is_visible)
    expect(takes.get_by_role("row", name="H.264").first).not_to_contain_text("~")

    page.get_by_role("radio", name="cut it further").check()
    expect(brief).to_contain_text("write a ProRes 422 HQ file")
    wait_until(lambda: encode_of(program, shot)["format"] == "prores-hq")
    page.keyboard.press("Control+z")
    expect(brief).to_contain_text("write an H.264 file of high quality")

    page.get_by_role("button", name="settings of the format").click()
    page.get_by_role("radio", name="a wanted size").check()
    expect(brief).to_contain_text("that takes 100 MB")
    page.get_by_role("radio", name="one quality all through").check()
    pick(page, "Quality", "fair")
    expect(brief).to_contain_text("of fair quality")
    expect(page.get_by_text("24 in x264 crf")).to_be_visible()

    page.get_by_role("button", name="try two seconds around this frame first").click()
    program.wait_until(lambda: [one["frames"] for one in clips(program, shot)] == [50])
    expect(page.get_by_text("50 frames compared in light and colour, lowest likeness 0.9")).to_be_visible()

    page.get_by_role("checkbox", name="Encode AV1 too").check()
    page.get_by_role("button", name="Encode these two").click()
    program.wait_until(
        lambda: sorted(one["format"] for one in clips(program, shot) if one["frames"] == 60) == ["av1", "h264"]
    )
    whole = next(one for one in clips(program, shot) if one["frames"] == 60)
    page.get_by_role("button", name=f"Compare {whole['name']}").click()
    stage = page.get_by_role("region", name="Stage")
    expect(stage.get_by_role("img")).to_have_count(2)
    page.keyboard.press("b")
    expect(stage.get_by_text("blinking")).to_be_visible()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("b")
    # Both play, drawn of frames that belong together.
    page.keyboard.press("Space")
    playing = stage.get_by_role("img", name="Two finished files, playing in step")
    expect(playing).to_be_visible()
    wait_until(lambda: playing.evaluate("canvas => canvas.width") > 100)
    counter = stage.get_by_text("of 60")
    seen = counter.inner_text()
    expect(counter).not_to_have_text(seen)
    page.keyboard.press("Space")
    expect(playing).to_have_count(0)
    stage.get_by_role("button", name="back to the frames").click()
    expect(stage.get_by_role("button", name="play")).to_be_visible()


def test_the_queue_changes_its_order_and_rests_over_a_restart(page: Page, program: Program, shot: int):
    shown = program.client.get(f"/api/shots/{shot}").json()
    decisions = shown["decisions"]
    # The first is long enough to be still under way whenever it is told to rest; of the others a second is enough.
    decisions["pace"]["hold"] = 40
    decisions["encode"]["preset"] = "slow"
    body = {"seen": shown["revision"], "decisions": decisions}
    seen = program.client.put(f"/api/shots/{shot}/decisions", json=body).json()["revision"]
    begin = [
        program.client.post(f"/api/shots/{shot}/encode", json={"seen": seen, "format": name} | of).json()["id"]
        for name, of in (("vp9", {}), ("ffv1", {"stretch": [0, 25]}), ("prores", {"stretch": [0, 25]}))
    ]
    page.goto("/queue")
    left = page.get_by_role("list", name="What is left").get_by_role("listitem")
    expect(left).to_have_count(3)
    expect(left.nth(2)).to_contain_text("ProRes 422 of quay")
    left.nth(2).focus()
    page.keyboard.press("Shift+ArrowUp")
    expect(left.nth(1)).to_contain_text("ProRes 422")
    for number in range(3):
        left.nth(number).get_by_role("button", name="Pause").click()
    program.wait_until(lambda: {program.job(one)["state"] for one in begin} == {"paused"})
    program.kill()
    program.start()
    page.goto(f"{program.address}/queue")
    expect(left).to_have_count(3)
    expect(left.nth(1)).to_contain_text("ProRes 422")
    expect(left.first).to_contain_text("rests at")
    left.nth(2).get_by_role("button", name="Cancel").click()
    expect(left).to_have_count(2)
    left.nth(1).get_by_role("button", name="Go on").click()
    wait_until(lambda: program.job(begin[2])["state"] != "paused")
    assert program.wait_for_job(begin[2])["state"] == "finished"
    done = page.get_by_role("list", name="What is done")
    expect(done.get_by_role("listitem").filter(has_text="ProRes 422")).to_contain_text("done")
    page.get_by_role("button", name="Go on with FFV1").or_(
        page.get_by_role("button", name="go on from there")
    ).first.click()
    wait_until(lambda: program.job(begin[1])["state"] != "cancelled")
    assert program.wait_for_job(begin[1])["state"] == "finished"


def test_a_clip_that_is_out_of_date_is_told_and_made_anew_by_one_click(page: Page, program: Program):
    _, shot = program.gather("Out of date", "reach")
    decisions = program.client.get(f"/api/shots/{shot}").json()["decisions"]
    fit = decisions["fit"] | {"size": {"width": 160, "height": 90}}
    seen = program.decide(shot, fit=fit, encode=decisions["encode"] | {"preset": "ultrafast"})
    job = program.client.post(f"/api/shots/{shot}/encode", json={"seen": seen}).json()
    program.wait_for_job(job["id"])
    page.goto(f"/shots/{shot}/encode")
    clips = page.get_by_role("region", name="Clips")
    expect(clips.get_by_text("verified")).to_have_count(1)
    expect(clips.get_by_text("Since it was made")).to_have_count(0)
    program.decide(shot, pace=decisions["pace"] | {"hold": 2})
    page.reload()
    expect(clips).to_contain_text("Since it was made, pace was changed.")
    clips.get_by_role("button", name="anew").click()
    expect(clips.get_by_text("verified")).to_have_count(2)
    expect(clips.get_by_text("Since it was made")).to_have_count(0)
    newest, first = program.client.get(f"/api/shots/{shot}/clips").json()
    assert (newest["name"], newest["frames"]) == (first["name"], 2 * first["frames"])
    # Who wants pictures instead is led to where they are written.
    page.get_by_role("link", name="numbered pictures for another program").click()
    page.wait_for_url("**/order?part=pictures")
    expect(page.get_by_role("radio", name="as pictures")).to_be_checked()
