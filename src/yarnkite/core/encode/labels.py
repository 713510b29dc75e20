"""What is said in a file beside its pictures: title, date, comment, and the timecode its first frame has."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from yarnkite.core.encode.decisions import Container, Encode

# Where a timecode is a track or a part of the header, and is kept.
WITHOUT_WORDS: frozenset[Container] = frozenset(("mxf",))
WITH_TIMECODE: frozenset[Container] = frozenset(("mov", "mxf"))


@dataclass(frozen=True)
class Labels:
    """``captured`` is when the first still was taken; empty texts are not written."""

    title: str = ""
    comment: str = ""
    captured: datetime | None = None
    start: str = "00:00:00:00"

    @classmethod
    def of(cls, encode: Encode, captured: datetime | None = None) -> "Labels":
        """Return what is decided to be said; a clip without a title has none."""
        return cls(encode.title, encode.comment, captured, encode.start)

    def metadata(self, container: Container) -> dict[str, str]:
        """Return it as FFmpeg's libraries name it."""
        if container in WITHOUT_WORDS:
            return {}
        said = {"title": self.title, "comment": self.comment}
        if self.captured is not None:
            said["date"] = self.captured.date().isoformat()
            said["creation_time"] = self.captured.isoformat()
        return {name: text for name, text in said.items() if text}

    def timecode(self, container: Container) -> str:
        """Return the timecode of the first frame, or nothing where the container has no place for one."""
        return self.start if container in WITH_TIMECODE else ""


def same_labels(planned: Mapping[str, str], found: Mapping[str, str]) -> bool:
    """Tell whether a file says the title and the comment that were planned, and none where none was."""
    lower = {name.lower(): text for name, text in found.items()}
    return all(lower.get(name, "") == planned.get(name, "") for name in ("title", "comment"))
