"""Footage becomes a shot: stills are taken from a video file, written into the project, and gathered."""

from datetime import datetime
from pathlib import Path

import simplejpeg

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.encode.formats.jpeg import with_facts
from yarnkite.core.encode.formats.still import StillFacts
from yarnkite.core.gather.footage import Taking, moments, name_of, read_footage, stills_of, taken_at
from yarnkite.jobs import check, gather
from yarnkite.jobs.runner import Context
from yarnkite.store import jobs, shots

QUALITY = 96


def run(context: Context) -> None:
    """Take stills from the wanted footage, as far as an earlier run did not, then gather them."""
    wanted = jobs.wanted_of(context.database, context.job["id"])
    path = Path(wanted["file"])
    folder = shots.folder_of(shots.one(context.database, context.job["shot_id"]))
    footage = read_footage(path)
    at = moments(footage, Taking.model_validate(wanted["taking"]))
    done = _count(folder)
    # What was begun last may be unfinished only as a ``.part``; everything else is whole.
    context.progress(done, len(at), now=True)
    folder.mkdir(parents=True, exist_ok=True)
    for number, image in enumerate(stills_of(path, footage, at[done:]), done):
        context.check()
        jpeg = simplejpeg.encode_jpeg(image, quality=QUALITY, colorsubsampling="444")
        _write(folder / name_of(path.stem, number, len(at)), jpeg, taken_at(footage, at[number]))
        context.progress(number + 1, len(at))
    gather.gather(context)
    check.measure(context)
    sound = " Its sound can be laid under it in a reel." if footage.sound else ""
    jobs.end(context.database, context.job["id"], "finished", f"{_count(folder):,} stills from “{path.name}”.{sound}")


def _count(folder: Path) -> int:
    return sum(1 for _ in folder.glob("*.jpg")) if folder.is_dir() else 0


def _write(path: Path, jpeg: bytes, captured: datetime | None) -> None:
    modified_ns = None if captured is None else round(captured.timestamp() * 1e9)
    write_completed(path, with_facts(jpeg, StillFacts(captured=captured)), durable=True, modified_ns=modified_ns)
