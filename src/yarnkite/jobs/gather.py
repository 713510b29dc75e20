"""The gathering job: every file of a folder read once, in natural order, kept as results come."""

import logging
import shutil
import time
from collections.abc import Collection, Mapping, Sequence
from concurrent.futures import Future
from contextlib import suppress
from dataclasses import dataclass, replace
from pathlib import Path
from types import MappingProxyType

from yarnkite.core.base.atomic import completed, remove_unfinished
from yarnkite.core.base.counter import stem_of
from yarnkite.core.base.errors import DiskFull, Refusal, UnreadableStill
from yarnkite.core.base.fingerprint import kinds_of
from yarnkite.core.base.safe_open import has_fingerprint, safe_open
from yarnkite.core.base.still import Still
from yarnkite.core.base.wording import printable, size_text
from yarnkite.core.encode.size_model import SizeModel, measured_size_model
from yarnkite.core.gather.gathering import OTHER_PICTURE, Gathered, gather_still
from yarnkite.core.gather.locations import FoundFile, files_below, safe_relative
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.gather.sorting import LeftOut, kept_beside, sort_out
from yarnkite.core.image.kinds import category, description
from yarnkite.core.order.natural import in_natural_order, natural_order
from yarnkite.jobs import check
from yarnkite.jobs.runner import Context
from yarnkite.jobs.sidecars import read_sidecars
from yarnkite.jobs.workers import in_turn
from yarnkite.store import jobs, shots, snapshots, sorting, stills, uploads
from yarnkite.store.database import Database, Row
from yarnkite.store.growing import End

log = logging.getLogger(__name__)

KEEP_EVERY = 24
TELL_EVERY_S = 0.6
ROOM_TO_SPARE = 500_000_000
# What is left out because it belongs to a still.
_BELONGING = ("pair", "sidecar")


def run(context: Context) -> None:
    """Gather a shot's folder; files that are as they were when they were read are not read again."""
    said = gather(context)
    check.measure(context)
    jobs.end(context.database, context.job["id"], "finished", said)


def gather(context: Context, only_new: Collection[str] | None = None) -> str:
    """Gather a shot's folder within a job, which goes on afterwards; returns what a person should know of it.

    With ``only_new``, of the files that are no stills yet only those of these names are taken.
    """
    shot_id = context.job["shot_id"]
    shot = shots.one(context.database, shot_id)
    folder, origin = shots.folder_of(shot), _origin(shot)
    by_source = origin != folder
    unchanged = stills.kinds(context.database, shot_id, by_source=by_source) if only_new is not None else {}
    listed = listing(context.database, shot, origin, unchanged)
    if only_new is not None:
        known = stills.names(context.database, shot_id, by_source=by_source)
        own = [file for file in listed.stills if file.name in known or file.name in only_new]
        listed = replace(listed, stills=own)
    left_out = listed.left_out + _never_sent(context, shot_id, folder)
    if only_new is not None:
        left_out += _still_unreadable(context.database, shot_id, only_new)
    names = [file.name for file in listed.stills]
    ordered = [listed.stills[index] for index in natural_order(names)]
    copy_to = folder if by_source else None
    # What is copied is not away because its source is.
    copies = set() if copy_to is None else {file.name for file in files_below(folder, folder)}
    found = stills.compare(context.database, shot_id, ordered, copies, by_source=by_source)
    if only_new is not None:
        # A still whose file is written anew right now would be read by halves: that waits for a gathering of all.
        some = tuple(one for one in found.readings if one.name in only_new)
        found = replace(found, readings=some, changed=0, touched=())
    found = _with_written_over(context, origin, found)
    if copy_to is not None:
        wanted = {reading.name for reading in found.readings}
        _check_room(copy_to, [file for file in ordered if file.name in wanted])
    done = len(ordered) - len(found.readings)
    context.progress(done, len(ordered), now=only_new is None)
    kinds = kinds_of([*stills.fingerprints(context.database, shot_id), *listed.elsewhere])
    gathering = _Gathering(context, shot_id, left_out, listed.elsewhere, found.prints)
    finished = in_turn(
        context.workers,
        gather_still,
        found.readings,
        lambda reading: (origin, reading.name, context.workspace.proxies, copy_to, kinds, reading.own),
        while_waiting=context.check,
        spare=True,
    )
    for count, (reading, future) in enumerate(finished, done + 1):
        gathering.take(reading, future)
        context.progress(count, len(ordered))
    gathering.keep_again()
    if copy_to is not None:
        names_now = stills.names_by_source(context.database, shot_id)
        beside = _names_beside(left_out, names_now)
        _copy_beside(origin, copy_to, beside)
        remove_unfinished(copy_to, {*names_now.values(), *beside.values()})
    read_sidecars(context, shot_id, origin, left_out, by_source=by_source)
    shots.arrange(context.database, shot_id)
    measured = shots.size_model_of(shot) if only_new is not None else None
    shots.set_gathered(context.database, shot_id, measured or _weight(context, shot))
    context.progress(len(ordered), len(ordered), now=True)
    return _said(found.changed - gathering.refused_again, stills.away_count(context.database, shot_id))


