"""Dust is removed from a shot: measured, seen on the stage and in the clip, and left in the picture again."""

import io
from pathlib import Path

import av
import numpy as np
import pytest
import simplejpeg
from PIL import Image

from tests.api.shots import again, encoded, opened, small, stills_of
from tests.core.image.test_dust import HEIGHT, PLACE, WIDTH, off, shot

AT = {"x": PLACE.x, "y": PLACE.y, "width": PLACE.width}


@pytest.fixture(scope="module")
def clouds() -> tuple[list, list]:
    return shot("clouds")


def write_dusty(folder: Path, dirty: list) -> Path:
    folder.mkdir()
    for number, pixels in enumerate(dirty):
        data = simplejpeg.encode_jpeg(np.ascontiguousarray(pixels.array), quality=97, colorsubsampling="444")
        (folder / f"D_{number:03}.jpg").write_bytes(data)
    return folder


@pytest.fixture
def dusty(client, project, finished, card: Path, clouds) -> int:
    """A shot of clouds that pass behind a speck."""
    folder = write_dusty(card / f"dusty-{project}", clouds[1])
    started = client.post(f"/api/projects/{project}/shots", json={"location": "card", "path": folder.name}).json()
    assert finished(started["job"]["id"])["state"] == "finished"
    return started["shot_id"]


def removed(client, shot_id: int, **at: float):
    body = {"seen": opened(client, shot_id)["revision"], **AT, **at}
    return client.post(f"/api/shots/{shot_id}/dust", json=body)


def picture(client, address: str, **asked: object) -> np.ndarray:
    answer = client.get(address, params=asked)
    assert answer.status_code == 200, answer.text
    return np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB")).astype(np.float32)


def test_a_spot_is_removed_from_stage_pixels_and_clip_and_comes_back(client, finished, dusty: int, clouds):
    truth = clouds[0]
    small(client, dusty, WIDTH, HEIGHT, crf=4)
    assert removed(client, dusty).status_code == 200
    revision = opened(client, dusty)["revision"]
    (told,) = client.get(f"/api/shots/{dusty}/dust").json()
    assert "41 % from the left and 33 % from the top: took " in told["sentence"]
    assert len(told["worst"]) == 3
    still = f"/api/shots/{dusty}/stills/7"
    used = picture(client, f"{still}/used.jpg", revision=revision, width=WIDTH)
    as_shot = picture(client, f"{still}/used.jpg", revision=1, width=WIDTH)
    assert off(used, truth[7], PLACE) < 4 < 8 < off(as_shot, truth[7], PLACE)
    near = {"x": PLACE.x, "y": PLACE.y, "width": 40, "height": 40}
    before, after = (picture(client, f"{still}/spot.jpg", revision=one, **near) for one in (0, revision))
    assert after[18:22, 18:22].mean() > before[18:22, 18:22].mean() + 8
    assert abs(after[:4] - before[:4]).max() < 3
    job = encoded(client, finished, dusty)
    assert job["state"] == "finished", job["message"]
    with av.open(io.BytesIO(client.get(f"/api/clips/{job['clip_id']}/file").content)) as clip:
        frames = [frame.to_ndarray(format="rgb24") for frame in clip.decode(video=0)]
    assert len(frames) == len(truth)
    for number in range(0, len(truth), 6):
        assert off(frames[number], truth[number], PLACE) < 5
    body = {"seen": revision, **AT}
    assert client.post(f"/api/shots/{dusty}/dust/back", json=body).json()["decisions"]["check"]["dust"] == []
    assert client.get(f"/api/shots/{dusty}/dust").json() == []


def test_a_spot_survives_another_order_set_aside_stills_and_gathering_again(client, finished, dusty: int):
    removed(client, dusty)
    spot = opened(client, dusty)["decisions"]["check"]["dust"]
    ids = [still["id"] for still in stills_of(client, dusty)]
    seen = opened(client, dusty)["revision"]
    client.post(f"/api/shots/{dusty}/order/reverse", json={"seen": seen, "stills": []})
    seen = opened(client, dusty)["revision"]
    client.post(f"/api/shots/{dusty}/aside", json={"seen": seen, "stills": ids[:3], "aside": True})
    again(client, finished, dusty)
    assert opened(client, dusty)["decisions"]["check"]["dust"] == spot
    (other,) = client.post(f"/api/shots/{dusty}/split-off", json={"stills": ids[12:]}).json()["shots"]
    assert opened(client, other)["decisions"]["check"]["dust"] == spot
    seen = opened(client, dusty)["revision"]
    while opened(client, dusty)["decisions"]["check"]["dust"]:
        undone = client.post(f"/api/shots/{dusty}/undo", json={"seen": opened(client, dusty)["revision"]})
        assert undone.status_code == 200


def test_what_is_found_is_removed_and_taken_back_by_its_remedy(client, dusty: int):
    (found,) = [one for one in client.get(f"/api/shots/{dusty}/check").json()["findings"] if one["kind"] == "dirt"]
    assert "remove" in found["remedies"]
    body = {"seen": opened(client, dusty)["revision"], "keys": [found["key"]], "remedy": "remove"}
    decided = client.post(f"/api/shots/{dusty}/check/remedy", json=body).json()
    assert len(decided["decisions"]["check"]["dust"]) == 1

    def settled() -> bool:
        return next(
            one["settled"]
            for one in client.get(f"/api/shots/{dusty}/check").json()["findings"]
            if one["key"] == found["key"]
        )

    assert settled()
    body |= {"seen": decided["revision"], "remedy": "none"}
    assert client.post(f"/api/shots/{dusty}/check/remedy", json=body).json()["decisions"]["check"]["dust"] == []
    assert not settled()


def test_where_nothing_is_darker_nothing_is_removed(client, gathered):
    shot_id = gathered(24)
    before = opened(client, shot_id)["revision"]
    answer = removed(client, shot_id, x=0.02, y=0.02, width=0.01)
    assert answer.status_code == 400
    assert "ring" in answer.json()["detail"]
    assert opened(client, shot_id)["revision"] == before
