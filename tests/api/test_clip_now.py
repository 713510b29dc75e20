"""The short way: what is answered is decided, of one folder or of several, with music of one's own."""

import io

import numpy as np
import pytest
import soundfile

from tests.api.shots import small
from tests.conftest import write_jpeg
from tests.sounds import piece
from yarnkite.core.sound.decisions import RATE


def test_the_short_way_keeps_what_was_decided_more_finely_before(client, project, gathered):
    shot = gathered(12)
    before = client.get(f"/api/shots/{shot}").json()
    decisions = before["decisions"]
    decisions["move"]["steady"] |= {"how": "still", "perspective": True}
    decisions["light"]["even"] |= {"flicker": True, "smooth": 40}
    decisions["pace"]["hold"] = 2
    client.put(
        f"/api/shots/{shot}/decisions", json={"seen": before["revision"], "decisions": decisions}
    ).raise_for_status()
    proposed = client.get(f"/api/shots/{shot}/clip-now").json()
    assert proposed["answers"]["steady"]
    assert proposed["length"] == "1.0 s"
    sizes = [(one["size"]["width"], one["size"]["height"]) for one in proposed["shapes"]]
    assert sizes[:3] == [(1920, 1080), (1080, 1920), (1080, 1080)]
    # The stills' own shape comes last.
    assert sizes[3][0] / sizes[3][1] == pytest.approx(480 / 320, abs=0.01)
    tried = client.post(
        f"/api/shots/{shot}/clip-now/try", json=proposed["answers"] | {"size": {"width": 640, "height": 640}}
    )
    change = tried.json()["change"]
    assert change["move"]["steady"]["how"] == "still"
    assert (change["light"]["even"]["smooth"], change["light"]["even"]["steps"]) == (40, False)
    assert "640 × 640" in tried.json()["sentence"]
    off = client.post(
        f"/api/shots/{shot}/clip-now/try", json=proposed["answers"] | {"steady": False, "length": "4 s"}
    ).json()
    assert off["change"]["move"]["steady"]["how"] == "off"
    assert off["seconds"] == pytest.approx(4, abs=0.5)
    assert client.get(f"/api/shots/{shot}").json()["decisions"]["move"]["steady"]["how"] == "still"
    for wrong in ({"length": "soon"}, {"size": {"width": 641, "height": 480}}):
        assert client.post(f"/api/shots/{shot}/clip-now/try", json=proposed["answers"] | wrong).status_code in (
            400,
            422,
        )


def test_each_folder_becomes_a_shot_of_one_project_on_the_short_way(client, card, finished):
    for name in ("pier 10", "pier 2"):
        for number in range(3):
            write_jpeg(card / "piers" / name / f"MRW_{number}.jpg", number, (120, 80))
    (card / "piers" / "notes").mkdir()
    where = {"location": "card", "path": "piers"}
    begun = client.post("/api/clip-now/each", json=where)
    assert begun.status_code == 202, begun.text
    for one in begun.json():
        assert finished(one["job"]["id"])["state"] == "finished"
    shots = [client.get(f"/api/shots/{one['shot_id']}").json() for one in begun.json()]
    assert [shot["name"] for shot in shots] == ["pier 2", "pier 10"]
    (project,) = {shot["project_id"] for shot in shots}
    assert client.get(f"/api/projects/{project}").json()["name"] == "piers"
    # Asked again, the same shots are looked through again; nothing is made twice.
    again = client.post("/api/clip-now/each", json=where).json()
    assert [one["shot_id"] for one in again] == [one["shot_id"] for one in begun.json()]
    for one in again:
        finished(one["job"]["id"])
    none = client.post("/api/clip-now/each", json={"location": "card", "path": "piers/pier 2"})
    assert (none.status_code, none.json()["code"]) == (400, "no_stills")


def test_music_of_ones_own_is_brought_to_the_length_of_the_clip_on_the_short_way(client, gathered, finished):
    shot = gathered(12)
    small(client, shot, hold=20)
    answers = {"length": "", "size": {"width": 160, "height": 90}, "even": False, "music": "own"}
    waits = client.post(f"/api/shots/{shot}/clip-now", json={"answers": answers}).json()
    assert (waits["stage"], waits["job"]) == ("sound", None)
    reel = waits["reel"]
    file = io.BytesIO()
    soundfile.write(file, np.concatenate([piece("abab", 120)] * 3), RATE, format="WAV")
    sent = client.put(f"/api/reels/{reel}/sounds?name=own.wav", content=file.getvalue()).json()
    # While it is taken in that is what is waited for; nothing is sent twice.
    taking = client.post(f"/api/shots/{shot}/clip-now", json={"answers": answers, "reel": reel}).json()
    assert taking["stage"] == "encoding" or taking["job"]["id"] == sent["id"]
    finished(sent["id"])
    step = client.post(f"/api/shots/{shot}/clip-now", json={"answers": answers, "reel": reel}).json()
    assert (step["stage"], step["reel"]) == ("encoding", reel)
    assert finished(step["job"]["id"])["state"] == "finished"
    now = client.get(f"/api/reels/{reel}").json()
    (track,) = now["decisions"]["sound"]["tracks"]
    assert now["decisions"]["size"] == {"width": 160, "height": 90}
    # The piece lasts longer than the clip: it is made shorter, not cut off in its middle.
    assert track["splices"] or track["fade_out"]
    assert client.get(f"/api/reels/{reel}/clips").json()[0]["differences"] == []
