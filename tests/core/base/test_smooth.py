"""Smooth courses: the least squares they are, what they leave as it is, and the period that tells them from scatter."""

import numpy as np
import pytest

from yarnkite.core.base.smooth import best_period, freedom, smoothed


def dense(count, period, weights=None):
    """The same by whole matrices: least squares of what is left and of differences, as Eilers wrote it."""
    order = 3 if period <= 180 else 2
    stiffness = (2 * np.sin(np.pi / period)) ** (-2 * order)
    differences = np.diff(np.eye(count), n=order, axis=0)
    counted = np.diag(np.ones(count) if weights is None else weights)
    return np.linalg.solve(counted + stiffness * differences.T @ differences, counted)


@pytest.mark.parametrize("period", [6.0, 40.0, 250.0])
def test_it_is_the_least_squares(period):
    values = np.random.default_rng(1).normal(size=(60, 3))
    weights = np.random.default_rng(2).uniform(0.1, 1, 60)
    assert smoothed(values, period) == pytest.approx(dense(60, period) @ values, abs=1e-8)
    assert smoothed(values[:, 0], period, weights) == pytest.approx(dense(60, period, weights) @ values[:, 0], abs=1e-8)


@pytest.mark.parametrize("period", [12.0, 50.0, 150.0])
def test_a_wave_of_the_period_is_halved_a_quick_one_goes_and_a_parabola_stays(period):
    at = np.arange(1200)
    middle = slice(500, 700)
    wave = np.sin(2 * np.pi * at / period)
    assert smoothed(wave, period)[middle] == pytest.approx(wave[middle] / 2, abs=2e-3)
    assert np.abs(smoothed(np.sin(2 * np.pi * at / (period / 4)), period)[middle]).max() < 1e-3
    parabola = (at / 1200) ** 2 - at / 700
    assert smoothed(parabola, period) == pytest.approx(parabola, abs=1e-5)


@pytest.mark.parametrize("period", [8.0, 60.0, 400.0])
def test_the_freedom_is_the_trace(period):
    assert freedom(300, period) == pytest.approx(np.trace(dense(300, period)), rel=0.01)


def test_the_best_period_follows_the_course_and_not_the_scatter():
    at, random = np.arange(400) / 400, np.random.default_rng(3)
    dusk = -3 / (1 + np.exp(-(at - 0.5) * 10))
    seen = dusk + random.normal(0, 0.15, 400)
    course = smoothed(seen, best_period(seen))
    assert np.sqrt(np.mean((course - dusk) ** 2)) < 0.03
    assert best_period(random.normal(size=400)) > 200


@pytest.mark.parametrize("count", [0, 1, 2, 3, 5])
def test_a_few_values_are_no_trouble(count):
    values = np.arange(count, dtype=float)
    assert smoothed(values, 20.0) == pytest.approx(values, abs=1e-6)
    assert best_period(values) >= 4
