"""Numbered export: pictures written as files of a sequence, with their time and a colour profile."""

from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.frozen import Frozen
from yarnkite.core.base.still import Still
from yarnkite.core.encode.formats.jpeg import jpeg
from yarnkite.core.encode.formats.png import png
from yarnkite.core.encode.formats.still import StillFacts
from yarnkite.core.encode.formats.tiff import tiff
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.decode import read_still
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.image.scene import developed
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, SharedLight
from yarnkite.core.light.noise import over_time
from yarnkite.core.move.travel import Sides
from yarnkite.core.render.picture import fitted
from yarnkite.core.render.recipe import NO_CORRECTION, Correction

Format = Literal["JPEG", "PNG", "TIFF"]
ENDINGS: dict[Format, str] = {"JPEG": "jpg", "PNG": "png", "TIFF": "tif"}
# Bytes a pixel takes at the most likely, for asking whether there is room.
BYTES_A_PIXEL: dict[Format, float] = {"JPEG": 0.9, "PNG": 2.4, "TIFF": 6.0}


class Writing(Frozen):
    """How pictures are written; ``fit`` is ``None`` for pictures as they were shot."""

    format: Format = "JPEG"
    quality: Annotated[int, Field(ge=50, le=100)] = 95
    fit: Fit | None = None


@dataclass(frozen=True)
class ExportCorrection:
    """What a fitted still gets, what it shares with the others, and the stills it is averaged with.

    ``region`` is the part of the turned still that all steadied ones cover.
    """

    own: Correction = NO_CORRECTION
    shared: SharedLight = NO_SHARED_LIGHT
    beside: tuple[tuple[Still, Correction], ...] = ()
    region: Sides | None = None


AS_SHOT = ExportCorrection()


def export_still(
    still: Still, writing: Writing, captured: datetime | None, path: Path, correction: ExportCorrection = AS_SHOT
) -> int:
    """Write one still into a new file; returns its bytes. ``correction`` is for one that is fitted.

    A PNG keeps the depth a still has, a TIFF has 16 bits a channel, a JPEG 8. Raises ``UnreadableStill`` or
    ``DiskFull``.
    """
    image = developed(read_still(still)).array if writing.fit is None else _fitted(still, writing.fit, correction)
    data = _encoded(image, writing, captured)
    modified_ns = None if captured is None else round(captured.timestamp() * 1e9)
    write_completed(path, data, exclusive=True, durable=True, modified_ns=modified_ns)
    return len(data)


def _fitted(still: Still, fit: Fit, correction: ExportCorrection) -> ImageArray:
    every = ((still, correction.own), *correction.beside)
    own, *others = (
        fitted(one, fit, fit.size, correction=alone, light=correction.shared, region=correction.region)
        for one, alone in every
    )
    return over_time(own, others) if others else own


def _encoded(image: ImageArray, writing: Writing, captured: datetime | None) -> bytes:
    facts = StillFacts(writing.quality, captured)
    if writing.format == "JPEG":
        return jpeg(image, facts)
    return png(image, facts) if writing.format == "PNG" else tiff(image, facts)
