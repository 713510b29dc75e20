"""What the brief of a reel says, word for word, and what it remarks about parts, titles and sounds."""

from fractions import Fraction

import pytest

from tests.core.reel.reels import clip, part, reel_of
from yarnkite.core.base.frozen import Size
from yarnkite.core.brief.reel_sentence import reel_brief
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.reel.decisions import Fades, Join, Title
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.recipe import ReelRecipe, SoundFile
from yarnkite.core.sound.decisions import RATE, Sound, Track

SOUND = SoundFile(path="music.wav", fingerprint="m", samples=10 * RATE)


@pytest.fixture
def said(tmp_path):
    """The brief of a reel of clips of so many stills each, named Reach, Fen, Quay."""

    def said(*counts, parts=None, sounds=None, clips=None, expected=None, **decided):
        shown = parts or [part(number + 1) for number in range(len(counts))]
        reel = reel_of(*shown, **decided)
        rows = clips or tuple(
            (clip(tmp_path, count, 40 + 40 * n),) if count else (None,) for n, count in enumerate(counts)
        )
        names = ("Reach", "Fen", "Quay")[: len(rows)]
        recipe = ReelRecipe(reel=reel, clips=rows, sounds={1: SOUND} if sounds is None else sounds, names=names)
        return reel_brief(recipe, ReelFrames(recipe), [None] * len(rows), expected=expected)

    return said


def test_shots_one_after_another(said):
    found = said(50, 25)
    assert str(found).startswith(
        "Show 2 parts one after another, cover 160 × 90 at 25 fps, and write an H.264 file of high quality: 75 "
        "frames, 3.0 s"
        " (00:00:03:00), "
    )
    assert (found.frames, found.length, found.timecode, found.remarks) == (75, "3.0 s", "00:00:03:00", ())


def test_one_shot_is_called_by_its_name_and_nothing_by_what_is_missing(said):
    assert str(said(50)).startswith("Show “Reach”, cover 160 × 90 at 25 fps, and write")
    assert str(said(0, 25)).startswith("Show “Fen”, cover")
    assert str(said()) == "Nothing to make yet: no shot is in it yet."
    assert str(said(0)) == "Nothing to make yet: none of its shots can be shown."


def test_shots_beside_each_other_are_counted(said, tmp_path):
    beside = part(1, 2, arrangement="halves")
    pair = (clip(tmp_path, 30, 40), clip(tmp_path, 30, 80))
    assert str(said(parts=[beside], clips=(pair,))).startswith("Show 2 shots beside each other, cover")
    after = said(parts=[beside, part(2)], clips=(pair, (clip(tmp_path, 30, 120),)))
    assert str(after).startswith("Show 2 parts one after another, 1 of them several shots beside each other, cover")


def test_joins_titles_fades_and_sounds_have_their_words(said):
    dissolve, dip = Join(kind="dissolve", frames=10), Join(kind="dip", frames=10)
    joined = said(50, 50, 50, parts=[part(1, join=dissolve), part(2, join=dip), part(3)])
    assert " by way of 1 dissolve and 1 dip to a colour, cover" in str(joined)
    titled = said(50, titles=(Title(id=1, text="Low water"), Title(id=2, text="High water")))
    assert ", with 2 titles, and write" in str(titled)
    faded = said(50, fades=Fades(picture_in=25, sound_out=50))
    assert ", fade in over 1.0 s and fade out over 2.0 s, and write" in str(faded)
    assert "fade out" not in str(said(50, fades=Fades(picture_in=25)))
    assert "fade in" not in str(said(50, fades=Fades(sound_out=25)))
    track = Track(id=1, sound=1)
    heard = said(50, sound=Sound(tracks=(track,)))
    assert (
        ", lay 1 sound under it at −16\u00a0LUFS, and write an H.264 file of high quality with sound: 50 frames"
        in str(heard)
    )
    as_loud = said(50, sound=Sound(tracks=(track, Track(id=2, sound=1)), loudness=None))
    assert ", lay 2 sounds under it as loud as they are, and" in str(as_loud)
    for silent in (
        Sound(),
        Sound(tracks=(track.model_copy(update={"muted": True}),)),
        Sound(tracks=(Track(id=1, sound=7),)),
    ):
        assert "lay" not in str(said(50, sound=silent))
        assert "with sound" not in str(said(50, sound=silent))
    assert "with sound" not in str(said(50, sound=Sound(tracks=(track,)), encode=Encode(format="gif")))


