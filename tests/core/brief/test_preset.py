"""Presets, and the file they are exchanged in."""

import json
from fractions import Fraction

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.brief.preset import Preset, PresetFile, nearly_like, read_presets
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.light.decisions import Keyframe, Light, Setting
from yarnkite.core.move.decisions import AnchoredPoint, Move, PlaceAt, Steady, ViewAt
from yarnkite.core.pace.decisions import Pace, Thin
from yarnkite.core.render.decisions import Decisions

STILLS, OTHERS = (1, 2, 3), (31, 32, 33, 34, 35)
FALLING = Light(exposure=Setting(keyframes=(Keyframe(still=1, value=1.0), Keyframe(still=3, value=-1.0))))


def test_a_preset_changes_size_rate_hold_and_format_and_nothing_else():
    wanted = Decisions(
        fit=Fit(size=Size(width=1080, height=1920), y=0.1),
        pace=Pace(rate="12", repeat=2, hold=3),
        encode=Encode(crf=24),
    )
    other = Decisions(fit=Fit(how="contain", level=2.0), pace=Pace(thin=Thin(way="every"), blend="neighbours"))
    made = Preset.of("upright", wanted).applied(other)
    assert made.fit == other.fit.model_copy(update={"size": wanted.fit.size})
    assert made.pace == other.pace.model_copy(update={"rate": wanted.pace.rate, "repeat": 2, "hold": 3})
    assert made.encode == wanted.encode
    assert (made.order, made.check) == (other.order, other.check)


def test_a_preset_has_light_and_steadying_on_wish_and_lays_them_over_any_shot():
    glide = Steady(how="glide", place_over=40)
    wanted = Decisions(light=FALLING, move=Move(views=(ViewAt(at=0, x=0.2),), steady=glide))
    preset = Preset.of("dusk", wanted, STILLS, light=True, steadying=True)
    own = Decisions(light=Light(saturation=Setting(value=0.5)), move=Move(views=(ViewAt(at=1),)))
    made = preset.applied(own, OTHERS)
    assert made.light.exposure.keyframes == (Keyframe(still=31, value=1.0), Keyframe(still=35, value=-1.0))
    # All of its light is the preset's; where the view goes is the shot's.
    assert made.light.saturation == Setting()
    assert made.move == own.move.model_copy(update={"steady": glide})
    without = Preset.of("size", wanted, STILLS)
    assert (without.applied(own, OTHERS).light, without.applied(own, OTHERS).move) == (own.light, own.move)


def test_an_anchored_point_is_no_part_of_a_preset():
    point = AnchoredPoint(places=(PlaceAt(still=2, x=0.5, y=0.5),))
    wanted = Decisions(move=Move(steady=Steady(how="anchor", points=(point,))))
    assert Preset.of("a", wanted, STILLS, steadying=True).steady == Steady()
    held = Decisions(move=Move(steady=Steady(how="still", reference=33, points=(point,))))
    made = Preset.of("b", Decisions(move=Move(steady=Steady(how="glide"))), STILLS, steadying=True).applied(held)
    assert made.move.steady == Steady(how="glide", points=(point,))


def test_a_file_of_an_earlier_edition_is_read():
    size = '{"width": 1920, "height": 1080}'
    text = f'{{"kind": "yarn-kite presets", "edition": 1, "presets": [{{"name": "x", "rate": "25", "size": {size}}}]}}'
    (preset,) = read_presets(text)
    assert (preset.light, preset.steady) == (None, None)


def test_a_clip_is_nearly_like_a_preset_if_its_size_alone_or_its_rate_alone_is_another():
    size, small = Size(width=1920, height=1080), Size(width=1280, height=720)
    preset = Preset(name="web", size=size, rate="12.5", repeat=2, encode=Encode(crf=21))
    # What is written into the file beside the pictures is the clip's own.
    encode = Encode(crf=21, title="Harbour", start="01:00:00:00")
    assert nearly_like([preset], encode, small, Fraction(25)) == [preset]
    assert nearly_like([preset], encode, size, Fraction(30_000, 1001)) == [preset]
    assert nearly_like([preset], encode, size, Fraction(25)) == []
    assert nearly_like([preset], encode, small, Fraction(30)) == []
    assert nearly_like([preset], Encode(crf=22), small, Fraction(25)) == []
    # Who has one for either size means what the other says.
    other = preset.model_copy(update={"name": "small", "size": small})
    assert nearly_like([preset, other], encode, small, Fraction(25)) == []
    assert nearly_like([preset, other], encode, Size(width=3840, height=2160), Fraction(25)) == [preset, other]


def test_presets_come_back_from_their_file_as_they_were():
    presets = (
        Preset.of("a", Decisions()),
        Preset.of("b — ü", Decisions(pace=Pace(rate="24000/1001"))),
        Preset.of("c", Decisions(light=FALLING), STILLS, light=True, steadying=True),
    )
    text = PresetFile(presets=presets).model_dump_json()
    assert json.loads(text)["presets"][1]["rate"] == "24000/1001"
    assert read_presets(text) == presets


@pytest.mark.parametrize(
    "text",
    [
        "",
        "[]",
        "{}",
        '{"kind": "something else", "edition": 1, "presets": []}',
        '{"kind": "yarn-kite presets", "edition": 3, "presets": []}',
        '{"kind": "yarn-kite presets", "edition": 1, "presets": [{"name": "odd", "rate": "25",'
        ' "size": {"width": 1921, "height": 1080}}]}',
        '{"kind": "yarn-kite presets", "edition": 1, "presets": [{"name": "x", "rate": "25"}]}',
    ],
)
def test_what_is_no_file_of_presets_is_refused_with_a_reason(text):
    with pytest.raises(Refusal, match="not a file of presets"):
        read_presets(text)
