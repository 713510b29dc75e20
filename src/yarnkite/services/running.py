"""The parts of the running program that services work with, made once when it starts."""

from dataclasses import dataclass

from yarnkite import locations
from yarnkite.camera.cameras import Cameras
from yarnkite.core.gather.locations import Location
from yarnkite.jobs.playing_sound import PlayingSound
from yarnkite.jobs.preview import Segments
from yarnkite.jobs.runner import Runner
from yarnkite.services.events import Events
from yarnkite.store.database import Database
from yarnkite.workspace import Workspace


@dataclass(frozen=True)
class Services:
    """Database, folders, jobs and what is told to open pages."""

    database: Database
    workspace: Workspace
    runner: Runner
    events: Events
    segments: Segments
    sound: PlayingSound
    cameras: Cameras

    @property
    def locations(self) -> tuple[Location, ...]:
        """The folders that may be looked into now."""
        return locations.known(self.workspace)
