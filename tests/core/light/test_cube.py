"""Tables of colours as files: written and read back, applied, and refused with a sentence where they make no sense."""

import numpy as np
import pytest
from pydantic import ValidationError

from tests.conftest import scene
from yarnkite.core.base.errors import Refusal
from yarnkite.core.light.adjustment import Adjustment, SharedLight, adjusted, colours_of
from yarnkite.core.light.colour_table import identity, sampled
from yarnkite.core.light.cube import ColourTable, cube_text, read_cube

PICTURE = scene(96, 64)


def swapped(side=9):
    """A table that exchanges red and blue, and darkens a little."""
    return identity(side)[..., ::-1] ** 1.2


def applied(nodes, strength=1.0, picture=PICTURE):
    return adjusted(picture, Adjustment(table=strength), SharedLight(table=ColourTable.of(nodes)))


@pytest.mark.parametrize("side", [2, 17, 33])
def test_what_is_written_is_read_again(side):
    nodes = swapped(side)
    assert read_cube(cube_text(nodes, 'A "look"'), "a.cube") == pytest.approx(nodes, abs=1e-6)
    packed = ColourTable.of(nodes)
    again = ColourTable.model_validate_json(packed.model_dump_json())
    assert again.digest == packed.digest
    assert again.nodes == pytest.approx(nodes, abs=1e-5)
    assert ColourTable.of(nodes * 0.999).digest != packed.digest


def test_red_runs_fastest_as_the_format_says():
    lines = [f"{red} {green} {blue}" for blue in (0, 1) for green in (0, 1) for red in (0, 1)]
    lines[1] = "0.25 0.5 0.75"
    nodes = read_cube("# a comment\nLUT_3D_SIZE 2\n" + "\n".join(lines), "a.cube")
    assert nodes[1, 0, 0] == pytest.approx([0.25, 0.5, 0.75])
    assert nodes[0, 0, 1] == pytest.approx([0, 0, 1])


def test_a_domain_is_taken_into_account():
    text = cube_text(identity(3), "x").replace("DOMAIN_MAX 1 1 1", "DOMAIN_MAX 2 2 2")
    assert read_cube(text, "a.cube")[2, 2, 2] == pytest.approx([0.5, 0.5, 0.5])


def test_a_table_is_applied_as_far_as_wished():
    wanted = sampled(swapped(33), PICTURE / 255)
    assert np.abs(applied(swapped(33)) / 65535 - wanted).max() < 2e-3
    assert np.abs(applied(swapped(33), 0.5) / 65535 - (wanted + PICTURE / 255) / 2).max() < 2e-3
    assert np.abs(applied(swapped(2) ** (1 / 1.2)) / 257 - PICTURE[..., ::-1]).max() <= 1


def test_a_light_that_is_written_does_the_same_when_it_is_applied():
    light = Adjustment(exposure=0.4, contrast=0.3, warmth=20, muted=0.3)
    nodes = colours_of(np.rint(identity(33).reshape(1, -1, 3) * 65535).astype(np.uint16), light) / 65535
    again = applied(read_cube(cube_text(nodes.reshape(33, 33, 33, 3), "x"), "x.cube"))
    assert np.abs(again.astype(int) - adjusted(PICTURE, light)).mean() < 65535 * 0.002


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("LUT_3D_SIZE 3\n0 0 0\n", "ends after 1 of 27"),
        ("LUT_3D_SIZE 256\n0 0 0\n", "256 steps"),
        ("LUT_3D_SIZE many\n", "does not say a size"),
        ("LUT_3D_SIZE 2\n" + "0 0 0\n" * 7 + "0 nothing 0\n", "line 9 is not three numbers"),
        ("LUT_3D_SIZE 2\n" + "0 0 0\n" * 7 + "nan 0 0\n", "a number that is none"),
        ("LUT_3D_SIZE 2\n" + "0 0 0\n" * 9, "more colours than the 8"),
        ("LUT_1D_SIZE 16\n", "a curve for each colour"),
        ("0 0 0\n", "before it was said"),
        ("just some text", "does not say how large"),
        ("", "does not say how large"),
        ("LUT_3D_SIZE 2\nDOMAIN_MIN 1 1 1\n" + "0 0 0\n" * 8, "is empty"),
    ],
    ids=str,
)
def test_what_is_no_table_gets_a_sentence(text, says):
    with pytest.raises(Refusal, match=says) as refusal:
        read_cube(text, "odd.cube")
    assert "“odd.cube”" in refusal.value.sentence


@pytest.mark.parametrize("packed", ["", "AAAA", "not base64!", ColourTable.of(identity(3)).packed])
def test_a_damaged_table_is_no_table(packed):
    with pytest.raises(ValidationError, match="damaged"):
        ColourTable(side=5, packed=packed)
