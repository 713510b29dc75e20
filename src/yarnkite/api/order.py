"""The order of a shot: its stills, its tail, and each still as it was shot."""

import json
import struct
import zlib
from collections import Counter
from datetime import datetime
from itertools import pairwise
from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from yarnkite.api.decisions import kept
from yarnkite.api.pictures import STATE, answer, as_shot, jpeg
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import (
    BreakView,
    CandidateView,
    DigitGroupView,
    OrderView,
    Revised,
    StillsView,
    StillView,
)
from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.errors import NotFound
from yarnkite.core.gather.gathering import TAIL_WIDTH
from yarnkite.core.order.by_hand import moved, reversed_in_place
from yarnkite.store import order, revisions, shots, stills, used
from yarnkite.store.database import Row

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["order"])
_STILL = tuple(StillView.model_fields)


class Chosen(BaseModel):
    """Stills by id, and the revision the person saw."""

    seen: int
    stills: Annotated[list[int], Field(max_length=100_000)]


class Move(Chosen):
    """``to`` is the position, from 0, among the stills that stay."""

    to: Annotated[int, Field(ge=0)]


@router.get("/stills", response_model=StillsView)
def list_stills(needed: Needed, shot_id: int, since: Annotated[int, Query(ge=0, le=2**32)] = 0) -> Response:
    """Return a shot's stills in order; with ``since`` only those with ids above it, for a shot that is being gathered."""
    shots.one(needed.database, shot_id)
    rows, left_out, state = stills.seen(needed.database, shot_id, since)
    away = 0
    for row in rows:
        row["away"] = bool(row["away"])
        away += row["away"]
    for row, interval in zip(rows, _intervals(rows), strict=True):
        row["interval_s"] = interval
    view = {
        "stills": [{field: row[field] for field in _STILL} for row in rows],
        "left_out": left_out,
        "found": _found(rows, len(left_out), away) if not since else "",
        "state": state,
        "away": away,
    }
    # Written out here: the framework would make ten thousand models of them first.
    return Response(json.dumps(view, default=datetime.isoformat, ensure_ascii=False), media_type="application/json")


@router.get("/order")
def order_of_shot(needed: Needed, shot_id: int) -> OrderView:
    """Return the orders a shot's stills could have, the recommended one with the reason, and what breaks the order."""
    shots.one(needed.database, shot_id)
    _, decisions = revisions.latest(needed.database, shot_id)
    decided = decisions.order
    analysis, breaks = order.analysis_of(needed.database, shot_id, decided)
    candidates = [CandidateView.model_validate(candidate) for candidate in analysis.candidates]
    if decided.by == "hand" or decided.hand:
        candidates.append(CandidateView(by="hand", sentence="By hand: as you put them."))
    return OrderView(
        by=analysis.recommended if decided.by == "recommended" else decided.by,
        group=analysis.numbering.group,
        groups=[DigitGroupView.model_validate(group) for group in analysis.groups],
        recommended=analysis.recommended,
        reason=analysis.reason,
        candidates=candidates,
        breaks=[BreakView.model_validate(one) for one in breaks],
    )


@router.post("/order/move")
def move_stills(needed: Needed, shot_id: int, body: Move) -> Revised:
    """Put stills together at another position; the order is by hand from then on."""
    before = stills.ids(needed.database, shot_id)
    return _by_hand(needed, shot_id, body, moved(before, body.stills, body.to))


@router.post("/order/reverse")
def reverse_stills(needed: Needed, shot_id: int, body: Chosen) -> Revised:
    """Let stills change places, the first with the last and so on; none means all."""
    before = stills.ids(needed.database, shot_id)
    return _by_hand(needed, shot_id, body, reversed_in_place(before, body.stills or before))


def _by_hand(needed: Services, shot_id: int, body: Chosen, hand: tuple[int, ...]) -> Revised:
    _, decisions = revisions.latest(needed.database, shot_id)
    decided = decisions.order.model_copy(update={"by": "hand", "hand": hand})
    return kept(needed, shot_id, body.seen, decisions.model_copy(update={"order": decided}))


@router.get("/tail.png", response_class=Response)
def tail(needed: Needed, shot_id: int) -> Response:
    """Return the whole shot as one picture: a row per still, 160 pixels wide, top of the still at the left."""
    rows = stills.tail_rows(needed.database, shot_id)
    if not rows:
        raise NotFound("no_stills", "This shot has no stills yet. Bring some in first.")
    return Response(_png(rows), media_type="image/png", headers={"Cache-Control": "no-store"})


@router.get("/stills/{position}.jpg", response_class=Response)
def still(needed: Needed, shot_id: int, position: int, width: int = 1280, state: str = STATE) -> Response:
    """Return a still as it was shot, upright, at most ``width`` pixels wide."""

    def made() -> bytes:
        _, taken = used.original(needed.database, shots.one(needed.database, shot_id), position)
        fit = as_shot(taken, width)
        return jpeg(taken, fit, fit.size, needed.workspace.proxies)

    return answer(needed, shot_id, state, made)


@router.get("/middle.jpg", response_class=Response)
def middle(needed: Needed, shot_id: int, width: int = 480) -> Response:
    """Return the still in the middle of the shot, to know the shot by."""
    found = still(needed, shot_id, stills.count(needed.database, shot_id) // 2, width, "")
    found.headers["Cache-Control"] = "no-cache"
    return found


def _intervals(rows: list[Row]) -> list[float | None]:
    """Return for each still the seconds since the one before, below 0 where the camera's clock went back."""
    times = [universal_time(row["captured_at"], row["utc_offset_min"]) for row in rows]
    later = [(after - before).total_seconds() if before and after else None for before, after in pairwise(times)]
    return [None, *later] if rows else []


def _found(rows: list[Row], left_out: int, away: int) -> str:
    """Say what was gathered: count, size, kind, time, and whether anything was left out."""
    if not rows:
        return "No stills yet."
    sizes = Counter((row["width"], row["height"]) for row in rows)
    (width, height), most = sizes.most_common(1)[0]
    kinds = Counter(row["kind"] for row in rows).most_common()
    said = f"{len(rows):,} {'still' if len(rows) == 1 else 'stills'}, "
    said += " and ".join(kind for kind, _ in kinds) + f", {width} × {height}"
    if most < len(rows):
        said += f" ({len(rows) - most} of another size)"
    times = [row["captured_at"] for row in rows if row["captured_at"]]
    if times:
        said += f", taken {min(times):%Y-%m-%d %H:%M:%S} to {max(times):%Y-%m-%d %H:%M:%S}"
    if left_out:
        said += f"; {left_out} {'file was' if left_out == 1 else 'files were'} left out"
    if away:
        said += (
            f". {'One file is' if away == 1 else f'{away:,} files are'} away, and not in the clip until they are back"
        )
    return said + "."


def _png(rows: list[bytes]) -> bytes:
    """Write rows of 160 RGB pixels as a PNG (ISO/IEC 15948); plain zlib is much faster here than an image library."""

    def box(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    header = struct.pack(">IIBBBBB", TAIL_WIDTH, len(rows), 8, 2, 0, 0, 0)
    data = zlib.compress(b"".join(b"\0" + row for row in rows), 1)
    return b"\x89PNG\r\n\x1a\n" + box(b"IHDR", header) + box(b"IDAT", data) + box(b"IEND", b"")
