"""What names a chunk: everything that determines its bytes, and nothing else."""

from yarnkite.core.base.frozen import digest
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.makers import makers
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.render.frame_spec import mark


def chunk_key(source: FrameSource, encode: Encode, frames: range) -> str:
    """Return what names some frames of a clip that are encoded as one chunk."""
    marks = (mark(source.spec(frame)) for frame in frames)
    decided = format_of(encode).chunk_decisions(encode).model_dump_json()
    return digest(makers(), decided, source.size, source.rate, *marks)
