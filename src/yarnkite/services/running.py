"""The parts of the running program that services work with, made once when it starts."""

from dataclasses import dataclass

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
    """Database, folders, jobs and what is told to open pages; ``locations`` are the folders that may be looked into."""

    database: Database
    workspace: Workspace
    runner: Runner
    events: Events
    locations: tuple[Location, ...]
    segments: Segments
    sound: PlayingSound
    cameras: Cameras
