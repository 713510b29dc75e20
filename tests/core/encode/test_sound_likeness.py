"""Likeness of sound: what a codec leaves out is no fault, and a sound that is not the mix always is."""

import numpy as np
import pytest

from tests.sounds import Samples, noise, piece, tone
from yarnkite.core.encode.sound_likeness import SoundComparison
from yarnkite.core.encode.sound_stream import _FLAC, _OPUS, _PCM, AAC, LOSSLESS, decoded, encode_sound
from yarnkite.core.sound.decisions import RATE

CODECS = {"aac": AAC, "opus": _OPUS, "pcm": _PCM, "flac": _FLAC}
SECONDS = 4


def brown(level):
    """Wind: the lower, the louder, also below what is heard."""
    wave = np.cumsum(noise(SECONDS, 1, seed=4), axis=0)
    return (wave - wave.mean(axis=0)) / np.abs(wave).max() * level


def hiss(level):
    """Nothing below 4 kHz, where waves are compared."""
    spectrum = np.fft.rfft(noise(SECONDS, 1, seed=5), axis=0)
    spectrum[np.fft.rfftfreq(SECONDS * RATE, 1 / RATE) < 4000] = 0
    wave = np.fft.irfft(spectrum, SECONDS * RATE, axis=0)
    return wave / np.abs(wave).max() * level


def strokes():
    """Short strokes over nothing: an encoder spreads them into the silence before."""
    wave = noise(SECONDS, 0.25, seed=6)
    return wave * np.exp(-20 * (np.arange(len(wave)) / RATE * 2 % 1))[:, None]


SOUNDS = {
    "music": piece("ab", 160, 6)[: SECONDS * RATE] * [0.7, 0.4],
    "noise": noise(SECONDS, 0.2),
    "wind": brown(0.7),
    "a breeze": brown(0.01),
    "hiss": hiss(0.6),
    "strokes": strokes(),
    "silence": np.zeros((SECONDS * RATE, 2)),
}


def shifted(wave, samples):
    return np.roll(wave, samples, axis=0)


def holed(wave):
    wave = wave.copy()
    wave[round(1.6 * RATE) : round(2.1 * RATE)] = 0
    return wave


WRONG = {
    "late by 15 ms": lambda wave: shifted(wave, 720),
    "early by 5 ms": lambda wave: shifted(wave, -240),
    "upside down": lambda wave: -wave,
    "a hole": holed,
    "another part's": lambda wave: shifted(wave, RATE + 4321),
}


@pytest.fixture(scope="module")
def encoded(tmp_path_factory):
    """Every sound in every codec, as a player hears it."""
    folder = tmp_path_factory.mktemp("sounds")
    kept = {}

    def heard(name, codec):
        if (name, codec) not in kept:
            path = folder / f"{name}-{codec}"
            encode_sound(Samples(SOUNDS[name].astype(np.float32)), path, codec=CODECS[codec])
            kept[name, codec] = list(decoded(path))
        return kept[name, codec]

    return heard


def compared(planned, blocks, codec):
    comparison = SoundComparison(Samples(planned.astype(np.float32)), lossless=CODECS[codec].name in LOSSLESS)
    for block in blocks:
        comparison.add(block)
    return comparison.result()


@pytest.mark.parametrize("codec", CODECS)
@pytest.mark.parametrize("name", SOUNDS)
def test_a_file_of_the_mix_is_alike_in_every_codec(encoded, name, codec):
    found = compared(SOUNDS[name], encoded(name, codec), codec)
    assert found.fault is None
    assert found.samples == SECONDS * RATE
    assert found.lowest == 1.0 if CODECS[codec].name in LOSSLESS else found.lowest > 0.6


@pytest.mark.parametrize("codec", CODECS)
@pytest.mark.parametrize("name", [name for name in SOUNDS if name not in ("silence", "strokes")])
@pytest.mark.parametrize("wrong", WRONG)
def test_what_is_not_the_mix_is_found_and_where_it_begins(encoded, name, codec, wrong):
    found = compared(WRONG[wrong](SOUNDS[name]), encoded(name, codec), codec)
    assert found.fault is not None
    # Of wind, which changes slowly, not every quarter of a second shows it.
    begins, after = (1.5, 0.25) if wrong == "a hole" else (0, 2)
    assert begins <= found.fault / RATE <= begins + after


@pytest.mark.parametrize("codec", ["aac", "opus"])
def test_sides_that_are_exchanged_are_found(encoded, codec):
    assert compared(SOUNDS["music"][:, ::-1], encoded("music", codec), codec).fault == 0


def test_it_does_not_matter_in_which_blocks_a_sound_comes(encoded):
    blocks = encoded("music", "aac")
    whole = compared(SOUNDS["music"], [np.concatenate(blocks)], "aac")
    assert compared(SOUNDS["music"], blocks, "aac") == whole
    assert whole.lowest < 1


def test_what_goes_on_a_little_beyond_the_mix_is_no_fault_and_one_sample_without_loss_is():
    wave = tone(1.3)
    beyond = np.concatenate([wave, np.zeros((700, 2), np.float32)])
    assert compared(wave, [beyond], "pcm").fault is None
    beyond[RATE // 2 + 5, 1] += 0.001
    assert compared(wave, [beyond], "pcm").fault == RATE // 2
