"""What the brief says of each decision, word for word, and what about it does not add up: read by a person, once."""

import pytest

from yarnkite.core.brief.sentence import brief
from yarnkite.core.light.decisions import Light
from yarnkite.core.render.decisions import Decisions

USUAL = {(6000, 4000): 100}
EVERY_FIVE_S = tuple(range(0, 500_000, 5000))
STILLS, EACH, SHOWN = "100 stills", "one frame each at 25 fps", "cover 1920 × 1080 keeping the middle"
FILE, LENGTH = "and write an H.264 file of high quality", "100 frames, 4.0 s (00:00:04:00)"
CUT = "Loses 8 % at the top and 8 % at the bottom of each still."
ROOM = "Reduces the stills to 32 % of their size; a later push-in has room for 3.1 × without enlarging."


def said(shapes=USUAL, light=None, every=0, times=(), region=None, expected=None, **decided):
    more = {"every": every, "times": times, "region": region, "expected": expected}
    return brief(shapes, Decisions.model_validate(decided), light=Light.model_validate(light or {}), **more)


def whole(stills=STILLS, which="", each=EACH, speed="", shown=SHOWN, more="", file=FILE, length=LENGTH):
    return f"Take {stills}{which}, {each}{speed}, {shown}{more}, {file}: {length}, "


def test_of_nothing_but_the_usual():
    found = said()
    assert str(found) == whole() + "1.5 to 30 MB."
    assert found.remarks == (CUT, ROOM)
    assert not any(part.warning for part in found.parts)
    assert (found.stills, found.frames, found.seconds, found.length, found.usual) == (
        100,
        100,
        4.0,
        "4.0 s",
        (6000, 4000),
    )
    assert (found.timecode, found.clock, found.remedies) == ("00:00:04:00", "", ())
    assert {part.control for part in found.parts} == {
        *("", "stills", "hold", "rate", "how", "size", "position", "quality", "length"),
    }


