"""Meeting a size: one quality for the whole clip that gives the bytes that are wanted, so that no join shows.

A quick pass over all of the clip says what share of the bytes each chunk will take; a few chunks, encoded at the
quality that is guessed, say how many bytes one of those shares is; what is wrong with the guess is mended by a secant
in the logarithm of the bytes. They fall along an almost straight line with the quality's number, but for where a fine
pattern is given up all at once; so what lies between two tries is looked for between them.
"""

import math
from collections.abc import Mapping, Sequence
from fractions import Fraction

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.wording import size_text
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.render_plan import RenderPlan

WITHIN = 0.03
# Beyond these a picture gains or keeps nothing worth its bytes.
BEST, WORST = 6.0, 40.0
_HALVES_EVERY = 6.0
_MOST_SAMPLES = 8
_CLOSE = 0.02
SOUND_BYTES_A_SECOND = 32_000
# What holds the frames of a file: its index, and what is said in it.
_BYTES_A_FRAME_BESIDE, _BYTES_BESIDE = 16, 1_500


def wanted_bytes(plan: RenderPlan, has_sound: bool = False) -> float | None:
    """Return how many bytes the pictures of a clip may take, or ``None`` where a quality is wanted or sizes are fixed.

    Raises ``Refusal`` (``size_too_small``) where sound and index alone take all of it.
    """
    total = format_of(plan.encode).wanted_total(plan.encode, float(plan.seconds))
    if total is None:
        return None
    beside = (
        _BYTES_BESIDE
        + _BYTES_A_FRAME_BESIDE * plan.frames
        + (SOUND_BYTES_A_SECOND * float(plan.seconds) if has_sound else 0.0)
    )
    if total <= beside:
        raise Refusal(
            "size_too_small", f"{size_text(round(total))} do not even hold the sound and the index. Want more."
        )
    return total - beside


def first_guess(plan: RenderPlan, wanted: float) -> float:
    """Return the quality at which ordinary footage takes so many bytes."""
    ordinary = format_of(plan.encode).bits_a_pixel / 8 * plan.size.width * plan.size.height * plan.frames
    return _limited(18 + _HALVES_EVERY * math.log2(max(1e-6, ordinary / wanted)))


def sampled(weights: Sequence[float]) -> tuple[int, ...]:
    """Return a few chunks, spread over the clip so that light and heavy ones are among them."""
    count = min(_MOST_SAMPLES, max(1, round(len(weights) / 5)))
    by_weight = sorted(range(len(weights)), key=lambda number: (weights[number], number))
    return tuple(sorted({by_weight[(2 * place + 1) * len(weights) // (2 * count)] for place in range(count)}))


def foreseen(weights: Sequence[float], known: Mapping[int, float]) -> float:
    """Return the bytes of all chunks, from those that are known and what share of the whole each has."""
    every = sum(weights)
    share = sum(weights[number] for number in known)
    return sum(known.values()) * (every / share if share > 0 else len(weights) / max(1, len(known)))


def next_quality(tried: Sequence[tuple[float, float]], wanted: float) -> float:
    """Return the quality to try next, from pairs of quality and bytes that were tried: between the two that the wanted
    bytes lie between, else further on the way they went.

    Source: M. Dowell and P. Jarratt, A modified regula falsi method, BIT 11 (1971).
    """
    crf, size = tried[-1]
    larger = max((one for one in tried if one[1] >= wanted), default=None)
    smaller = min((one for one in tried if one[1] < wanted), default=None)
    if larger and smaller and larger[0] < smaller[0] and smaller[1] > 0:
        over, under = math.log2(larger[1] / wanted), math.log2(wanted / smaller[1])
        # Beside a cliff tries come to lie on one side: the end that stays counts half as much each time (Illinois).
        is_over = size >= wanted
        in_a_row = next((n for n, one in enumerate(reversed(tried)) if (one[1] >= wanted) != is_over), len(tried))
        less = 0.5 ** (in_a_row - 1)
        over, under = (over, under * less) if is_over else (over * less, under)
        return _limited(larger[0] + over / (over + under) * (smaller[0] - larger[0]))
    slope = _HALVES_EVERY
    if len(tried) > 1:
        (before, earlier) = tried[-2]
        turns = math.log2(earlier / size) if size > 0 and earlier > 0 else 0.0
        if abs(turns) > 1e-3 and 0.5 < (crf - before) / turns < 20.0:
            slope = (crf - before) / turns
    return _limited(crf + slope * math.log2(max(1e-6, size / wanted)))


def is_close(size: float, wanted: float, within: float = _CLOSE) -> bool:
    """Tell whether a size is near enough to the one that is wanted."""
    return abs(size / wanted - 1) <= within


def is_as_near_as_can_be(crf: float, size: float, wanted: float) -> bool:
    """Tell whether no quality that makes sense comes nearer to the size that is wanted."""
    return (crf <= BEST and size <= wanted) or (crf >= WORST and size >= wanted)


def check_large_enough(crf: float, size: float, wanted: float, plan: RenderPlan) -> None:
    """Raise ``Refusal`` (``size_too_small``), which says the least, where the worst quality takes more than is
    wanted."""
    if crf >= WORST and size > wanted * (1 + WITHIN):
        raise Refusal(
            "size_too_small",
            f"{plan.frames:,} frames of {plan.size} cannot be brought down to {size_text(round(wanted))} in "
            f"{format_of(plan.encode).title}; {size_text(round(size * 1.02))} is the least that is still worth seeing. "
            "Want more, or a smaller size of the picture.",
        )


def qualities(encode: Encode, crf: float, count: int) -> list[Encode]:
    """Return the decisions for each of so many chunks; where an encoder has whole steps only, chunks take turns."""
    step = format_of(encode).crf_step
    if not step:
        return [encode.model_copy(update={"crf": round(crf, 2)})] * count
    return [
        encode.model_copy(update={"crf": round(_limited(crf + (_spread(number) - 0.5) * step), 2)})
        for number in range(count)
    ]


def _limited(crf: float) -> float:
    return min(WORST, max(BEST, crf))


def _spread(number: int) -> float:
    """Return numbers between 0 and 1 of which any stretch is spread evenly (van der Corput 1935)."""
    value, part = Fraction(0), Fraction(1, 2)
    while number:
        value += part * (number & 1)
        number, part = number >> 1, part / 2
    return float(value)
