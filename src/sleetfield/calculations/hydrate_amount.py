"""How much hydrate a feed forms."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..composition import Composition
from ..core.equilibrium import hydrate_amount as engine
from ..core.equilibrium.onset import Onset
from ..core.models.crystal import supersaturations_at
from ..mixture import Mixture
from ..recipes.hydrates import hydrate_notes, hydrates
from ..results.hydrate_amount import HydrateAmounts
from .solid_points import beside

_FORMS = 1e-7
"""ln of how many times over the other structure has to be saturated to be one that forms."""


def hydrate_amount(system: Mixture, z: Composition, T: Any, P: Any, basis: str) -> HydrateAmounts:
    """Amounts at each state; `System.hydrate_amount` says it all."""
    names, crystals = hydrates(system.who, system.model)
    values, feed, _ = system.conditions(z, basis, T=T, P=P)
    T, P = values["T"], values["P"]
    found = engine.hydrate_amount(system.fluids, crystals, T, P, feed)
    with np.errstate(all="ignore"):
        over = supersaturations_at(system.fluids, crystals, T, P, found.ln_f)
        over[np.arange(len(T)), found.crystal] = -np.inf
        left = np.where(np.isnan(found.moles), feed, feed - found.moles)
        words = beside(system, crystals, Onset(T, P, found.crystal, found.ln_f), left / left.sum(axis=1, keepdims=True))
    return HydrateAmounts(
        system, T, P, feed, tuple(names[k] if k >= 0 else "" for k in found.crystal), words, found.moles,
        (over.max(axis=1) > _FORMS) & (found.crystal >= 0), tuple(hydrate_notes(system.who)),
    )  # fmt: skip
