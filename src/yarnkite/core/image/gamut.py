"""Colours that sRGB does not have, led to its edge: hue and luminance stay, and they pale as far as they must.

Cutting each channel off for itself would turn the hue of a lamp or an evening sky and make it brighter. Just
before the edge colours begin to pale, so that those beyond it are still told apart.

Source: IEC 61966-2-1 (what red, green and blue count in luminance).
"""

import numpy as np
from numba import njit

# Of the way from grey to the edge of sRGB.
BEGINS = 0.98
_RED, _GREEN, _BLUE = np.float32(0.212639), np.float32(0.7151687), np.float32(0.0721923)


@njit(nogil=True, cache=True, fastmath=True)
def paled(red, green, blue):  # type: ignore[no-untyped-def]
    """Return the luminance of a colour in linear sRGB, and the share of its distance from that grey that it keeps."""
    one, begins = np.float32(1), np.float32(BEGINS)
    luminance = _RED * red + _GREEN * green + _BLUE * blue
    # How far it lies from grey, 1 at the edge, where its least channel is black.
    far = (luminance - min(red, green, blue)) / max(luminance, np.float32(1e-6))
    beyond = max(far - begins, np.float32(0)) / (one - begins)
    kept = begins + (one - begins) * beyond / (one + beyond)
    return luminance, kept / far if far > begins else one