def gather_on(
    context: Context, shot: Row, files: Sequence[FoundFile], end: End
) -> tuple[list[Gathered], list[LeftOut]] | None:
    """Gather files that may come after all stills of a shot, in the order of their names, without keeping them.

    With them come the files that only belong to stills, such as the raw file of a picture, also of one that is there
    (``end``). Nothing is returned if a file is something else or cannot be used, or would have to be copied beside one.
    """
    origin = _origin(shot)
    copy_to = shots.folder_of(shot) if origin != shots.folder_of(shot) else None
    found, left_out = sort_out(origin, files, raws=bool(shot["raws"]))
    raws = [] if shot["raws"] else [file for file in found if end.picture_of(file.name)]
    left_out += [kept_beside(file.name, end.picture_of(file.name)) for file in raws]
    if any(one.kind not in _BELONGING for one in left_out) or (left_out and copy_to is not None):
        return None
    found = [file for file in found if file not in raws]
    if copy_to is not None:
        _check_room(copy_to, found)
    gathered: dict[str, Gathered] = {}
    for file, future in in_turn(
        context.workers,
        gather_still,
        found,
        lambda file: (origin, file.name, context.workspace.proxies, copy_to, end.kinds),
        while_waiting=context.check,
        spare=True,
    ):
        if isinstance(future.exception(), DiskFull):
            future.result()
        if future.exception() is None:
            gathered[file.name] = future.result()
    if len(gathered) < len(found):
        return None
    return [gathered[name] for name in in_natural_order(list(gathered))], left_out


def _with_written_over(context: Context, origin: Path, found: stills.Comparison) -> stills.Comparison:
    """Have files read again that were written over, though size and time are what they were; the rest is noted."""
    compared = in_turn(
        context.workers,
        has_fingerprint,
        found.touched,
        lambda one: (origin / one.reading.name, one.fingerprint),
        while_waiting=context.check,
        spare=True,
    )
    same: list[stills.Touched] = []
    others: list[stills.Touched] = []
    for one, future in compared:
        (others if future.exception() or not future.result() else same).append(one)
    stills.note_touched(context.database, same)
    if not others:
        return found
    readings = sorted((*found.readings, *(one.reading for one in others)), key=lambda one: one.number)
    prints = {**found.prints, **{one.reading.still: one.fingerprint for one in others if one.reading.still is not None}}
    return replace(found, readings=tuple(readings), changed=found.changed + len(others), prints=prints)


def _still_unreadable(database: Database, shot_id: int, looked_at: Collection[str]) -> list[LeftOut]:
    """Return the files that could not be read before, and are not looked at again now."""
    rows = stills.left_out(database, shot_id)
    return [
        LeftOut(row["name"], row["reason"], row["kind"])
        for row in rows
        if row["kind"] == "unreadable" and row["name"] not in looked_at
    ]


