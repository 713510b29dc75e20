"""Animated WebP (RFC 9649): a loop for a page, each frame a whole number of thousandths of a second."""

from yarnkite.core.encode.formats.ffv1 import options
from yarnkite.core.encode.formats.format import Format


def quality_of(crf: float) -> float:
    """Return the quality of WebP, 0 … 100, that looks like a constant rate factor of H.264."""
    return float(round(min(100.0, max(20.0, 86 - 3 * (crf - 18)))))


WEBP = Format(
    name="webp",
    title="WebP loop",
    takers="every browser, some mail programs",
    containers=("webp",),
    encoder="libwebp_anim",
    codec="webp",
    options=options,
    number=quality_of,
    number_name="WebP quality",
    way="streamed",
    chunk_container="matroska",
    bits_a_pixel=1.2,
    fps=5.0,
    psnr_floor_db=30.0,
    most_side=16_383,
)
FORMATS = (WEBP,)
