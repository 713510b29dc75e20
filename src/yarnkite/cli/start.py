"""Starting the program, with or without the demo shots."""

import argparse

from yarnkite import roots
from yarnkite.alone import alone_in
from yarnkite.workspace import Workspace


def start(options: argparse.Namespace) -> None:
    """Start the program, with demo data if asked for."""
    from yarnkite.serve import running, serve

    workspace = Workspace(options.data)
    with alone_in(workspace.folder) as held:
        roots.add(workspace, options.place)
        if options.demo:
            from yarnkite.demo.paint import paint_missing

            paint_missing(workspace.demo, lambda text: print(text, flush=True))
            roots.add(workspace, [workspace.demo])
        print("Starting the database …", flush=True)
        with running(workspace) as services:
            if options.demo:
                from yarnkite.demo.project import open_demo

                open_demo(services)

            def announce(address: str) -> None:
                held.announce(address)
                _announce(address)

            pages = options.pages if (options.pages / "index.html").exists() else None
            serve(services, pages, options.port, announce)
            print("\nEnding what was started …", flush=True)
        print("Everything is stopped. Your work is kept.", flush=True)


def _announce(address: str) -> None:
    print(f"\nYarn Kite is ready:  {address}\nCtrl-C ends it and everything it started.", flush=True)


def paint(options: argparse.Namespace) -> None:
    """Paint the demo shots."""
    from yarnkite.demo.paint import paint_missing

    paint_missing(options.folder, lambda text: print(text, flush=True))
