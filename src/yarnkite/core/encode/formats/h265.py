"""H.265 (ITU-T H.265, ISO/IEC 23008-2), profile Main 10, written by x265."""

from yarnkite.core.encode.formats.format import Format, Settings, ceiling
from yarnkite.core.encode.light_level import NOT_KNOWN
from yarnkite.core.encode.samples import Samples


def _options(settings: Settings) -> dict[str, str]:
    encode, length = settings.encode, settings.length
    wanted = [
        *(f"keyint={length}", f"min-keyint={length}", "scenecut=0", "open-gop=0", "rc-lookahead=4", "bframes=3"),
        # Frames on several threads see less of each other, and the bytes would depend on how many.
        *("frame-threads=1", "pools=2", "info=0", "log-level=none", "repeat-headers=0", "chromaloc=0"),
    ]
    wanted += ceiling(encode)
    if encode.range == "pq":
        wanted += ["hdr10=1", f"max-cll={NOT_KNOWN.brightest},{NOT_KNOWN.mean}", f"master-display={_SCREEN}"]
    return {"preset": encode.preset, "crf": f"{_number(encode.crf):g}", "x265-params": ":".join(wanted)}


# The screen a PQ clip is made for, in steps of 0.00002 and 0.0001 cd/m² (SMPTE ST 2086): BT.2020, 1000 cd/m².
_SCREEN = "G(8500,39850)B(6550,2300)R(35400,14600)WP(15635,16450)L(10000000,50)"


def _number(crf: float) -> float:
    return crf + 2


H265 = Format(
    name="h265",
    title="H.265, 10 bits",
    takers="newer phones, televisions and editors; few browsers",
    containers=("mp4", "mov"),
    encoder="libx265",
    codec="hevc",
    options=_options,
    samples=Samples("420", 10),
    profile="Main 10",
    number=_number,
    number_name="x265 crf",
    bits_a_pixel=0.33,
    fps=3.1,
    tags={"mp4": "hvc1", "mov": "hvc1"},
    plays_as="hvc1.2.4.L123.B0",
    most_side=8192,
)
FORMATS = (H265,)
