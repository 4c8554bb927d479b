"""Flashes far beyond where anybody works: 60 to 3000 K, a tenth of a pascal to 50 kilobar. What is answered has numbers that go together, and what is not says why.

    python -m tests.searches.extremes --mixtures 400 --seed 1

Mixtures and models of `states`. Trouble are numbers that are missing or do not add up, two phases that are one, and states above 150 K without an answer where the
equation has fugacities.
"""

from __future__ import annotations

import sys
import warnings

import numpy as np

import sleetfield as sl

from .searching import search
from .states import random_mixture

warnings.simplefilter("error")

STATES, COLD = 40, 150.0
SAME = 1e-6


def look(rng):
    names, model, z = random_mixture(rng, STATES)
    T, P = np.exp(rng.uniform(np.log(60.0), np.log(3000.0), STATES)), 10.0 ** rng.uniform(-1.0, 9.7, STATES)
    return f"System({names!r}, **{model!r})", lambda counts: trouble(sl.System(names, **model), z, T, P, counts)


def trouble(system, z, T, P, counts):
    states = system.flash(z, T=T, P=P)
    counts["states"] += STATES
    found = []
    for i in range(STATES):
        if states.failed[i]:
            counts["without an answer"] += 1
            with np.errstate(all="ignore"):
                ln_phi = system.phase_model.at(T[i : i + 1], P[i : i + 1]).ln_phi(np.maximum(z[i : i + 1], 1e-300))
            wrong = ["no answer"] if T[i] > COLD and np.isfinite(ln_phi).all() else []
        else:
            counts[f"{states.n_phases[i]} phases"] += 1
            wrong = wrong_numbers(states, i)
        found += [f"{w} at T={T[i]!r} P={P[i]!r} z={z[i].tolist()!r}" for w in wrong]
    counts["trouble"] += len(found)
    return found


def wrong_numbers(states, i):
    """What does not go together in one state."""
    H, S, U, V, Cp = (float(values[i]) for values in (states.H, states.S, states.U, states.molar_volume, states.Cp))
    n, PV = int(states.n_phases[i]), float(states.P[i]) * V
    x, Z = states.result.x[i, :n], states.result.Z[i, :n]
    if not np.isfinite([H, S, U, V]).all():
        return ["numbers that are missing"]
    alike = any(np.abs(x[j] - x[k]).max() < SAME and abs(Z[j] / Z[k] - 1.0) < SAME for j in range(n) for k in range(j))
    checks = {
        "a volume that is none": V <= 0.0,
        "H is not U + PV": abs(H - U - PV) > 1e-8 * (abs(H) + abs(PV) + 1e3),
        "a phase twice": alike,
        "a heat capacity below zero": n == 1 and Cp <= 0.0,
    }
    return [what for what, there in checks.items() if there]


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 400, look))
