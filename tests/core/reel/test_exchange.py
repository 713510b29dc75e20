"""Interchange: a reel written and read again is the same reel; what other programs read says the same times."""

from fractions import Fraction

import opentimelineio as otio
import pytest

import timecode as oracle
from tests.core.reel.reels import clip, part, reel_of
from tests.sounds import stored, tone
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.reel.decisions import Join, Title
from yarnkite.core.reel.exchange import from_otio, to_edl, to_otio, to_vtt
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.recipe import ReelRecipe, SoundFile
from yarnkite.core.sound.decisions import RATE, Sound, Track

SHOTS = ((1, "Harbour"), (2, "Fog & salt"), (3, "Lamp"))


@pytest.fixture
def made(tmp_path):
    over = Join(kind="dissolve", frames=5)
    sound = stored(tone(3), tmp_path / "tone.f32")
    reel = reel_of(
        part(1, join=over),
        part(2, own={"begin": 7, "end": 9}),
        part(3),
        rate=parse_rate("29.97"),
        timing="frames",
        titles=(Title(id=1, text="First\nline", part=1, first=3, frames=6), Title(id=2, kind="clock", part=2)),
        sound=Sound(tracks=(Track(id=1, sound=4, start=8000, skip=2000),)),
    )
    rows = tuple((clip(tmp_path, count, red, first=4),) for count, red in ((24, 20), (20, 60), (14, 90)))
    file = SoundFile(path=sound.path, fingerprint="ab", samples=sound.samples)
    recipe = ReelRecipe(reel=reel, clips=rows, sounds={4: file}, names=tuple(name for _, name in SHOTS))
    return recipe, ReelFrames(recipe)


def test_what_was_written_here_is_read_as_it_was(made):
    recipe, frames = made
    read = from_otio(to_otio("Evening", recipe, frames, {4: "tone.wav"}), SHOTS, "x")
    assert (read.name, read.reel, read.left_out) == ("Evening", recipe.reel, ())


def test_another_program_finds_the_clips_where_they_are(made):
    recipe, frames = made
    timeline = otio.adapters.read_from_string(to_otio("Evening", recipe, frames, {4: "tone.wav"}), "otio_json")
    (track,) = timeline.video_tracks()
    clips = list(track.find_clips())
    assert [one.name for one in clips] == [name for _, name in SHOTS]
    rate = 30000 / 1001
    assert track.duration().value == pytest.approx(len(frames), abs=1e-6)
    assert track.duration().rate == pytest.approx(rate)
    assert timeline.duration().to_seconds() == pytest.approx(len(frames) / rate, abs=1 / RATE)
    # A transition reaches over the cut, which lies within the dissolve.
    (dissolve,) = (one for one in track if isinstance(one, otio.schema.Transition))
    assert dissolve.in_offset.value + dissolve.out_offset.value == 5
    begins = [one.trimmed_range_in_parent().start_time.value for one in clips]
    spans = frames.spans
    assert spans[1].start <= begins[1] <= spans[0].end
    assert begins[2] == spans[2].start
    # Each clip shows, at its begin, the frame of its shot that the reel shows there.
    for number, one in enumerate(clips):
        shown = begins[number] - spans[number].start + recipe.clips[number][0].first
        assert one.trimmed_range().start_time.value == shown
    (marker, clock) = track.markers
    assert (marker.name, marker.marked_range.start_time.value, marker.marked_range.duration.value) == ("First", 3, 6)
    assert clock.name == "clock"
    (audio,) = timeline.audio_tracks()
    assert audio[0].duration().value == 8000
    assert audio[1].trimmed_range().start_time.value == 2000
    total = round(len(frames) * RATE * Fraction(1001, 30000))
    assert audio[0].duration().value + audio[1].duration().value == min(total, 8000 + 3 * RATE - 2000)


def test_a_document_of_another_program_gives_its_clips_in_order(made):
    timeline = otio.schema.Timeline(name="Rough cut")
    track = otio.schema.Track(kind=otio.schema.TrackKind.Video)
    for name, frames in (("lamp", 10), ("Somewhere else", 9), ("Harbour", 12)):
        time = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 24), otio.opentime.RationalTime(frames, 24))
        track.append(otio.schema.Clip(name=name, source_range=time))
    timeline.tracks.append(track)
    read = from_otio(otio.adapters.write_to_string(timeline, "otio_json"), SHOTS, "x")
    assert [(one.pictures[0].shot, one.frames) for one in read.reel.parts] == [(3, 10), (1, 12)]
    assert (read.name, read.reel.rate) == ("Rough cut", 24)
    assert read.left_out == ("“Somewhere else” is not a shot of this project.",)


def test_in_another_project_shots_are_known_by_their_names(made):
    recipe, frames = made
    read = from_otio(to_otio("Evening", recipe, frames, {}), ((71, "Lamp"), (72, "Harbour")), "x")
    assert [one.pictures[0].shot for one in read.reel.parts] == [72, 71]
    assert read.reel.parts[0].pictures[0].begin is None
    assert read.left_out == ("“Fog & salt” is not a shot of this project.",)


@pytest.mark.parametrize("text", ["", "{}", "[1, 2]", '{"OTIO_SCHEMA": "Timeline.1"}', "x" * 1000])
def test_what_is_no_reel_is_refused(text):
    with pytest.raises(Refusal):
        from_otio(text, SHOTS, "x")


def test_the_edit_decision_list_has_each_part_where_it_is(made):
    recipe, frames = made
    lines = to_edl("Evening", recipe, frames).splitlines()
    assert lines[:2] == ["TITLE: Evening", "FCM: DROP FRAME"]
    events = [line.split() for line in lines if line[:3].isdigit()]
    assert [event[1] for event in events] == ["HARBOUR", "HARBOUR", "FOGSALT", "LAMP"]
    assert [event[3] for event in events] == ["C", "C", "D", "C"]
    assert events[2][4] == "005"

    def frame(code):
        return oracle.Timecode("29.97", code).frames - 1

    records = [(frame(event[-2]), frame(event[-1])) for event in events]
    spans = frames.spans
    assert records[0] == (0, spans[1].start)
    assert records[1] == (spans[1].start, spans[1].start)
    assert records[2] == (spans[1].start, spans[1].end)
    assert records[3] == (spans[2].start, spans[2].end)
    for event, (start, end) in zip(events, records, strict=True):
        assert frame(event[-3]) - frame(event[-4]) == end - start


def test_titles_are_cues_with_their_times(made):
    _, frames = made
    assert to_vtt(frames) == "WEBVTT\n\n00:00:00.100 --> 00:00:00.300\nFirst\nline\n"
