"""The order a shot is gathered in, other orders to choose, and coming back."""

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
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder}).json()
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
    asked = {"width": 120, "revision": 1}
    frames = [client.get(f"/api/shots/{shot}/frames/{n}.jpg", params=asked).content for n in range(3)]
    assert len(set(frames)) == 3
    order_by(client, shot, "counter")
    assert names_of(client, shot) == sorted(true)
    asked["revision"] = 2
    again = [client.get(f"/api/shots/{shot}/frames/{n}.jpg", params=asked).content for n in range(3)]
    assert (again[0], again[1]) == (frames[0], frames[2])


def test_stills_are_put_in_order_by_hand_and_back(client, gathered):
    shot = gathered(6)
    rows = client.get(f"/api/shots/{shot}/stills").json()["stills"]
    ids, names = [row["id"] for row in rows], [row["name"] for row in rows]
    moved = client.post(f"/api/shots/{shot}/order/move", json={"seen": 1, "stills": [ids[4], ids[1]], "to": 0}).json()
    assert moved["decisions"]["order"]["by"] == "hand"
    assert names_of(client, shot) == [names[n] for n in (1, 4, 0, 2, 3, 5)]
    reverse = {"seen": 2, "stills": [ids[0], ids[2], ids[3]]}
    client.post(f"/api/shots/{shot}/order/reverse", json=reverse)
    assert names_of(client, shot) == [names[n] for n in (1, 4, 3, 2, 0, 5)]
    client.post(f"/api/shots/{shot}/undo", json={"seen": 3})
    assert names_of(client, shot) == [names[n] for n in (1, 4, 0, 2, 3, 5)]
    client.post(f"/api/shots/{shot}/undo", json={"seen": 4})
    assert names_of(client, shot) == names
    assert client.get(f"/api/shots/{shot}/order").json()["by"] == "counter"


def test_a_person_can_pick_the_digits_that_count(client, project, card, finished):
    names = [f"take{take}_{9 - take:04}.JPG" for take in range(1, 6)]
    shot = gather(client, project, card, finished, names, "takes")
    order = client.get(f"/api/shots/{shot}/order").json()
    assert [group["digits"] for group in order["groups"]] == ["1", "0008"]
    other = 1 - order["group"]
    decisions = client.get(f"/api/shots/{shot}").json()["decisions"]
    decisions["order"] |= {"by": "counter", "group": other}
    client.put(f"/api/shots/{shot}/decisions", json={"seen": 1, "decisions": decisions})
    assert client.get(f"/api/shots/{shot}/order").json()["group"] == other
    wanted = sorted(names) if other == 0 else sorted(names, reverse=True)
    assert names_of(client, shot) == wanted
