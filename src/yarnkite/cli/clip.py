"""Making a verified clip of a folder."""

import argparse
import sys

from pydantic import ValidationError

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.order.decisions import Order
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.services.clip import make, size_of


def clip(options: argparse.Namespace) -> int:
    """Make a verified clip of a folder of stills."""
    folder, target = options.folder.resolve(), options.clip.resolve()
    if not folder.is_dir():
        raise Refusal("no_such_folder", f"{folder} is not a folder. Give the folder the stills lie in.")
    width, height = size_of(options.size)
    try:
        decisions = Decisions(
            order=Order(by=options.order),
            fit=Fit(size=Size(width=width, height=height), how="contain" if options.contain else "cover"),
            pace=Pace(rate=options.rate, hold=options.hold),
        )
    except ValidationError as error:
        reasons = "; ".join(str(one["msg"]).removeprefix("Value error, ") for one in error.errors())
        raise Refusal("not_valid", f"This clip cannot be made: {reasons}") from None
    differences = make(
        folder, target, decisions, lambda text: print(text, flush=True), lambda text: print(text, file=sys.stderr)
    )
    print(f"{target.name}: verified" if not differences else "\n".join(map(str, differences)))
    return 1 if differences else 0
