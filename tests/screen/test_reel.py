"""Reels in the real page: sound and titles for one shot, several shots in one video, by mouse and by keys."""

import subprocess

import av
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.conftest import write_jpeg
from tests.patience import wait_until
from tests.program import Program
from tests.screen.fields import pick
from tests.sounds import noise, piece, written
from yarnkite.core.sound.decisions import RATE


@pytest.fixture(scope="module")
def shots(program: Program) -> tuple[int, list[int]]:
    """A project with three small shots; the first lasts 8 s."""
    for name, count in (("one", 40), ("two", 20), ("three", 15)):
        for number in range(count):
            write_jpeg(program.place / "reels" / name / f"{name}_{number:03}.jpg", number, (640, 480))
    project, first = program.gather("Reels", "reels/one")
    made = [first]
    for name in ("two", "three"):
        where = {"location": program.place.name, "path": f"reels/{name}"}
        started = program.client.post(f"/api/projects/{project}/shots", json=where).json()
        assert program.wait_for_job(started["job"]["id"])["state"] == "finished"
        made.append(started["shot_id"])
    for shot in made:
        now = program.client.get(f"/api/shots/{shot}").json()
        now["decisions"]["fit"]["size"] = {"width": 384, "height": 216}
        now["decisions"]["pace"]["hold"] = 5 if shot == first else 1
        body = {"seen": now["revision"], "decisions": now["decisions"]}
        program.client.put(f"/api/shots/{shot}/decisions", json=body).raise_for_status()
    return project, made


def reel_now(program: Program, number: int) -> dict:
    return program.client.get(f"/api/reels/{number}").json()


def said(page: Page):
    return page.get_by_role("region", name="What will be made")


