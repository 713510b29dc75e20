"""What is odd about stills that are used all the same, in sentences: each names a file, and what can be done."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath

from yarnkite.core.base.wording import counted
from yarnkite.core.image.remark import Remark

_FEW = 0.25

# One and several stills, and what that means for the picture.
_SAID: dict[Remark, tuple[str, str, str]] = {
    "gain map": (
        "carries a map of gains that makes it brighter on some screens",
        "carry maps of gains that make them brighter on some screens",
        "The picture itself is used, the map is not. For a clip of high range take raw files, or stills in HLG or PQ.",
    ),
    "code points": (
        "says what its colours mean by numbers that stand for nothing known",
        "say what their colours mean by numbers that stand for nothing known",
        "What is known of them is followed, the rest taken for sRGB. Save anew with a colour profile if that is wrong.",
    ),
    "profile": (
        "has a colour profile that cannot be read",
        "have colour profiles that cannot be read",
        "Colours are taken for sRGB. Save anew with a sound profile if that is wrong.",
    ),
    "two colours": (
        "says two different things about its colours, by code points and by a profile",
        "say two different things about their colours, by code points and by a profile",
        "In a PNG the code points count, elsewhere the profile. Save anew with one of the two if colours are wrong.",
    ),
    "cut light": (
        "holds light below black or beyond white, or samples that are no numbers",
        "hold light below black or beyond white, or samples that are no numbers",
        "It is cut off there. Save anew with all light between 0 and 1 to keep it.",
    ),
    "no matrix": (
        "is a raw file of a camera whose colours are not known",
        "are raw files of a camera whose colours are not known",
        "Colours are shown as the sensor has them. Use developed pictures, or set warmth and tint in light.",
    ),
}


@dataclass(frozen=True)
class Alike:
    """Stills of a shot that are alike in their bits a sample, if those are known, and in what is odd about them.

    ``name`` is that of one of them.
    """

    stills: int
    name: str
    bits: int | None
    remark: Remark | None


def remarks(every: Sequence[Alike]) -> list[str]:
    """Return a sentence for each thing that is odd about some of a shot's stills."""
    total = sum(group.stills for group in every)
    said = []
    for remark, (one, several, then) in _SAID.items():
        odd = [group for group in every if group.remark == remark]
        if odd:
            said.append(f"{_told(odd, total, one, several)}. {then}")
    return said + _depths(every, total)


def remarks_beside(edited: Sequence[str], troubles: Sequence[str], total: int, *, has_pairs: bool) -> list[str]:
    """Return sentences on what lies beside stills and cannot be read.

    ``edited`` are the stills about which other programs keep notes of their own, ``troubles`` what is wrong with
    sidecars; ``has_pairs`` says that there are pictures beside raw files.
    """
    said = list(troubles[:1])
    if len(troubles) > 1:
        said[0] += f" {counted(len(troubles) - 1, 'other sidecar')} cannot be read either."
    if not edited:
        return said
    alike = [Alike(1, name, None, None) for name in edited]
    has = "with it notes of another program, which may be edits"
    have = "with them notes of another program, which may be edits"
    remedy = (
        "Use the pictures beside the raw files if they were developed with these edits."
        if has_pairs
        else "To have them in the clip, save developed pictures there (TIFF of 16 bits, else JPEG) and gather those, "
        "or let light here follow one of them (light, looks)."
    )
    return [*said, f"{_told(alike, total, f'has {has}', f'have {have}')}. Only that program can read them. {remedy}"]


def _depths(every: Sequence[Alike], total: int) -> list[str]:
    """Tell of a few stills that have another depth than most."""
    depths: Counter[int] = Counter()
    for group in every:
        if group.bits is not None:
            depths[group.bits] += group.stills
    usual = depths.most_common(1)[0][0] if depths else None
    odd = [group for group in every if group.bits not in (None, usual)]
    if not odd or sum(group.stills for group in odd) > _FEW * total:
        return []
    others = " or ".join(str(bits) for bits in sorted({group.bits for group in odd if group.bits}))
    has = f"{others} bits a sample where the others have {usual}"
    told = _told(odd, total, f"has {has}", f"have {has}")
    return [f"{told}. Look whether it belongs here; it is used as it is."]


def _told(odd: Sequence[Alike], total: int, one: str, several: str) -> str:
    count, name = sum(group.stills for group in odd), PurePosixPath(odd[0].name).name
    if count == 1:
        return f"One still {one}: “{name}”"
    many = f"All {total:,} stills" if count == total else f"{count:,} of {total:,} stills"
    return f"{many} {several}, such as “{name}”"
