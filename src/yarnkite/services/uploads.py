"""Uploads: files a browser sends, put in their place and gathered as a shot."""

import os
import shutil
import threading
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.base.atomic import sync_file, sync_folders
from yarnkite.core.base.errors import Conflict, DiskFull, NotFound, Refusal
from yarnkite.core.base.safe_open import MOST_BYTES
from yarnkite.core.base.wording import size_text
from yarnkite.core.gather.locations import safe_relative
from yarnkite.core.image.kinds import category, description, worth_reading
from yarnkite.services.gather import Begun, begin
from yarnkite.services.running import Services
from yarnkite.store import projects, uploads
from yarnkite.store.uploads import UploadFile

ROOM_TO_SPARE = 500_000_000
# The year 2200: what lies later is no time at which a file was changed.
_LATEST_MS = 7_258_118_400_000


@dataclass(frozen=True)
class ArrivingFile:
    """How many bytes of an announced file have arrived; ``skip`` says why it need not be sent."""

    number: int
    offset: int
    skip: str | None


@dataclass(frozen=True)
class OpenedUpload:
    """An upload by its id, and for each file which bytes are to be sent; ``is_film`` says that it is a film alone,
    which stills are taken from."""

    id: int
    files: list[ArrivingFile]
    is_film: bool


@dataclass(frozen=True)
class PartFile:
    """A file that is arriving, and where its bytes are put meanwhile."""

    file: UploadFile
    path: Path

    @property
    def arrived(self) -> int:
        """How many bytes have arrived; what is longer than it can be begins again."""
        return _arrived(self.path, self.file)

    def refuse_excess(self) -> None:
        """Forget what arrived of a file that sent more bytes than were announced; raises ``Refusal``."""
        # By its name: the file that is open may be in its place, complete, by now.
        self.path.unlink(missing_ok=True)
        raise Refusal("too_many_bytes", f"“{self.file.name}” grew while it was sent. Choose the folder again.")

    def cannot_be_kept(self, error: OSError) -> DiskFull:
        return DiskFull(
            "cannot_write",
            f"“{self.file.name}” cannot be kept: {error.strerror}. Free some space, then choose it again.",
        )


def open_upload(services: Services, project_id: int, name: str, files: Sequence[UploadFile]) -> OpenedUpload:
    """Announce files; returns which to send, and from which byte on. Raises ``DiskFull`` or ``Refusal``."""
    projects.one(services.database, project_id)
    _check_names(files)
    upload_id = uploads.open_or_go_on(services.database, project_id, name, list(files))
    folder = services.workspace.arriving(upload_id)
    folder.mkdir(parents=True, exist_ok=True)
    target = _target(services, upload_id, files)
    is_film = _is_film(files)
    arriving = [_arriving(folder, target, number, file, is_film=is_film) for number, file in enumerate(files)]
    missing = sum(files[file.number].bytes - file.offset for file in arriving if file.skip is None)
    free = shutil.disk_usage(folder).free
    if missing + ROOM_TO_SPARE > free:
        raise DiskFull(
            "disk_full",
            f"These files need {size_text(missing + ROOM_TO_SPARE)} and {size_text(free)} are free. Free some space, "
            "or point at the folder where it lies instead of sending it.",
        )
    return OpenedUpload(upload_id, arriving, is_film)


def part_of(services: Services, upload_id: int, number: int) -> PartFile:
    """Return a file of an upload; raises ``NotFound``."""
    file = uploads.file(services.database, upload_id, number)
    return PartFile(file, _part(services.workspace.arriving(upload_id), number))


def complete(services: Services, upload_id: int) -> Begun:
    """Put the files that have arrived in their place and gather them as a shot; raises ``Conflict``."""
    with _completing:
        upload = uploads.one(services.database, upload_id)
        if upload["shot_id"] is not None:
            raise Conflict("complete_already", "These files are a shot already.")
        every = uploads.files(services.database, upload_id)
        if _is_film(every):
            raise Refusal("is_film", f"“{every[0].name}” is a film. Say which stills are to be taken from it.")
        target = _put_all_in_place(services, upload_id, every)
        shot_id = uploads.finish(services.database, upload, target)
    shutil.rmtree(services.workspace.arriving(upload_id), ignore_errors=True)
    return begin(services, shot_id)


