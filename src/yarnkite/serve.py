"""The running program: database, workers, jobs and pages, started together and ended together."""

import logging
import signal
import socket
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from importlib import import_module
from pathlib import Path
from types import FrameType
from typing import Any

import uvicorn

from yarnkite import locations
from yarnkite.api.app import create_app
from yarnkite.api.views import job_view
from yarnkite.camera.cameras import Cameras
from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.jobs import (
    capture,
    check,
    encode,
    export,
    file_size,
    find,
    footage,
    gather,
    growing,
    move,
    offload,
    reel,
    rename,
    together,
)
from yarnkite.jobs import sound as sound_job
from yarnkite.jobs.playing_sound import PlayingSound
from yarnkite.jobs.preview import Segments
from yarnkite.jobs.runner import Runner
from yarnkite.jobs.workers import Workers
from yarnkite.services import disks, space
from yarnkite.services.events import Events
from yarnkite.services.running import Services
from yarnkite.store import jobs
from yarnkite.store.database import Database
from yarnkite.store.server import DatabaseServer
from yarnkite.workspace import Workspace

log = logging.getLogger(__name__)

TIDY_EVERY_S = 3600
FIRST_PORT = 8460
PORTS_TRIED = 20


@contextmanager
def running(
    workspace: Workspace,
    *,
    workers: int | None = None,
    cluster: str | None = None,
    camera: str = "",
    server: DatabaseServer | None = None,
) -> Iterator[Services]:
    """Start database and workers, give the services, and end all of it cleanly.

    ``cluster`` is the address of a Dask scheduler whose workers compute too, ``camera`` that of a simulated camera that
    runs already, ``server`` a database that was begun before all else was loaded.

    The data folder must be held by this program alone (``alone_in``): what another one left half-written is cleared.
    """
    workspace.create()
    server = server or DatabaseServer(workspace.database)
    database = Database(server.start(), server.trouble)
    stopping = threading.Event()
    try:
        database.migrate()
        for sentence in rename.recover(database):
            print(sentence, flush=True)
        events, cameras = Events(), Cameras(camera)
        runner = Runner(
            database,
            workspace,
            _workers(workspace, workers, cluster),
            _publisher(database, events),
            {
                "gather": gather.run,
                "footage": footage.run,
                "find": find.run,
                "export": export.run,
                "check": check.run,
                "together": together.run,
                "move": move.run,
                "encode": encode.run,
                "sound": sound_job.run,
                "reel": reel.run,
                "size": file_size.run,
                "watch": growing.watch_folder,
                "capture": capture.running(cameras),
                "offload": offload.run,
            },
        )
        try:
            threading.Thread(target=_tidy, args=(database, workspace, stopping), daemon=True).start()
            threading.Thread(target=disks.watch, args=(events, stopping), daemon=True).start()
            sound = PlayingSound(lambda reel: events.publish("reel", {"id": reel}))
            segments = Segments(workspace.proxies)
            yield Services(database, workspace, runner, events, segments, sound, cameras)
        finally:
            stopping.set()
            runner.stop()
            cameras.stop()
    finally:
        database.close()
        server.stop()


def _workers(workspace: Workspace, count: int | None, cluster: str | None) -> Workers[Any]:
    if cluster is None:
        return Workers(count)
    try:
        from yarnkite.jobs.cluster import ClusterWorkers
    except ImportError:
        raise Refusal(
            "no_cluster",
            "The cluster needs the package distributed. Start with ./run start --cluster, which brings it.",
        ) from None
    return ClusterWorkers(cluster, locations.known(workspace), workspace.folder, count)


LONGEST_REQUEST_HEAD = 160_000


def serve(services: Services, pages: Path | None, port: int | None, announce: Callable[[str], None]) -> None:
    """Answer requests until Ctrl-C or SIGTERM; ``announce`` gets the address once it is open."""
    listening = _open_socket(port)
    config = uvicorn.Config(
        create_app(services, pages),
        log_level="warning",
        timeout_graceful_shutdown=2,
        server_header=False,
        # What is tried goes along in addresses, with all that was painted.
        h11_max_incomplete_event_size=LONGEST_REQUEST_HEAD,
    )
    server = _Server(config)
    threading.Thread(target=import_module, args=("yarnkite.jobs.warm",), daemon=True).start()
    announce(f"http://127.0.0.1:{listening.getsockname()[1]}/")
    server.run(sockets=[listening])


class _Server(uvicorn.Server):
    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        # The signal is not raised again after shutdown: what was started here is still to be ended cleanly.
        self.should_exit = True
        signal.signal(signal.SIGINT, signal.SIG_IGN)


def _open_socket(port: int | None) -> socket.socket:
    candidates = [port] if port is not None else range(FIRST_PORT, FIRST_PORT + PORTS_TRIED)
    for candidate in candidates:
        # Named as TCP, or asyncio does not know it as such and leaves Nagle's algorithm on: every answer on a kept
        # connection would wait 40 ms for the other end's delayed acknowledgement (RFC 1122, 4.2.3.2).
        listening = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listening.bind(("127.0.0.1", candidate))
        except OSError:
            listening.close()
            continue
        # From here on connections wait to be answered, so the address may be told.
        listening.listen(128)
        return listening
    raise OSError(f"Port {candidates[0]} is in use. Choose another with --port.")


def _publisher(database: Database, events: Events) -> Callable[[str, dict[str, Any]], None]:
    """Return what jobs tell their progress to: a job's event carries its whole row."""

    def publish(name: str, data: dict[str, Any]) -> None:
        if name == "job":
            try:
                view = job_view(jobs.one(database, data["id"]), data["seconds_to_go"])
            except NotFound:
                return
            data = view.model_dump(mode="json")
        events.publish(name, data)

    return publish


def _tidy(database: Database, workspace: Workspace, stopping: threading.Event) -> None:
    """Remove once an hour what was deleted more than 30 days ago."""
    while True:
        try:
            space.remove_given_up(database, workspace)
            for sentence in rename.recover(database):
                log.warning("%s", sentence)
        except Exception:
            log.warning("what was deleted could not be removed; it will be tried again", exc_info=True)
        if stopping.wait(TIDY_EVERY_S):
            return
