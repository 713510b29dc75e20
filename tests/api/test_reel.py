"""Reels through the interface: put together, heard, undone, encoded, and what becomes of them when their shots
change."""

import io
import json
import shutil
import subprocess
from fractions import Fraction

import av
import numpy as np
import pytest
import soundfile
from PIL import Image

from tests.api.shots import small
from tests.core.gather.test_footage import film
from tests.sounds import clicks, noise, tone, written
from yarnkite.core.base.errors import Refusal
from yarnkite.core.sound.decisions import RATE
from yarnkite.services.clip import Hearers
from yarnkite.services.reel import opened
from yarnkite.services.saved import render_file

# Chunks of this size are made by no other test: what is rendered once is not rendered again.
SMALL = {"width": 352, "height": 198}


@pytest.fixture
def reel(client, project, gathered):
    """A reel of two shots of twelve stills, small, and a way to change what is decided about it."""
    one, other = gathered(12), gathered(12)
    for shot in (one, other):
        small(client, shot, **SMALL)
    made = client.post(f"/api/projects/{project}/reels", json={"name": "Evening", "shots": [one, other]}).json()
    return Reel(client, made["id"], one, other)


class Reel:
    def __init__(self, client, number, one, other):
        self.client, self.id, self.one, self.other = client, number, one, other

    @property
    def now(self):
        return self.client.get(f"/api/reels/{self.id}").json()

    def change(self, changed):
        now = self.now
        decisions = now["decisions"]
        changed(decisions)
        body = {"seen": now["revision"], "decisions": decisions}
        answer = self.client.put(f"/api/reels/{self.id}/decisions", json=body)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def send(self, wave, name="music.wav", rate=RATE, form="WAV"):
        file = io.BytesIO()
        soundfile.write(file, wave, rate, format=form)
        return self.client.put(f"/api/reels/{self.id}/sounds?name={name}", content=file.getvalue()).json()

    def frame(self, number, width=352):
        revision = self.now["revision"]
        answer = self.client.get(f"/api/reels/{self.id}/frames/{number}.jpg?revision={revision}&width={width}")
        assert answer.status_code == 200, answer.text
        return np.asarray(Image.open(io.BytesIO(answer.content)), int), answer.headers["yarnkite-timecode"]

    def plan(self):
        return self.client.get(f"/api/reels/{self.id}/play?revision={self.now['revision']}").json()

    def encoded(self, finished, tmp_path):
        job = self.client.post(f"/api/reels/{self.id}/encode", json={"seen": self.now["revision"]}).json()
        ended = finished(job["id"])
        assert ended["state"] == "finished", ended
        clip = self.client.get(f"/api/reels/{self.id}/clips").json()[0]
        path = tmp_path / "reel.mp4"
        path.write_bytes(self.client.get(f"/api/clips/{clip['id']}/file").content)
        return clip, path


def parts(now):
    return [(one["start"], one["frames"]) for one in now["parts"]]


def shots_of(now):
    return [
        [(picture["shot"], picture["begin"], picture["end"]) for picture in part["pictures"]]
        for part in now["decisions"]["parts"]
    ]


def test_a_reel_has_its_shots_one_after_another_and_says_so(reel, client, project):
    now = reel.now
    assert parts(now) == [(0, 12), (12, 12)]
    assert now["decisions"]["size"] == SMALL
    assert "".join(part["text"] for part in now["brief"]["parts"]).startswith(
        "Show 2 parts one after another, cover 352 × 198 at 25 fps, and write an H.264 file of high quality: 24 "
        "frames, 1.0 s (00:00:00:24)"
    )
    assert [one["starts"] for one in now["parts"]] == ["00:00:00:00", "00:00:00:12"]
    (listed,) = client.get(f"/api/projects/{project}/reels").json()
    assert (listed["name"], listed["brief"]) == ("Evening", "".join(part["text"] for part in now["brief"]["parts"]))


