"""Sounds and pictures of a project's reels: brought in, made up, drawn, and brought to a length."""

import io
import threading
import uuid
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from blake3 import blake3
from PIL import Image

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.cache import Cache
from yarnkite.core.base.errors import Conflict, NotFound, Refusal
from yarnkite.core.base.still import Still
from yarnkite.core.base.wording import one_line
from yarnkite.core.gather.footage import Footage, Taking, moments, number_in, read_footage
from yarnkite.core.reel.decisions import Reel
from yarnkite.core.reel.recipe import ClipStretch
from yarnkite.core.render.recipe import schedule_of, stills_in
from yarnkite.core.sound.beats import Beats, beats_of
from yarnkite.core.sound.credit import CREDIT_LETTERS
from yarnkite.core.sound.decisions import RATE, samples_of
from yarnkite.core.sound.fitting import FitWay, ways_to_fit
from yarnkite.core.sound.made import Made
from yarnkite.core.sound.stored import StoredSound
from yarnkite.core.sound.waveform import Waveform, beginning, loudness_along, waveform
from yarnkite.services.reel import tried
from yarnkite.services.running import Services
from yarnkite.store import jobs, reels, sounds
from yarnkite.store.database import Row

MOST_BYTES = 4_000_000_000
LOGO_MOST_BYTES = 60_000_000
LOGO_LARGEST_SIDE = 4096
_LOGO_MOST_PIXELS = 100_000_000
_LOGO_FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "GIF")
_COURSES_BYTES = 40_000_000
# So short that nobody hears it, and long enough that a cut does not click.
_FADE = RATE // 50
_courses: Cache[Waveform] = Cache(_COURSES_BYTES, lambda one: one.level_db.nbytes * 2, threading.Lock())
_beats: Cache[Beats] = Cache(_COURSES_BYTES, lambda one: one.features.nbytes + one.at.nbytes, threading.Lock())


@dataclass(frozen=True)
class SoundInProject:
    """A sound of a project; ``begins`` is the sample where it gets going, if that is not at once."""

    row: Row
    begins: int | None


def every(services: Services, project_id: int) -> list[SoundInProject]:
    """Return a project's sounds, the newest first."""
    found = []
    for row in sounds.of_project(services.database, project_id):
        sound = _stored(services, row)
        there = Path(sound.path).exists()
        found.append(SoundInProject(row, beginning(_course(sound)) if there else None))
    return found


def delete(services: Services, sound_id: int) -> None:
    """Forget a sound of a project, and its samples; raises ``NotFound``, and ``Conflict`` while a reel has it."""
    row = sounds.one(services.database, sound_id)
    for reel in reels.of_project(services.database, row["project_id"]):
        _, decisions = reels.latest(services.database, reel["id"])
        if any(track.sound == sound_id for track in decisions.sound.tracks):
            raise Conflict("sound_in_use", f"“{row['name']}” lies under “{reel['name']}”. Take it out there first.")
    sounds.delete(services.database, sound_id)
    if row["fingerprint"] not in sounds.fingerprints(services.database):
        services.workspace.sound(row["fingerprint"]).unlink(missing_ok=True)


def write_credit(services: Services, sound_id: int, credit: str) -> SoundInProject:
    """Keep whose a sound is, in a line; returns the sound. Raises ``NotFound``."""
    row = sounds.one(services.database, sound_id)
    sounds.write_credit(services.database, sound_id, one_line(credit)[:CREDIT_LETTERS])
    return next(one for one in every(services, row["project_id"]) if one.row["id"] == sound_id)


def arriving(services: Services, reel_id: int) -> Path:
    """Return a new name for a sound that is being sent for a reel; raises ``NotFound`` for the reel."""
    reels.one(services.database, reel_id)
    folder = services.workspace.folder / "arriving"
    folder.mkdir(parents=True, exist_ok=True)
    return folder / f"sound-{uuid.uuid4().hex}"


