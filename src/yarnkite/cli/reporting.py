"""What commands say: sentences, a bar for long work, JSON for scripts, and how they end."""

import json
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from typing import Any

import click

# How a command ends: all done; refused, with a sentence; called wrongly (click's own); made, but not as planned.
DONE, REFUSED, DIFFERS = 0, 1, 3


@dataclass
class Report:
    """Where a command's words go: sentences to the screen, or one JSON object at the end; warnings to the error
    output."""

    as_json: bool = False
    quiet: bool = False
    _bar: Any = field(default=None, repr=False)

    def say(self, sentence: str) -> None:
        """Say something that went well."""
        if not (self.as_json or self.quiet):
            click.echo(sentence)

    def warn(self, sentence: str) -> None:
        """Say something that needs attention; it is never left out."""
        click.echo(sentence, err=True)

    def result(self, found: Any) -> None:
        """Say what came of a command to a script that asked for JSON."""
        if self.as_json:
            click.echo(json.dumps(found, ensure_ascii=False, indent=1, default=str))

    @contextmanager
    def bar(self, label: str) -> Iterator[Any]:
        """Show a bar with the time to go on a terminal while something long is done; gives who is told the count."""
        if self.as_json or self.quiet or not sys.stderr.isatty():
            yield lambda done, total: None
            return
        with click.progressbar(length=1, label=label, file=sys.stderr, show_eta=True, show_pos=True) as shown:

            def tell(done: int, total: int) -> None:
                shown.length = max(1, total)
                shown.update(done - shown.pos)

            yield tell


def options(command: Any) -> Any:
    """Give a command ``--json`` and ``--quiet``."""
    command = click.option("--json", "as_json", is_flag=True, help="Say the result as JSON.")(command)
    return click.option("--quiet", is_flag=True, help="Say only what needs attention.")(command)
