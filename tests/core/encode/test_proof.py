"""The proof of chunks: what is decoded as they are made need not be decoded again, and nothing else passes for it."""

from dataclasses import replace
from fractions import Fraction

import av
import numpy as np
import pytest

from tests.clips import finished_clip
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode import chunk, proof
from yarnkite.core.encode.assemble import assemble
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.core.encode.naming import file_ending
from yarnkite.core.encode.proof import Proof, times_if_proven
from yarnkite.core.encode.render_plan import chunks, render_plan, task_of
from yarnkite.core.encode.verify import verified
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe

WAYS = [(name, one) for name, format in FORMATS.items() if format.way == "joined" for one in format.containers]
# One container each of these in the suite, and MXF.
OFTEN = ("h264", "h265", "vp9", "prores", "ffv1")
FIRST_OF_OFTEN = [next(one for one in WAYS if one[0] == name) for name in OFTEN] + [("dnxhr-hq", "mxf")]


def recipe_of(stills, name="h264", container=None, count=60):
    size = Size(width=1280, height=720) if name.startswith("dnx") else Size(width=320, height=180)
    return Recipe(
        stills=stills(count), decisions=Decisions(fit=Fit(size=size), encode=Encode(format=name, container=container))
    )


def parts_of(recipe):
    return chunks(ClipFrames(recipe), recipe.decisions.encode)


def proofs_in(folder, recipe):
    return [Proof.read(folder / one.proof_name) for one in parts_of(recipe)]


@pytest.mark.parametrize(
    ("name", "container"),
    [pytest.param(*one, marks=() if one in FIRST_OF_OFTEN else pytest.mark.long) for one in WAYS],
)
def test_a_file_of_proven_chunks_is_known_as_if_all_of_it_were_decoded(stills, tmp_path, name, container):
    recipe = recipe_of(stills, name, container)
    known, path = finished_clip(recipe, tmp_path)
    assert known.differences == []
    assert times_if_proven(path, proofs_in(tmp_path, recipe)) is not None
    plan, parts = render_plan(ClipFrames(recipe), recipe.decisions.encode), parts_of(recipe)
    for part in parts:
        (tmp_path / part.proof_name).unlink()
    decoded = verified(path, plan, parts, tmp_path)
    assert decoded.differences == []
    assert known.facts == decoded.facts
    assert replace(known.evidence, anew=0, mean=0) == replace(decoded.evidence, mean=0)
    assert known.evidence.mean == pytest.approx(decoded.evidence.mean)


def changed(path, target, change):
    """Write a file with the packets of another, changed, and everything else as it is."""
    with av.open(str(path)) as source, av.open(str(target), "w", options={"movflags": "+faststart"}) as container:
        origin = source.streams.video[0]
        stream = container.add_stream_from_template(origin, opaque=True)
        packets = [one for one in source.demux(origin) if one.size]
        for packet in change(packets):
            packet.stream = stream
            container.mux(packet)
    return target


def shown_in_another_order(packets):
    at = next(place for place in range(30, 50) if packets[place].pts > packets[place + 1].pts)
    packets[at].pts, packets[at + 1].pts = packets[at + 1].pts, packets[at].pts
    return packets


def one_less(packets):
    return packets[:-1]


def a_byte_off(packets):
    data = bytearray(bytes(packets[7]))
    data[len(data) // 2] ^= 1
    other = av.Packet(bytes(data))
    other.pts, other.dts, other.time_base, other.duration = (
        *(packets[7].pts, packets[7].dts, packets[7].time_base, packets[7].duration),
    )
    return [*packets[:7], other, *packets[8:]]


def test_a_file_with_any_other_packets_or_order_is_not_taken_for_proven(stills, tmp_path):
    recipe = recipe_of(stills)
    _, path = finished_clip(recipe, tmp_path)
    proofs = proofs_in(tmp_path, recipe)
    same = changed(path, tmp_path / "same.mp4", lambda packets: packets)
    assert times_if_proven(same, proofs) is not None
    for change in (shown_in_another_order, one_less, a_byte_off):
        assert times_if_proven(changed(path, tmp_path / f"{change.__name__}.mp4", change), proofs) is None
    assert times_if_proven(path, proofs[:-1]) is None
    assert times_if_proven(path, [*proofs, proofs[-1]]) is None
    assert times_if_proven(path, [replace(proofs[0], headers="others"), *proofs[1:]]) is None


def test_what_a_chunk_was_made_wrong_is_named_and_it_is_made_anew_by_the_next(stills, tmp_path, monkeypatch):
    recipe = recipe_of(stills)
    frames, encode = ClipFrames(recipe), recipe.decisions.encode
    plan, parts = render_plan(frames, encode), parts_of(recipe)

    def frozen(container, task, ready, on_frame=lambda done: None):
        given = list(ready)
        if task.chunk.number == 1:
            given[4] = given[3]
        return encode_frames(container, task, given, on_frame)

    encode_frames = chunk.encode_frames
    monkeypatch.setattr(chunk, "encode_frames", frozen)
    tasks = [task_of(frames, encode, part) for part in parts]
    render_chunks(tasks, tmp_path)
    path = assemble(plan, parts, tmp_path, tmp_path / f"clip.{file_ending(encode)}")
    said = [str(one) for one in verified(path, plan, parts, tmp_path).differences]
    assert said == ["frame 55: planned its picture, found the picture of the frame before it"]
    assert [part.is_in(tmp_path) for part in parts] == [True, False]

    monkeypatch.undo()
    render_chunks(tasks, tmp_path)
    assemble(plan, parts, tmp_path, path)
    assert verified(path, plan, parts, tmp_path).differences == []


def test_what_was_proven_in_another_way_is_decoded_and_compared_again(stills, tmp_path, monkeypatch):
    recipe = recipe_of(stills)
    _, path = finished_clip(recipe, tmp_path)
    monkeypatch.setattr(proof, "COMPARING", proof.COMPARING + 1)
    assert proofs_in(tmp_path, recipe) == [None, None]
    plan, parts = render_plan(ClipFrames(recipe), recipe.decisions.encode), parts_of(recipe)
    assert verified(path, plan, parts, tmp_path).differences == []


def test_times_of_a_proven_file_are_held_against_its_rate(stills, tmp_path):
    recipe = recipe_of(stills)
    _, path = finished_clip(recipe, tmp_path)
    plan, parts = render_plan(ClipFrames(recipe), recipe.decisions.encode), parts_of(recipe)

    def late(packets):
        for packet in packets[-10:]:
            packet.pts, packet.dts = packet.pts + 300, packet.dts + 300
        return packets

    other = changed(path, tmp_path / "late.mp4", late)
    assert times_if_proven(other, proofs_in(tmp_path, recipe)) is not None
    assert any("frames per second" in str(one) for one in verified(other, plan, parts, tmp_path).differences)
    assert plan.rate == Fraction(25)
    assert np.unique(np.diff(times_if_proven(path, proofs_in(tmp_path, recipe)))).size == 1
