"""Looks: parts of a light, on any shot, with what changes over it; and joining and splitting what shots have."""

import numpy as np
import pytest

from yarnkite.core.light.areas import Area, Gradient, Mask, Part
from yarnkite.core.light.course import values_of
from yarnkite.core.light.decisions import AppliedTable, Even, Keyframe, Light, Region, Setting
from yarnkite.core.light.grade import CurvePull, Grade, HuePull, numbers_of
from yarnkite.core.light.looks import OWN_LOOKS, PARTS, Look
from yarnkite.core.light.split_join import light_of_both, light_of_part

IDS, OTHERS = tuple(range(1, 41)), tuple(range(101, 181))
SKY = Mask(parts=(Part(shape=Gradient(x=0.5, y=0, to_x=0.5, to_y=0.5)),))


def changing(**values):
    return Setting(keyframes=tuple(Keyframe(still=int(name[1:]), value=value) for name, value in values.items()))


RICH = Light(
    exposure=changing(_1=0, _40=2),
    warmth=Setting(value=12),
    hues=(HuePull(hue=200, turn=changing(_1=5, _20=10)),),
    pulls=(CurvePull(at=0.1, by=Setting(value=0.3)),),
    areas=(Area(name="sky", mask=SKY, grade=Grade(exposure=changing(_1=-1, _40=0), saturation=Setting(value=0.2))),),
    even=Even(flicker=True),
)


def resolved(light, ids):
    places = {still: place for place, still in enumerate(ids)}
    return {path: values_of(one, places, np.arange(len(ids), dtype=float)) for path, one in light.settings.items()}


def test_settings_are_found_and_replaced_by_their_paths():
    settings = RICH.settings
    assert settings["hues.0.turn"].keyframes[1].value == 10
    assert settings["areas.0.grade.saturation"].value == 0.2
    changed = RICH.with_settings({"areas.0.grade.saturation": Setting(value=0.5), "exposure": Setting(value=1)})
    assert changed.areas[0].grade.saturation.value == 0.5
    assert changed.exposure.value == 1
    assert changed.areas[0].grade.exposure == RICH.areas[0].grade.exposure
    assert RICH.with_settings(settings) == RICH


def test_a_look_takes_its_parts_alone_and_stretches_over_another_shot():
    look = Look.of("mine", ("brightness", "areas"), RICH, IDS)
    again = Look.model_validate_json(look.model_dump_json())
    applied = again.applied(Light(warmth=Setting(value=-30), exposure=Setting(value=4)), OTHERS)
    assert applied.warmth.value == -30
    assert not applied.hues
    assert not applied.even.flicker
    found = resolved(applied, OTHERS)
    assert found["exposure"][[0, -1]] == pytest.approx([0, 2])
    assert found["areas.0.grade.exposure"][[0, -1]] == pytest.approx([-1, 0])
    assert found["areas.0.grade.saturation"] == pytest.approx(np.full(80, 0.2))
    assert applied.pulls == RICH.pulls


def test_the_looks_to_begin_with_change_something_and_have_names_of_their_own():
    assert len({look.name for look in OWN_LOOKS}) == len(OWN_LOOKS) == 6
    for look in OWN_LOOKS:
        applied = look.applied(Light(even=Even(flicker=True)), IDS)
        assert not applied.changes_nothing
        assert applied.even.flicker


def test_every_part_of_a_light_belongs_to_a_look():
    whole = Look.of("all", PARTS, RICH, IDS).applied(Light(), IDS)
    alike = {path: setting.model_copy(update={"value": 0.0}) for path, setting in RICH.settings.items()}
    assert whole.with_settings(
        {path: one.model_copy(update={"value": 0.0}) for path, one in whole.settings.items()}
    ) == RICH.with_settings(alike)
    before, after = resolved(RICH, IDS), resolved(whole, IDS)
    assert all(after[path] == pytest.approx(course) for path, course in before.items())


def test_joined_shots_keep_their_own_areas_hues_and_tables():
    other = Light(
        tint=Setting(value=5),
        areas=(Area(name="pier", mask=SKY, grade=Grade(contrast=Setting(value=0.6))),),
        table=AppliedTable(digest="ab" * 16, name="x", strength=Setting(value=0.8)),
    )
    both = light_of_both(RICH, IDS, other, OTHERS)
    assert [area.name for area in both.areas] == ["sky", "pier"]
    found, one, two = resolved(both, (*IDS, *OTHERS)), resolved(RICH, IDS), resolved(other, OTHERS)
    for path, course in one.items():
        ours = found[path][: len(IDS)]
        assert ours[[0, -1]] == pytest.approx(course[[0, -1]], abs=1e-3), path
    assert found["areas.1.grade.contrast"][: len(IDS)] == pytest.approx(np.zeros(len(IDS)))
    assert found["areas.1.grade.contrast"][len(IDS) :] == pytest.approx(np.full(len(OTHERS), 0.6))
    assert found["areas.0.grade.exposure"][len(IDS) :] == pytest.approx(np.zeros(len(OTHERS)))
    assert found["table.strength"][[0, 39, 40, -1]] == pytest.approx([0, 0, 0.8, 0.8])
    assert found["tint"][len(IDS) :] == pytest.approx(two["tint"])
    assert Light.model_validate_json(both.model_dump_json()) == both


def test_what_was_split_and_joined_again_has_one_of_each_area():
    parts = IDS[:20], IDS[20:]
    one, two = (light_of_part(RICH, IDS, part) for part in parts)
    both = light_of_both(one, parts[0], two, parts[1])
    assert [area.name for area in both.areas] == ["sky"]
    assert len(both.hues) == 1
    before, after = resolved(RICH, IDS), resolved(both, IDS)
    for path in ("exposure", "hues.0.turn", "areas.0.grade.exposure"):
        assert after[path][[0, 19, 20, 39]] == pytest.approx(before[path][[0, 19, 20, 39]], abs=2e-3), path


def test_a_region_that_is_none_is_refused():
    with pytest.raises(ValueError, match="too small"):
        Region(left=0.5, top=0.1, right=0.5, bottom=0.9)


def test_what_is_pulled_at_a_still_is_what_its_numbers_say():
    grade = Grade(hues=(HuePull(hue=200), HuePull(hue=30, width=50)), pulls=(CurvePull(at=0.7), CurvePull(at=0.1)))
    values = {"exposure": 0.0, "warmth": 4.0, "hues.1.turn": 10.0, "pulls.0.by": 0.2, "pulls.1.by": -0.1}
    found = numbers_of(grade, values)
    assert found.keys() == {"warmth", "hues", "pulls"}
    assert found["warmth"] == 4
    assert found["pulls"] == ((0.1, -0.1), (0.7, 0.2))
    (hue,) = found["hues"]
    assert (hue.hue, hue.width, hue.turn, hue.colour) == (30, 50, 10, 0)
    assert numbers_of(Grade(monochrome=True), {}) == {"monochrome": True}
    assert numbers_of(grade, {f"areas.2.{path}": value for path, value in values.items()}, "areas.2.") == found
