"""AVIF image sequence (AV1 Image File Format 1.1): a loop for a page, as small as video."""

from yarnkite.core.encode.formats import av1
from yarnkite.core.encode.formats.ffv1 import options
from yarnkite.core.encode.formats.format import Format

AVIF = Format(
    name="avif",
    title="AVIF loop",
    takers="today's browsers; the smallest loop",
    containers=("avif",),
    encoder="libsvtav1",
    codec="av1",
    options=options,
    number=av1.number,
    number_name="SVT-AV1 crf",
    way="streamed",
    chunk_container="matroska",
    bits_a_pixel=0.3,
    fps=9.0,
    psnr_floor_db=33.0,
)
FORMATS = (AVIF,)
