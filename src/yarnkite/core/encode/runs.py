"""Runs: chunks that are encoded one after another, while their pictures are made on all threads a run has.

A chunk has too few frames to keep many cores busy with its encoder alone, and an encoder has a fixed number of threads
so that the bytes do not depend on the machine. Cores beyond those make pictures, also for the chunk that comes next.
"""

from dataclasses import dataclass

from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.render_plan import Chunk

_CORES_A_RUN = 3
_MOST_THREADS = 4
# A run of a worker that was killed is begun again where it was: few chunks wait for it.
_MOST_CHUNKS = 8
_RUN_BYTES, _BYTES_A_PIXEL, _BYTES_BESIDE = 250_000_000, 100, 6


@dataclass(frozen=True)
class Share:
    """How a machine is used: so many runs ``at_once``, each with so many ``threads`` that make pictures."""

    at_once: int
    threads: int


def share_of(cores: int, free_bytes: int, size: Size, beside: int = 0) -> Share:
    """Return how many runs of a clip of a size go at once on a machine, and how many threads make pictures for each.

    ``beside`` is how many other pictures each is averaged with, which are kept as well.
    """
    wanted = -(-cores // _CORES_A_RUN)
    a_pixel = _BYTES_A_PIXEL + _BYTES_BESIDE * beside
    room = free_bytes // (_RUN_BYTES + a_pixel * size.width * size.height)
    return Share(max(1, min(wanted, room)), max(1, min(cores, _MOST_THREADS)))


def memory_bytes(share: Share, size: Size, beside: int = 0) -> int:
    """Return how much memory encoding takes at most."""
    a_pixel = _BYTES_A_PIXEL + _BYTES_BESIDE * beside
    return share.at_once * (_RUN_BYTES + a_pixel * size.width * size.height)


def runs(chunks: list[Chunk], at_once: int) -> list[list[Chunk]]:
    """Cut chunks into runs, several for each that goes at once, so that all end at about the same time."""
    length = _MOST_CHUNKS if at_once == 1 else max(1, min(_MOST_CHUNKS, len(chunks) // (4 * at_once)))
    return [chunks[first : first + length] for first in range(0, len(chunks), length)]
