"""The demo project: one shot for each painted folder."""

from yarnkite.api.services import Services
from yarnkite.store import jobs, projects, shots, stills

NAME = "Pellow demo"


def open_demo(services: Services) -> None:
    """Make the demo project if it is not there, and gather the painted folders into it."""
    if projects.named(services.database, NAME) is not None:
        return
    project_id = projects.add(services.database, NAME)
    for folder in sorted(path for path in services.workspace.demo.iterdir() if path.is_dir()):
        shot_id = shots.add(services.database, project_id, folder.name, folder, copied=False)
        # The jobs are noted only: they begin with all others that wait, once the server runs.
        jobs.add(services.database, "gather", shot_id, stills.count(services.database, shot_id))
