"""Stills that come later: whether they only continue the order there is, so that nothing before them changes."""

import re
from collections.abc import Sequence
from itertools import pairwise

from yarnkite.core.base.counter import parts
from yarnkite.core.order.breaks import Taken
from yarnkite.core.order.natural import natural_key

_DIGITS = re.compile(r"\d+")


def is_ascending(stills: Sequence[Taken]) -> bool:
    """Tell whether names and capture times of stills, in the order they are in, both only rise.

    Then every order but that by the files' dates and that of names as text is this one. Stills without any capture time
    may have none at all.
    """
    keys = [natural_key(still.name) for still in stills]
    named = all(before < after for before, after in pairwise(keys))
    return named and all(_is_later(before, after) for before, after in pairwise(stills))


def continues(last: Taken, still: Taken) -> bool:
    """Tell whether a still comes after the last one by its name, numbered like it in its folder, and by its time."""
    return (
        _pattern(last.name) == _pattern(still.name)
        and natural_key(last.name) < natural_key(still.name)
        and _is_later(last, still)
    )


def _is_later(before: Taken, after: Taken) -> bool:
    if before.captured is None or after.captured is None:
        return before.captured is after.captured
    return before.captured < after.captured


def _pattern(name: str) -> tuple[str, str, str]:
    folder, stem, suffix = parts(name)
    return folder, _DIGITS.sub("0", stem), suffix
