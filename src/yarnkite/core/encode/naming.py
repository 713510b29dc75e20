"""Names of finished files, from a pattern with words in braces."""

import re
from collections.abc import Mapping
from datetime import date
from fractions import Fraction

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import rate_label
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of

DEFAULT = "{shot}_{version}_{size}_{rate}fps"
_WORD = re.compile(r"\{([^{}]*)\}")
_UNFIT = re.compile(r"[^\w.-]+")
_LONGEST = 180


def words(
    name: str, size: Size, rate: Fraction, encode: Encode, version: str = "", project: str = "", stretch: str = ""
) -> dict[str, str]:
    """Return what each word of a pattern stands for."""
    return {
        "shot": name,
        "version": version,
        "project": project,
        "size": f"{size.width}x{size.height}",
        "rate": rate_label(rate),
        "format": encode.format,
        "stretch": stretch,
        "date": date.today().isoformat(),
    }


def named(pattern: str, known: Mapping[str, str]) -> str:
    """Return a pattern with its words filled in, fit for a file name on every system, without an ending.

    Raises ``Refusal`` (``name_not_usable``) for a word that does not exist or a name of nothing.
    """
    for word in _WORD.findall(pattern):
        if word not in known:
            offered = ", ".join(f"{{{one}}}" for one in known)
            raise Refusal("name_not_usable", f"There is no {{{word[:40]}}} to put into a name. There are {offered}.")
    filled = _WORD.sub(lambda found: known[found[1]], pattern)
    # Words that stand for nothing leave no double marks behind.
    stem = re.sub(r"([_-])[_-]+", r"\1", _UNFIT.sub("-", filled)).strip("-._ ")
    if not stem:
        raise Refusal("name_not_usable", "A file needs a name. Write one, or put {shot} into the pattern.")
    return stem[:_LONGEST]


def file_ending(encode: Encode) -> str:
    """Return the ending of the finished file, without a dot."""
    return format_of(encode).container_of(encode)
