"""Making a verified clip: of a folder, or of a shot that was saved as a file."""

from pathlib import Path
from typing import Any, get_args

import click
from pydantic import ValidationError

from yarnkite.cli.reporting import DIFFERS, DONE, Report, options
from yarnkite.core.base.errors import Conflict, Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.decisions import Aim, Container, DynamicRange, Effort, Encode, ProfileName
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.core.encode.purposes import PURPOSES, QUALITIES
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.order.decisions import Order, OrderBy
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.services.clip import Hearers, MadeClip, make, size_of

_PATH = click.Path(path_type=Path)
_QUALITIES = {one.name.replace(" ", "-"): one.crf for one in QUALITIES}
_PURPOSES = {one.name.replace(" ", "-"): one for one in PURPOSES}


def encode_options(command: Any) -> Any:
    """Give a command all that decides how frames become a file."""
    for option in reversed(
        [
            click.option("--for", "purpose", type=click.Choice(list(_PURPOSES)), help="What it is for: sets the rest."),
            click.option("--format", "format_", type=click.Choice(list(FORMATS)), help="The format of the file."),
            click.option("--container", type=click.Choice(get_args(Container)), help="The kind of file it is in."),
            click.option("--quality", help=f"{', '.join(_QUALITIES)}, or a number on x264's crf scale."),
            click.option("--megabytes", type=float, help="A wanted size in place of a quality."),
            click.option("--mbits", type=float, help="A wanted bit rate in Mbit a second in place of a quality."),
            click.option("--most-mbits", type=float, help="A ceiling of the bit rate."),
            click.option("--effort", type=click.Choice(get_args(Effort)), help="How hard the encoder tries."),
            click.option("--range", "range_", type=click.Choice(get_args(DynamicRange)), help="Range of brightness."),
            click.option("--profile", type=click.Choice(get_args(ProfileName)), help="Colour profile of stills."),
            click.option("--ppi", type=int, help="Pixels per inch of stills."),
            click.option("--start", help="Timecode of the first frame, such as 01:00:00:00."),
            click.option("--title", help="A title in the file."),
            click.option("--comment", help="A comment in the file."),
            click.option("--stretch", help="Only these frames, such as 100-150, counted from 1."),
            click.option("--force", is_flag=True, help="Replace a file of this name."),
        ]
    ):
        command = option(command)
    return command


def encode_of(given: dict[str, Any], begin: Encode = Encode()) -> Encode:
    """Return the decisions that options make; raises ``Refusal`` for what does not go together."""
    purpose = given.get("purpose")
    before = (_PURPOSES[purpose].applied(begin) if purpose else begin).model_dump()
    names = {"format_": "format", "range_": "range", "effort": "preset"}
    same = ("container", "profile", "ppi", "start", "title", "comment")
    wanted = {name: given[option] for option, name in names.items() if given.get(option) is not None}
    wanted |= {name: given[name] for name in same if given.get(name) is not None}
    if given.get("quality") is not None:
        wanted["crf"] = _QUALITIES.get(given["quality"], given["quality"])
    aim = {name: given[name] for name in ("megabytes", "mbits", "most_mbits") if given.get(name) is not None}
    if "megabytes" in aim and "mbits" in aim:
        raise click.UsageError("Give --megabytes or --mbits, not both.")
    if aim:
        by = {"by": "size"} if "megabytes" in aim else {"by": "rate"} if "mbits" in aim else {}
        wanted["aim"] = before["aim"] | aim | by
    try:
        encode = Encode.model_validate(before | wanted)
        Aim.model_validate(encode.aim.model_dump())
        return encode
    except ValidationError as error:
        raise _not_valid(error) from None


def stretch_of(text: str | None) -> tuple[int, int] | None:
    """Read frames such as ``100-150``, counted from 1; returns the first and the one after the last, from 0."""
    if text is None:
        return None
    first, _, last = text.partition("-")
    try:
        return int(first) - 1, int(last or first)
    except ValueError:
        raise click.UsageError(f"“{text}” is no stretch of frames. Write 100-150.") from None


