"""Taking sounds in: every usual format, odd ones with a sentence, none that ends the work."""

import subprocess
import tracemalloc

import numpy as np
import pytest
import soundfile

from tests.sounds import clicks, noise, tone, written
from yarnkite.core.base.errors import Refusal
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.decode import take_in
from yarnkite.core.sound.stored import StoredSound


def taken(path, tmp_path):
    found = take_in(path, path.name, tmp_path / "taken.f32")
    sound = StoredSound(str(tmp_path / "taken.f32"), found.fingerprint, found.samples)
    return sound.read(0, found.samples), found.remarks


def converted(source, target, *options):
    subprocess.run(["ffmpeg", "-v", "error", "-y", "-i", source, *options, target], check=True)
    return target


@pytest.mark.parametrize("form", ["PCM_16", "PCM_24", "FLOAT", "PCM_U8"])
def test_samples_at_48_khz_come_through_as_they_are(tmp_path, form):
    wave = tone(1, level=0.9)
    path = written(wave, tmp_path / "a.wav", subtype=form)
    (read, remarks) = taken(path, tmp_path)
    oracle, _ = soundfile.read(path, dtype="float32", always_2d=True)
    assert np.abs(read - oracle).max() < 1e-6
    assert remarks == ()


@pytest.mark.parametrize(
    ("ending", "options", "within"),
    [
        ("mp3", ["-b:a", "192k"], 2),
        ("m4a", ["-b:a", "192k"], 2),
        ("opus", ["-b:a", "160k"], 60),
        ("ogg", ["-c:a", "libvorbis"], 60),
        ("flac", [], 0),
        ("aiff", [], 0),
    ],
)
def test_a_click_stays_where_it_was(tmp_path, ending, options, within):
    source = written(clicks(RATE * 2, 50_000), tmp_path / "a.wav")
    read, remarks = taken(converted(source, tmp_path / f"b.{ending}", *options), tmp_path)
    assert abs(int(np.argmax(np.abs(read[:, 0]))) - 50_000) <= within
    assert remarks == ()


def test_another_rate_is_resampled_without_a_shift_or_a_tone_of_its_own(tmp_path):
    read, _ = taken(written(tone(2, 1000, rate=44_100), tmp_path / "a.wav", 44_100), tmp_path)
    assert abs(len(read) - 2 * RATE) <= 1
    middle = read[4800:-4800, 0]
    truth = tone(2, 1000)[4800 : 4800 + len(middle), 0]
    assert np.abs(middle - truth).max() < 1e-3


def test_one_channel_is_heard_on_both_sides_and_six_are_mixed_down(tmp_path):
    read, _ = taken(written(tone(1)[:, :1], tmp_path / "mono.wav"), tmp_path)
    assert np.array_equal(read[:, 0], read[:, 1])
    for count in (6, 32):
        wave = np.zeros((RATE, count), np.float32)
        wave[:, 0] = tone(1)[:, 0]
        read, remarks = taken(written(wave, tmp_path / f"{count}.wav"), tmp_path)
        assert np.abs(read[:, 0]).max() > 0.01
        assert not read[:, 1].any()
        assert f"has {count} channels" in remarks[0]


@pytest.mark.parametrize("ending", ["wav", "mp3", "flac"])
def test_a_file_that_was_cut_short_gives_what_it_has(tmp_path, ending):
    whole = converted(written(noise(8), tmp_path / "a.wav"), tmp_path / f"whole.{ending}")
    data = whole.read_bytes()
    short = tmp_path / f"short.{ending}"
    short.write_bytes(data[: len(data) * 5 // 8])
    read, remarks = taken(short, tmp_path)
    assert 4 < len(read) / RATE < 6
    # An MP3 does not say how long it is meant to be.
    assert ending == "mp3" or any("breaks off after" in one for one in remarks)


def test_a_rate_that_changes_on_the_way_is_followed(tmp_path):
    parts = []
    for number, (rate, hertz) in enumerate(((44_100, 440), (32_000, 440))):
        source = written(tone(2, hertz, rate=rate), tmp_path / f"{number}.wav", rate)
        parts.append(
            converted(source, tmp_path / f"{number}.mp3", "-write_xing", "0", "-id3v2_version", "0").read_bytes()
        )
    (tmp_path / "two.mp3").write_bytes(b"".join(parts))
    read, remarks = taken(tmp_path / "two.mp3", tmp_path)
    assert len(read) / RATE == pytest.approx(4, abs=0.2)
    assert any("changes its rate from 44,100 to 32,000" in one for one in remarks)
    late = read[int(2.5 * RATE) : int(3.5 * RATE), 0]
    assert np.argmax(np.abs(np.fft.rfft(late * np.hanning(len(late))))) == pytest.approx(440, abs=2)


def test_silence_and_a_video_are_said_to_be_what_they_are(tmp_path):
    _, remarks = taken(written(np.zeros((RATE, 2), np.float32), tmp_path / "still.wav"), tmp_path)
    assert remarks == ("“still.wav” is silent from beginning to end.",)
    source = written(tone(1), tmp_path / "a.wav")
    video = tmp_path / "video.mp4"
    subprocess.run(
        ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "color=size=64x64:duration=1", "-i", source, video], check=True
    )
    read, remarks = taken(video, tmp_path)
    assert abs(len(read) - RATE) < 2048
    assert "its sound was taken" in remarks[0]


@pytest.mark.parametrize("kind", ["text", "empty", "picture", "no sound"])
def test_what_is_no_sound_is_refused_by_name(tmp_path, kind):
    path = tmp_path / "thing.wav"
    path.write_bytes(
        {"text": b"no sound at all" * 100, "empty": b"", "picture": b"\x89PNG\r\n\x1a\n" * 9}.get(kind, b"")
    )
    if kind == "no sound":
        path = tmp_path / "thing.mp4"
        subprocess.run(["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "color=size=64x64:duration=1", path], check=True)
    with pytest.raises(Refusal, match=r"“thing\.(wav|mp4)”"):
        take_in(path, path.name, tmp_path / "taken.f32")
    assert not (tmp_path / "taken.f32").exists()


def test_memory_does_not_grow_with_the_length(tmp_path):
    peaks = []
    for seconds in (20, 120):
        path = written(noise(seconds), tmp_path / "a.flac")
        tracemalloc.start()
        take_in(path, "a", tmp_path / "taken.f32")
        peaks.append(tracemalloc.get_traced_memory()[1])
        tracemalloc.stop()
    assert peaks[1] < 1.5 * peaks[0] + 2_000_000
