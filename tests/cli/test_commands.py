"""The commands beside ``clip``, run as people and scripts run them: what they print, write, and end with."""

import json
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from tests.commands import run, run_alone
from tests.conftest import write_jpeg
from yarnkite.cli.main import COMMANDS
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.reel.reel_file import ReelFile
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe
from yarnkite.core.render.shot_file import ShotFile
from yarnkite.services.clip import computing, stills_of

DOCS = Path(__file__).parents[2] / "docs"


@pytest.fixture
def card(tmp_path):
    for number in range(40):
        write_jpeg(tmp_path / "card" / f"MRW_{number + 1}.jpg", number)
    return tmp_path / "card"


def saved(card, file, **encode):
    decisions = Decisions(fit=Fit(size=Size(width=320, height=180)), encode=Encode(preset="ultrafast", **encode))
    with computing() as workers:
        source = stills_of(card, decisions, workers, compares=True)
    recipe = Recipe(stills=source.stills, decisions=decisions.for_recipe())
    file.write_text(ShotFile.of("Reach", recipe, card, source.captured).model_dump_json(indent=1))
    return file


@pytest.mark.long
def test_a_clip_of_any_format_says_as_json_what_came_of_it(card, tmp_path):
    target = tmp_path / "clip.webm"
    given = ("--size", "320x180", "--format", "vp9", "--quality", "good", "--effort", "fast", "--length", "1")
    found = json.loads(run_alone("clip", card, target, *given, "--json").stdout)
    assert (found["verified"], found["frames"], found["rate"]) == (True, 25, "25")
    assert found["lowest_likeness"] > 0.9
    assert found["bytes"] == target.stat().st_size
    again = run_alone("clip", card, target, *given, ends=1)
    assert "--force" in again.stderr
    probed = json.loads(run("probe", target, "--json").stdout)
    assert (probed["codec"], probed["container"], probed["frames"]) == ("vp9", "webm", 25)
    assert "25 frames at 25 fps, 320 × 180" in run("probe", target).stdout


@pytest.mark.parametrize(
    ("arguments", "ends", "says"),
    [
        (("--format", "prores"), 1, "is written into .mov"),
        (("--format", "nothing"), 2, "is not one of"),
        (("--megabytes", "3", "--mbits", "4"), 2, "not both"),
        (("--length", "60"), 1, "clips of up to 1.6 s"),
        (("--start", "1:0"), 1, "no timecode"),
        (("--stretch", "a-b"), 2, "is no stretch"),
        (("--stretch", "30-50"), 1, "is not in it"),
        (("--megabytes", "0.001"), 1, "Want more"),
    ],
    ids=lambda one: " ".join(one) if isinstance(one, tuple) else "",
)
def test_what_cannot_be_ends_with_its_own_code_and_a_sentence(card, tmp_path, arguments, ends, says):
    ended = run("clip", card, tmp_path / "clip.mp4", "--size", "320x180", *arguments, ends=ends)
    assert says in ended.stderr
    assert not (tmp_path / "clip.mp4").exists()


def test_a_wanted_size_is_met(card, tmp_path):
    found = json.loads(
        run(
            "clip", card, tmp_path / "clip.mp4", "--size", "480x320", "--megabytes", "0.1", "--hold", "4", "--json"
        ).stdout
    )
    assert found["verified"]
    assert found["bytes"] == pytest.approx(100_000, rel=0.03)


def test_a_saved_shot_is_rendered_elsewhere_and_a_stretch_of_it_as_stills(card, tmp_path):
    file = saved(card, tmp_path / "reach.json")
    moved = tmp_path / "elsewhere"
    card.rename(moved)
    lost = run("render", file, tmp_path / "a.mp4", ends=1)
    assert "--stills" in lost.stderr
    found = json.loads(run("render", file, tmp_path / "a.mp4", "--stills", moved, "--json").stdout)
    assert (found["verified"], found["frames"]) == (True, 40)
    given = ("--stills", moved, "--format", "png", "--stretch", "11-13", "--json")
    assert json.loads(run("render", file, tmp_path / "a.zip", *given).stdout)["frames"] == 3
    with zipfile.ZipFile(tmp_path / "a.zip") as packed:
        assert len(packed.namelist()) == 3
    write_jpeg(moved / "MRW_7.jpg", 30)
    assert "not what they were" in run("render", file, tmp_path / "b.mp4", "--stills", moved, ends=1).stderr
    for broken, says in (
        ({"edition": 2}, "newer edition"),
        ({"kind": "something"}, "not a shot that can be read"),
    ):
        (tmp_path / "c.json").write_text(json.dumps(json.loads(file.read_text()) | broken))
        assert says in run("render", tmp_path / "c.json", tmp_path / "c.mp4", "--stills", moved, ends=1).stderr
    outside = file.read_text().replace("MRW_1.jpg", "../MRW_1.jpg")
    (tmp_path / "d.json").write_text(outside)
    assert "leads out" in run("render", tmp_path / "d.json", tmp_path / "d.mp4", "--stills", moved, ends=1).stderr


