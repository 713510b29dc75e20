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
def led_in(matrix, red, green, blue):  # type: ignore[no-untyped-def]
    """Return light of any primaries, red, green and blue, as linear sRGB, to which ``matrix`` leads."""
    red, green, blue = (
        matrix[0, 0] * red + matrix[0, 1] * green + matrix[0, 2] * blue,
        matrix[1, 0] * red + matrix[1, 1] * green + matrix[1, 2] * blue,
        matrix[2, 0] * red + matrix[2, 1] * green + matrix[2, 2] * blue,
    )
    one, begins = np.float32(1), np.float32(BEGINS)
    luminance = _RED * red + _GREEN * green + _BLUE * blue
    # How far it lies from grey, 1 at the edge, where its least channel is black.
    far = (luminance - min(red, green, blue)) / max(luminance, np.float32(1e-6))
    beyond = max(far - begins, np.float32(0)) / (one - begins)
    kept = begins + (one - begins) * beyond / (one + beyond)
    share = kept / far if far > begins else one
    grey = luminance - share * luminance
    return grey + share * red, grey + share * green, grey + share * blue


@njit(nogil=True, cache=True, fastmath=True)
def all_led_in(matrix, light):  # type: ignore[no-untyped-def]
    """Return many colours as ``led_in`` does, shape (colours, 3), float32."""
    result = np.empty_like(light)
    for i in range(light.shape[0]):
        result[i, 0], result[i, 1], result[i, 2] = led_in(matrix, light[i, 0], light[i, 1], light[i, 2])
    return result
