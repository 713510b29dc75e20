"""Saying what a finished file holds, and whether that is what it was made of."""

from dataclasses import asdict
from pathlib import Path

import av.error
import click

from yarnkite.cli.reporting import DONE, Report, options
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.base.wording import size_text
from yarnkite.core.encode.decisions import FormatName
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.core.encode.probe import probe as probed

_PATH = click.Path(path_type=Path)


@click.command()
@click.argument("file", type=_PATH)
@click.option(
    "--against", type=_PATH, metavar="SAVED.json", help="Compare every frame with a shot or a reel that was saved."
)
@click.option("--stills", type=_PATH, help="The folder its stills lie in; by default the one SAVED.json lies in.")
@click.option(
    "--sounds", type=_PATH, help="Where a reel's sounds and pictures lie; by default “sounds” beside the stills."
)
@click.option("--format", "format_", type=click.Choice(list(FORMATS)), help="The file's format, if not the one saved.")
@options
def probe(
    file: Path,
    against: Path | None,
    stills: Path | None,
    sounds: Path | None,
    format_: FormatName | None,
    as_json: bool,
    quiet: bool,
) -> int:
    """Say what is in a FILE, all of which is decoded: frames, rate, size, length, colours, sound.

    With --against, every frame is painted anew and compared, and it ends with 3 where anything is not as saved.

    \b
    Examples:
      yarnkite probe morning.mp4 --json
      yarnkite probe morning.mp4 --against morning.json --stills /mnt/card
    """
    report = Report(as_json, quiet)
    if against is not None:
        return _proven(file, against, stills, sounds, format_, report)
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


def _proven(
    file: Path, against: Path, stills: Path | None, sounds: Path | None, format_: FormatName | None, report: Report
) -> int:
    # What renders is loaded only for who wants it.
    from yarnkite.cli.clip import ended
    from yarnkite.services.clip import Hearers
    from yarnkite.services.saved import prove_file

    for one in (file, against):
        if not one.is_file():
            raise Refusal("no_such_file", f"{one} is not a file.")
    folder = (stills or against.parent).resolve()
    with report.bar("frames") as tell:
        hearers = Hearers(report.say, report.warn, tell)
        made = prove_file(
            *(file.resolve(), against.resolve(), folder, hearers, format_), sounds=sounds and sounds.resolve()
        )
    return ended(made, report)
