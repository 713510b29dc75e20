"""What is decided now and what it is compared with play in step: parted at a line, side by side, by turns."""

import re
import shutil

import pytest
from playwright.sync_api import expect

from tests.patience import wait_until

# The mean brightness of the left and the right half of what plays.
HALVES = """() => {
  const canvas = document.querySelector('.stage canvas');
  if (!canvas || !canvas.width) return null;
  const { width, height } = canvas;
  const mean = (left) => {
    const { data } = canvas.getContext('2d').getImageData(left, 0, Math.floor(width / 2) - 20, height);
    let sum = 0;
    for (let at = 0; at < data.length; at += 4) sum += data[at] + data[at + 1] + data[at + 2];
    return sum / (data.length / 4) / 3;
  };
  return [mean(0), mean(Math.ceil(width / 2) + 20), width / height];
}"""


@pytest.fixture
def brighter(page, program):
    """A shot a stop brighter than it was taken, at light."""
    shot = program.gather("Played in step", "reach")[1]
    found = program.client.get(f"/api/shots/{shot}").json()
    decisions = found["decisions"]
    decisions["light"]["exposure"]["value"] = 1
    body = {"seen": found["revision"], "decisions": decisions}
    assert program.client.put(f"/api/shots/{shot}/decisions", json=body).status_code == 200
    page.goto(f"/shots/{shot}/light")
    expect(page.get_by_text("frame 1 of 40")).to_be_visible()
    return page


def halves(page, holds):
    """Wait until the two halves of what plays are as they should be; returns them."""

    def found():
        seen = page.evaluate(HALVES)
        return seen if seen and holds(*seen) else None

    return wait_until(found)


def test_the_clip_plays_with_its_light_and_without_it(brighter):
    page = brighter
    page.get_by_role("combobox", name="What to compare with").select_option("light")
    page.get_by_role("button", name="split", exact=True).click()
    page.keyboard.press("Space")
    seen = halves(page, lambda left, right, shape: right > 1.2 * left)
    assert seen[2] == pytest.approx(16 / 9, rel=0.01)
    began = page.get_by_label("Timecode").inner_text()
    expect(page.get_by_label("Timecode")).not_to_have_text(began)
    # The line is dragged, by keys too, while both go on.
    line = page.get_by_role("slider", name="Where the earlier picture ends")
    line.focus()
    for _ in range(25):
        page.keyboard.press("ArrowLeft")
    halves(page, lambda left, right, shape: abs(left - right) < 0.1 * right)
    page.get_by_role("button", name="side by side").click()
    halves(page, lambda left, right, shape: right > 1.2 * left and shape > 3)
    # One after the other, by a key, without a pause.
    page.get_by_role("button", name="the frame", exact=True).click()
    page.keyboard.press("b")
    dark = halves(page, lambda left, right, shape: shape < 2)
    page.keyboard.press("b")
    halves(page, lambda left, right, shape: left > 1.2 * dark[0])
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="play", exact=True)).to_be_visible()
    expect(page.locator(".stage canvas")).to_have_count(0)


def test_two_shots_are_played_beside_each_other_at_the_same_time_of_day(page, program):
    for number in range(20):
        shutil.copy2(
            program.place / "reach" / f"MRW_{number + 1}.jpg", one_of(program, "weir-short") / f"W_{number}.jpg"
        )
    project, shot = program.gather("Two weirs", "reach")
    where = {"location": program.place.name, "path": "weir-short"}
    started = program.client.post(f"/api/projects/{project}/shots", json=where).json()
    program.wait_for_job(started["job"]["id"])
    light = program.client.get(f"/api/shots/{started['shot_id']}").json()["decisions"]["light"]
    program.decide(started["shot_id"], light=light | {"exposure": light["exposure"] | {"value": -2}})
    page.goto(f"/shots/{shot}/light")
    expect(page.get_by_text("frame 1 of 40")).to_be_visible()
    against = page.get_by_role("combobox", name="What to compare with")
    against.focus()
    against.select_option("weir-short")
    # Also while they stand still the other one's frame is the one that belongs to this one.
    with page.expect_request(other_frame(started["shot_id"], 0)):
        page.get_by_role("button", name="side by side").click()
    expect(page.get_by_role("img", name="The frame in weir-short")).to_be_visible()
    with page.expect_request(other_frame(started["shot_id"], 19)):
        page.keyboard.press("End")
    page.keyboard.press("Home")
    with page.expect_response(lambda answer: "in_step=clock" in answer.url) as asked:
        page.get_by_role("combobox", name="What both show at a time while they play").select_option("clock")
    assert asked.value.json()["beside"] == [min(number, 19) for number in range(40)]
    page.get_by_role("button", name="play", exact=True).click()
    halves(page, lambda left, right, shape: right > 1.5 * left and shape > 3)


def other_frame(shot, frame):
    return re.compile(rf"/api/shots/{shot}/frames/{frame}\.jpg")


def one_of(program, name):
    (program.place / name).mkdir(exist_ok=True)
    return program.place / name
