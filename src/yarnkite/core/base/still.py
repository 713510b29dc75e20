"""A still: one source picture of a shot, and how its file is told from another."""

from typing import Annotated

from pydantic import Field

from yarnkite.core.base.frozen import Frozen


class Still(Frozen):
    """One source picture: where it lies, what its bytes are, and its upright size in pixels.

    ``bytes``, ``modified_ns`` and ``changed_ns`` (nanoseconds since 1970) tell its file from another under the same
    name; whoever writes a file over can set the first two, but not when its inode was changed.
    """

    path: str
    fingerprint: str
    width: Annotated[int, Field(ge=1)]
    height: Annotated[int, Field(ge=1)]
    bytes: int | None = None
    modified_ns: int | None = None
    changed_ns: int | None = None

    def elsewhere(self, path: str) -> "Still":
        """Return the same picture in a file that lies elsewhere, of whose size and times nothing is known."""
        return self.model_copy(update={"path": path, "bytes": None, "modified_ns": None, "changed_ns": None})
