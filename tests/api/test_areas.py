"""Areas through the whole program: in the picture, in the clip, painted, limited, kept when shots are sorted anew."""

import io
import json

import av
import numpy as np
import pytest
from PIL import Image

from tests.api.test_light import decide, encoded, ids_of, opened, setting

SKY = {"kind": "gradient", "x": 0.5, "y": 0.0, "to_x": 0.5, "to_y": 0.6}


def area(shape, name="sky", grade=None, **mask):
    return {"name": name, "mask": {"parts": [{"shape": shape}], **mask}, "grade": grade or {}}


def shown(client, shot, position=1, **other):
    asked = {"width": 320, "state": "x", "revision": opened(client, shot)["revision"]} | other
    answer = client.get(f"/api/shots/{shot}/stills/{position}/frame.jpg", params=asked)
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB")).astype(int)


def overlay_mask(client, shot, kind, position=1):
    asked = {"kind": kind, "width": 320, "revision": opened(client, shot)["revision"]}
    answer = client.get(f"/api/shots/{shot}/light/stills/{position}/overlay-mask.png", params=asked)
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)))


def test_the_sky_alone_grows_darker_in_the_clip_as_on_the_stage(client, services, finished, gathered):
    shot = gathered(4)
    decide(client, shot)
    before = shown(client, shot)
    decide(client, shot, areas=[area(SKY, grade={"exposure": setting(-2)})])
    after = shown(client, shot)
    assert after[2].mean() < 0.6 * before[2].mean()
    assert np.abs(after[150:] - before[150:]).mean() < 1
    clip = encoded(client, finished, shot, services)
    with av.open(str(clip)) as container:
        frame = next(container.decode(video=0)).to_ndarray(format="rgb24")
    assert np.abs(frame.astype(int) - shown(client, shot, 0)).mean() < 4
    found = overlay_mask(client, shot, "0")
    assert found[0, :, 3].min() > 140
    assert found[150:, :, 3].max() == 0


def test_what_is_painted_lies_under_the_brush_however_the_still_is_fitted(client, gathered):
    shot = gathered(3)
    decisions = opened(client, shot)["decisions"]
    decisions["fit"] |= {"quarters": 1, "mirror": True, "zoom": 1.3, "level": 4.0}
    body = {"seen": opened(client, shot)["revision"], "decisions": decisions}
    client.put(f"/api/shots/{shot}/decisions", json=body).raise_for_status()
    seen = opened(client, shot)["revision"]
    stroke = {"revision": seen, "points": [[0.3, 0.4], [0.6, 0.4]], "width": 0.1, "softness": 0.0}
    kept = client.post(f"/api/shots/{shot}/light/stills/1/stroke", json=stroke).json()
    painted = {"kind": "brush", "strokes": [kept]}
    decide(client, shot, areas=[area(painted, grade={"exposure": setting(1)})])
    found = overlay_mask(client, shot, "0")[..., 3]
    height, width = found.shape
    assert found[int(0.4 * height), int(0.45 * width)] > 140
    assert found[int(0.4 * height), int(0.8 * width)] == 0
    thick = (found[:, int(0.45 * width)] > 75).sum()
    assert thick == pytest.approx(0.1 * width, abs=4)
    laid = client.get(f"/api/shots/{shot}/light/stills/1/laid", params={"revision": seen}).json()
    there, back = (np.array(laid[name]).reshape(2, 3) for name in ("to_still", "to_frame"))
    point = there @ (0.3, 0.4, 1)
    assert back @ (*point, 1) == pytest.approx([0.3, 0.4])


def test_an_area_is_limited_to_the_colour_that_is_clicked_on(client, gathered):
    shot = gathered(3)
    decide(client, shot)
    where = {"x": 0.2, "y": 0.4, "revision": opened(client, shot)["revision"]}
    hue = client.get(f"/api/shots/{shot}/light/stills/1/hue", params=where).json()["hue"]
    assert 10 < hue < 60
    limited = area({"kind": "everything"}, hue={"hue": hue, "width": 25}, grade={"saturation": setting(-1)})
    before = shown(client, shot)
    decide(client, shot, areas=[limited])
    after = shown(client, shot)
    assert np.ptp(after[72, 64]) < 12 < np.ptp(before[72, 64])
    assert np.abs(after[170, 10] - before[170, 10]).max() <= 4