def complete_film(services: Services, upload_id: int) -> Path:
    """Put a film that has arrived in its place, once or again, and return it; raises ``Conflict`` or ``Refusal``."""
    with _completing:
        every = uploads.files(services.database, upload_id)
        if not _is_film(every):
            raise Refusal("is_no_film", "These files are no film. Gather them as stills.")
        _put_all_in_place(services, upload_id, every)
    shutil.rmtree(services.workspace.arriving(upload_id), ignore_errors=True)
    return film(services, upload_id)


def film(services: Services, upload_id: int) -> Path:
    """Return a film that was sent; raises ``NotFound`` for one that is not here, or not any more."""
    every = uploads.files(services.database, upload_id)
    path = services.workspace.film(upload_id) / safe_relative(every[0].name) if _is_film(every) else None
    if path is None or not path.is_file():
        raise NotFound("no_such_film", "This film is not here any more. Choose it again.")
    return path


def _put_all_in_place(services: Services, upload_id: int, every: Sequence[UploadFile]) -> Path:
    """Put the files that have arrived in their place, on the disk before anybody is told; returns their folder."""
    arriving, target = services.workspace.arriving(upload_id), _target(services, upload_id, every)
    for number, file in enumerate(every):
        _put_in_place(arriving, target, number, file, is_film=_is_film(every))
    # Names, too, are to be kept.
    folders = {(target / safe_relative(file.name)).parent for file in every} | {target, target.parent}
    sync_folders(one for one in folders if one.is_dir())
    return target


def _is_film(files: Sequence[UploadFile]) -> bool:
    return len(files) == 1 and category(files[0].name) == "footage"


def _target(services: Services, upload_id: int, files: Sequence[UploadFile]) -> Path:
    return services.workspace.film(upload_id) if _is_film(files) else services.workspace.stills(upload_id)


_completing = threading.Lock()


def _check_names(files: Sequence[UploadFile]) -> None:
    seen = set()
    for file in files:
        relative = safe_relative(file.name)
        if relative in seen:
            raise Refusal(
                "same_name", f"“{file.name}” is there twice. Rename one of the two, then choose the folder again."
            )
        seen.add(relative)


def _arriving(arriving: Path, target: Path, number: int, file: UploadFile, *, is_film: bool) -> ArrivingFile:
    name = Path(file.name).name
    skip = None
    if is_film:
        # Film is not read whole, as a still is: it may be as large as the disk has room for.
        pass
    elif not worth_reading(name):
        skip = f"“{name}” need not be sent: it is a {description(name)}."
    elif file.bytes > MOST_BYTES:
        skip = f"“{name}” is {file.bytes / 1e9:.1f} GB; a still may have up to 2 GB."
    # A program that was killed may have put some files in their place already.
    done = _size(target / safe_relative(file.name)) == file.bytes
    return ArrivingFile(
        number=number, offset=file.bytes if done else _arrived(_part(arriving, number), file), skip=skip
    )


def _arrived(path: Path, file: UploadFile) -> int:
    """Return how many bytes of a file have arrived; one that is longer than it can be begins again."""
    size = _size(path) or 0
    if size > file.bytes:
        path.unlink(missing_ok=True)
        return 0
    return size


def _size(path: Path) -> int | None:
    try:
        return path.stat().st_size
    except OSError:
        return None


def _put_in_place(arriving: Path, target: Path, number: int, file: UploadFile, *, is_film: bool) -> None:
    part, final = _part(arriving, number), target / safe_relative(file.name)
    if _arriving(arriving, target, number, file, is_film=is_film).skip is not None or _size(final) == file.bytes:
        return
    if file.bytes == 0:
        part.touch()
    if _size(part) != file.bytes:
        raise Conflict("not_complete", f"“{file.name}” has not arrived completely. Choose the folder again to go on.")
    final.parent.mkdir(parents=True, exist_ok=True)
    modified_ns = min(file.modified_ms, _LATEST_MS) * 1_000_000
    os.utime(part, ns=(modified_ns, modified_ns))
    sync_file(part)
    part.replace(final)


def _part(folder: Path, number: int) -> Path:
    return folder / f"{number}.part"