@pytest.mark.long
def test_a_shot_gets_music_and_a_title_is_heard_and_encoded(page: Page, program: Program, shots, tmp_path):
    # A quiet beginning, then a piece with a beat, and in it a click whose place is known.
    music = np.concatenate([noise(2, 0.001), 0.5 * piece("abab", 120)])
    click_at = round(5.3 * RATE)
    music[click_at] = 0.99
    file = written(music, tmp_path / "music.wav")
    page.goto(f"/shots/{shots[1][0]}/encode")
    page.get_by_role("button", name="add sound or a title").click()
    page.wait_for_url("**/reels/*/sound")
    number = int(page.url.split("/reels/")[1].split("/")[0])
    page.get_by_label("Sound files").set_input_files(file)
    sounds = page.get_by_role("list", name="Sounds under the reel")
    expect(sounds).to_contain_text("music.wav")
    expect(said(page)).to_contain_text("lay 1 sound under it at −16")
    expect(page.get_by_role("img", name="How loud music.wav is")).to_be_visible()
    page.get_by_role("button", name="begin where it gets going").click()
    track = wait_until(lambda: (one := reel_now(program, number)["decisions"]["sound"]["tracks"][0])["skip"] and one)
    assert track["skip"] / RATE == pytest.approx(2, abs=0.1)
    sounds.get_by_role("button", name="music.wav").first.click()
    page.get_by_role("button", name="fit it to the video").click()
    page.get_by_role("list", name="Ways to end with the picture").get_by_role("button").first.click()
    wait_until(lambda: reel_now(program, number)["decisions"]["sound"]["tracks"][0] != track)
    if not reel_now(program, number)["decisions"]["sound"]["tracks"][0]["fade_out"]:
        page.get_by_role("button", name="fade out over the last second").click()
    wait_until(lambda: reel_now(program, number)["decisions"]["sound"]["tracks"][0]["fade_out"] == RATE)

    page.get_by_role("link", name="titles").click()
    page.get_by_role("button", name="Add a title").click()
    over = page.get_by_role("button", name="Title “Title”: drag it")
    expect(over).to_be_visible()
    wait_until(lambda: reel_now(program, number)["decisions"]["titles"])
    box, stage = over.bounding_box(), page.get_by_role("img", name="Frame 1 of the reel").bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(stage["x"] + 0.5 * stage["width"], stage["y"] + 0.3 * stage["height"], steps=6)
    page.mouse.up()
    title = wait_until(lambda: (one := reel_now(program, number)["decisions"]["titles"][0])["place"] is None and one)
    assert (title["x"], title["y"]) == (pytest.approx(0.5, abs=0.03), pytest.approx(0.3, abs=0.03))
    over.dblclick()
    page.get_by_role("region", name="Stage").get_by_role("textbox", name="Text of the title").fill("Ebb and flood")
    page.keyboard.press("Escape")
    wait_until(lambda: reel_now(program, number)["decisions"]["titles"][0]["text"] == "Ebb and flood")
    moved = page.get_by_role("button", name="Title “Ebb and flood”: drag it")
    moved.focus()
    page.keyboard.press("Shift+ArrowDown")
    wait_until(lambda: reel_now(program, number)["decisions"]["titles"][0]["y"] > title["y"] + 0.01)

    # Whose the piece is goes with it, and is shown over the last seconds on wish.
    page.get_by_role("link", name="sound").click()
    if not page.get_by_label("Credit of the music").is_visible():
        sounds.get_by_role("button", name="music.wav").first.click()
    page.get_by_label("Credit of the music").fill("Music: A. Piper, by leave")
    page.keyboard.press("Tab")
    page.get_by_role("button", name="show it as a title at the end").click()
    credit = wait_until(lambda: (every := reel_now(program, number)["decisions"]["titles"])[1:] and every[1])
    assert (credit["text"], credit["first"], credit["frames"]) == ("Music: A. Piper, by leave", 100, None)
    expect(page.get_by_text("It is one of the titles.")).to_be_visible()

    page.get_by_role("button", name="play", exact=True).click()
    # A second of sound that was decoded, and a picture that goes on with it.
    wait_until(
        lambda: page.evaluate("() => document.querySelector('video')?.webkitAudioDecodedByteCount ?? 0") > 50_000
    )
    began = page.evaluate("() => document.querySelector('video').currentTime")
    wait_until(lambda: page.evaluate("() => document.querySelector('video').currentTime") > began + 1)
    assert page.evaluate("() => document.querySelector('video').muted") is False
    page.keyboard.press("Escape")
    page.get_by_role("button", name="pause", exact=True).click()

    page.get_by_role("link", name="finish").click()
    page.get_by_role("textbox", name="Name of the reel").fill("With music")
    page.keyboard.press("Tab")
    expect(page.get_by_role("navigation", name="Where you are")).to_contain_text("With music")
    page.get_by_role("button", name="Encode the reel").click()
    files = page.get_by_role("region", name="Finished files")
    program.wait_until(files.get_by_text("verified").first.is_visible)
    expect(files).to_contain_text("AAC 48 kHz, -16")
    expect(files).to_contain_text("With-music_384x216_25fps.mp4")
    check_file(program, number, click_at, tmp_path)

    # A shot is changed somewhere else: the file says so, and one click makes it anew under its name.
    assert files.get_by_text("Since it was made").count() == 0
    _, (first, *_) = shots
    decisions = program.client.get(f"/api/shots/{first}").json()["decisions"]
    program.decide(first, fit=decisions["fit"] | {"zoom": 1.1})
    page.reload()
    expect(files).to_contain_text("Since it was made, “one” (fit) was changed.")
    files.get_by_role("button", name="anew").click()
    program.wait_until(lambda: files.get_by_text("verified").count() == 2)
    expect(files.get_by_text("Since it was made")).to_have_count(0)
    newest, before = program.client.get(f"/api/reels/{number}/clips").json()
    assert newest["name"] == before["name"]


