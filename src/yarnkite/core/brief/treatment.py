"""A treatment: what was decided about one shot, decided about others, without what only that one can have."""

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from yarnkite.core.encode.purposes import saying_as
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.looks import PARTS, Look
from yarnkite.core.light.settings import Setting
from yarnkite.core.move.decisions import Steady
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions

TreatedPart = Literal["light", "fit", "move", "pace", "encode"]
TREATED_PARTS: tuple[TreatedPart, ...] = ("light", "fit", "move", "pace", "encode")


@dataclass(frozen=True)
class TreatedShot:
    """A shot as a treatment sees it: its name, what is decided, the ids of its stills in order, and its lenses."""

    name: str
    decisions: Decisions
    stills: Sequence[int]
    lenses: Collection[str] = ()

    def has_lens_of(self, other: "TreatedShot") -> bool:
        """Whether both were taken with one and the same lens, as far as is known."""
        return len(set(self.lenses)) == 1 and set(self.lenses) == set(other.lenses)


@dataclass(frozen=True)
class Treated:
    """What a shot is decided like, and what of its own it keeps, in sentences."""

    decisions: Decisions
    exceptions: tuple[str, ...]


def treated(shot: TreatedShot, model: TreatedShot, parts: Collection[TreatedPart]) -> Treated:
    """Return a shot treated like a model in some parts; its order, its checking and the rest stay its own.

    What changes over the model lies at the same share of the way through the shot.
    """
    exceptions: list[str] = []
    update: dict[str, object] = {
        part: _BY_PART[part](shot, model, exceptions) for part in TREATED_PARTS if part in parts
    }
    return Treated(shot.decisions.model_copy(update=update), tuple(exceptions))


def _light(shot: TreatedShot, model: TreatedShot, exceptions: list[str]) -> Light:
    own, wanted = shot.decisions.light, model.decisions.light
    even = wanted.even
    if even.is_drawn:
        exceptions.append(f"keeps its own course of light: that of “{model.name}” is drawn for its stills")
        even = even.model_copy(update={"course": own.even.course, "drawn": own.even.drawn})
    else:
        even = even.model_copy(update={"drawn": Setting()})
    fringes = {name: getattr(wanted, name) for name in ("fringe_red", "fringe_blue")}
    mine = {name: getattr(own, name) for name in fringes}
    if fringes != mine and not shot.has_lens_of(model):
        exceptions.append("keeps its own correction of fringing: that belongs to a lens")
        fringes = mine
    whole = Look.of(model.name or "a shot", PARTS, wanted, model.stills).applied(own, shot.stills)
    # What is drawn, and at which stills, is the shot's own.
    return whole.model_copy(update={"even": even, **fringes})


def _fit(shot: TreatedShot, model: TreatedShot, exceptions: list[str]) -> object:
    own, wanted = shot.decisions.fit, model.decisions.fit
    kept: dict[str, object] = {"level": own.level, "quarters": own.quarters, "mirror": own.mirror}
    if wanted.level != own.level:
        exceptions.append("keeps its own level")
    if (wanted.quarters, wanted.mirror) != (own.quarters, own.mirror):
        exceptions.append("is turned and mirrored as it was")
    if wanted.lens != own.lens and not shot.has_lens_of(model):
        exceptions.append("keeps its own lens and perspective: those belong to a lens and a place")
        kept["lens"] = own.lens
    return wanted.model_copy(update=kept)


def _move(shot: TreatedShot, model: TreatedShot, exceptions: list[str]) -> object:
    wanted = model.decisions.move
    steady = carried_steady(wanted.steady, shot.decisions.move.steady)
    if wanted.steady.how == "anchor":
        exceptions.append(f"keeps its own steadying: a point is anchored in the stills of “{model.name}”")
    elif wanted.steady.how == "still" and wanted.steady.reference is not None:
        exceptions.append("is laid onto the middle of its stills: the one they are laid onto is another shot's")
    return wanted.model_copy(update={"steady": steady})


def carried_steady(wanted: Steady, own: Steady) -> Steady:
    """Return how a shot is steadied like another: its points and the still it is laid onto are its own."""
    if wanted.how == "anchor":
        return own
    of_stills = {"points": own.points, "begins": own.begins, "ends": own.ends, "reference": None}
    return wanted.model_copy(update=of_stills)


def _pace(shot: TreatedShot, model: TreatedShot, exceptions: list[str]) -> Pace:
    own, wanted = shot.decisions.pace, model.decisions.pace
    kept: dict[str, object] = {"longer": own.longer, "picked": own.picked}
    if wanted.longer:
        exceptions.append("stays longer only where its own stills were told to")
    if wanted.thin.way == "picked":
        exceptions.append(f"uses the stills it used: those of “{model.name}” were picked one by one")
        kept["thin"] = own.thin
    return wanted.model_copy(update=kept)


def _encode(shot: TreatedShot, model: TreatedShot, _: list[str]) -> object:
    return saying_as(model.decisions.encode, shot.decisions.encode)


_BY_PART: Mapping[TreatedPart, Callable[[TreatedShot, TreatedShot, list[str]], object]] = {
    "light": _light,
    "fit": _fit,
    "move": _move,
    "pace": _pace,
    "encode": _encode,
}
