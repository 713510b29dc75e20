"""The short way: five plain answers lead from a folder to a clip; what comes of them is an ordinary shot, or a reel of
it."""

from dataclasses import dataclass
from fractions import Fraction
from math import ceil
from typing import Annotated, Literal

from pydantic import Field

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.base.frozen import Frozen, Size
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.brief.sentence import Brief
from yarnkite.core.reel.decisions import Title
from yarnkite.core.render.recipe import schedule_of
from yarnkite.core.sound.decisions import RATE, Track
from yarnkite.core.sound.made import BEDS, Made
from yarnkite.services import check, encode, fit, gather, pace, projects, reel, sound, steadying
from yarnkite.services.decisions import Change, brief_of, decide, resolved_with, with_change
from yarnkite.services.gather import Begun
from yarnkite.services.locations import folder_in
from yarnkite.services.running import Services
from yarnkite.store import jobs, reels, revisions, shots
from yarnkite.store.database import Row

# In place of a kind of music that is made up: a file of one's own, sent to the reel before.
OWN_MUSIC = "own"
_OFFERED = ("16:9", "9:16", "1:1")
_TITLE_S, _FADE_S = 4, Fraction(1, 2)
_LIGHT, _MOVEMENT = {"flicker", "exposure step", "light step"}, {"shake", "knock"}


class Answers(Frozen):
    """What was answered: a length as typed (empty: as it comes), a size, whether to even and steady, a title, music."""

    length: Annotated[str, Field(max_length=40)] = ""
    size: Size = Size(width=1920, height=1080)
    even: bool = True
    steady: bool = False
    title: Annotated[str, Field(max_length=200)] = ""
    music: Annotated[str, Field(max_length=20)] = ""


@dataclass(frozen=True)
class Shape:
    """A shape to choose, by its name, in the size most people use it in."""

    name: str
    size: Size


@dataclass(frozen=True)
class Proposed:
    """What is proposed for each question, and why; ``checked`` says that all neighbours were compared by now."""

    answers: Answers
    length: str
    shapes: list[Shape]
    music: dict[str, str]
    about_light: str
    about_movement: str
    checked: bool


@dataclass(frozen=True)
class Tried:
    """What answers would make: the change they are, and the brief of it."""

    change: Change
    brief: Brief


@dataclass(frozen=True)
class Step:
    """How far the making is: the job that runs now, what it is for, and the reel there is, if one is needed.

    Without a job a piece of music of one's own is waited for, to be sent to the reel.
    """

    stage: Literal["measuring", "sound", "encoding"]
    job: Row | None
    reel_id: int | None


def project_for(services: Services, name: str) -> int:
    """Return the project a folder that is sent goes into: one of its name that has no shot yet, as of a copy that broke
    off."""
    for project in projects.every(services):
        if project["name"] == name and not shots.of_project(services.database, project["id"]):
            return int(project["id"])
    return _project_named(services, name)


def begin(services: Services, location: str, path: str) -> Begun:
    """Make a project named after a folder, and gather the folder into it; one that has it already is used again."""
    folder = folder_in(services, location, path)
    for project in projects.every(services):
        known = shots.with_origin(services.database, project["id"], folder)
        if known is not None:
            return _again(services, known)
    return gather.gather_folder(
        services, _project_named(services, folder.name or location), location, path, copy_files=False
    )


def begin_each(services: Services, location: str, path: str) -> list[Begun]:
    """Make a project named after a folder, and gather each folder in it into a shot of its own; a project that has the
    first of them already is used again. Raises ``Refusal`` as ``gather_each`` does."""
    folder = folder_in(services, location, path)
    first = folder / gather.folders_with_stills(folder)[0]
    known = (one["id"] for one in projects.every(services) if shots.with_origin(services.database, one["id"], first))
    project_id = next(known, None) or _project_named(services, folder.name or location)
    return gather.gather_each(services, project_id, location, path, copy_files=False)


def _again(services: Services, shot_id: int) -> Begun:
    """Look through a folder again that is a shot already; one that is being worked on is left at that."""
    for job in jobs.unfinished(services.database):
        if job["shot_id"] == shot_id and job["kind"] in ("gather", "encode", "export"):
            return Begun(shot_id, job)
    return gather.gather_again(services, shot_id)


def propose(services: Services, shot_id: int) -> Proposed:
    """Return sensible answers for a gathered shot."""
    made = resolved_with(services, shot_id, revisions.latest(services.database, shot_id)[0], Change())
    decided = made.recipe.decisions
    seconds = schedule_of(made.recipe).seconds if made.slots else Fraction(0)
    found = check.found(services, shot_id)
    kinds = {one.finding.kind for one in found.findings}
    *common, own = fit.aspect_ratios(services, shot_id)
    sizes = [(one.name, _usual(one.sizes)) for one in (*(one for one in common if one.name in _OFFERED), own)]
    movement = kinds & _MOVEMENT
    return Proposed(
        answers=Answers(
            size=decided.fit.size,
            steady=bool(movement) or decided.move.steady.is_wished,
        ),
        length=duration_text(seconds),
        shapes=[Shape(name, Size(width=width, height=height)) for name, (width, height) in sizes],
        music={str(kind): name for kind, name in BEDS.items()},
        about_light="The light of the stills is uneven."
        if kinds & _LIGHT
        else "Nothing uneven was found; evening does no harm.",
        about_movement="The camera was not quite still." if movement else "The camera stood still.",
        checked=not found.measuring,
    )


