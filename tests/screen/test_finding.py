"""Any control is found by a word for it, wherever it stands, and reached by keys alone."""

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import TimeoutError as PlaywrightTimeout
from playwright.sync_api import expect

CONTROLS = Path(__file__).parents[2] / "web" / "src" / "screens" / "controls.ts"


def every_control():
    """Return each control as the pages list it: its step, the part of it, and what it says."""
    found = []
    for step, section, body in re.findall(
        r'inStep\("(\w+)", ("[\w ]+"|undefined), \{(.*?)\}\)', CONTROLS.read_text(), re.S
    ):
        for quoted, plain in re.findall(r'^\s*(?:"([^"]+)"|(\w+)):', body.replace("{ ", "\n"), re.M):
            found.append((step, None if section == "undefined" else json.loads(section), quoted or plain))
    return found


# What has the focus in the sheet of the step says the words, or stands in what does.
LED_TO = """([step, says]) => {
  const focused = document.activeElement;
  if (!location.pathname.endsWith(`/${step}`) || !document.querySelector('.sheet')?.contains(focused)) return false;
  const around = [focused, focused.closest('label'), focused.parentElement, focused.parentElement?.parentElement];
  return around.some((one) => `${one?.ariaLabel ?? ''} ${one?.textContent ?? ''}`.toLowerCase().includes(says));
}"""


# Something that is shown in the sheet begins with the words, or is told so.
IS_THERE = """(says) => [...document.querySelectorAll('.sheet *')].some((one) =>
  one.getClientRects().length > 0 &&
  [one.ariaLabel ?? '', one.textContent ?? ''].some((said) =>
    said.trim().replace(/\\s+/g, ' ').replace(/^[^a-zA-Z0-9]+/, '').toLowerCase().startsWith(says)))"""


SOME_FRAMES = """async (count) => {
  for (let drawn = 0; drawn < count; drawn += 1) await new Promise(requestAnimationFrame);
}"""


@pytest.fixture(scope="module")
def shot(program):
    return program.gather("Found by a word", "reach")[1]


def test_every_control_that_is_listed_is_there_and_the_first_of_each_part_is_led_to(page, shot):
    listed = every_control()
    assert len(listed) > 80
    lost, part = [], None
    page.goto(f"/shots/{shot}/gather")
    for step, section, says in listed:
        try:
            if (step, section) != part:
                part = (step, section)
                page.get_by_role("button", name="find", exact=True).click()
                page.get_by_role("combobox", name="What you would like to change").fill(says)
                place = f"{step} › {section}" if section else step
                page.get_by_role("option").filter(has_text=place).filter(has_text=says).first.click()
                page.wait_for_function(LED_TO, arg=[step, says.lower()])
            else:
                page.wait_for_function(IS_THERE, arg=says.lower(), timeout=10_000)
        except PlaywrightTimeout as trouble:
            lost.append((step, section, says, str(trouble).splitlines()[0]))
    assert not lost, "\n".join(map(str, lost))


def test_a_control_whose_choices_come_late_is_waited_for(page, shot):
    held = []
    page.route("**/fit/sizes", lambda route: held.append(route))
    page.goto(f"/shots/{shot}/gather")
    page.get_by_role("button", name="find", exact=True).click()
    page.get_by_role("combobox", name="What you would like to change").fill("aspect")
    with page.expect_request("**/fit/sizes"):
        page.keyboard.press("Enter")
    shapes = page.get_by_role("group", name="Shape of the clip")
    expect(shapes).to_be_attached()
    page.evaluate(SOME_FRAMES, 20)
    held.pop().continue_()
    page.unroute("**/fit/sizes")
    expect(shapes.get_by_role("button").first).to_be_focused()


def test_a_word_of_the_trade_leads_to_noise_by_keys_alone(page, shot):
    page.goto(f"/shots/{shot}/gather")
    page.get_by_role("button", name="find", exact=True).wait_for()
    page.keyboard.press("/")
    field = page.get_by_role("combobox", name="What you would like to change")
    expect(field).to_be_focused()
    page.keyboard.type("grain")
    expect(page.get_by_role("option").first).to_have_attribute("aria-selected", "true")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    page.wait_for_url(f"**/shots/{shot}/light")
    expect(page.get_by_label("average with stills before and after").first).to_be_focused()
    page.keyboard.press("Escape")
    page.locator("body").click(position={"x": 5, "y": 60})
    page.keyboard.press("/")
    page.keyboard.type("turnip")
    expect(page.get_by_text("Nothing is called that.")).to_be_visible()
