"""A shot or a reel saved as a file, and rendered from one: without a database, wherever its stills are."""

import re
from dataclasses import replace
from pathlib import Path

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.base.safe_open import safe_open
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode, FormatName
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.image.decode import check_same
from yarnkite.core.reel.reel_file import SOUNDS, ReelFile
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import stills_in
from yarnkite.core.render.shot_file import ShotFile, read_saved
from yarnkite.jobs.finishing import Making
from yarnkite.jobs.reel import making_of
from yarnkite.services import reel
from yarnkite.services.clip import Hearers, MadeClip, computing, make_frames, prove_frames
from yarnkite.services.encode import encodable
from yarnkite.services.running import Services
from yarnkite.services.steadying import check_measured
from yarnkite.store import revisions
from yarnkite.store.shots import folder_of

_MOST_BYTES = 500_000_000
_MOST_NAMED = 3
_KIND, _HEAD = re.compile(r'"kind":\s*"yarn-kite reel"'), 200


def shot_file(services: Services, shot_id: int) -> ShotFile:
    """Return a shot as its newest revision has it; raises ``Conflict`` where its movement is not measured yet."""
    subject = encodable(services, shot_id)
    check_measured(services, subject.row, revisions.latest(services.database, shot_id)[1])
    recipe = subject.recipe
    decisions = recipe.decisions.model_copy(update={"encode": subject.encode})  # type: ignore[union-attr]
    whole = recipe.model_copy(update={"decisions": decisions})
    return ShotFile.of(subject.row["name"], whole, folder_of(subject.row), subject.captured)  # type: ignore[arg-type]


def reel_file(services: Services, reel_id: int) -> ReelFile:
    """Return a reel as its newest revision has it; raises ``Conflict`` where a shot of it is not known well enough
    yet."""
    subject = reel.ready(services, reel_id)
    return ReelFile.of(subject.row["name"], subject.recipe, subject.captured)  # type: ignore[arg-type]


def render_file(
    file: Path,
    stills: Path,
    target: Path,
    hearers: Hearers,
    encode: Encode | None = None,
    *,
    sounds: Path | None = None,
    stretch: tuple[int, int] | None = None,
) -> MadeClip:
    """Make a clip of a saved shot, or of a saved reel, whose files lie in a folder; raises ``Refusal`` before the
    work."""
    making = _read(file, stills, sounds, encode)
    with computing() as workers:
        return make_frames(making, target, hearers, workers, stretch=stretch)


def prove_file(
    clip: Path,
    file: Path,
    stills: Path,
    hearers: Hearers,
    format: FormatName | None = None,
    *,
    sounds: Path | None = None,
) -> MadeClip:
    """Compare all of a finished clip with the saved shot or reel it was made of, painted anew; raises ``Refusal``.

    ``format`` is the clip's where that is not the one saved with the shot; the container is what its name ends with.
    """
    making = _read(file, stills, sounds, None)
    encode = making.encode if format is None else making.encode.model_copy(update={"format": format, "container": None})
    ending = clip.suffix.lower().lstrip(".")
    if ending in format_of(encode).containers:
        encode = encode.model_copy(update={"container": ending})
    with computing() as workers:
        return prove_frames(replace(making, encode=encode), clip, hearers, workers)


def _read(file: Path, stills: Path, sounds: Path | None, encode: Encode | None) -> Making:
    """Read what was saved, with its files where they are now."""
    if file.stat().st_size > _MOST_BYTES:
        raise Refusal("not_a_shot", f"“{file.name}” is too large to be a shot that was saved.")
    try:
        text = file.read_text()
    except UnicodeDecodeError:
        raise Refusal("not_a_shot", f"“{file.name}” is no text. Give a file the page saved.") from None
    if _KIND.search(text[:_HEAD]):
        return _reel(read_saved(ReelFile, text), stills, sounds or stills / SOUNDS, encode)
    return _shot(read_saved(ShotFile, text), stills, encode)


def _shot(saved: ShotFile, folder: Path, encode: Encode | None) -> Making:
    recipe = saved.recipe_in(folder)
    _check_stills(stills_in(recipe), folder)
    return Making(ClipFrames(recipe), encode or recipe.decisions.encode, captured=saved.captured)


def _reel(saved: ReelFile, folder: Path, sounds: Path, encode: Encode | None) -> Making:
    recipe = saved.recipe_in(folder, sounds)
    if encode is not None:
        recipe = recipe.model_copy(update={"reel": recipe.reel.model_copy(update={"encode": encode})})
    clips = [clip for part in recipe.clips for clip in part if clip is not None]
    # A shot that is there twice is looked at once.
    _check_stills(list({still.path: still for clip in clips for still in stills_in(clip.recipe)}.values()), folder)
    beside = [*(one.path for one in recipe.sounds.values()), *(one.path for one in recipe.logos.values())]
    lost = [path for path in beside if not Path(path).is_file()]
    if lost:
        raise NotFound(
            "lost", f"“{Path(lost[0]).name}” is not in {sounds}. Give the program's own folder of sounds with --sounds."
        )
    return making_of(recipe, saved.captured)


def _check_stills(wanted: list[Still], folder: Path) -> None:
    """Raise ``Refusal`` that names stills which are not there, or are not those the file was saved with."""
    lost = [still for still in wanted if not Path(still.path).is_file()]
    if lost:
        raise NotFound("lost", f"{_named(lost)} not in {folder}. Give the folder the stills lie in with --stills.")
    changed = [still for still in wanted if _is_another(still)]
    if changed:
        raise Refusal("stills_changed", f"{_named(changed)} not what they were when the shot was saved. Save it anew.")


def _is_another(still: Still) -> bool:
    try:
        with safe_open(Path(still.path)) as file:
            check_same(still, file)
            return file.fingerprint() != still.fingerprint
    except Refusal:
        return True


def _named(stills: list[Still]) -> str:
    names = ", ".join(f"“{Path(still.path).name}”" for still in stills[:_MOST_NAMED])
    more = f" and {len(stills) - _MOST_NAMED:,} more" if len(stills) > _MOST_NAMED else ""
    return f"{names}{more} {'is' if len(stills) == 1 else 'are'}"
