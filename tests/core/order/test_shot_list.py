"""Shot lists: what is written is read back, by us and by the library that owns the format."""

from datetime import datetime
from fractions import Fraction
from urllib.parse import unquote

import opentimelineio as otio
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.errors import Refusal
from yarnkite.core.order import shot_list
from yarnkite.core.order.shot_list import Listed, by_name, from_csv, from_otio, to_csv, to_otio

RATE = Fraction(24000, 1001)
names = st.lists(
    st.one_of(
        st.integers(0, 20_000).map(lambda n: f"LNTN{n:04}.JPG"),
        st.integers(0, 20_000).map(lambda n: f"take_{n}.jpg"),
        st.integers(0, 30).map(lambda n: f"100CARD/A {n:03}.tif"),
        st.sampled_from(["dusk.png", "no ending", "Überfahrt 7.jpeg"]),
    ),
    min_size=1,
    max_size=60,
    unique=True,
)


@given(names, st.sets(st.integers(0, 59)))
def test_a_csv_list_is_read_back_without_loss(stills, aside):
    when = datetime(2031, 5, 4, 9, 30, 5, 250_000)
    listed = tuple(Listed(name, when if n % 3 else None, n in aside) for n, name in enumerate(stills))
    assert from_csv(to_csv(listed)).stills == listed


def test_a_list_from_elsewhere_may_have_few_columns_and_another_order():
    text = "\ufeffName;position\n"
    with pytest.raises(Refusal, match="no column “name”"):
        from_csv(text)
    listed = from_csv("Name,Position,note\r\nb.jpg,2,x\r\na.jpg,1,y\r\n\r\n")
    assert [still.name for still in listed.stills] == ["a.jpg", "b.jpg"]


def test_a_list_of_no_stills_has_none():
    assert from_csv("name\n\n").stills == ()


@pytest.mark.parametrize(
    "text", ["", "name,note\n,x\n", "position,name\nfirst,a.jpg\n", "name,capture time\na.jpg,yesterday\n"]
)
def test_a_list_that_is_none_is_refused_in_words(text):
    with pytest.raises(Refusal) as refusal:
        from_csv(text)
    assert refusal.value.code == "not_a_shot_list"


def by_the_library(text: str) -> list[str]:
    """The files an OpenTimelineIO reader would open, one for each frame that is played."""
    files = []
    for clip in otio.adapters.read_from_string(text, "otio_json").find_clips():
        reference = clip.media_reference
        if isinstance(reference, otio.schema.ImageSequenceReference):
            count = reference.number_of_images_in_sequence()
            files += [reference.target_url_for_image_number(n) for n in range(count)]
        else:
            files.append(reference.target_url)
    return files


@given(names, st.sets(st.integers(0, 59)))
def test_the_library_opens_just_the_files_of_the_clip_in_order(stills, aside):
    listed = [Listed(name, None, n in aside) for n, name in enumerate(stills)]
    used = [still.name for still in listed if not still.aside]
    text = to_otio("Pellow Reach", "/stills of today", listed, RATE)
    urls = by_the_library(text)
    assert [unquote(url) for url in urls] == [f"file:///stills of today/{name}" for name in used]
    if used:
        read = from_otio(text)
        assert [still.name for still in read.stills] == [f"/stills of today/{name}" for name in used]
        ids = {name: number for number, name in enumerate(stills)}
        assert by_name(ids, read.stills) == [ids[name] for name in used]


@pytest.mark.parametrize("step", [1, 2, 10])
def test_a_sequence_keeps_start_step_padding_rate_and_policy(step):
    listed = [Listed(f"LNTN{number:04}.JPG") for number in range(95, 95 + 20 * step, step)]
    text = to_otio("a", "/s", listed, RATE, missing="hold")
    (clip,) = otio.adapters.read_from_string(text, "otio_json").find_clips()
    reference = clip.media_reference
    assert (reference.name_prefix, reference.name_suffix, reference.start_frame) == ("LNTN", ".JPG", 95)
    assert (reference.frame_step, reference.frame_zero_padding) == (step, 4)
    assert reference.missing_frame_policy == otio.schema.ImageSequenceReference.MissingFramePolicy.hold
    assert reference.number_of_images_in_sequence() == 20
    assert clip.duration().to_seconds() == pytest.approx(float(20 / RATE))
    assert from_otio(text).rate == RATE


@pytest.mark.parametrize(("rate", "step", "count"), [(RATE, 2, 99), (Fraction(10, 3), 7, 60)])
def test_where_a_reader_would_lose_a_file_of_a_sequence_each_file_is_a_clip(rate, step, count):
    """At these rates the library's rounding leaves out the last file of a sequence."""
    names = [f"LNTN{number:04}.JPG" for number in range(1000, 1000 + count * step, step)]
    text = to_otio("a", "/s", [Listed(name) for name in names], rate)
    assert by_the_library(text) == [f"file:///s/{name}" for name in names]
    assert len(list(otio.adapters.read_from_string(text, "otio_json").find_clips())) == count


def test_a_trimmed_sequence_gives_only_what_is_played():
    text = to_otio("a", "/s", [Listed(f"a_{n:04}.jpg") for n in range(1, 11)], Fraction(25))
    timeline = otio.adapters.read_from_string(text, "otio_json")
    (clip,) = timeline.find_clips()
    time = otio.opentime.RationalTime
    clip.source_range = otio.opentime.TimeRange(time(4, 25), time(3, 25))
    listed = from_otio(otio.adapters.write_to_string(timeline, "otio_json"))
    assert [still.name for still in listed.stills] == ["/s/a_0004.jpg", "/s/a_0005.jpg", "/s/a_0006.jpg"]


@pytest.mark.parametrize(
    "text", ["", "{}", "[]", '{"OTIO_SCHEMA": "Timeline.1"}', '{"OTIO_SCHEMA": "Clip.2"}', "name\na"]
)
def test_what_is_no_document_is_refused(text):
    with pytest.raises(Refusal):
        from_otio(text)


def test_a_list_of_just_as_many_lines_as_are_read_is_read(monkeypatch):
    monkeypatch.setattr(shot_list, "_MOST_LINES", 3)
    assert len(from_csv("name\na.jpg\nb.jpg\n").stills) == 2
    with pytest.raises(Refusal, match="has 4 lines; up to 3 are read"):
        from_csv("name\na.jpg\nb.jpg\nc.jpg\n")
