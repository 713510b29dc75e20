"""Looks: saved by name, applied to a shot, taken from another one or from a picture developed elsewhere; tables of
colours brought in and written."""

from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, Field, StringConstraints

from yarnkite.api.bodies import ChangeText, FileName, Seen, read_change, received
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.pictures import State, answer_frame
from yarnkite.api.views import RevisedView, revised_view
from yarnkite.core.light.looks import LookPart
from yarnkite.services import following, looks

router = APIRouter(prefix="/api", tags=["looks"])

LookName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
Parts = Annotated[list[LookPart], Field(min_length=1, max_length=6)]


class LookView(BaseModel):
    """``id`` is none for those the program comes with."""

    id: int | None
    name: str
    parts: list[LookPart]


class NewLook(BaseModel):
    name: LookName
    parts: Parts


class AppliedLook(Seen):
    """A saved look by its id, or one of the program's own by its name."""

    id: int | None = None
    name: Annotated[str, Field(max_length=60)] = ""


class CopiedLight(Seen):
    """Another shot, one of its versions if it has several, and which parts of its light."""

    shot: int
    version: int | None = None
    parts: Parts


class TableText(Seen):
    """A file of a table of colours."""

    name: Annotated[str, Field(max_length=255)]
    text: Annotated[str, Field(max_length=17_000_000)]


class FollowedView(BaseModel):
    """What was decided, the position of the still that looks like the picture now, and how near it is."""

    revised: RevisedView
    position: int
    sentence: str


@router.get("/looks")
def list_looks(services: ServicesDep) -> list[LookView]:
    return _views(looks.every(services))


@router.delete("/looks/{look_id}")
def delete_look(services: ServicesDep, look_id: int) -> list[LookView]:
    return _views(looks.delete(services, look_id))


@router.post("/shots/{shot_id}/looks", status_code=201)
def save_look(services: ServicesDep, shot_id: int, body: NewLook) -> list[LookView]:
    """Save parts of a shot's light under a name; a saved one of the same name is replaced."""
    return _views(looks.save(services, shot_id, body.name, body.parts))


@router.get("/shots/{shot_id}/light/stills/{position}/look.jpg", response_class=Response)
def preview(
    services: ServicesDep,
    shot_id: int,
    position: int,
    revision: int,
    name: Annotated[str, Query(max_length=60)] = "",
    look: int | None = None,
    width: Annotated[int, Query(ge=16, le=960)] = 192,
    state: str = State,
) -> Response:
    """Return a still as a look would have it."""
    made = looks.preview(services, shot_id, position, revision, width, look, name)
    return answer_frame(services, shot_id, state if look is None else "", made)


@router.post("/shots/{shot_id}/looks/apply")
def apply_look(services: ServicesDep, shot_id: int, body: AppliedLook) -> RevisedView:
    """Decide for a shot's light what a look does."""
    return revised_view(looks.apply(services, shot_id, body.seen, body.id, body.name))


@router.post("/shots/{shot_id}/light/copy")
def copy_light(services: ServicesDep, shot_id: int, body: CopiedLight) -> RevisedView:
    """Decide for a shot's light what parts of another shot's or version's do."""
    return revised_view(looks.copy(services, shot_id, body.seen, body.shot, body.version, body.parts))


@router.post("/shots/{shot_id}/light/stills/{position}/follow")
async def follow_picture(
    services: ServicesDep, shot_id: int, position: int, request: Request, seen: int, name: FileName
) -> FollowedView:
    """Decide the brightness and colour by which a still looks like a picture of it that was developed elsewhere, whose
    file is sent; another still of the shot if the picture is named like that."""
    sentence = f"“{name}” has more than 300 MB. Save it smaller and choose it again."
    data = await received(request, following.PICTURE_MOST_BYTES, "picture_too_large", sentence)
    made = await run_in_threadpool(following.follow, services, shot_id, position, seen, name, data)
    return FollowedView(revised=revised_view(made.decided), position=made.position, sentence=made.sentence)


@router.post("/shots/{shot_id}/light/table")
def add_table(services: ServicesDep, shot_id: int, body: TableText) -> RevisedView:
    """Apply a table of colours from a ``.cube`` file."""
    return revised_view(looks.add_table(services, shot_id, body.seen, body.name, body.text))


@router.get("/shots/{shot_id}/light/stills/{position}/light.cube", response_class=Response)
def write_table(
    services: ServicesDep, shot_id: int, position: int, revision: int, change: ChangeText = "{}"
) -> Response:
    """Return what a still's light does to colours as a ``.cube`` file."""
    name, text = looks.as_cube(services, shot_id, position, revision, read_change(change))
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{quote(name)}", "Cache-Control": "no-store"}
    return Response(text, media_type="text/plain; charset=utf-8", headers=headers)


def _views(named: list[looks.NamedLook]) -> list[LookView]:
    return [LookView(id=one.id, name=one.look.name, parts=list(one.look.parts)) for one in named]
