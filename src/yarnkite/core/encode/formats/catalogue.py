"""All formats, by name, in the order they are offered."""

from yarnkite.core.encode.decisions import Encode, FormatName
from yarnkite.core.encode.formats import (
    av1,
    avif,
    dnxhr,
    exr,
    ffv1,
    gif,
    h264,
    h265,
    jpeg,
    png,
    prores,
    tiff,
    vp9,
    webp,
)
from yarnkite.core.encode.formats.format import Format

_FAMILIES = (h264, h265, av1, vp9, prores, dnxhr, ffv1, jpeg, png, tiff, exr, gif, webp, avif)
FORMATS: dict[FormatName, Format] = {one.name: one for family in _FAMILIES for one in family.FORMATS}


def format_of(encode: Encode) -> Format:
    """Return the format that is decided."""
    return FORMATS[encode.format]
