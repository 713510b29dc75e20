"""A reel put together of its shots as they stand: its recipe, its frames, and what is to be said of each part."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.brief.reel_sentence import ReelBrief, Remark, reel_brief
from yarnkite.core.encode.size_model import SizeModel
from yarnkite.core.reel.decisions import Picture, Reel
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.recipe import ClipStretch, LogoFile, ReelRecipe, SoundFile
from yarnkite.core.reel.split_join import stretch_of
from yarnkite.core.reel.tiles import tiles
from yarnkite.core.render.recipe import schedule_of
from yarnkite.resolve.shot import resolved
from yarnkite.resolve.slots import camera_clock
from yarnkite.store import revisions, shots, snapshots, sounds, versions
from yarnkite.store.database import Database, Row
from yarnkite.workspace import Workspace

# Titles whose text hangs on when stills were taken.
_LIVE = ("clock", "date", "days", "compression")


@dataclass(frozen=True)
class ShotInReel:
    """A picture of a part as it is now: ``frames`` of its clip are used; the sentence says what is wrong with it."""

    name: str
    version: str
    shot: int
    frames: int
    sentence: str


@dataclass(frozen=True)
class ResolvedReel:
    """A reel with all it is about: its recipe, its frames, and each part's shots."""

    recipe: ReelRecipe
    frames: ReelFrames
    shots: tuple[tuple[ShotInReel, ...], ...]
    models: tuple[SizeModel | None, ...]
    remarks: tuple[Remark, ...]
    expected: Callable[["ResolvedReel"], int | None] = lambda made: None

    @cached_property
    def said(self) -> ReelBrief:
        """The brief; pictures and plans do without it."""
        return reel_brief(self.recipe, self.frames, self.models, self.remarks, self.expected(self))


def resolved_reel(database: Database, workspace: Workspace, reel: Row, decisions: Reel) -> ResolvedReel:
    """Return what decisions make of a reel: each shot as it stands now, or a sentence why it is not shown."""
    live = any(title.kind in _LIVE for title in decisions.titles)
    parts = [
        [
            _picture(database, reel["project_id"], picture, place.size, live=live)
            for picture, place in zip(part.pictures, tiles(part, decisions.size), strict=True)
        ]
        for part in decisions.parts
    ]
    files = {row["id"]: row for row in sounds.of_project(database, reel["project_id"])}
    wanted = {track.sound for track in decisions.sound.tracks}
    logos = {row["id"]: row for row in sounds.logos(database, reel["project_id"])}
    recipe = ReelRecipe(
        reel=decisions,
        clips=tuple(tuple(clip for clip, _, _ in row) for row in parts),
        logos={
            number: LogoFile(path=str(workspace.logo(row["fingerprint"])), fingerprint=row["fingerprint"])
            for number, row in logos.items()
            if any(title.picture == number for title in decisions.titles)
        },
        sounds={
            number: SoundFile(
                path=str(workspace.sound(row["fingerprint"])),
                fingerprint=row["fingerprint"],
                samples=row["samples"],
            )
            for number, row in files.items()
            if number in wanted and workspace.sound(row["fingerprint"]).exists()
        },
        names=tuple(_name(row) for row in parts),
    )
    models = tuple(next((model for _, _, model in row), None) for row in parts)
    seen = tuple(tuple(shot for _, shot, _ in row) for row in parts)
    remarks = [
        Remark("part", part.id, shot.sentence)
        for part, row in zip(decisions.parts, seen, strict=True)
        for shot in row
        if shot.sentence
    ]
    remarks += [
        Remark("track", track.id, said)
        for track in decisions.sound.tracks
        for said in files.get(track.sound, {"remarks": []})["remarks"]
    ]
    return ResolvedReel(recipe, ReelFrames(recipe), seen, models, tuple(remarks))


def _name(row: Sequence[tuple[ClipStretch | None, ShotInReel, SizeModel | None]]) -> str:
    return " beside ".join(dict.fromkeys(shot.name for _, shot, _ in row))


def _picture(
    database: Database, project_id: int, picture: Picture, size: Size, *, live: bool
) -> tuple[ClipStretch | None, ShotInReel, SizeModel | None]:
    """Return a picture's clip as its shot stands now, what is to be said of it, and what its frames weigh."""
    try:
        shot = shot_of_project(database, project_id, picture.shot)
    except NotFound:
        gone = "This shot was deleted. Take it back under Space, or take this part out."
        return None, ShotInReel("a deleted shot", "", picture.shot, 0, gone), None
    name, sentence = shot["name"], ""
    _, decisions = revisions.latest(database, shot["id"])
    version = ""
    if picture.version is not None:
        found = versions.decided(database, shot["id"], picture.version)
        if found is None:
            sentence = f"The version of “{name}” that was here was deleted; the one that is open is shown instead."
        else:
            version, decisions = found
    # What steadied stills cover depends on the shape they are shown in.
    fit = decisions.fit.model_copy(update={"size": size})
    try:
        made = resolved(database, shot, decisions.model_copy(update={"fit": fit}))
        schedule = schedule_of(made.recipe)
    except Refusal as refusal:
        return None, ShotInReel(name, version, shot["id"], 0, refusal.sentence), None
    if not len(schedule):
        return None, ShotInReel(name, version, shot["id"], 0, f"“{name}” has no stills to show."), None
    first, count = 0, len(schedule)
    if picture.begin is not None or picture.end is not None:
        order = snapshots.of_shot(database, shot).positions
        for still in (picture.begin, picture.end):
            if still is not None and still not in order:
                sentence = (
                    f"The stretch of “{name}” that was chosen begins or "
                    "ends with a still that is gone; its own end counts."
                )
        low, high = stretch_of([slot.still for slot in made.slots], order, picture.begin, picture.end)
        shown = [frame for frame, slot in enumerate(schedule.mains()) if low <= slot <= high]
        if shown:
            first, count = shown[0], shown[-1] - shown[0] + 1
    moments = camera_clock(database, shot, made.slots, made.times) if live else ()
    clip = ClipStretch(recipe=made.recipe, decided_size=decisions.fit.size, first=first, frames=count, moments=moments)
    return clip, ShotInReel(name, version, shot["id"], count, sentence), shots.size_model_of(shot)


def shot_of_project(database: Database, project_id: int, shot_id: int) -> Row:
    """Return a shot of a project; raises ``NotFound`` also for one of another."""
    shot = shots.one(database, shot_id)
    if shot["project_id"] != project_id:
        raise NotFound("no_such_shot", "This shot does not exist in this project.")
    return shot
