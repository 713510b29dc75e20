"""Writing a shot's stills into a new folder, under new names."""

from typing import Annotated, Literal

from fastapi import APIRouter
from pydantic import Field

from yarnkite.api.bodies import NewFolder, PatternBody
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, job_view
from yarnkite.core.encode.export import Format
from yarnkite.services import export
from yarnkite.services.export import ExportList, Wanted

router = APIRouter(prefix="/api/shots/{shot_id}/export", tags=["order"])


class WantedBody(PatternBody):
    """What to write: copies of the files, or pictures as they were shot or as the clip shows them."""

    what: Literal["files", "shot", "fitted"] = "files"
    format: Format = "JPEG"
    quality: Annotated[int, Field(ge=50, le=100)] = 95

    @property
    def wanted(self) -> Wanted:
        return Wanted(tuple(self.parts), self.what, self.format, self.quality)


class Into(WantedBody, NewFolder):
    """What to write, and the folder it goes into."""


@router.post("/list")
def export_list(services: ServicesDep, shot_id: int, body: WantedBody) -> ExportList:
    return export.listed(services, shot_id, body.wanted)


@router.post("", status_code=202)
def begin_export(services: ServicesDep, shot_id: int, body: Into) -> JobView:
    """Begin to write the files into a folder that is new or empty."""
    return job_view(export.begin(services, shot_id, body.wanted, body.location, body.path, body.folder))
