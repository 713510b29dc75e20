"""What is written into a picture file beside its pixels: when it was taken, what its numbers mean, how large it
prints."""

from dataclasses import dataclass
from datetime import datetime

from PIL import Image

from yarnkite.core.base.capture_time import local_time
from yarnkite.core.encode.decisions import ProfileName
from yarnkite.core.image.icc import from_srgb, named_profile
from yarnkite.core.image.pixels import ImageArray


@dataclass(frozen=True)
class StillFacts:
    """``quality`` is that of a JPEG, 1 … 100; ``ppi`` are pixels per inch, ``None`` for a file that does not say."""

    quality: int = 95
    captured: datetime | None = None
    profile: ProfileName = "sRGB"
    ppi: int | None = None

    @property
    def icc(self) -> bytes:
        """The ICC profile that is embedded."""
        return named_profile(self.profile)

    def coloured(self, image: ImageArray) -> ImageArray:
        """Return an sRGB picture in the colour space it is written in."""
        return from_srgb(image, self.profile)

    def exif(self) -> Image.Exif:
        """Return the capture time and that the picture is upright as Exif data (Exif 2.32 §4.6)."""
        exif = Image.Exif()
        exif[0x0112] = 1
        if self.captured is None:
            return exif
        when = f"{self.captured:%Y:%m:%d %H:%M:%S}"
        exif[0x0132] = when
        detail = exif.get_ifd(0x8769)
        detail[0x9003] = detail[0x9004] = when
        # Only sRGB has a number of its own; any other is "uncalibrated", which the profile explains.
        detail[0xA001] = 1 if self.profile == "sRGB" else 0xFFFF
        if self.captured.microsecond:
            detail[0x9291] = f"{self.captured.microsecond // 1000:03}"
        _, minutes = local_time(self.captured)
        if minutes is not None:
            detail[0x9011] = f"{'-' if minutes < 0 else '+'}{abs(minutes) // 60:02}:{abs(minutes) % 60:02}"
        return exif
