"""Sounds come into a project: decoded or made up, kept under what they hold, and laid under the reel that asked."""

from pathlib import Path
from typing import Any

from yarnkite.core.base.errors import Refusal
from yarnkite.core.reel.decisions import Reel
from yarnkite.core.sound.credit import credit_of
from yarnkite.core.sound.decisions import MOST_TRACKS, Sound, Track
from yarnkite.core.sound.decode import TakenIn, said_seconds, take_in
from yarnkite.core.sound.made import Made, made
from yarnkite.core.sound.stored import keep_waves
from yarnkite.jobs.runner import Cancelled, Context
from yarnkite.store import jobs, reels, sounds


def run(context: Context) -> None:
    """Take in the file, or make up the sound, that a job was started with, and add a track of it to its reel."""
    wanted = jobs.wanted_of(context.database, context.job["id"])
    target = context.workspace.sound(f"job-{context.job['id']}")

    total = context.job["total"] or round(said_seconds(Path(wanted["file"])) if "file" in wanted else 0)

    def on_second(done: int) -> None:
        context.check()
        context.progress(done, max(done, total))

    sent = Path(wanted["file"]) if wanted.get("sent") else None
    try:
        if "made" in wanted:
            wish = Made.model_validate(wanted["made"])
            name, credit = wish.name, ""
            found = TakenIn(*keep_waves(made(wish), target, on_second), ())
        else:
            name, credit = wanted["name"], credit_of(Path(wanted["file"]))
            found = take_in(Path(wanted["file"]), name, target, on_second)
    except (Refusal, Cancelled):
        if sent:
            sent.unlink(missing_ok=True)
        raise
    kept = context.workspace.sound(found.fingerprint)
    target.replace(kept)
    sound_id = sounds.add(
        context.database, context.job["project_id"], name, found.fingerprint, found.samples, found.remarks, credit
    )
    as_wished = wanted.get("track", {})
    number = reels.change(
        context.database,
        context.job["reel_id"],
        lambda reel: _with_track(reel, sound_id, as_wished),
        ending=(context.job["id"], " ".join(found.remarks)),
    )
    if sent:
        sent.unlink(missing_ok=True)
    context.publish("reel", {"id": context.job["reel_id"], "revision": number})


def _with_track(reel: Reel, sound: int, as_wished: dict[str, Any]) -> Reel:
    """Return a reel with a track of a sound behind its others, decided as wished; one that has as many as it can keeps
    those."""
    tracks = reel.sound.tracks
    if len(tracks) >= MOST_TRACKS:
        return reel
    number = max((track.id for track in tracks), default=0) + 1
    more = Sound(tracks=(*tracks, Track(id=number, sound=sound, **as_wished)), loudness=reel.sound.loudness)
    return reel.model_copy(update={"sound": more})
