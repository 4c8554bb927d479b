"""Derive activity-model parameters from published sets of other models, and from the shipped azeotropes and mutual solubilities, for pairs without published ones.

    python tools/derive_activity_parameters.py

Prints the rows for ``src/sleetfield/data/activity_parameters.csv``. Where another model's set of the pair is published, the two numbers are those whose activity
coefficients come nearest to its over the whole range of composition, in the middle of its range of temperature; a set that is off by more than 10 % anywhere, or that
splits what is miscible, is refused, and one that is off by more than 2 % gives way to a set from an azeotrope. Else two numbers are found from two measured ones:

- a homogeneous azeotrope gives both activity coefficients at its composition, γᵢ = P/Pᵢ(sat) with an ideal vapor;
- two mutual solubilities give equal activities of both components in both liquids.

A set from an azeotrope is refused where it makes two liquids of what is miscible, over its range or at room temperature, or where published sets of other models for the same pair
say otherwise: an activity coefficient at infinite dilution that is off the nearest of theirs by a factor of more than 1.4.
"""

from __future__ import annotations

import csv
import sys

import numpy as np
from scipy.optimize import least_squares, root

import sleetfield as sl
from sleetfield.data_sets.shipped import measured_azeotropes, measured_solubilities
from sleetfield.pairs.bank import published_parameters

MODELS = {"van Laar": (None,), "Wilson": (None,), "NRTL": (0.3, 0.47), "UNIQUAC": (None,)}
"""Values of α to try, one after the other."""

CONVERTED = {"van Laar": (None,), "Wilson": (None,), "NRTL": (0.3, 0.47, 0.2), "UNIQUAC": (None,)}
TELLING = ("NRTL", "Wilson", "UNIQUAC", "van Laar", "Margules")
"""Whose set to take where several are published."""
NEAR, AS_GOOD = 0.1, 0.02
"""How far ln γ may be off; how far, where an azeotrope gives two numbers."""

OFF = 1.4
ROOM, RANGE = 298.15, 20.0
"""K: liquids that boil as one are one at room temperature as well, and how far from its origin a set is said to hold."""

SPLITTING = {"NRTL": 0.2, "UNIQUAC": None}


def model_of(name, first, second, a12, a21, alpha):
    """A binary model with two numbers."""
    form = "plain" if name == "van Laar" else "K"
    p = sl.PairParameters(a12=a12, a21=a21, alpha=alpha, form=form)
    return sl.System([first, second], liquid=name, parameters={(first, second): p}).activity


def ln_gamma(model, T, x1):
    """Of both components."""
    return model.at(np.array([T])).ln_gamma(np.array([[x1], [1.0 - x1]]))[:, 0]


def vapor_pressures(first, second, T):
    """Of both components, Pa."""
    components = [sl.databank().find(name) for name in (first, second)]
    return np.array([float(np.exp(c.vapor_pressure.value(np.array([T]))[0])) for c in components])


def mole_fraction(first, second, w):
    """Of the first component, from its mass fraction."""
    m1, m2 = (sl.databank().find(name).molar_mass for name in (first, second))
    return (w / m1) / (w / m1 + (1.0 - w) / m2)


def solved(equations, starts):
    """The solution with the smallest parameters of those that the starts lead to."""
    best = None
    for start in starts:
        try:
            found = root(equations, start, tol=1e-13)
        except sl.InputError:  # a step to parameters that the model refuses
            continue
        if np.abs(equations(found.x)).max() < 1e-9 and (best is None or np.abs(found.x[:2]).max() < np.abs(best[:2]).max()):
            best = found.x
    return best


def starts_for(name):
    """Pairs of numbers to start from."""
    values = (0.3, 1.0, 2.0, 3.0) if name == "van Laar" else (-300.0, 0.0, 300.0, 700.0, 1200.0)
    return [np.array([a, b]) for a in values for b in values]


