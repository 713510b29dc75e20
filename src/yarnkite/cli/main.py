"""The command line: which commands there are, and what they are given."""

import argparse
import os
import sys
from pathlib import Path
from typing import get_args

from yarnkite import roots
from yarnkite.cli.clip import clip
from yarnkite.cli.openapi import openapi
from yarnkite.cli.start import paint, start
from yarnkite.core.base.errors import Refusal
from yarnkite.core.order.decisions import OrderBy
from yarnkite.store.server import DatabaseDidNotStart

ROOT = Path(__file__).resolve().parents[3]
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


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="yarnkite", description="Makes time-lapse clips from numbered still frames.")
    commands = parser.add_subparsers(required=True)
    for name, demo in (("start", False), ("demo", True)):
        command = commands.add_parser(name, help="start the program" + (" with the demo shots" if demo else ""))
        command.add_argument("--place", type=Path, action="append", default=[], help="a folder stills may lie in")
        command.add_argument("--port", type=int, help="port on 127.0.0.1")
        command.add_argument("--data", type=Path, default=DATA, help="where everything is kept")
        command.set_defaults(command=start, demo=demo, pages=PAGES)
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
