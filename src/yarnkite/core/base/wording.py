"""Wording: numbers as people read them in a sentence."""

from collections.abc import Sequence

_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
_ORDINALS = ("", "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")


def frames_text(count: int) -> str:
    """Say a count of frames: ``one frame``, ``twelve frames``, ``50 frames``."""
    number = _NUMBERS[count] if count < len(_NUMBERS) else f"{count:,}"
    return f"{number} frame{'' if count == 1 else 's'}"


def counted(count: int, what: str) -> str:
    """Say a count of things: ``1 still``, ``1,240 stills``."""
    return f"{count:,} {what}{'' if count == 1 else 's'}"


def listed(words: Sequence[str]) -> str:
    """Return words as one says them: “light, fit and pace”."""
    return " and ".join(filter(None, (", ".join(words[:-1]), *words[-1:])))


def ordinal(number: int) -> str:
    """Say a place in a row: ``second``, ``23rd``."""
    if number < len(_ORDINALS):
        return _ORDINALS[number]
    ending = "th" if 10 <= number % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(number % 10, "th")
    return f"{number}{ending}"


def percent(share: float) -> str:
    """Say a share 0 … 1: ``16 %``, ``0.4 %``."""
    return f"{share * 100:.0f} %" if share >= 0.0095 else f"{share * 100:.1f} %"


def size_text(count: int) -> str:
    """Say a count of bytes: ``38 MB``, ``1.2 GB``."""
    megabytes = count / 1e6
    if megabytes >= 1000:
        return f"{megabytes / 1000:.1f} GB"
    return f"{megabytes:.0f} MB" if megabytes >= 10 else f"{max(megabytes, 0.1):.1f} MB"


def size_range_text(least: int, most: int) -> str:
    """Say between which counts of bytes one lies: ``9 to 36 MB``, ``900 MB to 3.6 GB``."""
    first, last = size_text(least), size_text(most)
    if first == last:
        return last
    return f"{first.removesuffix(last[-3:])} to {last}"


def one_line(text: str) -> str:
    """Return text as one line: what cannot be printed is a space, and of several spaces one is left."""
    return " ".join("".join(character if character.isprintable() else " " for character in text).split())


def is_text(name: str) -> bool:
    """Tell whether a name is text, and not bytes no text has."""
    return printable(name) == name


def printable(name: str) -> str:
    """Return a name as text, with a mark where it is none."""
    return name.encode("utf-8", "replace").decode()
