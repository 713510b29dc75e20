"""What XMP says of a still, embedded in its file or in a sidecar beside it.

Read are properties of the standard's own namespaces, of Exif, TIFF and IPTC (ISO 16684-1, CIPA DC-010, the IPTC Photo
Metadata Standard); what other programs keep for themselves is counted and left alone.
"""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any
from xml.etree import ElementTree

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.wording import one_line

MOST_BYTES = 8_000_000
REJECTED, BEST = -1, 5
LONGEST_LABEL, LONGEST_CAPTION = 60, 500
RDF = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
XML = "http://www.w3.org/XML/1998/namespace"
# The namespaces are what the standard names them; names are compared, never looked up.
_OF_XMP = "http://ns.adobe.com/"
XMP = f"{_OF_XMP}xap/1.0/"
_DC = "http://purl.org/dc/elements/1.1/"
_TIFF, _EXIF, _AUX = (f"{_OF_XMP}{part}" for part in ("tiff/1.0/", "exif/1.0/", "exif/1.0/aux/"))
_EXIF_MORE = "http://cipa.jp/exif/1.0/"
_STANDARD = (
    *(RDF, XML, XMP, _DC, _TIFF, _EXIF, _EXIF_MORE, _AUX),
    *(f"{XMP}{part}" for part in ("rights/", "mm/", "bj/", "t/pg/", "g/", "g/img/")),
    *(f"{_OF_XMP}{part}" for part in ("xmp/1.0/DynamicMedia/", "pdf/1.3/", "photoshop/1.0/")),
    *(f"http://iptc.org/std/{part}" for part in ("Iptc4xmpCore/1.0/xmlns/", "Iptc4xmpExt/2008-02-29/")),
)
# The tags of Exif 2.32 that the same properties have in a file.
_TAGS: dict[str, int] = {
    f"{{{_TIFF}}}Make": 0x010F,
    f"{{{_TIFF}}}Model": 0x0110,
    f"{{{XMP}}}CreatorTool": 0x0131,
    f"{{{_EXIF}}}ExposureTime": 0x829A,
    f"{{{_EXIF}}}FNumber": 0x829D,
    f"{{{_EXIF}}}ISOSpeedRatings": 0x8827,
    f"{{{_EXIF_MORE}}}PhotographicSensitivity": 0x8827,
    f"{{{_EXIF}}}FocalLength": 0x920A,
    f"{{{_EXIF_MORE}}}BodySerialNumber": 0xA431,
    f"{{{_AUX}}}SerialNumber": 0xA431,
    f"{{{_EXIF_MORE}}}LensModel": 0xA434,
    f"{{{_AUX}}}Lens": 0xA434,
}
_TIMES = (f"{{{_EXIF}}}DateTimeOriginal", f"{{{_EXIF}}}DateTimeDigitized")
_TIME = re.compile(r"(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)(?::(\d\d)(?:\.(\d{1,9}))?)?(Z|[+-]\d\d:\d\d)?")


@dataclass(frozen=True)
class XmpNotes:
    """What a packet says: a rating from -1 (rejected) over 0 (none) to 5, a label, and a caption.

    ``exif`` are values by the tags of Exif 2.32; ``has_more`` says that other programs keep things of their own in it,
    which may be edits.
    """

    rating: int | None = None
    label: str = ""
    caption: str = ""
    has_more: bool = False
    exif: Mapping[int, Any] = field(default_factory=dict)


def read_xmp(data: bytes | str, name: str) -> XmpNotes:
    """Read an XMP packet or sidecar; raises ``UnreadableStill`` for what is not one.

    Nothing outside is followed and nothing is expanded: what declares entities is refused.
    """
    properties = dict(_properties(rdf_of(text_of(data, name), name)))
    get = properties.get
    return XmpNotes(
        rating=_rating(get(f"{{{XMP}}}Rating", "")),
        label=one_line(get(f"{{{XMP}}}Label", ""))[:LONGEST_LABEL],
        caption=one_line(get(f"{{{_DC}}}description", ""))[:LONGEST_CAPTION],
        has_more=any(_namespace(one) not in _STANDARD for one in properties),
        exif=_as_exif(properties),
    )


def text_of(data: bytes | str, name: str) -> str:
    """Return the text of a packet without what pads it; raises ``UnreadableStill`` for one too large, or not UTF-8."""
    if len(data) > MOST_BYTES:
        raise UnreadableStill("xmp_too_large", f"“{name}” is too large for notes on a still, and is not read.")
    try:
        text = data if isinstance(data, str) else data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise _not_xmp(name) from None
    return text.strip("\0 \t\r\n")


def rdf_of(text: str, name: str) -> ElementTree.Element:
    """Return the element that holds all a packet says; raises ``UnreadableStill`` for what is no XMP."""
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise _not_xmp(name)
    try:
        root = ElementTree.fromstring(text)
    except (ElementTree.ParseError, ValueError):
        raise _not_xmp(name) from None
    found = root if root.tag == f"{{{RDF}}}RDF" else root.find(f".//{{{RDF}}}RDF")
    if found is None:
        raise _not_xmp(name)
    return found


def _not_xmp(name: str) -> UnreadableStill:
    return UnreadableStill("not_xmp", f"“{name}” holds no XMP that can be read. Write it anew, or leave it.")


def _properties(rdf: ElementTree.Element) -> Iterator[tuple[str, str]]:
    """Yield the properties of a still, each with its value or the first of several."""
    for description in rdf.findall(f"{{{RDF}}}Description"):
        for name, value in description.attrib.items():
            if _namespace(name) not in (RDF, XML, ""):
                yield name, value
        for child in description:
            yield str(child.tag), _value(child)


def _value(element: ElementTree.Element) -> str:
    for form in ("Alt", "Seq", "Bag"):
        if (several := element.find(f"{{{RDF}}}{form}")) is not None:
            every = several.findall(f"{{{RDF}}}li")
            usual = [one for one in every if one.get(f"{{{XML}}}lang") == "x-default"]
            return next(((one.text or "") for one in (*usual, *every)), "")
    qualified = element.find(f".//{{{RDF}}}value")
    return (element.text if qualified is None else qualified.text) or ""


def _namespace(name: str) -> str:
    return name[1:].partition("}")[0] if name.startswith("{") else ""


def _rating(text: str) -> int | None:
    try:
        number = float(text)
    except ValueError:
        return None
    return round(number) if REJECTED <= number <= BEST else None


def _as_exif(properties: Mapping[str, str]) -> dict[int, Any]:
    found: dict[int, Any] = {}
    for name, tag in _TAGS.items():
        text = one_line(properties.get(name, ""))
        top, slash, bottom = text.partition("/")
        # Numbers of Exif are fractions here (CIPA DC-010, 3.2).
        if slash and top.isdecimal() and bottom.isdecimal() and len(text) < 30 and int(bottom):
            found.setdefault(tag, int(top) / int(bottom))
        elif text:
            found.setdefault(tag, text)
    for name in _TIMES:
        if match := _TIME.fullmatch(properties.get(name, "").strip()):
            year, month, day, hour, minute, second, part, zone = match.groups()
            found |= {0x9003: f"{year}:{month}:{day} {hour}:{minute}:{second or '00'}"}
            found |= {0x9291: part} if part else {}
            found |= {0x9011: "+00:00" if zone == "Z" else zone} if zone else {}
            break
    return found
