"""What the check finds about light, and evening as its remedy."""

from collections.abc import Collection

from yarnkite.core.light.decisions import Even

# Which parts of evening do away with which finding of the check.
_PARTS = {
    "flicker": ("flicker",),
    "exposure step": ("steps",),
    "light step": ("switched",),
    "colour step": ("colour",),
    "auto exposure": ("steps", "flicker"),
    "blinking lamp": ("switched", "flicker"),
    "lamp bands": ("bands",),
}


def evened(even: Even, kinds: Collection[str], remedy: str, *, others: Collection[str] = ()) -> Even:
    """Return how light is made even once a remedy is applied to findings of these kinds; "none" takes it away again.

    ``others`` are kinds that are found, too: what does away with them by now stays.
    """
    if remedy not in ("even out", "none"):
        return even
    wanted = {part for kind in kinds for part in _PARTS.get(kind, ())}
    if remedy == "none":
        wanted -= {part for kind in others if is_evened(even, kind) for part in _PARTS[kind]}
    return even.model_copy(update=dict.fromkeys(sorted(wanted), remedy == "even out")) if wanted else even


def is_evened(even: Even, kind: str) -> bool:
    """Tell whether evening does away with findings of a kind."""
    return kind in _PARTS and all(getattr(even, part) for part in _PARTS[kind])