def test_dissolves_dips_and_fades_are_said_and_shown(reel):
    now = reel.change(lambda d: d["parts"][0].update(join={"kind": "dissolve", "frames": 4, "colour": "#000000"}))
    assert parts(now) == [(0, 12), (8, 12)]
    assert now["parts"][0]["over"] == 4
    now = reel.change(lambda d: d["fades"].update(picture_out=5))
    said = "".join(part["text"] for part in now["brief"]["parts"])
    assert "by way of 1 dissolve" in said
    assert "fade out over 0.2 s" in said
    last, code = reel.frame(19)
    assert last.mean() < 0.5 * reel.frame(12)[0].mean()
    assert code == "00:00:00:19"


def test_undo_and_redo_and_a_stale_tab(reel, client):
    first = reel.now
    reel.change(lambda d: d["parts"].reverse())
    now = reel.now
    assert [one[0][0] for one in shots_of(now)] == [reel.other, reel.one]
    stale = client.put(
        f"/api/reels/{reel.id}/decisions", json={"seen": first["revision"], "decisions": first["decisions"]}
    )
    assert (stale.status_code, stale.json()["code"]) == (409, "stale_revision")
    undone = client.post(f"/api/reels/{reel.id}/undo", json={"seen": now["revision"]}).json()
    assert undone["decisions"] == first["decisions"]
    redone = client.post(f"/api/reels/{reel.id}/redo", json={"seen": undone["revision"]}).json()
    assert redone["decisions"] == now["decisions"]
    assert not redone["can_redo"]


def test_a_sound_is_taken_in_as_a_track_once_and_drawn(reel, client, project, finished):
    wave = np.concatenate([noise(3, 0.002), tone(4, 300, 0.4)])
    ended = finished(reel.send(wave)["id"])
    assert ended["state"] == "finished"
    (track,) = reel.now["decisions"]["sound"]["tracks"]
    (sound,) = client.get(f"/api/projects/{project}/sounds").json()
    assert track["sound"] == sound["id"]
    assert sound["samples"] == 7 * RATE
    assert abs(sound["begins"] - 3 * RATE) < 0.2 * RATE
    reel.change(lambda d: d["parts"].append({**d["parts"][0], "id": 7, "frames": 126}))
    reel.change(lambda d: d["sound"]["tracks"][0].update(fade_out=RATE))
    (curve,) = client.get(f"/api/reels/{reel.id}/loudness-curves?revision={reel.now['revision']}&rows=60").json()
    assert (curve["name"], len(curve["loud"])) == ("music.wav", 60)
    assert max(curve["loud"][:29]) < 0.05 < min(curve["loud"][32:48])
    assert curve["loud"][-2] < 0.3 * curve["loud"][45]
    # The same file again is another track of the same sound.
    finished(reel.send(wave)["id"])
    assert [one["sound"] for one in reel.now["decisions"]["sound"]["tracks"]] == [sound["id"]] * 2
    assert len(client.get(f"/api/projects/{project}/sounds").json()) == 1


def test_the_credit_of_a_piece_is_read_from_its_file_and_can_be_written(reel, client, project, finished, tmp_path):
    plain, path = written(tone(1), tmp_path / "plain.wav"), tmp_path / "tide.flac"
    said = ["-metadata", "title=Slow Tide", "-metadata", "artist=A. Piper"]
    subprocess.run(["ffmpeg", "-v", "error", "-i", plain, *said, path], check=True)
    sent = client.put(f"/api/reels/{reel.id}/sounds?name=tide.flac", content=path.read_bytes()).json()
    assert finished(sent["id"])["state"] == "finished"
    (kept,) = client.get(f"/api/projects/{project}/sounds").json()
    assert kept["credit"] == "“Slow Tide” by A. Piper"
    own = client.put(f"/api/sounds/{kept['id']}/credit", json={"credit": " A. Piper,\n by leave "}).json()
    assert own == kept | {"credit": "A. Piper, by leave"}
    # Brought in once more it is the same sound, with what a person wrote.
    finished(client.put(f"/api/reels/{reel.id}/sounds?name=tide.flac", content=path.read_bytes()).json()["id"])
    assert client.get(f"/api/projects/{project}/sounds").json() == [own]
    assert client.put("/api/sounds/99999/credit", json={"credit": ""}).status_code == 404
    assert client.put(f"/api/sounds/{kept['id']}/credit", json={"credit": "x" * 301}).status_code == 422


