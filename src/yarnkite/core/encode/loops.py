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

# A palette leaves one of its 256 places for what is see-through.
_COLOURS = 256


def write_loop(rate: Fraction, size: Size, parts: Sequence[Path], target: Path, encode: Encode) -> Path:
    """Encode rendered chunks as a loop that never ends; raises ``NoRoom``."""
    name = format_of(encode).name
    settings = Settings(encode, size, rate, len(parts))
    write = {"gif": _gif, "webp": _webp, "avif": _avif}[name]
    with (
        completed(target, durable=True) as unfinished,
        av.open(str(unfinished), "w", format=name, options={"loop": "0"}) as container,
    ):
        write(container, settings, parts)
    return target


def _gif(container: OutputContainer, settings: Settings, parts: Sequence[Path]) -> None:
    palette = _palette(settings, parts)
    stream = opened_stream(container, "gif", settings, {}, threads=1)
    stream.pix_fmt = "pal8"
    graph = av.filter.Graph()
    pictures, colours = (
        _source(graph, settings),
        _buffer(
            graph, Size.model_construct(width=palette.width, height=palette.height), palette.format.name, settings.rate
        ),
    )
    mapped = graph.add("paletteuse", "dither=bayer:bayer_scale=3:diff_mode=rectangle")
    pictures.link_to(mapped, 0, 0)
    colours.link_to(mapped, 0, 1)
    sink = graph.add("buffersink")
    mapped.link_to(sink)
    graph.configure()
    colours.push(palette)
    colours.push(None)
    for position, frame in enumerate(_frames(parts)):
        frame.pts, frame.time_base = position, 1 / settings.rate
        pictures.push(frame)
        reduced = sink.pull()
        assert isinstance(reduced, av.VideoFrame)
        reduced.pts, reduced.time_base = position, 1 / settings.rate
        container.mux(stream.encode(reduced))
    container.mux(stream.encode(None))


def _palette(settings: Settings, parts: Sequence[Path]) -> av.VideoFrame:
    """Return the 256 colours that show all frames best."""
    graph = av.filter.Graph()
    source, chosen, sink = (
        _source(graph, settings),
        graph.add("palettegen", f"max_colors={_COLOURS}:reserve_transparent=0:stats_mode=full"),
        graph.add("buffersink"),
    )
    source.link_to(chosen)
    chosen.link_to(sink)
    graph.configure()
    for position, frame in enumerate(_frames(parts)):
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


def _webp(container: OutputContainer, settings: Settings, parts: Sequence[Path]) -> None:
    quality = format_of(settings.encode).number_of(settings.encode)
    options = {"quality": f"{quality:g}", "compression_level": "4"}
    stream = opened_stream(container, "libwebp_anim", settings, options, threads=1)
    stream.pix_fmt = "bgra"
    # The encoder cuts off what is finer than its thousandths: they are rounded here.
    stream.codec_context.time_base = stream.time_base = Fraction(1, 1000)
    for position, frame in enumerate(_frames(parts)):
        whole = frame.reformat(format="bgra")
        whole.pts, whole.time_base = round(position / settings.rate * 1000), Fraction(1, 1000)
        container.mux(stream.encode(whole))
    container.mux(stream.encode(None))


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
