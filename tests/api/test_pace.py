"""Pacing through the interface: ways to a length, typed times, and the clip as it is played."""

import io
import json
from concurrent.futures import ThreadPoolExecutor

import av
import pytest
from PIL import Image

from tests.api.test_decisions import change
from tests.conftest import scene
from tests.serving import gather
from tests.sounds import piece, written


def play(client, shot, revision=1, **pace):
    change_text = json.dumps({"pace": pace} if pace else {})
    return client.get(f"/api/shots/{shot}/pace/play", params={"revision": revision, "change": change_text}).json()


def test_the_ways_to_a_length_are_made_by_deciding_what_they_say(client, gathered):
    shot = gathered(60)
    ways = client.get(f"/api/shots/{shot}/pace/ways", params={"length": "1 s", "revision": 1}).json()
    assert 2 <= len(ways) <= 4
    for way in ways:
        kept = change(client, shot, pace=way["pace"]).json()
        assert kept["brief"]["seconds"] == pytest.approx(way["seconds"])
        assert f"{kept['brief']['frames']:,} frames" in way["length"]
    assert any(way["seconds"] == 1 for way in ways)
    refused = client.get(f"/api/shots/{shot}/pace/ways", params={"length": "soon", "revision": 1})
    assert (refused.status_code, refused.json()["code"]) == (400, "length_not_usable")


def test_typed_seconds_come_back_as_frames(client, gathered):
    shot = gathered(1)
    found = client.get(f"/api/shots/{shot}/pace/frames", params={"text": "0.5 s", "rate": "25"}).json()
    assert found["frames"] == 13
    assert found["sentence"]
    assert client.get(f"/api/shots/{shot}/pace/frames", params={"text": "a while", "rate": "25"}).status_code == 400
    assert client.get(f"/api/shots/{shot}/pace/frames", params={"text": "3", "rate": "0"}).status_code == 400


def test_a_clip_is_planned_with_a_timecode_and_a_still_for_each_frame(client, gathered):
    shot = gathered(20)
    plan = play(client, shot, rate="30000/1001", hold=2)
    assert plan["frames"] == len(plan["stills"]) == len(plan["timecodes"]) == 40
    assert plan["stills"] == [still for still in range(20) for _ in range(2)]
    assert (plan["timecodes"][0], plan["timecodes"][-1]) == ("00:00:00;00", "00:00:01;09")
    assert plan["seconds"] == [0, 30]
    assert sum(segment["frames"] for segment in plan["segments"]) == 40


