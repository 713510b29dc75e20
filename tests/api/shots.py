"""What tests ask of a shot, as its page does."""

from collections.abc import Callable
from pathlib import Path

from fastapi.testclient import TestClient
from httpx import Response

PATTERN = [{"kind": "shot"}, {"kind": "text", "text": "_"}, {"kind": "counter"}]


def opened(client: TestClient, shot: int) -> dict:
    return client.get(f"/api/shots/{shot}").json()


def stills_of(client: TestClient, shot: int) -> list[dict]:
    return client.get(f"/api/shots/{shot}/stills").json()["stills"]


def folder_of(client: TestClient, shot: int) -> Path:
    return Path(opened(client, shot)["folder"])


def contents(folder: Path) -> dict[str, bytes]:
    return {path.name: path.read_bytes() for path in folder.iterdir()}


def again(client: TestClient, finished: Callable[[int], dict], shot: int) -> dict:
    """Gather a shot again; returns the job."""
    job = finished(client.post(f"/api/shots/{shot}/gather").json()["job"]["id"])
    assert job["state"] == "finished", job["message"]
    return job


def small(
    client: TestClient, shot: int, width: int = 160, height: int = 90, *, hold: int | None = None, **encode: object
) -> int:
    """Have a shot's clip be small and, unless told otherwise, encoded in no time; returns the revision."""
    shown = opened(client, shot)
    decisions = shown["decisions"]
    decisions["fit"]["size"] = {"width": width, "height": height}
    decisions["pace"]["hold"] = hold or decisions["pace"]["hold"]
    decisions["encode"] |= {"preset": "ultrafast"} | encode
    kept = client.put(f"/api/shots/{shot}/decisions", json={"seen": shown["revision"], "decisions": decisions})
    assert kept.status_code == 200, kept.text
    return int(kept.json()["revision"])


def encoded(client: TestClient, finished: Callable[[int], dict], shot: int) -> dict:
    """Encode a shot as it is decided; returns the job."""
    seen = opened(client, shot)["revision"]
    return finished(client.post(f"/api/shots/{shot}/encode", json={"seen": seen}).json()["id"])


def rename(client: TestClient, shot: int, pattern: list[dict] = PATTERN) -> Response:
    """Rename a shot's files by a pattern, once its table was seen."""
    planned = client.post(f"/api/shots/{shot}/rename/table", json={"parts": pattern}).json()
    return client.post(f"/api/shots/{shot}/rename", json={"parts": pattern, "table": planned["table"]})
