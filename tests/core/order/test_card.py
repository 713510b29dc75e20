"""What was taken in one go on a card becomes a shot, and every file goes somewhere, under a name of its own."""

from datetime import datetime, timedelta

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.locations import FoundFile
from yarnkite.core.gather.proposals import StillFacts
from yarnkite.core.order.card import FOLDERS, card_of, folder_names, new_names
from yarnkite.core.order.renaming import PatternPart

EVENING = datetime(2031, 5, 4, 19, 0)


def taken(first, count, begins, interval_s, folder="100MRWOK", camera="Marrow K2 17"):
    """Stills of one go: their names on the card and when each was taken, by a clock two hours ahead of UTC."""
    return [
        (f"DCIM/{folder}/MRW_{first + n:04}.JPG", begins + timedelta(seconds=interval_s * n), camera)
        for n in range(count)
    ]


def looked_at(stills, others=()):
    files = [FoundFile(name, 1000 + n, n) for n, (name, _, _) in enumerate(stills)]
    files += [FoundFile(name, 10, 0) for name in others]
    facts = [
        StillFacts(n, name, at - timedelta(hours=2), 6000, 4000, camera, "", name)
        for n, (name, at, camera) in enumerate(stills)
    ]
    return card_of(files, facts, {name: at for name, at, _ in stills})


@pytest.fixture
def evening():
    """Two shots, the second over the end of the counter and two folders, a third of another camera, single pictures."""
    first = taken(9700, 200, EVENING, 5)
    second = taken(9900, 100, EVENING + timedelta(hours=1), 8) + taken(
        1, 50, EVENING + timedelta(hours=1, seconds=800), 8, "101MRWOK"
    )
    tests = taken(9698, 2, EVENING - timedelta(minutes=9), 3)
    third = taken(1, 30, EVENING + timedelta(minutes=20), 10, "100OTHER", "Sill 4 3")
    beside = ["DCIM/100MRWOK/MRW_9701.DNG", "DCIM/100MRWOK/MRW_9702.JPG.xmp", "DCIM/100MRWOK/MRW_9699.DNG"]
    films = ["PRIVATE/CLIP/C0001.MP4", "PRIVATE/CLIP/C0001.XML", "DCIM/100MRWOK/MRW_9701b.WAV"]
    return looked_at(tests + first + second + third, beside + films)


def test_what_was_taken_in_one_go_is_a_shot_whatever_folders_it_lies_in(evening):
    assert [len(shot.stills) for shot in evening.shots] == [200, 30, 150]
    assert [shot.first_taken for shot in evening.shots] == [
        EVENING,
        EVENING + timedelta(minutes=20),
        EVENING + timedelta(hours=1),
    ]
    assert evening.shots[2].stills[99:101] == ("DCIM/100MRWOK/MRW_9999.JPG", "DCIM/101MRWOK/MRW_0001.JPG")
    assert evening.shots[0].beside == ("DCIM/100MRWOK/MRW_9701.DNG", "DCIM/100MRWOK/MRW_9702.JPG.xmp")
    assert [shot.camera for shot in evening.shots] == ["Marrow K2 17", "Sill 4 3", "Marrow K2 17"]


def test_every_file_of_a_card_is_in_one_place(evening):
    everywhere = [name for shot in evening.shots for name in (*shot.stills, *shot.beside)] + list(evening.others)
    assert len(everywhere) == len(set(everywhere)) == 200 + 30 + 150 + 2 + 6
    assert "PRIVATE/CLIP/C0001.MP4" in evening.others
    # What stands beside a single picture stays with it.
    assert {"DCIM/100MRWOK/MRW_9699.JPG", "DCIM/100MRWOK/MRW_9699.DNG"} <= set(evening.others)


def test_folders_are_named_by_the_cameras_clock_and_never_alike(evening):
    assert folder_names(evening.shots, FOLDERS) == [f"2031-05-04_shot0{number}" for number in (1, 2, 3)]
    with pytest.raises(Refusal, match="Add a counter"):
        folder_names(evening.shots, (PatternPart(kind="date"),))
    with pytest.raises(Refusal, match="Some systems refuse"):
        folder_names(evening.shots, (PatternPart(kind="text", text="a/b"), PatternPart(kind="counter")))
    with pytest.raises(Refusal, match="Add a counter"):
        folder_names(evening.shots[:1], (PatternPart(kind="text", text="Other-Files"),))


def test_kept_names_stay_what_they_are_and_in_folders_only_where_two_share_one(evening):
    kept = new_names(evening.shots[0], "dusk", None)
    assert kept["DCIM/100MRWOK/MRW_9700.JPG"] == "dusk/MRW_9700.JPG"
    assert kept["DCIM/100MRWOK/MRW_9702.JPG.xmp"] == "dusk/MRW_9702.JPG.xmp"
    twice = looked_at(taken(1, 20, EVENING, 5) + taken(1, 20, EVENING + timedelta(seconds=100), 5, "101MRWOK"))
    names = {name for shot in twice.shots for name in new_names(shot, "dusk", None).values()}
    assert len(names) == 40


def test_a_pattern_names_stills_in_their_order_and_what_stands_beside_them_alike(evening):
    pattern = (PatternPart(kind="shot"), PatternPart(kind="text", text="_"), PatternPart(kind="counter"))
    new = new_names(evening.shots[2], "dusk", pattern)
    assert [new[name] for name in evening.shots[2].stills] == [f"dusk/dusk_{n + 1:04}.JPG" for n in range(150)]
    beside = new_names(evening.shots[0], "dusk", pattern)
    assert beside["DCIM/100MRWOK/MRW_9701.DNG"] == "dusk/dusk_0002.DNG"
    assert beside["DCIM/100MRWOK/MRW_9702.JPG.xmp"] == "dusk/dusk_0003.JPG.xmp"
    by_time = new_names(evening.shots[0], "dusk", (PatternPart(kind="time"),))
    assert by_time["DCIM/100MRWOK/MRW_9712.JPG"] == "dusk/190100.JPG"
    with pytest.raises(Refusal, match="same name"):
        new_names(evening.shots[0], "dusk", (PatternPart(kind="text", text="all"),))


def test_numbers_apart_from_the_name_by_a_dot_are_not_taken_for_an_ending():
    stills = [(f"render.{n:04}.jpg", EVENING + timedelta(seconds=n), "") for n in range(20)]
    card = looked_at(stills, ["render.0003.xmp"])
    assert [len(shot.stills) for shot in card.shots] == [20]
    assert card.shots[0].beside == ("render.0003.xmp",)


def test_single_pictures_make_no_shot():
    assert looked_at(taken(1, 5, EVENING, 5)).shots == ()
    apart = [(f"P{n}.jpg", EVENING + timedelta(days=n * n), "") for n in range(1, 12)]
    assert all(len(shot.stills) >= 8 for shot in looked_at(apart).shots)
