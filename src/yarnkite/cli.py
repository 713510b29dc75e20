"""The same work without a browser, and the commands that start the program."""

import argparse
import os
import sys
from collections import Counter
from pathlib import Path

from yarnkite import places
from yarnkite.core.brief import brief
from yarnkite.core.encode import chunks, clip_plan, join, render_chunk
from yarnkite.core.errors import Refusal, UnreadableStill
from yarnkite.core.header import read_header
from yarnkite.core.order import natural_order
from yarnkite.core.places import files_below
from yarnkite.core.probe import probe, verify
from yarnkite.core.recipe import Decisions, Fit, Pace, Recipe, Size, Still
from yarnkite.core.sorting import sort_out
from yarnkite.core.stills import read_bytes
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
    except (Refusal, places.UnusablePlace, DatabaseDidNotStart, OSError) as error:
        print(error, file=sys.stderr)
        return 1


def start(options: argparse.Namespace) -> None:
    """Start the program, with demo data if asked for."""
    from yarnkite.serve import running, serve

    workspace = Workspace(options.data)
    workspace.create()
    places.remember(workspace, options.place)
    if options.demo:
        from yarnkite.demo.paint import paint_missing

        paint_missing(workspace.demo, lambda text: print(text, flush=True))
        places.remember(workspace, [workspace.demo])
    print("Starting the database …", flush=True)
    with running(workspace) as services:
        if options.demo:
            from yarnkite.demo.project import open_demo

            open_demo(services)
        pages = PAGES if (PAGES / "index.html").exists() else None
        serve(services, pages, options.port, _announce)
        print("\nEnding what was started …", flush=True)
    print("Everything is stopped. Your work is kept.", flush=True)


def paint(options: argparse.Namespace) -> None:
    """Paint the demo shots."""
    from yarnkite.demo.paint import paint_missing

    paint_missing(options.folder, lambda text: print(text, flush=True))


def clip(options: argparse.Namespace) -> int:
    """Make a verified clip of a folder of stills."""
    folder, target = options.folder.resolve(), options.clip.resolve()
    decisions = Decisions(
        fit=Fit(size=_size(options.size), how="contain" if options.contain else "cover"),
        pace=Pace(rate=options.rate, hold=options.hold),
    )
    recipe = Recipe(stills=tuple(_stills(folder)), decisions=decisions)
    clip_plan(recipe)
    print(brief(Counter((still.width, still.height) for still in recipe.stills), decisions))
    parts_folder = target.with_name(f"{target.stem}.chunks")
    parts_folder.mkdir(parents=True, exist_ok=True)
    parts = []
    for chunk in chunks(recipe):
        parts.append(render_chunk(recipe, chunk, parts_folder))
        print(f"{chunk.first + chunk.frames} of {clip_plan(recipe).frames} frames", flush=True)
    join(recipe, parts, target)
    for part in parts:
        part.unlink(missing_ok=True)
    parts_folder.rmdir()
    differences = verify(probe(target), clip_plan(recipe))
    print(f"{target.name}: verified" if not differences else "\n".join(map(str, differences)))
    return 1 if differences else 0


def openapi(options: argparse.Namespace) -> None:
    """Write the OpenAPI document the browser's types are made from."""
    import json

    from yarnkite.api.app import create_app

    options.target.parent.mkdir(parents=True, exist_ok=True)
    options.target.write_text(json.dumps(create_app(None).openapi(), indent=1, sort_keys=True) + "\n")


def _stills(folder: Path) -> list[Still]:
    found, left_out = sort_out(folder, list(files_below(folder, folder)))
    reasons = [file.reason for file in left_out]
    stills = []
    for index in natural_order([file.name for file in found]):
        path = folder / found[index].name
        try:
            header = read_header(read_bytes(path), path.name)
        except UnreadableStill as refusal:
            reasons.append(refusal.sentence)
            continue
        stills.append(Still(path=str(path), fingerprint=found[index].name, width=header.width, height=header.height))
    for reason in reasons:
        print(reason, file=sys.stderr)
    return stills


def _size(text: str) -> Size:
    width, _, height = text.lower().partition("x")
    try:
        return Size(width=int(width), height=int(height))
    except ValueError:
        raise Refusal("size_not_usable", f"“{text}” is not a size. Write 1920x1080; both sides are even.") from None


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
    command.add_argument("--contain", action="store_true", help="show stills whole, with black edges")
    command.set_defaults(command=clip)
    command = commands.add_parser("openapi", help="write the OpenAPI document")
    command.add_argument("target", type=Path)
    command.set_defaults(command=openapi)
    return parser


if __name__ == "__main__":
    sys.exit(main())
