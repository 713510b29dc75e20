"""Footage: the stills are the frames that are on screen at even moments."""

from datetime import UTC, datetime
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from pydantic import ValidationError

from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.footage import Taking, film_rate, moments, read_footage, remarks, stills_of, taken_at


def film(
    path: Path,
    *,
    frames: int = 60,
    rate: str = "25",
    size=(160, 96),
    sound: "bool | np.ndarray" = False,
    rotation: int = 0,
) -> Path:
    """A film whose frame n is grey of level 20 + 3n, with a white corner at the top left, and sound at 48 kHz."""
    with av.open(str(path), "w") as container:
        container.metadata["creation_time"] = "2031-05-04T09:30:00.000000Z"
        stream = container.add_stream("libx264", rate=Fraction(rate), options={"qp": "0", "g": "12"})
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
        audio = container.add_stream("aac", rate=48000) if sound is not False else None
        for number in range(frames):
            picture = np.full((size[1], size[0], 3), 20 + 3 * number, np.uint8)
            picture[:32, :32] = 235
            for packet in stream.encode(av.VideoFrame.from_ndarray(picture, format="rgb24")):
                container.mux(packet)
        for packet in stream.encode():
            container.mux(packet)
        if audio is not None:
            heard = np.zeros(1024) if sound is True else sound
            for begin in range(0, len(heard), 1024):
                block = np.asarray(heard[begin : begin + 1024], np.float32)[None]
                of_sound = av.AudioFrame.from_ndarray(block, format="fltp", layout="mono")
                of_sound.sample_rate, of_sound.pts = 48000, begin
                container.mux(audio.encode(of_sound))
            container.mux(audio.encode())
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


def test_a_stretch_is_taken_from_its_first_frame_to_the_last_before_its_end(tmp_path):
    path = film(tmp_path / "a.mp4")
    assert numbers(path, Taking(every_frames=1, from_s=0.4, until_s=1.0)) == list(range(10, 25))
    # It begins with the frame that is on screen then.
    assert numbers(path, Taking(every_frames=1, from_s=0.43, until_s=0.6))[0] == 10
    assert numbers(path, Taking(every_s=0.4, from_s=2.0)) == [50]
    assert numbers(path, Taking(count=2, from_s=0.8, until_s=1.6)) == [20, 30]
    with pytest.raises(Refusal, match=r"2\.40 s long"):
        numbers(path, Taking(every_frames=1, from_s=5))
    with pytest.raises(ValidationError):
        Taking(every_frames=1, from_s=2, until_s=1)


def test_a_late_stretch_of_a_long_film_is_found_without_decoding_all_before_it(tmp_path):
    path = film(tmp_path / "slow.mp4", frames=40, rate="2")
    assert numbers(path, Taking(every_frames=1, from_s=15, until_s=17)) == [30, 31, 32, 33]


def test_film_keeps_its_true_speed(tmp_path):
    for rate in ("24000/1001", "25", "30000/1001", "12"):
        assert film_rate(read_footage(film(tmp_path / f"{rate.replace('/', '-')}.mp4", rate=rate))) == Fraction(rate)


def test_frames_that_stay_unevenly_long_are_shown_as_long_as_they_stay(tmp_path):
    """Frames begin at 0, 1, 2, 6, 7 … tenths of a second: at even moments the third is seen four times."""
    path = tmp_path / "phone.mkv"
    begins = [0, 1, 2, 6, 7, 8, 12, 13, 14, 18]
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=10, options={"qp": "0", "bf": "0"})
        stream.width, stream.height, stream.pix_fmt = 64, 48, "yuv420p"
        stream.time_base = stream.codec_context.time_base = Fraction(1, 10)
        for number, begin in enumerate(begins):
            frame = av.VideoFrame.from_ndarray(np.full((48, 64, 3), 20 + 20 * number, np.uint8), format="rgb24")
            frame.pts, frame.time_base = begin, Fraction(1, 10)
            container.mux(stream.encode(frame))
        container.mux(stream.encode())
    footage = read_footage(path)
    assert footage.varies
    at = [Fraction(number, 10) for number in range(19)]
    seen = [round((image[-8:].mean() - 20) / 20) for image in stills_of(path, footage, at)]
    assert seen == [max(place for place, begin in enumerate(begins) if begin <= moment) for moment in range(19)]
    assert any("unevenly" in said or "evenly" in said for said in remarks(footage))


def tape(path: Path, step: int) -> Path:
    """A film that says its frames are two fields, the second of which shows a bar so many pixels further on."""
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=25, options={"qp": "0", "x264-params": "tff=1"})
        stream.width, stream.height, stream.pix_fmt = 128, 96, "yuv420p"
        for number in range(6):
            picture = np.full((96, 128, 3), 40, np.uint8)
            # A line that is one pixel high is lost where one field has to do.
            picture[41] = 120
            picture[::2, 10 * number : 10 * number + 20] = 200
            picture[1::2, 10 * number + step : 10 * number + 20 + step] = 200
            container.mux(stream.encode(av.VideoFrame.from_ndarray(picture, format="rgb24")))
        container.mux(stream.encode())
    return path


def test_of_two_fields_one_is_used_and_nothing_is_combed(tmp_path):
    """A bar moves from one field to the next: in a frame of both its edges would be combs."""
    footage = read_footage(path := tape(tmp_path / "tape.mp4", 5))
    assert footage.is_interlaced
    assert any("interlaced" in said for said in remarks(footage))
    for image in stills_of(path, footage, moments(footage, Taking(every_frames=1))):
        lines = image[50:76].astype(int)
        assert np.abs(np.diff(lines, axis=0)).max() < 30


def test_frames_that_only_say_they_are_two_fields_keep_all_their_lines(tmp_path):
    footage = read_footage(path := tape(tmp_path / "tape.mp4", 0))
    assert footage.is_interlaced
    for image in stills_of(path, footage, moments(footage, Taking(every_frames=1))):
        assert image[41, 100:].mean() > image[39, 100:].mean() + 60


def test_film_of_high_range_becomes_what_it_shows(tmp_path):
    """Grey of 203 cd/m² in PQ is white; read as ordinary video it would be a middle grey."""
    path = tmp_path / "bright.mp4"
    white = round(0.58 * 876) + 64
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx265", rate=25, options={"x265-params": "log-level=none:lossless=1"})
        stream.width, stream.height, stream.pix_fmt = 128, 96, "yuv420p10le"
        stream.codec_context.color_primaries, stream.codec_context.color_trc = 9, 16
        stream.codec_context.colorspace = 9
        for _ in range(4):
            frame = av.VideoFrame(128, 96, "yuv420p10le")
            for plane, level in zip(frame.planes, (white, 512, 512), strict=True):
                plane.update(np.full(plane.buffer_size // 2, level, "<u2").tobytes())
            frame.colorspace, frame.color_primaries, frame.color_trc = 9, 9, 16
            container.mux(stream.encode(frame))
        container.mux(stream.encode())
    footage = read_footage(path)
    assert footage.code_points is not None
    assert footage.code_points.is_high_range
    (image,) = stills_of(path, footage, [Fraction(0)])
    # Around white light has begun to roll off.
    assert 225 <= image.mean() <= 250
    assert np.ptp(image.mean(axis=(0, 1))) < 3
    assert any("high range" in said for said in remarks(footage))
