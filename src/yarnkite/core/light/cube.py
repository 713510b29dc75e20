"""Tables of colours as files: the ``.cube`` text format (Cube LUT Specification 1.0), three-dimensional tables."""

import base64
import zlib
from functools import cached_property
from typing import Annotated

import numpy as np
from pydantic import Field, StringConstraints, model_validator

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Frozen, digest
from yarnkite.core.light.colour_table import Nodes, identity, sampled

LARGEST_SIDE = 65
MOST_BYTES = 16_000_000
_MOST_PACKED = 3_000_000


class ColourTable(Frozen):
    """A table of colours with ``side`` corners a side; ``packed`` has its code values of 16 bits, compressed, as
    text."""

    side: Annotated[int, Field(ge=2, le=LARGEST_SIDE)]
    packed: Annotated[str, StringConstraints(max_length=_MOST_PACKED)]

    @model_validator(mode="after")
    def _holds_what_it_says(self) -> "ColourTable":
        try:
            whole = len(self._samples) == 3 * self.side**3
        except (ValueError, zlib.error):
            whole = False
        if not whole:
            raise ValueError("this table of colours is damaged. Bring its file in again.")
        return self

    @classmethod
    def of(cls, nodes: Nodes) -> "ColourTable":
        """Return the table of code values 0 … 1 at the corners of a grid, shape (n, n, n, 3)."""
        samples = np.rint(np.clip(nodes, 0, 1) * 65535).astype("<u2")
        return cls(side=len(nodes), packed=base64.b64encode(zlib.compress(samples.tobytes(), 6)).decode())

    @cached_property
    def nodes(self) -> Nodes:
        """Its code values 0 … 1, shape (side, side, side, 3)."""
        return self._samples.reshape(self.side, self.side, self.side, 3) / 65535

    @cached_property
    def digest(self) -> str:
        """A hash, 32 hex digits, of what it does."""
        return digest("table", self.side, self._samples.tobytes().hex())

    @property
    def _samples(self) -> np.ndarray[tuple[int], np.dtype[np.uint16]]:
        # Never more than it should hold is unpacked, whatever it says.
        unpacker = zlib.decompressobj()
        data = unpacker.decompress(base64.b64decode(self.packed, validate=True), 6 * self.side**3 + 1)
        return np.frombuffer(data, "<u2").astype(np.uint16)


def read_cube(text: str, name: str) -> Nodes:
    """Return the colours of a table at the corners of its grid, code values 0 … 1, shape (n, n, n, 3).

    Raises ``Refusal`` (``not_a_table``) that says what is wrong with the file.
    """
    lines = _Lines(name)
    for number, line in enumerate(text.splitlines(), 1):
        lines.take(number, line.split("#", 1)[0].split())
    return lines.nodes()


def cube_text(nodes: Nodes, title: str) -> str:
    """Return a table as the text of a ``.cube`` file; ``nodes`` as ``read_cube`` returns them."""
    safe = "".join(character for character in title if character.isprintable() and character != '"')
    rows = np.transpose(nodes, (2, 1, 0, 3)).reshape(-1, 3)
    values = "\n".join(f"{red:.6f} {green:.6f} {blue:.6f}" for red, green, blue in rows)
    return f'TITLE "{safe}"\nLUT_3D_SIZE {len(nodes)}\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 1 1 1\n{values}\n'


class _Lines:
    """What the lines of a file said so far."""

    def __init__(self, name: str) -> None:
        self._name = name
        self._side = 0
        self._domain = {"DOMAIN_MIN": (0.0, 0.0, 0.0), "DOMAIN_MAX": (1.0, 1.0, 1.0)}
        self._rows: list[tuple[float, float, float]] = []

    def take(self, number: int, words: list[str]) -> None:
        if not words or words[0] == "TITLE":
            return
        if words[0] == "LUT_3D_SIZE":
            self._side = self._size(number, words)
        elif words[0] == "LUT_1D_SIZE":
            raise self._wrong("it has a curve for each colour and no table. Only tables are read")
        elif words[0] in self._domain:
            self._domain[words[0]] = self._three(number, words[1:])
        elif words[0][0].isalpha() and words[0].lower() not in ("nan", "inf", "infinity"):
            return
        elif not self._side:
            raise self._wrong(f"line {number} has colours before it was said how many there are")
        elif len(self._rows) >= self._side**3:
            raise self._wrong(f"it has more colours than the {self._side**3:,} it says")
        else:
            self._rows.append(self._three(number, words))

    def nodes(self) -> Nodes:
        if not self._side:
            raise self._wrong("it does not say how large its table is")
        if len(self._rows) < self._side**3:
            raise self._wrong(f"it ends after {len(self._rows):,} of {self._side**3:,} colours")
        side = self._side
        nodes = np.transpose(np.array(self._rows).reshape(side, side, side, 3), (2, 1, 0, 3))
        low, high = np.array(self._domain["DOMAIN_MIN"]), np.array(self._domain["DOMAIN_MAX"])
        if np.any(high - low < 1e-6):
            raise self._wrong("the range of colours it is for is empty")
        if np.any(low != 0) or np.any(high != 1):
            nodes = sampled(nodes, (identity(side) - low) / (high - low))
        return np.asarray(np.clip(nodes, 0, 1))

    def _size(self, number: int, words: list[str]) -> int:
        try:
            side = int(words[1])
        except (IndexError, ValueError):
            raise self._wrong(f"line {number} does not say a size") from None
        if not 2 <= side <= LARGEST_SIDE:
            raise self._wrong(f"its table has {side} steps a side; 2 to {LARGEST_SIDE} are read. Save it smaller")
        return side

    def _three(self, number: int, words: list[str]) -> tuple[float, float, float]:
        try:
            red, green, blue = (float(word) for word in words)
        except ValueError:
            raise self._wrong(f"line {number} is not three numbers") from None
        if not all(np.isfinite((red, green, blue))):
            raise self._wrong(f"line {number} has a number that is none")
        return red, green, blue

    def _wrong(self, why: str) -> Refusal:
        return Refusal("not_a_table", f"“{self._name}” could not be used: {why}.")
