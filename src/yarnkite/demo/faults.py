"""What goes wrong in the demo shots, apart from the scenes: planted where a camera or a person would have done it."""

# A camera's counter starts again after this number (DCF, CIPA DC-009).
LAST_NUMBER = 9999

# Exposures whose files are gone: the numbers are missing, and so is the time they took.
LOST: dict[str, tuple[int, ...]] = {"Pellow Reach": (61, 62)}


def number_of(first: int, exposure: int) -> int:
    """Return the counter of an exposure (from 0) of a shot whose first has the number ``first``."""
    return (first - 1 + exposure) % LAST_NUMBER + 1


def exposure_of(title: str, still: int) -> int:
    """Return which exposure of a shot a still (from 0) is, once the lost ones are left out."""
    exposure = still
    for lost in LOST.get(title, ()):
        if exposure >= lost:
            exposure += 1
    return exposure
