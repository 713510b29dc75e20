"""A folder the program was never told of is found, named and made a shot of in the page; so is a card."""

import subprocess

import av
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.conftest import write_jpeg


@pytest.fixture
def elsewhere(program, tmp_path):
    """A folder with stills outside every location; what was named is forgotten afterwards."""
    for number in range(12):
        write_jpeg(tmp_path / "shoots" / "evening at the weir" / f"MRW_{number}.jpg", number, (300, 200))
    yield tmp_path / "shoots"
    for location in program.client.get("/api/locations").json():
        if location["folder"].startswith(str(tmp_path)):
            assert program.client.delete(f"/api/locations/{location['name']}").status_code == 204


def test_a_folder_is_found_by_its_path_and_used_on_the_short_way(page, elsewhere):
    page.goto("/now")
    page.get_by_role("button", name="another folder").click()
    place = page.get_by_role("region", name="Another folder of this machine")
    # While another folder is looked for, the one before is not gone on with.
    expect(page.get_by_role("button", name="Go on")).to_be_disabled()
    place.get_by_role("textbox").fill("/no/such/folder")
    place.get_by_role("textbox").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("There is no folder /no/such/folder")
    place.get_by_role("textbox").fill(str(elsewhere))
    place.get_by_role("textbox").press("Enter")
    # Enter looks for the folder, and does not answer the question it stands in.
    place.get_by_role("button", name="evening at the weir").click()
    expect(place.get_by_text("12 files in here look like stills.")).to_be_visible()
    expect(place.get_by_role("textbox")).to_have_value(str(elsewhere / "evening at the weir"))
    place.get_by_role("button", name="up").click()
    expect(place.get_by_role("textbox")).to_have_value(str(elsewhere))
    place.get_by_role("button", name="evening at the weir").click()
    place.get_by_role("button", name="Look into this folder").click()
    expect(page.get_by_text("12 stills, MRW_0.jpg to MRW_11.jpg")).to_be_visible()
    page.get_by_role("button", name="Go on").click()
    expect(page.get_by_role("heading", name="How long should it be?")).to_be_visible()


def test_a_card_that_is_plugged_in_appears_and_goes_with_it(page, elsewhere, program):
    card = elsewhere.parent / "LANTERN"
    card.mkdir()
    if subprocess.run(["mount", "--bind", elsewhere, card], capture_output=True).returncode:
        pytest.skip("nothing may be mounted here")
    try:
        subprocess.run(["umount", card], check=True)
        page.goto("/now")
        expect(page.get_by_role("button", name="another folder")).to_be_visible()
        offered = page.get_by_role("button", name="“LANTERN”: look into it")
        expect(offered).to_have_count(0)
        subprocess.run(["mount", "--bind", elsewhere, card], check=True)
        offered.click()
        expect(offered).to_have_count(0)
        expect(page.get_by_role("button", name="evening at the weir")).to_be_visible()
    finally:
        subprocess.run(["umount", card], capture_output=True)


def test_several_folders_become_a_shot_each(page, program, elsewhere):
    for number in range(4):
        write_jpeg(elsewhere / "roof" / f"MRW_{number}.jpg", number, (300, 200))
    program.client.post("/api/locations", json={"folder": str(elsewhere)})
    project = program.client.post("/api/projects", json={"name": "Two evenings"}).json()["id"]
    page.goto(f"/projects/{project}")
    page.get_by_label("Location").select_option(str(elsewhere))
    page.get_by_role("button", name="A shot of each of its 2 folders").click()
    expect(page.get_by_role("link", name="evening at the weir")).to_be_visible()
    expect(page.get_by_role("link", name="roof")).to_be_visible()


# A drop as a browser gives it; no script may make one with folders in it by itself.
DROP = """([selector, folders]) => {
  const fileEntry = (name, bytes) => ({
    name, isFile: true, isDirectory: false, file: (found) => found(new File([new Uint8Array(bytes)], name)),
  });
  const folderEntry = (name, files) => ({
    name, isFile: false, isDirectory: true,
    createReader: () => {
      let given = false;
      return { readEntries: (found) => { found(given ? [] : files); given = true; } };
    },
  });
  const items = folders.map(([name, files]) => ({
    webkitGetAsEntry: () => folderEntry(name, files.map(([file, bytes]) => fileEntry(file, bytes))),
  }));
  const event = new Event("drop", { bubbles: true, cancelable: true });
  Object.defineProperty(event, "dataTransfer", { value: { items } });
  document.querySelector(selector).dispatchEvent(event);
}"""


def test_dropped_folders_become_a_shot_each_and_one_is_opened(page, program, tmp_path):
    still = list(write_jpeg(tmp_path / "a.jpg", 1, (60, 40)).read_bytes())
    project = program.client.post("/api/projects", json={"name": "Dropped"}).json()["id"]
    page.goto(f"/projects/{project}")
    dropped = [["harbour", [["MRW_1.jpg", still], ["MRW_2.jpg", still]]], ["mast", [["MRW_1.jpg", still]]]]
    page.get_by_role("heading", name="Drop folders of stills here").wait_for()
    page.evaluate(DROP, [".area", dropped])
    expect(page.get_by_role("link", name="harbour")).to_be_visible()
    expect(page.get_by_role("link", name="mast")).to_be_visible()
    page.evaluate(DROP, [".area", [["quay", [["MRW_1.jpg", still]]]]])
    expect(page.get_by_role("link", name="Dropped")).to_be_visible()
    page.wait_for_url("**/shots/*/gather")


def test_the_short_way_begins_with_a_film_that_lies_there(page, program, elsewhere):
    frames = [np.full((48, 64, 3), 5 * number, np.uint8) for number in range(50)]
    film = elsewhere / "quay.mkv"
    with av.open(str(film), "w") as container:
        stream = container.add_stream("ffv1", rate=25, width=64, height=48, pix_fmt="bgr0")
        for frame in frames:
            container.mux(stream.encode(av.VideoFrame.from_ndarray(frame, "rgb24")))
        container.mux(stream.encode())
    program.client.post("/api/locations", json={"folder": str(elsewhere)})
    page.goto("/now")
    page.get_by_label("Location").select_option(str(elsewhere))
    page.get_by_role("button", name="quay.mkv").click()
    page.get_by_role("button", name="Take 2 stills").click()
    expect(page.get_by_role("heading", name="How long should it be?")).to_be_visible()
    expect(page.get_by_text("quay.mkv").first).to_be_visible()
