"""What makes pixels and packets besides the recipe: libraries, decoders and typefaces, as one hash.

It is part of every chunk's name: after an upgrade, or on a machine that lacks a library, other bytes would come under
the same name.
"""

import platform
from ctypes.util import find_library
from functools import lru_cache
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

import av
import rawpy
from PIL import features

from yarnkite.core.base.fingerprint import fingerprint
from yarnkite.core.base.frozen import digest
from yarnkite.core.image import lettering
from yarnkite.core.image.jpeg_planes import reads_planes

# Raise it when the pixels or packets made from the same recipe change, or what is kept beside them.
RENDERING = 15
_LIBRARIES = (
    *("av", "imagecodecs", "lensfunpy", "numba", "numpy", "opencv-python-headless", "pillow", "pillow-heif"),
    *("pyturbojpeg", "rawpy", "scipy", "simplejpeg", "tifffile"),
)


@lru_cache(maxsize=1)
def makers() -> str:
    """Return a hash of all that makes pixels and packets on this machine, worked out once."""
    return digest(RENDERING, *(f"{name} {found}" for name, found in sorted(parts().items())))


def parts() -> dict[str, str]:
    """Return what makes pixels and packets on this machine, by name, and which edition of it is here."""
    found = {name: _version(name) for name in _LIBRARIES}
    found |= {name: ".".join(map(str, number)) for name, number in av.library_versions.items()}
    found["libraw"] = str(rawpy.libraw_version)
    found |= {f"pillow {name}": str(features.version(name)) for name in ("freetype2", "raqm", "harfbuzz", "littlecms2")}
    # Kinds of processors round some sums in other orders.
    found["processor"] = platform.machine()
    found["planes"] = _planes()
    found |= {f"typeface {path.name}": _file_mark(path) for path in lettering.typefaces()}
    return found


def _version(name: str) -> str:
    try:
        return version(name)
    except PackageNotFoundError:
        return "none"


def _planes() -> str:
    """Say by which decoder planes of JPEGs are read, or that there is none here and all goes by way of RGB."""
    if not reads_planes():
        return "none"
    # The loader knows no version: which file it is says enough for one machine, its name for two alike.
    return find_library("turbojpeg") or "there"


def _file_mark(path: Path) -> str:
    try:
        return fingerprint((path.read_bytes(),))
    except OSError:
        return "none"
