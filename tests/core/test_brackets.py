"""Zeros between two values of an unknown, many or few at a time."""

import numpy as np
import pytest

from sleetfield.core.brackets import change_between, narrowed


def _cubic(u, rows):
    return (u - 0.3 - 0.01 * rows) ** 3 + 0.2 * (u - 0.3 - 0.01 * rows)


def _step(u, rows):
    return np.where(u < 0.37 + 0.01 * rows, -1.0, 2.0)


@pytest.mark.parametrize("many", [1, 3, 4, 5, 40])
@pytest.mark.parametrize(("error", "first"), [(_cubic, 0.3), (_step, 0.37)])
def test_every_row_is_narrowed_to_its_own_zero_or_jump(many, error, first):
    at, low, high = narrowed(error, np.zeros(many), np.ones(many), 1e-9)
    wanted = first + 0.01 * np.arange(many)
    assert np.abs(at - wanted).max() < 2e-9
    assert (low <= wanted + 1e-12).all()
    assert (high >= wanted - 1e-12).all()


def test_few_rows_take_few_evaluations():
    calls = []

    def counted(u, rows):
        calls.append(len(u))
        return _cubic(u, rows)

    narrowed(counted, np.zeros(1), np.ones(1), 1e-14)
    assert len(calls) <= 6


@pytest.mark.parametrize("few", [0, 4])
def test_what_is_not_known_inside_is_passed_over(few):
    def gap(u, rows):
        return np.where(np.abs(u - 0.5) < 0.05, np.nan, u - 0.7)

    at, _, _ = narrowed(gap, np.zeros(1), np.ones(1), 1e-10, few)
    assert at[0] == pytest.approx(0.7, abs=1e-9)


def test_without_a_change_of_sign_there_is_no_answer():
    at, _, _ = narrowed(lambda u, rows: u + 1.0, np.zeros(2), np.ones(2), 1e-10)
    assert np.isnan(at).all()


@pytest.mark.parametrize("at_once", [1, 3])
def test_a_change_is_cut_down_between_places_in_a_plane(at_once):
    def same(places, rows):
        return places[:, 0] + places[:, 1] < 0.9 + 0.1 * rows

    low, high = change_between(same, np.zeros((3, 2)), np.ones((3, 2)), 12, at_once)
    wanted = 0.45 + 0.05 * np.arange(3)
    assert (low[:, 0] < wanted + 1e-12).all()
    assert (high[:, 0] >= wanted - 1e-12).all()
    assert np.abs(high - low).max() == pytest.approx(8.0**-4)
