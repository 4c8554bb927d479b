"""Gases, solvents and solids at random: is what is there the equilibrium, by fugacities of the solids worked out here, and is it found again by its enthalpy?

    python -m tests.searches.solids --mixtures 100 --seed 1

For every state the ln f of each component in its fluids is held against that of its solid, from the heat of fusion and the pure liquid's own fugacity: equal where the
solid is there, not above it where it is not. The fluids are tested against any further fluid by the model that knows no solids. Balances have to add up, and a flash at the
state's enthalpy (of some states) has to come back to it.
"""

from __future__ import annotations

import sys

import numpy as np

import sleetfield as sl
from sleetfield.core.constants import ATMOSPHERE, R
from sleetfield.core.equilibrium.stability import UNSTABLE, of_feeds
from sleetfield.core.models.contract import LIQUID, SOLID

from .searching import search

STATES, BACK = 60, 6
SOLIDS = [c for c in sl.databank() if None not in (c.Tm, c.heat_of_fusion, c.heat_capacity, c.Tc, c.vapor_pressure)]
FLUIDS = [c.name for c in sl.databank() if c.heat_capacity is not None and c.vapor_pressure is not None and c.Tc is not None]


def ln_f_of_solid(system, c, T, P):
    """By Prausnitz's formula, from the liquid at one atmosphere."""
    value = {p.symbol: p.function.coefficients[0] for p in system.model.parameters.values() if p.of == (c.name,)}
    Tm, H, dC, v = (value[k] for k in ("melting_T", "fusion_H", "fusion_Cp", "solid_V"))
    i = system.names.index(c.name)
    pure = system.phase_model.fluid.select([i]).at(T, np.full(len(T), ATMOSPHERE))
    G = H * (1.0 - T / Tm) + dC * (T - Tm - T * np.log(T / Tm))
    if "transition_T" in value:
        G = G + np.where(T < value["transition_T"], value["transition_H"] * (1.0 - T / value["transition_T"]), 0.0)
    return np.log(ATMOSPHERE) + pure.ln_phi(np.ones((len(T), 1)), LIQUID)[:, 0] - G / (R * T) + v * (P - ATMOSPHERE) / (R * T)


def look(rng):
    """One to three solids among two to six components, sixty states below and around the melting points."""
    chosen = [SOLIDS[i] for i in rng.choice(len(SOLIDS), int(rng.integers(1, 4)), replace=False)]
    others = [str(n) for n in rng.choice(FLUIDS, int(rng.integers(1, 5)), replace=False)]
    names = list(dict.fromkeys([*(c.name for c in chosen), *others]))
    model = {"eos": str(rng.choice(["PR", "SRK"]))} if rng.random() < 0.6 else {"liquid": "ideal"}
    z = rng.dirichlet(np.full(len(names), rng.choice([0.3, 1.0, 3.0])), size=STATES)
    z = np.where(rng.random(z.shape) < 0.03, 0.0, z) + 1e-300
    z /= z.sum(axis=1)[:, None]
    melting = np.array([c.Tm for c in chosen])
    # further below, ln f of heavy components is beyond what numbers hold
    T = np.maximum(rng.choice(melting, STATES) * rng.uniform(0.6, 1.1, STATES), 90.0)
    P = 10.0 ** rng.uniform(3.5, 6.7, STATES)

    def trouble(counts):
        system = sl.System(names, kij="zero", solids=[c.name for c in chosen], **model) if "eos" in model else sl.System(names, solids=[c.name for c in chosen], **model)  # fmt: skip
        states = system.flash(z, T=T, P=P)
        r, found = states.result, []
        bad = {"no answer": states.failed, "loose": ~states.failed & ~r.converged, "further phase": ~states.failed & ~r.stable}
        there = np.isfinite(r.amount)
        x = np.where(there[:, :, None], r.x, 0.0)
        bad["balance"] = ~states.failed & (np.abs((np.nan_to_num(r.amount)[:, :, None] * x).sum(axis=1) - z).max(axis=1) > 1e-9)
        fluid = system.phase_model.fluid
        ln_f = np.full(z.shape, np.nan)
        plane = np.zeros(STATES)
        for k in range(r.amount.shape[1]):
            rows = np.flatnonzero(there[:, k] & (r.kinds[:, k] < SOLID) & ~states.failed)
            if not rows.size:
                continue
            own = np.maximum(x[rows, k], 1e-100)
            mine = np.log(own * P[rows, None]) + fluid.at(T[rows], P[rows]).ln_phi(own)
            ln_f[rows] = np.where(np.isnan(ln_f[rows]), mine, np.minimum(ln_f[rows], mine))
            if k == 0:
                told = ((own > 1e-90) | (z[rows] < 1e-30)).all(axis=1)
                counts["fluids tested"] += int(told.sum())
                plane[rows] = np.where(told, of_feeds(fluid, T[rows], P[rows], x[rows, k]).tm, 0.0)
        counts["states"] += STATES
        bad["further fluid"] = ~states.failed & r.stable & (plane < 100.0 * UNSTABLE)
        missing, unequal = np.zeros(STATES, bool), np.zeros(STATES, bool)
        for k, i in enumerate(system.phase_model.solids):
            solid = ln_f_of_solid(system, next(c for c in chosen if c.name == names[i]), T, P)
            has = (there & (r.kinds == SOLID + k)).any(axis=1)
            counts["solids"] += int(has.sum())
            known = np.isfinite(ln_f[:, i]) & (z[:, i] > 1e-30) & ~states.failed
            cold = T < 1.02 * system.parameters[f"melting_T {names[i]}"]
            missing |= known & cold & ~has & (ln_f[:, i] > solid + 1e-8)
            unequal |= known & has & (np.abs(ln_f[:, i] - solid) > 1e-8)
        bad |= {"a solid that should be there": missing, "a solid out of equilibrium": unequal}
        for words, where in bad.items():
            counts[f"  {words}"] += int(where.sum())
            found += [f"{words} at T={T[i]!r} P={P[i]!r} z={z[i].tolist()!r}" for i in np.flatnonzero(where)[:2]]
        fine = np.flatnonzero(~states.failed & r.converged & r.stable & np.isfinite(states.H))[:BACK]
        if fine.size:
            back = system.flash(z[fine], P=P[fine], H=states.H[fine])
            off = np.flatnonzero(~(np.abs(back.T / T[fine] - 1.0) < 1e-7))
            counts["back by enthalpy"] += fine.size
            counts["  elsewhere"] += off.size
            found += [f"elsewhere by H: T={T[fine[i]]!r} (found {back.T[i]!r}) P={P[fine[i]]!r} z={z[fine[i]].tolist()!r}" for i in off[:2]]  # fmt: skip
        return found

    return f"{names!r}, {model!r}, solids={[c.name for c in chosen]!r}", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 100, look))
