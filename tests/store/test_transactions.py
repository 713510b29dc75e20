"""What is written takes effect whole or not at all, whatever happens to a connection, a lock or the server."""

import itertools
import json
import os
import signal
import threading
from pathlib import Path

import pymysql
import pytest

from tests.patience import wait_until
from yarnkite.core.base.errors import Conflict, Unavailable
from yarnkite.core.base.frozen import Size
from yarnkite.core.check.decisions import Check
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.render.decisions import Decisions
from yarnkite.store import projects, revisions, shots, snapshots
from yarnkite.store.database import Database, retried
from yarnkite.store.server import DatabaseServer


@pytest.fixture
def database(services, client):
    return services.database


@pytest.fixture
def pair(database, request):
    """Two projects, to be renamed together."""
    return [projects.add(database, f"{request.node.name[:90]} {end}") for end in ("one", "two")]


def names(database, pair):
    return [projects.one(database, project)["name"] for project in pair]


def rename_within(cursor, project, name):
    cursor.execute("UPDATE project SET name = %s WHERE id = %s", (name, project))


def test_a_connection_that_breaks_in_the_middle_takes_back_what_came_before(database, pair):
    before = names(database, pair)

    def both():
        with database.transaction() as cursor:
            rename_within(cursor, pair[0], f"{before[0]} renamed")
            cursor.execute("SELECT CONNECTION_ID() AS number")
            number = cursor.fetchone()["number"]
            with database.transaction() as other:
                other.execute(f"KILL {number}")
            rename_within(cursor, pair[1], f"{before[1]} renamed")

    with pytest.raises(Unavailable):
        both()
    assert names(database, pair) == before


def test_a_transaction_broken_off_by_a_deadlock_is_carried_out_again_whole(database, pair):
    before = names(database, pair)
    tries = []
    holds, wants = threading.Event(), threading.Event()

    def rival():
        with database.transaction() as cursor:
            # The heavier transaction is the one the database lets live.
            cursor.execute("CREATE OR REPLACE TEMPORARY TABLE heavy (n INT PRIMARY KEY) ENGINE=InnoDB")
            cursor.executemany("INSERT INTO heavy VALUES (%s)", [(n,) for n in range(500)])
            rename_within(cursor, pair[1], f"{before[1]} by the rival")
            holds.set()
            assert wants.wait(20)
            rename_within(cursor, pair[0], f"{before[0]} by the rival")

    @retried
    def both():
        tries.append(len(tries))
        with database.transaction() as cursor:
            rename_within(cursor, pair[0], f"{before[0]} renamed")
            assert holds.wait(20)
            threading.Timer(0.3, wants.set).start()
            rename_within(cursor, pair[1], f"{before[1]} renamed")

    thread = threading.Thread(target=rival)
    thread.start()
    both()
    thread.join()
    assert len(tries) == 2
    assert names(database, pair) == [f"{name} renamed" for name in before]


def test_what_goes_on_failing_is_given_up_with_the_database_s_own_error(database):
    tries = []

    @retried
    def always():
        tries.append(1)
        raise pymysql.err.OperationalError(1205, "Lock wait timeout exceeded")

    with pytest.raises(pymysql.err.OperationalError, match="1205"):
        always()
    assert len(tries) == 5


def test_a_rollback_that_fails_does_not_hide_what_went_wrong(database, pair):
    class Surprise(Exception):
        pass

    def broken():
        with database.transaction() as cursor:
            rename_within(cursor, pair[0], "half")
            cursor.connection.close()
            raise Surprise

    with pytest.raises(Surprise):
        broken()
    assert "half" not in names(database, pair)


