"""The demo project: one shot for each painted folder."""

from yarnkite.demo.paint import SHOTS
from yarnkite.services.running import Services
from yarnkite.store import jobs, projects, shots, stills

NAME = "Pellow demo"


def open_demo(services: Services) -> None:
    """Make the demo project if it is not there, and gather the painted folders into it."""
    if projects.named(services.database, NAME) is not None:
        return
    project_id = projects.add(services.database, NAME)
    for shot in SHOTS:
        folder = services.workspace.demo / shot.title
        shot_id = shots.add(services.database, project_id, shot.title, folder, copied=False)
        # The jobs are noted only: they begin with all others that wait, once the server runs.
        jobs.add(services.database, "gather", shot_id, stills.count(services.database, shot_id))
