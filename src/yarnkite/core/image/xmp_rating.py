"""A rating written into an XMP sidecar, all else in it byte for byte as it was."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from xml.parsers import expat

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.image.xmp import RDF, XML, XMP, rdf_of, read_xmp, text_of

_NAME = re.compile(rb"<[^\s/>]+")
_ATTRIBUTE = re.compile(rb"([^\s=<>/\"']+)\s*=\s*(?:\"([^\"]*)\"|'([^']*)')")
_NEW = (
    '<x:xmpmeta xmlns:x="adobe:ns:meta/">\n'
    f' <rdf:RDF xmlns:rdf="{RDF}">\n'
    '  <rdf:Description rdf:about=""/>\n'
    " </rdf:RDF>\n"
    "</x:xmpmeta>\n"
)


def with_rating(data: bytes | None, rating: int, name: str) -> bytes:
    """Return a sidecar with a rating from -1 (rejected) to 5, or a new one where there is none.

    Raises ``UnreadableStill`` for one that is no XMP, or that no rating can be written into.
    """
    before = _NEW.encode() if data is None else data
    rdf_of(text_of(before, name), name)
    change = _change_to(before, rating)
    after = before if change is None else before[: change.start] + change.text + before[change.end :]
    if change is None or read_xmp(after, name).rating != rating:
        raise UnreadableStill(
            "no_place_for_rating", f"“{name}” has no place for a rating. Rate this still in the program that wrote it."
        )
    return after


def _change_to(data: bytes, rating: int) -> "_Change | None":
    try:
        return _Search(data).change_to(rating)
    except expat.ExpatError:
        # What is written after the end of a packet is no XML.
        return None


@dataclass(frozen=True)
class _Change:
    start: int
    end: int
    text: bytes


@dataclass(frozen=True)
class _Begun:
    """An element whose start has been read: where it begins, its name, the namespaces in it by their prefixes."""

    at: int
    name: tuple[str, str]
    scope: Mapping[str, str]


class _Search:
    """Where a packet has its rating, as an attribute or an element, and where one could be put."""

    def __init__(self, data: bytes) -> None:
        self._data = data
        self._open: list[_Begun] = []
        self._ratings: list[tuple[int, int]] = []
        self._descriptions: list[_Begun] = []
        self._parser = expat.ParserCreate()
        self._parser.StartElementHandler = self._begin
        self._parser.EndElementHandler = self._end
        self._parser.Parse(data, True)

    def change_to(self, rating: int) -> _Change | None:
        """Return what is to be written where for the packet to say a rating."""
        if self._ratings:
            return _Change(*self._ratings[0], str(rating).encode())
        if not self._descriptions:
            return None
        first = self._descriptions[0]
        prefix = next((name for name, uri in first.scope.items() if uri == XMP and name), "")
        new = "xmp" if "xmp" not in first.scope else "rated"
        declared = "" if prefix else f' xmlns:{new}="{XMP}"'
        named = _NAME.match(self._data, first.at)
        after = named.end() if named else first.at
        return _Change(after, after, f'{declared} {prefix or new}:Rating="{rating}"'.encode())

    def _begin(self, tag: str, attributes: dict[str, str]) -> None:
        outer = self._open[-1].scope if self._open else {"xml": XML}
        declared = {name[6:]: value for name, value in attributes.items() if name.startswith("xmlns:")}
        scope = {**outer, **declared} if declared else outer
        begun = _Begun(self._parser.CurrentByteIndex, _full(tag, scope), scope)
        within = self._open[-1].name if self._open else None
        self._open.append(begun)
        if begun.name != (RDF, "Description") or within != (RDF, "RDF"):
            return
        self._descriptions.append(begun)
        named = _NAME.match(self._data, begun.at)
        for match in _ATTRIBUTE.finditer(self._data, named.end() if named else begun.at, self._end_of_tag(begun.at)):
            if _full(match[1].decode(), scope) == (XMP, "Rating"):
                self._ratings.append(match.span(2 if match[2] is not None else 3))

    def _end(self, _tag: str) -> None:
        done = self._open.pop()
        if done.name != (XMP, "Rating") or not self._open or self._open[-1] not in self._descriptions:
            return
        after = self._end_of_tag(done.at)
        if self._data[after - 2 : after] != b"/>":
            self._ratings.append((after, self._parser.CurrentByteIndex))

    def _end_of_tag(self, at: int) -> int:
        """Return where the tag that begins at a byte ends; a closing bracket within quotes is none."""
        quote = 0
        for place in range(at, len(self._data)):
            byte = self._data[place]
            if quote:
                quote = 0 if byte == quote else quote
            elif byte in b"\"'":
                quote = byte
            elif byte == ord(">"):
                return place + 1
        return len(self._data)


def _full(name: str, scope: Mapping[str, str]) -> tuple[str, str]:
    """Return the namespace and the local name; what has no prefix is of no namespace looked for here."""
    prefix, colon, local = name.rpartition(":")
    return scope.get(prefix, "") if colon else "", local
