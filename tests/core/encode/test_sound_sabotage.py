"""Sabotage of what lies beside and over the pictures: sound that is not the mix, a title that is missing, fields of the
container."""

import shutil
from dataclasses import replace
from fractions import Fraction

import av
import numpy as np
import pytest

from tests.core.reel.reels import clip, frames_of, part, reel_of
from tests.sounds import Samples, noise, piece
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.assemble import assemble
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.join import Chapter
from yarnkite.core.encode.labels import WITH_TIMECODE, Labels
from yarnkite.core.encode.naming import file_ending
from yarnkite.core.encode.render_plan import SoundPlan, chunks, render_plan, task_of
from yarnkite.core.encode.sample import painted_anew, sample_of
from yarnkite.core.encode.sound_stream import encode_sound, sound_codec_of
from yarnkite.core.encode.verify import verified
from yarnkite.core.reel.decisions import Title
from yarnkite.core.render import composite
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import measured

# A format of each way a sound is written.
FORMATS = {"h264": "mp4", "prores": "mov", "ffv1": "mkv", "vp9": "webm"}
SECONDS = 2
MIX = (piece("ab", 180, 8)[: SECONDS * RATE] * 0.5 + noise(SECONDS, 0.01)).astype(np.float32)
WRONG = {
    "late by 15 ms": np.roll(MIX, 720, axis=0),
    "another part's": np.roll(MIX, RATE, axis=0),
    "silent for half a second": MIX * (np.abs(np.arange(len(MIX)) / RATE - 1) > 0.25)[:, None],
    "nothing": MIX,
}


@pytest.fixture(scope="module")
def made(tmp_path_factory):
    """Two seconds of a reel with a title in the middle, rendered and ready to be joined, in each format."""
    folder = tmp_path_factory.mktemp("reel")
    reel = reel_of(part(1), rate=25, titles=(Title(id=1, text="Pellow Sound", first=15, frames=20),))
    kept = {}

    def make(name):
        if name not in kept:
            decided = reel.model_copy(update={"encode": Encode(format=name, preset="ultrafast", title="Ebb")})
            frames = frames_of(decided, clip(folder, 50, 30, rate=25))
            kept[name] = rendered(frames, decided.encode, folder / name)
        return kept[name]

    return make


def rendered(frames, encode, folder):
    folder.mkdir()
    plan, parts = render_plan(frames, encode), chunks(frames, encode)
    render_chunks([task_of(frames, encode, one) for one in parts], folder)
    return frames, plan, parts, folder


def joined(made, wave, target):
    _, plan, parts, folder = made
    codec = sound_codec_of(plan.encode)
    encode_sound(Samples(wave), folder / "sound", codec=codec)
    planned = replace(plan, sound=SoundPlan(len(MIX), measured(Samples(wave)).lufs, codec.name, mix=Samples(MIX)))
    labels = Labels.of(plan.encode)
    assemble(planned, parts, folder, target, sound=folder / "sound", labels=labels)
    return planned, labels


@pytest.mark.parametrize("wrong", WRONG)
@pytest.mark.parametrize("name", FORMATS)
def test_a_sound_that_is_not_the_mix_is_never_verified(made, tmp_path, name, wrong):
    clip = tmp_path / f"clip.{FORMATS[name]}"
    plan, labels = joined(made(name), WRONG[wrong], clip)
    verdict = verified(clip, plan, *made(name)[2:], labels)
    said = [str(one) for one in verdict.differences]
    if wrong == "nothing":
        assert said == []
        assert "2.0 s of sound compared" in verdict.sentence(plan)
    else:
        at = "00:00:00:18" if "half" in wrong else "00:00:00:00"
        assert said == [f"sound from {at} on: planned its mix, found something else"]


