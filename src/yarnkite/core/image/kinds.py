"""What kind of file this is, told from its first bytes and never from its name."""

from typing import Literal

Kind = Literal["JPEG", "PNG", "TIFF", "WEBP", "HEIF", "AVIF", "RAW"]
Category = Literal["raw", "footage", "sound", "sidecar", "picture", "system", "other"]
READ = "JPEG, PNG, TIFF, WebP, HEIF, AVIF and raw files"
_SIGNATURES: tuple[tuple[bytes, Kind], ...] = (
    (b"\xff\xd8\xff", "JPEG"),
    (b"\x89PNG\r\n\x1a\n", "PNG"),
    (b"II*\x00", "TIFF"),
    (b"MM\x00*", "TIFF"),
    (b"II+\x00", "TIFF"),
    (b"MM\x00+", "TIFF"),
)
_BRANDS_OF_HEIF = {b"heic", b"heix", b"heim", b"heis", b"hevc", b"hevx", b"mif1", b"msf1"}
_BRANDS_OF_AVIF = {b"avif", b"avis"}
# How files begin that hold what a sensor saw; most others are built like a TIFF and known by their suffix.
_BEGINNINGS_OF_RAW = (
    b"IIRO",
    b"IIRS",
    b"MMOR",
    b"IIU\x00",
    b"FUJIFILMCCD-RAW",
    b"II\x1a\x00\x00\x00HEAPCCDR",
    b"\x00MRM",
)
_SUFFIXES: dict[Category, frozenset[str]] = {
    "raw": frozenset(
        ".dng .cr2 .cr3 .crw .nef .nrw .arw .sr2 .srf .raf .orf .rw2 .pef .srw .x3f .iiq .3fr .erf .mrw .raw".split()
    ),
    "footage": frozenset(".mp4 .mov .avi .mkv .mts .m2ts .mpg .mpeg .webm .wmv .m4v .mxf".split()),
    "sound": frozenset(".wav .mp3 .flac .m4a .aac .ogg .opus .aif .aiff".split()),
    "sidecar": frozenset(".xmp .thm .pp3 .dop .cos .lrv .aae .json .xml .txt .csv .sha256".split()),
    "picture": frozenset(".jxl .gif .bmp .psd .exr .jp2 .svg .pdf".split()),
    "system": frozenset(".ds_store thumbs.db desktop.ini .db .ini .dat .bin .ctg .lst .dcf".split()),
}
_DESCRIPTIONS: dict[Category, str] = {
    "raw": "raw file of a kind that is not read",
    "footage": "film or video file",
    "sound": "sound file",
    "sidecar": "sidecar file with notes or settings",
    "picture": "picture of a kind not read here; save it as a TIFF or PNG of 16 bits",
    "system": "file the system or the camera keeps for itself",
    "other": "file that is not a picture",
}


def kind_of(head: bytes, suffix: str = "") -> Kind | None:
    """Return the kind of a still from the first 16 bytes of its file; ``None`` if it is not one read here.

    Many raw formats are built like a TIFF, so for these the suffix decides.
    """
    if head[4:8] == b"ftyp":
        return _kind_of_box(head[8:12])
    if head[:4] == b"RIFF" and head[8:12] == b"WEBP":
        return "WEBP"
    if head.startswith(_BEGINNINGS_OF_RAW):
        return "RAW"
    kind = next((kind for signature, kind in _SIGNATURES if head.startswith(signature)), None)
    return "RAW" if kind == "TIFF" and suffix.lower() in _SUFFIXES["raw"] else kind


def _kind_of_box(brand: bytes) -> Kind | None:
    """Tell the kind of a file of boxes (ISO/IEC 14496-12) from its main brand."""
    if brand in _BRANDS_OF_HEIF:
        return "HEIF"
    if brand in _BRANDS_OF_AVIF:
        return "AVIF"
    return "RAW" if brand == b"crx " else None


def category(name: str) -> Category:
    """Say from its name what a file that is not a still probably is."""
    lowered = name.lower()
    suffix = lowered[lowered.rfind(".") :] if "." in lowered else ""
    return next((found for found, known in _SUFFIXES.items() if suffix in known or lowered in known), "other")


def description(name: str) -> str:
    """Say in words what a file that is not a still probably is, from its name."""
    return _DESCRIPTIONS[category(name)]


def worth_reading(name: str) -> bool:
    """Tell from a file's name alone whether it may be a still; anything not known to be something else may."""
    return category(name) in ("raw", "other") and not name.startswith(".")
