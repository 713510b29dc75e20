"""H.264 (ITU-T H.264, ISO/IEC 14496-10), written by x264."""

from functools import lru_cache, partial
from pathlib import Path

from yarnkite.core.encode.formats.format import THREADS, Format, Settings, ceiling
from yarnkite.core.encode.samples import Samples

LOOK_AHEAD = 10


def parameters(settings: Settings, *, threads: int = THREADS) -> list[str]:
    """Return x264's parameters of a closed group of pictures whose bytes depend on no machine."""
    length = settings.length
    return [
        *(f"keyint={length}", f"min-keyint={length}", "scenecut=0", f"threads={threads}", "chromaloc=0"),
        # A chunk is short: looking further ahead than this takes memory and time, and the file gets no smaller.
        *("stitchable=1", "open-gop=0", f"rc-lookahead={LOOK_AHEAD}", "sync-lookahead=0"),
        *_steady_code(settings.size.width),
    ]


def _options(settings: Settings) -> dict[str, str]:
    encode, wanted = settings.encode, parameters(settings)
    # Of a time-lapse each frame is a picture of its own: what these search for beyond that is half of the time, and is
    # hardly ever there (docs/encode.md has the figures).
    if encode.preset == "medium":
        wanted += ["mixed-refs=0", "partitions=i4x4,i8x8", "ref=2", "subme=6"]
    wanted += ceiling(encode)
    return {"preset": encode.preset, "crf": f"{encode.crf:g}", "x264-params": ":".join(wanted)}


def _steady_code(width: int) -> list[str]:
    """Return the parameter that keeps the encoder's bytes from depending on what lies in memory beside its own.

    Its code for AVX-512 reads a little beyond a row of blocks of 16 pixels where their number is no multiple of 8, and
    what lies there then turns decisions (seen with 15, 17, 30 and 68 blocks, never with 8, 16, 80 or 120). The code for
    AVX2 gives the same bytes as that for AVX-512 where that is steady, and takes about 6 % longer.
    """
    blocks = -(-width // 16)
    return [f"asm={_UP_TO_AVX2}"] if blocks % 8 and _has_avx512() else []


@lru_cache(maxsize=1)
def _has_avx512() -> bool:
    try:
        return "avx512bw" in Path("/proc/cpuinfo").read_text()
    except OSError:
        return False


_UP_TO_AVX2 = "MMX2,SSE2Fast,LZCNT,SSSE3,SSE4.2,AVX,FMA3,BMI2,AVX2"

_h264 = partial(
    Format,
    containers=("mp4", "mov"),
    encoder="libx264",
    codec="h264",
    options=_options,
    number=float,
    number_name="x264 crf",
)

H264 = _h264(
    name="h264",
    title="H.264",
    takers="every browser, phone, television and editor",
    bits_a_pixel=0.4,
    fps=4.9,
    plays_as="avc1.640028",
)
H264_10 = _h264(
    name="h264-10",
    title="H.264, 10 bits",
    takers="editors and desktop players; few phones, not every browser",
    samples=Samples("420", 10),
    profile="High 10",
    bits_a_pixel=0.42,
    fps=3.6,
    plays_as="avc1.6E0028",
)
H264_422 = _h264(
    name="h264-422",
    title="H.264, 10 bits, 4:2:2",
    takers="editors and desktop players; phones and browsers do not",
    samples=Samples("422", 10),
    profile="High 4:2:2",
    bits_a_pixel=0.46,
    fps=2.9,
)
FORMATS = (H264, H264_10, H264_422)
