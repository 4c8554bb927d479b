"""Parameters of a pair of ions fitted to measured osmotic and mean activity coefficients of their salt."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .arguments import as_numbers, guarded, short
from .components.species import Species, all_species
from .core.constants import T_REFERENCE
from .core.fitting.least_squares import Loss, fit_residuals
from .errors import CalculationError, InputError
from .ions import ION_MODELS
from .results.ion_fit import IonFit
from .specified import value_of

Array = NDArray[np.float64]

_KINDS = "osmotic_coefficient", "mean_activity_coefficient"
_FITTED = {"Pitzer": {"beta0": 0.1, "beta1": 0.5, "C_phi": 0.0}, "electrolyte-NRTL": {"of_water": 8.0, "of_salt": -4.0}}
"""What is fitted of a model, and from where."""
_ASSOCIATING = {"beta2": -30.0}
"""The same of ions that have two charges both."""
_UNCERTAINTY = 0.01
_MOST, _DRAWN = 60.0, 120


@guarded
def fit_ions(
    cation: str,
    anion: str,
    data: Mapping[str, Any],
    *,
    ions: str = "Pitzer",
    T: Any = T_REFERENCE,
    uncertainty: float = _UNCERTAINTY,
) -> IonFit:
    """Parameters of a model for a cation and an anion from coefficients of their salt.

    Parameters
    ----------
    cation, anion : str
        Ions by the names that solutes have: "Na+", "SO4-2".
    data : mapping or DataFrame
        ``molality`` of the salt, mol/kg, and ``osmotic_coefficient``, ``mean_activity_coefficient`` or both, on molality, ``(N,)`` each; NaN where there is none.
    ions : {"Pitzer", "electrolyte-NRTL"}
        β₀, β₁ and Cφ of Pitzer's equation, or τ of water around the salt and of the salt around water.
    T : temperature, optional
        Of the measurements; 25 °C if none is given.
    uncertainty : float
        Standard uncertainty of the coefficients, as a share.

    Returns
    -------
    IonFit
        With intervals. ``fit.parameters`` goes to `Electrolyte`.

    Raises
    ------
    InputError
        If there are no such ions, columns are missing, others than these or no numbers, or there are too few.
    CalculationError
        If it does not converge.

    Examples
    --------
    >>> import sleetfield as sl
    >>> measured = {"molality": [0.1, 0.5, 1.0, 2.0, 4.0, 6.0], "osmotic_coefficient": [0.932, 0.921, 0.936, 0.983, 1.116, 1.271]}
    >>> fit = sl.fit_ions("Na+", "Cl-", measured, ions="electrolyte-NRTL")
    >>> [round(value, 1) for value in fit.parameters["Na+", "Cl-"].values()]
    [9.1, -4.6]

    """
    if ions not in _FITTED:
        raise InputError(f"There are no parameters of pairs to fit of {short(ions)}; there are of {', '.join(_FITTED)}.")
    pair = _ion(cation, 1), _ion(anion, -1)
    T = value_of(T, "T")
    m, measured = _columns(data)
    common = math.gcd(*(abs(s.charge) for s in pair))
    counts = np.array([abs(pair[1].charge), abs(pair[0].charge)]) / common
    guess = _FITTED[ions] | (_ASSOCIATING if ions == "Pitzer" and all(abs(s.charge) > 1 for s in pair) else {})
    names, start = list(guess), np.array([*guess.values()])

    def coefficients(p: Array, m: Array) -> Array:
        own = {frozenset((cation, anion)): dict(zip(names, p.tolist(), strict=True))}
        found = ION_MODELS[ions].make(pair, T, own).activities(m[:, None] * counts)
        with np.errstate(over="ignore"):
            return np.stack([found.osmotic, np.exp(np.minimum((found.ln_gamma @ counts) / counts.sum(), _MOST))])

    there = np.isfinite(measured)
    if there.sum() <= len(names):
        raise InputError(f"There are {there.sum()} coefficients for {len(names)} parameters. Give more.")
    found = fit_residuals(
        lambda p: (coefficients(p, m) / measured - 1.0)[there] / uncertainty,
        None,
        start,
        scale=np.maximum(np.abs(start), 0.1),
        loss=Loss(),
    )
    if found is None:
        raise CalculationError(f"No parameters of {ions} for {cation} and {anion} were found that these coefficients determine.")
    line = np.linspace(np.sqrt(m.min()), np.sqrt(m.max()), _DRAWN) ** 2
    return IonFit(
        (cation, anion),
        ions,
        T,
        tuple(names),
        found.parameters,
        found.standard_error,
        found.interval,
        found.correlation,
        m,
        measured,
        coefficients(found.parameters, m),
        line,
        coefficients(found.parameters, line),
    )


def _ion(name: str, sign: int) -> Species:
    known = [s for s in all_species() if s.charge * sign > 0]
    for s in known:
        if s.name == name:
            return s
    raise InputError(
        f"There is no {'cation' if sign > 0 else 'anion'} {short(name)}. There are {', '.join(s.name for s in known)}."
    )


def _columns(data: Mapping[str, Any]) -> tuple[Array, Array]:
    """Molalities ``(N,)`` and both coefficients ``(2, N)``."""
    keys = [str(key) for key in data]
    if "molality" not in keys or not any(kind in keys for kind in _KINDS):
        raise InputError(f"The data have columns {', '.join(keys) or 'none'}; they are molality, and {' or '.join(_KINDS)}.")
    if unread := [key for key in keys if key not in ("molality", *_KINDS)]:
        raise InputError(
            f"{', '.join(unread)} would not be read; columns are molality, {' and '.join(_KINDS)}, all at one temperature, which T gives. Leave the others out."
        )
    m = _numbers(data, "molality")
    measured = np.full((2, len(m)), np.nan)
    for row, kind in enumerate(_KINDS):
        if kind in keys:
            values = _numbers(data, kind)
            if len(values) != len(m):
                raise InputError(f"There are {len(m)} molalities and {len(values)} values of {kind}.")
            measured[row] = values
    if not (m > 0.0).all() or not np.isfinite(m).all() or (measured[np.isfinite(measured)] <= 0.0).any():
        raise InputError("Molalities and coefficients are above zero.")
    return m, measured


def _numbers(data: Mapping[str, Any], key: str) -> Array:
    try:
        return np.ravel(as_numbers(data[key]))
    except ValueError as error:
        raise InputError(f"{key} holds something that is no number.") from error