def test_a_sound_is_deleted_only_where_no_reel_has_it(reel, client, project, finished, services):
    finished(reel.send(noise(1, 0.1, seed=1000 + project))["id"])
    (sound,) = client.get(f"/api/projects/{project}/sounds").json()
    refused = client.delete(f"/api/sounds/{sound['id']}")
    assert (refused.status_code, refused.json()["code"]) == (409, "sound_in_use")
    before = len(list(services.workspace.sounds.iterdir()))
    reel.change(lambda d: d["sound"].update(tracks=[]))
    assert client.delete(f"/api/sounds/{sound['id']}").status_code == 204
    assert len(list(services.workspace.sounds.iterdir())) == before - 1
    client.post(f"/api/reels/{reel.id}/undo", json={"seen": reel.now["revision"]})
    assert "not in the project any more" in reel.now["brief"]["remarks"][0]["sentence"]
    assert not reel.plan()["loudness"]


def test_what_is_no_sound_is_said_and_nothing_changes(reel, client, finished):
    before = reel.now["revision"]
    job = client.put(f"/api/reels/{reel.id}/sounds?name=letter.txt", content=b"no sound at all " * 40).json()
    ended = finished(job["id"])
    assert ended["state"] == "failed"
    assert "“letter.txt” cannot be read as sound" in ended["message"]
    assert reel.now["revision"] == before


def test_what_is_played_is_the_frames_and_the_samples_that_are_written(reel, finished, client):
    finished(reel.send(clicks(RATE * 2, 24_000))["id"])
    reel.change(lambda d: d["sound"].update(loudness=None))
    plan = reel.plan()
    assert (plan["frames"], plan["part"]) == (24, [0] * 12 + [1] * 12)
    assert plan["loudness_known"]
    segment = plan["segments"][1]
    video = client.get(f"/api/segments/{segment['key']}.mp4").content
    with av.open(io.BytesIO(video)) as container:
        assert sum(1 for _ in container.decode(video=0)) == segment["frames"]
    heard = []
    for one in plan["segments"]:
        data = client.get(f"/api/reel-sound/{plan['sound']}/{one['first']}-{one['frames']}.mp4").content
        with av.open(io.BytesIO(data)) as container:
            heard += [frame.to_ndarray().reshape(-1, 2) / 2**31 for frame in container.decode(audio=0)]
    samples = np.concatenate(heard)
    assert len(samples) == 24 * RATE // 25
    assert list(np.flatnonzero(np.abs(samples[:, 0]) > 0.1)) == [24_000]
    assert samples[24_000, 0] == pytest.approx(0.8, abs=1e-4)


def test_a_reel_without_shots_and_one_too_short_for_a_measure_are_no_trouble(reel, finished, client, tmp_path):
    finished(reel.send(tone(1))["id"])
    reel.change(lambda d: d["parts"].pop())
    reel.change(lambda d: d["parts"][0].update(frames=8))
    plan = reel.plan()
    assert (plan["frames"], plan["loudness_known"], plan["loudness"]) == (8, True, None)
    clip, _ = reel.encoded(finished, tmp_path)
    assert clip["differences"] == []
    reel.change(lambda d: d.update(parts=[]))
    assert reel.plan()["frames"] == 0
    assert client.post(f"/api/reels/{reel.id}/encode", json={"seen": reel.now["revision"]}).status_code == 400
    assert reel.now["brief"]["parts"][0]["text"] == "Nothing to make yet: no shot is in it yet."


