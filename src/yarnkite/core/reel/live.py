"""Live text: a running clock, a date, days counted, and by how much time is compressed."""

from datetime import UTC, datetime
from fractions import Fraction

from yarnkite.core.reel.decisions import Title

_DAY_S = 86400


def _passing(seconds: float) -> str:
    """Write seconds of a day in the largest unit there is more than one of, to two digits."""
    for unit, name in ((_DAY_S, "days"), (3600, "h"), (60, "min")):
        if seconds >= 1.5 * unit:
            amount = seconds / unit
            return f"{amount:.2g} {name}" if amount < 9.5 else f"{amount:,.0f} {name}"
    return f"{seconds:.2g} s" if seconds < 9.5 else f"{seconds:.0f} s"


def live_text(title: Title, moment: float | None, first: float | None, a_second: Fraction | None) -> str:
    """Return what a live title says.

    Parameters
    ----------
    moment : when the still that is shown was taken, in seconds of the local clock since 1970
    first : when the first still of its clip was taken
    a_second : how many seconds of the day pass in a second of the video

    Returns
    -------
    nothing where it is not known
    """
    if title.kind == "compression":
        return "" if a_second is None else f"1 s = {_passing(float(a_second))}"
    if moment is None:
        return ""
    when = datetime.fromtimestamp(moment, UTC)
    if title.kind == "clock":
        return f"{when:%H:%M}"
    if title.kind == "date":
        return f"{when.day} {when:%B %Y}"
    begun = moment if first is None else first
    return f"Day {int(moment // _DAY_S - begun // _DAY_S) + 1}"
