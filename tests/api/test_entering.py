"""Who is not known gets nothing from the port, whoever they are; who holds the key, or was let in with it, does."""

import os
import stat
import time

import pytest
from fastapi.testclient import TestClient

from tests.serving import ADDRESS, known
from yarnkite.api.app import create_app
from yarnkite.entrance import Entrance, key_of, way_in

PAGE = {"Accept": "text/html,*/*;q=0.8"}


@pytest.fixture
def entrance(services):
    return Entrance(services.workspace.folder)


@pytest.fixture
def stranger(services, tmp_path):
    """Somebody who only knows the port of a program with pages."""
    (tmp_path / "assets").mkdir()
    (tmp_path / "assets" / "page.js").write_text("export {}")
    (tmp_path / "index.html").write_text("<title>front page</title>")
    with TestClient(create_app(services, tmp_path), base_url=ADDRESS) as client:
        yield client


def test_a_stranger_gets_nothing_from_any_address(stranger, client):
    assert client.get("/api/projects").status_code == 200
    every = client.get("/openapi.json").json()["paths"]
    assert len(every) > 100
    for path, methods in every.items():
        for method in methods:
            answer = stranger.request(method, path.replace("{", "").replace("}", ""))
            assert (answer.status_code, answer.json()["code"]) == (401, "not_known"), (method, path)
    for path in ("/", "/shots/1/fit", "/assets/page.js", "/kite.svg", "/openapi.json", "/docs", "/api/nothing"):
        assert stranger.get(path).status_code == 401
        assert "front page" not in stranger.get(path, headers=PAGE).text
    said = stranger.get("/", headers=PAGE)
    assert (said.status_code, said.headers["content-type"]) == (401, "text/html; charset=utf-8")
    assert "enter" in said.text
    assert "content-security-policy" in said.headers


def test_a_browser_that_opens_the_printed_address_is_known_from_then_on(stranger, services):
    ticket = way_in(services.workspace.folder, ADDRESS)
    opened = stranger.get(ticket, headers=PAGE)
    assert opened.status_code == 200
    cookie = opened.headers["set-cookie"]
    assert cookie.startswith("yarnkite-8460=")
    assert {"HttpOnly", "SameSite=Strict", "Path=/"} <= {part.strip() for part in cookie.split(";")}
    assert ticket.rsplit("/", 1)[1] not in cookie
    assert stranger.get("/api/projects").status_code == 200
    page = stranger.get("/shots/1/fit", headers=PAGE)
    assert "front page" in page.text
    assert page.headers["set-cookie"].startswith("yarnkite-8460=")
    # Who is known already may open it again, as when a page is opened again from the history.
    assert stranger.get(ticket, headers=PAGE).status_code == 200


def test_the_printed_address_lets_in_once(stranger, services):
    ticket = way_in(services.workspace.folder, ADDRESS)
    assert stranger.get(ticket).status_code == 200
    stranger.cookies.clear()
    assert stranger.get(ticket).status_code == 401
    assert stranger.get("/api/projects").status_code == 401


@pytest.mark.parametrize(
    "forged",
    [
        lambda entrance, ticket: ticket[:-3] + ("AAA" if ticket[-3:] != "AAA" else "BBB"),
        lambda entrance, ticket: f"{time.time_ns():x}{ticket[ticket.index('.') :]}",
        lambda entrance, ticket: entrance.session(),
        lambda entrance, ticket: "",
        lambda entrance, ticket: "..",
        lambda entrance, ticket: "1.1." + "0" * 22,
        lambda entrance, ticket: ticket + "/..",
        lambda entrance, ticket: "%00%ff\u2603",
    ],
    ids=["mark", "time", "a session", "nothing", "dots", "zeros", "more", "no text"],
)
def test_a_forged_ticket_lets_nobody_in(stranger, services, entrance, forged):
    ticket = way_in(services.workspace.folder, "").rsplit("/", 1)[1]
    assert stranger.get(f"/enter/{forged(entrance, ticket)}").status_code in (401, 404)
    assert stranger.get("/api/projects").status_code == 401


@pytest.mark.parametrize("cookie", ["", "x", "1.1." + "0" * 22, "\u00e9", '"', "a=b; yarnkite-8460"])
def test_a_forged_cookie_lets_nobody_in(stranger, services, entrance, cookie):
    for value in (f"yarnkite-8460={cookie}", f"yarnkite-8461={entrance.session()}"):
        assert stranger.get("/api/projects", headers={"Cookie": value.encode()}).status_code == 401
    ticket = way_in(services.workspace.folder, "").rsplit("/", 1)[1]
    assert stranger.get("/api/projects", headers={"Cookie": f"yarnkite-8460={ticket}"}).status_code == 401
    assert stranger.get("/api/projects", headers={"Cookie": f"yarnkite-8460={entrance.session()}"}).status_code == 200


@pytest.mark.parametrize(
    "shown", ["", "Bearer", "Bearer ", "Bearer 00", "Basic {key}", "Bearer {key}0", "Bearer \u00e9"]
)
def test_a_program_shows_the_key_and_nothing_else(stranger, services, shown):
    key = key_of(services.workspace.folder)
    said = {"Authorization": shown.format(key=key).encode()}
    assert stranger.get("/api/projects", headers=said).status_code == 401
    assert stranger.get("/api/projects", headers=known(services.workspace.folder)).status_code == 200


def test_sessions_end_and_tickets_do_not_outlive_a_start(tmp_path, monkeypatch):
    first = Entrance(tmp_path)
    session, ticket = first.session(), way_in(tmp_path, "").rsplit("/", 1)[1]
    again = Entrance(tmp_path)
    # A page that is open goes on after a restart; what was printed before it is void, used or not.
    assert again.knows(session)
    assert not again.admits(ticket)
    later = time.time_ns() + 31 * 24 * 3600 * 10**9
    monkeypatch.setattr("yarnkite.entrance.time.time_ns", lambda: later)
    assert not again.knows(session)


def test_a_ticket_does_not_wait_for_ever(tmp_path, monkeypatch):
    entrance = Entrance(tmp_path)
    ticket = way_in(tmp_path, "http://127.0.0.1:1/").rsplit("/", 1)[1]
    later = time.time_ns() + 13 * 3600 * 10**9
    with monkeypatch.context() as at:
        at.setattr("yarnkite.entrance.time.time_ns", lambda: later)
        assert not entrance.admits(ticket)
    assert entrance.admits(ticket)


def test_the_key_is_for_its_owner_alone_and_made_anew_where_it_was_cut_short(tmp_path):
    before = Entrance(tmp_path)
    key = tmp_path / "key"
    assert stat.S_IMODE(key.stat().st_mode) == 0o600
    key.chmod(0o644)
    assert Entrance(tmp_path).knows(before.session())
    assert stat.S_IMODE(key.stat().st_mode) == 0o600
    os.truncate(key, 10)
    assert way_in(tmp_path, "http://127.0.0.1:1/") == "http://127.0.0.1:1/"
    after = Entrance(tmp_path)
    assert not after.knows(before.session())
    key.write_text("no key at all")
    assert not Entrance(tmp_path).knows(after.session())
    after = Entrance(tmp_path)
    assert not Entrance(tmp_path).is_key("")
    assert after.is_key(key_of(tmp_path))


def test_two_data_folders_know_each_others_browsers_not(tmp_path):
    (tmp_path / "a").mkdir()
    (tmp_path / "b").mkdir()
    one, other = Entrance(tmp_path / "a"), Entrance(tmp_path / "b")
    assert not other.knows(one.session())
    assert not other.admits(way_in(tmp_path / "a", "").rsplit("/", 1)[1])
