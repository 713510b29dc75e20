"""Presets: saved by name, applied to a shot, exported and imported as JSON."""

from yarnkite.core.brief.preset import Preset, PresetFile, read_presets
from yarnkite.services.decisions import Decided, decide, latest
from yarnkite.services.running import Services
from yarnkite.store import presets, stills

NamedPresets = list[tuple[int, Preset]]


def every(services: Services) -> NamedPresets:
    """Return all presets with their ids, by name."""
    return presets.every(services.database)


def as_file(services: Services) -> str:
    """Return all presets as a file, JSON."""
    return PresetFile(presets=tuple(preset for _, preset in every(services))).model_dump_json(indent=1)


def read_file(services: Services, text: str) -> NamedPresets:
    """Save the presets of a file; one of the same name is replaced. Raises ``Refusal`` for another file."""
    presets.save(services.database, read_presets(text))
    return every(services)


def delete(services: Services, preset_id: int) -> NamedPresets:
    """Forget a preset; returns those that are left."""
    presets.delete(services.database, preset_id)
    return every(services)


def save(services: Services, shot_id: int, name: str, *, light: bool = False, steadying: bool = False) -> NamedPresets:
    """Save the size, rate, hold and format of a shot under a name, with its light and steadying on wish."""
    ids = stills.ids(services.database, shot_id)
    made = Preset.of(name, latest(services, shot_id), ids, light=light, steadying=steadying)
    presets.save(services.database, [made])
    return every(services)


def apply(services: Services, shot_id: int, seen: int, preset_id: int) -> Decided:
    """Decide for a shot what a preset does."""
    decisions, ids = latest(services, shot_id), stills.ids(services.database, shot_id)
    return decide(services, shot_id, seen, presets.one(services.database, preset_id).applied(decisions, ids))