def test_stills_set_aside_are_not_in_the_plan_but_positions_stay(client, gathered):
    shot = gathered(6)
    ids = [still["id"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    client.post(f"/api/shots/{shot}/aside", json={"seen": 1, "stills": [ids[2]], "aside": True})
    assert play(client, shot, 2)["stills"] == [0, 1, 3, 4, 5]


def test_pieces_play_and_an_edit_reuses_the_others(client, gathered):
    shot = gathered(40)
    plan = play(client, shot)
    first = client.get(f"/api/segments/{plan['segments'][0]['key']}.mp4")
    assert first.headers["content-type"] == "video/mp4"
    assert "immutable" in first.headers["cache-control"]
    with av.open(io.BytesIO(first.content)) as container:
        frames = list(container.decode(video=0))
    assert len(frames) == plan["segments"][0]["frames"]
    assert (frames[0].width, frames[0].height) == (plan["width"], plan["height"]) == (960, 540)
    longer = play(client, shot, last=30)
    assert [segment["key"] for segment in longer["segments"]][: len(plan["segments"]) - 1] == [
        segment["key"] for segment in plan["segments"]
    ][:-1]


def test_a_piece_asked_for_by_many_is_made_once_and_is_the_same(client, gathered):
    shot = gathered(30)
    key = play(client, shot, hold=3)["segments"][0]["key"]
    with ThreadPoolExecutor(4) as pool:
        answers = list(pool.map(lambda _: client.get(f"/api/segments/{key}.mp4").content, range(4)))
    assert len(set(answers)) == 1


def test_a_piece_nobody_planned_is_not_there(client):
    answer = client.get(f"/api/segments/{'0' * 32}.mp4")
    assert (answer.status_code, answer.json()["code"]) == (404, "no_such_segment")
    assert client.get("/api/segments/..%2f..%2fetc.mp4").status_code in (404, 422)


def test_a_still_that_cannot_be_read_is_named_and_the_others_play(client, services, gathered, card):
    shot = gathered(30)
    folder = client.get(f"/api/shots/{shot}").json()["folder"]
    plan = play(client, shot)
    victim = card / folder.rsplit("/", 1)[1] / "MRW_20.jpg"
    victim.unlink()
    fingerprint = client.get(f"/api/shots/{shot}/stills").json()["stills"][19]["fingerprint"]
    services.workspace.proxies.thumbnail(fingerprint).unlink()
    statuses = {}
    for segment in plan["segments"]:
        answer = client.get(f"/api/segments/{segment['key']}.mp4")
        holds_it = segment["first"] <= 19 < segment["first"] + segment["frames"]
        statuses[holds_it] = {*statuses.get(holds_it, ()), answer.status_code}
        if holds_it:
            assert "MRW_20.jpg" in answer.json()["detail"]
    assert statuses == {True: {422}, False: {200}}


def test_single_stills_that_stay_longer_are_named_by_id(client, gathered):
    shot = gathered(5)
    ids = [still["id"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    kept = change(client, shot, pace={"longer": [{"still": ids[1], "frames": 7}], "last": 4}).json()
    assert kept["brief"]["frames"] == 1 + 7 + 1 + 1 + 4
    assert play(client, shot, kept["revision"])["stills"] == [0, *[1] * 7, 2, 3, *[4] * 4]
    ways = client.get(f"/api/shots/{shot}/pace/ways", params={"length": "4 s", "revision": kept["revision"]}).json()
    assert all(one["still"] in ids for way in ways for one in way["pace"]["longer"])


@pytest.mark.parametrize(
    ("pace", "said"),
    [
        ({"thin": {"way": "every", "every": 2}, "hold": 2}, "cancel each other"),
        ({"rate": "12"}, "Some editors and players do not take 12 frames a second"),
        ({}, "The clip is shorter than a second."),
        ({"thin": {"way": "every", "every": 7}}, "left over and not shown"),
        ({"blend": "motion", "hold": 3}, "tear or smear"),
    ],
)
def test_the_brief_says_what_does_not_add_up(client, gathered, pace, said):
    shot = gathered(20)
    kept = change(client, shot, pace=pace).json() if pace else client.get(f"/api/shots/{shot}").json()
    spoken = [*kept["brief"]["remarks"], *(part["warning"] for part in kept["brief"]["parts"])]
    assert any(said in sentence for sentence in spoken), spoken


def test_a_clip_of_days_is_said_to_be_too_long_and_nothing_breaks(client, gathered):
    shot = gathered(40)
    kept = change(client, shot, pace={"rate": "1", "hold": 1000, "curve": [{"at": 0.5, "speed": 0.05}]}).json()
    assert kept["brief"]["frames"] == 0
    assert "longer than 24 hours" in " ".join(kept["brief"]["remarks"])
    asked = {"revision": kept["revision"]}
    for path in ("pace/play", "frames/0.jpg", "stills/0/frame.jpg"):
        answer = client.get(f"/api/shots/{shot}/{path}", params=asked)
        assert (answer.status_code, answer.json()["code"]) == (400, "clip_too_long")
    refused = client.post(f"/api/shots/{shot}/encode", json={"seen": kept["revision"]})
    assert refused.status_code == 400
    held = change(client, shot, pace={"rate": "60", "hold": 1000, "curve": [{"at": 0.5, "speed": 0.05}]}).json()
    played = client.get(f"/api/shots/{shot}/pace/play", params={"revision": held["revision"]})
    assert (played.status_code, played.json()["code"]) == (400, "too_long_to_play")


def test_a_low_rate_is_written_repeated_if_wanted(client, gathered):
    shot = gathered(12)
    kept = change(client, shot, pace={"rate": "12"}).json()
    remedy = kept["brief"]["remedies"][0]
    assert remedy["name"] == "write it as 24"
    settled = client.put(
        f"/api/shots/{shot}/decisions", json={"seen": kept["revision"], "decisions": remedy["decisions"]}
    ).json()
    assert (settled["brief"]["frames"], settled["brief"]["seconds"]) == (24, 1.0)
    assert play(client, shot, settled["revision"])["stills"] == [still for still in range(12) for _ in range(2)]


def test_the_brief_tells_the_clock_of_the_shot(client, gathered):
    shot = gathered(40)
    assert client.get(f"/api/shots/{shot}").json()["brief"]["clock"] == "1 s of clip is 2 min 05 s of the day (125 ×)"


def test_two_settings_are_played_in_one_picture_of_two_halves(client, gathered):
    shot = gathered(30, (960, 640))
    now = {"fit": {"size": {"width": 960, "height": 540}}, "pace": {"rate": "25"}}
    other = now | {"light": {"exposure": {"value": -1}}, "pace": {"rate": "25", "hold": 2}}

    def ask(**query):
        said = {"revision": 1, "other": 1, "change": json.dumps(now), "other_change": json.dumps(other)}
        return client.get(f"/api/shots/{shot}/pace/play-in-step", params=said | query)

    plan = ask().json()
    assert (plan["frames"], plan["other_frames"]) == (30, 60)
    assert (plan["width"], plan["height"], plan["edge"]) == (1920, 540, 0.5)
    assert plan["beside"] in ([2 * n for n in range(30)], [2 * n + 1 for n in range(30)])
    with av.open(io.BytesIO(client.get(f"/api/segments/{plan['segments'][0]['key']}.mp4").content)) as film:
        [pictures] = [[one.to_ndarray(format="rgb24").astype(float) for one in film.decode(video=0)]]
    alone = client.get(f"/api/shots/{shot}/pace/play", params={"revision": 1, "change": json.dumps(now)}).json()
    with av.open(io.BytesIO(client.get(f"/api/segments/{alone['segments'][0]['key']}.mp4").content)) as film:
        first = next(film.decode(video=0)).to_ndarray(format="rgb24").astype(float)
    assert len(pictures) == plan["segments"][0]["frames"]
    left, right = pictures[0][:, :960], pictures[0][:, 960:]
    assert abs(left - first).mean() < 1.5
    # A stop less of light is what half of it looks like, in the one beside alone.
    assert right.mean() < 0.85 * left.mean()
    assert ask(in_step="share").json()["beside"] == [2 * n + 1 for n in range(30)]
    assert ask(other_change=json.dumps({"pace": {"rate": "0"}})).status_code == 422
    assert ask(other=99).status_code == 404


def test_another_shot_is_played_beside_as_far_through_or_at_the_same_time_of_day(
    client, gathered, card, finished, project
):
    shot, other = gathered(30), gathered(15)

    def ask(beside=other, **query):
        said = {"revision": 1, "other": 1, "other_shot": beside} | query
        return client.get(f"/api/shots/{shot}/pace/play-in-step", params=said)

    plan = ask(in_step="share").json()
    assert plan["beside"] == [number // 2 for number in range(30)]
    # No still is in both: as far through is all that can be meant.
    assert ask(in_step="still").json()["beside"] == plan["beside"]
    # Both were taken from half past nine on, one every few seconds; the other one was over sooner.
    assert ask(in_step="clock").json()["beside"] == [min(number, 14) for number in range(30)]
    # Of the second half of the first, also where its end is shown first.
    backwards = json.dumps({"pace": {"direction": "back"}})
    assert ask(in_step="clock", change=backwards).json()["beside"] == [min(29 - number, 14) for number in range(30)]
    (card / "undated").mkdir()
    for number in range(3):
        Image.fromarray(scene(90, 60, number)).save(card / "undated" / f"{number}.png")
    undated = gather(client, finished, project, card / "undated")
    refused = ask(undated, in_step="clock")
    assert (refused.status_code, refused.json()["code"]) == (400, "no_times")
    assert ask(undated, in_step="share").status_code == 200
    assert ask(99_999).status_code == 404


def test_a_clip_can_be_as_long_as_another_or_as_music(client, gathered, project, finished, tmp_path):
    shot, other = gathered(20), gathered(15)
    change(client, other, pace={"rate": "25", "hold": 2})
    reel = client.post(f"/api/projects/{project}/reels", json={"name": "Reel", "shots": [other]}).json()["id"]
    music = written(piece("abc", bpm=120), tmp_path / "march.wav").read_bytes()
    finished(client.put(f"/api/reels/{reel}/sounds?name=march.wav", content=music).json()["id"])
    found = {one["of"]: one["seconds"] for one in client.get(f"/api/shots/{shot}/pace/lengths").json()}
    [clip] = [length for of, length in found.items() if of.startswith("the clip of ")]
    assert clip == pytest.approx(30 / 25)
    assert found["“march.wav”"] == pytest.approx(24)
    assert found["16 beats of “march.wav”"] == pytest.approx(8, abs=0.05)
    assert "64 beats of “march.wav”" not in found
    # The reel's picture lasts 30 frames; what is missing to the end of the march can be filled by either shot.
    assert found["the gap in “Reel”"] == pytest.approx(found["“march.wav”"] - 1.2, abs=0.01)
    of_other = {one["of"]: one["seconds"] for one in client.get(f"/api/shots/{other}/pace/lengths").json()}
    assert of_other["here, until the sound of “Reel” ends"] == pytest.approx(found["“march.wav”"], abs=0.01)
    ways = client.get(f"/api/shots/{shot}/pace/ways", params={"length": f"{clip} s", "revision": 1}).json()
    assert any(way["seconds"] == pytest.approx(clip, abs=0.02) for way in ways)
