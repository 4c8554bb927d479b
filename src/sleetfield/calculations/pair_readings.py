"""Numbers of a pair from a paper, read in every order, sign and unit, and held against what was published along."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..components.component_list import ComponentList
from ..core.models.activity import ActivityModel
from ..errors import InputError
from ..pairs import PairParameters
from ..pairs.bank import published_parameters, set_of
from ..pairs.pair_parameters import pair_parameters
from ..recipes.contract import named
from ..recipes.paired_liquid import PairedLiquid, ln_gamma_infinity, published_along, readings
from ..results.pair_readings import AS_GIVEN, PairReading, PairReadings
from ..specified import value_of

Array = NDArray[np.float64]


@guarded
def pair_readings(
    model: str, pair: tuple[str, str], parameters: PairParameters | Mapping[str, Any], *, T: Any = "25 degC"
) -> PairReadings:
    """Numbers of a paper in every way that they could have been meant: both orders, every sign, form and temperature.

    Each reading is held against the ``gamma_infinity`` and the ``azeotrope`` that the parameters bring along, or, where they bring none, against the set that
    the bank has of the pair. Those that fit come first.

    Parameters
    ----------
    model : str
        An activity model with binary parameters, such as "NRTL".
    pair : two names
        In the order of the parameters.
    parameters : PairParameters or mapping of its fields
        As one would read them.
    T
        Where γ∞ are told, where the parameters bring none along.

    Raises
    ------
    InputError
        If the model has no such parameters.

    Examples
    --------
    >>> import sleetfield as sl
    >>> numbers = sl.PairParameters(a12=-953.28, a21=-325.08, form="cal/mol", gamma_infinity=("350 K", 6.2, 2.5))
    >>> sl.pair_readings("Wilson", ("ethanol", "water"), numbers).best.words
    'in the other order of the pair and with the other sign'

    """
    recipe = named("liquid", model)
    if not isinstance(recipe, PairedLiquid):
        raise InputError(f"{model} has no binary parameters that could be read in several ways.")
    who = ComponentList(pair)
    given = pair_parameters(parameters, _names(who))
    at = np.array([value_of(given.gamma_infinity[0], "T") if given.gamma_infinity is not None else value_of(T, "T")])
    bank = set_of(published_parameters(recipe.name), *who.names)
    held = list(published_along(given, who))
    by_bank = None if bank is None else recipe.of_set(bank, who)
    against = " and ".join(words for _, _, words in held)
    if not held and by_bank is not None:
        held, against = [(lambda m: _both(m, at), _both(by_bank, at), "")], "the bank's set"
    found = []
    with np.errstate(all="ignore"):
        for words, one in readings(replace(given, gamma_infinity=None, azeotrope=None)):
            try:
                told = recipe.of_set(one, who)
            except InputError:
                continue
            off = [float(np.abs(tell(told) - measured).max()) for tell, measured, _ in held]
            gammas = np.exp(_both(told, at))
            if np.isfinite(gammas).all():
                found.append(PairReading(" and ".join(words) or AS_GIVEN, one, _two(gammas), max(off, default=np.nan)))
    if not any(e.words == AS_GIVEN for e in found):
        # so far off that γ is no number, or in a form that can't hold them: it says so itself
        recipe.of_set(replace(given, gamma_infinity=None, azeotrope=None), who)
        raise InputError(f"Read as they are given, the numbers {given} give no finite activity coefficients.")
    found.sort(key=lambda e: (not e.fits, round(e.deviation, 3) if e.fits else 0.0) if held else (True, 0.0))
    return PairReadings(
        recipe.name, _names(who), float(at[0]), against, tuple(found), None if by_bank is None else _two(np.exp(_both(by_bank, at)))
    )


def _both(model: ActivityModel, T: Array) -> Array:
    """Ln γ at infinite dilution of both."""
    return np.asarray(ln_gamma_infinity(model, T)[:, 0])


def _two(values: Array) -> tuple[float, float]:
    return float(values[0]), float(values[1])


def _names(who: ComponentList) -> tuple[str, str]:
    return who.names[0], who.names[1]
