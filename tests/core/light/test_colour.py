"""Whites and what moves them, against a library of colour science that nobody here wrote."""

import colour
import numpy as np
import pytest

from yarnkite.core.light.colour import BRADFORD, DAYLIGHT_MIRED, TO_XYZ, colour_matrix, mired_of

KELVIN = [1_720, 1_900, 2_200, 2_250, 2_700, 3_300, 3_990, 4_010, 5_000, 6_500, 9_000, 14_000, 24_000]


def black_body(kelvin: float):
    """The XYZ, Y = 1, of a black body, by the same published fit (Kang, Kim et al. 2002) of the library."""
    x, y = colour.CCT_to_xy(kelvin, method="Kang 2002")
    return np.array([x / y, 1.0, (1 - x - y) / y])


def uv(xyz):
    x, y, z = xyz
    return np.array([4 * x, 6 * y]) / (x + 15 * y + 3 * z)


@pytest.mark.parametrize("kelvin", KELVIN)
def test_a_black_body_is_found_at_its_temperature_and_on_the_locus(kelvin):
    mired, off = mired_of(black_body(kelvin))
    assert mired == pytest.approx(1e6 / kelvin, abs=0.2)
    assert abs(off) < 0.02


@pytest.mark.parametrize("kelvin", KELVIN[1:-1])
def test_what_lies_beside_the_locus_is_said_in_thousandths_of_the_diagram_redder_above_nothing(kelvin):
    along = uv(black_body(1e6 / (1e6 / kelvin + 1))) - uv(black_body(1e6 / (1e6 / kelvin - 1)))
    # Warmer lights lie to the right in the diagram and green above them: redder is square to that, and down.
    redder = np.array([along[1], -along[0]]) / np.hypot(*along)
    u, v = uv(black_body(kelvin)) + 0.004 * redder
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    mired, off = mired_of(np.array([x / y, 1.0, (1 - x - y) / y]))
    assert off == pytest.approx(4, abs=0.05)
    assert mired == pytest.approx(1e6 / kelvin, abs=1.5)
    assert redder[1] < 0


@pytest.mark.parametrize(("kelvin", "other"), [(2_000, 6_000), (3_200, 5_500), (9_000, 4_200)])
def test_a_still_that_is_taken_for_another_light_has_its_greys_under_its_own(kelvin, other):
    mired = 1e6 / kelvin
    grey = np.linalg.inv(TO_XYZ) @ black_body(other)
    moved = TO_XYZ @ (colour_matrix(mired - 1e6 / other, 0.0, 0.0, mired) @ grey)
    assert uv(moved) == pytest.approx(uv(black_body(kelvin)), abs=2e-4)


@pytest.mark.parametrize("warmth", [0, 80, 200])
@pytest.mark.parametrize("tint", [-30, 12])
def test_tint_moves_white_square_to_the_locus_by_its_thousandths(warmth, tint):
    grey, tinted = (uv(TO_XYZ @ (colour_matrix(warmth, one, 0.0, DAYLIGHT_MIRED) @ np.ones(3))) for one in (0.0, tint))
    assert np.hypot(*(tinted - grey)) == pytest.approx(abs(tint) / 1000, rel=0.02)
    warmer = uv(TO_XYZ @ (colour_matrix(warmth + 1, 0.0, 0.0, DAYLIGHT_MIRED) @ np.ones(3)))
    along = warmer - grey
    assert abs(along @ (tinted - grey)) < 0.03 * np.hypot(*along) * np.hypot(*(tinted - grey))


def test_matrices_are_those_the_standards_have():
    assert colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ == pytest.approx(TO_XYZ, abs=2e-4)
    assert colour.CHROMATIC_ADAPTATION_TRANSFORMS["Bradford"] == pytest.approx(BRADFORD, abs=1e-9)


@pytest.mark.parametrize(("warmth", "tint", "saturation"), [(120, 0, 0), (-90, 20, 0.5), (0, -25, -0.6), (200, 10, 0)])
def test_grey_keeps_its_luminance_whatever_is_done_to_colours(warmth, tint, saturation):
    moved = TO_XYZ @ (colour_matrix(warmth, tint, saturation, DAYLIGHT_MIRED) @ np.ones(3))
    assert moved[1] == pytest.approx(1, abs=1e-6)
