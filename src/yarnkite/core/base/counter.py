"""What the digits in file names say: which group of them counts, and where counting starts again."""

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

# DCF (CIPA DC-009) numbers files 0001–9999 and folders 100–999, and starts again after the last.
DCF_LAST = 9999
_HOLE = 100
_NEAR_AN_END = 50
_DIGITS = re.compile(r"\d+")


@dataclass(frozen=True)
class Numbering:
    """How the names of a shot are numbered.

    ``counters`` holds each name's number, unrolled where counting started again, or ``None`` for a name without one;
    ``step`` is the usual difference between neighbours; ``wraps`` tells whether counting started again; ``group`` is
    the group of digits that counts, from 0.
    """

    counters: tuple[int | None, ...]
    step: int
    wraps: bool
    group: int | None = None

    @property
    def complete(self) -> bool:
        """Whether every name has a number of its own."""
        return None not in self.counters and len(set(self.counters)) == len(self.counters)


def parts(name: str) -> tuple[str, str, str]:
    """Split a relative path into folder, stem and suffix; ten times as fast as a path object does it."""
    folder, _, file = name.rpartition("/")
    stem, dot, suffix = file.rpartition(".")
    return (folder, stem, suffix) if dot and stem else (folder, file, "")


def stem_of(name: str) -> str:
    """Return a relative path without its suffix."""
    folder, stem, _ = parts(name)
    return f"{folder}/{stem}" if folder else stem


def numbering(names: Sequence[str], group: int | None = None) -> Numbering:
    """Find the group of digits that counts, in the names' usual pattern, and read it.

    ``group`` picks one by hand, counted from 0. Names of another pattern have no counter; neither has any name if no
    group differs from name to name.
    """
    patterns = [_pattern(name) for name in names]
    if not patterns:
        return Numbering((), 1, False)
    usual, _ = Counter(text for text, _ in patterns).most_common(1)[0]
    groups = [digits if text == usual else None for text, digits in patterns]
    known = [digits for digits in groups if digits is not None]
    if group is None:
        group = _group_that_counts(known)
    if group is None or group >= len(known[0]):
        return Numbering((None,) * len(names), 1, False)
    counters = [None if digits is None else digits[group] for digits in groups]
    unrolled, wraps = _unrolled(counters)
    step = _usual_step([value for value in unrolled if value is not None])
    return Numbering(tuple(unrolled), step, wraps, group)


@dataclass(frozen=True)
class DigitGroup:
    """A group of digits in the usual name: where it stands in an example, and how many values it takes."""

    before: str
    digits: str
    after: str
    values: int


def digit_groups(names: Sequence[str]) -> list[DigitGroup]:
    """Return the groups of digits of the usual pattern, shown in the first name that has it."""
    patterns = [_pattern(name) for name in names]
    if not patterns:
        return []
    usual, _ = Counter(text for text, _ in patterns).most_common(1)[0]
    alike = [(name, digits) for name, (text, digits) in zip(names, patterns, strict=True) if text == usual]
    stem = parts(alike[0][0])[1]
    return [
        DigitGroup(stem[: found.start()], found[0], stem[found.end() :], len({digits[group] for _, digits in alike}))
        for group, found in enumerate(_DIGITS.finditer(stem))
    ]


def _pattern(name: str) -> tuple[str, list[int]]:
    """Split a name into its text, digits left out and letters without case, and the values of its digits."""
    _, stem, _ = parts(name)
    return _DIGITS.sub("#", stem).casefold(), [int(digits) for digits in _DIGITS.findall(stem)]


def _group_that_counts(groups: Sequence[Sequence[int]]) -> int | None:
    """Return the group with the most different values; of equals the one that goes up by the smallest steps."""
    best, best_rank = None, (1, 0)
    for group in range(len(groups[0])):
        values = [digits[group] for digits in groups]
        distinct = len(set(values))
        rank = (distinct, -_usual_step(values))
        if distinct > 1 and rank >= best_rank:
            best, best_rank = group, rank
    if best is None and len(groups) == 1 and groups[0]:
        return len(groups[0]) - 1
    return best


def _usual_step(values: Sequence[int]) -> int:
    ordered = sorted(set(values))
    steps = Counter(after - before for before, after in pairwise(ordered))
    return steps.most_common(1)[0][0] if steps else 1


def _unrolled(counters: Sequence[int | None]) -> tuple[list[int | None], bool]:
    """Lift the numbers after a return from 9999 to 1 (or 0) above 9999.

    Counting started again if the numbers reach both ends of the range with a hole in between.
    """
    values = sorted({value for value in counters if value is not None})
    if len(values) < 2 or values[-1] > DCF_LAST or values[-1] < DCF_LAST - _NEAR_AN_END or values[0] > _NEAR_AN_END:
        return list(counters), False
    below, above = max(pairwise(values), key=lambda pair: pair[1] - pair[0])
    if above - below < _HOLE:
        return list(counters), False
    return [value + DCF_LAST if value is not None and value <= below else value for value in counters], True
