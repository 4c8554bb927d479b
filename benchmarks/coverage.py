"""How often 95 % confidence intervals cover the truth: data with known noise, computed again and again, fitted each time.

    python benchmarks/coverage.py --repetitions 500 --seed 1

Prints, for several models, kinds of data and objectives, the share of intervals that cover, and how the standard errors told compare with the scatter of the
fitted values.
"""

from __future__ import annotations

import argparse

import numpy as np

import sleetfield as sl

X = np.linspace(0.04, 0.82, 14)
PAIR = ("acetone", "1-butanol")
TRUE = {
    "Margules": {"A acetone / 1-butanol": 0.62, "A 1-butanol / acetone": 0.71},
    "NRTL": {"tau acetone / 1-butanol": 0.5, "tau 1-butanol / acetone": 0.2},
    "Wilson": {"ln_Lambda acetone / 1-butanol": -0.21, "ln_Lambda 1-butanol / acetone": -0.55},
}


def boiling(known: sl.System, rng: np.random.Generator, **given: float) -> sl.DataSet:
    """Vapor and liquid with noise of the usual uncertainties."""
    x = np.stack([X, 1.0 - X], axis=1)
    p = known.bubble(x, **given)
    off = rng.normal(size=len(X))
    T, P = (p.T + 0.05 * off, p.P) if "P" in given else (p.T, p.P * (1.0 + 0.005 * off))
    y = p.y[:, 0] + 0.005 * rng.normal(size=len(X))
    return sl.DataSet(known.names, {"T": T, "P": P, "x": x, "y": np.stack([y, 1.0 - y], axis=1)})


def uncertain(known: sl.System, rng: np.random.Generator) -> sl.DataSet:
    """The same with every variable uncertain."""
    p = known.bubble(np.stack([X, 1.0 - X], axis=1), T=340.0)
    seen = np.clip(X + 0.01 * rng.normal(size=len(X)), 1e-3, 1.0 - 1e-3)
    T, P = 340.0 + 0.2 * rng.normal(size=len(X)), p.P * (1.0 + 0.003 * rng.normal(size=len(X)))
    y = np.clip(p.y[:, 0] + 0.005 * rng.normal(size=len(X)), 1e-4, 1.0 - 1e-4)
    return sl.DataSet.of(known.names, T=T, P=P, x=seen, y=y, uncertainty={"T": 0.2, "P": 0.003 * p.P, "x": 0.01, "y": 0.005})


def liquids(known: sl.System, rng: np.random.Generator) -> sl.DataSet:
    """Mutual solubilities with 2 % of noise."""
    T = np.linspace(285.0, 350.0, 7)
    found = np.sort([[p.composition[known.names[0]] for p in known.flash([0.3, 0.7], T=t, P=5e5).phases] for t in T], axis=1)
    share = np.minimum(found, 1.0 - found)
    first, second = (found + 0.02 * share * rng.normal(size=found.shape)).T
    return sl.DataSet.of(known.names, T=T, x_first=first, x_second=second)


def cases() -> dict[str, tuple[sl.System, object, dict[str, object]]]:
    """By name: a system with the true parameters, what makes data of it, and options of the fit."""
    systems = {m: sl.System(PAIR, liquid=m, vapor="ideal").with_parameters(p) for m, p in TRUE.items()}
    broth = sl.System(["1-butanol", "water"], liquid="NRTL")
    gas = sl.System(["carbon dioxide", "n-decane"], eos="PR", kij={("carbon dioxide", "n-decane"): 0.11})

    def pressures(known: sl.System, rng: np.random.Generator) -> sl.DataSet:
        x = np.linspace(0.05, 0.4, 10)
        p = known.bubble(np.stack([x, 1.0 - x], axis=1), T=330.0)
        return sl.DataSet.of(known.names, T=330.0, x=x, P=p.P * (1.0 + 0.005 * rng.normal(size=10)))

    return {
        "Margules, P and y at T": (systems["Margules"], lambda s, r: boiling(s, r, T=340.0), {}),
        "NRTL, T and y at P": (systems["NRTL"], lambda s, r: boiling(s, r, P=101325.0), {}),
        "Wilson, P and y at T": (systems["Wilson"], lambda s, r: boiling(s, r, T=340.0), {}),
        "NRTL, two liquids": (broth, liquids, {}),
        "PR, P at T": (gas, pressures, {}),
        "Margules, all variables": (systems["Margules"], uncertain, {"objective": "all variables"}),
    }


def main() -> None:
    """Print a line a case."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--repetitions", type=int, default=500)
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args()
    print(f"{given.repetitions} repetitions, seed {given.seed}")
    for name, (known, measure, options) in cases().items():
        rng = np.random.default_rng(given.seed)
        values, errors, covered = [], [], []
        for _ in range(given.repetitions):
            fit = sl.regress(known, measure(known, rng), **options)
            true = np.array([known.parameters[n] for n in fit.names])
            values.append(fit.values)
            errors.append(fit.standard_error)
            covered.append(np.abs(fit.values - true) <= fit.interval)
        scatter = np.mean(errors, axis=0) / np.std(values, axis=0)
        shown = ", ".join(f"{100.0 * c:.1f} %" for c in np.mean(covered, axis=0))
        print(f"{name:26s} covered {shown}; standard errors over scatter {', '.join(f'{s:.3f}' for s in scatter)}", flush=True)


if __name__ == "__main__":
    main()
