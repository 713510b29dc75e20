"""Loudness: as an independent measure has it, reached without clipping."""

import numpy as np
import pyloudnorm
import pytest

from tests.sounds import Samples, noise, tone
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import CEILING_DBTP, Mastered, blocks, mastering, measured, oversampled_peaks


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
