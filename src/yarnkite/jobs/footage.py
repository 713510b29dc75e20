"""Footage becomes a shot: stills are taken from a video file, written into the project, and gathered."""

import os
from datetime import datetime
from pathlib import Path

import simplejpeg

from yarnkite.core.errors import NoRoom
from yarnkite.core.export import with_time
from yarnkite.core.footage import Taking, look_at, moments, name_of, stills_of, taken_at
from yarnkite.jobs import check, gather
from yarnkite.jobs.runner import Context
from yarnkite.store import jobs, shots

QUALITY = 96


def run(context: Context) -> None:
    """Take stills from the wanted footage, as far as an earlier run did not, then gather them."""
    wanted = jobs.wanted_of(context.database, context.job["id"])
    path = Path(wanted["file"])
    folder = shots.folder_of(shots.one(context.database, context.job["shot_id"]))
    footage = look_at(path)
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
    check.look(context)
    sound = " Its sound was left out." if footage.sound else ""
    jobs.end(context.database, context.job["id"], "finished", f"{_count(folder):,} stills from “{path.name}”.{sound}")


def _count(folder: Path) -> int:
    return sum(1 for _ in folder.glob("*.jpg")) if folder.is_dir() else 0


def _write(path: Path, jpeg: bytes, captured: datetime | None) -> None:
    unfinished = path.with_suffix(".part")
    try:
        unfinished.write_bytes(with_time(jpeg, captured))
        if captured is not None:
            os.utime(unfinished, (captured.timestamp(), captured.timestamp()))
        unfinished.replace(path)
    except OSError as error:
        raise NoRoom("cannot_write", f"“{path.name}” cannot be written: {error.strerror}. Free some space.") from error
