"""Does every volume that an equation of state is answered with have the pressure that it was asked for, and room for the molecules?

    python -m tests.searches.roots --models 200 --seed 1

The equations of `engines`, over temperatures and pressures at which nobody works but searches pass: hot, where attractions fade or change their sign, thin and dense.
The pressure is that of the equation as a function of volume; the volumes are those by which fugacities are known, in both engines.
"""

from __future__ import annotations

import contextlib
import sys

import numpy as np

from sleetfield.core.constants import R
from sleetfield.core.models.contract import LIQUID, STABLE, VAPOR

from .engines import random_bonds, random_chains, random_cubic, random_mixing, reference
from .searching import search

STATES = 200
COLDEST, HOTTEST = 45.0, 5000.0
"""K. Below some 40 K a bond is worth e⁶⁰ and more, and of sites that are not bound too few are left for numbers to count."""
KINDS = {"stable": STABLE, "vapor": VAPOR, "liquid": LIQUID}
MODELS = (random_cubic, random_mixing, random_mixing, random_chains, random_bonds)
OFF = 1e-7
"""Of ln P, where volume is known to 1e-12 or so; a pressure next to none of which is left of large terms is less exactly known."""


def look(rng):
    model = MODELS[int(rng.integers(len(MODELS)))](rng)
    x = rng.dirichlet(np.full(model.n_components, 0.7), STATES)
    T, P = np.exp(rng.uniform(np.log(COLDEST), np.log(HOTTEST), STATES)), 10.0 ** rng.uniform(-2.0, 9.5, STATES)
    return f"{type(model).__name__} of {model.n_components}", lambda counts: trouble(model, T, P, x, counts)


def trouble(model, T, P, x, counts):
    found = []
    for engine in (contextlib.nullcontext, reference):
        with engine(), np.errstate(all="ignore"):
            found += [f"{engine.__name__} {t}" for name, kind in KINDS.items() for t in wrong(model, T, P, x, name, kind, counts)]
    return found


def wrong(model, T, P, x, name, kind, counts):
    bound = model.at(T, P)
    e = bound.evaluate(x, kind)
    V = (bound.describe(x, kind).Z + model.volume_shift(x) * P / (R * T)) * R * T / P
    free, h = V - model.covolume(T, x), 1e-6
    back, beside = model.pressure(T, V, x), [model.pressure(T, V * (1.0 + s * h), x) for s in (-1.0, 1.0)]
    rounding = np.abs(beside[1] - beside[0]) / h * 1e-9
    counts["volumes"] += len(V)
    counts["unknown"] += int(np.isnan(e.ln_phi).any(axis=1).sum())
    known = ~np.isnan(V)
    off = np.flatnonzero(known & ~((free > 0.0) & (np.abs(back - P) <= OFF * P + rounding)))
    lost = np.flatnonzero(known & ~np.isfinite(e.ln_phi).all(axis=1))
    counts["off"] += len(off)
    counts["lost"] += len(lost)
    said = "{} at {:.6g} K, {:.6g} Pa: V = {:.6g}, P = {:.8g}, V - b = {:.3g}, ln phi {}"
    return [said.format(name, T[i], P[i], V[i], back[i], free[i], e.ln_phi[i]) for i in [*off[:2], *lost[:2]]]


if __name__ == "__main__":
    sys.exit(search(__doc__, "models", 200, look))
