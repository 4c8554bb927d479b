"""Vapor-liquid states of random pairs with deviations of both signs, from strong association to splits, against the Gibbs energy on a grid.

    python -m tests.searches.deviations --pairs 1000 --seed 1

Feeds lie between a liquid and the vapor that it boils with. Of each answer the tangent plane is held against liquids and vapors of all compositions.
"""

from __future__ import annotations

import sys

import numpy as np

import sleetfield as sl

from .searching import search

POOL = (
    "acetone",
    "chloroform",
    "water",
    "methanol",
    "ethanol",
    "benzene",
    "n-hexane",
    "ethyl acetate",
    "1-butanol",
    "toluene",
    "acetonitrile",
)
LIQUIDS, FEEDS = 400, 12
ABOVE = 1e-6


def random_parameters(rng, model):
    """Of any sign, as far as models of associating pairs go."""
    if model == "Margules":
        a = rng.uniform(-6.0, 3.0)
        return {"a12": a, "a21": a + rng.normal(0.0, 0.5)}
    if model == "van Laar":
        sign = rng.choice([-1.0, 1.0])
        return {"a12": sign * rng.uniform(0.1, 3.0), "a21": sign * rng.uniform(0.1, 3.0)}
    if model == "NRTL":
        return {"a12": rng.normal(-300.0, 800.0), "a21": rng.normal(-300.0, 800.0), "alpha": rng.uniform(0.2, 0.45), "form": "K"}
    if model == "UNIQUAC":
        return {"a12": rng.normal(-100.0, 250.0), "a21": rng.normal(-100.0, 250.0), "form": "K"}
    return {"a12": rng.normal(-300.0, 900.0), "a21": rng.normal(-300.0, 900.0), "form": "cal/mol"}


def look(rng):
    """One pair, one model, one temperature."""
    names = [str(n) for n in rng.choice(POOL, 2, replace=False)]
    model = str(rng.choice(["Margules", "van Laar", "NRTL", "UNIQUAC", "Wilson"]))
    parameters, T = random_parameters(rng, model), float(rng.uniform(290.0, 400.0))
    rows, shares = rng.choice(LIQUIDS, FEEDS, replace=False), rng.uniform(0.1, 0.9, FEEDS)

    def trouble(counts):
        system = sl.System(names, liquid=model, parameters={tuple(names): sl.PairParameters(**parameters)})
        x = 1.0 / (1.0 + np.exp(-np.linspace(-9.0, 9.0, LIQUIDS)))
        x = np.stack([x, 1.0 - x], axis=1)
        liquid = system.phase_model.liquid
        ln_pure = liquid.ln_saturation(np.array([T]))[0]

        def ln_fugacity(composition):
            return np.log(composition) + liquid.activity.at(np.full(len(composition), T)).ln_gamma(composition.T).T + ln_pure

        ln_f = ln_fugacity(x)
        P = np.exp(ln_f).sum(axis=1)
        feeds = shares[:, None] * x[rows] + (1.0 - shares)[:, None] * np.exp(ln_f[rows]) / P[rows, None]
        states = system.flash(feeds, T=T, P=P[rows])
        counts["states"] += FEEDS
        counts["of several phases"] += int((states.n_phases > 1).sum())
        wrong = []
        for i in range(FEEDS):
            own = np.maximum(states.result.x[i, :1], 1e-100)
            mu = np.log(own) + np.log(P[rows[i]]) if states.result.kinds[i, 0] == 0 else ln_fugacity(own)
            low = min((x * (ln_f - mu)).sum(axis=1).min(), (x * (np.log(x) + np.log(P[rows[i]]) - mu)).sum(axis=1).min())
            if low < -ABOVE or not states.result.converged[i]:
                counts["  missed"] += 1
                wrong.append(f"T={T!r} P={P[rows[i]]!r} z={feeds[i].tolist()!r}: {low:.1e}")
        return wrong

    return f"{names}, {model}, {parameters!r}", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "pairs", 500, look))
