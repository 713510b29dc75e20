"""Light that follows a picture: sent to the program, seen in its frames, undone; what cannot be followed is named."""

import io
from datetime import datetime, timedelta

import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.api.test_areas import shown
from tests.api.test_light import decide, opened, setting
from tests.conftest import scene
from tests.core.light.test_following import warm_and_bright
from tests.serving import gather
from yarnkite.demo.dng import write_dng


def follow(client, shot, position, name, data, seen=None):
    said = {"seen": opened(client, shot)["revision"] if seen is None else seen, "name": name}
    return client.post(f"/api/shots/{shot}/light/stills/{position}/follow", params=said, content=data)


def tiff(picture):
    """A TIFF of 16 bits, as developers save it."""
    file = io.BytesIO()
    tifffile.imwrite(file, picture.astype(np.uint16) * 257, photometric="rgb")
    return file.getvalue()


def apart(client, shot, position, picture):
    """How far a frame of the whole still is from a picture, in codes."""
    seen = shown(client, shot, position)
    aim = Image.fromarray(picture).resize(seen.shape[1::-1], Image.Resampling.BOX)
    return np.abs(seen - np.asarray(aim)).mean()


def test_a_shot_follows_the_picture_that_is_named_like_one_of_its_stills(client, gathered):
    shot = gathered(6)
    decide(client, shot, exposure=setting(1), vignette=setting(0.1), one_balance=True, even={"flicker": True})
    shown = opened(client, shot)
    shown["decisions"]["fit"]["size"] = {"width": 480, "height": 320}
    body = {"seen": shown["revision"], "decisions": shown["decisions"]}
    before = client.put(f"/api/shots/{shot}/decisions", json=body).json()
    stills = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    # By its name it is of the fourth, whichever is looked at.
    name = stills[3]["name"].rsplit(".", 1)[0].lower() + ".tif"
    wanted = warm_and_bright(scene(480, 320, 4))
    assert apart(client, shot, 3, wanted) > 15
    found = follow(client, shot, 0, name, tiff(wanted))
    assert found.status_code == 200, found.text
    assert found.json()["position"] == 3
    assert f"“{stills[3]['name']}” looks like “{name}”" in found.json()["sentence"]
    assert apart(client, shot, 3, wanted) < 5
    assert apart(client, shot, 5, warm_and_bright(scene(480, 320, 6))) < 5
    # What is not looked for stays.
    now = opened(client, shot)["decisions"]["light"]
    assert (now["vignette"]["value"], now["one_balance"], now["even"]["flicker"]) == (0.1, True, True)
    undone = client.post(f"/api/shots/{shot}/undo", json={"seen": found.json()["revised"]["revision"]}).json()
    assert undone["decisions"]["light"] == before["decisions"]["light"]


def test_a_raw_shot_follows_the_jpeg_its_camera_made(client, card, project, finished):
    folder, pictures = card / f"raw-{project}", [scene(480, 320, number) for number in range(3)]
    folder.mkdir()
    for number, picture in enumerate(pictures):
        taken = datetime(2031, 5, 4, 9, 30) + timedelta(seconds=5 * number)
        write_dng(folder / f"P_{number + 1:04}.dng", picture, "Marrow Lantern", taken)
    shot = gather(client, finished, project, folder)
    decide(client, shot)
    fit = opened(client, shot)
    fit["decisions"]["fit"]["size"] = {"width": 480, "height": 320}
    client.put(f"/api/shots/{shot}/decisions", json={"seen": fit["revision"], "decisions": fit["decisions"]})
    file = io.BytesIO()
    Image.fromarray(warm_and_bright(pictures[1])).save(file, "JPEG", quality=90)
    before = apart(client, shot, 1, warm_and_bright(pictures[1]))
    found = follow(client, shot, 1, "developed.jpg", file.getvalue())
    assert found.status_code == 200, found.text
    assert apart(client, shot, 1, warm_and_bright(pictures[1])) < min(6, before / 3)


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("notes.txt", b"low tide at four", "notes.txt"),
        ("half.tif", tiff(scene(480, 320))[:4000], "half.tif"),
        ("cropped.tif", tiff(scene(300, 300)), "another shape"),
        ("another.tif", tiff(scene(480, 320)[::-1, ::-1]), "does not look like"),
    ],
)
def test_what_cannot_be_followed_is_named_and_changes_nothing(client, gathered, name, data, words):
    shot = gathered(6)
    before = opened(client, shot)["revision"]
    refused = follow(client, shot, 2, name, data)
    assert refused.status_code in (400, 422), refused.text
    assert words in refused.json()["detail"]
    assert opened(client, shot)["revision"] == before


def test_who_saw_an_earlier_state_or_another_shot_follows_nothing(client, gathered):
    shot = gathered(6)
    seen = opened(client, shot)["revision"]
    decide(client, shot, exposure=setting(0.5))
    data = tiff(warm_and_bright(scene(480, 320, 1)))
    assert follow(client, shot, 0, "a.tif", data, seen=seen).status_code == 409
    assert follow(client, shot, 99, "a.tif", data).status_code == 404
    assert follow(client, 99_999, 0, "a.tif", data, seen=1).status_code == 404