@pytest.mark.parametrize("name", FORMATS)
def test_a_title_that_is_missing_is_found_by_painting_anew(made, tmp_path, monkeypatch, name):
    frames, plan, parts, _ = made(name)
    with monkeypatch.context() as patched:
        patched.setattr(composite, "lay_over", lambda image, overlay, white: None)
        render_chunks([task_of(frames, plan.encode, one) for one in parts], tmp_path)
    labels = Labels.of(plan.encode)
    path = assemble(plan, parts, tmp_path, tmp_path / f"clip.{file_ending(plan.encode)}", labels=labels)
    sample = sample_of(frames, "mark")
    assert 25 in {one.frame for one in sample}
    verdict = verified(path, plan, parts, tmp_path, labels, painted_anew(sample, plan.encode))
    assert [one.what for one in verdict.differences] == ["frame 26"]


@pytest.mark.parametrize("name", [*FORMATS, "webp"])
def test_a_chunk_of_another_clip_is_refused_and_made_anew(tmp_path, name):
    """All that lies beside it fits it: only the names tell."""
    made = {}
    for red in (30, 90):
        encode = Encode(format=name, preset="ultrafast")
        frames = frames_of(reel_of(part(1), encode=encode), clip(tmp_path, 9, red))
        made[red] = rendered(frames, encode, tmp_path / str(red))
    frames, plan, (own,), folder = made[30]
    _, _, (others,), beside = made[90]
    for mine, theirs in zip((own.file_name, *own.beside), (others.file_name, *others.beside), strict=True):
        if (beside / theirs).exists():
            shutil.copy(beside / theirs, folder / mine)
    path = assemble(plan, [own], folder, tmp_path / f"clip.{file_ending(plan.encode)}")
    with pytest.raises(Refusal, match="Encode again"):
        verified(path, plan, [own], folder)
    assert not own.is_in(folder)


FIELDS = {
    "frames per second": lambda plan: replace(plan, rate=Fraction(24)),
    "width": lambda plan: replace(plan, size=Size(width=162, height=90)),
    "sound": lambda plan: replace(plan, sound=SoundPlan(RATE, None)),
    "title and comment": lambda plan: plan,
    "timecode of the first frame": lambda plan: plan,
    "chapters": lambda plan: plan,
    "colour tags": lambda plan: plan,
}


@pytest.mark.parametrize("field", FIELDS)
@pytest.mark.parametrize("name", FORMATS)
def test_a_wrong_field_of_the_container_is_named(made, tmp_path, name, field):
    _, plan, parts, folder = made(name)
    labels = Labels.of(plan.encode)
    path = assemble(plan, parts, folder, tmp_path / f"clip.{FORMATS[name]}", labels=labels)
    assert [str(one) for one in verified(path, plan, parts, folder, labels).differences] == []
    if field == "title and comment":
        labels = replace(labels, title="")
    elif field == "timecode of the first frame":
        labels = replace(labels, start="01:00:00:00")
    elif field == "chapters":
        assemble(plan, parts, folder, path, labels=labels, chapters=[Chapter("Ebb", 0, 20), Chapter("Flood", 20, 50)])
        fine = (Chapter("Ebb", 0, 20), Chapter("Flood", 20, 50))
        assert verified(path, plan, parts, folder, labels, chapters=fine).differences == []
        chapters = (Chapter("Ebb", 0, 21), Chapter("Flood", 21, 50))
        (one,) = verified(path, plan, parts, folder, labels, chapters=chapters).differences
        assert str(one) == (
            "chapters: planned “Ebb” at 0.000 s, “Flood” at 0.840 s, found “Ebb” at 0.000 s, “Flood” at 0.800 s"
        )
    elif field == "colour tags":
        path = retagged(path, tmp_path / f"other.{FORMATS[name]}")
    differences = verified(path, FIELDS[field](plan), parts, folder, labels).differences
    # Only one container has a place for a timecode.
    is_said = field != "timecode of the first frame" or FORMATS[name] in WITH_TIMECODE
    assert any(one.what.startswith(field) for one in differences) == is_said, differences


def retagged(path, target):
    """Copy a clip, saying that its colours are those of BT.601."""
    with av.open(str(path)) as source, av.open(str(target), "w", options={"movflags": "faststart"}) as other:
        stream = source.streams.video[0]
        copy = other.add_stream_from_template(stream)
        copy.codec_context.colorspace = 6
        copy.codec_context.color_primaries = 6
        for packet in source.demux(stream):
            if packet.dts is not None:
                packet.stream = copy
                other.mux(packet)
    return target