def take_in(services: Services, reel_id: int, path: Path, name: str) -> Row:
    """Begin to take in a sound that was sent, as a new track of a reel; returns the job."""
    reels.one(services.database, reel_id)
    wanted = {"file": str(path), "name": name, "sent": True}
    return jobs.one(services.database, services.runner.start_for_reel("sound", reel_id, 0, wanted=wanted))


def make_up(services: Services, reel_id: int, wish: Made) -> Row:
    """Begin to make up a sound as a new track of a reel; returns the job."""
    reels.one(services.database, reel_id)
    wanted = {"made": wish.model_dump()}
    job_id = services.runner.start_for_reel("sound", reel_id, round(wish.seconds), wanted=wanted)
    return jobs.one(services.database, job_id)


def add_of_footage(services: Services, reel_id: int, part_id: int) -> Row:
    """Begin to take in the sound of the footage a part's shot was taken from; returns the job.

    Raises ``Refusal`` (``no_footage``) where it comes from none, or from one without sound.
    """
    _, decisions = reels.latest(services.database, reel_id)
    number = next((at for at, part in enumerate(decisions.parts) if part.id == part_id), None)
    if number is None:
        raise NotFound("no_such_part", "This part is not in the reel any more.")
    film = _film_of(services, decisions.parts[number].pictures[0].shot)
    if film is None:
        raise Refusal("no_footage", "This shot was not taken from a video with sound that is still where it was.")
    made = tried(services, reel_id, 0, decisions)
    span = made.frames.spans[number]
    track = {"start": samples_of(span.start, decisions.rate)}
    if (clip := made.recipe.clips[number][0]) is not None:
        track |= _as_shown(film, clip, samples_of(span.frames, decisions.rate))
    wanted = {"file": str(film.file), "name": film.file.name, "track": track}
    return jobs.one(services.database, services.runner.start_for_reel("sound", reel_id, 0, wanted=wanted))


@dataclass(frozen=True)
class _Film:
    """The video a shot's stills were taken from, what it holds, and how they were taken."""

    file: Path
    footage: Footage
    taking: Taking


def _as_shown(film: _Film, clip: ClipStretch, length: int) -> dict[str, int]:
    """Return where the sound of footage begins for what a part shows of it, and how long it is heard.

    It ends with the part where every frame is shown, so at true speed; else it goes on as long as it lasts.
    """
    at = moments(film.footage, film.taking)
    first = stills_in(clip.recipe)[0] if not clip.first else clip.recipe.stills[_slot_at(clip)]
    number = number_in(Path(first.path if isinstance(first, Still) else first.before.path).name, film.file.stem)
    moment = at[min(number, len(at)) - 1] if number else at[0]
    heard = {"skip": round(moment * RATE)}
    return heard | {"length": max(1, length), "fade_in": _FADE, "fade_out": _FADE} if film.taking.is_film else heard


def _slot_at(clip: ClipStretch) -> int:
    return schedule_of(clip.recipe).mains()[clip.first]


def _film_of(services: Services, shot_id: int) -> _Film | None:
    """Return the video a shot's stills were taken from, if it is there and has sound."""
    wanted = jobs.wanted_of_footage(services.database, shot_id)
    if wanted is None or not (path := Path(wanted["file"])).is_file():
        return None
    try:
        footage = read_footage(path)
    except Refusal:
        return None
    return _Film(path, footage, Taking.model_validate(wanted["taking"])) if footage.sound else None


@dataclass(frozen=True)
class LoudnessCurve:
    """How loud a track is along a reel, 0 … 1, from its beginning to its end in even steps."""

    track: int
    name: str
    loud: list[float]


