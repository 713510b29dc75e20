"""``./run bench [encode] [formats] [kinds] [cores] [cluster] [gather] [growing] [fit] [light] [move] [offload] [order]
[screen] [check] [capture] [command] [pages] [play] [reel] [scale] [timecode]``: all measurements, or those named."""

import sys

from bench import (
    capture,
    check,
    cluster,
    command,
    cores,
    encode,
    fit,
    formats,
    gather,
    growing,
    kinds,
    light,
    move,
    offload,
    order,
    pages,
    play,
    reel,
    scale,
    screen,
    timecode,
)
from yarnkite.cli.start import DATA

MEASUREMENTS = {
    "encode": encode.run,
    "formats": formats.run,
    "kinds": kinds.run,
    "cores": cores.run,
    "cluster": cluster.run,
    "gather": gather.run,
    "growing": growing.run,
    "fit": fit.run,
    "light": light.run,
    "move": move.run,
    "offload": offload.run,
    "order": order.run,
    "screen": screen.run,
    "check": check.run,
    "capture": capture.run,
    "command": command.run,
    "pages": pages.run,
    "play": play.run,
    "reel": reel.run,
    "scale": scale.run,
    "timecode": timecode.run,
}

if __name__ == "__main__":
    wanted = sys.argv[1:] or list(MEASUREMENTS)
    unknown = [name for name in wanted if name not in MEASUREMENTS]
    if unknown:
        sys.exit(f"There is no measurement “{unknown[0]}”; there are {', '.join(MEASUREMENTS)}.")
    for name in wanted:
        MEASUREMENTS[name](DATA / "bench")
