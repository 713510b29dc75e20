"""Reading of a still, in a worker, what a clip of a folder is made by; no pixel is decoded."""

from pathlib import Path

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.safe_open import safe_open
from yarnkite.core.base.still import Still
from yarnkite.core.gather.locations import clock_of
from yarnkite.core.image.decode import header_and_data
from yarnkite.core.order.breaks import Taken


def read_still_facts(folder: Path, name: str) -> tuple[Still, Taken]:
    """Read, in a worker, what tells a still from another and where in the order it belongs."""
    with safe_open(folder / name) as file:
        header, _ = header_and_data(file)
        fingerprint = file.fingerprint()
        file.check_unchanged()
        still = Still(
            path=str(folder / name),
            fingerprint=fingerprint,
            width=header.width,
            height=header.height,
            bytes=file.size,
            modified_ns=file.modified_ns,
        )
        captured = header.captured
        return still, Taken(name, universal_time(captured), clock_of(file.modified_ns), fingerprint)
