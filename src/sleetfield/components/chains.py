"""Chains of PC-SAFT for components that have none in the databank: hydrocarbons and petroleum cuts with a boiling point and a liquid density."""

from __future__ import annotations

import functools
from typing import TYPE_CHECKING

import numpy as np

from ..core.constants import SIXTY_FAHRENHEIT, WATER_AT_SIXTY
from .classes import classes_of
from .component import Component

if TYPE_CHECKING:
    from ..core.chain_estimates import Chain

ORIGIN = "estimated: from boiling point, molar mass and liquid density (Tihic et al., 2006; Gonzalez et al., 2007)"


def estimated_chain(c: Component) -> dict[str, float] | None:
    """Segments, their diameter and energy by the names of a component's constants; None of other kinds of substances, or where something is missing.

    Examples
    --------
    >>> from sleetfield import databank
    >>> round(estimated_chain(databank().find("mesitylene"))["segments"], 2), estimated_chain(databank().find("acetone"))
    (3.55, None)
    """
    if not classes_of(c) & {"hydrocarbon", "fraction"} or c.liquid_density is None:
        return None
    if c.molar_mass is None or c.Tb is None or c.Tc is None or c.Pc is None or c.omega is None:
        return None
    # gases at their boiling points, solids where they melt
    T = min(max(SIXTY_FAHRENHEIT, c.Tm or 0.0), c.Tb)
    density, usual = c.liquid_density.value(np.array([T, min(SIXTY_FAHRENHEIT, 0.95 * c.Tc)]))
    found = _chain(c.molar_mass, c.Tb, float(density), T, float(usual) * c.molar_mass / WATER_AT_SIXTY, c.Tc, c.Pc, c.omega)
    return None if found is None else dict(zip(("segments", "segment_diameter", "segment_energy"), found, strict=True))


@functools.lru_cache(maxsize=1000)
def _chain(*known: float) -> Chain | None:
    from ..core.chain_estimates import chain  # brings scipy's solvers, which most commands do without

    return chain(*known)
