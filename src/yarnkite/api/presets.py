"""Presets: saved by name, applied to a shot, exported and imported as JSON."""

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from yarnkite.api.bodies import Seen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import RevisedView, revised_view
from yarnkite.core.brief.preset import Preset, PresetName
from yarnkite.services import presets

router = APIRouter(prefix="/api", tags=["presets"])


class PresetView(BaseModel):
    id: int
    preset: Preset


class NewPreset(BaseModel):
    """A name for what a shot's newest revision decides, with its light and steadying on wish."""

    name: PresetName
    light: bool = False
    steadying: bool = False


class PresetText(BaseModel):
    """The text of a file of presets."""

    text: Annotated[str, Field(max_length=1_000_000)]


class Applied(Seen):
    preset: int


@router.get("/presets")
def list_presets(services: ServicesDep) -> list[PresetView]:
    return _views(presets.every(services))


@router.get("/presets.json", response_class=Response)
def export_presets(services: ServicesDep) -> Response:
    """Return all presets as a file."""
    headers = {"Content-Disposition": 'attachment; filename="presets.json"', "Cache-Control": "no-store"}
    return Response(presets.as_file(services), media_type="application/json", headers=headers)


@router.post("/presets/import")
def import_presets(services: ServicesDep, body: PresetText) -> list[PresetView]:
    """Save the presets of a file; one of the same name is replaced."""
    return _views(presets.read_file(services, body.text))


@router.delete("/presets/{preset_id}")
def delete_preset(services: ServicesDep, preset_id: int) -> list[PresetView]:
    return _views(presets.delete(services, preset_id))


@router.post("/shots/{shot_id}/presets", status_code=201)
def save_preset(services: ServicesDep, shot_id: int, body: NewPreset) -> list[PresetView]:
    """Save the size, rate, hold and format of a shot under a name, with its light and steadying on wish."""
    saved = presets.save(services, shot_id, body.name, light=body.light, steadying=body.steadying)
    return _views(saved)


@router.post("/shots/{shot_id}/presets/apply")
def apply_preset(services: ServicesDep, shot_id: int, body: Applied) -> RevisedView:
    """Decide for a shot what a preset does."""
    return revised_view(presets.apply(services, shot_id, body.seen, body.preset))


def _views(named: presets.NamedPresets) -> list[PresetView]:
    return [PresetView(id=number, preset=preset) for number, preset in named]
