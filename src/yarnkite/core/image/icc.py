"""Colour profiles: pixels of any described colour space turned into sRGB (IEC 61966-2-1)."""

import io
from functools import lru_cache

import imagecodecs
import numpy as np
from PIL import Image, ImageCms

from yarnkite.core.image.pixels import ImageArray, is_deep, peak
from yarnkite.core.image.profile import Primaries, described, gamma, transformed, with_toe
from yarnkite.core.image.wide_gamut import shown_in_srgb, wide_gamut

# The second colour space of DCF 2.0 (CIPA DC-009): primaries adapted to D50, and a gamma of 563/256.
_DCF_PRIMARIES = ((0.60974, 0.31111, 0.01947), (0.20528, 0.62567, 0.06087), (0.14919, 0.06322, 0.74457))
_DCF_GAMMA = 563
_BAND = 256
# Published sRGB profiles differ by this much, in 8-bit steps, from each other.
_SAME_COLOUR = 4


def to_srgb(array: ImageArray, profile: bytes) -> ImageArray:
    """Turn RGB pixels of the colour space an ICC profile describes into sRGB, relative to white, black to black.

    Colours that sRGB does not have are led to its edge, where the profile describes its colours by curves and a matrix;
    else its channels are cut off.

    Parameters
    ----------
    array : RGB, shape (height, width, 3), uint8 or uint16

    Returns
    -------
    the same shape and depth; uint16 is computed with 16 bits

    Raises
    ------
    PyCMSError, CmsError for a profile that is broken
    """
    space = wide_gamut(profile, peak(array))
    if space is not None:
        return shown_in_srgb(array, space)
    result = np.empty_like(array)
    # The library holds four bytes a pixel, twice: a band at a time takes next to nothing.
    for top in range(0, array.shape[0], _BAND):
        result[top : top + _BAND] = _band_to_srgb(np.ascontiguousarray(array[top : top + _BAND]), profile)
    return result


def _band_to_srgb(band: ImageArray, profile: bytes) -> ImageArray:
    if is_deep(band):
        return transformed(band, profile, srgb(), "uint16", imagecodecs.CMS.FLAGS.BLACKPOINTCOMPENSATION)
    image = ImageCms.applyTransform(Image.fromarray(band), _transform(profile, "RGB"))
    return np.asarray(image, np.uint8)


def cmyk_to_srgb(image: Image.Image, profile: bytes) -> Image.Image:
    """Turn a picture made for print into sRGB by its own profile."""
    converted = ImageCms.applyTransform(image, _transform(profile, "CMYK"))
    assert converted is not None
    return converted


@lru_cache(maxsize=64)
def needs_conversion(profile: bytes | None) -> bool:
    """Tell whether pixels with this profile must be converted: not if it is missing, broken, or does what sRGB does.

    What a profile calls itself does not count: there are linear ones that are named after sRGB.
    """
    if not profile:
        return False
    try:
        space = _space_of(profile)
        if space == "CMYK":
            return _transform(profile, "CMYK") is not None
        if space != "RGB":
            return False
        colours = probe()
        return int(np.abs(_band_to_srgb(colours, profile).astype(int) - colours).max()) > _SAME_COLOUR
    except (OSError, ValueError, ImageCms.PyCMSError):
        return False


@lru_cache(maxsize=64)
def is_broken(profile: bytes) -> bool:
    """Tell whether a profile cannot be read, or not be used for what it says it is for."""
    try:
        space = _space_of(profile)
        if space in ("RGB", "CMYK"):
            _transform(profile, space)
    except (OSError, ValueError, ImageCms.PyCMSError):
        return True
    return False


def _space_of(profile: bytes) -> str:
    return str(ImageCms.ImageCmsProfile(io.BytesIO(profile)).profile.xcolor_space.strip())


def probe() -> ImageArray:
    """Return colours all over the RGB cube, as one row of pixels, uint8."""
    steps = np.array([0, 8, 24, 64, 112, 160, 208, 255], np.uint8)
    return np.stack(np.meshgrid(steps, steps, steps), axis=-1).reshape(1, -1, 3)


@lru_cache(maxsize=1)
def dcf_optional() -> bytes:
    """Return an ICC profile of DCF's optional colour space, which cameras name by a letter instead of describing it."""
    return described("DCF optional colour space", _DCF_PRIMARIES, gamma(_DCF_GAMMA))


@lru_cache(maxsize=4)
def named_profile(name: str) -> bytes:
    """Return the ICC profile of a colour space stills are written in.

    sRGB, Display P3 (SMPTE RP 431-2 primaries with the curve of sRGB), opRGB (IEC 61966-2-5) or ROMM RGB
    (ISO 22028-2); raises ``KeyError`` for another name.
    """
    if name == "sRGB":
        return srgb()
    primaries, curve = _WRITTEN[name]
    return described(name, primaries, curve)


def from_srgb(array: ImageArray, name: str) -> ImageArray:
    """Turn RGB pixels from sRGB into one of the colour spaces stills are written in (``named_profile``).

    Parameters
    ----------
    array : RGB, sRGB, shape (height, width, 3), uint8 or uint16

    Returns
    -------
    the same shape and depth
    """
    if name == "sRGB":
        return array
    depth = "uint16" if is_deep(array) else "uint8"
    # A table of colours in place of the curves would be several steps of 8 bits off where it is dark.
    return transformed(array, srgb(), named_profile(name), depth, imagecodecs.CMS.FLAGS.NOOPTIMIZE)


@lru_cache(maxsize=1)
def srgb() -> bytes:
    """Return an ICC profile of sRGB, to be written into files."""
    return ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()


@lru_cache(maxsize=8)
def _transform(profile: bytes, mode: str) -> ImageCms.ImageCmsTransform:
    return ImageCms.buildTransform(
        ImageCms.ImageCmsProfile(io.BytesIO(profile)),
        ImageCms.createProfile("sRGB"),
        mode,
        "RGB",
        renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC,
        flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )


# Primaries adapted to D50 (Bradford), red, green and blue, with the curve of each space.
_WRITTEN: dict[str, tuple[Primaries, bytes]] = {
    "Display P3": (
        ((0.51512, 0.24120, -0.00105), (0.29198, 0.69225, 0.04189), (0.15710, 0.06657, 0.78407)),
        with_toe(2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045),
    ),
    "opRGB": (_DCF_PRIMARIES, gamma(_DCF_GAMMA)),
    "ROMM RGB": (
        ((0.79767, 0.28804, 0.0), (0.13519, 0.71188, 0.0), (0.03134, 0.00009, 0.82491)),
        with_toe(1.8, 1.0, 0.0, 1 / 16, 1 / 32),
    ),
}
