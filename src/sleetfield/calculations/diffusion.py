"""Diffusion coefficients of the components in the phases of states."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.formula import elements
from ..core.estimates.diffusion_volumes import diffusion_volume
from ..core.models.contract import LIQUID, VAPOR
from ..core.transport import diffusion as methods
from ..recipes.interactions import critical_volumes

if TYPE_CHECKING:
    from ..results.state import StateBatch

Array = NDArray[np.float64]

_ASSOCIATION = {"water": 2.6, "methanol": 1.9, "ethanol": 1.5}
"""Of solvents, by Wilke and Chang; 1 of all others."""


def diffusion(batch: StateBatch) -> Array:
    """Of each component against the others of its phase, m2/s ``(N, F, C)``; NaN where it is alone, in solids, and in gases where no diffusion volume is known."""
    who, (n, f) = batch.system.who, batch.fractions.shape
    found = np.full((n, f, len(who)), np.nan)
    there, kinds = np.isfinite(batch.fractions) & ~batch.failed[:, None], batch.result.kinds
    volumes = np.array([volume if (volume := volume_of(c)) is not None else np.nan for c in who])
    for kind in (VAPOR, LIQUID):
        state, phase = np.nonzero(there & (kinds == kind))
        if not len(state):
            continue
        T, x = batch.T[state], np.nan_to_num(batch.result.x[state, phase])
        if kind == VAPOR:
            found[state, phase] = methods.of_gas(T, 1.0 / batch.phase_volume[state, phase], x, batch.system.molar_mass, volumes)
        else:
            factors = np.array([_ASSOCIATION.get(name, 1.0) for name in who.names])
            sizes = methods.boiling_volumes(critical_volumes(who))
            viscosity = batch.transport.viscosity[state, phase]
            found[state, phase] = methods.of_liquid(T, viscosity, x, batch.system.molar_mass, factors, sizes)
    return np.where(batch.result.x < 1.0, found, np.nan)


def volume_of(c: Component) -> float | None:
    """A component's diffusion volume; None where its formula, or an atom's, is not known."""
    counted = elements(c.formula)
    return None if counted is None else diffusion_volume(counted, special_rings(c.smiles))


def special_rings(smiles: str) -> int:
    """Aromatic rings, and rings with another atom than carbon in them.

    Examples
    --------
    >>> special_rings("c1ccccc1"), special_rings("C1CCOC1"), special_rings("OC1CCCCC1")
    (1, 1, 0)

    """
    plain = re.sub(r"\[[^\]]*\]", lambda m: re.sub(r"[^A-Za-z]", "", m[0]), smiles)
    opened: dict[str, int] = {}
    count = 0
    for place, mark in enumerate(plain):
        if not mark.isdigit():
            continue
        if mark not in opened:
            opened[mark] = place - 1
            continue
        ring = _without_branches(plain[opened.pop(mark) : place])
        count += bool(re.search(r"[a-z]", ring.replace("Cl", "").replace("Br", "")) or re.search(r"[NOS]", ring))
    return count


def _without_branches(text: str) -> str:
    """What stands in no brackets that are closed within it."""
    while (shorter := re.sub(r"\([^()]*\)", "", text)) != text:
        text = shorter
    return text
