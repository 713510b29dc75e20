"""Mixing: everything where it was put, to the sample; fades along their curve; the same bytes however it is read."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.sounds import clicks, noise, stored, tone
from yarnkite.core.base.errors import Refusal
from yarnkite.core.sound.decisions import RATE, Splice, Track
from yarnkite.core.sound.mix import CROSSOVER, Mix, heard, stretches
from yarnkite.core.sound.stored import StoredSound


def mixed(tracks, sounds, total, **fades):
    return Mix(tracks, sounds, total, **fades).read(0, total)


@given(start=st.integers(0, 60_000), skip=st.integers(0, 15_000))
def test_a_click_lies_where_start_and_cut_put_it(tmp_path_factory, start, skip):
    sound = stored(clicks(40_000, 20_000), tmp_path_factory.mktemp("sound") / "click.f32")
    wave = mixed([Track(id=1, sound=1, start=start, skip=skip)], {1: sound}, 120_000)
    assert list(np.flatnonzero(wave[:, 0])) == [start + 20_000 - skip]


def test_a_track_ends_with_its_length_with_the_video_or_with_its_sound(tmp_path):
    sound = stored(tone(1), tmp_path / "tone.f32")
    ends = [
        np.flatnonzero(mixed([Track(id=1, sound=1, start=start, length=length)], {1: sound}, total)[:, 0]).max() + 1
        for start, length, total in ((1000, 5001, 90_000), (1000, None, 20_000), (1000, None, 90_000))
    ]
    assert ends == [6001, 20_000, 49_000]


@pytest.mark.parametrize("where", ["track", "whole"])
def test_fades_follow_a_quarter_of_a_sine(tmp_path, where):
    sound = stored(np.full((RATE * 2, 2), 0.5, np.float32), tmp_path / "flat.f32")
    own = {"fade_in": RATE // 2, "fade_out": RATE}
    track = Track(id=1, sound=1, **(own if where == "track" else {}))
    wave = mixed([track], {1: sound}, RATE * 2, **(own if where == "whole" else {}))[:, 0] / 0.5
    share = np.arange(RATE // 2) / (RATE // 2)
    rise = np.sin(share * np.pi / 2)
    # Where it is nearly silent a tenth of a decibel is less than half a sample is worth.
    loud = rise > 0.01
    assert np.abs(20 * np.log10(wave[: RATE // 2][loud] / rise[loud])).max() < 0.1
    assert np.abs(20 * np.log10(wave[RATE + RATE // 2] / np.cos(np.pi / 4))) < 0.1
    assert wave[RATE * 3 // 4] == 1
    assert abs(wave[-1]) < 1e-4


def test_a_repetition_has_no_click_and_no_hole(tmp_path):
    # 100 periods of a tone and a bit: the end does not fit the beginning.
    sound = stored(tone(0.9973, 440), tmp_path / "tone.f32")
    wave = mixed([Track(id=1, sound=1, repeats=True)], {1: sound}, RATE * 4)[:, 0]
    steepest = 0.5 * 2 * np.pi * 440 / RATE
    assert np.abs(np.diff(wave[:-1])).max() < 2 * steepest
    level = np.sqrt(np.square(wave[: 190 * 1000]).reshape(-1, 1000).mean(axis=1))
    assert level.min() > 0.02
    assert heard(Track(id=1, sound=1, repeats=True), sound.samples, RATE * 4) == RATE * 4


def test_a_click_that_is_to_begin_again_for_hours_is_heard_once():
    track = Track(id=1, sound=1, repeats=True)
    assert len(stretches(track, 50, 10 * 3600 * RATE)) == 1


def test_of_a_sound_that_begins_again_for_hours_only_what_is_heard_is_read(tmp_path):
    asked = []

    class Counted(StoredSound):
        def read(self, first, count):
            asked.append(count)
            return super().read(first, count)

    kept = stored(clicks(RATE, 30_000), tmp_path / "second.f32")
    sound = Counted(kept.path, kept.fingerprint, kept.samples)
    late = Mix([Track(id=1, sound=1, repeats=True)], {1: sound}, 10 * 3600 * RATE).read(9 * 3600 * RATE, 2 * RATE)
    assert np.count_nonzero(late[:, 0] > 0.7) == 2
    assert len(asked) <= 4


def test_a_splice_leaves_and_enters_where_it_says(tmp_path):
    sound = stored(clicks(200_000, 30_000, 150_000), tmp_path / "clicks.f32")
    track = Track(id=1, sound=1, splices=(Splice(leave=60_000, enter=120_000),))
    wave = mixed([track], {1: sound}, 300_000)[:, 0]
    assert list(np.flatnonzero(wave)) == [30_000, 90_000]
    assert heard(track, sound.samples, 300_000) == 140_000
    again = Track(id=1, sound=1, splices=(Splice(leave=60_000, enter=20_000),) * 3)
    assert list(np.flatnonzero(mixed([again], {1: sound}, 400_000)[:, 0])) == [
        30_000,
        70_000,
        110_000,
        150_000,
        270_000,
    ]


@given(
    skip=st.integers(0, 50_000),
    start=st.integers(0, 50_000),
    repeats=st.booleans(),
    length=st.none() | st.integers(1, 300_000),
    splices=st.lists(st.tuples(st.integers(0, 90_000), st.integers(0, 90_000)), max_size=3),
    samples=st.integers(1, 100_000),
)
def test_what_is_heard_lies_within_the_sound_and_the_video(skip, start, repeats, length, splices, samples):
    made = tuple(Splice(leave=leave, enter=enter) for leave, enter in splices)
    track = Track(id=1, sound=1, start=start, skip=skip, repeats=repeats, length=length, splices=made)
    found = stretches(track, samples, 200_000)
    assert all(part.length > 0 and part.source >= 0 and part.source + part.length <= samples for part in found)
    assert all(part.at + part.length + start <= 200_000 for part in found)
    for one, other in pairwise(found):
        assert one.at < other.at <= one.at + one.length <= other.at + CROSSOVER


def test_any_part_is_what_it_is_in_the_whole(tmp_path):
    sounds = {n: stored(noise(3, seed=n), tmp_path / f"{n}.f32") for n in (1, 2)}
    tracks = [
        Track(id=1, sound=1, repeats=True, gain_db=-3, fade_in=9000, duck_db=12),
        Track(id=2, sound=2, start=40_000, skip=700, fade_out=20_000),
    ]
    mix = Mix(tracks, sounds, RATE * 8, fade_in=1000, fade_out=50_000)
    whole = mix.read(0, mix.total)
    parts = np.concatenate([mix.read(first, 7777) for first in range(0, mix.total, 7777)])[: mix.total]
    assert whole.tobytes() == parts.tobytes()
    assert not mix.read(-500, 500).any()
    assert not mix.read(mix.total, 100).any()


def test_music_steps_back_under_a_voice_and_comes_back(tmp_path):
    music = stored(np.full((RATE * 10, 2), 0.2, np.float32), tmp_path / "music.f32")
    voice = stored(noise(2, 0.2), tmp_path / "voice.f32")
    tracks = [Track(id=1, sound=1, duck_db=12), Track(id=2, sound=2, start=RATE * 4)]
    both = mixed(tracks, {1: music, 2: voice}, RATE * 10)
    alone = both - mixed(tracks[1:], {2: voice}, RATE * 10)
    level = 20 * np.log10(np.maximum(1e-6, alone[:, 0] / 0.2))
    assert abs(level[RATE * 5] + 12) < 0.1
    assert abs(level[RATE * 3]) < 0.1
    assert abs(level[RATE * 8]) < 0.1
    # It is back before the voice begins, and every change takes time.
    assert level[RATE * 4 + 100] < -3
    assert np.abs(np.diff(level)).max() < 0.01


def test_a_muted_track_and_one_whose_sound_is_gone_are_silent(tmp_path):
    sound = stored(tone(1), tmp_path / "tone.f32")
    mix = Mix([Track(id=1, sound=1, muted=True), Track(id=2, sound=9)], {1: sound}, RATE)
    assert mix.is_silent
    assert not mix.read(0, RATE).any()


def test_a_file_that_is_shorter_than_it_was_is_named(tmp_path):
    sound = stored(tone(1), tmp_path / "tone.f32")
    longer = StoredSound(sound.path, "x", RATE * 2)
    with pytest.raises(Refusal, match=r"tone\.f32"):
        longer.read(0, RATE * 2)
