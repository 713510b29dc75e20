"""Long lists of still ids within decisions, kept once by what they hold, so that a revision only names them."""

import json
import zlib
from itertools import accumulate, pairwise
from typing import Any

from pymysql.cursors import DictCursor

from yarnkite.core.base.frozen import digest

LONG = 200
_LISTS = (("order", "hand"), ("check", "aside"), ("check", "bridged"), ("check", "repeated"), ("pace", "picked"))


def detached(cursor: DictCursor, decisions: dict[str, Any]) -> dict[str, Any]:
    """Return decisions (as JSON values) with each long list of ids replaced by its name, under which it is kept."""
    result = {step: dict(values) for step, values in decisions.items()}
    for step, field in _LISTS:
        ids = result[step].get(field, ())
        if len(ids) >= LONG:
            name = digest(*ids)
            cursor.execute("INSERT IGNORE INTO id_list (digest, packed) VALUES (%s, %s)", (name, _packed(ids)))
            result[step][field] = {"list": name}
    return result


def attached(cursor: DictCursor, stored: dict[str, Any]) -> dict[str, Any]:
    """Return stored decisions with the lists they name; one that is gone is left as it is and refused on reading."""
    for step, field in _LISTS:
        values = stored.get(step)
        named = values.get(field) if isinstance(values, dict) else None
        if isinstance(named, dict) and isinstance(named.get("list"), str):
            cursor.execute("SELECT packed FROM id_list WHERE digest = %s", (named["list"],))
            row = cursor.fetchone()
            if row is not None:
                stored[step][field] = _unpacked(row["packed"])
    return stored


def _packed(ids: list[int]) -> bytes:
    return zlib.compress(json.dumps([ids[0], *(after - before for before, after in pairwise(ids))]).encode())


def _unpacked(packed: bytes) -> list[int]:
    return list(accumulate(json.loads(zlib.decompress(packed))))
