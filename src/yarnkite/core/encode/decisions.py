"""How frames become a file."""

import re
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints, field_validator, model_validator

from yarnkite.core.base.frozen import Frozen

FormatName = Literal[
    "h264",
    "h264-10",
    "h264-422",
    "h265",
    "av1",
    "av1-10",
    "vp9",
    "prores-lt",
    "prores",
    "prores-hq",
    "prores-4444",
    "dnxhr-hq",
    "dnxhr-hqx",
    "ffv1-8",
    "ffv1",
    "ffv1-444",
    "jpeg",
    "png",
    "png-16",
    "tiff",
    "exr",
    "gif",
    "webp",
    "avif",
]
Container = Literal["mp4", "mov", "mkv", "webm", "mxf", "zip", "gif", "webp", "avif"]
Effort = Literal["ultrafast", "fast", "medium", "slow"]
DynamicRange = Literal["standard", "hlg", "pq"]
ProfileName = Literal["sRGB", "Display P3", "opRGB", "ROMM RGB"]

_START = re.compile(r"\d\d:[0-5]\d:[0-5]\d[:;]\d\d")


class Aim(Frozen):
    """What decides how large the file gets: a quality, a size, or a bit rate; ``most_mbits`` is never exceeded for
    long.

    ``megabytes`` are 10^6 bytes, ``mbits`` and ``most_mbits`` 10^6 bits a second.
    """

    by: Literal["quality", "size", "rate"] = "quality"
    megabytes: Annotated[float, Field(gt=0, le=1_000_000)] = 100.0
    mbits: Annotated[float, Field(gt=0, le=10_000)] = 20.0
    most_mbits: Annotated[float, Field(ge=0, le=10_000)] = 0.0


class Encode(Frozen):
    """How frames become a file.

    ``crf`` is quality on the scale of H.264's constant rate factor, smaller is better and larger on disk; each format
    has the number of its own that looks alike. ``preset`` is how hard its encoder tries. ``container`` is ``None`` for
    the one a format usually comes in. ``start`` is the timecode of the first frame, ``profile`` and ``ppi`` are for
    stills, ``range`` for video of 10 bits.
    """

    format: FormatName = "h264"
    container: Container | None = None
    crf: Annotated[float, Field(ge=4, le=51)] = 18
    preset: Effort = "medium"
    aim: Aim = Aim()
    range: DynamicRange = "standard"
    profile: ProfileName = "sRGB"
    ppi: Annotated[int, Field(ge=1, le=10_000)] = 300
    start: str = "00:00:00:00"
    title: Annotated[str, StringConstraints(max_length=200)] = ""
    comment: Annotated[str, StringConstraints(max_length=1000)] = ""

    @model_validator(mode="before")
    @classmethod
    def _depth_was_apart(cls, data: Any) -> Any:
        """Read what was decided while H.264 was the only format and had its depth beside it."""
        if not isinstance(data, dict) or "depth" not in data:
            return data
        depth = data["depth"]
        rest = {name: value for name, value in data.items() if name != "depth"}
        return {"format": "h264-10" if depth == 10 else "h264"} | rest

    @field_validator("start")
    @classmethod
    def _is_timecode(cls, start: str) -> str:
        if not _START.fullmatch(start):
            raise ValueError(f"“{start[:20]}” is no timecode; write hours:minutes:seconds:frames, such as 01:00:00:00")
        return start