def test_areas_go_along_when_a_shot_is_split_joined_and_undone(client, gathered):
    shot = gathered(8)
    ids = ids_of(client, shot)
    rising = setting(**{f"s{ids[0]}": -1.0, f"s{ids[7]}": 1.0})
    decide(client, shot, areas=[area(SKY, grade={"exposure": rising})])
    (part,) = client.post(f"/api/shots/{shot}/split", json={"before": [ids[5]]}).json()["shots"]
    assert opened(client, part)["decisions"]["light"]["areas"][0]["name"] == "sky"
    pier = area({"kind": "everything"}, "pier", {"saturation": setting(-1)})
    decide(client, part, areas=[*opened(client, part)["decisions"]["light"]["areas"], pier])
    client.post(f"/api/shots/{shot}/join", json={"other": part}).raise_for_status()
    both = opened(client, shot)["decisions"]["light"]["areas"]
    assert [one["name"] for one in both] == ["sky", "pier"]
    # The stills of the first shot keep their colour, those of the second have none.
    assert np.ptp(shown(client, shot, 2), axis=2).max() > 60
    assert np.ptp(shown(client, shot, 7), axis=2).max() < 30


def test_what_lies_off_the_picture_or_is_too_much_harms_nothing(client, gathered):
    shot = gathered(3)
    decide(client, shot)
    before = shown(client, shot)
    away = {"kind": "ellipse", "x": 3.5, "y": -2.0, "x_radius": 0.1, "y_radius": 0.1}
    decide(client, shot, areas=[area(away, grade={"exposure": setting(3)})])
    assert np.abs(shown(client, shot) - before).max() <= 2
    assert overlay_mask(client, shot, "0")[..., 3].max() == 0
    seen = opened(client, shot)["revision"]
    for kind, status in (("7", 404), ("everything", 422)):
        asked = {"kind": kind, "revision": seen}
        assert client.get(f"/api/shots/{shot}/light/stills/1/overlay-mask.png", params=asked).status_code == status
    decisions = opened(client, shot)["decisions"]
    far = area({"kind": "ellipse", "x": 99, "y": 0, "x_radius": 0.1, "y_radius": 0.1})
    long = area({"kind": "brush", "strokes": [{"points": "AAAA" * 2000, "width": 0.1}] * 4})
    for wrong in (far, long, area(SKY, grade={"exposure": setting(9)}), area(SKY, name=" ")):
        decisions["light"]["areas"] = [wrong]
        body = {"seen": seen, "decisions": decisions}
        assert client.put(f"/api/shots/{shot}/decisions", json=body).status_code == 422
    assert opened(client, shot)["revision"] == seen


def test_as_much_as_may_be_painted_can_be_tried_on_the_stage(client, gathered):
    """What is tried goes along in addresses, which have their limits."""
    shot = gathered(3)
    decide(client, shot)
    strokes = [{"points": "ABCD" * 1990, "width": 0.1, "softness": 0.5, "erases": False}] * 3
    full = [
        area({"kind": "brush", "strokes": strokes}),
        *(area(SKY, f"area {n}", {"exposure": setting(0.1)}) for n in range(11)),
    ]
    change = json.dumps({"light": {"areas": full}}, separators=(",", ":"))
    asked = {"width": 320, "state": "x", "revision": opened(client, shot)["revision"], "change": change}
    assert client.get(f"/api/shots/{shot}/stills/1/frame.jpg", params=asked).status_code == 200


def test_what_is_clipped_is_counted_and_striped(client, gathered):
    shot = gathered(3)
    decide(client, shot, exposure=setting(3))
    seen = opened(client, shot)["revision"]
    found = client.get(f"/api/shots/{shot}/light/stills/1/clipping", params={"revision": seen}).json()
    image = shown(client, shot)
    assert found["bright"] == pytest.approx((image.min(axis=2) >= 253).mean(), abs=0.06)
    assert found["worst_bright"]["share"] >= 0.98 * found["bright"]
    stripes = overlay_mask(client, shot, "clipped")
    assert (stripes[..., 3] > 0).mean() > found["bright"]
    assert overlay_mask(client, shot, "sharpening")[..., 3].min() == 255


def test_the_circle_has_the_colours_of_the_still(client, gathered):
    shot = gathered(3)
    decide(client, shot)
    seen = opened(client, shot)["revision"]
    found = client.get(f"/api/shots/{shot}/light/stills/1/circle", params={"revision": seen}).json()
    assert len(found["rim"]) == 72
    assert sum(one["share"] for one in found["spots"]) > 0.9
    assert any(20 < one["hue"] < 45 and one["reach"] > 0.5 for one in found["spots"])
