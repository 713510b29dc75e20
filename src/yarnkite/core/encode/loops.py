"""Loops for a page: encoded in one stream from chunks that hold their pictures without loss, in order, memory flat."""

from collections.abc import Iterator, Sequence
from fractions import Fraction
from pathlib import Path

import av
import av.filter
import numpy as np
from av.container import OutputContainer

from yarnkite.core.base.atomic import completed
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.colours import BT709
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats import av1
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.formats.format import Settings
from yarnkite.core.encode.streams import begun, opened_stream, said
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.encode.webp_loop import write_webp

# A palette leaves one of its 256 places for what is see-through.
_COLOURS = 256


def write_loop(rate: Fraction, size: Size, parts: Sequence[Path], target: Path, encode: Encode) -> Path:
    """Encode rendered chunks as a loop that never ends; raises ``DiskFull``."""
    format = format_of(encode)
    settings = Settings(encode, size, rate, len(parts))
    with completed(target, durable=True) as unfinished:
        if format.name == "webp":
            pictures = (np.asarray(frame.to_ndarray(format="rgb24"), np.uint8) for frame in _frames(parts))
            write_webp(unfinished, size, rate, pictures, format.number_of(encode))
            return target
        with av.open(str(unfinished), "w", format=format.name, options={"loop": "0"}) as container:
            {"gif": _gif, "avif": _avif}[format.name](container, settings, parts)
    return target


def _gif(container: OutputContainer, settings: Settings, parts: Sequence[Path]) -> None:
    """Encode chunks with 256 colours each: those of all would be far from those of a frame unlike the others."""
    stream = opened_stream(container, "gif", settings, {}, threads=1)
    stream.pix_fmt = "pal8"
    position = 0
    for part in parts:
        for reduced in _with_palette(settings, part):
            reduced.pts, reduced.time_base = position, 1 / settings.rate
            container.mux(stream.encode(reduced))
            position += 1
    container.mux(stream.encode(None))


def _with_palette(settings: Settings, part: Path) -> Iterator[av.VideoFrame]:
    """Yield the frames of a chunk in the 256 colours that show them best."""
    palette = _palette(settings, part)
    graph = av.filter.Graph()
    whole = Size.model_construct(width=palette.width, height=palette.height)
    pictures = _source(graph, settings)
    colours = _buffer(graph, whole, palette.format.name, settings.rate)
    mapped = graph.add("paletteuse", "dither=bayer:bayer_scale=3:diff_mode=rectangle")
    pictures.link_to(mapped, 0, 0)
    colours.link_to(mapped, 0, 1)
    sink = graph.add("buffersink")
    mapped.link_to(sink)
    graph.configure()
    colours.push(palette)
    colours.push(None)
    for position, frame in enumerate(_frames([part])):
        frame.pts, frame.time_base = position, 1 / settings.rate
        pictures.push(frame)
        reduced = sink.pull()
        assert isinstance(reduced, av.VideoFrame)
        yield reduced


def _palette(settings: Settings, part: Path) -> av.VideoFrame:
    """Return the 256 colours that show the frames of a chunk best."""
    graph = av.filter.Graph()
    source, chosen, sink = (
        _source(graph, settings),
        graph.add("palettegen", f"max_colors={_COLOURS}:reserve_transparent=0:stats_mode=full"),
        graph.add("buffersink"),
    )
    source.link_to(chosen)
    chosen.link_to(sink)
    graph.configure()
    for position, frame in enumerate(_frames([part])):
        frame.pts, frame.time_base = position, 1 / settings.rate
        source.push(frame)
    source.push(None)
    palette = sink.pull()
    assert isinstance(palette, av.VideoFrame)
    return palette


def _source(graph: "av.filter.Graph", settings: Settings) -> "av.filter.context.FilterContext":
    return _buffer(graph, settings.size, "bgr0", settings.rate)


def _buffer(graph: "av.filter.Graph", size: Size, name: str, rate: Fraction) -> "av.filter.context.FilterContext":
    """Return where frames of a size and of samples of a name enter a graph."""
    samples = av.VideoFormat(name, size.width, size.height)
    return graph.add_buffer(width=size.width, height=size.height, format=samples, time_base=1 / rate)


def _avif(container: OutputContainer, settings: Settings, parts: Sequence[Path]) -> None:
    options = av1.options(Settings(settings.encode, settings.size, settings.rate, 250))
    stream = said(opened_stream(container, "libsvtav1", settings, options, threads=1), BT709)
    stream.pix_fmt = "yuv420p"
    begun(stream)
    for position, frame in enumerate(_frames(parts)):
        coded = to_video_frame(np.asarray(frame.to_ndarray(format="rgb24"), np.uint8))
        coded.pts, coded.time_base = position, 1 / settings.rate
        container.mux(stream.encode(coded))
    container.mux(stream.encode(None))


def _frames(parts: Sequence[Path]) -> Iterator[av.VideoFrame]:
    for part in parts:
        with av.open(str(part)) as source:
            source.streams.video[0].thread_type = "AUTO"
            yield from source.decode(video=0)
