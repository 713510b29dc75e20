"""Shots treated like another: tried, decided as one deed, taken back, taken again, and their clips in one queue."""

import pytest

from tests.api.shots import opened, small
from yarnkite.store import revisions

PARTS = ["light", "fit", "move", "pace", "encode"]


@pytest.fixture
def evening(client, project, gathered):
    """A model that was decided about, and three shots that were not."""
    model, *others = (gathered(count) for count in (6, 5, 4, 3))
    shown = opened(client, model)
    decisions = shown["decisions"]
    decisions["light"] |= {"exposure": {"value": 0.5}, "even": {"flicker": True}}
    decisions["fit"] |= {"size": {"width": 160, "height": 160}, "level": 1.0}
    decisions["pace"]["hold"] = 2
    decisions["encode"]["preset"] = "ultrafast"
    decide(client, model, shown["revision"], decisions)
    return model, others


def decide(client, shot, seen, decisions):
    kept = client.put(f"/api/shots/{shot}/decisions", json={"seen": seen, "decisions": decisions})
    assert kept.status_code == 200, kept.text
    return kept.json()["revision"]


def tried(client, project, model, shots, parts=PARTS):
    return client.post(f"/api/projects/{project}/treatments/try", json={"model": model, "shots": shots, "parts": parts})


def treat(client, project, model, shots, parts=PARTS):
    found = tried(client, project, model, shots, parts).json()
    seen = [{"shot": one["shot_id"], "seen": one["seen"]} for one in found["shots"]]
    body = {"model": {"shot": model, "seen": found["model_seen"]}, "shots": seen, "parts": parts}
    return client.post(f"/api/projects/{project}/treatments", json=body)


def treatments(client, project):
    return client.get(f"/api/projects/{project}/treatments").json()


def test_each_shot_says_what_it_will_be_and_what_it_keeps_before_anything_is_changed(client, project, evening):
    model, others = evening
    before = [opened(client, shot)["revision"] for shot in others]
    found = tried(client, project, model, [*others, model]).json()["shots"]
    # The model is like itself.
    assert [one["shot_id"] for one in found] == others
    for one, stills in zip(found, (5, 4, 3), strict=True):
        assert f"Take {stills} stills" in one["sentence"]
        assert "160 × 160" in one["sentence"]
        assert "its light evened" in one["sentence"]
        assert one["exceptions"] == ["keeps its own level"]
        assert one["changes"]
        assert one["bytes"] > 0
        assert one["seconds"] > 0
    assert [opened(client, shot)["revision"] for shot in others] == before


def test_all_are_treated_as_one_deed_and_taken_back_as_one(client, project, evening):
    model, others = evening
    before = {shot: opened(client, shot)["decisions"] for shot in others}
    made = treat(client, project, model, others)
    assert made.status_code == 201
    assert (made.json()["shots"], made.json()["is_behind"]) == (others, False)
    wanted = opened(client, model)["decisions"]
    for shot in others:
        now = opened(client, shot)["decisions"]
        assert now["light"] == wanted["light"]
        assert (now["fit"]["size"], now["fit"]["level"]) == (wanted["fit"]["size"], 0)
        assert now["pace"]["hold"] == 2
    # What is so already is not decided again.
    assert treat(client, project, model, others).json() is None
    # One is changed by hand: that stays, and is said.
    shown = opened(client, others[1])
    shown["decisions"]["pace"]["hold"] = 5
    decide(client, others[1], shown["revision"], shown["decisions"])
    back = client.post(f"/api/projects/{project}/treatments/{made.json()['id']}/undo").json()
    assert back["shots"] == [others[0], others[2]]
    assert len(back["changed"]) == 1
    assert [opened(client, shot)["decisions"] == before[shot] for shot in others] == [True, False, True]
    assert opened(client, others[1])["decisions"]["pace"]["hold"] == 5
    assert treatments(client, project) == []
    again = client.post(f"/api/projects/{project}/treatments/{made.json()['id']}/undo")
    assert again.status_code == 404
    # In the shot itself it can be done again.
    redone = client.post(f"/api/shots/{others[0]}/redo", json={"seen": opened(client, others[0])["revision"]})
    assert redone.json()["decisions"]["pace"]["hold"] == 2


def test_a_shot_that_was_changed_meanwhile_stops_the_whole_deed(client, project, evening):
    model, others = evening
    found = tried(client, project, model, others).json()
    shown = opened(client, others[2])
    shown["decisions"]["pace"]["hold"] = 3
    decide(client, others[2], shown["revision"], shown["decisions"])
    seen = [{"shot": one["shot_id"], "seen": one["seen"]} for one in found["shots"]]
    before = [opened(client, shot) for shot in others]
    body = {"model": {"shot": model, "seen": found["model_seen"]}, "shots": seen, "parts": PARTS}
    refused = client.post(f"/api/projects/{project}/treatments", json=body)
    assert refused.status_code == 409
    assert opened(client, others[2])["name"] in refused.json()["detail"]
    assert [opened(client, shot) for shot in others] == before
    assert treatments(client, project) == []
    # So does a model that is another by now.
    body["shots"] = [{"shot": one["id"], "seen": one["revision"]} for one in before]
    shown = opened(client, model)
    shown["decisions"]["pace"]["hold"] = 7
    decide(client, model, shown["revision"], shown["decisions"])
    assert client.post(f"/api/projects/{project}/treatments", json=body).status_code == 409


