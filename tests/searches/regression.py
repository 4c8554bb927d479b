"""Random pairs, models and measurements without noise, fitted from nothing: the fit has to find its way to what the points were computed from.

    python -m tests.searches.regression --fits 500 --seed 1

Points are computed by flashes and by bubble points of a model with random parameters. Where several parameter sets give the same points, any of them will do: what
is held is that the residuals vanish and that the fitted model boils as the true one does elsewhere.
"""

from __future__ import annotations

import sys

import numpy as np

import sleetfield as sl

from .searching import search

POOL = (
    "acetone",
    "water",
    "methanol",
    "ethanol",
    "benzene",
    "n-hexane",
    "ethyl acetate",
    "1-butanol",
    "toluene",
    "acetonitrile",
    "1-propanol",
)
LIQUIDS = ("Margules", "van Laar", "Wilson", "NRTL", "UNIQUAC", "Redlich-Kister")
GASES = ("carbon dioxide", "methane", "nitrogen", "propane", "n-pentane", "n-decane", "toluene", "ethane", "hydrogen sulfide")
CLOSE, LEAST = 1e-3, 1e-2
"""How large residuals over their uncertainties may be, and how far P may be off elsewhere."""


def random_values(rng, model, names):
    """Deviations of either sign, as far as ordinary pairs go."""
    a, b = rng.uniform(-0.8, 2.2, 2)
    if model == "van Laar":
        b = abs(b) * np.sign(a)
    if model == "Wilson":
        a, b = rng.uniform(-1.8, 0.6, 2)
    if model == "UNIQUAC":
        a, b = rng.uniform(-1.2, 0.5, 2)
    return dict(zip(names, (float(a), float(b)), strict=True))


def liquid_case(rng):
    """A pair with an activity model."""
    pair = tuple(str(n) for n in rng.choice(POOL, 2, replace=False))
    model, vapor = str(rng.choice(LIQUIDS)), str(rng.choice(["ideal", "virial"]))
    nothing = sl.System(pair, liquid=model, vapor=vapor)
    symbols = nothing.model.recipe.usual_fit
    names = [n for n in nothing.parameters.names if n.split(" ")[0] in symbols]
    blank = nothing.with_parameters(dict.fromkeys(names, 0.5 if model == "van Laar" else 0.0))
    return blank, nothing.with_parameters(random_values(rng, model, names)), f"{model} {vapor} {' + '.join(pair)}"


def gas_case(rng):
    """A pair with an equation of state."""
    pair = tuple(str(n) for n in rng.choice(GASES, 2, replace=False))
    eos = str(rng.choice(["PR", "SRK"]))
    return (
        sl.System(pair, eos=eos, kij="zero"),
        sl.System(pair, eos=eos, kij={pair: float(rng.uniform(-0.05, 0.15))}),
        f"{eos} {' + '.join(pair)}",
    )


def measured(rng, known):
    """One or two sets of random kinds."""
    sets = []
    wet = known.activity is not None
    for _ in range(rng.integers(1, 3)):
        x = np.sort(rng.uniform(0.02, 0.98 if wet else 0.5, int(rng.integers(6, 14))))
        kinds = ["boiling at T", "boiling at P", "pressures alone", *(["infinite dilution", "two liquids"] if wet else ["density"])]
        data = of_kind(str(rng.choice(kinds)), known, np.stack([x, 1.0 - x], axis=1), rng)
        if data is not None:
            sets.append(data)
    return sets


def of_kind(kind, known, z, rng):
    names = known.names
    if kind == "two liquids":
        T = np.linspace(290.0, 340.0, 5)
        states = [known.flash([0.4, 0.6], T=t, P=1e6) for t in T]
        if any(len(s.phases) != 2 for s in states):
            return None
        x = np.sort([[p.composition[names[0]] for p in s.phases] for s in states], axis=1)
        return sl.DataSet.of(names, T=T, x_first=x[:, 0], x_second=x[:, 1], source=kind)
    if kind == "infinite dilution":
        T = np.linspace(300.0, 360.0, 4)
        g = known.parameters.gamma_infinity(*names, T=T)
        return sl.DataSet.of(names, T=T, gamma_inf={names[0]: g[0], names[1]: g[1]}, source=kind)
    if kind == "density":
        states = [known.flash(one, T=280.0, P=3e7) for one in z]
        one = [k for k, s in enumerate(states) if len(s.phases) == 1]
        return (
            sl.DataSet.of(names, T=280.0, P=3e7, x=z[one], density=[states[k].density for k in one], source=kind) if one else None
        )
    wet = known.activity is not None
    given = (
        {"P": 101325.0 if wet else 2e6}
        if kind == "boiling at P"
        else {"T": float(rng.uniform(300.0, 370.0) if wet else rng.uniform(220.0, 280.0))}
    )
    p = known.bubble(z, **given)
    there = np.isfinite(p.T + p.P) & (p.P < 3e7) & p.stable
    if there.sum() < 4:
        return None
    values = {"T": p.T[there], "P": p.P[there], "x": z[there]}
    if kind != "pressures alone":
        values["y"] = p.y[there]
    return sl.DataSet(names, values, source=kind)


def look(rng):
    """A fit, and what is wrong with it."""
    blank, known, label = (liquid_case if rng.uniform() < 0.75 else gas_case)(rng)
    try:
        sets = measured(rng, known)
    except sl.CalculationError:
        sets = []
    label += f" ({', '.join(d.source for d in sets)}); {', '.join(f'{v:.3f}' for v in true_values(known))}"

    def trouble(counts):
        if not sets:
            counts["without data"] += 1
            return []
        try:
            fit = sl.regress(blank, sets)
        except sl.InputError as error:
            if "don't determine" in str(error) or "nothing to compare" in str(error):
                counts["too few data"] += 1
                return []
            raise
        counts["evaluations"] += fit.evaluations
        worst = max(float(np.nanmax(np.abs((q.value - q.measured) / q.uncertainty))) for q in fit.quantities)
        lost = sum(int((~np.isfinite(q.value)).sum()) for q in fit.quantities)
        found = []
        if lost:
            counts["points lost"] += lost
            found.append(f"{lost} points without an answer")
        if worst > CLOSE:
            counts["not found"] += 1
            found.append(f"residuals up to {worst:.3g}, fitted {fit.values}")
        elif np.abs(fit.values - true_values(known)).max() > 1e-4:
            counts["other parameters, same points"] += 1
        return found

    return label, trouble


def true_values(known):
    """The parameters that a fit adjusts."""
    return np.array([known.parameters[n] for n in known.parameters.names if n.split(" ")[0] in known.model.recipe.usual_fit])


if __name__ == "__main__":
    sys.exit(search(__doc__, "fits", 300, look))
