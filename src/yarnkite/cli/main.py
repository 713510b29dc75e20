"""The command line: which commands there are, and how they end."""

import sys

import click

from yarnkite import roots
from yarnkite.cli.camera import camera
from yarnkite.cli.clip import clip, render
from yarnkite.cli.openapi import openapi
from yarnkite.cli.plan import plan
from yarnkite.cli.probe import probe
from yarnkite.cli.project import check, gather, order, rename
from yarnkite.cli.reporting import DONE, REFUSED
from yarnkite.cli.start import demo, paint, start, worker
from yarnkite.core.base.errors import Refusal
from yarnkite.store.server import DatabaseDidNotStart


@click.group(context_settings={"help_option_names": ["-h", "--help"], "max_content_width": 110})
def yarnkite() -> None:
    """Makes time-lapse clips from numbered still frames.

    \b
    Commands end with
      0  done
      1  not done; a sentence says why and what to do
      2  called in a way that is not known; --help shows how
      3  done, but there is something to look at: a clip that is not as planned, findings, names that cannot be

    Shell completion: eval "$(_YARNKITE_COMPLETE=bash_source yarnkite)", or zsh_source, fish_source.
    """


for command in (gather, order, rename, check, clip, render, probe, plan, start, demo, worker, paint, camera, openapi):
    yarnkite.add_command(command)


def main(arguments: list[str] | None = None) -> int:
    """Run a command; returns the exit status."""
    try:
        ended = yarnkite.main(arguments, prog_name="yarnkite", standalone_mode=False)
        return int(ended or DONE)
    except click.ClickException as error:
        error.show()
        return error.exit_code
    except click.Abort:
        return REFUSED
    except (Refusal, roots.UnusableRoot, DatabaseDidNotStart, OSError) as error:
        click.echo(error.sentence if isinstance(error, Refusal) else str(error), err=True)
        return REFUSED


if __name__ == "__main__":
    sys.exit(main())
