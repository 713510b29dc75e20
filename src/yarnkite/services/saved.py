"""A shot saved as a file, and rendered from one: without a database, wherever its stills are."""

from pathlib import Path

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.base.opened import opened
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.image.decode import check_same
from yarnkite.core.render.recipe import stills_in
from yarnkite.core.render.shot_file import ShotFile, read_shot_file
from yarnkite.services.clip import Hearers, MadeClip, computing, make_recipe
from yarnkite.services.encode import encodable
from yarnkite.services.running import Services
from yarnkite.services.steadying import check_measured
from yarnkite.store import revisions
from yarnkite.store.shots import folder_of

_MOST_BYTES = 500_000_000
_MOST_NAMED = 3


def shot_file(services: Services, shot_id: int) -> ShotFile:
    """Return a shot as its newest revision has it; raises ``Conflict`` where its movement is not measured yet."""
    subject = encodable(services, shot_id)
    check_measured(services, subject.row, revisions.latest(services.database, shot_id)[1])
    recipe = subject.recipe
    decisions = recipe.decisions.model_copy(update={"encode": subject.encode})  # type: ignore[union-attr]
    whole = recipe.model_copy(update={"decisions": decisions})
    return ShotFile.of(subject.row["name"], whole, folder_of(subject.row), subject.captured)  # type: ignore[arg-type]


def render_file(
    file: Path,
    stills: Path,
    target: Path,
    hearers: Hearers,
    encode: Encode | None = None,
    stretch: tuple[int, int] | None = None,
) -> MadeClip:
    """Make a clip of a shot file whose stills lie in a folder; raises ``Refusal`` before the work where it cannot be."""
    if file.stat().st_size > _MOST_BYTES:
        raise Refusal("not_a_shot", f"“{file.name}” is too large to be a shot that was saved.")
    try:
        saved = read_shot_file(file.read_text())
    except UnicodeDecodeError:
        raise Refusal("not_a_shot", f"“{file.name}” is no text. Give a file the page saved.") from None
    recipe = saved.recipe_in(stills)
    if encode is not None:
        recipe = recipe.model_copy(update={"decisions": recipe.decisions.model_copy(update={"encode": encode})})
    _check_stills(stills_in(recipe), stills)
    with computing() as workers:
        return make_recipe(recipe, target, hearers, workers, captured=saved.captured, stretch=stretch)


def _check_stills(wanted: list[Still], folder: Path) -> None:
    """Raise ``Refusal`` that names stills which are not there, or are not those the file was saved with."""
    lost = [still for still in wanted if not Path(still.path).is_file()]
    if lost:
        raise NotFound("lost", f"{_named(lost)} not in {folder}. Give the folder the stills lie in with --stills.")
    changed = [still for still in wanted if _is_another(still)]
    if changed:
        raise Refusal("stills_changed", f"{_named(changed)} not what they were when the shot was saved. Save it anew.")


def _is_another(still: Still) -> bool:
    try:
        with opened(Path(still.path)) as file:
            check_same(still, file)
            return file.fingerprint() != still.fingerprint
    except Refusal:
        return True


def _named(stills: list[Still]) -> str:
    names = ", ".join(f"“{Path(still.path).name}”" for still in stills[:_MOST_NAMED])
    more = f" and {len(stills) - _MOST_NAMED:,} more" if len(stills) > _MOST_NAMED else ""
    return f"{names}{more} {'is' if len(stills) == 1 else 'are'}"
