"""What takes how much space, freeing it, deleting and taking back; no file outside the data folder is ever touched."""

import os
from datetime import timedelta
from pathlib import Path

import pytest

from tests.conftest import write_jpeg
from tests.serving import put_together
from yarnkite.services import space


def contents(folder):
    return {path.relative_to(folder): path.read_bytes() for path in folder.rglob("*") if path.is_file()}


@pytest.fixture
def bring_in(client, project, card, finished):
    def bring_in(name, *, copied, first=0, count=8):
        for number in range(count):
            write_jpeg(card / f"{name}-{project}" / f"MRW_{number}.jpg", first + number)
        body = {"location": "card", "path": f"{name}-{project}", "copy_files": copied}
        started = client.post(f"/api/projects/{project}/shots", json=body).json()
        assert finished(started["job"]["id"])["state"] == "finished"
        return started["shot_id"]

    return bring_in


def encoded(client, finished, shot):
    shown = client.get(f"/api/shots/{shot}").json()
    decisions = shown["decisions"] | {"fit": shown["decisions"]["fit"] | {"size": {"width": 160, "height": 90}}}
    kept = client.put(f"/api/shots/{shot}/decisions", json={"seen": shown["revision"], "decisions": decisions}).json()
    return finished(client.post(f"/api/shots/{shot}/encode", json={"seen": kept["revision"]}).json()["id"])


def measured(client):
    return client.get("/api/space").json()


def due(services, table, number, days=31):
    with services.database.transaction() as cursor:
        cursor.execute(f"UPDATE {table} SET deleted_at = deleted_at - INTERVAL {days} DAY WHERE id = %s", (number,))


def run_on_days(services, count):
    """Have the program have run on each of the last days."""
    with services.database.transaction() as cursor:
        cursor.executemany(
            "INSERT IGNORE INTO day_run (day) VALUES (CURRENT_DATE - INTERVAL %s DAY)", [(day,) for day in range(count)]
        )


def test_what_everything_takes_is_what_lies_on_the_disk(client, services, project, bring_in, finished):
    shot = bring_in("copied", copied=True)
    clip = encoded(client, finished, shot)
    put_together(client, finished, shot)
    found = measured(client)
    own = next(one for one in found["projects"] if one["id"] == project)
    folder = Path(client.get(f"/api/shots/{shot}").json()["folder"])
    assert own["stills"] == sum(len(data) for data in contents(folder).values())
    assert own["clips"] == services.workspace.clip(clip["id"]).stat().st_size
    for name in ("chunks", "together"):
        assert found[name] == sum(len(data) for data in contents(getattr(services.workspace, name)).values()) > 0
    assert found["proxies"] == sum(len(data) for data in contents(services.workspace.proxies.folder).values()) > 0
    assert found["free"] > 0


def test_a_deleted_project_can_be_taken_back_as_it_was(client, services, project, bring_in, finished):
    shot = bring_in("mine", copied=False)
    encoded(client, finished, shot)
    before = client.get(f"/api/shots/{shot}").json()
    name = client.get(f"/api/projects/{project}").json()["name"]
    assert client.delete(f"/api/projects/{project}").status_code == 204
    assert client.get(f"/api/projects/{project}").status_code == 404
    assert client.get(f"/api/shots/{shot}").status_code == 404
    assert project not in [one["id"] for one in client.get("/api/projects").json()]
    assert shot not in [job["shot_id"] for job in client.get("/api/jobs").json()]
    # Its name is free meanwhile, and its folder too.
    other = client.post("/api/projects", json={"name": name}).json()["id"]
    assert client.post(f"/api/projects/{project}/take-back").status_code == 204
    assert client.get(f"/api/projects/{project}").json()["name"] == f"{name} (2)"[-120:]
    assert client.get(f"/api/shots/{shot}").json() == before | {"project_name": f"{name} (2)"}
    assert len(client.get(f"/api/shots/{shot}/clips").json()) == 1
    assert client.post(f"/api/projects/{project}/take-back").status_code == 404
    client.delete(f"/api/projects/{other}")


def test_after_thirty_days_a_deleted_project_goes_with_its_files_and_originals_stay(
    client, services, project, card, bring_in, finished
):
    copied, own = bring_in("copied", copied=True), bring_in("own", copied=False, first=9000)
    clips = [services.workspace.clip(encoded(client, finished, shot)["id"]) for shot in (copied, own)]
    folder = Path(client.get(f"/api/shots/{copied}").json()["folder"])
    prints = [still["fingerprint"] for still in client.get(f"/api/shots/{own}/stills").json()["stills"]]
    originals = contents(card)
    client.delete(f"/api/projects/{project}")
    due(services, "project", project, days=29)
    space.remove_given_up(services.database, services.workspace)
    assert folder.is_dir()
    assert measured(client)["deleted"] >= sum(clip.stat().st_size for clip in clips)
    due(services, "project", project, days=2)
    # A clock that was a month ahead for a moment counts for a day.
    space.remove_given_up(services.database, services.workspace)
    assert folder.is_dir()
    assert project in [one["id"] for one in measured(client)["deleted_projects"]]
    run_on_days(services, 30)
    space.remove_given_up(services.database, services.workspace)
    assert client.post(f"/api/projects/{project}/take-back").status_code == 404
    assert not folder.exists()
    assert not any(clip.exists() for clip in clips)
    assert not any(services.workspace.proxies.thumbnail(fingerprint).exists() for fingerprint in prints)
    assert contents(card) == originals
    with services.database.transaction() as cursor:
        cursor.execute("SELECT COUNT(*) AS n FROM still WHERE shot_id IN (%s, %s)", (copied, own))
        assert cursor.fetchone()["n"] == 0
        cursor.execute("SELECT COUNT(*) AS n FROM project WHERE id = %s", (project,))
        assert cursor.fetchone()["n"] == 0


