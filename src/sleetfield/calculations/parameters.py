"""What a system's parameters come to: activity coefficients at infinite dilution, saturation pressures."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..core.equilibrium.saturation import bubble_at_T
from ..mixture import T_SHOWN, Mixture
from ..recipes.paired_liquid import pair_sources
from ..results.parameters import PairSummary, ParameterTable, SaturationSummary

COLD = 0.55
"""Of the critical temperature: well below 0.7, where the acentric factor makes most equations agree with the vapor pressure."""


def parameters(system: Mixture) -> ParameterTable:
    """The table of a system's parameters with what they come to."""
    with np.errstate(all="ignore"):
        return ParameterTable(system, tuple(_pairs(system)), tuple(_saturations(system)))


def _pairs(system: Mixture) -> Iterator[PairSummary]:
    if system.activity is None:
        return
    bare = ParameterTable(system, (), ())
    recipe = system.model.recipe.liquid  # type: ignore[union-attr]
    values = list(system.model.parameters.values())
    for (first, second), source in pair_sources(recipe, system.who, system.model.parameters).items():
        p = next(p for p in values if set(p.of) == {first, second})
        T = T_SHOWN if p.T_min is None or p.T_max is None else 0.5 * (p.T_min + p.T_max)
        g1, g2 = bare.gamma_infinity(first, second, T=T)
        yield PairSummary(first, second, T, float(g1), float(g2), p.written, p.T_min, p.T_max, source)


def _saturations(system: Mixture) -> Iterator[SaturationSummary]:
    for i, c in enumerate(system.components if system.eos is not None else ()):
        if c.Tc is None or c.vapor_pressure is None:
            continue
        T = np.array([COLD * c.Tc])
        point = bubble_at_T(system.phase_model.select([i]), T, np.ones((1, 1)))
        if point.found[0] and not c.vapor_pressure.outside(T)[0]:
            yield SaturationSummary(c.name, float(T[0]), float(point.P[0]), float(np.exp(c.vapor_pressure.value(T)[0])))
