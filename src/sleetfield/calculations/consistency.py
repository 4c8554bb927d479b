"""Tests of thermodynamic consistency of binary vapor-liquid data, with the system's vapor and pure liquids.

- Area: ∫ln(γ₁/γ₂)dx from 0 to 1 is zero at constant temperature and pressure; D = 100|∫|/∫|...| is held to 10 at constant temperature. Along an isobar the
  temperature term ∫Hᴱ/(RT²)dT is taken off where Hᴱ was measured; else J = 150 (greatest less least T)/(least T) is allowed for it, and D - J is held
  to 10 (Herington, J. Inst. Petrol. 37 (1951) 457-470).
- Point to point: a flexible excess Gibbs energy is fitted to the boiling pressures or temperatures alone; the vapors that follow from it have to be those
  measured, by 0.01 on average (Van Ness, Byer and Gibbs, AIChE J. 19 (1973) 238-244; Fredenslund, Gmehling and Rasmussen, Vapor-Liquid Equilibria Using UNIFAC (1977)).
- Infinite dilution: Gᴱ/(RT x₁x₂) and ln(γ₁/γ₂) have the same limits at both ends but for the sign, within 30 % (Kojima, Moon and Ochi, Fluid Phase Equilib. 56 (1990) 269-284).
- Pure ends: measured points of pure components against the databank's vapor pressure, within 1 %.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.polynomial import Polynomial
from numpy.typing import NDArray

from ..arguments import guarded
from ..core.constants import R
from ..data_sets import DataSet
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..recipes.model import recipe_of, settled
from ..results.consistency import Consistency, Verdict
from .fitting import regress
from .fitting.objectives import complete, implied_ln_gamma
from .fitting.problem import system_of
from .saturation import saturate

Array = NDArray[np.float64]

_AREA, _Y, _ENDS, _PURE = 10.0, 0.01, 30.0, 1.0
_FEWEST = 5
_NEAR = 0.15
"""How near to a pure component points have to come for its limit to be told."""
_PURE_X = 1e-6


@guarded
def consistency(system: Mixture, data: DataSet, *, excess_enthalpy: DataSet | None = None) -> Consistency:
    """Test binary vapor-liquid data for thermodynamic consistency.

    Parameters
    ----------
    system : System
        Whose vapor model and pure components the tests rest on; its binary parameters have no part in them.
    data : DataSet
        Vapor and liquid of two components, T, P, x and y.
    excess_enthalpy : DataSet, optional
        Measured excess enthalpies of the pair, for the area test of an isobar.

    Returns
    -------
    Consistency
        Area, point-to-point, infinite-dilution and pure-end tests, each with its number, limit and verdict.

    Raises
    ------
    InputError
        If the data are of another kind, or fewer than five points have T, P, x and y.

    Examples
    --------
    >>> import sleetfield as sl
    >>> known = sl.System(["ethanol", "water"], liquid="NRTL")
    >>> points = known.bubble([[v, 1.0 - v] for v in (0.05, 0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 0.9, 0.95)], T=350.0)
    >>> data = sl.DataSet.of(known.names, T=350.0, P=points.P, x=points.z, y=points.y)
    >>> [v.passed for v in sl.consistency(known, data).verdicts]
    [True, True, True, None]

    """
    if data.kind != "vapor-liquid" or len(data.names) != 2:
        raise InputError(
            f"{data.source} is {data.kind} of {len(data.names)} components; the tests are of vapor and liquid of two components."
        )
    rows = np.flatnonzero(complete(data))
    if len(rows) < _FEWEST:
        raise InputError(f"{data.source} has {len(rows)} points with T, P, x and y; the tests need {_FEWEST}.")
    pair = system_of(system, data)
    with np.errstate(all="ignore"):
        ln_gamma = implied_ln_gamma(pair, data)
        x, T = data["x"][rows, 0], data["T"][rows]
        doubt = data.standard_uncertainty("y", data["y"][rows, 0], rows)[:, None] / data["y"][rows]
        ratio = _fitted(x, ln_gamma[:, 0] - ln_gamma[:, 1], 1.0 / doubt.sum(axis=1))
        fine = np.linspace(0.0, 1.0, 401)
        area = _area(data, x, T, ratio, fine, excess_enthalpy)
        points, off = _point_to_point(pair, data, rows)
        verdicts = (area, points, _infinite_dilution(x, ln_gamma, ratio, doubt), _pure_ends(pair, data))
    return Consistency(pair, data, verdicts, x, ln_gamma, fine, ratio(fine), off)


def _fitted(x: Array, values: Array, weight: Array | None = None) -> Polynomial:
    """A polynomial through values, of as high a degree as the points bear."""
    degree = int(np.clip(len(x) // 4, 1, 4))
    found: Polynomial = Polynomial.fit(x, values, degree, domain=[0.0, 1.0], w=weight)
    return found


def _area(data: DataSet, x: Array, T: Array, ratio: Polynomial, fine: Array, enthalpy: DataSet | None) -> Verdict:
    values = ratio(fine)
    net, whole = np.trapezoid(values, fine), np.trapezoid(np.abs(values), fine)
    said = "areas of ln(γ₁/γ₂) above and below zero"
    if not data.isobaric:
        D = float(100.0 * abs(net) / whole)
        return Verdict("area", D, _AREA, f"{said} differ by {D:.3g} % of their sum; up to {_AREA:g} % is let pass.")
    if enthalpy is not None:
        own = _fitted(enthalpy["x"][enthalpy.used, enthalpy.names.index(data.names[0])], enthalpy["HE"][enthalpy.used])
        along = _fitted(x, T)
        # d(Gᴱ/RT) = ln(γ₁/γ₂)dx - Hᴱ/(RT²)dT
        net -= np.trapezoid(own(fine) / (R * along(fine) ** 2) * along.deriv()(fine), fine)
        D = float(100.0 * abs(net) / whole)
        return Verdict(
            "area",
            D,
            _AREA,
            f"{said}, less the temperature term by measured excess enthalpies, differ by {D:.3g} %; up to {_AREA:g} % is let pass.",
        )
    D, J = float(100.0 * abs(net) / whole), float(150.0 * (T.max() - T.min()) / T.min())
    return Verdict(
        "area",
        max(D - J, 0.0),
        _AREA,
        f"{said} differ by D = {D:.3g} %; J = {J:.3g} % may be the temperature's; D - J up to {_AREA:g} % is let pass.",
    )


def _point_to_point(pair: Mixture, data: DataSet, rows: NDArray[np.intp]) -> tuple[Verdict, Array]:
    """Vapors that follow from boiling pressures or temperatures alone, against those measured."""
    count = int(np.clip(len(rows) // 3, 1, 4))
    vapor = getattr(getattr(pair.model.recipe, "vapor", None), "name", "virial")
    recipe = recipe_of(liquid="Redlich-Kister", vapor=vapor)
    terms = {pair.names: {"terms": [0.1] + [0.0] * (count - 1)}}
    free = type(pair).of(pair.who, settled(recipe, pair.who, {"parameters": terms}), pair.units)
    try:
        found = regress(free, data, fit=[f"A{k}" for k in range(count)], uncertainty={"y": None}, loss="stray points")
        at = saturate(found.system, "bubble", data.given, data[data.given][rows], data["x"][rows])
    except (CalculationError, InputError) as error:
        return Verdict("point to point", np.nan, _Y, f"not possible: {error}"), np.full(len(rows), np.nan)
    off = data["y"][rows, 0] - at.incipient[:, 0]
    mean = float(np.nanmean(np.abs(off)))
    worst = rows[int(np.nanargmax(np.abs(off)))]
    return (
        Verdict(
            "point to point",
            mean,
            _Y,
            f"y that follows from the boiling {'pressures' if data.given == 'T' else 'temperatures'} is off by {mean:.2g} on average, most in point {worst} ({np.nanmax(np.abs(off)):.2g}).",
        ),
        off,
    )


def _infinite_dilution(x: Array, ln_gamma: Array, ratio: Polynomial, doubt: Array) -> Verdict:
    if x.min() > _NEAR or x.max() < 1.0 - _NEAR:
        return Verdict(
            "infinite dilution",
            np.nan,
            _ENDS,
            f"not possible: no points below {_NEAR} and above {1.0 - _NEAR} of the first component.",
        )
    both = np.stack([x, 1.0 - x], axis=1)
    energy = (both * ln_gamma).sum(axis=1) / (x * (1.0 - x))
    smooth = _fitted(x, energy, x * (1.0 - x) / np.linalg.norm(both * doubt, axis=1))
    parts = []
    for end, sign, name in ((0.0, 1.0, "first"), (1.0, -1.0, "second")):
        one, other = float(smooth(end)), float(sign * ratio(end))
        parts.append((100.0 * abs(one - other) / max(abs(one), abs(other), 1e-6), name, one, other))
    worst = max(parts)
    words = "; ".join(
        f"of the {name} component ln γ∞ is {one:.3g} by Gᴱ and {other:.3g} by ln(γ₁/γ₂)" for _, name, one, other in parts
    )
    return Verdict("infinite dilution", float(worst[0]), _ENDS, f"{words}; up to {_ENDS:g} % apart is let pass.")


def _pure_ends(pair: Mixture, data: DataSet) -> Verdict:
    parts = list(_ends(pair, data))
    if not parts:
        return Verdict("pure ends", np.nan, _PURE, "not possible: no point of a pure component.")
    words = "; ".join(f"{name} {off:+.2g} %" for name, off in parts)
    return Verdict(
        "pure ends", max(abs(off) for _, off in parts), _PURE, f"pressures of pure components against the databank: {words}."
    )


def _ends(pair: Mixture, data: DataSet) -> Iterator[tuple[str, float]]:
    x = data["x"][:, 0]
    there = data.used & np.isfinite(data["T"]) & np.isfinite(data["P"])
    for i, name in enumerate(pair.names):
        rows = np.flatnonzero(there & (np.abs(x - (1.0 if i == 0 else 0.0)) < _PURE_X))
        if rows.size:
            z = np.zeros((len(rows), 2))
            z[:, i] = 1.0
            P = saturate(pair, "bubble", "T", data["T"][rows], z).P
            yield name, float(100.0 * np.mean(data["P"][rows] / P - 1.0))
