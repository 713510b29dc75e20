"""The locations a person has named: remembered, under names of their own, also those of an earlier edition."""

import json

import pytest

from yarnkite import locations
from yarnkite.workspace import Workspace


@pytest.fixture
def workspace(tmp_path):
    (tmp_path / "data").mkdir()
    return Workspace(tmp_path / "data")


def test_folders_are_remembered_once_each_under_a_name_of_its_own(workspace, tmp_path):
    cards = [tmp_path / side / "card" for side in ("left", "right")]
    for card in cards:
        card.mkdir(parents=True)
    locations.add(workspace, cards)
    locations.add(workspace, cards[:1])
    found = locations.known(workspace)
    assert [(one.name, one.folder) for one in found] == [("card", cards[0]), ("card (2)", cards[1])]
    cards[0].rmdir()
    # What was decided by a name must not go to another folder while the first one is away.
    assert [(one.name, one.folder) for one in locations.known(workspace)] == [("card (2)", cards[1])]
    cards[0].mkdir()
    assert [one.name for one in locations.known(workspace)] == ["card", "card (2)"]
    locations.forget(workspace, cards[0])
    assert [one.folder for one in locations.known(workspace)] == [cards[1]]


def test_what_is_no_folder_is_refused_and_nothing_forgotten(workspace, tmp_path):
    card = tmp_path / "card"
    card.mkdir()
    locations.add(workspace, [card])
    with pytest.raises(locations.UnusableLocation, match="--location"):
        locations.add(workspace, [tmp_path / "gone"])
    assert [one.folder for one in locations.known(workspace)] == [card]


def test_those_of_an_earlier_edition_are_taken_over(workspace, tmp_path):
    card = tmp_path / "card"
    card.mkdir()
    workspace.earlier_locations.write_text(json.dumps([str(card)]))
    assert [one.folder for one in locations.known(workspace)] == [card]
    locations.add(workspace, [tmp_path])
    assert json.loads(workspace.locations.read_text()) == [str(card), str(tmp_path)]
    assert not workspace.earlier_locations.exists()
