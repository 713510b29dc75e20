"""Writing the documents others build on: the OpenAPI one the browser's types are made from, and the schemas of saved
files."""

import json
from pathlib import Path

import click


@click.command(hidden=True)
@click.argument("target", type=click.Path(path_type=Path))
@click.option(
    "--saved", type=click.Choice(["shot", "reel"]), help="The schema of what is saved in place of the interface."
)
def openapi(target: Path, saved: str | None) -> None:
    """Write the OpenAPI document the browser's types are made from, or the JSON schema of saved shots or reels."""
    from yarnkite.api.app import create_app
    from yarnkite.core.reel.reel_file import ReelFile
    from yarnkite.core.render.shot_file import ShotFile

    schemas = {"shot": ShotFile.model_json_schema, "reel": ReelFile.model_json_schema}
    found = schemas[saved]() if saved else create_app(None).openapi()
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_text(json.dumps(found, indent=1, sort_keys=True) + "\n")
