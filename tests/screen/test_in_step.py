"""What is decided now and what it is compared with play in step: parted at a line, side by side, by turns."""

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
