"""What Exif says of the exposure."""

from math import log2, nan


def exposure_value(aperture: float | None, exposure_s: float | None, sensitivity: float | None) -> float:
    """Return the exposure value at ISO 100 in stops, log2(N² / t) - log2(S / 100), or not a number where not all is
    known.

    Source: ISO 2720, Exif 3.0 (APEX).
    """
    if not aperture or not exposure_s or not sensitivity:
        return nan
    return log2(aperture**2 / exposure_s) - log2(sensitivity / 100)
