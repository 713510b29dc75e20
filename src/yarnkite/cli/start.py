"""Starting the program, with or without the demo shots, and workers that help it from other machines."""

import os
from contextlib import ExitStack
from pathlib import Path
from typing import Any

import click

from yarnkite.alone import address_of, alone_in
from yarnkite.core.base.errors import Refusal
from yarnkite.entrance import way_in

ROOT = Path(__file__).resolve().parents[3]
DATA = Path(os.environ.get("YARNKITE_DATA", ROOT / "data"))
PAGES = ROOT / "web" / "dist"
_PATH = click.Path(path_type=Path)


def _options(command: Any) -> Any:
    for option in reversed(
        [
            click.option(
                *("--location", "--place", "folders"),
                type=_PATH,
                multiple=True,
                help="A folder stills may lie in; it is remembered.",
            ),
            click.option("--port", type=int, help="Port on 127.0.0.1."),
            click.option("--data", type=_PATH, default=DATA, help="Where everything is kept."),
            click.option(
                "--camera", default="", metavar="http://127.0.0.1:PORT", help="A simulated camera that runs already."
            ),
            click.option("--cluster", metavar="tcp://HOST:PORT", help="A Dask scheduler whose workers render too."),
        ]
    ):
        command = option(command)
    return command


@click.command()
@_options
def start(**given: Any) -> None:
    """Start the program."""
    _start(demo_shots=False, **given)


@click.command()
@_options
def demo(**given: Any) -> None:
    """Start the program with the demo shots."""
    _start(demo_shots=True, **given)


def _start(
    *, demo_shots: bool, folders: tuple[Path, ...], port: int | None, data: Path, cluster: str | None, camera: str
) -> None:
    folder = data.expanduser().resolve()
    with alone_in(folder) as held, ExitStack() as begun:
        # Loaded once the folder is held, a second start is told at once that it is the second; the database comes up
        # while all else is loaded.
        from yarnkite.store.server import DatabaseServer

        print("Starting the database …", flush=True)
        server = DatabaseServer(folder / "database")
        begun.callback(server.stop)
        server.begin()
        from yarnkite import locations
        from yarnkite.serve import running, serve
        from yarnkite.workspace import Workspace

        workspace = Workspace(folder)
        locations.add(workspace, folders)
        if demo_shots:
            from yarnkite.demo.paint import paint_missing

            paint_missing(workspace.demo, lambda text: print(text, flush=True))
            locations.add(workspace, [workspace.demo])
        with running(workspace, cluster=cluster, camera=camera, server=server) as services:
            if demo_shots:
                from yarnkite.demo.project import open_demo

                open_demo(services)

            def announce(address: str) -> None:
                held.announce(address)
                _announce(way_in(folder, address))

            pages = PAGES if (PAGES / "index.html").exists() else None
            serve(services, pages, port, announce)
            print("\nEnding what was started …", flush=True)
        print("Everything is stopped. Your work is kept.", flush=True)


def _announce(address: str) -> None:
    print(
        f"\nYarn Kite is ready:  {address}\n"
        "The address lets one browser in, which is known from then on; “enter” prints another.\n"
        "Ctrl-C ends it and everything it started.",
        flush=True,
    )


@click.command()
@click.option("--data", type=_PATH, default=DATA, help="The data folder of the program that runs.")
def enter(data: Path) -> None:
    """Print an address that lets a browser in."""
    folder = data.expanduser().resolve()
    address = address_of(folder)
    if address is None:
        raise Refusal("not_running", f"No Yarn Kite runs with the data in {folder}. Start it, or name its --data.")
    print(way_in(folder, address))


@click.command()
@click.argument("folder", type=_PATH)
def paint(folder: Path) -> None:
    """Paint the demo shots into a FOLDER."""
    from yarnkite.demo.paint import paint_missing

    paint_missing(folder, lambda text: print(text, flush=True))


@click.command()
@click.argument("scheduler", metavar="tcp://HOST:PORT")
@click.option(
    *("--location", "--place", "named"),
    multiple=True,
    metavar="NAME=FOLDER",
    help="Where a location of the program lies on this machine.",
)
@click.option("--cores", type=int, help="How many runs of frames go at once; by default one for three cores.")
def worker(scheduler: str, named: tuple[str, ...], cores: int | None) -> None:
    """Render for a program that was started with --cluster, until Ctrl-C.

    \b
    Example:
      yarnkite worker tcp://192.0.2.7:8786 --location card=/mnt/card
    """
    try:
        from yarnkite.jobs.cluster_worker import work
    except ImportError:
        raise Refusal(
            "no_cluster", "The cluster needs the package distributed. Run ./run worker, which brings it."
        ) from None
    mapped = {}
    for one in named:
        name, _, folder = one.partition("=")
        if not folder or not Path(folder).is_dir():
            raise click.UsageError(
                f"“{one}” is no location. Write its name and a folder of this machine: card=/mnt/card."
            )
        mapped[name] = Path(folder).resolve()
    work(scheduler, mapped, cores)
