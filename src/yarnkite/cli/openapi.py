"""Writing the documents others build on: the OpenAPI one the browser's types are made from, and the schema of shot files."""

import json
from pathlib import Path

import click


@click.command(hidden=True)
@click.argument("target", type=click.Path(path_type=Path))
@click.option("--shot-file", is_flag=True, help="The schema of saved shots in place of the interface's document.")
def openapi(target: Path, shot_file: bool) -> None:
    """Write the OpenAPI document the browser's types are made from, or the JSON schema of saved shots."""
    from yarnkite.api.app import create_app
    from yarnkite.core.render.shot_file import ShotFile

    found = ShotFile.model_json_schema() if shot_file else create_app(None).openapi()
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_text(json.dumps(found, indent=1, sort_keys=True) + "\n")