@pytest.mark.parametrize(
    ("decided", "parts"),
    [
        ({"every": 120}, {"stills": "100 of 120 stills"}),
        ({"every": 90}, {"stills": "90 stills and 10 put in"}),
        ({"every": 99}, {"stills": "99 stills and 1 put in"}),
        ({"every": 1}, {"stills": "one still and 99 put in"}),
        ({"every": 100}, {}),
        (
            {"shapes": {(6000, 4000): 1}},
            {"stills": "one still", "length": "1 frame, 0.0 s (00:00:00:01)"},
        ),
        (
            {"pace": {"thin": {"way": "every", "every": 3}}},
            {"which": ", every third one", "length": "34 frames, 1.4 s (00:00:01:09)"},
        ),
        (
            {"pace": {"thin": {"way": "leave", "use": 2, "leave": 5}}},
            {"which": ", using 2 and leaving 5 in turn", "length": "30 frames, 1.2 s (00:00:01:05)"},
        ),
        (
            {"pace": {"thin": {"way": "even", "count": 40}}},
            {"which": ", 40 of them evenly chosen", "length": "40 frames, 1.6 s (00:00:01:15)"},
        ),
        (
            {"pace": {"thin": {"way": "picked", "every": 4}, "picked": [0, 5, 9]}},
            {"which": ", of every 4 the one that goes on best", "length": "3 frames, 0.1 s (00:00:00:03)"},
        ),
        ({"pace": {"direction": "back"}}, {"which": ", last to first"}),
        (
            {"pace": {"direction": "there and back"}},
            {"which": ", there and back", "length": "198 frames, 7.9 s (00:00:07:23)"},
        ),
        (
            {"pace": {"hold": 3, "last": 50, "longer": [{"still": 4, "frames": 9}, {"still": 7, "frames": 9}]}},
            {
                "each": "three frames each (2 stills longer), the last one 50 frames at 25 fps",
                "length": "359 frames, 14.4 s (00:00:14:09)",
            },
        ),
        (
            {"pace": {"rate": "12", "repeat": 2}},
            {"each": "one frame each at 12 fps written as 24", "length": "200 frames, 8.3 s (00:00:08:08)"},
        ),
        ({"pace": {"by_clock": True}, "times": EVERY_FIVE_S}, {"speed": ", paced by the clock"}),
        (
            {"pace": {"curve": [{"at": 0, "speed": 1}, {"at": 1, "speed": 4}]}},
            {"speed": ", along a speed curve", "length": "54 frames, 2.2 s (00:00:02:04)"},
        ),
        (
            {"pace": {"blend": "neighbours", "hold": 2}},
            {
                "each": "two frames each at 25 fps",
                "speed": ", neighbours blended",
                "length": "200 frames, 8.0 s (00:00:08:00)",
            },
        ),
        ({"pace": {"blend": "shutter", "shutter": 90}}, {"speed": ", motion blur of 90°"}),
        ({"pace": {"blend": "motion"}}, {"speed": ", with in-betweens"}),
        ({"fit": {"how": "contain"}}, {"shown": "fit inside 1920 × 1080 with black edges"}),
        (
            {"fit": {"how": "contain", "surround": {"kind": "blurred"}}},
            {"shown": "fit inside 1920 × 1080 with a blurred surround"},
        ),
        (
            {"fit": {"how": "contain", "surround": {"colour": "#ffffff"}}},
            {"shown": "fit inside 1920 × 1080 with white edges"},
        ),
        (
            {"fit": {"how": "contain", "surround": {"colour": "#1f5f7a"}}},
            {"shown": "fit inside 1920 × 1080 with edges in #1f5f7a"},
        ),
        ({"fit": {"how": "stretch"}}, {"shown": "stretch to 1920 × 1080"}),
        ({"fit": {"zoom": 1.5}}, {"shown": "cover 1920 × 1080, 1.50 × closer"}),
        ({"fit": {"y": 0.0}}, {"shown": "cover 1920 × 1080 keeping the upper part"}),
        ({"fit": {"y": 1.0}}, {"shown": "cover 1920 × 1080 keeping the lower part"}),
        ({"fit": {"y": 0.25}}, {"shown": "cover 1920 × 1080 with 12 % from the bottom cut off"}),
        (
            {"fit": {"size": {"width": 1080, "height": 1920}, "x": 0.0}},
            {"shown": "cover 1080 × 1920 keeping the left part"},
        ),
        (
            {"fit": {"size": {"width": 1080, "height": 1920}, "x": 1.0}},
            {"shown": "cover 1080 × 1920 keeping the right part"},
        ),
        (
            {"fit": {"size": {"width": 1080, "height": 1920}, "x": 0.25}},
            {"shown": "cover 1080 × 1920 with 47 % from the right cut off"},
        ),
        ({"fit": {"size": {"width": 1620, "height": 1080}}}, {"shown": "cover 1620 × 1080"}),
        (
            {"fit": {"size": {"width": 1620, "height": 1080}, "quarters": 2, "mirror": True}},
            {"shown": "cover 1620 × 1080, turned 180° and mirrored"},
        ),
        ({"move": {"steady": {"how": "still"}}}, {"more": ", standing still"}),
        (
            {"move": {"steady": {"how": "glide"}}, "region": (0.05, 0.05, 0.95, 0.95)},
            {"shown": "cover 1920 × 1080", "more": ", gliding"},
        ),
        ({"move": {"steady": {"how": "anchor"}}}, {}),
        (
            {
                "move": {
                    "steady": {"how": "anchor", "points": [{"places": [{"still": 1, "x": 0.5, "y": 0.5}]}]},
                    "model": {"strength": 0.5},
                }
            },
            {"more": ", anchored on a point, like a model"},
        ),
        ({"move": {"views": [{"at": 0}, {"at": 1, "closeness": 1.5}]}}, {"more": ", pushing in 1.50 ×"}),
        ({"move": {"views": [{"at": 0, "closeness": 2.0}, {"at": 1}]}}, {"more": ", pulling out 2.00 ×"}),
        ({"move": {"views": [{"at": 0, "x": 0.2}, {"at": 1, "x": 0.8}]}}, {"more": ", travelling"}),
        (
            {"move": {"views": [{"at": 0, "closeness": 2.0}, {"at": 1, "closeness": 2.01}]}},
            {"more": ", travelling"},
        ),
        ({"move": {"views": [{"at": 0, "closeness": 1.3}]}}, {"more": ", seen closer"}),
        ({"move": {"views": [{"at": 0, "x": 0.3}]}}, {"more": ", seen elsewhere"}),
        ({"light": {"even": {"flicker": True}}}, {"more": ", its light evened"}),
        ({"light": {"exposure": {"value": 0.5}}}, {"more": ", its light adjusted"}),
        ({"light": {"monochrome": True}}, {"more": ", its light adjusted in black and white"}),
        (
            {
                "light": {
                    "even": {"flicker": True},
                    "exposure": {"keyframes": [{"still": 1, "value": 0.1}, {"still": 5, "value": 0.9}]},
                }
            },
            {"more": ", its light evened and adjusted over the shot"},
        ),
        ({"encode": {"format": "h265"}}, {"file": "and write an H.265, 10 bits file of high quality"}),
        ({"encode": {"format": "av1"}}, {"file": "and write an AV1 file of high quality"}),
        ({"encode": {"format": "prores"}}, {"file": "and write a ProRes 422 file"}),
        ({"encode": {"format": "ffv1"}}, {"file": "and write an FFV1, 10 bits, 4:2:2 file"}),
        ({"encode": {"format": "png"}}, {"file": "and write PNG files, numbered"}),
        ({"encode": {"format": "gif"}}, {"file": "and write a GIF loop"}),
        ({"encode": {"container": "mov"}}, {"file": "and write an H.264 file in MOV of high quality"}),
        ({"encode": {"crf": 30}}, {"file": "and write an H.264 file of rough quality"}),
        (
            {"encode": {"aim": {"by": "size", "megabytes": 12.5}}},
            {"file": "and write an H.264 file that takes 12.5 MB"},
        ),
        (
            {"encode": {"aim": {"by": "rate", "mbits": 8}}},
            {"file": "and write an H.264 file of 8 Mbit a second"},
        ),
    ],
    ids=lambda one: " ".join(map(str, one.values()))[:60],
)
def test_a_decision_changes_its_words_and_no_others(decided, parts):
    assert str(said(**decided)).startswith(whole(**parts))


