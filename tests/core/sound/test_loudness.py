"""Loudness: as an independent measure has it, reached without clipping."""

import numpy as np
import pyloudnorm
import pytest

from tests.sounds import Samples, noise, piece, tone
from yarnkite.core.encode.sound_stream import _PCM, AAC, decoded
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import (
    CEILING_DBTP,
    Mastered,
    blocks,
    loudness_of,
    mastering,
    measured,
    oversampled_peaks,
)
from yarnkite.jobs import reel


def bursts():
    """Noise with short peaks far above it, as applause or a drum has them."""
    wave = noise(12, 0.05)
    for at in range(RATE, 11 * RATE, RATE // 2):
        wave[at : at + 300] *= 16
    return Samples(wave.clip(-1, 1))


@pytest.mark.parametrize("wave", [tone(10, level=0.1), noise(10, 0.2), bursts().wave], ids=["tone", "noise", "bursts"])
def test_the_measure_is_that_of_the_standard(wave):
    meter = pyloudnorm.Meter(RATE)
    assert measured(Samples(wave)).lufs == pytest.approx(meter.integrated_loudness(wave.astype(np.float64)), abs=0.1)


def test_a_full_scale_tone_of_997_hz_on_both_sides_has_the_loudness_the_standard_says():
    # ITU-R BS.1770-4: 0 dBFS at 997 Hz in one front channel is -3.01 LKFS, in both it is 0.
    assert measured(Samples(tone(10, 997, 1.0))).lufs == pytest.approx(0.0, abs=0.1)


@pytest.mark.parametrize("wanted", [-23.0, -16.0, -12.0])
def test_a_wanted_loudness_is_reached_and_nothing_clips(wanted):
    sound = bursts()
    found = mastering(sound, wanted)
    mastered = Samples(np.concatenate(list(blocks(Mastered(sound, found.gain_db, limited=found.limited)))))
    again = pyloudnorm.Meter(RATE).integrated_loudness(mastered.wave.astype(np.float64))
    assert again == pytest.approx(wanted, abs=0.3)
    assert found.reached.lufs == pytest.approx(wanted, abs=0.3)
    assert measured(mastered).true_peak_dbtp <= CEILING_DBTP
    assert found.limited == (wanted > -20)


def drums():
    """Short strokes over next to nothing: what is added to them is nearly all held down again."""
    rng = np.random.default_rng(8)
    wave = np.zeros((5 * RATE, 2), np.float32)
    for at in range(0, 5 * RATE - 4000, RATE // 3):
        stroke = rng.normal(0, 0.3, (4000, 1)) * np.exp(-np.arange(4000)[:, None] / 500)
        wave[at : at + 4000] += stroke.astype(np.float32)
    return Samples(wave.clip(-1, 1))


@pytest.mark.parametrize("wanted", [-23.0, -16.0, -14.0])
def test_drums_reach_the_loudness_that_is_wished_by_an_independent_measure(wanted):
    sound = drums()
    found = mastering(sound, wanted)
    played = Mastered(sound, found.gain_db, limited=found.limited, ceiling_dbtp=found.ceiling_dbtp)
    mastered = Samples(np.concatenate(list(blocks(played))))
    again = pyloudnorm.Meter(RATE).integrated_loudness(mastered.wave.astype(np.float64))
    assert again == pytest.approx(wanted, abs=0.3)
    assert found.reached.lufs == pytest.approx(again, abs=0.1)
    assert measured(mastered).true_peak_dbtp <= CEILING_DBTP


@pytest.mark.parametrize(
    ("sound", "wanted"), [(Samples(noise(6, 0.0005)), -16.0), (drums(), -12.0)], ids=["quiet", "drums"]
)
def test_what_cannot_be_reached_is_said_as_it_is_and_with_the_gain_it_was_reached_by(sound, wanted):
    found = mastering(sound, wanted)
    assert found.gain_db == pytest.approx(40.0)
    assert found.reached.lufs < wanted - 1
    played = Mastered(sound, found.gain_db, limited=found.limited, ceiling_dbtp=found.ceiling_dbtp)
    assert measured(played).lufs == pytest.approx(found.reached.lufs, abs=0.1)
    planned, remark = reel._planned(wanted, wanted, found.reached.lufs)
    assert planned == found.reached.lufs
    assert f"{found.reached.lufs:.1f} LUFS, not the {wanted:.1f}" in remark


@pytest.mark.parametrize(
    ("codec", "wanted", "is_met"),
    [
        pytest.param(AAC, -16.0, True, marks=pytest.mark.long),
        pytest.param(_PCM, -14.0, True, marks=pytest.mark.long),
        (AAC, -13.0, False),
    ],
)
def test_a_file_is_held_against_the_loudness_that_is_wished_or_says_why_not(tmp_path, codec, wanted, is_met):
    planned = reel.encode_wanted(drums(), wanted, tmp_path / "sound", lambda: None, codec)
    heard = np.concatenate(list(decoded(tmp_path / "sound"))).astype(np.float64)
    loud = pyloudnorm.Meter(RATE).integrated_loudness(heard)
    if is_met:
        assert (planned.lufs, planned.remark) == (wanted, "")
        assert loud == pytest.approx(wanted, abs=0.3)
    else:
        assert planned.lufs == pytest.approx(loud, abs=0.1)
        assert loud < wanted - 0.3
        assert f"not the {wanted:.1f} that are wished" in planned.remark


@pytest.mark.parametrize("later", [6, pytest.param(7, marks=pytest.mark.long)])
def test_a_file_of_music_with_a_click_has_its_loudness_and_reaches_no_higher_than_it_may(tmp_path, later):
    """Its encoder moves the click's peak by another half decibel each time: two corrections were not enough."""
    music = 0.5 * piece("abab", 120)
    music[round(3.3 * RATE)] = 0.99
    sound = Samples(music[later * 611 : later * 611 + 8 * RATE].astype(np.float32))
    sound.wave[-RATE:] *= np.linspace(1, 0, RATE, dtype=np.float32)[:, None]
    planned = reel.encode_wanted(sound, -16.0, tmp_path / "sound", lambda: None)
    heard = loudness_of(decoded(tmp_path / "sound"))
    assert (planned.lufs, planned.remark) == (-16.0, "")
    assert heard.lufs == pytest.approx(-16.0, abs=0.3)
    assert heard.true_peak_dbtp <= CEILING_DBTP


def test_without_a_wanted_loudness_only_what_would_clip_is_held_down():
    quiet, loud = Samples(noise(4, 0.05)), Samples(tone(4, 12_000, 1.1))
    assert mastering(quiet, None).gain_db == 0
    assert not mastering(quiet, None).limited
    assert mastering(loud, None).limited
    assert mastering(loud, None).reached.true_peak_dbtp <= CEILING_DBTP


def test_silence_stays_silence():
    found = mastering(Samples(np.zeros((RATE * 3, 2), np.float32)), -16.0)
    assert (found.gain_db, found.reached.lufs) == (0, None)


def test_a_peak_between_samples_is_seen():
    # A quarter of the rate, met an eighth of a period off: each sample is 0.707 of the peak.
    time = np.arange(4800)
    wave = np.repeat(np.sin(np.pi / 2 * time + np.pi / 4)[:, None], 2, axis=1).astype(np.float32)
    assert np.abs(wave).max() < 0.708
    assert oversampled_peaks(wave)[100:-100].max() == pytest.approx(1.0, abs=0.02)


def test_any_part_of_what_is_held_down_is_what_it_is_in_the_whole():
    mastered = Mastered(bursts(), 9.0, limited=True)
    whole = mastered.read(0, mastered.total)
    parts = np.concatenate([mastered.read(at, 10_007) for at in range(0, mastered.total, 10_007)])[: mastered.total]
    assert whole.tobytes() == parts.tobytes()
    assert np.abs(whole).max() < 1
