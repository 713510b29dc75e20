"""The demo project: one shot for each painted folder, and what is proposed for their light."""

from yarnkite.core.light.decisions import Even, Light, Setting
from yarnkite.core.light.looks import OWN_LOOKS
from yarnkite.core.move.decisions import BandAt, ModelLook, Move, ViewAt
from yarnkite.core.render.decisions import Decisions
from yarnkite.demo.paint import SHOTS
from yarnkite.services.running import Services
from yarnkite.store import jobs, projects, shots, stills, versions

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
_AS_SHOT: tuple[tuple[str | None, Decisions], ...] = ((None, Decisions()),)


def open_demo(services: Services) -> None:
    """Make the demo project if it is not there, and gather the painted folders into it."""
    if projects.named(services.database, NAME) is not None:
        return
    project_id = projects.add(services.database, NAME)
    for shot in SHOTS:
        folder = services.workspace.demo / shot.title
        decided = _DECIDED.get(shot.title, _AS_SHOT)
        shot_id = shots.add(services.database, project_id, shot.title, folder, copied=False, decided=decided)
        # The jobs are noted only: they begin with all others that wait, once the server runs.
        jobs.add(services.database, "gather", shot_id, stills.count(services.database, shot_id))
