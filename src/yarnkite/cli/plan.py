"""The sums before shooting."""

from fractions import Fraction

import click

from yarnkite.cli.reporting import DONE, Report, options
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.plan.advice import sums_text
from yarnkite.core.plan.reading import parse_duration
from yarnkite.core.plan.sums import Quantity, solve


@click.command()
@click.option("--rate", default="25", show_default=True, help="Frames a second of the clip.")
@click.option("--clip", help="Wanted length of the clip, such as 12 or “1 min 30 s”.")
@click.option("--stills", type=int, help="How many stills are taken.")
@click.option("--interval", help="From one exposure to the next, such as 5 or “2 min”.")
@click.option("--shooting", help="From the first exposure to the last, such as “2 h 30 min”.")
@click.option("--speed", type=float, help="How many times as fast as life.")
@options
def plan(
    rate: str,
    clip: str | None,
    stills: int | None,
    interval: str | None,
    shooting: str | None,
    speed: float | None,
    as_json: bool,
    quiet: bool,
) -> int:
    """Work out a shoot: give two of clip or stills, interval, shooting time and speed.

    \b
    Example:
      yarnkite plan --clip 12 --interval 5
    """
    report = Report(as_json, quiet)

    typed: dict[Quantity, str | None] = {"clip": clip, "interval": interval, "shooting": shooting}
    asked: dict[Quantity, Fraction] = {"rate": parse_rate(rate)}
    asked |= {name: parse_duration(text) for name, text in typed.items() if text is not None}
    if stills is not None:
        asked["stills"] = Fraction(stills)
    if speed is not None:
        asked["speed"] = Fraction(str(speed))
    found = solve(asked)
    report.say(sums_text(found))
    report.result(
        {
            "stills": found.stills,
            "rate": str(found.rate),
            "interval_s": float(found.interval_s),
            "shooting_s": float(found.shooting_s),
            "clip_s": float(found.clip_s),
            "speed_up": float(found.speed_up),
        }
    )
    return DONE