def loudness_curves(
    services: Services, reel_id: int, revision: int, change: Reel | None, rows: int
) -> list[LoudnessCurve]:
    """Return how loud each track of a reel is along it, with its fades and its volume, in so many steps."""
    made = tried(services, reel_id, revision, change)
    total = samples_of(len(made.frames), made.frames.rate)
    project = reels.one(services.database, reel_id)["project_id"]
    names = {row["id"]: row["name"] for row in sounds.of_project(services.database, project)}
    found = []
    for track in made.recipe.reel.sound.tracks:
        file = made.recipe.sounds.get(track.sound)
        if file is None or not total:
            found.append(LoudnessCurve(track.id, names.get(track.sound, "a sound that is gone"), []))
            continue
        course = _course(StoredSound(file.path, file.fingerprint, file.samples))
        loud = loudness_along(track, file.samples, total, course, max(1, min(rows, 2000)))
        found.append(LoudnessCurve(track.id, names[track.sound], [round(value, 3) for value in loud]))
    return found


def ways(services: Services, reel_id: int, track_id: int, revision: int, change: Reel | None) -> list[FitWay]:
    """Return the ways in which a track can end with the picture, the best first; raises ``NotFound``."""
    made = tried(services, reel_id, revision, change)
    track = next((one for one in made.recipe.reel.sound.tracks if one.id == track_id), None)
    if track is None:
        raise NotFound("no_such_track", "This track is not in the reel any more.")
    row = sounds.one(services.database, track.sound)
    sound, beats = _stored(services, row), beats_in(services, row)
    total = samples_of(len(made.frames), made.frames.rate)
    return ways_to_fit(track, sound.samples, total, _course(sound), beats)


def beats_in(services: Services, row: Row) -> Beats:
    """Return the beats of a sound of a project; measured once, which takes about a second for three minutes."""
    sound = _stored(services, row)
    return _beats.get(sound.fingerprint, lambda: beats_of(sound))


def add_logo(services: Services, reel_id: int, name: str, data: bytes) -> Row:
    """Keep a picture that is to lie over reels, with its transparency.

    Raises ``Refusal`` (``unreadable_picture``) for what is none. A large one is reduced.
    """
    reel = reels.one(services.database, reel_id)
    image = _read_logo(name, data)
    fingerprint = blake3(image.tobytes() + str(image.shape).encode()).hexdigest()[:32]
    path = services.workspace.logo(fingerprint)
    if not path.exists():
        _, coded = cv2.imencode(".png", cv2.cvtColor(image, cv2.COLOR_RGBA2BGRA))
        write_completed(path, coded.tobytes())
    height, width = image.shape[:2]
    number = sounds.add_logo(services.database, reel["project_id"], name, fingerprint, width, height)
    return next(row for row in logos(services, reel["project_id"]) if row["id"] == number)


def _read_logo(name: str, data: bytes) -> "np.ndarray[tuple[int, ...], np.dtype[np.uint8]]":
    unreadable = Refusal(
        "unreadable_picture", f"“{name}” is no picture that can be read. Save it as PNG and choose it again."
    )
    try:
        with Image.open(io.BytesIO(data), formats=_LOGO_FORMATS) as opened:
            width, height = opened.size
            if width * height > _LOGO_MOST_PIXELS:
                raise Refusal(
                    "picture_too_large",
                    f"“{name}” has {width:,} × {height:,} pixels. Save it "
                    f"with at most {LOGO_LARGEST_SIDE:,} on its longer side.",
                )
            opened.draft("RGB", (LOGO_LARGEST_SIDE, LOGO_LARGEST_SIDE))
            opened.thumbnail((LOGO_LARGEST_SIDE, LOGO_LARGEST_SIDE), Image.Resampling.BOX)
            return np.asarray(opened.convert("RGBA"), np.uint8)
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError):
        raise unreadable from None


def logos(services: Services, project_id: int) -> list[Row]:
    """Return a project's pictures, the newest first."""
    return sounds.logos(services.database, project_id)


def _stored(services: Services, row: Row) -> StoredSound:
    return StoredSound(str(services.workspace.sound(row["fingerprint"])), row["fingerprint"], row["samples"])


def _course(sound: StoredSound) -> Waveform:
    return _courses.get(sound.fingerprint, lambda: waveform(sound))
