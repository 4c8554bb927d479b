"""A few draws of every random search, so that none is broken when it is needed; `make fuzz` has the thousands."""

import importlib
from collections import Counter

import numpy as np
import pytest

from .searches import calls, files, studies
from .searches.searching import own_folders

DRAWS = {
    "cold": 1,
    "critical_region": 3,
    "deviations": 10,
    "dew_points": 8,
    "diagrams": 4,
    "electrolytes": 25,
    "engines": 2,
    "envelopes": 2,
    "extremes": 12,
    "regression": 2,
    "roots": 15,
    "solids": 1,
    "transport": 6,
    "triangles": 1,
}


SLOW = ("liquids", "reading", "states", "times")
"""Searches that are only looked at for whether they can begin."""


def troubles(look, draws, seed=5):
    """Whatever some draws come upon."""
    rng, counts, found = np.random.default_rng(seed), Counter(), []
    for _ in range(draws):
        label, trouble_of = look(rng)
        found += [f"{label}: {trouble}" for trouble in trouble_of(counts)]
    return found


@pytest.mark.parametrize("name", DRAWS)
def test_a_search_finds_nothing(name):
    search = importlib.import_module(f"{__package__}.searches.{name}")
    assert not troubles(search.look, DRAWS[name])


@pytest.mark.parametrize("name", SLOW)
def test_a_slow_search_can_begin(name):
    importlib.import_module(f"{__package__}.searches.{name}")


def test_hostile_calls_answer_or_say_what_was_wrong():
    with own_folders():
        assert not troubles(calls.look, 400)


def test_damaged_files_are_answered_or_refused(tmp_path):
    good = files.good_files(tmp_path)
    with own_folders():
        assert not troubles(files.look_with(good), 60)


def test_hostile_studies_are_refused_with_the_line(tmp_path):
    assert not troubles(studies.look_into_a_copy(tmp_path), 25)
