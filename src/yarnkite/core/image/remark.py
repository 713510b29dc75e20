"""What is odd about a file that is used all the same: it is told, so that nothing is guessed silently."""

from typing import Literal

import numpy as np

from yarnkite.core.image.cicp import CodePoints, srgb_of
from yarnkite.core.image.icc import is_broken, needs_conversion, probe, to_srgb
from yarnkite.core.image.pixels import EightBit, ImageArray, as_eight

Remark = Literal["gain map", "code points", "profile", "two colours", "cut light", "no matrix"]

# How a map of gains towards high range is announced: ISO 21496-1 (also as an item of HEIF), and its earlier XMP.
_GAIN_MAPS, _ITEM, _TONE_MAP = (b"urn:iso:std:iso:ts:21496:-1", b"hdr-gain-map/1.0"), b"infe", b"tmap"
# Two statements about colour that differ by less than this, in steps of 8 bits, are of one mind.
_OF_ONE_MIND = 12


def has_gain_map(begin: bytes) -> bool:
    """Tell whether the begin of a JPEG, HEIF or AVIF announces a map of gains towards high range."""
    return any(sign in begin for sign in _GAIN_MAPS) or (_ITEM in begin and _TONE_MAP in begin)


def remark_about_colour(said: CodePoints | None, profile: bytes | None) -> Remark | None:
    """Return what is odd about what a file says of its colours: nobody knows the code points, its profile is broken, or
    the two contradict each other.

    Of high range no profile says all, so that none contradicts it.
    """
    if said is not None and not said.is_known:
        return "code points"
    if profile and is_broken(profile):
        return "profile"
    if profile and said is not None and said.says_something and not said.is_high_range:
        colours = probe()
        by_points = colours if said.means_srgb else as_eight(srgb_of(colours, said))
        if int(np.abs(by_points.astype(int) - _by_profile(colours, profile)).max()) > _OF_ONE_MIND:
            return "two colours"
    return None


def _by_profile(colours: ImageArray, profile: bytes) -> EightBit:
    return as_eight(to_srgb(colours, profile) if needs_conversion(profile) else colours)
