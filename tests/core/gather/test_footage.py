"""Footage: the stills are the frames that are on screen at even moments."""

from datetime import UTC, datetime
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from pydantic import ValidationError

from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.footage import Taking, moments, read_footage, stills_of, taken_at


def film(
    path: Path, *, frames: int = 60, rate: str = "25", size=(160, 96), sound: bool = False, rotation: int = 0
) -> Path:
    """A film whose frame n is grey of level 20 + 3n, with a white corner at the top left."""
    with av.open(str(path), "w") as container:
        container.metadata["creation_time"] = "2031-05-04T09:30:00.000000Z"
        stream = container.add_stream("libx264", rate=Fraction(rate), options={"qp": "0", "g": "12"})
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
        audio = container.add_stream("aac", rate=48000) if sound else None
        for number in range(frames):
            picture = np.full((size[1], size[0], 3), 20 + 3 * number, np.uint8)
            picture[:32, :32] = 235
            for packet in stream.encode(av.VideoFrame.from_ndarray(picture, format="rgb24")):
                container.mux(packet)
        for packet in stream.encode():
            container.mux(packet)
        if audio is not None:
            silence = av.AudioFrame.from_ndarray(np.zeros((1, 1024), np.float32), format="fltp", layout="mono")
            silence.sample_rate = 48000
            for packet in [*audio.encode(silence), *audio.encode()]:
                container.mux(packet)
    return path


def numbers(path: Path, taking: Taking) -> list[int]:
    footage = read_footage(path)
    return [round((image[-8:].mean() - 20) / 3) for image in stills_of(path, footage, moments(footage, taking))]


def test_what_a_film_holds_is_said(tmp_path):
    footage = read_footage(film(tmp_path / "a.mp4", sound=True, rate="24000/1001"))
    assert (footage.frames, footage.rate, footage.width, footage.height) == (60, Fraction(24000, 1001), 160, 96)
    assert float(footage.seconds) == pytest.approx(60 * 1001 / 24000, abs=0.05)
    assert footage.sound
    assert not read_footage(film(tmp_path / "b.mp4")).sound
    assert taken_at(footage, Fraction(3)) == datetime(2031, 5, 4, 9, 30, 3, tzinfo=UTC)


@pytest.mark.parametrize("rate", ["25", "24000/1001", "12"])
@pytest.mark.parametrize("every", [1, 3, 7])
def test_every_kth_frame_is_that_frame(tmp_path, rate, every):
    path = film(tmp_path / "a.mp4", rate=rate)
    assert numbers(path, Taking(every_frames=every)) == list(range(0, 60, every))


def test_a_distance_in_seconds_and_a_wanted_count(tmp_path):
    path = film(tmp_path / "a.mp4")
    assert numbers(path, Taking(every_s=0.4)) == [0, 10, 20, 30, 40, 50]
    assert numbers(path, Taking(count=4)) == [0, 15, 30, 45]
    assert numbers(path, Taking(every_s=99)) == [0]


def test_jumping_ahead_finds_the_same_frames(tmp_path):
    path = film(tmp_path / "slow.mp4", frames=40, rate="1/2")
    assert numbers(path, Taking(every_s=8)) == list(range(0, 40, 4))


@pytest.mark.parametrize("data", [b"", b"no film", bytes(4000)])
def test_what_is_no_film_is_refused_by_name(tmp_path, data):
    path = tmp_path / "talk.mp4"
    path.write_bytes(data)
    with pytest.raises(Refusal, match=r"talk\.mp4"):
        read_footage(path)


def test_one_way_is_chosen_and_not_too_many_stills(tmp_path):
    footage = read_footage(film(tmp_path / "a.mp4"))
    for wrong in ({}, {"count": 3, "every_s": 1}, {"every_s": 0}, {"every_frames": -1}, {"every_s": float("inf")}):
        with pytest.raises(ValidationError):
            Taking(**wrong)
    with pytest.raises(Refusal, match="20,000"):
        moments(footage, Taking(every_s=0.00001))
