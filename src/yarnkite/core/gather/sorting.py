"""Sorting out a folder: which files are stills, and what the others are."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from types import MappingProxyType
from typing import Literal

from yarnkite.core.base.counter import parts
from yarnkite.core.base.safe_open import first_bytes
from yarnkite.core.base.wording import printable
from yarnkite.core.gather.locations import FoundFile
from yarnkite.core.image.kinds import Category, Kind, category, description, kind_of

LeftOutKind = Literal[
    "pair", "footage", "sound", "sidecar", "picture", "system", "raw", "other", "unreadable", "taken out"
]
_PICTURE_SUFFIXES = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".heic", ".heif", ".hif", ".avif")


@dataclass(frozen=True)
class LeftOut:
    """A file that is not part of the shot, what it is, and the sentence that says why."""

    name: str
    reason: str
    kind: LeftOutKind = "other"


def kept_beside(name: str, still: str) -> LeftOut:
    """Return a file that belongs to a still of the same exposure."""
    return LeftOut(name, f"“{Path(name).name}” is kept beside “{Path(still).name}”.", "pair")


def sort_out(
    folder: Path, found: Iterable[FoundFile], *, raws: bool = False, known: Mapping[str, Kind] = MappingProxyType({})
) -> tuple[list[FoundFile], list[LeftOut]]:
    """Divide a folder's files into stills and the rest, with the reason.

    Of a raw file and a picture made from the same exposure one is a still, the raw file if ``raws``. Files whose kind
    is ``known``, by their names, are not opened for it.
    """
    candidates, left_out = [], []
    for file in found:
        kind, refusal = _kind_or_refusal(folder, file, known.get(file.name))
        if refusal is None:
            candidates.append((file, kind))
        else:
            left_out.append(refusal)
    stills, paired = _without_pairs(candidates, raws)
    return stills, left_out + paired


def _kind_or_refusal(folder: Path, file: FoundFile, known: Kind | None) -> tuple[Kind | None, LeftOut | None]:
    name = printable(Path(file.name).name)
    whole = printable(file.name)
    if name != Path(file.name).name:
        return None, LeftOut(
            whole, f"“{name}” has a name that is not readable text. Rename it, then gather the folder again."
        )
    if file.trouble:
        return None, LeftOut(whole, f"“{name}” was left out: it {file.trouble}.", "unreadable")
    if file.outside:
        return None, LeftOut(
            whole, f"“{name}” is a link to a file outside the location. Copy the file itself here, then gather again."
        )
    if name.startswith("."):
        return None, LeftOut(whole, f"“{name}” is hidden: systems keep notes of their own under such names.", "system")
    if known is not None:
        return known, None
    said: Category = category(name)
    if said not in ("footage", "sound", "sidecar"):
        head, suffix = first_bytes(folder / file.name, 16), Path(name).suffix.lower()
        if not head and suffix in _PICTURE_SUFFIXES:
            return None, None
        kind = kind_of(head, suffix)
        if kind is not None:
            return kind, None
    return None, LeftOut(whole, f"“{name}” was left out: it is a {description(name)}.", said)


def _without_pairs(
    candidates: Sequence[tuple[FoundFile, Kind | None]], raws: bool
) -> tuple[list[FoundFile], list[LeftOut]]:
    exposures: dict[tuple[str, str], list[tuple[FoundFile, Kind | None]]] = defaultdict(list)
    for file, kind in candidates:
        folder, stem, _ = parts(file.name)
        exposures[folder, stem.casefold()].append((file, kind))
    stills, paired = [], []
    for same in exposures.values():
        with_raw = any(kind == "RAW" for _, kind in same) and any(kind != "RAW" for _, kind in same)
        used = [file for file, kind in same if not with_raw or (kind == "RAW") == raws]
        stills += used
        paired += [kept_beside(file.name, used[0].name) for file, _ in same if file not in used]
    return stills, paired
