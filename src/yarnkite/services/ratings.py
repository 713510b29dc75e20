"""Ratings of stills, and writing them into sidecars, where other programs find them."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.counter import parts
from yarnkite.core.base.errors import Conflict, UnreadableStill
from yarnkite.core.base.frozen import digest
from yarnkite.core.check.ratings import rated, written_sentence
from yarnkite.core.gather.locations import files_below
from yarnkite.core.gather.sidecars import new_sidecars, read_packet, stills_of
from yarnkite.core.image.xmp import read_xmp
from yarnkite.core.image.xmp_rating import with_rating
from yarnkite.services.decisions import Decided, decide_check, latest
from yarnkite.services.running import Services
from yarnkite.store import jobs, shots, stills


@dataclass(frozen=True)
class Written:
    """Sidecars that are to be written: their names below the shot's folder, with their ratings, the new ones among
    them, and why others cannot be."""

    ratings: dict[str, int]
    new: frozenset[str]
    refused: tuple[str, ...]

    @property
    def digest(self) -> str:
        """What names just this."""
        return digest(*(f"{name}\0{rating}\0{name in self.new}" for name, rating in sorted(self.ratings.items())))

    @property
    def sentence(self) -> str:
        """What would be written."""
        return written_sentence(len(self.ratings) - len(self.new), len(self.new))


def rate(services: Services, shot_id: int, seen: int, chosen: Sequence[int], rating: int | None) -> Decided:
    """Rate stills from 1 to 5, 0 for not at all, -1 for rejected; nothing for what their files say."""
    return decide_check(services, shot_id, seen, lambda check: rated(check, chosen, rating))


def to_write(services: Services, shot_id: int) -> Written:
    """Return what would be written so that sidecars say what was rated here; nothing is changed."""
    folder = shots.folder_of(shots.one(services.database, shot_id))
    decided = {one.still: one.rating for one in latest(services, shot_id).check.rated}
    every = stills.of_shot(services.database, shot_id)
    in_folder = {file.name: file.outside for file in files_below(folder, folder)}
    packets = [name for name in in_folder if parts(name)[2].lower() == "xmp"]
    # All stills of the shot, those away among them: what is theirs is nobody else's.
    ids = {row["name"]: row["id"] for row in every}
    beside, own = {still: name for name, still in stills_of(packets, ids).items()}, new_sidecars(ids)
    ratings, new, refused = {}, set(), []
    for still in (row["id"] for row in every if row["id"] in decided and not row["away"]):
        rating, name = decided[still], beside.get(still)
        if name is None:
            if rating:
                ratings[own[still]] = rating
                new.add(own[still])
            continue
        try:
            if in_folder[name]:
                raise UnreadableStill("outside", f"“{Path(name).name}” is a link to a file outside the location.")
            data = read_packet(folder / name)
            if (read_xmp(data, Path(name).name).rating or 0) != rating:
                with_rating(data, rating, Path(name).name)
                ratings[name] = rating
        except UnreadableStill as error:
            refused.append(error.sentence)
    return Written(ratings, frozenset(new), tuple(refused))


def write(services: Services, shot_id: int, confirmed: str) -> int:
    """Write what was shown, each file whole or not at all; returns how many.

    Raises ``Conflict`` where it is not what was ``confirmed``, or the shot is worked on.
    """
    if jobs.busy(services.database, shot_id):
        raise Conflict("shot_busy", "This shot is being worked on. Wait until its jobs are done, or cancel them.")
    now = to_write(services, shot_id)
    if now.digest != confirmed:
        raise Conflict("plan_changed", "The folder or the shot changed since this was shown. Look at it again.")
    folder = shots.folder_of(shots.one(services.database, shot_id))
    for name, rating in now.ratings.items():
        is_new = name in now.new
        data = with_rating(None if is_new else read_packet(folder / name), rating, Path(name).name)
        write_completed(folder / name, data, exclusive=is_new, durable=True)
    return len(now.ratings)
