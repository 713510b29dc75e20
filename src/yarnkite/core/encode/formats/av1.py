"""AV1 (AV1 Bitstream & Decoding Process, 2019), written by SVT-AV1."""

import os
from functools import partial

from yarnkite.core.encode.formats.format import Format, Settings
from yarnkite.core.encode.samples import Samples

# Its library writes its settings to the error output unless it is told to say errors only.
os.environ.setdefault("SVT_LOG", "1")
# Those above 10 darken what lies before and after a frame that is black.
_PRESETS = {"ultrafast": 10, "fast": 9, "medium": 8, "slow": 5}


def options(settings: Settings) -> dict[str, str]:
    """Return SVT-AV1's options of a closed group of pictures."""
    encode = settings.encode
    wanted = ["lp=1", f"keyint={settings.length}", "scd=0", "lookahead=8"]
    if most := encode.aim.most_mbits:
        wanted.append(f"mbr={round(most * 1000)}")
    return {
        "preset": str(_PRESETS[encode.preset]),
        "crf": str(round(number(encode.crf))),
        "svtav1-params": ":".join(wanted),
    }


def number(crf: float) -> float:
    """Return the constant rate factor of AV1 that looks like one of H.264, 1 … 63 in whole steps."""
    return float(round(min(63.0, max(1.0, 1.6 * crf - 4))))


_av1 = partial(
    Format,
    containers=("mp4", "webm", "mkv"),
    encoder="libsvtav1",
    codec="av1",
    options=options,
    profile="Main",
    number=number,
    number_name="SVT-AV1 crf",
    crf_step=1 / 1.6,
    threads=1,
    # Its frames lean on each other in groups of sixteen.
    sampled_frames=17,
    psnr_floor_db=36.0,
)

AV1 = _av1(
    name="av1",
    title="AV1",
    takers="today's browsers and newer phones; small files",
    bits_a_pixel=0.3,
    fps=12.7,
    plays_as="av01.0.08M.08",
)
AV1_10 = _av1(
    name="av1-10",
    title="AV1, 10 bits",
    takers="today's browsers and newer phones; small files, smooth skies",
    samples=Samples("420", 10),
    bits_a_pixel=0.3,
    fps=10.4,
    plays_as="av01.0.08M.10",
)
FORMATS = (AV1, AV1_10)
