"""A data folder of an earlier edition is opened: everything in it is there under the words of today."""

import json
from collections.abc import Iterator
from pathlib import Path

import pytest

from yarnkite.core.check.decisions import Check
from yarnkite.core.image.lens import Lens
from yarnkite.core.move.decisions import Steady
from yarnkite.core.render.recipe import Recipe
from yarnkite.store import jobs, plan, revisions, shots
from yarnkite.store.database import Database
from yarnkite.store.server import DatabaseServer

_BEFORE_STANDARD_TERMS = "0009.nothing-lost"
_BEFORE_ONE_WORD_ONE_MEANING = "0020.state-of-stills"
_DECISIONS = {
    "order": {"by": "counter", "group": None, "hand": []},
    "check": {
        "aside": [3],
        "kept": ["dirt:1-9@0.100,0.200"],
        "notes": [{"still": 2, "text": 'She said "kept": "held": "how": "hold"'}],
        "begin": None,
        "held": [2],
    },
    "move": {"steady": {"how": "hold", "points": [{"places": [{"still": 2, "x": 0.5, "y": 0.5}]}]}},
    "fit": {
        "size": {"width": 1280, "height": 720},
        "across": 0.25,
        "down": 0.75,
        "lens": {"bend": 0.03, "bend_more": -0.01, "down": 0.2, "across": -0.1},
    },
    "pace": {"rate": "24", "turn": "there and back"},
    "encode": {"crf": 20, "preset": "fast"},
}


@pytest.fixture(scope="module")
def earlier(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Database]:
    """A database as the edition before the standard terms left it, then opened by this one."""
    server = DatabaseServer(tmp_path_factory.mktemp("earlier"))
    database = Database(server.start())
    try:
        database.migrate(_BEFORE_STANDARD_TERMS)
        _fill(database)
        database.migrate(_BEFORE_ONE_WORD_ONE_MEANING)
        with database.transaction() as cursor:
            planned = {"name": 'She said "held":', "held": ["rate", "clip"]}
            cursor.execute("INSERT INTO plan (project_id, turn, planned) VALUES (1, 1, %s)", (json.dumps(planned),))
        database.migrate()
        yield database
    finally:
        database.close()
        server.stop()


def _fill(database: Database) -> None:
    recipe = {"stills": [], "decisions": _DECISIONS | {"check": {}, "order": {}}, "times": []}
    with database.transaction() as cursor:
        cursor.execute("INSERT INTO project (id, name) VALUES (1, 'earlier')")
        cursor.execute(
            "INSERT INTO shot (id, project_id, name, folder, copied, kept) VALUES (1, 1, 'shot', '/nowhere', 0, %s)",
            (json.dumps(["another camera:1-2"]),),
        )
        cursor.executemany(
            "INSERT INTO revision (shot_id, number, decisions, back, forth) VALUES (1, %s, %s, %s, %s)",
            [(1, json.dumps({"fit": {"across": 0.5}}), None, None), (2, json.dumps(_DECISIONS), 1, None)],
        )
        cursor.execute("INSERT INTO job (id, kind, shot_id, recipe) VALUES (1, 'encode', 1, %s)", (json.dumps(recipe),))
        cursor.execute("INSERT INTO still_pair VALUES (%s, %s, 0.01, -0.02, 1.5, 0.9)", ("a" * 32, "b" * 32))


def test_decisions_are_read_under_their_new_words(earlier: Database):
    number, decisions = revisions.latest(earlier, 1)
    assert number == 2
    assert revisions.unreadable_since(earlier, 1) == 0
    assert (decisions.fit.x, decisions.fit.y) == (0.25, 0.75)
    assert decisions.fit.lens == Lens(k1=0.03, k2=-0.01, keystone_x=-0.1, keystone_y=0.2)
    assert decisions.pace.direction == "there and back"
    assert decisions.check.dismissed == ("dirt:1-9@0.100,0.200",)
    assert (decisions.check.aside, decisions.check.repeated) == ((3,), (2,))
    assert decisions.move.steady.how == "anchor"
    assert (decisions.encode.crf, decisions.order.by) == (20, "counter")


def test_what_a_person_wrote_stays_as_it_was_written(earlier: Database):
    _, decisions = revisions.latest(earlier, 1)
    assert decisions.check.notes[0].text == 'She said "kept": "held": "how": "hold"'


def test_an_earlier_change_can_still_be_undone(earlier: Database):
    assert revisions.steps(earlier, 1) == (True, False)
    revisions.undo(earlier, 1, 2)
    assert revisions.latest(earlier, 1)[1].fit.x == 0.5
    revisions.redo(earlier, 1, 3)
    assert revisions.latest(earlier, 1)[1].fit.x == 0.25


def test_an_encode_that_was_under_way_goes_on_with_its_recipe(earlier: Database):
    recipe = Recipe.model_validate_json(jobs.recipe_text(earlier, 1))
    assert isinstance(recipe, Recipe)
    assert recipe.decisions.fit.lens == Lens(k1=0.03, k2=-0.01, keystone_x=-0.1, keystone_y=0.2)
    assert recipe.decisions.pace.direction == "there and back"


def test_proposals_that_were_turned_down_stay_so(earlier: Database):
    assert shots.dismissed(shots.one(earlier, 1)) == ["another camera:1-2"]


def test_what_was_held_in_a_plan_is_locked(earlier: Database):
    (listed,) = plan.of_project(earlier, 1)
    assert listed.planned.locked == ("clip", "rate")
    assert listed.planned.name == 'She said "held":'


def test_files_of_an_earlier_edition_are_read_in_its_words():
    assert Check.model_validate({"held": [4]}).repeated == (4,)
    assert Check.model_validate({"repeated": [4]}).model_dump(mode="json")["repeated"] == [4]
    assert Steady.model_validate({"how": "hold"}).how == "anchor"
    with pytest.raises(ValueError, match="anchor"):
        Steady.model_validate({"how": "held"})


def test_migrations_are_numbered_without_gaps():
    folder = Path(revisions.__file__).parent / "migrations"
    assert sorted(int(path.name[:4]) for path in folder.glob("*.sql")) == list(
        range(1, 1 + len(list(folder.glob("*.sql"))))
    )