def test_an_encoded_reel_is_what_it_was_planned_to_be_by_independent_measures(reel, finished, tmp_path):
    finished(reel.send(np.concatenate([noise(0.3, 0.2), np.zeros((9000, 2), np.float32), noise(4, 0.02)]))["id"])
    reel.change(lambda d: d["parts"][0].update(join={"kind": "dissolve", "frames": 6, "colour": "#000000"}))
    # Long enough for a loudness to be measured: the gate works on 0.4 s.
    reel.change(lambda d: d.update(parts=d["parts"] + [{**d["parts"][1], "id": 9}], titles=[title(1, "Ωμέγα")]))
    reel.change(lambda d: d["sound"].update(loudness=-20.0))
    clip, path = reel.encoded(finished, tmp_path)
    assert clip["differences"] == []
    asked = ["ffprobe", "-v", "error", "-count_frames", "-show_streams", "-show_chapters", "-of", "json", str(path)]
    found = json.loads(subprocess.run(asked, capture_output=True, check=True).stdout)
    video, audio = (next(one for one in found["streams"] if one["codec_type"] == kind) for kind in ("video", "audio"))
    assert (video["nb_read_frames"], video["avg_frame_rate"]) == ("30", "25/1")
    lengths = [int(one["duration_ts"]) * Fraction(one["time_base"]) for one in (video, audio)]
    assert lengths == [Fraction(30, 25)] * 2
    assert (audio["codec_name"], audio["sample_rate"], audio["channels"]) == ("aac", "48000", 2)
    assert [float(one["start_time"]) for one in found["chapters"]] == [0, 0.24, 0.72]
    said = subprocess.run(
        ["ffmpeg", "-nostats", "-i", path, "-af", "ebur128", "-f", "null", "-"], capture_output=True, text=True
    ).stderr
    loudness = float(said.rsplit("I:", 1)[1].split("LUFS")[0])
    assert loudness == pytest.approx(-20.0, abs=0.3)


def title(number, text, **decided):
    return {"id": number, "text": text, "first": 0, **decided}


def test_a_click_is_where_it_was_after_encoding(reel, finished, tmp_path):
    finished(reel.send(clicks(RATE, 30_000))["id"])
    reel.change(lambda d: d["sound"].update(loudness=None))
    _, path = reel.encoded(finished, tmp_path)
    with av.open(str(path)) as container:
        samples = np.concatenate([frame.to_ndarray()[0] for frame in container.decode(audio=0)])
    assert abs(int(np.argmax(np.abs(samples))) - 30_000) < RATE // 1000


def test_a_reel_goes_on_when_a_shot_is_deleted_and_has_it_again_when_it_is_taken_back(reel, client):
    client.delete(f"/api/shots/{reel.one}")
    now = reel.now
    assert parts(now) == [(0, 0), (0, 12)]
    assert now["brief"]["remarks"][0]["sentence"].startswith("This shot was deleted.")
    assert reel.plan()["frames"] == 12
    client.post(f"/api/shots/{reel.one}/take-back")
    assert parts(reel.now) == [(0, 12), (12, 12)]


def stills_of(client, shot):
    return [one["id"] for one in client.get(f"/api/shots/{shot}/stills").json()["stills"]]


def test_a_stretch_survives_another_order_and_its_ends_being_set_aside(reel, client):
    ids = stills_of(client, reel.one)
    reel.change(lambda d: d["parts"][0]["pictures"][0].update(begin=ids[3], end=ids[8]))
    assert parts(reel.now)[0] == (0, 6)
    shown = client.get(f"/api/shots/{reel.one}").json()
    shown["decisions"]["check"]["aside"] = [ids[3], ids[5]]
    client.put(f"/api/shots/{reel.one}/decisions", json={"seen": shown["revision"], "decisions": shown["decisions"]})
    assert parts(reel.now)[0] == (0, 4)
    revision = client.get(f"/api/shots/{reel.one}").json()["revision"]
    client.post(f"/api/shots/{reel.one}/order/reverse", json={"seen": revision, "stills": []})
    assert parts(reel.now)[0] == (0, 4)


def test_a_split_leaves_the_video_as_it_was(reel, client):
    before = [reel.frame(number)[0] for number in range(24)]
    ids = stills_of(client, reel.one)
    made = client.post(f"/api/shots/{reel.one}/split", json={"before": [ids[5]]}).json()
    now = reel.now
    assert parts(now) == [(0, 5), (5, 7), (12, 12)]
    assert len(ids) == 12
    assert made
    after = [reel.frame(number)[0] for number in range(24)]
    assert all(np.abs(one - other).mean() < 1 for one, other in zip(before, after, strict=True))
    assert not now["can_undo"]


