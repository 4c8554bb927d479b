"""Parameters of a pair of ions fitted to measured osmotic and mean activity coefficients of their salt, and to solubilities of what they form."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from .arguments import as_numbers, guarded, short
from .components.species import WATER, Species, all_species
from .core.constants import T_REFERENCE
from .core.electrolyte.contract import Activities
from .core.fitting.least_squares import Loss, fit_residuals
from .errors import CalculationError, InputError
from .ions import ION_MODELS
from .results.ion_fit import IonFit
from .specified import value_of
from .units import one_in_si

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
    saturated: Mapping[str, Any] | None = None,
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
    saturated : mapping of str to amount, optional
        Solids of these ions, with water or without, and the molality of the salt in the solution that is in equilibrium with each: {"halite": 6.146}.

    Returns
    -------
    IonFit
        With intervals. ``fit.parameters`` goes to `Electrolyte`.

    Raises
    ------
    InputError
        If there are no such ions or solids, columns are missing, others than these or no numbers, or there are too few.
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

    def activities(p: Array, m: Array) -> Activities:
        own = {frozenset((cation, anion)): dict(zip(names, p.tolist(), strict=True))}
        return ION_MODELS[ions].make(pair, T, own).activities(m[:, None] * counts)

    def coefficients(p: Array, m: Array) -> Array:
        found = activities(p, m)
        with np.errstate(over="ignore"):
            return np.stack([found.osmotic, np.exp(np.minimum((found.ln_gamma @ counts) / counts.sum(), _MOST))])

    solids = [_solid(name, amount, pair, T) for name, amount in (saturated or {}).items()]
    at_saturation, parts = np.array([s.molality for s in solids]), np.array([s.parts for s in solids]).reshape(-1, 3)

    def over(p: Array) -> Array:
        """How far each solid is supersaturated, as a share of the mean activity."""
        if not solids:
            return at_saturation
        found, dissolved = activities(p, at_saturation), at_saturation[:, None] * counts
        ln_a = np.column_stack([np.log(dissolved) + found.ln_gamma, found.ln_water(dissolved)])
        return np.asarray(((parts * ln_a).sum(axis=1) - np.array([s.ln_K for s in solids])) / parts[:, :2].sum(axis=1))

    there = np.isfinite(measured)
    if (known := int(there.sum()) + len(solids)) <= len(names):
        raise InputError(f"There are {known} coefficients and solubilities for {len(names)} parameters. Give more.")
    found = fit_residuals(
        lambda p: np.concatenate([(coefficients(p, m) / measured - 1.0)[there], over(p)]) / uncertainty,
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
        {s.name: float(value) for s, value in zip(solids, over(found.parameters), strict=True)},
    )


class _Solid(NamedTuple):
    """One that a solution of some molality is in equilibrium with: cations, anions and water in it, and the logarithm of its solubility product."""

    name: str
    molality: float
    parts: tuple[float, float, float]
    ln_K: float


def _solid(name: str, amount: Any, pair: tuple[Species, Species], T: float) -> _Solid:
    """From the table of species."""
    solids = {s.name: s for s in all_species() if s.kind == "solid"}
    if name not in solids:
        raise InputError(f"There is no solid {short(name)}. There are {', '.join(solids)}.")
    solid, of = solids[name], (*pair, WATER)
    elements = sorted({e for s in (solid, *of) for e in s.atoms})
    table = np.array([[s.atoms.get(e, 0) for s in of] for e in elements], dtype=float)
    whole = np.array([solid.atoms.get(e, 0) for e in elements], dtype=float)
    parts = np.asarray(np.rint(np.linalg.lstsq(table, whole, rcond=None)[0]))
    if not np.array_equal(table @ parts, whole) or not parts[:2].all() or parts.min() < 0.0:
        raise InputError(f"{name} is not made of {pair[0].name}, {pair[1].name} and water.")
    molality = one_in_si(amount, "molality", f"the molality of a solution beside {name}")
    ln_K = solid.mu_at(T) - sum(n * s.mu_at(T) for n, s in zip(parts, of, strict=True))
    if not molality > 0.0:
        raise InputError(f"The molality of a solution beside {name} is above zero; got {amount!r}.")
    if not math.isfinite(ln_K):
        raise InputError(f"The solubility product of {name} is known at 25 °C alone, for want of heats of formation.")
    cations, anions, water = parts.tolist()
    return _Solid(name, molality, (cations, anions, water), ln_K)


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
