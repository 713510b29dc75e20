"""Looks through the whole program: kept, applied to another shot, taken from a version; tables read and written."""

import io

import numpy as np
import pytest
from PIL import Image

from tests.api.test_areas import SKY, area, shown
from tests.api.test_light import decide, ids_of, opened, setting
from yarnkite.core.light.colour_table import identity
from yarnkite.core.light.cube import cube_text, read_cube


def light(client, shot):
    return opened(client, shot)["decisions"]["light"]


def seen(client, shot):
    return opened(client, shot)["revision"]


def test_a_look_is_kept_applied_elsewhere_and_undone(client, gathered):
    one, other = gathered(6), gathered(9)
    ids = ids_of(client, one)
    rising = setting(**{f"s{ids[0]}": 0.0, f"s{ids[5]}": 1.0})
    decide(client, one, exposure=rising, warmth=setting(20), areas=[area(SKY, grade={"contrast": setting(0.4)})])
    body = {"name": "Harbour at dusk", "parts": ["brightness", "areas"]}
    looks = client.post(f"/api/shots/{one}/looks", json=body).json()
    mine = next(look for look in looks if look["name"] == "Harbour at dusk")
    assert mine["parts"] == ["brightness", "areas"]
    decide(client, other, warmth=setting(-40))
    applied = client.post(f"/api/shots/{other}/looks/apply", json={"seen": seen(client, other), "id": mine["id"]})
    assert applied.status_code == 200
    found = light(client, other)
    others = ids_of(client, other)
    assert [one["still"] for one in found["exposure"]["keyframes"]] == [others[0], others[-1]]
    assert found["warmth"]["value"] == -40
    assert found["areas"][0]["name"] == "sky"
    client.post(f"/api/shots/{other}/undo", json={"seen": seen(client, other)})
    assert light(client, other)["areas"] == []
    assert client.delete(f"/api/looks/{mine['id']}").status_code == 200
    gone = {"seen": seen(client, other), "id": mine["id"]}
    assert client.post(f"/api/shots/{other}/looks/apply", json=gone).status_code == 404


def test_the_looks_to_begin_with_show_and_do_what_they_do(client, gathered):
    shot = gathered(3)
    decide(client, shot)
    own = [look for look in client.get("/api/looks").json() if look["id"] is None]
    assert len(own) == 6
    graphite = {"name": "Graphite", "width": 192, "revision": seen(client, shot)}
    preview = client.get(f"/api/shots/{shot}/light/stills/1/look.jpg", params=graphite)
    grey = np.asarray(Image.open(io.BytesIO(preview.content)).convert("RGB")).astype(int)
    assert np.ptp(grey, axis=2).max() < 12
    body = {"seen": seen(client, shot), "name": "Graphite"}
    assert client.post(f"/api/shots/{shot}/looks/apply", json=body).status_code == 200
    assert np.ptp(shown(client, shot, 1, width=192), axis=2).max() < 12
    taken = client.post(f"/api/shots/{shot}/looks", json={"name": "graphite", "parts": ["colour"]})
    assert taken.status_code == 409 or taken.status_code == 422 or taken.status_code == 400
    assert "one of the looks" in taken.json()["detail"]
    missing = {"name": "Nothing", "width": 192, "revision": seen(client, shot)}
    assert client.get(f"/api/shots/{shot}/light/stills/1/look.jpg", params=missing).status_code == 404


def test_light_is_taken_from_another_shot_and_another_version(client, gathered):
    one, other = gathered(4), gathered(5)
    decide(client, one, exposure=setting(1), saturation=setting(-0.5))
    copied = {"seen": seen(client, other), "shot": one, "parts": ["colour"]}
    assert client.post(f"/api/shots/{other}/light/copy", json=copied).status_code == 200
    assert light(client, other)["saturation"]["value"] == -0.5
    assert light(client, other)["exposure"]["value"] == 0
    made = client.post(f"/api/shots/{one}/versions", json={"seen": seen(client, one), "name": "night"}).json()
    before = next(version["id"] for version in made["versions"] if version["id"] != made["version"])
    decide(client, one, exposure=setting(-3))
    back = {"seen": seen(client, one), "shot": one, "version": before, "parts": ["brightness"]}
    assert client.post(f"/api/shots/{one}/light/copy", json=back).status_code == 200
    assert light(client, one)["exposure"]["value"] == 1
    nowhere = back | {"seen": seen(client, one), "version": 10**6}
    assert client.post(f"/api/shots/{one}/light/copy", json=nowhere).status_code == 404
    stale = copied | {"seen": 1}
    assert client.post(f"/api/shots/{other}/light/copy", json=stale).status_code == 409


def test_a_table_of_colours_is_applied_and_goes_along(client, gathered):
    shot = gathered(6)
    decide(client, shot)
    plain = shown(client, shot)
    text = cube_text(identity(5)[..., ::-1], "swapped")
    body = {"seen": seen(client, shot), "name": "swapped.cube", "text": text}
    client.post(f"/api/shots/{shot}/light/table", json=body).raise_for_status()
    assert np.abs(shown(client, shot) - plain[..., ::-1]).mean() < 3
    (part,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids_of(client, shot)[3]]}).json()["shots"]
    assert light(client, part)["table"]["name"] == "swapped.cube"
    table = light(client, shot)["table"] | {"strength": setting(0)}
    decide(client, shot, table=table)
    assert np.abs(shown(client, shot) - plain).max() <= 3


@pytest.mark.parametrize("text", ["", "LUT_3D_SIZE 256\n", "LUT_3D_SIZE 2\n0 0 0\n", "LUT_3D_SIZE 2\n" + "x y z\n" * 8])
def test_a_file_that_is_no_table_gets_a_sentence_and_changes_nothing(client, gathered, text):
    shot = gathered(3)
    before = seen(client, shot)
    answer = client.post(f"/api/shots/{shot}/light/table", json={"seen": before, "name": "odd\n.cube", "text": text})
    assert answer.status_code in (400, 409, 422)
    assert "“odd .cube”" in answer.json()["detail"]
    assert seen(client, shot) == before


def test_a_light_is_written_as_a_table_that_does_the_same(client, gathered):
    shot = gathered(3)
    decide(client, shot, exposure=setting(0.5), saturation=setting(0.3), fine=setting(0.5))
    asked = {"revision": seen(client, shot)}
    answer = client.get(f"/api/shots/{shot}/light/stills/1/light.cube", params=asked)
    assert answer.headers["content-disposition"].endswith(".cube")
    assert read_cube(answer.text, "x").shape == (33, 33, 33, 3)
    wanted = shown(client, shot)
    decide(client, shot, exposure=setting(0), saturation=setting(0))
    body = {"seen": seen(client, shot), "name": "own.cube", "text": answer.text}
    client.post(f"/api/shots/{shot}/light/table", json=body).raise_for_status()
    assert np.abs(shown(client, shot) - wanted).mean() < 2.5
