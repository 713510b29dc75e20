"""Who may ask: pages of this program and programs of this machine, and nobody who only knows the port."""

import pytest

HERE = "http://127.0.0.1:8460"


def asked(client, **headers):
    named = {name.replace("_", "-"): value for name, value in headers.items()}
    return client.post("/api/projects", json={"name": "Asked"}, headers=named).status_code


@pytest.mark.parametrize(
    "headers",
    [
        {},
        {"origin": HERE},
        {"origin": HERE, "sec_fetch_site": "same-origin"},
        {"sec_fetch_site": "none"},
        {"host": "localhost:8460", "origin": "http://localhost:8460"},
        {"host": "[::1]:8460", "origin": "http://[::1]:8460"},
    ],
)
def test_our_own_pages_and_programs_of_this_machine_may_change_things(client, headers):
    # The second of a name is refused for that: it was let in.
    assert asked(client, **headers) in (200, 201, 409)


@pytest.mark.parametrize(
    "headers",
    [
        {"origin": "http://evil.example"},
        {"origin": "null"},
        {"origin": "https://127.0.0.1:8460"},
        {"origin": "http://127.0.0.1:8461"},
        {"sec_fetch_site": "cross-site"},
        {"sec_fetch_site": "same-site"},
        {"origin": HERE, "sec_fetch_site": "cross-site"},
        {"host": "evil.example"},
        {"host": "user@127.0.0.1:8460"},
        {"host": "user@127.0.0.1:8460", "origin": "http://user@127.0.0.1:8460"},
        {"host": "127.0.0.1:8460/evil.example"},
        {"host": "127.0.0.1#evil.example"},
        {"host": "127.0.0.1:"},
        {"host": ""},
    ],
)
def test_another_site_changes_nothing(client, headers):
    before = len(client.get("/api/projects").json())
    assert asked(client, **headers) == 403
    assert len(client.get("/api/projects").json()) == before


def test_another_name_of_this_machine_is_told_nothing(client):
    assert client.get("/api/projects", headers={"host": "evil.example"}).status_code == 403
    answer = client.get("/api/projects", headers={"sec-fetch-site": "cross-site"})
    assert answer.headers["cross-origin-resource-policy"] == "same-origin"
