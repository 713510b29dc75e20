"""What runs on a worker of a cluster: chunks of stills of its own locations, or of those that were sent."""

import asyncio
import json
import os
import socket
import tempfile
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.oldest import forget_oldest
from yarnkite.core.base.still import Still
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.makers import makers
from yarnkite.core.encode.render_plan import ChunkTask
from yarnkite.core.gather.locations import Location
from yarnkite.core.render.composite import Composite, Scene, Spec
from yarnkite.core.render.frame_spec import FrameSpec, Layer
from yarnkite.core.render.recipe import Bridge, Picture
from yarnkite.jobs.ahead import Ahead

_PLACES = "YARNKITE_WORKER_PLACES"
# Each worker process has its own: what one forgets, another may need.
_SENT = Path(tempfile.gettempdir()) / f"yarn-kite-sent-{os.getpid()}"
KEPT_SENT_BYTES = 4_000_000_000
_CORES_A_RUN = 3


@dataclass(frozen=True)
class Bundle:
    """Chunks to be rendered elsewhere: paths of stills are replaced by their fingerprints.

    ``makers`` is what makes pixels on the machine that asks; ``places`` says where each still lies by the name of its
    location and its path in it, ``sent`` has the bytes of those that were read for a worker which does not see it.
    """

    tasks: list[ChunkTask]
    threads: int
    makers: str
    places: dict[str, tuple[str, str]]
    sent: dict[str, bytes]


def sees(paths: list[str]) -> bool:
    """Tell, on a worker, whether paths are there as they are on the machine that asks."""
    return all(Path(path).exists() for path in paths)


def packed(tasks: list[ChunkTask], threads: int, locations: tuple[Location, ...]) -> Bundle:
    """Return chunks as they are sent to a worker, with the bytes of the stills they need."""
    stills: dict[str, Still] = {}

    def noted(still: Still) -> Still:
        stills[still.fingerprint] = still
        return still.model_copy(update={"path": still.fingerprint})

    sent_tasks = [replace(task, specs=tuple(_with_stills(spec, noted) for spec in task.specs)) for task in tasks]
    places = {key: where for key, still in stills.items() if (where := _place_of(still, locations)) is not None}
    sent = {key: Path(still.path).read_bytes() for key, still in stills.items()}
    return Bundle(sent_tasks, threads, makers(), places, sent)


def _place_of(still: Still, locations: tuple[Location, ...]) -> tuple[str, str] | None:
    path = Path(still.path)
    for location in locations:
        if path.is_relative_to(location.folder):
            return location.name, path.relative_to(location.folder).as_posix()
    return None


def render_bundle(bundle: Bundle) -> list[tuple[str, bytes]]:
    """Render chunks on a worker; returns the files that come of it, copies before chunks, as names and bytes.

    Raises ``UnreadableStill``, or ``Refusal`` for a still that is neither here nor was sent, and where this machine
    would make other pixels.
    """
    if bundle.makers != makers():
        raise Refusal(
            "another_edition",
            f"The worker on {socket.gethostname()} has other libraries or typefaces than this machine, so its frames "
            "would not be the same. Start it with the same edition, by ./run worker.",
        )

    def found(still: Still) -> Still:
        # Here it was changed at another time, whatever is in it; the size was looked at.
        return still.elsewhere(str(_path_of(still, bundle)))

    tasks = [replace(task, specs=tuple(_with_stills(spec, found) for spec in task.specs)) for task in bundle.tasks]
    with tempfile.TemporaryDirectory(prefix="yarn-kite-") as folder:
        render_chunks(tasks, Path(folder), making=Ahead(bundle.threads))
        forget_oldest(_SENT, "*", KEPT_SENT_BYTES)
        # A chunk counts as there once it has its name: what lies beside it comes before.
        names = dict.fromkeys(name for task in tasks for name in (*task.chunk.beside, task.chunk.file_name))
        return [(name, path.read_bytes()) for name in names if (path := Path(folder) / name).exists()]


def _path_of(still: Still, bundle: Bundle) -> Path:
    """Return where a still lies here: in a location of the same name, with as many bytes, or where what was sent is
    kept."""
    mapped: dict[str, str] = json.loads(os.environ.get(_PLACES, "{}"))
    name, relative = bundle.places.get(still.fingerprint, ("", ""))
    if name in mapped:
        path = Path(mapped[name]) / relative
        if path.is_file() and (still.bytes is None or path.stat().st_size == still.bytes):
            return path
    path = _SENT / f"{still.fingerprint}{Path(relative).suffix or '.still'}"
    if not path.exists():
        if still.fingerprint not in bundle.sent:
            raise Refusal("lost", f"A still of the location “{name}” is not on this worker and was not sent.")
        _SENT.mkdir(parents=True, exist_ok=True)
        write_completed(path, bundle.sent[still.fingerprint])
    return path


def _with_stills(spec: Spec, changed: Callable[[Still], Still]) -> Spec:
    """Return a frame with each of its stills replaced."""

    def picture(one: Picture) -> Picture:
        if isinstance(one, Bridge):
            return one.model_copy(update={"before": changed(one.before), "after": changed(one.after)})
        return changed(one)

    def layer(one: Layer) -> Layer:
        beside, fills = (tuple(layer(other) for other in others) for others in (one.beside, one.fills))
        return replace(one, picture=picture(one.picture), beside=beside, fills=fills)

    def frame(one: FrameSpec) -> FrameSpec:
        return replace(one, layers=tuple((layer(each), weight) for each, weight in one.layers))

    if isinstance(spec, FrameSpec):
        return frame(spec)
    scenes = tuple(
        (Scene(tuple(replace(tile, spec=frame(tile.spec)) for tile in scene.tiles), scene.colour), weight)
        for scene, weight in spec.scenes
    )
    return Composite(spec.size, scenes, spec.overlays, spec.fade)


def work(scheduler: str, locations: dict[str, Path], cores: int | None = None) -> None:
    """Work for a scheduler until this process is ended; workers that are killed are begun anew."""
    count = cores or -(-(os.cpu_count() or 1) // _CORES_A_RUN)
    environment = {_PLACES: json.dumps({name: str(folder) for name, folder in locations.items()})}
    asyncio.run(_work(scheduler, count, environment))


async def _work(scheduler: str, count: int, environment: dict[str, str]) -> None:
    from distributed import Nanny

    nannies: list[Any] = [
        Nanny(scheduler, nthreads=1, env=environment, memory_limit=None, dashboard_address=None) for _ in range(count)
    ]
    for nanny in nannies:
        await nanny
    print(f"{count} {'worker renders' if count == 1 else 'workers render'} for {scheduler}. Ctrl-C ends.", flush=True)
    for nanny in nannies:
        await nanny.finished()
