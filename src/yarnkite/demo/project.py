"""The demo project: one shot for each painted folder, and what is proposed for their light."""

import math
from datetime import datetime

from yarnkite.core.light.decisions import Even, Light, Setting
from yarnkite.core.light.looks import OWN_LOOKS
from yarnkite.core.move.decisions import BandAt, ModelLook, Move, ViewAt
from yarnkite.core.plan.decisions import Exposing, Lens, PlannedShot, Spot, Supplies
from yarnkite.core.reel.decisions import Fades, Join, Part, Picture, Reel, Title
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.made import Kind, Made
from yarnkite.demo.paint import SHOTS
from yarnkite.services.running import Services
from yarnkite.store import jobs, projects, reels, shots, stills, versions
from yarnkite.store import plan as plans

NAME = "Pellow demo"

_EVENED = Light(even=Even(flicker=True, steps=True))
_WARM = next(look for look in OWN_LOOKS if look.name == "Low sun").applied(_EVENED, ())
_MODEL = _EVENED.model_copy(update={"saturation": Setting(value=0.3)})
_SMALL = Move(
    views=(ViewAt(at=0), ViewAt(at=1, x=0.52, y=0.56, closeness=1.15)),
    model=ModelLook(strength=0.7, bands=(BandAt(y=0.6, width=0.14, softness=0.34, angle_deg=-2),)),
)
_PUSH = Move(views=(ViewAt(at=0), ViewAt(at=1, x=0.55, y=0.53, closeness=1.22)))
# What the versions of a shot decide, the one that is open last.
_DECIDED: dict[str, tuple[tuple[str | None, Decisions], ...]] = {
    "Pellow Reach": (
        ("low sun", Decisions(light=_WARM, move=_PUSH)),
        ("like a model", Decisions(light=_MODEL, move=_SMALL)),
        (versions.FIRST, Decisions(light=_EVENED)),
    ),
}
REEL = "An evening at Pellow"
_IN_REEL = ("Pellow Reach", "Beacon Walk")
_OVER = 25
_SOUNDS: tuple[tuple[Kind, dict[str, object]], ...] = (
    ("dusk", {"fade_out": 2 * RATE}),
    ("water", {"gain_db": -8.0, "fade_in": RATE}),
)
# What is still to be shot: the first is what the simulated camera is ready for, a still a second.
_REACH = Spot(latitude=50.4, longitude=-4.9, zone="Europe/London")
_PLANNED = (
    PlannedShot(
        name="Pellow Reach once more", stills=240, interval_ms=1000, exposing=Exposing(exposure_s=0.01, writing_s=0.05)
    ),
    PlannedShot(
        name="Midsummer dusk from the quay",
        stills=600,
        interval_ms=12_000,
        subject="slow clouds",
        starts=datetime(2027, 6, 21, 20, 30),
        spot=_REACH,
        exposing=Exposing(exposure_s=0.5, writing_s=1.2, metered_s=0.004),
        supplies=Supplies(card_bytes=32_000_000_000, per_charge=700, next_number=9640),
    ),
    PlannedShot(
        name="Stars over the beacon",
        stills=300,
        interval_ms=24_000,
        subject="stars",
        starts=datetime(2027, 9, 7, 22, 15),
        spot=_REACH,
        exposing=Exposing(exposure_s=15, writing_s=2),
        lens=Lens(focal_mm=20, f_number=1.8),
        supplies=Supplies(per_charge=700),
    ),
)
_AS_SHOT: tuple[tuple[str | None, Decisions], ...] = ((None, Decisions()),)


def open_demo(services: Services) -> None:
    """Make the demo project with its reel if it is not there, and gather the painted folders into it."""
    if projects.named(services.database, NAME) is not None:
        return
    project_id = projects.add(services.database, NAME)
    made: dict[str, int] = {}
    for shot in SHOTS:
        folder = services.workspace.demo / shot.title
        decided = _DECIDED.get(shot.title, _AS_SHOT)
        shot_id = shots.add(services.database, project_id, shot.title, folder, copied=False, decided=decided)
        # The jobs are noted only: they begin with all others that wait, once the server runs.
        jobs.add(services.database, "gather", shot_id, stills.count(services.database, shot_id))
        made[shot.title] = shot_id
    _add_reel(services, project_id, [made[title] for title in _IN_REEL])
    for planned in _PLANNED:
        plans.add(services.database, project_id, planned)


def _add_reel(services: Services, project_id: int, shot_ids: list[int]) -> None:
    reel_id = reels.add(services.database, project_id, REEL, _reel(shot_ids))
    frames = sum(shot.stills for shot in SHOTS if shot.title in _IN_REEL) - _OVER
    for made, track in _SOUNDS:
        wish = Made(kind=made, seconds=math.ceil(frames / 25), seed=4)
        wanted = {"made": wish.model_dump(), "track": track}
        jobs.add_for_reel(services.database, "sound", reel_id, round(wish.seconds), wanted=wanted)


def _reel(shot_ids: list[int]) -> Reel:
    """Return a reel of two shots with a title, a running clock, and fades."""
    first, second = shot_ids
    return Reel(
        parts=(
            Part(id=1, pictures=(Picture(shot=first),), join=Join(kind="dissolve", frames=_OVER)),
            Part(id=2, pictures=(Picture(shot=second),)),
        ),
        titles=(
            Title(
                id=1,
                part=1,
                text="Pellow Reach\nan evening",
                face="book",
                size=0.1,
                first=12,
                frames=110,
                fade_in=25,
                fade_out=25,
            ),
            Title(id=2, part=1, kind="clock", face="typewriter", size=0.04, place="top right"),
            Title(id=3, part=1, kind="compression", face="typewriter", size=0.035, place="top left"),
        ),
        fades=Fades(picture_in=25, picture_out=25, sound_out=50),
    )