def test_a_join_leaves_the_video_as_it_was(reel, client):
    ids = stills_of(client, reel.one)
    reel.change(lambda d: d["parts"].pop())
    client.post(f"/api/shots/{reel.one}/split", json={"before": [ids[5]]})
    other = shots_of(reel.now)[1][0][0]
    reel.change(lambda d: d["parts"].reverse())
    before = [reel.frame(number)[0] for number in range(12)]
    assert client.post(f"/api/shots/{reel.one}/join", json={"other": other}).status_code < 300
    now = reel.now
    assert [row[0] for row in shots_of(now)] == [(reel.one, ids[5], ids[11]), (reel.one, ids[0], ids[4])]
    assert parts(now) == [(0, 7), (7, 5)]
    after = [reel.frame(number)[0] for number in range(12)]
    assert all(np.abs(one - other).mean() < 1 for one, other in zip(before, after, strict=True))


def test_a_version_that_is_shown_stays_and_one_that_is_deleted_gives_way(reel, client):
    shown = client.get(f"/api/shots/{reel.one}").json()
    made = client.post(f"/api/shots/{reel.one}/versions", json={"seen": shown["revision"], "name": "slow"}).json()
    made["decisions"]["pace"]["hold"] = 3
    made = client.put(
        f"/api/shots/{reel.one}/decisions", json={"seen": made["revision"], "decisions": made["decisions"]}
    ).json()
    slow = made["version"]
    first = next(one["id"] for one in made["versions"] if one["id"] != slow)
    reel.change(lambda d: d["parts"][0]["pictures"][0].update(version=slow))
    assert parts(reel.now)[0] == (0, 36)
    client.post(f"/api/shots/{reel.one}/versions/open", json={"seen": made["revision"], "version": first})
    assert parts(reel.now)[0] == (0, 36)
    client.delete(f"/api/shots/{reel.one}/versions/{slow}")
    now = reel.now
    assert parts(now)[0] == (0, 12)
    assert "was deleted; the one that is open is shown" in now["brief"]["remarks"][0]["sentence"]


@pytest.mark.parametrize(
    ("size", "status"), [((1, 1), 201), ((9_000, 9_000), 201), ((20_000, 20_000), 400)], ids=["1", "9000²", "20000²"]
)
def test_logos_of_any_size_are_taken_or_refused(reel, client, size, status):
    file = io.BytesIO()
    Image.new("1", size).save(file, "PNG")
    answer = client.put(f"/api/reels/{reel.id}/logos?name=mark.png", content=file.getvalue())
    assert answer.status_code == status, answer.text
    if status == 201:
        number = answer.json()["id"]
        reel.change(lambda d: d.update(titles=[title(1, "", kind="picture", picture=number, size=0.2)]))
        assert reel.frame(3)[0].shape == (198, 352, 3)
    else:
        assert "mark.png" in answer.json()["detail"]


def test_each_picture_is_resolved_for_its_place_and_too_many_are_refused(reel, services):
    one = reel.now["decisions"]["parts"][0]
    beside = {**one, "id": 5, "pictures": one["pictures"] * 2, "arrangement": "halves"}
    reel.change(lambda d: d["parts"].append(beside))
    made = opened(services, reel.id).decided.made
    sizes = [[clip.recipe.decisions.fit.size.width for clip in row] for row in made.recipe.clips]
    assert sizes == [[352], [352], [176, 176]]
    now = reel.now
    now["decisions"]["parts"][2]["pictures"] *= 2
    body = {"seen": now["revision"], "decisions": now["decisions"]}
    assert reel.client.put(f"/api/reels/{reel.id}/decisions", json=body).status_code == 422


def test_titles_too_long_too_wide_and_without_letters_are_said(reel):
    now = reel.now
    now["decisions"]["titles"] = [title(1, "a" * 5000)]
    body = {"seen": now["revision"], "decisions": now["decisions"]}
    assert reel.client.put(f"/api/reels/{reel.id}/decisions", json=body).status_code == 422
    said = reel.change(
        lambda d: d.update(titles=[title(1, "a" * 500), title(2, "sea \U0001f30a"), title(3, "x", part=77)])
    )
    sentences = {one["number"]: one["sentence"] for one in said["brief"]["remarks"]}
    assert "beyond the frame" in sentences[1]
    assert "No typeface here has “\U0001f30a”" in sentences[2]
    assert "not seen" in sentences[3]
    assert reel.frame(3)[0].shape == (198, 352, 3)


