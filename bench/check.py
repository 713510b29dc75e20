"""How many planted faults the check finds, and how many it finds that are none."""

from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from math import hypot
from pathlib import Path

from bench.planted import SCENES, Fault, Shot, clean, dirty, faulty, measurements
from yarnkite.core.check.dirt import spots
from yarnkite.core.check.finding import Finding
from yarnkite.core.check.findings import findings, from_breaks

# Thresholds were chosen on seeds below 100; these are others.
SEEDS = range(100, 109)
CLEAN_SEEDS = range(200, 210)
CLEAN_SCENES = ("dusk", "clouds", "crowds", "macro")
STRENGTHS = {"plain": 1.0, "visible": 0.7, "faint": 0.4}
LASTING = ("missing", "knock", "exposure step", "light step", "colour step")
DIRTY_SCENES = ("dusk", "clouds")
DIRT = {"plain": 0.3, "visible": 0.2, "faint": 0.1}


def run(folder: Path) -> None:
    """Measure and print."""
    print("\nCheck: planted faults, three in each shot of 140 stills, in five scenes")
    with ProcessPoolExecutor() as workers:
        for name, strength in STRENGTHS.items():
            shots = [(scene, seed, strength) for scene in SCENES for seed in SEEDS]
            tally = Tally()
            for planted, hits, said in workers.map(_one, shots):
                tally.add(planted, hits, said)
            for planted, hits, said in workers.map(
                _one_dirty, [(scene, seed, DIRT[name]) for scene in DIRTY_SCENES for seed in SEEDS]
            ):
                tally.add(planted, hits, said)
            tally.show(f"{name:8} strength {strength:.1f}")
        for scene in CLEAN_SCENES:
            found = list(workers.map(_clean, [(scene, seed) for seed in CLEAN_SEEDS]))
            silent = sum(not one for one in found)
            kinds = Counter(kind for one in found for kind in one)
            print(
                f"clean {scene:8} nothing found in {silent} of {len(found)} shots   (bar: 9 of 10)  {dict(kinds) or ''}"
            )


@dataclass
class Tally:
    """How many faults of each kind were planted, found, and said to be there."""

    planted: Counter[str] = field(default_factory=Counter)
    right: Counter[str] = field(default_factory=Counter)
    said: Counter[str] = field(default_factory=Counter)

    def add(self, planted: list[str], hits: list[str], said: list[str]) -> None:
        self.planted.update(planted)
        self.right.update(hits)
        self.said.update(said)

    def show(self, title: str) -> None:
        print(f"{title:24}      recall  precision   planted")
        for kind in sorted(self.planted | self.said):
            self._line(kind, self.right[kind], self.planted[kind], self.said[kind])
        self._line("all", self.right.total(), self.planted.total(), self.said.total())

    def _line(self, name: str, right: int, planted: int, said: int) -> None:
        print(f"  {name:22} {_share(right, planted)}     {_share(right, said)}   {planted:7}")


def _one(shot: tuple[str, int, float]) -> tuple[list[str], list[str], list[str]]:
    made = faulty(*shot)
    measures = measurements(made)
    hits, said = judged(made, [*findings(measures), *from_breaks(measures, made.breaks())])
    return [fault.kind for fault in made.faults], hits, said


def _one_dirty(shot: tuple[str, int, float]) -> tuple[list[str], list[str], list[str]]:
    images, places = dirty(*shot)
    found = spots(images)
    hits = [at for at in places if any(hypot(one.x - at[0], one.y - at[1]) < 0.01 for one in found)]
    wrong = [one for one in found if all(hypot(one.x - at[0], one.y - at[1]) >= 0.01 for at in places)]
    return ["dirt"] * len(places), ["dirt"] * len(hits), ["dirt"] * (len(hits) + len(wrong))


def _clean(shot: tuple[str, int]) -> list[str]:
    made = clean(*shot)
    measures = measurements(made)
    found = [one.kind for one in [*findings(measures), *from_breaks(measures, made.breaks())]]
    return found + ["dirt"] * len(spots(list(made.images())[::3]))


def judged(shot: Shot, found: list[Finding]) -> tuple[list[str], list[str]]:
    """Return the kinds of the planted faults that were found, and the kinds of all that was found.

    What the scene does by itself, a walk that shakes, counts as neither.
    """
    own = [one for one in found if not (shot.shakes and one.kind in ("shake", "knock"))]
    hits = [fault.kind for fault in shot.faults if any(matches(fault, one) for one in own)]
    wrong = [one.kind for one in own if not any(matches(fault, one) for fault in shot.faults)]
    return hits, hits + wrong


def matches(fault: Fault, finding: Finding) -> bool:
    """Tell whether a finding is of the planted kind and at its place."""
    if fault.kind != finding.kind:
        return False
    first, last = finding.stills[0] - 1, finding.stills[-1] - 1
    if fault.kind in LASTING or fault.first == fault.last:
        return first - 2 <= fault.first <= last + 2
    overlap = min(last, fault.last) - max(first, fault.first) + 1
    return overlap >= 0.5 * (fault.last - fault.first + 1)


def _share(part: int, whole: int) -> str:
    return f"{part / whole:6.2f}" if whole else "     –"
