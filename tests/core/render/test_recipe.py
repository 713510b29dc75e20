"""Recipes: what names them, the stills they need, and that none is longer than a day."""

from fractions import Fraction

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.still import Still
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Bridge, Correction, Recipe, schedule_of, stills_in


def still(number, width=600, height=400, folder="a"):
    return Still(path=f"{folder}/{number}.jpg", fingerprint=f"print-{number}", width=width, height=height)


def recipe(count, **pace):
    return Recipe(stills=tuple(still(n) for n in range(count)), decisions=Decisions(pace=Pace(**pace)))


def test_a_clip_of_a_day_is_made_and_one_still_more_is_refused():
    # At one frame a second a day has 86,400 frames.
    assert len(schedule_of(recipe(96, rate="1", hold=900))) == 86_400
    with pytest.raises(Refusal, match="24 hours") as refusal:
        schedule_of(recipe(97, rate="1", hold=900))
    assert refusal.value.code == "clip_too_long"


def test_stills_in_a_recipe_are_named_once_those_of_bridges_included():
    bridge = Bridge(before=still(1), after=still(3), share=Fraction(1, 2))
    made = Recipe(stills=(still(0), still(1), bridge, still(3), still(0)))
    assert [one.path for one in stills_in(made)] == ["a/0.jpg", "a/1.jpg", "a/3.jpg"]
    assert (bridge.width, bridge.height) == (600, 400)


def test_the_usual_size_is_what_most_pictures_have():
    assert Recipe(stills=(still(0), still(1, 300, 200), still(2, 300, 200))).usual == (300, 200)
    assert Recipe(stills=()).usual == (0, 0)


def test_a_digest_depends_on_all_that_makes_the_clip_and_not_on_where_files_lie():
    plain = Recipe(stills=(still(0), still(1)))
    moved = Recipe(stills=(still(0, folder="b"), still(1, folder="b")))
    assert plain.digest() == moved.digest()
    assert len(plain.digest()) == 32
    others = [
        Recipe(stills=(still(1), still(0))),
        Recipe(stills=(still(0), still(1)), times=(0, 5000)),
        Recipe(stills=(still(0), still(1)), decisions=Decisions(pace=Pace(hold=2))),
        Recipe(stills=(still(0), still(1)), region=(0.1, 0.1, 0.9, 0.9)),
        Recipe(stills=(still(0), still(1)), corrections=(Correction(), Correction(laid=(1, 0, 0.1, 0, 1, 0, 0, 0)))),
        Recipe(stills=(still(0), Bridge(before=still(0), after=still(1), share=Fraction(1, 2)))),
        Recipe(stills=(still(0), Bridge(before=still(0), after=still(1), share=Fraction(1, 3)))),
        Recipe(stills=(still(0), Bridge(before=still(1), after=still(0), share=Fraction(1, 2)))),
        Recipe(stills=(still(0), Bridge(before=still(0), after=still(1), share=Fraction(1, 2), how="motion"))),
    ]
    assert len({one.digest() for one in (plain, *others)}) == len(others) + 1