def test_how_large_it_gets_is_measured_wanted_or_estimated_sounds_included(said):
    plain, heard = said(250), said(250, sound=Sound(tracks=(Track(id=1, sound=1),)))
    assert heard.bytes - plain.bytes == 325_000
    assert said(125, 125).bytes == pytest.approx(plain.bytes, rel=0.1)
    assert said(250, expected=7_000_000).bytes == 7_000_000
    assert said(250, encode=Encode(aim={"by": "size", "megabytes": 5})).bytes == 5_000_000
    # 4 Mbit a second for ten seconds.
    assert said(250, encode=Encode(aim={"by": "rate", "mbits": 4})).bytes == 5_000_000


def remarks(found, about):
    return [one.sentence for one in found.remarks if one.about == about]


@pytest.mark.parametrize(
    ("rate", "timing", "sentence"),
    [
        (
            "50",
            "length",
            "“Reach” has 25 fps; in this reel of 50 it keeps its length, and some of its frames are shown twice.",
        ),
        (
            "24",
            "length",
            "“Reach” has 25 fps; in this reel of 24 it keeps its length, and some of its frames are left out.",
        ),
        (
            *("50", "frames"),
            "“Reach” has 25 fps, this reel 50: each frame of “Reach” is shown once, so it runs 100 % faster and lasts "
            "1.0 s.",
        ),
        (
            *("24", "frames"),
            "“Reach” has 25 fps, this reel 24: each frame of “Reach” is shown once, so it runs 4 % slower and lasts "
            "2.1 s.",
        ),
    ],
)
def test_what_becomes_of_a_shot_of_another_rate_is_said(said, rate, timing, sentence):
    assert remarks(said(50, rate=rate, timing=timing), "part") == [sentence]


def test_a_shot_decided_for_another_shape_is_fitted_anew(said, tmp_path):
    upright = clip(tmp_path, 30, 40).model_copy(update={"decided_size": Size(width=90, height=160)})
    (sentence,) = remarks(said(clips=((upright,),), parts=[part(1)]), "part")
    assert sentence.startswith("“Reach” was decided for 90 × 160; in this reel of 160 × 90 its stills are fitted anew")
    same = clip(tmp_path, 30, 40).model_copy(update={"decided_size": Size(width=320, height=180)})
    assert remarks(said(clips=((same,),), parts=[part(1)]), "part") == []


def test_a_dissolve_longer_than_its_neighbours_is_shortened_and_says_so(said):
    (sentence,) = remarks(said(50, 8, parts=[part(1, join=Join(kind="dissolve", frames=20)), part(2)]), "part")
    assert sentence.startswith("The dissolve after “Reach” takes ")
    assert sentence.endswith("instead of 20: its neighbours are too short for more.")
    assert remarks(said(50, 50, parts=[part(1, join=Join(kind="dissolve", frames=20)), part(2)]), "part") == []


def test_titles_that_are_not_seen_say_why(said):
    hung = Title(id=1, part=9, text="Gone")
    assert remarks(said(50, titles=(hung,)), "title") == [
        "This title is not seen: what it hangs on is not in the reel."
    ]
    strange = Title(id=1, text="Low \U000f1234 water")
    (sentence,) = remarks(said(50, titles=(strange,)), "title")
    assert sentence.startswith("No typeface here has “\U000f1234”; an empty box")
    assert remarks(said(50, titles=(Title(id=1, text="Low\nwater"),)), "title") == []
    clock = Title(id=1, kind="clock", part=1)
    assert remarks(said(50, titles=(clock,)), "title") == [
        "The stills of this shot do not say when they were taken, so nothing is shown."
    ]
    large = Title(id=1, text="A very long title that is also very large", size=0.9)
    assert remarks(said(50, titles=(large,)), "title") == [
        "This title reaches beyond the frame. Make it smaller or shorter."
    ]


@pytest.mark.parametrize(
    ("track", "sentences"),
    [
        ({"sound": 7}, ["This sound is not in the project any more. Bring it in again."]),
        ({"start": 2 * RATE}, ["This sound begins after the video ends, so it is not heard."]),
        ({"skip": 10 * RATE}, ["This sound begins after the video ends, so it is not heard."]),
        ({"skip": 9 * RATE + RATE // 2}, ["This sound ends 1.5 s before the picture."]),
        ({"skip": 9 * RATE}, []),
        ({"start": 2 * RATE - 1}, []),
        ({}, []),
    ],
)
def test_sounds_that_are_not_heard_or_end_early_say_so(said, track, sentences):
    found = said(50, sound=Sound(tracks=(Track(id=1, **({"sound": 1} | track)),)))
    assert remarks(found, "track") == sentences
    assert found.frames / Fraction(25) == 2