@pytest.mark.parametrize(
    ("decided", "size"),
    [
        ({"encode": {"aim": {"by": "size", "megabytes": 12.5}}}, 12_500_000),
        # 8 Mbit a second for four seconds.
        ({"encode": {"aim": {"by": "rate", "mbits": 8}}}, 4_000_000),
        # A format of a fixed size knows no wish.
        ({"encode": {"format": "prores", "aim": {"by": "size", "megabytes": 12.5}}}, 59_616_000),
        ({"encode": {"aim": {"by": "size", "megabytes": 12.5}}, "expected": 12_700_000}, 12_700_000),
        ({"expected": 38_400_000}, 38_400_000),
    ],
)
def test_a_wanted_size_is_what_is_said_until_one_was_measured(decided, size):
    assert said(**decided).bytes == size


CANCEL = (
    "Using every second still and holding it two frames cancel each other: the clip is as long as with all stills, "
    "and steps."
)
NO_GAIN = "Stills are left out and the others held three frames: the clip steps for no gain."
TWELVE = "Some editors and players do not take 12 frames a second; 24 with each repeated looks the same."
LEFT = "The last 1 still is left over and not shown."
SLIP = "1918 × 1080 looks like 1920 × 1080: it is off by a little. Players and editors expect that."


@pytest.mark.parametrize(
    ("decided", "warned", "remarks", "remedies"),
    [
        ({"pace": {"rate": "12"}}, {"rate": TWELVE}, (CUT, ROOM, TWELVE), ["write it as 24"]),
        ({"pace": {"rate": "20"}}, {}, (CUT, ROOM), []),
        (
            {"pace": {"thin": {"way": "every", "every": 2}, "hold": 2}},
            {"thin": LEFT, "hold": CANCEL},
            (CUT, ROOM, CANCEL, LEFT),
            ["use all stills, one frame each"],
        ),
        (
            {"pace": {"thin": {"way": "every", "every": 2}, "hold": 3}},
            {"thin": LEFT, "hold": NO_GAIN},
            (CUT, ROOM, NO_GAIN, LEFT),
            ["use all stills, one frame each"],
        ),
        ({"pace": {"thin": {"way": "every", "every": 3}}}, {}, (CUT, ROOM), []),
        (
            {"pace": {"thin": {"way": "every", "every": 7}}},
            {"thin": LEFT, "length": "The clip is shorter than a second."},
            (CUT, ROOM, LEFT),
            [],
        ),
        (
            {"pace": {"thin": {"way": "even", "count": 100}}},
            {"thin": "There are only 100 stills; all of them are used."},
            (CUT, ROOM, "There are only 100 stills; all of them are used."),
            [],
        ),
        (
            {"pace": {"curve": [{"at": 0, "speed": 1}, {"at": 1, "speed": 4}]}},
            {},
            (CUT, ROOM, "Where it is fast, 46 stills are skipped."),
            [],
        ),
        (
            {"pace": {"blend": "neighbours"}},
            {},
            (CUT, ROOM, "Blending neighbours changes nothing while each still is shown for one frame."),
            [],
        ),
        ({"pace": {"blend": "neighbours", "hold": 2}}, {}, (CUT, ROOM), []),
        ({"pace": {"blend": "neighbours", "by_clock": True}, "times": EVERY_FIVE_S}, {}, (CUT, ROOM), []),
        (
            {"pace": {"blend": "shutter"}},
            {},
            (
                CUT,
                ROOM,
                "Motion blur needs stills to average: it shows once stills are skipped, by thinning or by speed.",
            ),
            [],
        ),
        ({"pace": {"blend": "shutter", "thin": {"way": "every", "every": 3}}}, {}, (CUT, ROOM), []),
        (
            {"pace": {"blend": "motion"}},
            {},
            (CUT, ROOM, "In-betweens change nothing here: no still is shown longer than a frame."),
            [],
        ),
        (
            {"fit": {"how": "contain"}},
            {"surround": "16 % of the frame stays black."},
            (
                "Shows each still whole; 16 % of the frame stays black.",
                "Reduces the stills to 27 % of their size; a later push-in has room for 3.7 × without enlarging.",
            ),
            [],
        ),
        (
            {"fit": {"how": "contain", "surround": {"kind": "blurred"}}},
            {},
            (
                "Shows each still whole; 16 % of the frame stays blurred.",
                "Reduces the stills to 27 % of their size; a later push-in has room for 3.7 × without enlarging.",
            ),
            [],
        ),
        (
            {"fit": {"how": "stretch"}},
            {"how": "Things look 19 % wider than they are."},
            ("Shows each still whole; nothing is cut off.", "Things look 19 % wider than they are.", ROOM),
            [],
        ),
        (
            {"fit": {"size": {"width": 7680, "height": 4320}}},
            {"size": "Enlarges the stills 1.3×: soft."},
            (CUT, "Enlarges the stills 1.3×: soft. A smaller size keeps it crisp."),
            [],
        ),
        (
            {"fit": {"size": {"width": 1918, "height": 1080}}},
            {"size": SLIP},
            (CUT, ROOM, SLIP),
            ["make it 1920 × 1080"],
        ),
        (
            {"shapes": {(6000, 4000): 98, (3000, 2000): 1, (4000, 6000): 1}},
            {},
            (
                *(CUT, ROOM, "2 of the stills have another shape or size than the rest."),
                *("1 is fitted to show the same field of view.", "1 is fitted alone: the view jumps there."),
            ),
            [],
        ),
        (
            {"shapes": {(6000, 4000): 90, (3000, 2000): 10}},
            {},
            (
                *(CUT, ROOM, "10 of the stills have another shape or size than the rest."),
                "They are fitted to show the same field of view.",
            ),
            [],
        ),
        (
            {"shapes": {(6000, 4000): 90, (4000, 6000): 1}},
            {},
            (
                *(CUT, ROOM, "1 of the stills has another shape or size than the rest."),
                "It is fitted alone: the view jumps there.",
            ),
            [],
        ),
        ({"shapes": {(6000, 4000): 24}}, {"length": "The clip is shorter than a second."}, (CUT, ROOM), []),
        ({"shapes": {(6000, 4000): 25}}, {}, (CUT, ROOM), []),
    ],
    ids=lambda one: " ".join(map(str, one.values()))[:60] if isinstance(one, dict) else "",
)
def test_what_does_not_add_up_is_marked_where_it_is_said_and_offered_a_remedy(decided, warned, remarks, remedies):
    found = said(**decided)
    assert {part.control: part.warning for part in found.parts if part.warning} == warned
    assert found.remarks == remarks
    assert [name for name, _, _ in found.remedies] == remedies


