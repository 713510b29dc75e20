"""``./run bench [encode] [gather] [order] [screen] [check]``: all measurements, or those named."""

import sys

from bench import check, encode, gather, order, screen
from yarnkite.cli import DATA

MEASUREMENTS = {
    "encode": encode.run,
    "gather": gather.run,
    "order": order.run,
    "screen": screen.run,
    "check": check.run,
}

if __name__ == "__main__":
    wanted = sys.argv[1:] or list(MEASUREMENTS)
    unknown = [name for name in wanted if name not in MEASUREMENTS]
    if unknown:
        sys.exit(f"There is no measurement “{unknown[0]}”; there are {', '.join(MEASUREMENTS)}.")
    for name in wanted:
        MEASUREMENTS[name](DATA / "bench")
