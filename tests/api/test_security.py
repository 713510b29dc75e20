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
    assert client.get("/api/projects").headers["cross-origin-resource-policy"] == "same-origin"


LINK = {"sec-fetch-site": "cross-site", "sec-fetch-mode": "navigate", "sec-fetch-dest": "document"}


@pytest.mark.parametrize(
    ("path", "headers", "status"),
    [
        # A link leads to the front page (of which there is none in this test), wherever it stands.
        ("/", LINK, 404),
        ("/shots/1/fit", LINK, 403),
        ("/api/projects", {"sec-fetch-site": "none"}, 200),
        ("/api/projects", {"sec-fetch-site": "same-origin"}, 200),
        ("/api/projects", {"origin": HERE, "sec-fetch-site": "same-origin"}, 200),
        # Nothing else is given to another site: no answer, no picture, no frame within its page, no script.
        ("/api/projects", LINK, 403),
        ("/api/projects", {"sec-fetch-site": "cross-site"}, 403),
        ("/api/projects", {"sec-fetch-site": "same-site"}, 403),
        ("/api/projects", {"origin": "http://evil.example"}, 403),
        ("/api/shots/1/tail.png", {"sec-fetch-site": "cross-site", "sec-fetch-dest": "image"}, 403),
        ("/", {**LINK, "sec-fetch-dest": "iframe"}, 403),
        ("/", {"sec-fetch-site": "cross-site", "sec-fetch-mode": "no-cors"}, 403),
    ],
)
def test_another_site_may_lead_here_and_gets_nothing_else(client, path, headers, status):
    assert client.get(path, headers=headers).status_code == status
