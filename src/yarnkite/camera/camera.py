"""What a camera is to the program: a name, a live view, settings where it has them, and stills as bytes."""

from dataclasses import dataclass
from typing import Protocol

from yarnkite.core.base.errors import Refusal


class CameraAway(Refusal):
    """The camera does not answer: off, out of reach, unplugged. It may come back."""


class CameraRefuses(Refusal):
    """The camera answers, but cannot take this still: card full, battery empty, busy."""


@dataclass(frozen=True)
class Settings:
    """How a camera exposes: seconds, and sensitivity after ISO 12232."""

    exposure_s: float
    sensitivity: int


@dataclass(frozen=True)
class Abilities:
    """What can be set on a camera: the exposures and sensitivities it has, none where it sets them itself."""

    exposures_s: tuple[float, ...] = ()
    sensitivities: tuple[int, ...] = ()


@dataclass(frozen=True)
class State:
    """How a camera is: charge from 0 to 1, stills that fit on its card, its settings; ``None`` for what it does not
    tell."""

    name: str
    battery: float | None = None
    stills_left: int | None = None
    settings: Settings | None = None
    abilities: Abilities = Abilities()


@dataclass(frozen=True)
class Taken:
    """A still as a camera gives it: the bytes of a whole file, and the ending its name should have."""

    data: bytes
    ending: str = ".jpg"


class Camera(Protocol):
    """A camera that is open. Every call may raise ``CameraAway``, after which the same call may be tried again.

    One thread at a time calls ``take`` and ``set``; ``live_view`` and ``state`` may be called from another one.
    """

    def state(self) -> State:
        """Return how the camera is now."""
        ...

    def live_view(self) -> bytes:
        """Return what the lens sees now, a JPEG of about 1000 pixels' width."""
        ...

    def set(self, settings: Settings) -> Settings:
        """Expose so from now on, as near as the camera can; returns what it really set."""
        ...

    def take(self) -> Taken:
        """Take one still now; raises ``CameraRefuses`` where it cannot, and never gives the same still twice."""
        ...

    def close(self) -> None:
        """Let go of the camera."""
        ...
