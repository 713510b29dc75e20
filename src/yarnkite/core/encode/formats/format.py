"""What a format is: all that encoding, joining, verifying and choosing one needs to know of it."""

from collections.abc import Callable
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal

from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.decisions import Aim, Container, DynamicRange, Encode, FormatName
from yarnkite.core.encode.samples import EIGHT, Samples

# How a file comes of its chunks: their packets are copied, their frames are encoded in one stream, or each frame is a
# file.
Way = Literal["joined", "streamed", "numbered"]
# A clip's encoders have as many threads on every machine: some encoders' bytes depend on it.
THREADS = 4
LOSSLESS_DB = 99.0


@dataclass(frozen=True)
class Settings:
    """What an encoder is opened for: frames of a size at a rate, ``length`` of them in a closed group of pictures."""

    encode: Encode
    size: Size
    rate: Fraction
    length: int


def _nothing(settings: Settings) -> dict[str, str]:
    return {}


def profiled(profile: str, settings: Settings) -> dict[str, str]:
    """Return the options of an encoder that only wants to know which of its profiles."""
    return {"profile": profile}


def ceiling(encode: Encode) -> list[str]:
    """Return the parameters that x264 and x265 share for a bit rate that is never exceeded for long."""
    most = round(encode.aim.most_mbits * 1000)
    return [f"vbv-maxrate={most}", f"vbv-bufsize={most}"] if most else []


@dataclass(frozen=True)
class Format:
    """One format: what it is called and for whom, and how its encoder is set up.

    ``encoder`` and ``codec`` are FFmpeg's names of what writes it and of what is found in the file. ``number`` turns
    quality on H.264's scale into the encoder's own, ``None`` where each frame has a fixed share of bytes or loses
    nothing. ``sampled_frames`` in a row say what frames of it take. ``crf_step`` is how far apart on that scale two
    whole numbers of its own lie, 0 where it takes fractions. ``psnr_floor_db`` is what each decoded frame must reach
    against its picture at high quality, ``likeness_floor`` what its reduced copy must, at any; light and colour of a
    sixteenth of it may be others by ``within`` steps of 255. ``bits_a_pixel`` is what a changing frame of ordinary
    detail takes at high quality, ``fps`` how many of 1920 × 1080 one core encodes in a second: said until this very
    clip is measured.
    """

    name: FormatName
    title: str
    takers: str
    containers: tuple[Container, ...]
    encoder: str
    codec: str
    bits_a_pixel: float
    fps: float
    options: Callable[[Settings], dict[str, str]] = _nothing
    samples: Samples = EIGHT
    profile: str = ""
    number: Callable[[float], float] | None = None
    number_name: str = ""
    crf_step: float = 0.0
    way: Way = "joined"
    chunk_container: str = "mp4"
    psnr_floor_db: float = 38.0
    likeness_floor: float = 0.9
    within: float = 2.5
    intra: bool = False
    threads: int = THREADS
    sampled_frames: int = 13
    tags: dict[Container, str] = field(default_factory=dict, hash=False)
    most_side: int = 16_384
    plays_as: str = ""
    decoded_as: str = ""

    @property
    def has_sound(self) -> bool:
        """Tell whether a file of it can have sound."""
        return self.way == "joined"

    @property
    def has_quality(self) -> bool:
        """Tell whether quality, and with it the size, can be chosen."""
        return self.number is not None

    def wanted_total(self, encode: Encode, seconds: float) -> float | None:
        """Return the bytes a whole file so long is to take, or ``None`` where a quality decides or sizes are fixed."""
        aim = encode.aim
        if aim.by == "quality" or not self.has_quality:
            return None
        return aim.megabytes * 1e6 if aim.by == "size" else aim.mbits * 1e6 / 8 * seconds

    @property
    def pixel_format(self) -> str:
        """The name of the samples decoders give."""
        return self.decoded_as or self.samples.pixel_format

    @property
    def is_lossless(self) -> bool:
        """Tell whether frames come out exactly as they went in."""
        return self.psnr_floor_db >= LOSSLESS_DB

    @property
    def is_deep(self) -> bool:
        """Tell whether frames have more than 8 bits a sample, so that nothing before may have fewer."""
        return self.samples.depth > 8

    def chunk_decisions(self, encode: Encode) -> Encode:
        """Return what of the decisions determines the chunks of a clip, all else as it is by default."""
        kept: dict[str, object] = {"format": self.name}
        if self.way == "joined":
            kept |= {"aim": Aim(most_mbits=encode.aim.most_mbits), "range": self.range_of(encode)}
        if self.has_quality and self.way != "streamed":
            kept |= {"crf": encode.crf, "preset": encode.preset}
        if self.way == "numbered":
            kept |= {"profile": encode.profile, "ppi": encode.ppi}
        return Encode().model_copy(update=kept)

    def range_of(self, encode: Encode) -> DynamicRange:
        """Return the range of brightness that is written: more than the standard one only with more than 8 bits."""
        return encode.range if self.is_deep and self.way == "joined" else "standard"

    def container_of(self, encode: Encode) -> Container:
        """Return the container that is decided, or the usual one where it does not hold this format."""
        wanted = encode.container
        return wanted if wanted in self.containers else self.containers[0]

    def number_of(self, encode: Encode) -> float:
        """Return the encoder's own number for a quality."""
        return 0.0 if self.number is None else self.number(encode.crf)
