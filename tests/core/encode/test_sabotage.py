"""Sabotage: what goes into an encoder is spoiled in every way a fault might, and the clip is never verified."""

import av
import numpy as np
import pytest
from PIL import Image

from tests.clips import finished_clip
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode import chunk
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.core.encode.video_frame import plane_of
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe

# In the suite all of these in one format, and one of each sort in a format of ten bits and one without loss.
OFTEN = {"prores": ("colours exchanged", "two swapped", "the wrong matrix", "nothing"), "ffv1": ("one grey", "nothing")}
# What is finest shows in a large frame, and is lost in a small one.
LARGE = ("moved by a pixel", "one grey", "nothing")
FAMILIES = ("h264", "h265", "vp9", "av1", "prores", "dnxhr-hq", "ffv1")
SIZE = Size(width=1280, height=720)
AT = 5


@pytest.fixture(scope="module")
def taken(tmp_path_factory):
    """A street of coloured houses that passes by, with grain."""
    folder = tmp_path_factory.mktemp("street")
    rng = np.random.default_rng(11)
    houses = np.kron(rng.integers(40, 215, (9, 17, 3)), np.ones((80, 80, 1)))
    windows = np.kron(rng.integers(-25, 25, (72, 136, 1)), np.ones((10, 10, 1)))
    street = np.clip(houses + windows + rng.normal(0, 2, houses.shape), 0, 255).astype(np.uint8)
    stills = []
    for number in range(10):
        path = folder / f"STR_{number}.png"
        Image.fromarray(street[:, 7 * number : 7 * number + 1280]).save(path)
        stills.append(Still(path=str(path), fingerprint=f"street-{number}", width=1280, height=720))
    return tuple(stills)


def copied(frame):
    other = av.VideoFrame(frame.width, frame.height, frame.format.name)
    for name in ("color_primaries", "color_trc", "colorspace", "color_range"):
        setattr(other, name, getattr(frame, name))
    for index in range(3):
        planes(other)[index][...] = planes(frame)[index]
    return other


def depth_of(frame):
    return 10 if "10" in frame.format.name else 8


def planes(frame):
    return [plane_of(frame, index, depth_of(frame)) for index in range(3)]


def changed(frame, luma=lambda plane, unit: plane, colour=lambda plane, unit: plane):
    """A frame whose samples are changed; ``unit`` is a step of 8 bits."""
    other, unit = copied(frame), 1 << (depth_of(frame) - 8)
    for plane, change in zip(planes(other), (luma, colour, colour), strict=True):
        made = change(plane.astype(np.float64), unit)
        plane[...] = np.clip(np.rint(made), 0, 256 * unit - 1).astype(plane.dtype)
    return other


def wrong_matrix(frame):
    """What BT.709's samples are where those of BT.601 are wanted, nearest by: more or less green, by colour."""
    other = copied(frame)
    bright, blue, red = planes(other)
    up, across = bright.shape[0] // blue.shape[0], bright.shape[1] // blue.shape[1]
    middle = 128 << (depth_of(frame) - 8)
    wide = [np.kron(plane.astype(np.float64) - middle, np.ones((up, across))) for plane in (blue, red)]
    bright[...] = np.clip(bright + 0.1016 * wide[0] + 0.1962 * wide[1], 0, (256 << (depth_of(frame) - 8)) - 1).astype(
        bright.dtype
    )
    return other


def exchanged(frame):
    other = copied(frame)
    _, blue, red = planes(other)
    kept = blue.copy()
    blue[...], red[...] = red, kept
    return other


SPOILED = {
    "colours exchanged": lambda every: [exchanged(one) for one in every],
    "grey": lambda every: [changed(one, colour=lambda plane, unit: np.full_like(plane, 128 * unit)) for one in every],
    "one grey": lambda every: [
        changed(one, colour=lambda plane, unit: np.full_like(plane, 128 * unit)) if at == AT else one
        for at, one in enumerate(every)
    ],
    "a neighbour's": lambda every: [*every[:AT], every[AT + 1], *every[AT + 1 :]],
    "two swapped": lambda every: [*every[:AT], every[AT + 1], every[AT], *every[AT + 2 :]],
    "one frozen": lambda every: [*every[:AT], every[AT - 1], *every[AT + 1 :]],
    "moved by a pixel": lambda every: [
        changed(one, luma=lambda plane, unit: np.roll(plane, 1, 1)) if at == AT else one for at, one in enumerate(every)
    ],
    "3 % brighter": lambda every: [
        changed(one, luma=lambda plane, unit: (plane - 16 * unit) * 1.03 + 16 * unit) for one in every
    ],
    "full for limited range": lambda every: [
        changed(
            one,
            luma=lambda plane, unit: (plane - 16 * unit) * 255 / 219,
            colour=lambda plane, unit: (plane - 128 * unit) * 255 / 224 + 128 * unit,
        )
        for one in every
    ],
    "the wrong matrix": lambda every: [wrong_matrix(one) for one in every],
    "nothing": lambda every: every,
}


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        pytest.param(name, kind, marks=() if name == "h264" or kind in OFTEN.get(name, ()) else pytest.mark.long)
        for name in FAMILIES
        for kind in SPOILED
    ],
)
def test_what_is_spoiled_on_its_way_into_a_file_is_never_verified(taken, tmp_path, monkeypatch, name, kind):
    noting = chunk._noting

    def spoiled(frames, copies):
        yield from SPOILED[kind](list(noting(frames, copies)))

    monkeypatch.setattr(chunk, "_noting", spoiled)
    size = SIZE if name == "dnxhr-hq" or (name == "h264" and kind in LARGE) else Size(width=640, height=360)
    decisions = Decisions(fit=Fit(size=size), encode=Encode(format=name, preset="ultrafast"))
    verdict, _ = finished_clip(Recipe(stills=taken, decisions=decisions), tmp_path)
    said = [str(one) for one in verdict.differences]
    if kind == "nothing":
        assert said == []
        return
    only = kind in ("one grey", "a neighbour's", "one frozen", "moved by a pixel", "two swapped")
    assert said
    assert said[0].startswith(f"frame {AT + 1 if only else 1}: planned its picture, found"), said
    assert FORMATS[name].way == "joined"
