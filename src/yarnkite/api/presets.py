"""Presets: kept by name, applied to a shot, exported and imported as JSON."""

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from yarnkite.api.decisions import Seen, kept
from yarnkite.api.services import Needed
from yarnkite.api.views import Revised
from yarnkite.core.brief.preset import Preset, PresetFile, PresetName, read_presets
from yarnkite.store import presets, revisions

router = APIRouter(prefix="/api", tags=["presets"])


class PresetView(BaseModel):
    id: int
    preset: Preset


class NewPreset(BaseModel):
    """A name for what a shot's newest revision decides."""

    name: PresetName


class PresetText(BaseModel):
    """The text of a file of presets."""

    text: Annotated[str, Field(max_length=1_000_000)]


class Applied(Seen):
    preset: int


@router.get("/presets")
def list_presets(needed: Needed) -> list[PresetView]:
    return [PresetView(id=number, preset=preset) for number, preset in presets.every(needed.database)]


@router.get("/presets.json", response_class=Response)
def export_presets(needed: Needed) -> Response:
    """Return all presets as a file."""
    every = PresetFile(presets=tuple(preset for _, preset in presets.every(needed.database)))
    headers = {"Content-Disposition": 'attachment; filename="presets.json"', "Cache-Control": "no-store"}
    return Response(every.model_dump_json(indent=1), media_type="application/json", headers=headers)


@router.post("/presets/import")
def import_presets(needed: Needed, body: PresetText) -> list[PresetView]:
    """Keep the presets of a file; one of the same name is replaced."""
    presets.keep(needed.database, read_presets(body.text))
    return list_presets(needed)


@router.delete("/presets/{preset_id}")
def delete_preset(needed: Needed, preset_id: int) -> list[PresetView]:
    presets.delete(needed.database, preset_id)
    return list_presets(needed)


@router.post("/shots/{shot_id}/presets", status_code=201)
def keep_preset(needed: Needed, shot_id: int, body: NewPreset) -> list[PresetView]:
    """Keep the size, rate, hold and format of a shot under a name."""
    _, decisions = revisions.latest(needed.database, shot_id)
    presets.keep(needed.database, [Preset.of(body.name, decisions)])
    return list_presets(needed)


@router.post("/shots/{shot_id}/presets/apply")
def apply_preset(needed: Needed, shot_id: int, body: Applied) -> Revised:
    """Decide for a shot what a preset does."""
    _, decisions = revisions.latest(needed.database, shot_id)
    return kept(needed, shot_id, body.seen, presets.one(needed.database, body.preset).applied(decisions))
