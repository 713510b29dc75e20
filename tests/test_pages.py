"""How much of the pages is fetched before anything is seen."""

import gzip
import re
from pathlib import Path

DIST = Path(__file__).parents[1] / "web" / "dist"
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
    assert kilobytes(start) <= 91
    assert kilobytes(shot) <= 160
    sheets = sorted(DIST.glob("assets/*Sheet-*.js"))
    assert len(sheets) >= 8
    assert not set(sheets) & shot