def test_a_file_is_proven_later_against_the_shot_it_was_made_of(card, tmp_path):
    file = saved(card, tmp_path / "reach.json")
    given = ("--stills", card, "--json")
    run("render", file, tmp_path / "a.mp4", *given)
    proven = json.loads(run("probe", tmp_path / "a.mp4", "--against", file, *given).stdout)
    assert (proven["verified"], proven["frames"]) == (True, 40)
    assert "40 frames compared in light and colour" in proven["evidence"]
    assert "all of them painted anew" in proven["evidence"]

    run("render", file, tmp_path / "a.mov", *given, "--format", "prores")
    named = run("probe", tmp_path / "a.mov", "--against", file, *given, ends=3).stdout
    assert "codec: planned h264, found prores" in named
    assert run("probe", tmp_path / "a.mov", "--against", file, *given, "--format", "prores").returncode == 0

    other = json.loads(file.read_text())
    other["recipe"]["decisions"]["fit"]["mirror"] = True
    (tmp_path / "mirrored.json").write_text(json.dumps(other))
    found = json.loads(run("probe", tmp_path / "a.mp4", "--against", tmp_path / "mirrored.json", *given, ends=3).stdout)
    assert not found["verified"]
    assert found["differences"][0].startswith("frame 1: planned its picture, found")
    assert "is not a file" in run("probe", tmp_path / "gone.mp4", "--against", file, *given, ends=1).stderr


def test_the_schema_of_saved_shots_is_published_as_it_is():
    for kind, name in ((ShotFile, "shot"), (ReelFile, "reel")):
        published = json.loads((DOCS / f"{name}-file.schema.json").read_text())
        assert published == json.loads(json.dumps(kind.model_json_schema()))


@pytest.mark.long
def test_order_gather_check_and_rename_work_on_the_same_shot(card, tmp_path):
    for number in range(20, 25):
        (card / f"MRW_{number}.jpg").unlink()
    found = json.loads(run("order", card, "--json").stdout)
    assert found["names"][0] == "MRW_1.jpg"
    assert [one["count"] for one in found["breaks"] if one["kind"] == "missing"] == [5]
    data = ("--data", tmp_path / "data")
    shot = json.loads(run("gather", card, *data, "--json").stdout)
    assert shot["stills"] == 35
    checked = json.loads(run("check", card, *data, "--json", ends=3).stdout)
    assert checked["shot"] == shot["shot"]
    assert any(one["kind"] == "missing" for one in checked["findings"])
    shown = run("rename", card, *data, "--prefix", "reach_")
    assert "MRW_1.jpg → reach_0001.jpg" in shown.stdout
    assert (card / "MRW_1.jpg").exists()
    assert "35 files renamed" in run("rename", card, *data, "--prefix", "reach_", "--do").stdout
    assert sorted(path.name for path in card.iterdir())[0] == "reach_0001.jpg"
    assert "35 files" in run("rename", card, *data, "--undo").stdout
    assert (card / "MRW_1.jpg").exists()


@pytest.mark.parametrize(
    ("given", "says"),
    [
        (("--clip", "12", "--interval", "5"), "300 stills 5 s apart take 24 min 55 s and give 12.0 s"),
        (("--stills", "300", "--shooting", "1495"), "300 stills 5 s apart"),
        (("--interval", "5", "--shooting", "1495", "--rate", "30"), "300 stills 5 s apart"),
    ],
)
def test_the_sums_before_shooting(given, says):
    assert says in run("plan", *given).stdout


def test_a_plan_that_cannot_be_and_help_with_examples():
    assert "more than no time" in run("plan", "--clip", "0", "--interval", "5", ends=1).stderr
    assert "Give one of them" in run("plan", "--clip", "3", "--stills", "5", "--interval", "5", ends=1).stderr
    assert "Examples:" in run("clip", "--help").stdout


def test_all_commands_are_listed_and_completed_without_being_loaded():
    listed = run_alone("--help").stdout
    for name, (_, says) in COMMANDS.items():
        assert f"{name:8}{says}" in listed
        # The first sentence of a command's own help begins as it is listed.
        own = " ".join(run(name, "--help").stdout.split("\n\n")[1].split())
        assert own.split()[:3] == says.split()[:3], name
    loaded = "import sys; from yarnkite.cli.main import main; main(['--help']); "
    loaded += "print('click' in sys.modules, 'numpy' in sys.modules)"
    assert subprocess.check_output([sys.executable, "-c", loaded], text=True).split()[-2:] == ["True", "False"]
    completed = subprocess.run(
        [sys.executable, "-c", "from yarnkite.cli.main import main; main()"],
        env={"_YARNKITE_COMPLETE": "bash_complete", "COMP_WORDS": "yarnkite cl", "COMP_CWORD": "1", "PATH": "/usr/bin"},
        capture_output=True,
        text=True,
    )
    assert "clip" in completed.stdout
