"""Saying what a finished file holds."""

from dataclasses import asdict
from pathlib import Path

import av.error
import click

from yarnkite.cli.reporting import DONE, Report, options
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.base.wording import size_text
from yarnkite.core.encode.probe import probe as probed


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@options
def probe(file: Path, as_json: bool, quiet: bool) -> int:
    """Say what is in a FILE, all of which is decoded: frames, rate, size, length, colours, sound.

    \b
    Example:
      yarnkite probe morning.mp4 --json
    """
    report = Report(as_json, quiet)
    try:
        facts = probed(file)
    except (av.error.FFmpegError, ValueError, OSError, IndexError) as error:
        raise Refusal("cannot_read", f"{file} cannot be read as a video or as frames: {error}.") from None
    rate = rate_label(facts.rate) if facts.rate else "uneven"
    report.say(
        f"{facts.frames:,} frames at {rate} fps, {facts.width} × {facts.height}, {duration_text(facts.seconds)}, "
        f"{facts.codec} {facts.profile} {facts.pixel_format} in {facts.container}, {size_text(facts.bytes)}"
    )
    if facts.timecode:
        report.say(f"Timecode begins at {facts.timecode}.")
    report.result(asdict(facts))
    return DONE
