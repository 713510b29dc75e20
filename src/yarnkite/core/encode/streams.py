"""Opening an encoder: one set-up for chunks and preview, as a format says."""

from fractions import Fraction

import av
from av.container import OutputContainer

from yarnkite.core.encode.colours import Colours, colours_of
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.formats.format import Format, Settings
from yarnkite.core.encode.priority import ordinary_priority
from yarnkite.core.encode.samples import EIGHT, Samples

_CLAIMS_REAL_TIME = "libsvtav1"


def clip_stream(container: OutputContainer, settings: Settings) -> av.VideoStream:
    """Open the stream of a chunk of a clip: a closed group of pictures that can be joined by copying packets."""
    format = format_of(settings.encode)
    encoder, samples = encoder_of(format)
    stream = opened_stream(container, encoder, settings, format.options(settings), format.threads)
    if samples is None:
        stream.pix_fmt = "bgr0"
        return stream
    stream.pix_fmt = samples.pixel_format
    return begun(said(stream, colours_of(settings.encode.range)))


def begun(stream: av.VideoStream) -> av.VideoStream:
    """Start the encoder of a stream all of which is said, where it must not be left to itself while it starts."""
    if stream.codec_context.name == _CLAIMS_REAL_TIME:
        stream.codec_context.open()
        ordinary_priority()
    return stream


def encoder_of(format: Format) -> tuple[str, Samples | None]:
    """Return what encodes the chunks of a format and their samples, ``None`` for RGB of 8 bits.

    Chunks of what is encoded in one stream afterwards hold their pictures without loss.
    """
    return ("ffv1", None) if format.way == "streamed" else (format.encoder, format.samples)


def preview_stream(container: OutputContainer, settings: Settings) -> av.VideoStream:
    """Open the stream of a segment that is made to be played at once."""
    length = settings.length
    always = [f"keyint={length}", f"min-keyint={length}", "scenecut=0", "threads=1", "chromaloc=0", "level=4.0"]
    options = {"preset": "ultrafast", "tune": "zerolatency", "crf": "20", "x264-params": ":".join(always)}
    stream = opened_stream(container, "libx264", settings, options, threads=1)
    stream.pix_fmt = EIGHT.pixel_format
    return said(stream, colours_of("standard"))


def opened_stream(
    container: OutputContainer, encoder: str, settings: Settings, options: dict[str, str], threads: int
) -> av.VideoStream:
    """Open a stream of square pixels of an encoder; its samples are still to be said."""
    stream = container.add_stream(encoder, rate=settings.rate)
    assert isinstance(stream, av.VideoStream)
    stream.width, stream.height = settings.size.width, settings.size.height
    stream.time_base = 1 / settings.rate
    stream.codec_context.sample_aspect_ratio = Fraction(1)
    stream.codec_context.thread_count = threads
    stream.options = dict(options)
    return stream


def said(stream: av.VideoStream, colours: Colours) -> av.VideoStream:
    """Say what the samples of a stream mean."""
    context = stream.codec_context
    context.color_primaries, context.color_trc, context.colorspace, context.color_range = colours.tags
    return stream
