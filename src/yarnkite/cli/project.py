"""Working with the shots of a project: gathering, order, renaming, checking. The program must not be running."""

import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict
from pathlib import Path
from typing import Any

import click

from yarnkite import locations
from yarnkite.alone import alone_in
from yarnkite.cli.reporting import DIFFERS, DONE, Report, options
from yarnkite.core.base.errors import Refusal
from yarnkite.core.order.analysis import analyse
from yarnkite.core.order.breaks import breaks
from yarnkite.core.order.renaming import DEFAULT, Pattern, PatternPart
from yarnkite.core.render.decisions import Decisions
from yarnkite.services import check as checks
from yarnkite.services import gather as gathering
from yarnkite.services import order as orders
from yarnkite.services import projects
from yarnkite.services import rename as renames
from yarnkite.services.clip import computing, stills_of
from yarnkite.services.running import Services
from yarnkite.store import jobs
from yarnkite.workspace import Workspace

_PATH = click.Path(path_type=Path)
_POLL_S = 0.2
_PROJECT = "From the command line"


def data_option(command: Any) -> Any:
    """Give a command the data folder it works in, and the project."""
    from yarnkite.cli.start import DATA

    command = click.option("--data", type=_PATH, default=DATA, help="Where everything is kept.")(command)
    return click.option("--project", default=_PROJECT, show_default=True, help="The project a new shot goes into.")(
        command
    )


@contextmanager
def gathered(folder: Path, data: Path, project: str, report: Report) -> Iterator[tuple[Services, int]]:
    """Give the services and the shot of a folder, gathered with all that is new in it."""
    from yarnkite.serve import running

    source = folder.resolve()
    if not source.is_dir():
        raise Refusal("no_such_folder", f"{folder} is not a folder. Give the folder the stills lie in.")
    workspace = Workspace(data)
    with alone_in(workspace.folder):
        locations.add(workspace, [source])
        with running(workspace) as services:
            location = next(one for one in services.locations if one.folder.resolve() == source)
            known = next((row for row in projects.every(services) if row["name"] == project), None)
            owner = known or projects.add(services, project)
            begun = gathering.gather_folder(services, owner["id"], location.name, "", copy_files=False)
            _wait(services, begun.job["id"], report, "stills")
            yield services, begun.shot_id


def _wait(services: Services, job_id: int, report: Report, what: str) -> None:
    with report.bar(what) as tell:
        while (row := jobs.one(services.database, job_id))["state"] in ("waiting", "running"):
            tell(row["done"], row["total"])
            time.sleep(_POLL_S)
    if row["state"] != "finished":
        raise Refusal("job_failed", row["message"] or "The work was cancelled.")


@click.command()
@click.argument("folder", type=_PATH)
@data_option
@options
def gather(folder: Path, data: Path, project: str, as_json: bool, quiet: bool) -> int:
    """Make a shot of a FOLDER in a project, or add what is new in it.

    \b
    Example:
      yarnkite gather /mnt/card/reach --project "Morning tide"
    """
    report = Report(as_json, quiet)
    with gathered(folder, data, project, report) as (services, shot_id):
        listed = orders.listed(services, shot_id, 0)
        report.say(f"Shot {shot_id}: {listed.found}")
        for one in listed.left_out:
            report.warn(one["reason"] if isinstance(one, dict) else one.reason)
        report.result({"shot": shot_id, "stills": len(listed.stills), "left_out": len(listed.left_out)})
    return DONE