def _said(changed: int, away: int) -> str:
    said = []
    if changed > 0:
        many = "One still was" if changed == 1 else f"{changed:,} stills were"
        said.append(f"{many} changed on disk and gathered again; all that was decided about them is kept.")
    if away:
        many = "one still is" if away == 1 else f"{away:,} stills are"
        said.append(f"The files of {many} away: left out of the clip until they are back, with all decisions kept.")
    return " ".join(said)


@dataclass(frozen=True)
class Listing:
    """The files of a folder: those that are a shot's stills, and the rest with the reasons.

    ``elsewhere`` has the stills, by fingerprint, that other shots of the folder lost: a file renamed outside may be
    one.
    """

    stills: list[FoundFile]
    left_out: list[LeftOut]
    elsewhere: dict[str, int]


def listing(
    database: Database, shot: Row, origin: Path, known: Mapping[str, stills.KindOfFile] = MappingProxyType({})
) -> Listing:
    """Return what a shot's folder holds.

    Files of other shots of the project, and files that were taken out, are not its stills. Those of ``known`` that are
    as large and as old as they were are not opened to see what they are.
    """
    if not origin.is_dir():
        raise Refusal(
            "lost_folder",
            f"The folder {origin} is not there any more. Put it back, or tell the project where it is now.",
        )
    siblings = sorting.of_siblings(database, shot)
    by_source = origin != shots.folder_of(shot)
    theirs = {stills.named(row, by_source=by_source) for row in siblings}
    taken_out = set(sorting.taken_out(database, shot["id"]))
    every = list(files_below(origin, origin))
    kinds = {
        file.name: one.kind
        for file in every
        if (one := known.get(file.name)) and (one.bytes, one.modified_ns) == (file.bytes, file.modified_ns)
    }
    others = [file for file in every if file.name not in theirs]
    found, left_out = sort_out(origin, others, raws=bool(shot["raws"]), known=kinds)
    left_out += [
        LeftOut(printable(file.name), f"“{Path(file.name).name}” was taken out of this shot.", "taken out")
        for file in found
        if file.name in taken_out
    ]
    own = [file for file in found if file.name not in taken_out]
    there = {file.name for file in every}
    lost = (row for row in siblings if stills.named(row, by_source=by_source) not in there)
    return Listing(own, left_out, {row["fingerprint"]: row["id"] for row in lost})


def _origin(shot: Row) -> Path:
    """Return where a shot's files are read: for a copied one its source, as long as that is there."""
    source = shots.source_of(shot)
    return source if source is not None and source.is_dir() else shots.folder_of(shot)


def _check_room(folder: Path, files: list[FoundFile]) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    needed, free = sum(file.bytes for file in files), shutil.disk_usage(folder).free
    if needed + ROOM_TO_SPARE > free:
        raise DiskFull(
            "disk_full",
            f"Copying {len(files):,} files needs {size_text(needed + ROOM_TO_SPARE)} and {size_text(free)} are free. "
            "Free some space, or use the folder where it lies.",
        )


def _names_beside(left_out: list[LeftOut], names: Mapping[str, str]) -> dict[str, str]:
    """Return what belongs to the stills but is none, sidecars and the other files of pairs, each with its name beside
    the still as that is called by now; ``names`` has those of the stills by what they were called."""
    stems = {stem_of(source): stem_of(own) for source, own in names.items()}
    return {file.name: _beside(file.name, stems) for file in left_out if file.kind in ("sidecar", "pair")}


def _copy_beside(origin: Path, target: Path, names: Mapping[str, str]) -> None:
    """Copy files that are not there yet under the names they are to have."""
    for name, own in names.items():
        if (target / own).exists():
            continue
        # What vanished meanwhile, or may not be read, is not copied; it is no still.
        with (
            suppress(UnreadableStill),
            safe_open(origin / name, least=0) as source,
            completed(target / own, durable=True, modified_ns=source.modified_ns) as unfinished,
            unfinished.open("wb") as copy,
        ):
            shutil.copyfileobj(source.handle, copy)


