"""DNxHR (SMPTE ST 2019-1, VC-3), every frame by itself and of a fixed size, for editors."""

from functools import partial

from yarnkite.core.encode.formats.format import Format, profiled
from yarnkite.core.encode.samples import Samples

_dnxhr = partial(
    Format,
    takers="editors on every system",
    containers=("mov", "mxf"),
    encoder="dnxhd",
    codec="dnxhd",
    chunk_container="mov",
    intra=True,
    psnr_floor_db=40.0,
)

DNXHR_HQ = _dnxhr(
    name="dnxhr-hq",
    title="DNxHR HQ",
    profile="DNXHR HQ",
    samples=Samples("422", 8),
    bits_a_pixel=3.5,
    fps=26.0,
    options=partial(profiled, "dnxhr_hq"),
)
DNXHR_HQX = _dnxhr(
    name="dnxhr-hqx",
    title="DNxHR HQX",
    profile="DNXHR HQX",
    samples=Samples("422", 10),
    bits_a_pixel=3.5,
    fps=6.2,
    options=partial(profiled, "dnxhr_hqx"),
)
FORMATS = (DNXHR_HQ, DNXHR_HQX)