def test_a_remedy_settles_what_it_is_for_and_changes_nothing_else():
    wrong = {
        "pace": {"rate": "10", "thin": {"way": "every", "every": 2}, "hold": 2},
        "fit": {"size": {"width": 1918, "height": 1080}},
    }
    found = said(**wrong)
    assert [(name, step) for name, step, _ in found.remedies] == [
        ("write it as 30", "pace"),
        ("use all stills, one frame each", "pace"),
        ("make it 1920 × 1080", "fit"),
    ]
    before = Decisions.model_validate(wrong)
    for _, step, after in found.remedies:
        others = {name: getattr(after, name) for name in type(after).model_fields if name != step}
        assert others == {name: getattr(before, name) for name in others}
        left = {part.warning for part in brief(USUAL, after).parts if part.warning}
        assert left < {part.warning for part in found.parts if part.warning}


def test_a_clip_that_cannot_be_made_says_so_where_it_can_be_changed():
    long = {"hold": 1000, "rate": "1"}
    found = said(pace=long)
    assert str(found) == (
        "Take 100 stills, 1,000 frames each at this rate: longer than 24 hours, which cannot be made."
    )
    assert [part.control for part in found.parts if part.warning] == ["hold", ""]
    assert (found.frames, found.bytes) == (0, 0)
    curved = said(every=120, pace=long | {"curve": [{"at": 0, "speed": 1}]})
    assert str(curved).startswith("Take 100 of 120 stills, 1,000 frames each at this rate along a speed curve: longer")
    assert str(said(shapes={}, every=5)) == "Nothing to make yet: all stills are set aside."


def test_the_clock_of_the_day_is_set_against_the_clips():
    assert said(times=EVERY_FIVE_S).clock == "1 s of clip is 2 min 05 s of the day (125 ×)"