def test_a_cached_result_is_never_kept_under_a_state_it_was_not_made_of(
    services, database, client, gathered, monkeypatch
):
    shot = gathered(4)
    row = shots.one(database, shot)
    truth = [still.path for _, still in snapshots.of_shot(database, row).stills]
    with database.transaction() as cursor:
        cursor.execute("UPDATE still SET name = CONCAT('moved-', name) WHERE shot_id = %s", (shot,))
    real = snapshots.rows

    def changed_meanwhile(cursor, *arguments):
        # Between reading the stamp and reading the stills, another request gives the old names back.
        with database.transaction() as other:
            other.execute("UPDATE still SET name = SUBSTRING(name, 7) WHERE shot_id = %s", (shot,))
        return real(cursor, *arguments)

    monkeypatch.setattr(snapshots, "rows", changed_meanwhile)
    assert all("moved-" in still.path for _, still in snapshots.of_shot(database, row).stills)
    monkeypatch.undo()
    assert [still.path for _, still in snapshots.of_shot(database, row).stills] == truth
    with database.transaction() as cursor:
        cursor.execute("UPDATE still SET name = CONCAT('moved-', name) WHERE shot_id = %s", (shot,))
    assert all("moved-" in still.path for _, still in snapshots.of_shot(database, row).stills)


