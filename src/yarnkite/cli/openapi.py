"""Writing the OpenAPI document the browser's types are made from."""

import argparse
import json


def openapi(options: argparse.Namespace) -> None:
    """Write the OpenAPI document the browser's types are made from."""
    from yarnkite.api.app import create_app

    options.target.parent.mkdir(parents=True, exist_ok=True)
    options.target.write_text(json.dumps(create_app(None).openapi(), indent=1, sort_keys=True) + "\n")
