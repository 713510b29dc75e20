"""ProRes (SMPTE RDD 36), every frame by itself, for editors."""

from functools import partial

from yarnkite.core.encode.formats.format import Format, profiled
from yarnkite.core.encode.samples import Samples

_prores = partial(
    Format,
    takers="editors on every system",
    containers=("mov",),
    encoder="prores_ks",
    codec="prores",
    samples=Samples("422", 10),
    chunk_container="mov",
    intra=True,
    psnr_floor_db=40.0,
)

PRORES_LT = _prores(
    name="prores-lt",
    title="ProRes 422 LT",
    profile="LT",
    bits_a_pixel=1.6,
    fps=3.0,
    options=partial(profiled, "lt"),
    tags={"mov": "apcs"},
)
PRORES = _prores(
    name="prores",
    title="ProRes 422",
    profile="Standard",
    bits_a_pixel=2.3,
    fps=2.8,
    options=partial(profiled, "standard"),
    tags={"mov": "apcn"},
)
PRORES_HQ = _prores(
    name="prores-hq",
    title="ProRes 422 HQ",
    profile="HQ",
    bits_a_pixel=3.5,
    fps=2.6,
    options=partial(profiled, "hq"),
    tags={"mov": "apch"},
)
PRORES_4444 = _prores(
    name="prores-4444",
    title="ProRes 4444",
    profile="4444",
    bits_a_pixel=5.3,
    fps=1.8,
    options=partial(profiled, "4444"),
    tags={"mov": "ap4h"},
    samples=Samples("444", 10),
    decoded_as="yuv444p12le",
)
FORMATS = (PRORES_LT, PRORES, PRORES_HQ, PRORES_4444)
