"""What the check finds about light, and evening as its remedy."""

from collections.abc import Collection

from yarnkite.core.light.decisions import Even

# Which part of evening does away with which finding of the check.
_PART = {"flicker": "flicker", "exposure step": "steps", "light step": "switched", "colour step": "colour"}


def evened(even: Even, kinds: Collection[str], remedy: str) -> Even:
    """Return how light is made even once a remedy is applied to findings of these kinds; "none" takes it away again."""
    parts = {_PART[kind]: remedy == "even out" for kind in kinds if kind in _PART}
    return even.model_copy(update=parts) if parts and remedy in ("even out", "none") else even


def is_evened(even: Even, kind: str) -> bool:
    """Tell whether evening does away with findings of a kind."""
    return kind in _PART and bool(getattr(even, _PART[kind]))
