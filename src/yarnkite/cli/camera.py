"""The simulated camera, as a process of its own."""

from datetime import UTC, datetime

import click


@click.command(hidden=True)
@click.option("--port", type=int, default=0, help="Port on 127.0.0.1; 0 takes a free one.")
@click.option("--scene", type=click.Choice(["pellow", "plain"]), default="pellow", show_default=True)
@click.option("--since", help="When the scene begins, ISO 8601; now by default.")
@click.option("--lasts", type=float, default=240.0, show_default=True, help="How many seconds the scene's day takes.")
@click.option("--width", type=int, default=1500, show_default=True, help="Pixels across a still.")
@click.option("--card", type=int, default=20_000, show_default=True, help="Stills that fit on the card.")
@click.option("--charge", type=int, default=30_000, show_default=True, help="Stills the battery lasts.")
@click.option("--writing", type=float, default=0.05, show_default=True, help="Seconds the card takes to write one.")
@click.option(
    "--drift", type=float, default=20.0, show_default=True, help="How wrong its clock runs, parts in a million."
)
def camera(
    port: int,
    scene: str,
    since: str | None,
    lasts: float,
    width: int,
    card: int,
    charge: int,
    writing: float,
    drift: float,
) -> None:
    """Be a simulated camera until the standard input ends; the first line printed is its address."""
    from yarnkite.demo.camera import Device, Scene, plain, serve
    from yarnkite.demo.pellow_reach import paint

    begins = datetime.fromisoformat(since) if since else datetime.now(UTC)
    shown = Scene(paint if scene == "pellow" else plain, begins, lasts)
    device = Device(shown, width, card, charge, writing, drift)
    serve(device, port, lambda address: print(address, flush=True))
