"""Joining rendered chunks into one file without re-encoding."""

from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path

import av

from yarnkite.core.base.atomic import completed
from yarnkite.core.base.errors import Refusal


def join(rate: Fraction, parts: Sequence[Path], target: Path) -> Path:
    """Join rendered chunks of a rate, in order, into one MP4 with its index first, by copying packets.

    Raises ``Refusal`` (``chunks_differ``) if the chunks do not belong together, ``NoRoom`` if the disk is full.
    """
    first_frame = 0
    with (
        completed(target, durable=True) as unfinished,
        av.open(str(unfinished), "w", format="mp4", options={"movflags": "+faststart"}) as container,
    ):
        stream = None
        headers = None
        for part in parts:
            with av.open(str(part)) as source:
                origin = source.streams.video[0]
                if stream is None:
                    stream = container.add_stream_from_template(origin)
                    stream.time_base = 1 / rate
                    headers = origin.codec_context.extradata
                if origin.codec_context.extradata != headers:
                    raise Refusal(
                        "chunks_differ", "Rendered pieces of this clip do not belong together. Encode it again."
                    )
                count = 0
                for packet in source.demux(origin):
                    if packet.dts is None or packet.pts is None or packet.time_base is None:
                        continue
                    # A container's ticks may be rounded, by less than half a frame.
                    per_tick = packet.time_base * rate
                    packet.pts = first_frame + round(packet.pts * per_tick)
                    packet.dts = first_frame + round(packet.dts * per_tick)
                    packet.duration = 1
                    packet.time_base = 1 / rate
                    packet.stream = stream
                    container.mux(packet)
                    count += 1
                first_frame += count
    return target
