"""How much of the pages is fetched before anything is seen, and what they say twice with the core."""

import gzip
import re
from pathlib import Path

from yarnkite.core.light.decisions import Light
from yarnkite.core.light.grade import RANGES

WEB = Path(__file__).parents[1] / "web"
DIST = WEB / "dist"
_IMPORTED = re.compile(r'(?:from|import)\s*"\./([^"]+\.js)"')


def fetched_with(script: Path, known: frozenset[Path] = frozenset()) -> frozenset[Path]:
    """Return a script with all that it imports before it runs."""
    if script in known:
        return known
    known |= {script}
    for name in _IMPORTED.findall(script.read_text()):
        known = fetched_with(script.parent / name, known)
    return known


def kilobytes(scripts: frozenset[Path]) -> float:
    return sum(len(gzip.compress(one.read_bytes())) for one in scripts) / 1000


def test_the_first_page_is_small_and_a_shot_fetches_its_steps_as_they_are_opened():
    (entry,) = re.findall(r'<script[^>]* src="/([^"]+)"', (DIST / "index.html").read_text())
    start = fetched_with(DIST / entry)
    (screen,) = DIST.glob("assets/ShotScreen-*.js")
    shot = fetched_with(screen, start)
    assert len(start) > 2
    assert len(shot) > len(start)
    assert kilobytes(start) <= 90
    sheets = sorted(DIST.glob("assets/*Sheet-*.js"))
    assert len(sheets) >= 8
    assert not set(sheets) & shot
    assert {sheet.name: size for sheet in sheets if (size := kilobytes(fetched_with(sheet, shot))) > 180} == {}


def test_a_field_for_light_goes_as_far_as_its_setting_may():
    fields = re.compile(r'<SettingField\s[^>]*?name="([\w.]+)"[^>]*?:min="([-\d.]+)"[^>]*?:max="([-\d.]+)"', re.DOTALL)
    found = {
        name: (float(least), float(most))
        for path in sorted((WEB / "src" / "steps" / "light").glob("*.vue"))
        for name, least, most in fields.findall(path.read_text())
    }
    ranges = Light.ranges | {"table.strength": (0, 1)}
    assert {name: ranges[name] for name in found} == found
    # What has no field is pulled on a curve, a circle or a corner of its own, and that all alike.
    pulled = {"dark", "middle", "bright", "dark_warmth", "dark_tint", "bright_warmth", "bright_tint"}
    assert {"exposure", "contrast", "warmth", "haze", "sharpen", "noise"} <= set(found)
    assert set(RANGES) - set(found) == pulled
    assert {RANGES[name] for name in pulled} == {(-1, 1)}
