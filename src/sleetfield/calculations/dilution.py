"""Solutes at infinite dilution: activity coefficients in a solvent, and between two."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from ..core.restricted import restricted_flash
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..results.dilution import Dilution
from ..text import shown
from .excess import activity_model

Array = NDArray[np.float64]
Solvent = str | Mapping[str, float]

_TRACE = 1e-100
_P = 101325.0
_SHARES = (0.5, 0.25, 0.75, 0.1, 0.9, 0.03, 0.97)
"""Of the first solvent in mixtures that may split, tried in turn."""


def dilution(system: Mixture, solvent: Solvent, T: Array, against: Solvent | None, mutual: bool) -> Dilution:
    """Of every component that is in neither solvent, at ``T (N,)``.

    Raises
    ------
    InputError
        If there is no activity model, a solvent is not of the system, or no solute is left.
    CalculationError
        If solvents that are to be saturated with each other mix.
    """
    first = np.tile(_composition(system, solvent), (len(T), 1))
    if against is None:
        if mutual:
            raise InputError(
                "mutual=True is about two solvents that are saturated with each other: name the other one with against=."
            )
        return Dilution(system, _solutes(system, first), (_words(system, first[0]),), T, _ln_gamma(system, T, first))
    second = np.tile(_composition(system, against), (len(T), 1))
    who, words = _solutes(system, first + second), [_words(system, x[0]) for x in (first, second)]
    if mutual:
        first, second = _saturated(system, T, first, second)
        words[1] += ", saturated with each other"
    densities = [_molar_density(system, T, x) for x in (first, second)]
    return Dilution(
        system,
        who,
        tuple(words),
        T,
        _ln_gamma(system, T, first),
        _ln_gamma(system, T, second),
        densities[0] / densities[1],
        first,
        second,
    )


def _composition(system: Mixture, solvent: Solvent) -> Array:
    if not isinstance(solvent, (str, Mapping)):
        raise InputError(f"The solvent is {solvent!r}; it is a component, or a mapping of components to fractions.")
    given = {solvent: 1.0} if isinstance(solvent, str) else dict(solvent)
    return np.asarray(system.conditions(given, "mole")[1][0])


def _words(system: Mixture, x: Array) -> str:
    """A solvent as people read it."""
    named = [(share, name) for share, name in zip(x.tolist(), system.names, strict=True) if share > 0.0]
    return named[0][1] if len(named) == 1 else " + ".join(f"{share:.4g} {name}" for share, name in named)


def _solutes(system: Mixture, solvents: Array) -> tuple[str, ...]:
    found = tuple(name for name, amount in zip(system.names, solvents[0], strict=True) if amount == 0.0)
    if not found:
        raise InputError("Every component is in a solvent, so that no solute is left. Name a system with the solutes in it.")
    return found


def _ln_gamma(system: Mixture, T: Array, x: Array) -> Array:
    """Ln γ of all components ``(N, C)``, absent ones as traces."""
    return np.asarray(activity_model(system).at(T).ln_gamma(np.ascontiguousarray(np.maximum(x, _TRACE).T)).T)


def _saturated(system: Mixture, T: Array, first: Array, second: Array) -> tuple[Array, Array]:
    """Both liquids of the two solvents together, that first which has more of the first one ``(N, C)``."""
    one, other = np.full_like(first, np.nan), np.full_like(first, np.nan)
    for share in _SHARES:
        open_ = np.flatnonzero(np.isnan(one[:, 0]))
        if not open_.size:
            break
        feed = share * first[open_] + (1.0 - share) * second[open_]
        found = restricted_flash(system.thermodynamics, T[open_], np.full(len(open_), _P), feed, "LL")
        split = found.n_phases > 1
        one[open_[split]], other[open_[split]] = found.x[split, 0], found.x[split, 1]
    mixed = np.flatnonzero(np.isnan(one[:, 0]))
    if mixed.size:
        raise CalculationError(
            f"The solvents mix at {shown(T[mixed[0]], 'temperature', system.units)}, so that they can't be saturated with each other. Leave out mutual=True."
        )
    more = ((one - other) * (first - second)).sum(axis=1)[:, None] > 0.0
    return np.where(more, one, other), np.where(more, other, one)


def _molar_density(system: Mixture, T: Array, x: Array) -> Array:
    """Mol/m3 of a solvent ``(N,)``, volumes added; NaN where a density is not known."""
    volume = np.zeros(len(T))
    for c, share in zip(system.components, x.T, strict=True):
        if share.any():
            volume += share * (np.nan if c.liquid_density is None else 1.0 / c.liquid_density.value(T))
    return np.asarray(1.0 / volume)