def test_two_who_begin_to_gather_at_once_begin_once(services, client, gathered):
    shot = gathered(3)
    answers = []
    gate = threading.Barrier(6)

    def begin():
        gate.wait()
        answers.append(client.post(f"/api/shots/{shot}/gather").status_code)

    threads = [threading.Thread(target=begin) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    with services.database.transaction() as cursor:
        cursor.execute(
            "SELECT created_at, ended_at FROM job WHERE shot_id = %s AND kind = 'gather' ORDER BY id", (shot,)
        )
        jobs = cursor.fetchall()
    # Each that was accepted began after the one before had ended.
    assert answers.count(202) == len(jobs)
    assert all(after["created_at"] >= before["ended_at"] for before, after in itertools.pairwise(jobs))
    assert 409 in answers


def test_only_what_can_be_read_back_is_kept(database, gathered):
    shot = gathered(2)
    too_fast = Decisions().pace.model_copy(update={"rate": 250})
    with pytest.raises(Exception, match="250") as refused:
        revisions.revise(database, shot, 1, Decisions().model_copy(update={"pace": too_fast}))
    assert refused.value.code == "cannot_be_decided"
    assert revisions.latest(database, shot) == (1, Decisions())


def spoil(database, shot, number, text):
    with database.transaction() as cursor:
        cursor.execute("UPDATE revision SET decisions = %s WHERE shot_id = %s AND number = %s", (text, shot, number))


def test_a_revision_that_cannot_be_read_is_passed_over_with_a_sentence(client, database, gathered, project):
    shot = gathered(3)
    for width in (640, 800, 960):
        wanted = Decisions(fit=Fit(size=Size(width=width, height=480)))
        revisions.revise(database, shot, revisions.latest(database, shot)[0], wanted)
    spoil(database, shot, 4, json.dumps({"fit": {"size": {"width": 7, "height": 480}}}))
    spoil(database, shot, 3, json.dumps({"from": "another edition"}))
    shown = client.get(f"/api/shots/{shot}").json()
    assert shown["revision"] == 4
    assert shown["decisions"]["fit"]["size"]["width"] == 640
    assert "newest 2 decisions cannot be read" in shown["notice"]
    undone = client.post(f"/api/shots/{shot}/undo", json={"seen": 4})
    assert (undone.status_code, undone.json()["decisions"]["fit"]["size"]["width"]) == (200, 640)
    kept = client.put(f"/api/shots/{shot}/decisions", json={"seen": 5, "decisions": shown["decisions"]})
    assert kept.status_code == 200
    assert client.get(f"/api/shots/{shot}").json()["notice"] == ""
    assert [one["number"] for one in client.get(f"/api/shots/{shot}/revisions").json()][-2:] == [2, 1]
    for number in range(1, 7):
        spoil(database, shot, number, "{}" if number % 2 else '{"order": 1}')
    assert client.get(f"/api/shots/{shot}").status_code == 200
    assert client.get(f"/api/projects/{project}").status_code == 200


def test_the_project_opens_whatever_one_of_its_shots_does(client, database, gathered, project, monkeypatch):
    shot = gathered(2)
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET size_model = '{\"nonsense\": 1}' WHERE id = %s", (shot,))
    answer = client.get(f"/api/projects/{project}")
    assert answer.status_code == 200
    assert "cannot be summed up" in answer.json()["shots"][0]["brief"]


def test_an_order_by_hand_is_kept_once_however_many_revisions_there_are(client, database, gathered):
    shot = gathered(2)
    hand = tuple(range(5000, 15000))
    ordered = Decisions().model_copy(
        update={"order": Decisions().order.model_copy(update={"by": "hand", "hand": hand})}
    )
    number = revisions.revise(database, shot, 1, ordered)
    for width in range(640, 680, 2):
        wanted = ordered.model_copy(update={"fit": Fit(size=Size(width=width, height=480))})
        number = revisions.revise(database, shot, number, wanted)
    with database.transaction() as cursor:
        cursor.execute("SELECT MAX(LENGTH(decisions)) AS most FROM revision WHERE shot_id = %s", (shot,))
        assert cursor.fetchone()["most"] < 3000
        cursor.execute("SELECT MAX(LENGTH(packed)) AS most FROM id_list")
        assert cursor.fetchone()["most"] < 10_000
    assert revisions.latest(database, shot)[1].order.hand == hand
    aside = Decisions(check=Check(aside=tuple(range(1, 4000, 3))))
    number = revisions.revise(database, shot, number, aside)
    assert revisions.decided_by(database, shot, number) == aside


def test_requests_while_the_database_is_killed_answer_to_try_again_and_all_goes_on(
    services, database, client, gathered, finished
):
    shot = gathered(30)
    server = services.database
    seen = client.get(f"/api/shots/{shot}").json()
    with server.transaction() as cursor:
        cursor.execute("SELECT @@pid_file AS path")
        number = int(Path(cursor.fetchone()["path"]).read_text())
    job = client.post(f"/api/shots/{shot}/encode", json={"seen": seen["revision"]}).json()["id"]
    os.kill(number, signal.SIGKILL)
    said = set()

    def kept_now():
        answer = client.post(f"/api/shots/{shot}/note", json={"seen": seen["revision"], "still": 1, "text": "kept"})
        if answer.status_code == 200:
            return answer.json()
        said.add((answer.status_code, answer.json()["code"], answer.headers.get("Retry-After")))
        return None

    kept = wait_until(kept_now)
    assert said == {(503, "database_away", "1")}
    assert client.get(f"/api/shots/{shot}").json()["decisions"] == kept["decisions"]
    assert finished(job)["state"] == "finished"
    # As many connections as the pool has can be had again.
    cursors = [server.transaction() for _ in range(20)]
    assert [cursor.__enter__().execute("SELECT 1") for cursor in cursors] == [1] * 20
    for cursor in cursors:
        cursor.__exit__(None, None, None)


def test_a_database_that_is_not_there_is_said_to_be_away(services):
    address = services.database._address
    nowhere = Database(type(address)(address.host, 1, address.password))
    assert nowhere.answers() is False
    with pytest.raises(Unavailable):
        projects.every(nowhere)


def test_a_stale_choice_of_proposals_changes_nothing_at_all(database, client, gathered):
    from yarnkite.store import sorting

    shot = gathered(12)
    ids = [still["id"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]
    parts = [sorting.Part(tuple(ids), "all of it")]
    with pytest.raises(Conflict):
        sorting.sort_out(database, shot, 1, aside=ids[:2], keep=["some:1-2"], parts=parts)
    assert client.get(f"/api/shots/{shot}").json()["revision"] == 1
    assert shots.dismissed(shots.one(database, shot)) == []
    assert len(client.get(f"/api/shots/{shot}/stills").json()["stills"]) == 12


def test_another_database_that_starts_clears_nothing_away_from_this_one(services, database, tmp_path):
    """What a database needs for a moment lies in a folder of its own: a second one clears its own at its start."""
    with database.transaction() as cursor:
        cursor.execute("SELECT @@tmpdir AS folder")
        own = Path(cursor.fetchone()["folder"])
    kept = own / "#sql-temptable-kept.MAD"
    kept.touch()
    other = DatabaseServer(tmp_path)
    try:
        other.start()
        assert kept.exists()
    finally:
        other.stop()
        kept.unlink()