def test_rates_that_differ_are_said_in_words(reel, client):
    shown = client.get(f"/api/shots/{reel.one}").json()
    shown["decisions"]["pace"]["rate"] = "30000/1001"
    client.put(f"/api/shots/{reel.one}/decisions", json={"seen": shown["revision"], "decisions": shown["decisions"]})
    now = reel.change(lambda d: d.update(rate="30"))
    sentences = [one["sentence"] for one in now["brief"]["remarks"]]
    assert any("29.97 and 30 fps are not the same" in one and "0.1 % faster" in one for one in sentences)
    assert any("has 25 fps; in this reel of 30 it keeps its length" in one for one in sentences)


def test_a_made_up_sound_fits_the_video_and_a_reel_of_one_shot_takes_one_click(client, gathered, finished, project):
    shot = gathered(12)
    small(client, shot, **SMALL, hold=50)
    made = client.post(f"/api/shots/{shot}/reel").json()
    job = client.post(f"/api/reels/{made['id']}/made-sounds", json={"kind": "bright", "seconds": 30, "seed": 3}).json()
    assert finished(job["id"])["state"] == "finished"
    now = client.get(f"/api/reels/{made['id']}").json()
    (track,) = now["decisions"]["sound"]["tracks"]
    (sound,) = client.get(f"/api/projects/{project}/sounds").json()
    assert sound["samples"] == 30 * RATE
    ways = client.get(f"/api/reels/{made['id']}/tracks/{track['id']}/ways?revision={now['revision']}").json()
    assert ways[0]["fits"] >= ways[-1]["fits"]
    assert {way["name"] for way in ways} <= {"match its beats", "cut at a quiet place"}


def test_a_reel_is_put_away_taken_back_and_freed_with_its_files(reel, client, project, finished, services, tmp_path):
    finished(reel.send(noise(2, 0.1, seed=project))["id"])
    _, path = reel.encoded(finished, tmp_path)
    (sound,) = client.get(f"/api/projects/{project}/sounds").json()
    held = next(one for one in client.get("/api/space").json()["projects"] if one["id"] == project)
    assert held["sounds"] == 2 * RATE * 8
    assert held["clips"] == path.stat().st_size
    decided = reel.now["decisions"]
    assert client.delete(f"/api/reels/{reel.id}").status_code == 204
    assert client.get(f"/api/reels/{reel.id}").status_code == 404
    assert client.get(f"/api/projects/{project}/reels").json() == []
    deleted = client.get("/api/space").json()["deleted_reels"]
    assert [one["name"] for one in deleted if one["id"] == reel.id] == ["Evening"]
    assert client.post(f"/api/reels/{reel.id}/take-back").status_code == 204
    assert reel.now["decisions"] == decided
    client.delete(f"/api/reels/{reel.id}")
    files = set(services.workspace.folder.glob("clips/*.mp4"))
    client.post("/api/space/free", json={"what": "deleted"})
    gone = files - set(services.workspace.folder.glob("clips/*.mp4"))
    assert len(gone) >= 1
    assert client.post(f"/api/reels/{reel.id}/take-back").status_code == 404
    # The sound is the project's, and stays.
    assert client.get(f"/api/projects/{project}/sounds").json()[0]["id"] == sound["id"]


def test_a_reel_that_is_worked_on_is_not_put_away(reel, client, finished):
    job = client.post(f"/api/reels/{reel.id}/made-sounds", json={"kind": "calm", "seconds": 240, "seed": 1}).json()
    refused = client.delete(f"/api/reels/{reel.id}")
    assert (refused.status_code, refused.json()["code"]) == (409, "reel_busy")
    client.post(f"/api/jobs/{job['id']}/cancel")
    assert finished(job["id"])["state"] == "cancelled"
    assert reel.now["decisions"]["sound"]["tracks"] == []
    assert client.delete(f"/api/reels/{reel.id}").status_code == 204


def changes(client, reel):
    return {one["clip_id"]: one["changed"] for one in client.get(f"/api/reels/{reel}/clips/changes").json()}


