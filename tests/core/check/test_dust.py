"""Spots of dust among the decisions of a check."""

import base64

import pytest
from pydantic import ValidationError

from yarnkite.core.base.errors import Refusal
from yarnkite.core.check.decisions import Check
from yarnkite.core.check.dust import place_of, with_dust
from yarnkite.core.check.finding import Finding
from yarnkite.core.check.remedy import is_settled, restored
from yarnkite.core.image.dust import GRID, DustSpot
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.split_join import joined, part_of

SHADE = base64.b64encode(bytes([240] * GRID * GRID)).decode()


def spot(x: float, y: float = 0.5, width: float = 0.02) -> DustSpot:
    return DustSpot(x=x, y=y, width=width, shade=SHADE, shape=(600, 400))


def dirt(x: float, y: float = 0.5) -> Finding:
    return Finding("dirt", (3, 9), "", {"x": x, "y": y, "width": 0.02, "stops": -0.4}, ("remove", "dismiss"))


def test_a_spot_takes_the_place_of_one_that_was_there_and_settles_its_finding():
    check = with_dust(Check(), [spot(0.2), spot(0.6), spot(0.605)])
    assert [one.x for one in check.dust] == [0.2, 0.605]
    assert is_settled(check, dirt(0.6))
    assert not is_settled(check, dirt(0.7))
    # The middle is as far away as it is in pixels, whatever the shape.
    assert not is_settled(check, dirt(0.6, 0.52))
    assert place_of(dirt(0.3)).width == pytest.approx(0.024)
    with pytest.raises(Refusal):
        with_dust(Check(), [spot(number / 50) for number in range(45)])


def test_what_is_no_grid_of_shares_is_no_spot():
    for shade in ("", SHADE[:-4], SHADE + SHADE[:4], "=" * len(SHADE), SHADE[:-1] + "="):
        with pytest.raises(ValidationError):
            DustSpot(x=0.5, y=0.5, width=0.02, shade=shade, shape=(600, 400))
    assert spot(0.5).taken == 0


def test_taking_it_back_leaves_other_spots_and_the_first_and_last_still_as_they_are():
    check = with_dust(Check(aside=(3, 9)), [spot(0.2), spot(0.6)])
    back = restored(check, [dirt(0.6)])
    assert ([one.x for one in back.dust], back.aside) == ([0.2], (3, 9))


def test_spots_go_with_parts_of_a_shot_and_are_one_again_when_joined():
    whole = Decisions(check=with_dust(Check(), [spot(0.2)]))
    part = part_of(whole, [1, 2, 3, 4], [3, 4])
    assert part.check.dust == whole.check.dust
    other = part.model_copy(update={"check": with_dust(part.check, [spot(0.8)])})
    both = joined(whole, [1, 2], other, [3, 4], [1, 2, 3, 4])
    assert [one.x for one in both.check.dust] == [0.2, 0.8]