def _beside(name: str, stems: Mapping[str, str]) -> str:
    """Return what a file beside a still is called once the still is; also ``still.jpg.xmp``."""
    stem = stem_of(name)
    for known in (stem, stem_of(stem)):
        if known in stems:
            return stems[known] + name[len(known) :]
    return name


def _weight(context: Context, shot: Row) -> SizeModel | None:
    """Measure what the shot's frames weigh; a still that is lost meanwhile only costs the estimate."""
    gathered = [still for _, still in snapshots.of_shot(context.database, shot).stills]
    try:
        return context.workers.submit(measure_size, gathered, context.workspace.proxies).result() if gathered else None
    except Exception:
        log.warning("what the frames of shot %s weigh could not be measured", shot["id"], exc_info=True)
        return None


def measure_size(gathered: list[Still], proxies: Proxies) -> SizeModel:
    """Measure what frames of these stills weigh, in a worker."""
    return measured_size_model(gathered, read=proxies.read)


def _never_sent(context: Context, shot_id: int, folder: Path) -> list[LeftOut]:
    """Name the files a browser announced but was told to keep."""
    renamed = stills.names(context.database, shot_id, by_source=True)
    announced = [name for name in uploads.names_for_shot(context.database, shot_id) if name not in renamed]
    return [
        LeftOut(name, f"“{Path(name).name}” was left out: it is a {description(name)}.", category(Path(name).name))
        for name in announced
        if not (folder / safe_relative(name)).exists()
    ]


class _Gathering:
    """Keeps results in the database a handful at a time, and tells the pages of them."""

    def __init__(
        self,
        context: Context,
        shot_id: int,
        left_out: list[LeftOut],
        elsewhere: Mapping[str, int],
        prints: Mapping[int, str],
    ) -> None:
        self._context, self._shot_id, self._elsewhere, self._prints = context, shot_id, elsewhere, prints
        # Stills that are read again wait for each other: their names may have been exchanged.
        self._again: list[tuple[stills.Reading, Gathered]] = []
        self._results: list[tuple[stills.Reading, Gathered]] = []
        self._refused: list[LeftOut] = []
        self._told = time.monotonic()
        self.refused_again = 0
        stills.leave_out(context.database, shot_id, left_out)

    def take(self, reading: stills.Reading, future: "Future[Gathered]") -> None:
        try:
            (self._again if reading.still in self._prints else self._results).append((reading, future.result()))
        except UnreadableStill as refusal:
            self._refuse(reading, refusal.sentence, usable=refusal.code == OTHER_PICTURE)
        except DiskFull:
            raise
        except Exception as error:
            # Whatever a file does to a decoder, it costs that file and no other.
            log.exception("%s could not be used", reading.name, exc_info=error)
            self._refuse(reading, f"“{Path(reading.name).name}” could not be used. Leave it out, or save it anew.")
        if len(self._results) + len(self._refused) >= KEEP_EVERY or time.monotonic() - self._told > TELL_EVERY_S:
            self.keep()

    def keep(self) -> None:
        """Keep what has come since the last time."""
        if self._refused:
            stills.leave_out_more(self._context.database, self._shot_id, self._refused)
        if self._results:
            stills.add(self._context.database, self._shot_id, self._results, self._elsewhere)
        if self._results or self._refused:
            self._context.publish("stills", {"shot_id": self._shot_id})
        self._results, self._refused, self._told = [], [], time.monotonic()

    def keep_again(self) -> None:
        """Keep all that is left, with the stills that were read again: each is the one whose picture it has."""
        self._results += stills.exchanged(self._again, self._prints)
        self._again = []
        self.keep()

    def _refuse(self, reading: stills.Reading, sentence: str, *, usable: bool = False) -> None:
        """Leave a file out; ``usable`` says that the still it was taken for is what it was."""
        self._refused.append(LeftOut(printable(Path(reading.name).as_posix()), sentence, "unreadable"))
        if reading.still is None:
            return
        self.refused_again += 1
        if not usable:
            # Its old picture must not go on standing for it.
            stills.set_away(self._context.database, reading.still)