def test_a_reels_file_says_what_was_changed_since_and_is_made_anew(reel, client, finished, tmp_path):
    clip, _ = reel.encoded(finished, tmp_path)
    assert changes(client, reel.id) == {}
    # One of its shots is changed, and the reel itself.
    small(client, reel.other, **SMALL, hold=2)
    name = client.get(f"/api/shots/{reel.other}").json()["name"]
    assert changes(client, reel.id) == {clip["id"]: [f"“{name}” (pace)"]}
    now = reel.change(lambda d: d["fades"].update(picture_out=5))
    assert changes(client, reel.id) == {clip["id"]: [f"“{name}” (pace)", "fades"]}
    stale = client.post(f"/api/clips/{clip['id']}/anew", json={"seen": now["revision"] - 1})
    assert stale.status_code == 409
    job = finished(client.post(f"/api/clips/{clip['id']}/anew", json={"seen": now["revision"]}).json()["id"])
    assert job["state"] == "finished"
    newest, before = client.get(f"/api/reels/{reel.id}/clips").json()
    assert (newest["name"], newest["frames"], before["id"]) == (clip["name"], 36, clip["id"])
    assert changes(client, reel.id) == {}


def test_a_reel_is_written_for_others_and_read_again(reel, client, project):
    reel.change(lambda d: d.update(titles=[title(1, "Low tide", part=1)], fades={**d["fades"], "picture_out": 4}))
    for kind, begins in (("edl", "TITLE: Evening"), ("vtt", "WEBVTT")):
        answer = client.get(f"/api/reels/{reel.id}/reel.{kind}")
        assert answer.text.startswith(begins)
        assert f"Evening.{kind}" in answer.headers["content-disposition"]
    text = client.get(f"/api/reels/{reel.id}/reel.otio").text
    read = client.post(f"/api/projects/{project}/reels/read", json={"text": text}).json()
    assert read["left_out"] == []
    assert client.get(f"/api/reels/{read['reel']}").json()["decisions"] == reel.now["decisions"]
    refused = client.post(f"/api/projects/{project}/reels/read", json={"text": "no document"})
    assert (refused.status_code, refused.json()["code"]) == (400, "not_a_reel")


def test_a_saved_reel_is_rendered_elsewhere_with_its_sound_to_the_same_file(
    reel, client, finished, services, card, tmp_path
):
    wish = {"kind": "water", "seconds": 2, "seed": 3}
    assert finished(client.post(f"/api/reels/{reel.id}/made-sounds", json=wish).json()["id"])["state"] == "finished"
    reel.change(lambda made: made.update(titles=[{"id": 1, "text": "Ebb"}], chapters=True))
    encoded = finished(client.post(f"/api/reels/{reel.id}/encode", json={"seen": reel.now["revision"]}).json()["id"])
    expected = client.get(f"/api/clips/{encoded['clip_id']}/file").content
    file = tmp_path / "evening.json"
    file.write_text(client.get(f"/api/reels/{reel.id}/reel.json").text)
    assert str(card) not in file.read_text()
    elsewhere = tmp_path / "elsewhere"
    for shot in (reel.one, reel.other):
        folder = card / client.get(f"/api/shots/{shot}").json()["folder"].rpartition("/")[2]
        shutil.copytree(folder, elsewhere / folder.name)
    with pytest.raises(Refusal, match="--sounds"):
        render_file(file, elsewhere, tmp_path / "none.mp4", Hearers())
    made = render_file(file, elsewhere, tmp_path / "evening.mp4", Hearers(), sounds=services.workspace.sounds)
    assert not made.verdict.differences
    assert made.path.read_bytes() == expected
    stretch = render_file(
        file, elsewhere, tmp_path / "part.mp4", Hearers(), sounds=services.workspace.sounds, stretch=(3, 9)
    )
    assert stretch.verdict.facts.frames == 6
    changed = next((elsewhere / folder.name).iterdir())
    changed.write_bytes(changed.read_bytes() + b"x")
    with pytest.raises(Refusal, match="not what"):
        render_file(file, elsewhere, tmp_path / "none.mp4", Hearers(), sounds=services.workspace.sounds)
    outside = file.read_text().replace("sounds/", "sounds/../../")
    (tmp_path / "outside.json").write_text(outside)
    with pytest.raises(Refusal, match="leads out"):
        render_file(tmp_path / "outside.json", elsewhere, tmp_path / "none.mp4", Hearers(), sounds=tmp_path)


