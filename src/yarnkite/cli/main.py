"""The command line: which commands there are, and how they end."""

import signal
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import import_module

import click
from click.shell_completion import CompletionItem

from yarnkite.cli.reporting import DONE, REFUSED
from yarnkite.core.base.errors import Refusal

# Command -> its module, and what the help says of it. A module is loaded when its command is called: what all of them
# together need takes longer to load than many a command to run.
COMMANDS = {
    "check": ("project", "Look for what went wrong while the stills of a FOLDER were taken."),
    "clip": ("clip", "Make a verified clip of a FOLDER of stills."),
    "demo": ("start", "Start the program with the demo shots."),
    "enter": ("start", "Print an address that lets a browser in."),
    "gather": ("project", "Make a shot of a FOLDER in a project, or add what is new in it."),
    "order": ("project", "Say in which order the stills of a FOLDER are to be shown, and why."),
    "paint": ("start", "Paint the demo shots into a FOLDER."),
    "plan": ("plan", "Work out a shoot: stills, interval, shooting time, length."),
    "probe": ("probe", "Say what is in a FILE, and whether it is what was saved."),
    "rename": ("project", "Show new names for the stills of a FOLDER, and rename them."),
    "render": ("clip", "Make the clip of a shot or a reel that was saved as a file."),
    "start": ("start", "Start the program."),
    "worker": ("start", "Render for a program that was started with --cluster."),
}
# These compute: what works for them begins while they are loaded.
_COMPUTING = {"clip", "render"}
_HIDDEN = {"camera": "camera", "openapi": "openapi"}


class LoadedWhenCalled(click.Group):
    """A group whose commands are loaded when they are called, and listed without being loaded."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        module = COMMANDS[cmd_name][0] if cmd_name in COMMANDS else _HIDDEN.get(cmd_name)
        if module is None:
            return None
        if cmd_name in _COMPUTING and not {"-h", "--help"} & set(sys.argv):
            from yarnkite.jobs.workers import begin_soon

            begin_soon()
        command: click.Command = getattr(import_module(f"yarnkite.cli.{module}"), cmd_name)
        return command

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        with formatter.section("Commands"):
            formatter.write_dl([(name, says) for name, (_, says) in COMMANDS.items()])

    def shell_complete(self, ctx: click.Context, incomplete: str) -> list[CompletionItem]:
        commands = [
            CompletionItem(name, help=says) for name, (_, says) in COMMANDS.items() if name.startswith(incomplete)
        ]
        return commands + click.Command.shell_complete(self, ctx, incomplete)


@contextmanager
def _ending_well(arguments: list[str]) -> Iterator[None]:
    """Have a signal to end do what Ctrl-C does to a command that computes: workers are ended, and what they leave is
    cleared away; and say what becomes of what was made."""
    if not _COMPUTING & set(arguments[:1]) or threading.current_thread() is not threading.main_thread():
        yield
        return
    before = signal.signal(signal.SIGTERM, signal.default_int_handler)
    try:
        yield
    except click.Abort:
        click.echo("Ended. What was rendered is used when the same command is given again.", err=True)
        raise
    finally:
        signal.signal(signal.SIGTERM, before)


@click.group(cls=LoadedWhenCalled, context_settings={"help_option_names": ["-h", "--help"], "max_content_width": 110})
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


def main(arguments: list[str] | None = None) -> int:
    """Run a command; returns the exit status."""
    try:
        with _ending_well(sys.argv[1:] if arguments is None else arguments):
            ended = yarnkite.main(arguments, prog_name="yarnkite", standalone_mode=False)
        return int(ended or DONE)
    except click.ClickException as error:
        error.show()
        return error.exit_code
    except click.Abort:
        return REFUSED
    except (Refusal, OSError) as error:
        click.echo(str(error), err=True)
        return REFUSED


if __name__ == "__main__":
    sys.exit(main())