def can(name, first, second):
    """Whether the components have what the model needs beside the two numbers."""
    return name != "UNIQUAC" or all(sl.databank().find(c).uniquac_r is not None for c in (first, second))


def from_azeotrope(name, alphas, az):
    """Two numbers, and the α, from a homogeneous azeotrope; sets that would make two liquids boil there are passed over."""
    x1 = mole_fraction(az.first, az.second, az.mass_fraction)
    wanted = np.log(az.P / vapor_pressures(az.first, az.second, az.T))
    for alpha in alphas:

        def equations(p, alpha=alpha):
            return ln_gamma(model_of(name, az.first, az.second, *p, alpha), az.T, x1) - wanted

        p = solved(equations, starts_for(name))
        if p is not None:
            form = "plain" if name == "van Laar" else "K"
            pair = sl.PairParameters(a12=p[0], a21=p[1], alpha=alpha, form=form)
            system = sl.System([az.first, az.second], liquid=name, parameters={(az.first, az.second): pair})
            point = system.bubble([x1, 1.0 - x1], P=az.P)
            if abs(point.T - az.T) < 0.01 and abs(point.y[0] - x1) < 1e-4:
                return p, alpha
    return None


def from_solubilities(name, alpha, first, second, T, x_rich, x_poor):
    """Two numbers from both liquids of a split."""

    def equations(p):
        model = model_of(name, first, second, *p, alpha)
        a = ln_gamma(model, T, x_rich) + np.log([x_rich, 1.0 - x_rich])
        b = ln_gamma(model, T, x_poor) + np.log([x_poor, 1.0 - x_poor])
        return a - b

    return solved(equations, starts_for(name))


def from_another(name, alphas, first, second, other, known):
    """The two numbers that come nearest to a published set of another model, the α, and how far ln γ is off at most; None where nothing is near."""
    T = 0.5 * (known.T_min + known.T_max)
    x = np.linspace(1e-6, 1.0 - 1e-6, 41)

    def values(model):
        return model.at(np.full(len(x), T)).ln_gamma(np.stack([x, 1.0 - x]))

    wanted = values(sl.System([first, second], liquid=other, parameters={(first, second): known}).activity)
    best = None
    for alpha in alphas:

        def off(p, alpha=alpha):
            try:
                return (values(model_of(name, first, second, *p, alpha)) - wanted).ravel()
            except sl.InputError:  # a step to parameters that the model refuses
                return np.full(wanted.size, 10.0)

        for start in starts_for(name)[::3]:
            p = least_squares(off, start, x_scale=np.abs(start) + (0.5 if name == "van Laar" else 100.0)).x
            most = float(np.abs(off(p)).max())
            if (
                most <= NEAR
                and (best is None or most < best[2])
                and not any(splits(model_of(name, first, second, *p, alpha), t) for t in (ROOM, known.T_min, known.T_max))
            ):
                best = (p, alpha, most)
    return best


def published_set(pair):
    """The published set of a pair that tells most, and its model; None where none is."""
    for model in TELLING:
        for key, sets in published_parameters(model).items():
            if frozenset(key) == pair and "derived" not in sets[0].source:
                return key, model, sets[0]
    return None


def at_infinite_dilution(model, T):
    """Activity coefficients of both components, each alone in the other."""
    return np.exp([ln_gamma(model, T, 1e-9)[0], ln_gamma(model, T, 1.0 - 1e-9)[1]])


def splits(model, T):
    """Whether the liquid is unstable anywhere between the two components."""
    x = np.linspace(1e-4, 1.0 - 1e-4, 2000)
    activity = np.log(x) + model.at(np.full(len(x), T)).ln_gamma(np.stack([x, 1.0 - x]))[0]
    return bool((np.diff(activity) < 0.0).any())


