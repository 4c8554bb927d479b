"""Flashes at any two given quantities, one of them temperature or pressure."""

from __future__ import annotations

from concurrent.futures import Executor
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..core.equilibrium.flash import FlashResult, flash, two_phase_result
from ..core.equilibrium.rachford_rice import Split
from ..core.models.contract import VAPOR
from ..core.specified_flash import flash_to
from ..errors import InputError
from ..results.text import shown
from .saturation import saturate

if TYPE_CHECKING:
    from ..system import System

Array = NDArray[np.float64]

DIMENSIONS = {
    "T": "temperature",
    "P": "pressure",
    "H": "molar_energy",
    "S": "molar_entropy",
    "U": "molar_energy",
    "V": "molar_volume",
    "density": "density",
    "vapor_fraction": "fraction",
    "flow": "molar_flow",
    "mass_flow": "mass_flow",
}
"""What can be given, with its dimension."""

RULES = {
    "T": "absolute temperatures are positive and finite",
    "P": "pressures are absolute and positive and finite",
    "V": "volumes are positive and finite",
    "density": "densities are positive and finite",
    "flow": "flows are positive and finite",
    "mass_flow": "flows are positive and finite",
    "vapor_fraction": "it lies between 0 and 1",
}
"""What a value has to be."""

_WORDS = {
    "H": "enthalpy",
    "S": "entropy",
    "U": "internal energy",
    "V": "volume",
    "density": "density",
    "vapor_fraction": "vapor fraction",
}


def possible(name: str, value: Array) -> NDArray[np.bool_]:
    """Whether a quantity can have a value."""
    if name == "vapor_fraction":
        return np.asarray((value >= 0.0) & (value <= 1.0))
    return np.asarray((value > 0.0) | (name not in RULES))


def solve(system: System, given: dict[str, Array], z: Array, executor: Executor | None = None) -> tuple[Array, Array, FlashResult]:
    """T, P and the phases of states of which two quantities are given.

    Raises
    ------
    InputError
        If an enthalpy, entropy or internal energy is given and a component lacks a heat capacity, or a density and a molar mass is lacking.
    """
    if set(given) == {"T", "P"}:
        return given["T"], given["P"], flash(system.model, given["T"], given["P"], z, executor)
    known = "T" if "T" in given else "P"
    (name,) = set(given) - {known}
    _require(system, name, z)
    target = given[name]
    if name == "density":
        name, target = "V", (z @ system.molar_mass) / target
    if name != "vapor_fraction":
        found = flash_to(system.model, system.heat_capacities, known, given[known], name, target, z)
        return found.T, found.P, found.result
    T, P, fields = np.full(len(z), np.nan), np.full(len(z), np.nan), _empty(z)
    for kind, rows in (
        ("bubble", np.flatnonzero(target == 0.0)),
        ("dew", np.flatnonzero(target == 1.0)),
        ("", np.flatnonzero((target > 0.0) & (target < 1.0))),
    ):
        if not rows.size:
            continue
        if kind:
            at_T, at_P, result = _edge(system, kind, known, given[known][rows], z[rows])
        else:
            found = flash_to(system.model, system.heat_capacities, known, given[known][rows], name, target[rows], z[rows])
            at_T, at_P, result = found.T, found.P, found.result
        T[rows], P[rows] = at_T, at_P
        for field, values in fields.items():
            values[rows] = getattr(result, field)
    return T, P, FlashResult(**fields)


def _empty(z: Array) -> dict[str, Any]:
    """Fields of a `FlashResult` to be filled: no phases, not converged."""
    n, c = z.shape
    shapes = {"amount": (n, 2), "x": (n, 2, c), "Z": (n, 2)}
    fields: dict[str, Any] = {f: np.full(shapes.get(f, (n,)), np.nan) for f in FlashResult.__dataclass_fields__}
    fields["n_phases"] = np.ones(n, dtype=np.intp)
    fields["kinds"] = np.full((n, 2), -1, dtype=np.int8)
    return fields


def _edge(system: System, kind: str, known: str, values: Array, z: Array) -> tuple[Array, Array, FlashResult]:
    """Bubble or dew points as states of two phases, one of them without amount."""
    point = saturate(system, kind, known, values, z)
    there = np.flatnonzero(np.isfinite(point.T) & np.isfinite(point.P))
    fields = _empty(z)
    if there.size:
        feed, other = z[there], point.incipient[there]
        x, y = (feed, other) if kind == "bubble" else (other, feed)
        vapor = np.full(there.size, 0.0 if kind == "bubble" else 1.0)
        with np.errstate(all="ignore"):
            x, y = np.maximum(x, 1e-100), np.maximum(y, 1e-100)
            kinds = np.full(there.size, VAPOR)
            residual = np.nan_to_num(point.residual[there])
            result = two_phase_result(
                system.model, point.T[there], point.P[there], feed, Split(vapor, 1.0 - vapor, x, y), kinds, residual
            )
        for field, filled in fields.items():
            filled[there] = getattr(result, field)
    return point.T, point.P, FlashResult(**fields)


def _require(system: System, name: str, z: Array) -> None:
    present = z.max(axis=0) > 0.0
    if name in ("H", "S", "U"):
        lacking = [c.name for c, there in zip(system.components, present, strict=True) if there and c.heat_capacity is None]
        if lacking:
            raise InputError(f"There is no ideal-gas heat capacity for {', '.join(lacking)}, which a given {_WORDS[name]} needs.")
    if name == "density" and np.isnan(system.molar_mass[present]).any():
        raise InputError("A given density needs the molar mass of every component.")


def why_none(system: System, given: dict[str, Array]) -> str:
    """In words: that there is no such state, or none was found."""
    conditions = " and ".join(f"{name} = {shown(value[0], DIMENSIONS[name], system.units)}" for name, value in given.items())
    if set(given) == {"T", "P"}:
        return f"The flash at {conditions} did not converge. Try a neighboring state, and please report this one."
    (name,) = set(given) - {"T", "P"}
    return (
        f"No state with {conditions} was found. Check the {_WORDS[name]} against that of a flash at given T and P; "
        "where the liquid is taken as incompressible, it does not tell the pressure."
    )
