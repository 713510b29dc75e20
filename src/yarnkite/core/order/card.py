"""What a card holds: which of its stills make shots, what else is on it, and where each file goes."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import PurePosixPath

from yarnkite.core.base.counter import Numbering, numbering, parts
from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.locations import FoundFile, clock_of
from yarnkite.core.gather.proposals import StillFacts, propose
from yarnkite.core.order.analysis import analyse
from yarnkite.core.order.breaks import Taken
from yarnkite.core.order.renaming import Named, Pattern, PatternPart, new_stems, renaming, stem_problem

# Fewer stills that belong together are pictures of their own, not a shot.
FEWEST_STILLS = 8
OTHERS = "other-files"
FOLDERS: Pattern = (
    PatternPart(kind="date"),
    PatternPart(kind="text", text="_shot"),
    PatternPart(kind="counter", digits=2),
)


@dataclass(frozen=True)
class CardShot:
    """Stills of a card that belong together, in their order, when each was taken by the camera's clock, and the files
    that go with them (raw, sidecars)."""

    stills: tuple[str, ...]
    taken: tuple[datetime | None, ...]
    beside: tuple[str, ...]
    bytes: int
    camera: str

    @property
    def first_taken(self) -> datetime | None:
        """When the first still with a time was taken."""
        return next((one for one in self.taken if one), None)

    @property
    def last_taken(self) -> datetime | None:
        """When the last still with a time was taken."""
        return next((one for one in reversed(self.taken) if one), None)


@dataclass(frozen=True)
class Card:
    """The files of a card by what becomes of them."""

    shots: tuple[CardShot, ...]
    others: tuple[str, ...]
    others_bytes: int


def card_of(
    files: Sequence[FoundFile],
    facts: Sequence[StillFacts],
    clocks: Mapping[str, datetime | None],
) -> Card:
    """Divide the files of a card into shots and others.

    ``facts`` tell of the files that are stills, one for each exposure; ``clocks`` what the camera's clock said, by
    name.
    """
    sizes = {file.name: file.bytes for file in files}
    modified = {file.name: clock_of(file.modified_ns) for file in files}
    groups = [group for group in _groups(list(facts), modified) if len(group) >= FEWEST_STILLS]
    of_still = {still.name: at for at, group in enumerate(groups) for still in group}
    leaders: dict[tuple[str, str], int] = {}
    for still, at in of_still.items():
        folder, stem, suffix = parts(still)
        # A sidecar may keep the ending of what it is about: ``still.jpg.xmp``.
        leaders |= {(folder, stem.casefold()): at, (folder, f"{stem}.{suffix}".casefold()): at}
    beside: dict[int, list[str]] = defaultdict(list)
    others = []
    for name in sizes:
        folder, stem, _ = parts(name)
        if name in of_still:
            continue
        if (leader := leaders.get((folder, stem.casefold()))) is None:
            others.append(name)
        else:
            beside[leader].append(name)
    shots = [_shot(group, beside[at], sizes, clocks) for at, group in enumerate(groups)]
    shots.sort(key=lambda shot: (shot.first_taken or datetime.max, shot.stills))
    return Card(tuple(shots), tuple(others), sum(sizes[name] for name in others))


def _groups(facts: list[StillFacts], modified: Mapping[str, datetime]) -> list[list[StillFacts]]:
    """Divide stills into those that were taken in one go; what belongs to none is a group of few, or in none."""
    if len(facts) < FEWEST_STILLS:
        return []
    found = analyse([Taken(one.name, one.captured, modified[one.name], one.fingerprint) for one in facts])
    ordered = [facts[index] for index in found.order("recommended")]
    taken: set[int] = set()
    apart = []
    for proposal in propose(ordered, numbering([still.name for still in ordered])):
        taken.update(proposal.stills)
        if proposal.action == "own shot":
            chosen = set(proposal.stills)
            apart += _groups([still for still in ordered if still.id in chosen], modified)
    rest = [still for still in ordered if still.id not in taken]
    return [rest, *apart]


def _shot(
    group: Sequence[StillFacts],
    beside: Sequence[str],
    sizes: Mapping[str, int],
    clocks: Mapping[str, datetime | None],
) -> CardShot:
    cameras = Counter(still.camera for still in group if still.camera).most_common(1)
    stills = tuple(still.name for still in group)
    return CardShot(
        stills=stills,
        taken=tuple(clocks.get(name) for name in stills),
        beside=tuple(beside),
        bytes=sum(sizes[name] for name in (*stills, *beside)),
        camera=cameras[0][0] if cameras else "",
    )


def folder_names(shots: Sequence[CardShot], pattern: Pattern) -> list[str]:
    """Return the folder each shot of a card gets, by the time and the camera of its first still; counters count shots.

    Raises ``Refusal`` (``bad_name``, ``names_collide``) for one that cannot be, or that two would get.
    """
    named = [Named(shot.stills[0], shot.first_taken, shot.camera) for shot in shots]
    names = new_stems(named, pattern, "", Numbering((None,) * len(named), 1, False))
    for name in names:
        if problem := stem_problem(name, name):
            raise Refusal("bad_name", f"No folder can be called “{name}”. {problem}")
    given = Counter(name.casefold() for name in [*names, OTHERS])
    twice = next((name for name in names if given[name.casefold()] > 1), None)
    if twice is not None:
        raise Refusal("names_collide", f"More than one folder would be called “{twice}”. Add a counter to the pattern.")
    return names


def new_names(shot: CardShot, folder: str, pattern: Pattern | None) -> dict[str, str]:
    """Return where each file of a shot goes, by its name on the card: a path that begins with the shot's folder.

    ``pattern`` is for the stills' names; without it they keep theirs, below their folder of the card where two share
    one. Raises ``Refusal`` (``names_collide``) for a name that cannot be.
    """
    everything = (*shot.stills, *shot.beside)
    if pattern is None:
        return _kept_names(everything, folder)
    found = numbering(list(shot.stills))
    stills = [Named(name, taken, shot.camera) for name, taken in zip(shot.stills, shot.taken, strict=True)]
    lines = renaming(stills, pattern, folder, found, everything, elsewhere=True)
    names = {line.old: f"{folder}/{PurePosixPath(line.new).name}" for line in lines}
    given = Counter(name.casefold() for name in names.values())
    for line in lines:
        problem = line.problem or ("Another file gets the same name." if given[names[line.old].casefold()] > 1 else "")
        if problem:
            raise Refusal("names_collide", f"“{line.old}” cannot become “{names[line.old]}”. {problem}")
    return names


def _kept_names(names: Sequence[str], folder: str) -> dict[str, str]:
    alone = Counter(PurePosixPath(name).name.casefold() for name in names)
    is_clear = max(alone.values(), default=1) == 1
    return {name: f"{folder}/{PurePosixPath(name).name if is_clear else name}" for name in names}
