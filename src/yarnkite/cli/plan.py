"""The sums before shooting."""

from fractions import Fraction

import click

from yarnkite.cli.reporting import DONE, Report, options
from yarnkite.core.base.rate import parse_rate, rate_label
from yarnkite.core.base.timecode import duration_text, span_text
from yarnkite.core.plan.sums import shooting_plan


@click.command()
@click.option("--rate", default="25", show_default=True, help="Frames a second of the clip.")
@click.option("--clip", type=float, help="Wanted length of the clip in seconds.")
@click.option("--stills", type=int, help="How many stills are taken.")
@click.option("--interval", type=float, help="Seconds from one exposure to the next.")
@click.option("--shooting", type=float, help="Seconds from the first exposure to the last.")
@options
def plan(
    rate: str,
    clip: float | None,
    stills: int | None,
    interval: float | None,
    shooting: float | None,
    as_json: bool,
    quiet: bool,
) -> int:
    """Work out a shoot: give two of clip or stills, interval, and shooting time.

    \b
    Example:
      yarnkite plan --clip 12 --interval 5
    """
    report = Report(as_json, quiet)

    def exact(value: float | None) -> Fraction | None:
        return None if value is None else Fraction(str(value))

    found = shooting_plan(
        parse_rate(rate), clip_s=exact(clip), stills=stills, interval_s=exact(interval), shooting_s=exact(shooting)
    )
    report.say(
        f"{found.stills:,} stills {float(found.interval_s):g} s apart take {span_text(found.shooting_s)} and give "
        f"{duration_text(found.clip_s)} at {rate_label(found.rate)} fps: {float(found.speed_up):,.4g} times as fast as life."
    )
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
