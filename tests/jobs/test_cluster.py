"""A real scheduler and two real workers: the same bytes as alone, also when workers or the scheduler are killed."""

import os
import signal
import socket

import pytest
from bench.cluster import begun_cluster

from tests.conftest import write_jpeg
from tests.patience import STANDSTILL_S, wait_until
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.render_plan import chunks, render_plan, task_of
from yarnkite.core.encode.runs import Share
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.gather.locations import Location
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe
from yarnkite.jobs.cluster import ClusterWorkers
from yarnkite.jobs.cluster_worker import packed, render_bundle
from yarnkite.jobs.rendering import Rendering, rendered
from yarnkite.jobs.workers import Workers


def free_port():
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


@pytest.fixture
def card(tmp_path):
    folder = tmp_path / "card"
    for number in range(60):
        write_jpeg(folder / f"MRW_{number:03}.jpg", number, (480, 320))
    return folder


@pytest.fixture
def cluster(tmp_path, card):
    """Start a scheduler and two workers that see the place under another path; gives address and processes."""
    mapped = tmp_path / "mapped"
    mapped.symlink_to(card)
    address, processes = begun_cluster(2, "--location", f"card={mapped}")
    yield address, processes
    for process in processes:
        if process.poll() is None:
            end(process)


def end(process):
    try:
        if process.args[2] == "yarnkite":
            # A worker is watched over by a process of its own, which would begin it anew.
            os.killpg(process.pid, signal.SIGKILL)
        else:
            process.kill()
    except ProcessLookupError:
        pass
    process.wait()


def recipe_of(card, rate=5):
    taken = tuple(
        Still(
            path=str(path),
            fingerprint=path.stem,
            width=480,
            height=320,
            bytes=path.stat().st_size,
            modified_ns=path.stat().st_mtime_ns,
        )
        for path in sorted(card.iterdir())
    )
    decisions = Decisions(
        fit=Fit(size=Size(width=320, height=180)), pace=Pace(rate=rate), encode=Encode(preset="medium")
    )
    return Recipe(stills=taken, decisions=decisions)


def chunks_by(workers, card, folder, while_waiting=lambda: None):
    folder.mkdir()
    recipe = recipe_of(card)
    frames = ClipFrames(recipe)
    rendering = Rendering(workers, folder, Share(1, 1), "job-1", while_waiting, lambda done, total: None)
    parts = rendered(rendering, frames, render_plan(frames, recipe.decisions.encode)).parts
    names = [name for part in parts for name in (part.file_name, *part.beside)]
    return {name: (folder / name).read_bytes() for name in names}


@pytest.mark.long
def test_a_cluster_makes_the_same_bytes_also_when_a_worker_and_then_the_scheduler_are_killed(tmp_path, card, cluster):
    address, (scheduler, one, _) = cluster
    alone = Workers(1)
    try:
        expected = chunks_by(alone, card, tmp_path / "alone")
    finally:
        alone.stop()
    # The data folder is one the workers do not see: chunks come back as bytes.
    workers = ClusterWorkers(address, (Location("card", card),), tmp_path / "unseen", 1)
    (tmp_path / "unseen").mkdir()
    workers._all_see = lambda client: False
    try:
        wait_until(lambda: workers._remote == 2)
        assert "are sent the stills they need" in workers.sentence
        assert chunks_by(workers, card, tmp_path / "cluster") == expected

        killed = []

        def kill_one():
            if not killed:
                killed.append(True)
                end(one)

        assert chunks_by(workers, card, tmp_path / "one-killed", kill_one) == expected
        assert killed

        end(scheduler)
        assert chunks_by(workers, card, tmp_path / "scheduler-killed") == expected
        wait_until(lambda: workers._remote == 0)
        assert "does not answer" in workers.sentence
    finally:
        workers.stop()


def test_what_a_worker_does_not_see_is_sent_and_what_it_sees_is_read_there(tmp_path, card, monkeypatch):
    recipe = recipe_of(card)
    frames = ClipFrames(recipe)
    part = chunks(frames, recipe.decisions.encode)[0]
    task = task_of(frames, recipe.decisions.encode, part)
    bundle = packed([task], 1, (Location("card", card),))
    assert all("/" not in layer.picture.path for spec in bundle.tasks[0].specs for layer, _ in spec.layers)
    assert len(bundle.sent) == 10
    monkeypatch.setattr("yarnkite.jobs.cluster_worker._SENT", tmp_path / "sent")
    sent = render_bundle(bundle)
    assert len(list((tmp_path / "sent").iterdir())) == 10
    monkeypatch.setenv("YARNKITE_WORKER_PLACES", f'{{"card": "{card}"}}')
    monkeypatch.setattr("yarnkite.jobs.cluster_worker._SENT", tmp_path / "unused")
    assert render_bundle(bundle) == sent
    assert not (tmp_path / "unused").exists()
    monkeypatch.setattr("yarnkite.jobs.cluster_worker.KEPT_SENT_BYTES", 100_000)
    monkeypatch.setattr("yarnkite.jobs.cluster_worker._SENT", tmp_path / "bounded")
    monkeypatch.delenv("YARNKITE_WORKER_PLACES")
    assert [name for name, _ in render_bundle(packed([task], 1, ()))] == [*part.beside, part.file_name]
    kept = sum(file.stat().st_size for file in (tmp_path / "bounded").iterdir())
    assert kept <= 100_000


def test_without_a_cluster_the_work_is_done_here(tmp_path, card):
    workers = ClusterWorkers(f"tcp://127.0.0.1:{free_port()}", (Location("card", card),), tmp_path, 1)
    try:
        assert workers.submit(len, [1, 2, 3]).result(timeout=STANDSTILL_S) == 3
        assert "this machine works alone" in workers.sentence
    finally:
        workers.stop()
