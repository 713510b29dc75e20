"""How H.264 is written: one set-up of the encoder for chunks and preview."""

from collections.abc import Sequence
from fractions import Fraction
from functools import lru_cache
from pathlib import Path

import av
from av.container import OutputContainer

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import nominal
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.plan import CHUNK_SECONDS
from yarnkite.core.encode.video_frame import PIXEL_FORMATS, Depth

LOOK_AHEAD = 10
# x264's output depends on how many threads it has: a clip's are as many on every machine.
THREADS = 4
# Code points of ITU-T H.273: primaries, transfer and matrix of BT.709; MPEG's limited range.
BT709 = 1
LIMITED_RANGE = 1


def clip_stream(container: OutputContainer, size: Size, rate: Fraction, encode: Encode) -> av.VideoStream:
    """Open the stream of a chunk of a clip: a closed group of pictures that can be joined by copying packets."""
    length = nominal(rate) * CHUNK_SECONDS
    # A chunk is short: looking further ahead than this takes memory and time, and the file gets no smaller.
    parameters = [
        *("stitchable=1", "open-gop=0", f"rc-lookahead={LOOK_AHEAD}", "sync-lookahead=0"),
        *_steady_code(size.width),
    ]
    # Searching each reference for each part of a block, and parts of 8 × 8 in frames between others, cost more than a
    # quarter of the time and gain nothing that can be measured or seen on time-lapses; the file is 1 % larger.
    if encode.preset == "medium":
        parameters += ["mixed-refs=0", "partitions=i4x4,i8x8,p8x8"]
    options = {"preset": encode.preset, "crf": str(encode.crf)}
    return _stream(container, size, rate, length, parameters, encode.depth, THREADS, **options)


def preview_stream(container: OutputContainer, size: Size, rate: Fraction, length: int) -> av.VideoStream:
    """Open the stream of a segment of ``length`` frames that is made to be played at once."""
    options = {"preset": "ultrafast", "tune": "zerolatency", "crf": "20"}
    return _stream(container, size, rate, length, ["level=4.0"], 8, 1, **options)


def _stream(
    container: OutputContainer,
    size: Size,
    rate: Fraction,
    length: int,
    parameters: Sequence[str],
    depth: Depth,
    threads: int,
    **options: str,
) -> av.VideoStream:
    """Open an H.264 stream in BT.709, limited range, chroma sited left, its intra frames ``length`` frames apart."""
    stream = container.add_stream("libx264", rate=rate)
    stream.width, stream.height = size.width, size.height
    stream.pix_fmt = PIXEL_FORMATS[depth]
    stream.time_base = 1 / rate
    context = stream.codec_context
    context.color_primaries = context.color_trc = context.colorspace = BT709
    context.color_range = LIMITED_RANGE
    context.sample_aspect_ratio = Fraction(1)
    context.thread_count = threads
    always = [f"keyint={length}", f"min-keyint={length}", "scenecut=0", f"threads={threads}", "chromaloc=0"]
    stream.options = {**options, "x264-params": ":".join([*always, *parameters])}
    return stream


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