@click.command()
@click.argument("folder", type=_PATH)
@options
def order(folder: Path, as_json: bool, quiet: bool) -> int:
    """Say in which order the stills of a FOLDER are to be shown, why, and what breaks it; needs no project.

    \b
    Example:
      yarnkite order /mnt/card/reach --json
    """
    report = Report(as_json, quiet)
    if not folder.is_dir():
        raise Refusal("no_such_folder", f"{folder} is not a folder. Give the folder the stills lie in.")
    with computing() as workers:
        source = stills_of(folder.resolve(), Decisions(), workers, compares=True)
    for sentence in source.left_out:
        report.warn(sentence)
    again = analyse(source.taken)
    found = breaks(source.taken, range(len(source.taken)), again.numbering)
    report.say(source.reason)
    for one in found:
        report.say(one.sentence)
    report.result(
        {
            "by": source.analysis.recommended,
            "reason": source.reason,
            "names": [one.name for one in source.taken],
            "breaks": [asdict(one) for one in found],
        }
    )
    return DONE


@click.command()
@click.argument("folder", type=_PATH)
@click.option("--prefix", help="What new names begin with; by default the name of the shot.")
@click.option("--start", default=1, show_default=True, help="The first number.")
@click.option("--digits", default=0, help="How many digits; by default as many as are needed.")
@click.option("--do", "carry_out", is_flag=True, help="Rename the files; without it the plan is only shown.")
@click.option("--undo", is_flag=True, help="Give the files of the newest rename their old names back.")
@data_option
@options
def rename(folder: Path, data: Path, project: str, as_json: bool, quiet: bool, **given: Any) -> int:
    """Show new names for the stills of a FOLDER and what goes with them, numbered in order; with --do, rename them.

    \b
    Examples:
      yarnkite rename card/ --prefix reach_
      yarnkite rename card/ --prefix reach_ --do
      yarnkite rename card/ --undo
    """
    report = Report(as_json, quiet)
    with gathered(folder, data, project, report) as (services, shot_id):
        if given["undo"]:
            count = renames.take_back(services, shot_id)
            report.say(f"{count:,} files have their old names again.")
            report.result({"taken_back": count})
            return DONE
        pattern = _pattern(given["prefix"], given["start"], given["digits"])
        planned = renames.shown(services, shot_id, pattern, aside=True)
        for line in planned.lines:
            report.say(
                f"{line.old} → "
                f"{line.new}{f'   ({line.problem or line.warning})' if line.problem or line.warning else ''}"
            )
        done = 0
        if given["carry_out"]:
            done = renames.carry_out(services, shot_id, pattern, planned.digest, aside=True)
            report.say(f"{done:,} files renamed. Take it back with --undo.")
        else:
            report.say(
                f"{planned.changes:,} files would be renamed, "
                f"{planned.problems:,} cannot. Nothing is changed without --do."
            )
        report.result(
            {"lines": [asdict(line) for line in planned.lines], "problems": planned.problems, "renamed": done}
        )
    return DIFFERS if planned.problems else DONE


def _pattern(prefix: str | None, start: int, digits: int) -> Pattern:
    counter = PatternPart(kind="counter", start=start, digits=digits)
    begin = DEFAULT[:-1] if prefix is None else (PatternPart(kind="text", text=prefix),)
    return (*begin, counter)


@click.command()
@click.argument("folder", type=_PATH)
@data_option
@options
def check(folder: Path, data: Path, project: str, as_json: bool, quiet: bool) -> int:
    """Look for what went wrong while the stills of a FOLDER were taken; ends with 3 where there is something to look
    at.

    \b
    Example:
      yarnkite check /mnt/card/reach --json | jq '.findings[].sentence'
    """
    report = Report(as_json, quiet)
    with gathered(folder, data, project, report) as (services, shot_id):
        while (result := checks.found(services, shot_id)).measuring:
            time.sleep(_POLL_S)
        for one in result.findings:
            report.say(f"stills {one.first + 1:,} to {one.last + 1:,}: {one.finding.sentence}")
        if not result.findings:
            report.say("Nothing was found.")
        report.result(
            {
                "shot": shot_id,
                "findings": [
                    asdict(one.finding) | {"first": one.first, "last": one.last, "key": one.finding.key}
                    for one in result.findings
                ],
            }
        )
    return DIFFERS if result.findings else DONE
