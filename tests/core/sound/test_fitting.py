"""Music brought to a length: beats found, places that match chosen, the end with the picture."""

import numpy as np
import pytest

from tests.sounds import Samples, noise, piece, stored, tone
from yarnkite.core.sound.beats import beats_of
from yarnkite.core.sound.decisions import RATE, Track
from yarnkite.core.sound.fitting import ways_to_fit
from yarnkite.core.sound.made import BEDS, NOISES, Made, made
from yarnkite.core.sound.mix import Mix, heard
from yarnkite.core.sound.waveform import beginning, waveform


@pytest.mark.parametrize("bpm", [75, 104, 128])
def test_beats_are_found_where_they_are(bpm):
    found = beats_of(Samples(piece("abab", bpm)))
    assert found.bpm == pytest.approx(bpm, rel=0.02)
    assert found.has_beat
    apart = 60 / bpm * RATE
    off = (found.at[1:-1] + apart / 2) % apart - apart / 2
    assert np.percentile(np.abs(off), 90) / RATE < 0.03


def test_noise_has_no_beat():
    assert not beats_of(Samples(noise(20))).has_beat


@pytest.mark.parametrize("shorter", [True, False])
def test_a_piece_is_spliced_where_it_is_alike_and_ends_with_the_picture(shorter):
    # Sections of eight seconds at 120 a minute: leaving out, or repeating, whole pairs of them changes nothing to the
    # ear.
    sound = Samples(piece("ababab"))
    wanted = sound.total + (-1 if shorter else 1) * 16 * RATE
    track = Track(id=1, sound=1)
    best, *_ = ways_to_fit(track, sound.total, wanted, waveform(sound), beats_of(sound))
    assert best.name == "match its beats"
    assert best.fits > 0.9
    splice = best.track.splices[0]
    whole = 16 * RATE
    moved = (splice.enter - splice.leave) * len(best.track.splices)
    assert moved == pytest.approx(whole if shorter else -whole, abs=0.03 * RATE)
    ends = best.track.start + heard(best.track, sound.total, wanted)
    assert abs(ends - wanted) < 0.6 * RATE


@pytest.mark.parametrize("off_s", [-0.2, 0.2])
def test_what_its_beats_miss_is_taken_from_the_beginning_of_a_spliced_piece(off_s):
    sound = Samples(piece("ababab"))
    wanted = sound.total + 16 * RATE + round(off_s * RATE)
    best, *_ = ways_to_fit(Track(id=1, sound=1), sound.total, wanted, waveform(sound), beats_of(sound))
    assert best.name == "match its beats"
    assert best.track.start + heard(best.track, sound.total, wanted) == pytest.approx(wanted, abs=2)
    # It begins late, or within itself and then softly; never both.
    late, within = best.track.start, best.track.skip
    assert (late if off_s > 0 else within) == pytest.approx(abs(off_s) * RATE, abs=0.03 * RATE)
    assert (within if off_s > 0 else late) == 0
    assert (best.track.fade_in > 0) == (off_s < 0)


def test_the_last_note_of_a_spliced_piece_is_its_own(tmp_path):
    wave = piece("ababab")
    sound = stored(wave, tmp_path / "piece.f32")
    wanted = sound.samples - 16 * RATE
    best, *_ = ways_to_fit(Track(id=1, sound=1), sound.samples, wanted, waveform(sound), beats_of(sound))
    mix = Mix([best.track], {1: sound}, wanted)
    played = mix.read(0, wanted)
    ends = best.track.start + heard(best.track, sound.samples, wanted)
    assert np.array_equal(played[ends - RATE : ends], wave[-RATE:])


def test_a_longer_piece_without_a_beat_is_cut_where_it_is_quiet():
    wave = noise(30, 0.2)
    wave[int(21.5 * RATE) : int(22.5 * RATE)] *= 0.01
    sound = Samples(wave)
    (way,) = ways_to_fit(Track(id=1, sound=1), sound.total, 20 * RATE, waveform(sound), beats_of(sound))
    end = way.track.skip + 20 * RATE
    assert 21.5 <= end / RATE <= 22.5
    assert way.track.fade_out == RATE


def test_a_piece_that_fits_is_left_as_it_is_and_a_short_one_begins_again():
    sound = Samples(noise(5))
    course, beats = waveform(sound), beats_of(sound)
    (as_it_is,) = ways_to_fit(Track(id=1, sound=1), sound.total, sound.total + 9, course, beats)
    assert as_it_is.fits == 1
    (again,) = ways_to_fit(Track(id=1, sound=1), sound.total, sound.total * 3, course, beats)
    assert again.track.repeats
    assert heard(again.track, sound.total, sound.total * 3) == sound.total * 3


@pytest.mark.parametrize("quiet_s", [2.0, 5.5])
def test_where_a_piece_gets_going_is_offered(quiet_s):
    wave = np.concatenate([noise(quiet_s, 0.004), tone(20, 300, 0.4)])
    assert beginning(waveform(Samples(wave))) == pytest.approx(quiet_s * RATE, abs=0.1 * RATE)
    assert beginning(waveform(Samples(tone(20, 300, 0.4)))) is None
    assert beginning(waveform(Samples(np.zeros((RATE * 5, 2), np.float32)))) is None


@pytest.mark.parametrize(("kind", "minor"), [("calm", False), ("bright", False), ("dusk", True), ("driving", True)])
def test_the_last_chord_of_music_is_major_or_minor_as_its_mood(kind, minor):
    whole = np.concatenate(list(made(Made(kind=kind, seconds=24.0, seed=5)))).mean(axis=1)
    last = whole[-2 * RATE :] * np.hanning(2 * RATE)
    power, pitch = np.abs(np.fft.rfft(last)), np.fft.rfftfreq(2 * RATE, 1 / RATE)

    def loud(note):
        at = 440 * 2 ** (note / 12)
        return power[(pitch > at * 0.99) & (pitch < at * 1.01)].max()

    # Its root is the lowest that is loud, in the octave of the bass.
    lowest = min(note for note in range(-36, -12) if loud(note) > 0.2 * power[pitch > 40].max())
    third = max((3, 4), key=lambda step: sum(loud(lowest + 12 * octave + step) for octave in (0, 1, 2)))
    assert third == (3 if minor else 4)


@pytest.mark.parametrize("kind", [*BEDS, *NOISES])
def test_made_up_sounds_are_as_long_as_wanted_and_the_same_for_the_same_seed(kind):
    def all_of(seed, seconds=7.25):
        return np.concatenate(list(made(Made(kind=kind, seconds=seconds, seed=seed))))

    one = all_of(3)
    assert len(one) == round(7.25 * RATE)
    assert one.tobytes() == all_of(3).tobytes()
    assert not np.array_equal(one, all_of(4))
    assert np.sqrt(np.square(one).mean()) > 0.001
    assert np.abs(one).max() < 1
    if kind in BEDS:
        assert np.sqrt(np.square(one[-2400:]).mean()) < 0.1 * np.sqrt(np.square(one).mean())
