"""The order a shot is gathered in, other orders to choose, and coming back."""

import json
from datetime import timedelta

from PIL import Image

from tests.conftest import BEGINS, exif, scene


def gather(client, project, card, finished, names, folder, interval=4.0):
    """Write stills in true order under these names, gather them, and return the shot's id."""
    for number, name in enumerate(names):
        path = card / folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        tags = exif(BEGINS + timedelta(seconds=interval * number))
        Image.fromarray(scene(120, 80, number)).save(path, "JPEG", exif=tags)
    started = client.post(f"/api/projects/{project}/shots", json={"place": "card", "path": folder}).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    return started["shot_id"]


def names_of(client, shot):
    return [still["name"] for still in client.get(f"/api/shots/{shot}/stills").json()["stills"]]


def order_by(client, shot, by):
    shown = client.get(f"/api/shots/{shot}").json()
    decisions = shown["decisions"] | {"order": {"by": by}}
    answer = client.put(f"/api/shots/{shot}/decisions", json={"seen": shown["revision"], "decisions": decisions})
    assert answer.status_code == 200


def test_a_counter_that_starts_again_is_put_right_and_other_orders_can_be_chosen(client, project, card, finished):
    true = [f"MRW_{number:04}.JPG" for number in (*range(9990, 10000), *range(1, 8), *range(9, 15))]
    shot = gather(client, project, card, finished, true, "wraps")
    assert names_of(client, shot) == true
    said = client.get(f"/api/shots/{shot}/order").json()
    assert (said["by"], said["recommended"]) == ("counter", "counter")
    assert said["reason"].startswith("Counter starts again after 9999")
    assert [(one["kind"], one["position"]) for one in said["breaks"]] == [("skipped", 17)]

    order_by(client, shot, "text")
    assert names_of(client, shot) == sorted(true)
    assert client.get(f"/api/shots/{shot}/order").json()["by"] == "text"
    order_by(client, shot, "recommended")
    assert names_of(client, shot) == true


def test_the_clip_follows_the_order(client, project, card, finished):
    true = [f"{card_name}/MRW_{number:04}.JPG" for number in range(1, 9) for card_name in ("one", "two")]
    shot = gather(client, project, card, finished, true, "merged")
    assert client.get(f"/api/shots/{shot}/order").json()["recommended"] == "time"
    assert names_of(client, shot) == true
    revision = client.get(f"/api/shots/{shot}").json()
    asked = {"width": 120, "decisions": json.dumps(revision["decisions"])}
    frames = [client.get(f"/api/shots/{shot}/frames/{n}.jpg", params=asked).content for n in range(3)]
    assert len(set(frames)) == 3
    order_by(client, shot, "counter")
    assert names_of(client, shot) == sorted(true)
    asked["decisions"] = json.dumps(client.get(f"/api/shots/{shot}").json()["decisions"])
    again = [client.get(f"/api/shots/{shot}/frames/{n}.jpg", params=asked).content for n in range(3)]
    assert (again[0], again[1]) == (frames[0], frames[2])
