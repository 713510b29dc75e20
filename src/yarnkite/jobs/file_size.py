"""The job that measures what a clip takes in each format, from samples of it."""

from collections import defaultdict
from collections.abc import Iterator, Sequence
from concurrent.futures import Future
from typing import Any

from yarnkite.core.encode.decisions import Encode, FormatName
from yarnkite.core.encode.file_size import Sample, Window, expected, measure, offered, weighed, windows
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.core.encode.render_plan import ChunkTask, chunks, task_of
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.render.frame_source import ClipFrames, FrameSource
from yarnkite.jobs.encode import recipe_of, reel_recipe_of, rendering_of
from yarnkite.jobs.rendering import weigh
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.store import file_size, jobs
from yarnkite.store.file_size import MeasuredSizes


def run(context: Context) -> None:
    """Sample a clip and keep what is found after each stretch, so that a page can show it while the rest is
    measured."""
    wanted = jobs.wanted_of(context.database, context.job["id"])
    frames = _frames_of(context)
    encode = Encode.model_validate(wanted["encode"])
    parts = chunks(frames, encode)
    weights = weigh(rendering_of(context, frames), frames, encode, weighed(parts))
    chosen = windows(weights)
    context.progress(0, len(chosen), now=True)
    formats = [one for one in offered(encode) if one.format in wanted["formats"]]
    tasks = [(one, task_of(frames, encode, parts[one.weights.number])) for one in chosen]
    found: dict[FormatName, list[Sample]] = defaultdict(list)
    for done, (_, future) in enumerate(_measured(context, tasks, formats), 1):
        for name, sample in future.result().items():
            found[name].append(sample)
        known = {name: expected(FORMATS[name], samples, weights, len(frames)) for name, samples in found.items()}
        counts = {name: len(samples) for name, samples in found.items()}
        measured = MeasuredSizes(encode.crf, len(chosen), known, counts)
        file_size.keep(context.database, wanted["frames"], wanted["quality"], measured)
        context.progress(done, len(chosen), now=True)
        context.publish("sizes", {"frames": wanted["frames"]})
    jobs.end(context.database, context.job["id"], "finished")


def _frames_of(context: Context) -> FrameSource:
    if context.job["reel_id"] is not None:
        return ReelFrames(reel_recipe_of(context))
    return ClipFrames(recipe_of(context))


def _measured(
    context: Context, tasks: Sequence[tuple[Window, ChunkTask]], formats: Sequence[Encode]
) -> Iterator[tuple[tuple[Window, ChunkTask], Future[dict[FormatName, Sample]]]]:
    proxies = context.workspace.proxies

    def arguments(one: tuple[Window, ChunkTask]) -> tuple[Any, ...]:
        return one[1], one[0], formats, proxies

    # One at a time for each worker but one: what is looked at meanwhile has its share.
    at_once = max(1, context.workers.count - 1)
    return in_turn(
        context.workers, measure_in_worker, tasks, arguments, while_waiting=context.check, at_once=at_once, here=True
    )


def measure_in_worker(
    task: ChunkTask, window: Window, formats: Sequence[Encode], proxies: Proxies
) -> dict[FormatName, Sample]:
    """Measure a stretch of a chunk in each format, in a worker."""
    return measure(task, window, formats, proxies.read)
