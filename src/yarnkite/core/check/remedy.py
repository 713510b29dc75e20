"""Remedies: what is done about findings, as decisions that can be undone."""

import re
from collections.abc import Sequence
from math import hypot

from yarnkite.core.check.decisions import Check, Fill
from yarnkite.core.check.dust import is_removed, place_of, without
from yarnkite.core.check.finding import OF_WHOLE_SHOT, Finding, Remedy

_KEY = re.compile(r"(?P<kind>[^:]+):(?P<first>\d+)-(?P<last>\d+)(?:@.*)?")
_AT = re.compile(r"@(\d\.\d+),(\d\.\d+)$")
# A spot that is measured in other stills lies elsewhere by less than this, in shares of the picture.
_NEAR = 0.01
# A stretch that is longer or shorter by some stills is the same one still; a short one is not.
_SHORTEST_CHANGED, _MOST = 6, 0.6
# Pictures made of two stills do not make up for a night.
MOST_FILLED = 100


def remedied(check: Check, found: Sequence[Finding], remedy: Remedy) -> Check:
    """Return what is decided about a shot's stills once a remedy is applied to findings.

    A still has one remedy at a time: a new one takes the place of the one before.
    """
    stills = {still for finding in found for still in finding.stills}
    changes: dict[str, object] = {}
    match remedy:
        case "set aside" | "bridge" | "repeat":
            chosen = {"set aside": "aside", "bridge": "bridged", "repeat": "repeated"}[remedy]
            for name in ("aside", "bridged", "repeated"):
                before = set(getattr(check, name))
                changes[name] = tuple(before | stills if name == chosen else before - stills)
        case "fill":
            fills = {fill.after: fill for fill in check.filled}
            for finding in found:
                count = max(1, min(MOST_FILLED, round(finding.evidence.get("missing", 1))))
                fills[finding.stills[0]] = Fill(after=finding.stills[0], count=count)
            changes["filled"] = tuple(fills.values())
        case "begin here":
            changes["begin"] = found[-1].stills[-1]
        case "end here":
            changes["end"] = found[0].stills[0]
        case "dismiss":
            changes["dismissed"] = tuple(sorted({*check.dismissed, *(finding.key for finding in found)}))
    return check.changed(**changes)


def restored(check: Check, found: Sequence[Finding]) -> Check:
    """Return the decisions without any remedy for the stills of some findings."""
    stills = {still for finding in found if finding.kind not in OF_WHOLE_SHOT for still in finding.stills}
    dust = list(check.dust)
    for finding in found:
        if finding.kind == "dirt":
            dust = without(dust, place_of(finding))
    left = {name: set(getattr(check, name)) - stills for name in ("aside", "bridged", "repeated")}
    filled = tuple(fill for fill in check.filled if fill.after not in stills)
    dismissed = tuple(key for key in check.dismissed if not any(dismisses(key, finding) for finding in found))
    return check.changed(**left, filled=filled, dismissed=dismissed, dust=dust)


def dismisses(key: str, finding: Finding) -> bool:
    """Tell whether a dismissed key stands for a finding: the same, or most of it, as it was before stills came or
    went."""
    if key == finding.key:
        return True
    parts = _KEY.fullmatch(key)
    if parts is None or parts["kind"] != finding.kind:
        return False
    if finding.kind in OF_WHOLE_SHOT:
        at = _AT.search(key)
        return at is None or hypot(float(at[1]) - finding.evidence["x"], float(at[2]) - finding.evidence["y"]) < _NEAR
    places = {still: place for place, still in enumerate(finding.stills)}
    first, last = places.get(int(parts["first"])), places.get(int(parts["last"]))
    if len(places) < _SHORTEST_CHANGED or (first is None and last is None):
        return False
    length = (len(places) - 1 if last is None else last) - (first or 0) + 1
    return length >= _MOST * len(places)


def is_settled(check: Check, finding: Finding) -> bool:
    """Tell whether something was decided about a finding: a remedy for all its stills, or to leave it."""
    if any(dismisses(key, finding) for key in check.dismissed):
        return True
    if finding.kind == "dirt":
        return is_removed(check, finding)
    if finding.kind in ("missing", "pause"):
        return any(fill.after == finding.stills[0] for fill in check.filled)
    return {*check.aside, *check.bridged, *check.repeated}.issuperset(finding.stills)