def test_removing_that_was_broken_off_is_completed_the_next_time(client, services, project, bring_in, monkeypatch):
    shot = bring_in("copied", copied=True)
    folder = Path(client.get(f"/api/shots/{shot}").json()["folder"])
    client.delete(f"/api/projects/{project}")

    def killed(*arguments):
        raise KeyboardInterrupt

    monkeypatch.setattr(space.removal, "forget", killed)
    with pytest.raises(KeyboardInterrupt):
        space.remove_given_up(services.database, services.workspace, all_of_it=True)
    monkeypatch.undo()
    assert client.post(f"/api/projects/{project}/take-back").status_code == 404
    space.remove_given_up(services.database, services.workspace)
    assert not folder.exists()
    with services.database.transaction() as cursor:
        cursor.execute("SELECT COUNT(*) AS n FROM project WHERE id = %s", (project,))
        assert cursor.fetchone()["n"] == 0


def test_a_deleted_part_of_a_copied_shot_takes_only_its_own_stills(client, services, bring_in):
    shot = bring_in("copied", copied=True)
    folder = Path(client.get(f"/api/shots/{shot}").json()["folder"])
    stills = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    (part,) = client.post(f"/api/shots/{shot}/split", json={"before": [stills[5]["id"]]}).json()["shots"]
    assert client.delete(f"/api/shots/{part}").status_code == 204
    assert [one["id"] for one in measured(client)["deleted_shots"]][:1] == [part]
    assert client.post(f"/api/shots/{part}/take-back").status_code == 204
    assert len(client.get(f"/api/shots/{part}/stills").json()["stills"]) == 3
    client.delete(f"/api/shots/{part}")
    assert client.post("/api/space/free", json={"what": "deleted"}).json()["deleted_shots"] == []
    assert sorted(path.name for path in folder.iterdir()) == [f"MRW_{number}.jpg" for number in range(5)]
    assert client.get(f"/api/shots/{shot}/stills/4.jpg").status_code == 200
    assert client.post(f"/api/shots/{part}/take-back").status_code == 404


def test_a_shot_of_a_folder_outside_never_loses_a_file_whatever_its_row_says(client, services, card, bring_in):
    shot = bring_in("own", copied=False)
    with services.database.transaction() as cursor:
        cursor.execute("UPDATE shot SET copied = TRUE WHERE id = %s", (shot,))
    before = contents(card)
    client.delete(f"/api/shots/{shot}")
    client.post("/api/space/free", json={"what": "deleted"})
    assert contents(card) == before


def test_a_deleted_clip_is_gone_with_its_file_and_the_shot_can_be_encoded_again(client, services, bring_in, finished):
    shot = bring_in("own", copied=False)
    job = encoded(client, finished, shot)
    path = services.workspace.clip(job["id"])
    assert client.delete(f"/api/clips/{job['clip_id']}").status_code == 204
    assert not path.exists()
    assert client.get(f"/api/shots/{shot}/clips").json() == []
    assert client.delete(f"/api/clips/{job['clip_id']}").status_code == 404
    assert encoded(client, finished, shot)["state"] == "finished"


def test_what_is_made_again_can_be_freed_and_is_made_again(client, services, bring_in, finished):
    shot = bring_in("own", copied=False)
    first = services.workspace.clip(encoded(client, finished, shot)["id"]).read_bytes()
    put_together(client, finished, shot)
    stray = services.workspace.proxies.path("f" * 32)
    stray.parent.mkdir(parents=True, exist_ok=True)
    stray.write_bytes(bytes(1000))
    kept = measured(client)["proxies"] - measured(client)["unneeded"]
    for path in (services.workspace.folder / "arriving").rglob("*"):
        # Whatever other tests sent was broken off long ago.
        os.utime(path, (1, 1))
    for what in ("chunks", "together", "proxies", "arriving"):
        answer = client.post("/api/space/free", json={"what": what})
        assert answer.status_code == 200, answer.text
        assert answer.json()[{"proxies": "unneeded"}.get(what, what)] == 0
    assert not stray.exists()
    assert measured(client)["proxies"] == kept
    assert services.workspace.clip(encoded(client, finished, shot)["id"]).read_bytes() == first
    put_together(client, finished, shot)
    assert client.get(f"/api/shots/{shot}/stack/mean.jpg").status_code == 200


def test_what_is_being_used_is_neither_freed_nor_deleted(client, bring_in, finished, monkeypatch, project):
    from tests.api import slow
    from yarnkite.jobs import rendering as encoding

    shot = bring_in("own", copied=False)
    monkeypatch.setattr(encoding, "render", slow.render_until_cancelled)
    job = client.post(f"/api/shots/{shot}/encode", json={"seen": 1}).json()["id"]
    for answer in (
        client.post("/api/space/free", json={"what": "chunks"}),
        client.delete(f"/api/projects/{project}"),
        client.delete(f"/api/shots/{shot}"),
    ):
        assert answer.status_code == 409
        assert answer.json()["code"] in ("in_use", "shot_busy")
    client.post(f"/api/jobs/{job}/cancel")
    finished(job)
    assert client.delete(f"/api/projects/{project}").status_code == 204


def test_the_days_left_are_counted_from_the_day_it_was_deleted(client, services, project):
    client.delete(f"/api/projects/{project}")
    (mine,) = [one for one in measured(client)["deleted_projects"] if one["id"] == project]
    with services.database.transaction() as cursor:
        cursor.execute("SELECT deleted_at FROM project WHERE id = %s", (project,))
        assert mine["until"][:19] == (cursor.fetchone()["deleted_at"] + timedelta(days=30)).isoformat()[:19]
