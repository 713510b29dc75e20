"""What kind of file this is, told from its first bytes and never from its name."""

from typing import Literal

Kind = Literal["JPEG", "PNG", "TIFF"]

_SIGNATURES: tuple[tuple[bytes, Kind], ...] = (
    (b"\xff\xd8\xff", "JPEG"),
    (b"\x89PNG\r\n\x1a\n", "PNG"),
    (b"II*\x00", "TIFF"),
    (b"MM\x00*", "TIFF"),
    (b"II+\x00", "TIFF"),
    (b"MM\x00+", "TIFF"),
)
_SUFFIXES_OF_RAW = {
    ".dng",
    ".cr2",
    ".cr3",
    ".crw",
    ".nef",
    ".nrw",
    ".arw",
    ".sr2",
    ".raf",
    ".orf",
    ".rw2",
    ".pef",
    ".srw",
    ".x3f",
    ".iiq",
    ".3fr",
    ".erf",
    ".raw",
}
_OTHER = {
    "raw file": _SUFFIXES_OF_RAW,
    "film or video file": {".mp4", ".mov", ".avi", ".mkv", ".mts", ".m2ts", ".mpg", ".webm", ".wmv"},
    "sound file": {".wav", ".mp3", ".flac", ".m4a", ".aac", ".ogg", ".opus", ".aif", ".aiff"},
    "sidecar file with settings of another program": {
        ".xmp",
        ".thm",
        ".pp3",
        ".dop",
        ".cos",
        ".lrv",
        ".aae",
        ".json",
        ".xml",
    },
    "picture of a kind not read yet": {
        ".heic",
        ".heif",
        ".hif",
        ".avif",
        ".webp",
        ".jxl",
        ".gif",
        ".bmp",
        ".psd",
        ".exr",
        ".jp2",
    },
    "file the system keeps for itself": {".ds_store", "thumbs.db", "desktop.ini"},
}
_UNKNOWN = "file that is not a picture"


def kind_of(head: bytes, suffix: str = "") -> Kind | None:
    """Return the kind of a still from the first bytes of its file; ``None`` if it is not one read here.

    Many raw formats are built like a TIFF, so a raw suffix keeps such a file from being taken for one.
    """
    if suffix.lower() in _SUFFIXES_OF_RAW:
        return None
    return next((kind for signature, kind in _SIGNATURES if head.startswith(signature)), None)


def description(name: str) -> str:
    """Say what a file that is not a still probably is, from its name."""
    lowered = name.lower()
    suffix = lowered[lowered.rfind(".") :] if "." in lowered else ""
    for text, suffixes in _OTHER.items():
        if suffix in suffixes or lowered in suffixes:
            return text
    return _UNKNOWN


def worth_reading(name: str) -> bool:
    """Tell from a file's name alone whether it may be a still; anything not known to be something else may."""
    return description(name) == _UNKNOWN and not name.startswith(".")
