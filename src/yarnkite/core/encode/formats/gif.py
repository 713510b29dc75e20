"""GIF (version 89a): a loop of up to 256 colours, each frame a whole number of hundredths of a second."""

from yarnkite.core.encode.formats.ffv1 import options
from yarnkite.core.encode.formats.format import Format

GIF = Format(
    name="gif",
    title="GIF loop",
    takers="everything, mail and chat included; 256 colours",
    containers=("gif",),
    encoder="gif",
    codec="gif",
    options=options,
    way="streamed",
    chunk_container="matroska",
    bits_a_pixel=4.5,
    fps=6.0,
    psnr_floor_db=24.0,
    likeness_floor=0.6,
    # What is rare in two seconds has nothing near it among 256 colours.
    within=5.0,
    intra=True,
    most_side=65_535,
)
FORMATS = (GIF,)