def refusal(name, az, p, alpha):
    """Why a set is not taken, in words; empty where it is."""
    pair = (az.first, az.second)
    model = model_of(name, *pair, *p, alpha)
    if any(splits(model, T) for T in (ROOM, az.T - RANGE, az.T, az.T + RANGE)):
        return "splits"
    others = []
    for other in MODELS:
        for key, sets in published_parameters(other).items():
            if frozenset(key) != frozenset(pair):
                continue
            systems = [
                sl.System(list(pair), liquid=other, parameters={key: known}) for known in sets if "derived" not in known.source
            ]
            others += [at_infinite_dilution(system.activity, az.T) for system in systems]
    if others:
        off = np.exp(np.abs(np.log(np.array(others) / at_infinite_dilution(model, az.T)))).min(axis=0).max()
        if off > OFF:
            return f"{off:.2f} times off published sets"
    return ""


def conversions(known):
    """Rows from published sets of other models, each with how far ln γ is off at most."""
    found = []
    pairs = {
        frozenset(key): None
        for model in TELLING
        for key, sets in published_parameters(model).items()
        if "derived" not in sets[0].source
    }
    for pair in pairs:
        (first, second), other, published = published_set(pair)
        for name, alphas in CONVERTED.items():
            if pair in known[name] or not can(name, first, second):
                continue
            best = from_another(name, alphas, first, second, other, published)
            if best is None:
                print("none:", name, first, second, "from", other, file=sys.stderr)
                continue
            p, alpha, most = best
            print(f"{name} {first} {second} from {other}: {100 * most:.1f} %", file=sys.stderr)
            form = "plain" if name == "van Laar" else "K"
            source = f"derived-{other.lower().replace(' ', '-')}"
            found.append(((name, first, second, form, p, alpha, published.T_min, published.T_max, source), most))
    return found


def main():
    """Print the rows."""
    known = {
        name: {frozenset(pair) for pair, sets in published_parameters(name).items() if "derived" not in sets[0].source}
        for name in MODELS
    }
    converted = conversions(known)
    rows = [row for row, most in converted if most <= AS_GOOD]
    for name, first, second, *_ in rows:
        known[name].add(frozenset((first, second)))
    for az in measured_azeotropes():
        if az.liquids != 1:
            continue
        for name, alphas in MODELS.items():
            if frozenset({az.first, az.second}) in known[name] or not can(name, az.first, az.second):
                continue
            tried = [found for alpha in alphas if (found := from_azeotrope(name, (alpha,), az)) is not None]
            whys = [refusal(name, az, *found) for found in tried]
            if "" not in whys:
                print("refused:" if tried else "none:", name, az.first, az.second, *whys, file=sys.stderr)
                continue
            p, alpha = tried[whys.index("")]
            form = "plain" if name == "van Laar" else "K"
            rows.append((name, az.first, az.second, form, p, alpha, az.T - RANGE, az.T + RANGE, "derived-azeotrope"))
    there = {(name, frozenset((first, second))) for name, first, second, *_ in rows}
    rows += [row for row, most in converted if most > AS_GOOD and (row[0], frozenset(row[1:3])) not in there]
    for r in measured_solubilities():
        first, second, T = r.first, r.second, r.T
        x_rich, x_poor = 1.0 - mole_fraction(second, first, r.second_in_first), mole_fraction(first, second, r.first_in_second)
        for name, alpha in SPLITTING.items():
            p = from_solubilities(name, alpha, first, second, T, x_rich, x_poor)
            if p is None:
                print("none:", name, first, second, file=sys.stderr)
                continue
            rows.append((name, first, second, "K", p, alpha, T - RANGE, T + RANGE, "derived-solubility"))
    out = csv.writer(sys.stdout, lineterminator="\n")
    for name, first, second, form, p, alpha, low, high, source in rows:
        numbers = [" ".join(f"{v:.6g}" for v in np.atleast_1d(column)) for column in np.asarray(p).T]
        out.writerow([name, first, second, form, *numbers, "" if alpha is None else alpha, "", "", round(low), round(high), source])


if __name__ == "__main__":
    main()