@click.command()
@click.argument("folder", type=_PATH)
@click.argument("target", type=_PATH, metavar="CLIP")
@click.option("--size", default="1920x1080", show_default=True, help="Width and height in pixels.")
@click.option("--rate", default="25", show_default=True, help="Frames a second, such as 25, 29.97 or 24000/1001.")
@click.option("--hold", default=1, show_default=True, help="Frames each still stays.")
@click.option("--length", help="A wanted length in seconds: stills are thinned evenly to meet it.")
@click.option("--fit", type=click.Choice(["cover", "contain", "stretch"]), default="cover", show_default=True)
@click.option("--contain", is_flag=True, hidden=True)
@click.option(
    "--order",
    type=click.Choice([by for by in get_args(OrderBy) if by != "hand"]),
    default="recommended",
    show_default=True,
    help="By what the stills are ordered.",
)
@encode_options
@options
def clip(folder: Path, target: Path, as_json: bool, quiet: bool, **given: Any) -> int:
    """Make a verified clip of a FOLDER of stills, on all cores; what a broken-off run made is used again.

    \b
    Examples:
      yarnkite clip card/ morning.mp4 --size 3840x2160 --rate 24
      yarnkite clip card/ morning.mov --for cut-it-further
      yarnkite clip card/ morning.mp4 --megabytes 20 --length 12
      yarnkite clip card/ frames.zip --format tiff --profile "Display P3"
    """
    report = Report(as_json, quiet)
    source, target = folder.resolve(), target.resolve()
    if not source.is_dir():
        raise Refusal("no_such_folder", f"{folder} is not a folder. Give the folder the stills lie in.")
    width, height = size_of(given["size"])
    try:
        decisions = Decisions(
            order=Order(by=given["order"]),
            fit=Fit(size=Size(width=width, height=height), how="contain" if given["contain"] else given["fit"]),
            pace=Pace(rate=given["rate"], hold=given["hold"]),
            encode=encode_of(given),
        )
    except ValidationError as error:
        raise _not_valid(error) from None
    _check_target(target, decisions.encode, force=given["force"])
    with report.bar("frames") as tell:
        hearers = Hearers(report.say, report.warn, tell)
        made = make(source, target, decisions, hearers, stretch_of(given["stretch"]), length=given["length"])
    return ended(made, report)


@click.command()
@click.argument("file", type=_PATH, metavar="SAVED.json")
@click.argument("target", type=_PATH, metavar="CLIP")
@click.option("--stills", type=_PATH, help="The folder the stills lie in; by default the one the file lies in.")
@click.option(
    "--sounds", type=_PATH, help="Where a reel's sounds and pictures lie; by default “sounds” beside the stills."
)
@encode_options
@options
def render(
    file: Path, target: Path, stills: Path | None, sounds: Path | None, as_json: bool, quiet: bool, **given: Any
) -> int:
    """Make the clip of a shot or a reel that was saved by the page, exactly as it is decided there.

    \b
    Examples:
      yarnkite render reach.json reach.mp4 --stills /mnt/card
      yarnkite render reach.json reach.mov --format prores-hq --stretch 1-50
      yarnkite render evening.json evening.mp4 --stills /mnt/cards --sounds data/sounds
    """
    from yarnkite.services.saved import render_file

    report = Report(as_json, quiet)
    if not file.is_file():
        raise Refusal("no_such_file", f"{file} is not a file. Give a shot that was saved by the page.")
    asked = {"purpose", "format_", "quality", "megabytes", "mbits", "most_mbits", "effort", "range_", "profile", "ppi"}
    asked |= {"container", "start", "title", "comment"}
    encode = encode_of(given) if any(given.get(name) is not None for name in asked) else None
    folder, target = (stills or file.parent).resolve(), target.resolve()
    if target.exists() and not given["force"]:
        raise _exists(target)
    with report.bar("frames") as tell:
        hearers = Hearers(report.say, report.warn, tell)
        made = render_file(
            file.resolve(),
            folder,
            target,
            hearers,
            encode,
            sounds=sounds and sounds.resolve(),
            stretch=stretch_of(given["stretch"]),
        )
    return ended(made, report)


def _check_target(target: Path, encode: Encode, *, force: bool) -> None:
    format = FORMATS[encode.format]
    if target.suffix.lower().lstrip(".") not in format.containers:
        endings = " or ".join(f".{one}" for one in format.containers)
        raise Refusal("name_not_usable", f"{format.title} is written into {endings}, not into “{target.name}”.")
    if target.exists() and not force:
        raise _exists(target)


def _exists(target: Path) -> Conflict:
    return Conflict(
        "file_exists", f"There is a {target.name} already. Choose another name, or replace it with --force."
    )


def ended(made: MadeClip, report: Report) -> int:
    """Say what comparing a clip gave, and return what the command ends with."""
    verdict = made.verdict
    differences = [str(one) for one in verdict.differences]
    if differences:
        report.warn("\n".join(differences))
    else:
        report.say(f"{made.path.name}: verified. {made.evidence}.")
    report.result(
        {
            "file": str(made.path),
            "verified": not differences,
            "differences": differences,
            "evidence": made.evidence,
            "frames": verdict.facts.frames,
            "rate": str(verdict.facts.rate),
            "bytes": verdict.facts.bytes,
            "lowest_likeness": round(verdict.evidence.lowest, 4),
        }
    )
    return DIFFERS if differences else DONE


def _not_valid(error: ValidationError) -> Refusal:
    reasons = "; ".join(str(one["msg"]).removeprefix("Value error, ") for one in error.errors())
    return Refusal("not_valid", f"This clip cannot be made: {reasons}")
