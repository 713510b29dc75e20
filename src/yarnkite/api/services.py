"""What the routers work with, made once when the server starts."""

from dataclasses import dataclass
from typing import Annotated, cast

from fastapi import Depends, Request

from yarnkite.api.events import Events
from yarnkite.core.gather.roots import Place
from yarnkite.jobs.playing import Pieces
from yarnkite.jobs.runner import Runner
from yarnkite.store.database import Database
from yarnkite.workspace import Workspace


@dataclass(frozen=True)
class Services:
    """The parts of the running program a request may need."""

    database: Database
    workspace: Workspace
    runner: Runner
    events: Events
    places: tuple[Place, ...]
    pieces: Pieces


def _services(request: Request) -> Services:
    return cast(Services, request.app.state.services)


Needed = Annotated[Services, Depends(_services)]