def try_answers(services: Services, shot_id: int, answers: Answers) -> Tried:
    """Return what answers would make, without keeping anything."""
    number, _ = revisions.latest(services.database, shot_id)
    change = _change(services, shot_id, answers)
    return Tried(change, brief_of(services, shot_id, with_change(services, shot_id, number, change)))


def make(services: Services, shot_id: int, answers: Answers, reel_id: int | None) -> Step:
    """Do the next thing on the way to the clip; call it again once the job of the answer is done, with its reel.

    Nothing is done twice: what was decided is decided, a reel that is there is used, a job that runs is returned.
    """
    shot = shots.one(services.database, shot_id)
    number, _ = revisions.latest(services.database, shot_id)
    wanted = with_change(services, shot_id, number, _change(services, shot_id, answers))
    number = decide(services, shot_id, number, wanted).revision
    if answers.steady:
        measuring = steadying.measure(services, shot_id)
        if measuring is not None:
            return Step("measuring", measuring, reel_id)
    if not answers.title.strip() and not answers.music:
        return Step("encoding", encode.encode(services, shot_id, number), None)
    reel_id = _reel(services, shot, answers, reel_id)
    if answers.music and not reels.latest(services.database, reel_id)[1].sound.tracks:
        return Step("sound", _music(services, reel_id, answers), reel_id)
    if answers.music == OWN_MUSIC:
        _end_with_the_picture(services, reel_id)
    return Step("encoding", reel.encode(services, reel_id, reels.latest(services.database, reel_id)[0]), reel_id)


def _change(services: Services, shot_id: int, answers: Answers) -> Change:
    number, decisions = revisions.latest(services.database, shot_id)
    light, move = decisions.light, decisions.move
    # What was decided more finely before stays, where the answer is the same.
    if answers.even != (light.even.flicker or light.even.steps):
        even = light.even.model_copy(update={"flicker": answers.even, "steps": answers.even})
        light = light.model_copy(update={"even": even})
    if answers.steady != move.steady.is_wished:
        steady = move.steady.model_copy(update={"how": "glide" if answers.steady else "off"})
        move = move.model_copy(update={"steady": steady})
    change = Change(light=light, fit=decisions.fit.model_copy(update={"size": answers.size}), move=move)
    if answers.length.strip():
        ways = pace.ways_to(services, shot_id, answers.length, number, Change())
        if ways:
            change = change.model_copy(update={"pace": ways[0].pace})
    return change


def _reel(services: Services, shot: Row, answers: Answers, reel_id: int | None) -> int:
    """Return the reel of the shot alone, with its title."""
    made = reel_id if reel_id is not None else reel.of_shot(services, shot["id"])
    number, decisions = reels.latest(services.database, made)
    if reels.one(services.database, made)["project_id"] != shot["project_id"]:
        raise NotFound("no_such_reel", "This reel is of another project.")
    text = answers.title.strip()
    if text and not decisions.titles:
        frames, fade = ceil(_TITLE_S * decisions.rate), round(_FADE_S * decisions.rate)
        title = Title(id=1, part=decisions.parts[0].id, text=text, frames=frames, fade_in=fade, fade_out=fade)
        reels.revise(services.database, made, number, decisions.model_copy(update={"titles": (title,)}))
    return made


def _end_with_the_picture(services: Services, reel_id: int) -> None:
    """Bring a piece of music that was sent to the length of the clip in the way that fits best, as long as nobody
    decided about it."""
    number, decisions = reels.latest(services.database, reel_id)
    (track, *others) = decisions.sound.tracks
    if track != Track(id=track.id, sound=track.sound):
        return
    ways = sound.ways(services, reel_id, track.id, number, None)
    if ways and ways[0].track != track:
        tracks = decisions.sound.model_copy(update={"tracks": (ways[0].track, *others)})
        reels.revise(services.database, reel_id, number, decisions.model_copy(update={"sound": tracks}))


def _music(services: Services, reel_id: int, answers: Answers) -> Row | None:
    """Begin to make up music as long as the reel; one's own comes from the browser."""
    for job in jobs.unfinished(services.database):
        if job["reel_id"] == reel_id and job["kind"] == "sound":
            return job
    if answers.music == OWN_MUSIC:
        return None
    number, _ = reels.latest(services.database, reel_id)
    made = reel.decided(services, reel_id, number).made
    seconds = max(1, ceil(len(made.frames) / made.recipe.reel.rate))
    wish = Made.model_validate({"kind": answers.music, "seconds": min(seconds, 3600)})
    wanted = {"made": wish.model_dump(), "track": {"fade_out": RATE}}
    return jobs.one(services.database, services.runner.start_for_reel("sound", reel_id, seconds, wanted=wanted))


def _usual(sizes: tuple[tuple[int, int], ...]) -> tuple[int, int]:
    """Return the size of a shape that is nearest to that of common screens."""
    return min(sizes, key=lambda size: abs(min(size) - 1080))


def _project_named(services: Services, name: str) -> int:
    for number in range(1, 1000):
        try:
            return int(projects.add(services, name[:110] if number == 1 else f"{name[:110]} {number}")["id"])
        except Conflict:
            continue
    raise Conflict("name_taken", f"There are a thousand projects called “{name}”. Rename some.")
