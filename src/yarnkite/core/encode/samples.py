"""Samples of a frame of video: how many bits each has, and how many of colour there are for each of brightness."""

from dataclasses import dataclass
from typing import Literal

Chroma = Literal["420", "422", "444"]
Depth = Literal[8, 10, 12, 16]


@dataclass(frozen=True)
class Samples:
    """``chroma`` as written since ITU-R BT.601: 4:2:0 halves colour both ways, 4:2:2 from left to right, 4:4:4
    neither."""

    chroma: Chroma = "420"
    depth: Depth = 8

    @property
    def pixel_format(self) -> str:
        """The name FFmpeg's libraries have for it."""
        return f"yuv{self.chroma}p" + ("" if self.depth == 8 else f"{self.depth}le")

    def __str__(self) -> str:
        return f"{':'.join(self.chroma)}, {self.depth} bits"


EIGHT = Samples()
