"""How much of a solid a solvent holds, what that rests on, and what a measured solubility implies."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.arrays import ABSENT
from ..core.equilibrium.solid_saturation import dissolved_at, imbalance
from ..core.equilibrium.stability import UNSTABLE, of_feeds
from ..core.models.contract import LIQUID
from ..core.models.pure_solid import PureSolid
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..recipes.parameter import Parameter
from ..recipes.solids import SYMBOLS
from ..results.solubility import Sensitivity, Solubility
from ..text import shown
from ..units import one_in_si

Array = NDArray[np.float64]

_CHANGES = {"melting_T": 1.0, "fusion_Cp": 20.0, "transition_T": 1.0}
"""By how much numbers of a solid are changed to see what depends on them, SI; all others by a share of themselves."""
_SHARE = 0.05
_DIFFERENCE = 1e-4


def solubility(system: Mixture, solid: str, solvent: Any, T: Any, P: Any, basis: str) -> Solubility:
    """The saturated liquids at temperatures ``T``; `System.solubility` says it all."""
    i = system.position(solid)
    mixture = beside_solid(system, i)
    values, solvents = _solvents(mixture, i, solvent, basis, T=T, P=P)
    with np.errstate(all="ignore"):
        ideal = np.exp(-_of(mixture, i).below_liquid(values["T"])[0])
        found = dissolved_at(mixture.phase_model, i, values["T"], values["P"], _with(solvents, i, np.clip(ideal, 1e-12, 0.5)))
        melted = values["T"] >= _of(mixture, i).melting_T
        x = np.where(melted[:, None], np.eye(len(system))[i], found.x)
        splits = of_feeds(mixture.fluids, values["T"], values["P"], x).tm < UNSTABLE
        moves = tuple(_sensitivities(mixture, i, values["T"], values["P"], x, found.slope, melted))
    return Solubility(
        mixture,
        system.names[i],
        values["T"],
        values["P"],
        x,
        np.minimum(ideal, 1.0),
        solvents,
        splits & ~melted,
        _frozen(mixture, i, values, x),
        moves,
    )


def implied(system: Mixture, parameter: str, solid: str, solvent: Any, T: Any, x: Any, P: Any, basis: str) -> float:
    """The value of a parameter with which the mole fraction ``x`` is what the solvent holds at ``T``; `System.implied_by_solubility` says it all."""
    from scipy.optimize import brentq

    i = system.position(solid)
    mixture = beside_solid(system, i)
    own = mixture.model.parameters.get(parameter)
    if own is None:
        known = ", ".join(p.name for p in mixture.model.parameters.values() if _bears_on(p, mixture, i))
        raise InputError(
            f"There is no parameter {parameter!r}. Those that the solubility of {system.names[i]} rests on are {known}."
        )
    amount = one_in_si(x, "fraction", "x")
    if not 0.0 < amount < 1.0:
        raise InputError(f"x is {amount:g}; the measured solubility is a mole fraction between 0 and 1.")
    values, solvents = _solvents(mixture, i, solvent, basis, T=T, P=P)
    if len(solvents) > 1:
        raise InputError("A parameter is implied by one measured solubility; for several, regress() fits it.")
    liquid = _with(solvents, i, np.array([amount]))
    symbol = next(s for s in mixture.model.all_symbols() if s.symbol == own.symbol)

    def off(value: float) -> float:
        changed = mixture.like(mixture.model.with_parameters({parameter: value}))
        with np.errstate(all="ignore"):
            return float(imbalance(changed.phase_model, i, values["T"], values["P"], liquid)[0])

    start = own.function.at(float(values["T"][0]))
    reach = max(abs(start), symbol.size)
    for span in (0.1, 0.3, 1.0, 3.0, 10.0, 30.0):
        ends = np.clip([start - span * reach, start + span * reach], symbol.low, symbol.high)
        errors = [off(float(end)) for end in ends]
        if np.isfinite(errors).all() and errors[0] * errors[1] <= 0.0:
            return float(brentq(off, float(ends[0]), float(ends[1]), xtol=1e-12 * reach, rtol=1e-12))
    raise CalculationError(
        f"No value of {parameter} gives {amount:g} of {system.names[i]} at {shown(values['T'][0], 'temperature', system.units)}: something else must be off."
    )


def beside_solid(system: Mixture, component: int) -> Mixture:
    """The same with a component's solid beside what it has."""
    name = system.names[component]
    if name in system.model.solids:
        return system
    return system.like(system.model.with_solids(system.who, [*system.model.solids, name]))


