"""What is odd about stills that are used all the same, in sentences: each names a file, and what can be done."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath

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
class Odd:
    """What a remark needs to know of a still: its name, its bits a sample if they are known, and what is odd."""

    name: str
    bits: int | None
    remark: Remark | None


def remarks(stills: Sequence[Odd]) -> list[str]:
    """Return a sentence for each thing that is odd about some of a shot's stills, given in its order."""
    said = []
    for remark, (one, several, then) in _SAID.items():
        names = [still.name for still in stills if still.remark == remark]
        if names:
            said.append(f"{_count(names, len(stills), one, several)}{_example(names)}. {then}")
    return said + _depths(stills)


def _depths(stills: Sequence[Odd]) -> list[str]:
    """Tell of a few stills that have another depth than most."""
    depths = Counter(still.bits for still in stills if still.bits is not None)
    if not depths:
        return []
    usual = depths.most_common(1)[0][0]
    names = [still.name for still in stills if still.bits not in (None, usual)]
    if not names or len(names) > _FEW * len(stills):
        return []
    others = sorted({still.bits for still in stills if still.name in set(names) and still.bits})
    has = f"{' or '.join(str(bits) for bits in others)} bits a sample where the others have {usual}"
    told = _count(names, len(stills), f"has {has}", f"have {has}")
    return [f"{told}{_example(names)}. Look whether it belongs here; it is used as it is."]


def _count(names: Sequence[str], of: int, one: str, several: str) -> str:
    if len(names) == 1:
        return f"One still {one}"
    return f"All {of:,} stills {several}" if len(names) == of else f"{len(names):,} of {of:,} stills {several}"


def _example(names: Sequence[str]) -> str:
    return f": “{PurePosixPath(names[0]).name}”" if len(names) == 1 else f", such as “{PurePosixPath(names[0]).name}”"