def test_a_reel_whose_newest_decisions_cannot_be_read_says_so_and_is_what_it_was(client, services, gathered, project):
    shot = gathered(3)
    reel = client.post(f"/api/projects/{project}/reels", json={"name": "Both", "shots": [shot]}).json()["id"]
    shown = client.get(f"/api/reels/{reel}").json()
    assert shown["notice"] == ""
    decisions = shown["decisions"] | {"titles": [{"id": 1, "text": "Low water", "first": 0}]}
    body = {"seen": shown["revision"], "decisions": decisions}
    assert client.put(f"/api/reels/{reel}/decisions", json=body).status_code == 200
    with services.database.transaction() as cursor:
        cursor.execute(
            "UPDATE reel_revision SET decisions = '{\"parts\": 7}' WHERE reel_id = %s AND number = 2", (reel,)
        )
    shown = client.get(f"/api/reels/{reel}").json()
    assert "The newest decision cannot be read" in shown["notice"]
    assert len(shown["decisions"]["parts"]) == 1
    # The very decisions that count are saved anew when they are sent: they are not what that revision holds.
    kept = client.put(f"/api/reels/{reel}/decisions", json={"seen": 2, "decisions": shown["decisions"]}).json()
    assert kept["revision"] == 3
    shown = client.get(f"/api/reels/{reel}").json()
    assert (shown["notice"], len(shown["decisions"]["parts"])) == ("", 1)


def test_film_is_a_part_at_its_true_speed_with_its_own_sound_cut_by_in_and_out(client, project, card, finished):
    """A tone begins after 1.5 s of the film, of which the second from 1 to 2 is used, in frames 25 to 49."""
    heard = np.concatenate([np.zeros(round(1.5 * RATE)), tone(0.9, 440, 0.4)[:, 0]])
    film(card / f"gulls-{project}.mp4", frames=60, sound=heard)
    taking = {"every_frames": 1, "from_s": 1, "until_s": 2}
    asked = {"location": "card", "path": f"gulls-{project}.mp4", "taking": taking}
    assert client.post("/api/footage", json=asked).json()["stills"] == 25
    started = client.post(f"/api/projects/{project}/footage", json=asked).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    shot = started["shot_id"]
    small(client, shot, **SMALL)
    made = client.post(f"/api/projects/{project}/reels", json={"name": "Gulls", "shots": [shot]}).json()
    reel = Reel(client, made["id"], shot, shot)
    reel.change(lambda one: one.update(size=SMALL, sound=one["sound"] | {"loudness": None}))
    (part,) = reel.now["decisions"]["parts"]
    job = client.post(f"/api/reels/{reel.id}/parts/{part['id']}/sound").json()
    assert finished(job["id"])["state"] == "finished"
    (track,) = reel.now["decisions"]["sound"]["tracks"]
    assert (track["start"], track["skip"], track["length"]) == (0, RATE, RATE)
    job = finished(client.post(f"/api/reels/{reel.id}/encode", json={"seen": reel.now["revision"]}).json()["id"])
    assert job["state"] == "finished", job["message"]
    with av.open(io.BytesIO(client.get(f"/api/clips/{job['clip_id']}/file").content)) as clip:
        frames = [frame.to_ndarray(format="rgb24") for frame in clip.decode(video=0)]
    with av.open(io.BytesIO(client.get(f"/api/clips/{job['clip_id']}/file").content)) as clip:
        sound = np.concatenate([frame.to_ndarray()[0] for frame in clip.decode(audio=0)])
    levels = np.array([(frame[-8:].mean() - 20) / 3 for frame in frames])
    assert np.abs(levels - np.arange(25, 50)).max() < 0.8
    half = RATE // 2
    assert np.abs(sound[: half - RATE // 20]).max() < 0.02
    assert np.abs(sound[half + RATE // 20 : RATE - RATE // 10]).max() > 0.2