def _of(mixture: Mixture, component: int) -> PureSolid:
    return next(s for s in mixture.model.pure_solids(mixture.who) if s.component == component)


def _solvents(mixture: Mixture, i: int, solvent: Any, basis: str, **given: Any) -> tuple[dict[str, Array], Array]:
    """Conditions, and the solvents' mole fractions ``(N, C)`` without the solid's component."""
    if isinstance(solvent, str):
        solvent = {solvent: 1.0}
    if not isinstance(solvent, Mapping):
        raise InputError(f"The solvent is {solvent!r}; it is a component, or a mapping of components to fractions.")
    values, z, _ = mixture.conditions(solvent, basis, **given)
    if (z[:, i] > 0.0).any():
        raise InputError(f"{mixture.names[i]} is what dissolves, and is among the solvents too. Leave it out there.")
    return values, z


def _with(solvents: Array, i: int, x: Array) -> Array:
    liquid = solvents * (1.0 - x)[:, None]
    liquid[:, i] = x
    return liquid


def _frozen(mixture: Mixture, i: int, values: dict[str, Array], x: Array) -> tuple[tuple[str, ...], ...]:
    """Which solvents would freeze out of each saturated liquid."""
    others = [c for c in mixture.components if c.name != mixture.names[i] and c.Tm is not None and c.heat_of_fusion is not None]
    found: list[list[str]] = [[] for _ in x]
    if others:
        there = mixture.like(mixture.model.with_solids(mixture.who, [c.name for c in others]))
        with np.errstate(all="ignore"):
            bound = mixture.fluids.at(values["T"], values["P"])
            liquid = np.maximum(x, ABSENT)
            ln_f = np.log(liquid) + bound.ln_phi(liquid, LIQUID) + np.log(values["P"])[:, None]
            for s in there.model.pure_solids(there.who):
                over = s.supersaturation(mixture.fluids, values["T"], values["P"], ln_f)
                for row in np.flatnonzero(over > 1e-9):
                    found[row].append(mixture.names[s.component])
    return tuple(tuple(names) for names in found)


def _bears_on(p: Parameter, mixture: Mixture, i: int) -> bool:
    """Whether a parameter is one that the solubility of a component rests on: a number of its solid, or one of a pair with it."""
    own = {s.symbol for s in SYMBOLS} - {"solid_V"}
    return mixture.names[i] in p.of and (p.symbol in own or (len(p.of) > 1 and set(p.of) <= set(mixture.names)))


def _sensitivities(mixture: Mixture, i: int, T: Array, P: Array, x: Array, slope: Array, melted: NDArray[np.bool_]) -> Any:
    """How ln x answers to each number that it rests on: by the implicit-function theorem, ∂ln x/∂p = -(∂F/∂p)/(∂F/∂ln x)."""
    for p in mixture.model.parameters.values():
        value = p.function.at(float(T[0]))
        change = _CHANGES.get(p.symbol, _SHARE * abs(value))
        if not _bears_on(p, mixture, i) or not change > 0.0:
            continue
        step = _DIFFERENCE * change
        ends = [mixture.like(mixture.model.with_parameters({p.name: value + side * step})) for side in (-1.0, 1.0)]
        below, above = (imbalance(m.phase_model, i, T, P, x) for m in ends)
        effect = -(above - below) / (2.0 * step) / slope * change
        yield Sensitivity(p.name, value, change, np.where(melted, 0.0, np.expm1(effect)))
