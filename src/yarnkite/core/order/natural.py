"""The natural order of names: folders first, digits as numbers."""

from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from natsort import natsort_keygen, ns

from yarnkite.core.base.counter import parts

name_key = natsort_keygen(alg=ns.INT | ns.IGNORECASE)


def natural_order(names: Sequence[str]) -> list[int]:
    """Return the indices of ``names`` in natural order, digits compared as numbers, letters without case.

    Names that are equal in that sense keep plain text order, so the result never depends on the input's order.
    """
    keys = [natural_key(name) for name in names]
    return sorted(range(len(names)), key=keys.__getitem__)


def in_natural_order(names: Sequence[str]) -> list[str]:
    """Return names in natural order."""
    return [names[index] for index in natural_order(names)]


def natural_key(name: str) -> tuple[Any, ...]:
    """Return what names are compared by in natural order."""
    folder, stem, suffix = parts(name)
    return (folder_key(folder), name_key(stem), suffix.casefold(), name)


@lru_cache(maxsize=1000)
def folder_key(folder: str) -> tuple[object, ...]:
    return tuple(name_key(part) for part in folder.split("/")) if folder else ()
