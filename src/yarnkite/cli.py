"""The same work without a browser, and the commands that start the program."""

import argparse
import os
import sys
from pathlib import Path
from typing import get_args

from pydantic import ValidationError

from yarnkite import roots
from yarnkite.alone import alone_in
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.order.decisions import Order, OrderBy
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.services.clip import make, size_of
from yarnkite.store.server import DatabaseDidNotStart
from yarnkite.workspace import Workspace

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("YARNKITE_DATA", ROOT / "data"))
PAGES = ROOT / "web" / "dist"


def main(arguments: list[str] | None = None) -> int:
    """Run a command; returns the exit status."""
    options = _parser().parse_args(arguments)
    try:
        return int(options.command(options) or 0)
    except (Refusal, roots.UnusableRoot, DatabaseDidNotStart, OSError) as error:
        print(error, file=sys.stderr)
        return 1


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

            pages = PAGES if (PAGES / "index.html").exists() else None
            serve(services, pages, options.port, announce)
            print("\nEnding what was started …", flush=True)
        print("Everything is stopped. Your work is kept.", flush=True)


def paint(options: argparse.Namespace) -> None:
    """Paint the demo shots."""
    from yarnkite.demo.paint import paint_missing

    paint_missing(options.folder, lambda text: print(text, flush=True))


def clip(options: argparse.Namespace) -> int:
    """Make a verified clip of a folder of stills."""
    folder, target = options.folder.resolve(), options.clip.resolve()
    if not folder.is_dir():
        raise Refusal("no_such_folder", f"{folder} is not a folder. Give the folder the stills lie in.")
    width, height = size_of(options.size)
    try:
        decisions = Decisions(
            order=Order(by=options.order),
            fit=Fit(size=Size(width=width, height=height), how="contain" if options.contain else "cover"),
            pace=Pace(rate=options.rate, hold=options.hold),
        )
    except ValidationError as error:
        reasons = "; ".join(str(one["msg"]).removeprefix("Value error, ") for one in error.errors())
        raise Refusal("not_valid", f"This clip cannot be made: {reasons}") from None
    differences = make(
        folder, target, decisions, lambda text: print(text, flush=True), lambda text: print(text, file=sys.stderr)
    )
    print(f"{target.name}: verified" if not differences else "\n".join(map(str, differences)))
    return 1 if differences else 0


def openapi(options: argparse.Namespace) -> None:
    """Write the OpenAPI document the browser's types are made from."""
    import json

    from yarnkite.api.app import create_app

    options.target.parent.mkdir(parents=True, exist_ok=True)
    options.target.write_text(json.dumps(create_app(None).openapi(), indent=1, sort_keys=True) + "\n")


def _announce(address: str) -> None:
    print(f"\nYarn Kite is ready:  {address}\nCtrl-C ends it and everything it started.", flush=True)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="yarnkite", description="Makes time-lapse clips from numbered still frames.")
    commands = parser.add_subparsers(required=True)
    for name, demo in (("start", False), ("demo", True)):
        command = commands.add_parser(name, help="start the program" + (" with the demo shots" if demo else ""))
        command.add_argument("--place", type=Path, action="append", default=[], help="a folder stills may lie in")
        command.add_argument("--port", type=int, help="port on 127.0.0.1")
        command.add_argument("--data", type=Path, default=DATA, help="where everything is kept")
        command.set_defaults(command=start, demo=demo)
    command = commands.add_parser("paint", help="paint the demo shots into a folder")
    command.add_argument("folder", type=Path)
    command.set_defaults(command=paint)
    command = commands.add_parser("clip", help="make a clip of a folder of stills, without a browser")
    command.add_argument("folder", type=Path)
    command.add_argument("clip", type=Path)
    command.add_argument("--size", default="1920x1080")
    command.add_argument("--rate", default="25")
    command.add_argument("--hold", type=int, default=1)
    orders = [by for by in get_args(OrderBy) if by != "hand"]
    command.add_argument("--order", choices=orders, default="recommended", help="by what the stills are ordered")
    command.add_argument("--contain", action="store_true", help="show stills whole, with black edges")
    command.set_defaults(command=clip)
    command = commands.add_parser("openapi", help="write the OpenAPI document")
    command.add_argument("target", type=Path)
    command.set_defaults(command=openapi)
    return parser


if __name__ == "__main__":
    sys.exit(main())
