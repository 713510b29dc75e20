"""What a clip is for, in words, and the decisions each purpose begins with."""

from dataclasses import dataclass

from yarnkite.core.encode.decisions import Aim, Encode, FormatName

_SAID_IN_FILE = ("title", "comment", "start", "profile", "ppi")


def saying_as(encode: Encode, clip: Encode) -> Encode:
    """Return decisions with what is written into the file beside its pictures as a clip has it, whatever it is for."""
    return encode.model_copy(update={name: getattr(clip, name) for name in _SAID_IN_FILE})


@dataclass(frozen=True)
class Purpose:
    """A purpose: its name, what it gives, the decisions it begins with, and other formats that serve it."""

    name: str
    gives: str
    encode: Encode
    others: tuple[FormatName, ...] = ()

    def applied(self, encode: Encode) -> Encode:
        """Return decisions for this purpose; what is said in the file stays."""
        return saying_as(self.encode, encode)

    def is_served_by(self, encode: Encode) -> bool:
        """Tell whether decisions are for this purpose: its own format, as it begins or changed a little."""
        return encode.format == self.encode.format and encode.aim.by == self.encode.aim.by


PURPOSES = (
    Purpose(
        "publish on the web",
        "plays everywhere, looks like the stills",
        Encode(format="h264", crf=18),
        ("av1", "vp9", "h265"),
    ),
    Purpose(
        "cut it further",
        "every frame by itself, 10 bits, for an editor",
        Encode(format="prores-hq"),
        ("prores", "prores-lt", "prores-4444", "dnxhr-hq", "dnxhr-hqx", "h264-422", "h264-10"),
    ),
    Purpose(
        "keep it for ever",
        "nothing is lost, each part has a check sum",
        Encode(format="ffv1"),
        ("ffv1-444", "ffv1-8"),
    ),
    Purpose(
        "show on an old device",
        "what players of fifteen years ago decode",
        Encode(format="h264", crf=20, preset="slow", aim=Aim(by="rate", mbits=12, most_mbits=20)),
    ),
    Purpose(
        "a small one to send",
        "as many megabytes as you say",
        Encode(format="h264", crf=24, preset="slow", aim=Aim(by="size", megabytes=20)),
        ("av1-10", "avif", "webp", "gif"),
    ),
    Purpose(
        "stills for another program",
        "each frame a file of 16 bits",
        Encode(format="tiff"),
        ("png-16", "png", "jpeg", "exr"),
    ),
)


def purpose_of(encode: Encode) -> Purpose | None:
    """Return the purpose decisions are for: that which begins so, else one which their format serves."""
    exact = (one for one in PURPOSES if one.is_served_by(encode))
    also = (one for one in PURPOSES if encode.format in one.others)
    return next(exact, None) or next(also, None)


@dataclass(frozen=True)
class Quality:
    """A step of the scale of words, as a constant rate factor of H.264."""

    name: str
    crf: float
    gives: str


QUALITIES = (
    Quality("finest", 14, "nothing is seen even when graded"),
    Quality("very high", 16, "to cut into something longer"),
    Quality("high", 18, "looks like the stills"),
    Quality("good", 21, "to publish"),
    Quality("fair", 24, "to send"),
    Quality("rough", 28, "to look at once"),
)


def quality_of(encode: Encode) -> Quality:
    """Return the word that is nearest to a quality."""
    return min(QUALITIES, key=lambda one: abs(one.crf - encode.crf))
