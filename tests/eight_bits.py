"""Pictures as tests compare them: rounded to 8 bits, whatever they were made with."""

from typing import Any

from yarnkite.core.image.pixels import EightBit, as_eight
from yarnkite.core.render import picture as pictures


def picture(*arguments: Any, **more: Any) -> EightBit:
    return as_eight(pictures.picture(*arguments, **more))


def fitted(*arguments: Any, **more: Any) -> EightBit:
    return as_eight(pictures.fitted(*arguments, **more))
