"""The mark of a frame: every field of every description changes it, but those that make no pixels."""

import dataclasses
import types
from collections.abc import Iterator
from fractions import Fraction
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

import pytest
from pydantic import BaseModel

from yarnkite.core.base.still import Still
from yarnkite.core.fit.placement import Placement
from yarnkite.core.render.composite import Composite
from yarnkite.core.render.frame_spec import FrameSpec, Layer, mark
from yarnkite.core.render.titles import Logo

# Where a file lies, and what tells it from another of the name: its fingerprint says what is in it. How far a frame may
# be moved.
NO_PIXELS = {(Still, name) for name in ("path", "bytes", "modified_ns", "changed_ns")} | {
    (Logo, "path"),
    (Placement, "room"),
}

SAID_BY_THE_FILE = {(Still, "width"), (Still, "height")}


def hints(kind: type) -> dict[str, Any]:
    if issubclass(kind, BaseModel):
        return {name: field.annotation for name, field in kind.model_fields.items()}
    every = get_type_hints(kind)
    return {field.name: every[field.name] for field in dataclasses.fields(kind)}


def is_thing(kind: Any) -> bool:
    return isinstance(kind, type) and (issubclass(kind, BaseModel) or dataclasses.is_dataclass(kind))


def every_of(annotation: Any, depth: int = 0) -> list[Any]:
    """Values of a type in which nothing is left out: one of each kind there may be."""
    origin, within = get_origin(annotation), get_args(annotation)
    if origin is Annotated:
        return every_of(within[0], depth)
    if origin is Literal:
        return [within[0]]
    if origin in (Union, types.UnionType):
        return [one for kind in within if kind is not type(None) for one in every_of(kind, depth)]
    if origin is tuple:
        if len(within) == 2 and within[1] is Ellipsis:
            # Layers hold layers: one within another is enough.
            return [()] if within[0] is Layer and depth > 1 else [tuple(every_of(within[0], depth))]
        return turns([every_of(one, depth) for one in within])
    if is_thing(annotation):
        fields = {name: every_of(kind, depth + (annotation is Layer)) for name, kind in hints(annotation).items()}
        return [made(annotation, dict(zip(fields, one, strict=True))) for one in turns(list(fields.values()))]
    plain = {float: 0.25, int: 3, bool: False, str: "kite", Fraction: Fraction(1, 3)}
    return [plain[annotation]]


def turns(values: list[list[Any]]) -> list[tuple[Any, ...]]:
    """As many combinations as it takes for each value to be in one."""
    return [tuple(one[turn % len(one)] for one in values) for turn in range(max(map(len, values), default=1))]


def made(kind: type, fields: dict[str, Any]) -> Any:
    # Whether values go together is not asked here: any of them may come.
    return kind.model_construct(**fields) if issubclass(kind, BaseModel) else kind(**fields)


def changed(value: Any, path: tuple[tuple[type, str], ...] = ()) -> Iterator[tuple[tuple[tuple[type, str], ...], Any]]:
    """Every way to change one thing in a value, with the fields that lead to it."""
    if is_thing(type(value)):
        fields = {name: getattr(value, name) for name in hints(type(value))}
        for name, field in fields.items():
            for at, other in changed(field, (*path, (type(value), name))):
                yield at, made(type(value), fields | {name: other})
    elif isinstance(value, tuple):
        for place, one in enumerate(value):
            for at, other in changed(one, path):
                yield at, (*value[:place], other, *value[place + 1 :])
        if len(value) > 1 and all(is_thing(type(one)) or isinstance(one, tuple) for one in value):
            yield path, value[:-1]
            yield path, (value[-1], *value[:-1])
    elif isinstance(value, bool):
        yield path, not value
    elif isinstance(value, str):
        yield path, value + "s"
    elif isinstance(value, Fraction):
        yield path, value + Fraction(1, 7)
    elif value is not None:
        yield path, value + 1


def fields_within(kind: Any, seen: set[type]) -> set[tuple[type, str]]:
    """Every field of a type and of all it is made of."""
    if get_origin(kind) is not None:
        return {one for within in get_args(kind) for one in fields_within(within, seen)}
    if not is_thing(kind) or kind in seen:
        return set()
    seen.add(kind)
    own = hints(kind)
    return {(kind, name) for name in own}.union(*(fields_within(one, seen) for one in own.values()))


@pytest.mark.filterwarnings("ignore:Pydantic serializer")
@pytest.mark.parametrize("kind", [FrameSpec, Composite])
def test_whatever_changes_in_a_frame_changes_its_mark(kind):
    """Fields that come later are covered by themselves; pixels that change under the same mark would be poison."""
    seen: set[tuple[type, str]] = set()
    for frame in every_of(kind):
        before = mark(frame)
        for path, other in changed(frame):
            seen |= set(path)
            if SAID_BY_THE_FILE & set(path):
                continue
            if NO_PIXELS & set(path):
                assert mark(other) == before, path
            else:
                assert mark(other) != before, path
    assert fields_within(kind, set()) - seen == set()
