"""Sidecars: which belong to which stills, and what they say that is of use here."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

from yarnkite.core.base.counter import parts, stem_of
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.safe_open import OpenedFile, safe_open
from yarnkite.core.image.xmp import MOST_BYTES, read_xmp

# What other programs write their edits into beside a still, in forms of their own.
_EDITS = ("pp3", "dop", "cos")


@dataclass(frozen=True)
class Sidecar:
    """A sidecar as it was read: its name below the shot's folder, size, time of change, and what it says.

    ``has_edits`` says that other programs keep things of their own in it; ``trouble`` why it could not be read.
    """

    name: str
    bytes: int
    modified_ns: int
    rating: int | None = None
    label: str = ""
    caption: str = ""
    has_edits: bool = False
    trouble: str = ""


def is_sidecar(name: str) -> bool:
    """Tell whether a file of this name may say something of a still: XMP, or edits in a form of another program."""
    return parts(name)[2].lower() in ("xmp", *_EDITS)


def stills_of(names: Iterable[str], stills: Mapping[str, int]) -> dict[str, int]:
    """Return the still each sidecar belongs to; ``stills`` are ids by the names of their files.

    A sidecar has its still's name with another ending, or with one more: of two stills of one stem that says whose it
    is.
    """
    stems = {stem_of(name): still for name, still in reversed(list(stills.items()))}
    found = {}
    for name in names:
        stem = stem_of(name)
        still = stills.get(stem) or stems.get(stem) or stems.get(stem_of(stem))
        if still is not None:
            found[name] = still
    return found


def new_sidecars(stills: Mapping[str, int]) -> dict[int, str]:
    """Return what a new sidecar of each still is called, by id; where two have one stem, it keeps their endings."""
    stems = Counter(stem_of(name).casefold() for name in stills)
    return {
        still: f"{name if stems[stem_of(name).casefold()] > 1 else stem_of(name)}.xmp" for name, still in stills.items()
    }


def read_sidecar(folder: Path, name: str) -> Sidecar:
    """Read what a sidecar says; one that cannot be read says why. Raises ``UnreadableStill`` if it is not there."""
    with safe_open(folder / name, least=0) as file:
        about = Sidecar(name, file.size, file.modified_ns)
        if parts(name)[2].lower() in _EDITS:
            return replace(about, has_edits=True)
        data = _packet(file)
    try:
        notes = read_xmp(data, Path(name).name)
    except UnreadableStill as error:
        return replace(about, trouble=error.sentence)
    return replace(about, rating=notes.rating, label=notes.label, caption=notes.caption, has_edits=notes.has_more)


def read_packet(path: Path) -> bytes:
    """Return what an XMP sidecar holds, no more of it than is ever read; raises ``UnreadableStill``."""
    with safe_open(path, least=0) as file:
        return _packet(file)


def _packet(file: OpenedFile) -> bytes:
    return file.handle.read(MOST_BYTES + 1)


def newest(sidecars: Sequence[Sidecar]) -> Sidecar:
    """Return what several sidecars of one still say together: the one that was changed last counts, where it speaks."""
    ordered = sorted(sidecars, key=lambda one: (not one.trouble, one.modified_ns))
    return replace(
        ordered[-1],
        rating=next((one.rating for one in reversed(ordered) if one.rating is not None), None),
        label=next((one.label for one in reversed(ordered) if one.label), ""),
        caption=next((one.caption for one in reversed(ordered) if one.caption), ""),
        has_edits=any(one.has_edits for one in ordered),
    )
