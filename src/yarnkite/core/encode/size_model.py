"""Weight: how many bytes a shot's frames take, measured on a few of them, to say how large a clip will be."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import nominal
from yarnkite.core.base.still import Still
from yarnkite.core.base.wording import size_range_text, size_text
from yarnkite.core.encode.chunk import packets
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.formats.h264 import H264
from yarnkite.core.encode.render_plan import CHUNK_SECONDS
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe

FINE, COARSE = 1920, 640
PLACES = 3
STILLS_AT_EACH = 4
_CRF = 18
# Clips turned out larger than a few neighbouring stills, read from reduced copies, let expect: by so much in the
# middle.
_USUALLY = 1.4
# How much of what is estimated clips take: of stills of which nothing is known (fog, or leaves in wind), and by a few
# of them.
_SPREAD_OF_ANY, _SPREAD_OF_ITS_STILLS = (0.1, 2.0), (0.5, 2.0)


@dataclass(frozen=True)
class SizeModel:
    """Bytes per pixel at crf 18 on a grid ``width`` pixels across.

    ``whole`` is that of a frame coded alone, ``change`` of one coded as a change from the one before; on a grid twice
    as fine a pixel weighs 2 ** ``slope`` as much: less where stills are soft, more where they are noisy. ``own`` is
    the stills' own longer side, in pixels.
    """

    own: int
    width: int
    whole: float
    change: float
    slope: float


# What stills of ordinary detail weigh; used until a shot's own are measured.
ORDINARY = SizeModel(6000, FINE, 0.14, 0.05, -0.3)


def measured_size_model(stills: Sequence[Still], *, read: Read = read_still) -> SizeModel:
    """Encode a few short stretches of a shot on a fine and a coarse grid and return what their frames weigh."""
    fine_width = max(32, min(FINE, stills[0].width) // 2 * 2)
    coarse_width = max(16, min(COARSE, fine_width // 2) // 2 * 2)
    fine, coarse = (_weighed(stills, width, read) for width in (fine_width, coarse_width))
    slope = math.log(fine[1] / coarse[1]) / math.log(fine_width / coarse_width)
    own = max(stills[0].width, stills[0].height)
    return SizeModel(own, fine_width, *fine, slope=max(-1.2, min(0.8, slope)))


def estimated_bytes(decisions: Decisions, frames: int, changing: int, size_model: SizeModel = ORDINARY) -> int:
    """Estimate the size of a clip, ``changing`` of whose frames show something new, from what its shot's frames weigh.

    Each chunk begins with a whole frame; a held still costs next to nothing after its first frame; x264 halves its
    output for every 6 steps of crf; beyond the stills' own grid, pixels are interpolated and weigh little. Other
    formats take so many times what H.264 does. It is a first word; ``file_size`` measures the clip itself.
    """
    size, pace, format = decisions.fit.size, decisions.pace, format_of(decisions.encode)
    whole = -(-frames // (nominal(pace.written_rate) * CHUNK_SECONDS))
    changes = max(0, changing - whole)
    held = frames - whole - changes
    longer = max(size.width, size.height)
    scale: float = (min(longer, size_model.own) / size_model.width) ** size_model.slope * max(
        1.0, longer / size_model.own
    ) ** -1.2
    quality: float = 2 ** ((_CRF - decisions.encode.crf) / 6) if format.has_quality else 1.0
    if format.intra:
        return round(size.width * size.height * quality * format.bits_a_pixel / 8 * frames)
    per_pixel = size_model.whole * whole + size_model.change * (changes + 0.03 * held)
    share = _USUALLY * format.bits_a_pixel / H264.bits_a_pixel
    return round(size.width * size.height * scale * quality * share * per_pixel)


def known_bytes(encode: Encode, seconds: Fraction, measured: int | None) -> int | None:
    """Return how many bytes a clip will take as far as that is known: as measured on it, or as wanted where a size or a
    bit rate is; ``None`` where only an estimate is left.
    """
    wanted = format_of(encode).wanted_total(encode, float(seconds))
    return measured or (None if wanted is None else round(wanted))


def said_size(size: int, *, is_sure: bool, are_weighed: bool) -> str:
    """Say how large a clip will be: ``about`` only what was measured on this very clip, or is wanted; else between what
    clips take that are alike in all that is known before: of their stills, if those were weighed.
    """
    if is_sure:
        return f"about {size_text(size)}"
    least, most = _SPREAD_OF_ITS_STILLS if are_weighed else _SPREAD_OF_ANY
    return size_range_text(round(size * least), round(size * most))


def _weighed(stills: Sequence[Still], width: int, read: Read) -> tuple[float, float]:
    """Return the mean bytes per pixel of whole frames and of changes, on a grid of a given width."""
    height = max(16, min(4096, round(width * stills[0].height / stills[0].width / 2) * 2))
    decisions = Decisions(
        fit=Fit(size=Size(width=width, height=height)), pace=Pace(rate=Fraction(25)), encode=Encode(crf=_CRF)
    )
    whole, change = [], []
    for sample in _stretches(stills):
        first, *others = packets(ClipFrames(Recipe(stills=sample, decisions=decisions)), decisions.encode, read=read)
        whole.append(first)
        change += others
    pixels = width * height
    mean_whole = sum(whole) / len(whole) / pixels
    return mean_whole, sum(change) / len(change) / pixels if change else mean_whole


def _stretches(stills: Sequence[Still]) -> list[tuple[Still, ...]]:
    """Return a few runs of neighbouring stills, spread over the shot."""
    if len(stills) <= PLACES * STILLS_AT_EACH:
        return [tuple(stills)]
    starts = [(len(stills) - STILLS_AT_EACH) * place // (PLACES - 1) for place in range(PLACES)]
    return [tuple(stills[start : start + STILLS_AT_EACH]) for start in starts]