def test_a_later_change_of_the_model_is_told_and_taken_again(client, project, evening):
    model, others = evening
    made = treat(client, project, model, others, ["light"]).json()
    shown = opened(client, model)
    shown["decisions"]["pace"]["hold"] = 9
    revision = decide(client, model, shown["revision"], shown["decisions"])
    # A part that was not taken says nothing.
    assert not treatments(client, project)[0]["is_behind"]
    shown["decisions"]["light"]["exposure"] = {"value": -0.5}
    decide(client, model, revision, shown["decisions"])
    (now,) = treatments(client, project)
    assert (now["id"], now["is_behind"], now["parts"]) == (made["id"], True, ["light"])
    assert treat(client, project, model, now["shots"], now["parts"]).json()["is_behind"] is False
    assert opened(client, others[0])["decisions"]["light"]["exposure"]["value"] == -0.5
    assert opened(client, others[0])["decisions"]["pace"]["hold"] == 1
    # The same shots like the same one are said once; taken back, they are as the first time, and then as at first.
    (newest,) = treatments(client, project)
    for treatment, exposure in ((newest["id"], 0.5), (made["id"], 0.0)):
        back = client.post(f"/api/projects/{project}/treatments/{treatment}/undo").json()
        assert (back["shots"], back["changed"]) == (others, [])
        assert opened(client, others[0])["decisions"]["light"]["exposure"]["value"] == exposure


def test_shots_of_another_project_and_shots_that_are_gone_are_refused(client, project, evening, services):
    model, others = evening
    stranger = client.post("/api/projects", json={"name": "Another evening"}).json()["id"]
    assert tried(client, stranger, model, others).status_code == 404
    assert tried(client, project, model, [10**6]).status_code == 404
    made = treat(client, project, model, others).json()
    client.delete(f"/api/shots/{others[0]}")
    (now,) = treatments(client, project)
    assert now["shots"] == others[1:]
    # A shot that was put away goes back with the others, so that it comes back as it was.
    client.post(f"/api/projects/{project}/treatments/{made['id']}/undo").raise_for_status()
    assert revisions.latest(services.database, others[0])[1].pace.hold == 1
    client.delete(f"/api/shots/{model}")
    assert treatments(client, project) == []


def test_the_clips_of_all_go_into_one_queue_and_nothing_is_made_twice(client, project, evening, finished):
    model, others = evening
    treat(client, project, model, others)
    seen = [{"shot": shot, "seen": opened(client, shot)["revision"]} for shot in [model, *others]]

    def asked():
        answer = client.post(f"/api/projects/{project}/clips", json={"shots": seen})
        assert answer.status_code == 202
        return answer.json()

    first = asked()
    jobs = [one["job"]["id"] for one in first]
    assert [one["job"]["id"] for one in asked()] == jobs
    for job in jobs:
        assert finished(job)["state"] == "finished"
    again = asked()
    assert [(one["job"]["id"], one["is_made"]) for one in again] == [(job, True) for job in jobs]
    assert [len(client.get(f"/api/shots/{one['shot']}/clips").json()) for one in seen] == [1] * 4
    # Decided anew, it is another clip; a stale page is told.
    fresh = small(client, others[0], hold=3)
    told = asked()
    assert told[1]["job"] is None
    assert "changed in another window" in told[1]["sentence"]
    seen[1]["seen"] = fresh
    assert asked()[1]["job"]["id"] not in jobs


def test_a_shot_that_must_be_measured_first_waits_for_that_and_is_made_then(client, project, evening, finished):
    _, others = evening
    shown = opened(client, others[0])
    shown["decisions"]["move"]["steady"]["how"] = "still"
    shown["decisions"]["fit"]["size"] = {"width": 160, "height": 90}
    seen = decide(client, others[0], shown["revision"], shown["decisions"])
    body = {"shots": [{"shot": others[0], "seen": seen}]}
    (waits,) = client.post(f"/api/projects/{project}/clips", json=body).json()
    assert (waits["job"], waits["sentence"]) == (None, "is measured first")
    measuring = [job["id"] for job in client.get("/api/jobs").json() if job["kind"] == "move"]
    finished(measuring[0])
    (made,) = client.post(f"/api/projects/{project}/clips", json=body).json()
    assert finished(made["job"]["id"])["state"] == "finished"


def test_what_the_clips_of_ticked_shots_take_is_said_before_they_are_made(client, project, evening):
    model, others = evening
    found = client.post(f"/api/projects/{project}/clips/try", json={"shots": [model, *others]}).json()
    assert [one["shot_id"] for one in found] == [model, *others]
    assert "Take 6 stills, two frames each" in found[0]["sentence"]
    assert all(one["bytes"] > 0 and one["seconds"] > 0 and not one["cannot"] for one in found)
    assert all(job["shot_id"] not in (model, *others) for job in client.get("/api/jobs").json())


def test_a_clip_that_is_not_as_planned_is_made_again(client, project, evening, finished, services):
    _, others = evening
    body = {"shots": [{"shot": others[0], "seen": small(client, others[0])}]}
    (made,) = client.post(f"/api/projects/{project}/clips", json=body).json()
    finished(made["job"]["id"])
    assert client.post(f"/api/projects/{project}/clips", json=body).json()[0]["is_made"]
    with services.database.transaction() as cursor:
        cursor.execute(
            "UPDATE clip SET differences = '[\"one frame too few\"]' WHERE job_id = %s", (made["job"]["id"],)
        )
    (again,) = client.post(f"/api/projects/{project}/clips", json=body).json()
    assert (again["is_made"], again["job"]["id"] > made["job"]["id"]) == (False, True)
    finished(again["job"]["id"])
