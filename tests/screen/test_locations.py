"""A folder the program was never told of is found, named and made a shot of in the page; so is a card."""

import subprocess

import av
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.conftest import write_jpeg
from tests.core.gather.test_footage import film
from tests.sounds import piece, written


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
    name, isFile: true, isDirectory: false,
    file: (found) => found(new File([new Uint8Array(bytes)], name, { type: /mp4$/.test(name) ? "video/mp4" : "" })),
  });
  const folderEntry = (name, files) => ({
    name, isFile: false, isDirectory: true,
    createReader: () => {
      let given = false;
      return { readEntries: (found) => { found(given ? [] : files); given = true; } };
    },
  });
  // A number where a folder has files: a file by itself.
  const items = folders.map(([name, files]) => ({
    webkitGetAsEntry: () => (typeof files[0] === "number"
      ? fileEntry(name, files)
      : folderEntry(name, files.map(([file, bytes]) => fileEntry(file, bytes)))),
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
    page.get_by_role("heading", name="Drop folders, stills or film here").wait_for()
    page.evaluate(DROP, [".area", dropped])
    expect(page.get_by_role("link", name="harbour")).to_be_visible()
    expect(page.get_by_role("link", name="mast")).to_be_visible()
    page.evaluate(DROP, [".area", [["quay", [["MRW_1.jpg", still]]]]])
    expect(page.get_by_role("link", name="Dropped")).to_be_visible()
    page.wait_for_url("**/shots/*/gather")


def test_films_and_folders_are_dropped_together_and_each_becomes_a_shot(page, program, tmp_path):
    still = list(write_jpeg(tmp_path / "a.jpg", 1, (60, 40)).read_bytes())
    films = {name: list(film(tmp_path / name, frames=20).read_bytes()) for name in ("gulls.mp4", "swans.mp4")}
    project = program.client.post("/api/projects", json={"name": "Mixed drop"}).json()["id"]
    page.goto(f"/projects/{project}")
    page.get_by_role("heading", name="Drop folders, stills or film here").wait_for()
    page.evaluate(DROP, [".area", [["moorings", [["MRW_1.jpg", still], ["MRW_2.jpg", still]]], *films.items()]])
    # Of each film it is asked what is to be taken of it, one after another.
    expect(page.get_by_role("heading", name="Take in gulls.mp4")).to_be_visible()
    page.get_by_role("radio", name="every frame, as film").check()
    page.get_by_role("button", name="Take 20 stills").click()
    expect(page.get_by_role("heading", name="Take in swans.mp4")).to_be_visible()
    page.get_by_role("button", name="Leave it").click()
    expect(page.get_by_role("link", name="moorings")).to_be_visible()
    expect(page.get_by_role("link", name="gulls")).to_be_visible()
    shots = program.client.get(f"/api/projects/{project}").json()["shots"]
    assert sorted(shot["name"] for shot in shots) == ["gulls", "moorings"]
    taken = next(shot["id"] for shot in shots if shot["name"] == "gulls")
    program.wait_until(lambda: program.client.get(f"/api/shots/{taken}").json()["gathered"])
    assert program.client.get(f"/api/shots/{taken}/stills").json()["stills"][-1]["position"] == 19


def test_several_folders_become_a_clip_each_on_the_short_way_with_ones_own_music(page, program, tmp_path):
    stills = [list(write_jpeg(tmp_path / f"{n}.jpg", n, (240, 160)).read_bytes()) for n in range(6)]
    music = written(piece("ab", 120), tmp_path / "evening.wav")
    page.goto("/now")
    page.get_by_role("heading", name="Drop folders, stills or film here").wait_for()
    folder = [[f"MRW_{n}.jpg", data] for n, data in enumerate(stills)]
    page.evaluate(DROP, [".area", [["jetty one", folder], ["jetty two", folder[:4]]]])
    expect(page.get_by_role("heading", name="How long should it be?")).to_be_visible()
    expect(page.get_by_text("Each of the 2 clips is made so; the first is shown.")).to_be_visible()
    page.get_by_label("How long, such as 12 s").fill("2 s")
    page.keyboard.press("Enter")
    page.get_by_label("Width of the clip").fill("320")
    page.get_by_label("Height of the clip").fill("181")
    page.get_by_label("Height of the clip").press("Tab")
    expect(page.get_by_role("status").first).to_contain_text("320 × 182")
    page.get_by_role("button", name="Go on").click()
    page.get_by_role("button", name="Go on").click()
    page.get_by_label("Music").select_option("a file of your own")
    page.get_by_label("File of the music").set_input_files(music)
    page.get_by_role("button", name="Make 2 clips").click()
    program.wait_until(page.get_by_text("2 clips are done.").is_visible)
    expect(page.get_by_role("status").first).to_contain_text("s of sound compared")
    page.get_by_role("group", name="Which clip is shown").get_by_role("button").nth(1).click()
    page.get_by_role("link", name="open all steps of the shot").click()
    expect(page.get_by_role("navigation", name="Where you are")).to_contain_text("jetty two")
    project = next(one for one in program.client.get("/api/projects").json() if one["name"] == "jetty one")
    reels = program.client.get(f"/api/projects/{project['id']}/reels").json()
    assert len(reels) == 2
    for reel in reels:
        (clip,) = program.client.get(f"/api/reels/{reel['id']}/clips").json()
        assert (clip["differences"], clip["frames"]) == ([], 50)
        assert "320 × 182" in clip["summary"]


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