def check_file(program: Program, number: int, click_at: int, tmp_path) -> None:
    """Look into the finished file with tools of their own: streams, lengths, loudness, and where the click is."""
    (clip,) = program.client.get(f"/api/reels/{number}/clips").json()
    path = tmp_path / "reel.mp4"
    path.write_bytes(program.client.get(f"/api/clips/{clip['id']}/file").content)
    asked = ["ffprobe", "-v", "error", "-show_entries", "stream=codec_name,duration", "-of", "csv=p=0", path]
    streams = subprocess.run(asked, capture_output=True, text=True, check=True).stdout.split()
    assert sorted(streams) == ["aac,8.000000", "h264,8.000000"]
    measured = subprocess.run(
        ["ffmpeg", "-nostats", "-i", path, "-af", "ebur128", "-f", "null", "-"], capture_output=True, text=True
    ).stderr
    assert float(measured.rsplit("I:", 1)[1].split("LUFS")[0]) == pytest.approx(-16, abs=0.3)
    (track,) = reel_now(program, number)["decisions"]["sound"]["tracks"]
    with av.open(str(path)) as container:
        wave = np.concatenate([frame.to_ndarray()[0] for frame in container.decode(audio=0)])
    expected = click_at - track["skip"] + track["start"]
    around = np.abs(np.diff(wave))[expected - RATE // 10 : expected + RATE // 10]
    assert abs(int(np.argmax(around)) - RATE // 10) < RATE // 1000


def test_three_shots_in_a_row_two_beside_each_other_and_undo(page: Page, program: Program, shots):
    project, (one, two, three) = shots
    page.goto(f"/projects/{project}")
    page.get_by_role("button", name="make a reel of these shots").click()
    page.wait_for_url("**/reels/*")
    number = int(page.url.split("/reels/")[1].split("/")[0])

    def order() -> list[list[int]]:
        return [
            [shown["shot"] for shown in part["pictures"]] for part in reel_now(program, number)["decisions"]["parts"]
        ]

    parts = page.get_by_role("list", name="Parts of the reel")
    expect(parts.get_by_role("listitem")).to_have_count(3)
    assert order() == [[one], [two], [three]]
    # By keys: the last one goes to the front, then back by a drag.
    last = parts.get_by_role("button", name="three").first
    last.focus()
    page.keyboard.press("Shift+ArrowUp")
    wait_until(lambda: order() == [[one], [three], [two]])
    grip = parts.locator(".grip").nth(1)
    target = parts.get_by_role("listitem").nth(2).bounding_box()
    begin = grip.bounding_box()
    page.mouse.move(begin["x"] + 5, begin["y"] + 8)
    page.mouse.down()
    page.mouse.move(target["x"] + 5, target["y"] + target["height"] + 4, steps=5)
    page.mouse.up()
    wait_until(lambda: order() == [[one], [two], [three]])

    parts.get_by_role("button", name="one").first.click()
    pick(page, "How it goes over into the next", "by a dissolve")
    expect(said(page)).to_contain_text("by way of 1 dissolve")
    takes = page.get_by_role("spinbutton", name="takes")
    takes.fill("0.4")
    takes.press("Enter")
    wait_until(lambda: reel_now(program, number)["parts"][0]["over"] == 10)
    parts.get_by_role("button", name="three").first.click()
    pick(page, "Put a shot beside it", "two")
    wait_until(lambda: order()[-1] == [three, two])
    expect(said(page)).to_contain_text("1 of them several shots beside each other")
    spans = reel_now(program, number)["parts"]
    assert [(part["start"], part["frames"]) for part in spans] == [(0, 200), (190, 20), (210, 20)]
    expect(page.get_by_text("of 230")).to_be_visible()
    page.get_by_role("slider", name="Frame of the reel").focus()
    page.keyboard.press("End")
    expect(page.get_by_role("img", name="Frame 230 of the reel")).to_be_visible()

    # Put where one wants them: the second one is dragged into a corner.
    pick(page, "How they lie beside each other", "where I put them")
    area = page.get_by_role("button", name="Where two lies")
    box, stage = area.bounding_box(), page.get_by_role("img", name="Frame 230 of the reel").bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(stage["x"] + 0.2 * stage["width"], stage["y"] + 0.2 * stage["height"], steps=5)
    page.mouse.up()
    placed = wait_until(
        lambda: (one := reel_now(program, number)["decisions"]["parts"][2]["pictures"][1]["area"])["left"] < 0.1 and one
    )
    assert placed == pytest.approx({"left": 0, "top": 0, "width": 0.4, "height": 0.4}, abs=0.01)
    area.focus()
    page.keyboard.press("Shift+ArrowRight")
    wait_until(
        lambda: (
            reel_now(program, number)["decisions"]["parts"][2]["pictures"][1]["area"]["width"] == pytest.approx(0.41)
        )
    )

    page.get_by_role("link", name="finish").click()
    with page.expect_download() as coming:
        page.get_by_role("link", name="OpenTimelineIO").click()
    page.goto(f"/projects/{project}")
    page.get_by_label("An OpenTimelineIO file").set_input_files(coming.value.path())
    page.wait_for_url("**/reels/*")
    again = int(page.url.split("/reels/")[1].split("/")[0])
    assert reel_now(program, again)["decisions"] == reel_now(program, number)["decisions"]

    page.goto(f"/reels/{number}")
    expect(parts.get_by_role("listitem")).to_have_count(3)
    while reel_now(program, number)["can_undo"]:
        before = reel_now(program, number)["revision"]
        page.keyboard.press("Control+z")
        wait_until(lambda before=before: reel_now(program, number)["revision"] > before)
    assert order() == [[one], [two], [three]]
    assert reel_now(program, number)["decisions"]["parts"][0]["join"]["kind"] == "cut"
