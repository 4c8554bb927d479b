"""Random flashes over random databank mixtures, looking for what fails.

    python -m tests.searches.states --states 100000 --per-mixture 50 --seed 1

Counts exceptions, NaN, answers that did not converge, broken balances; and tests a sample of the single-phase answers again
with many more starts than the library uses, by a search of its own.
"""

from __future__ import annotations

import argparse
import sys
import time
import warnings
from collections import Counter
from itertools import combinations

import numpy as np

import sleetfield as sl
from sleetfield.components.local_groups import MODIFIED, UNIFAC, groups_of, local_groups
from sleetfield.core.equilibrium.stability import UNSTABLE

warnings.simplefilter("error")


def random_mixture(rng, n):
    """Names, a model, and n compositions, some with traces and absent components."""
    kind = rng.choice(
        ["PR", "SRK", "Twu", "PC-SAFT", "CPA", "ideal", "NRTL", "UNIFAC", "MHV2", "WS", "modified UNIFAC"],
        p=[0.23, 0.23, 0.1, 0.1, 0.08, 0.1, 0.1, 0.02, 0.01, 0.01, 0.02],
    )
    able = {
        "PC-SAFT": lambda c: c.segments is not None,
        "UNIFAC": of_known_groups,
        "MHV2": of_known_groups,
        "WS": lambda c: of_known_groups(c) and c.Tc > 450.0,
        "modified UNIFAC": lambda c: of_known_groups(c, MODIFIED, KNOWN - {"CH2CO"}),
    }.get(str(kind), bool)
    names = [c.name for c in sl.databank() if c.heat_capacity is not None and able(c)]
    count = int(rng.integers(2, 13))
    chosen = [str(n) for n in rng.choice(names, count, replace=False)]
    z = rng.dirichlet(np.full(count, rng.choice([0.3, 1.0, 3.0])), size=n)
    trace = rng.random(z.shape) < 0.05
    z = np.where(trace, 10.0 ** rng.uniform(-12, -4, z.shape), z)
    z = np.where(rng.random(z.shape) < 0.03, 0.0, z)
    z[z.sum(axis=1) == 0.0, 0] = 1.0
    predicted = {
        "UNIFAC": {"liquid": "UNIFAC"},
        "modified UNIFAC": {"liquid": "modified UNIFAC"},
        "MHV2": {"eos": "SRK", "mixing": "MHV2", "excess": "UNIFAC"},
        "WS": {"eos": "PR", "mixing": "WS", "excess": "UNIFAC"},
    }
    models = {**predicted, "ideal": {"liquid": "ideal"}, "Twu": {"eos": "PR", "alpha": "Twu"}, "NRTL": nonideal(rng, chosen)}
    model = models.get(str(kind), {"eos": str(kind)})
    return chosen, model, z / z.sum(axis=1, keepdims=True)


KNOWN = {"CH2", "ACH", "ACCH2", "OH", "H2O", "CH2CO"}
"""Main groups of which all interactions are known."""


def of_known_groups(c, table=UNIFAC, known=KNOWN):
    """Whether a component is made of those."""
    try:
        return {local_groups(table)[group].main for group in groups_of(c, table=table)} <= known
    except sl.UnknownComponentError:
        return False


def nonideal(rng, names):
    """NRTL with random parameters, from negative deviations to nearly immiscible."""
    pairs = {
        pair: sl.PairParameters(a12=rng.normal(250.0, 300.0), a21=rng.normal(250.0, 300.0), alpha=rng.uniform(0.2, 0.45), form="K")
        for pair in combinations(names, 2)
    }
    return {"liquid": "NRTL", "parameters": pairs}


def random_conditions(rng, n):
    """n temperatures, 150 to 600 K, and pressures, 0.1 to 300 bar."""
    return rng.uniform(150.0, 600.0, n), 1e5 * 10.0 ** rng.uniform(-1.0, np.log10(300.0), n)


def second_opinion(system, z, T, P, rng):
    """The lowest tangent-plane distance over many starts: pairs, random compositions, and the cube root of the feed."""
    present = np.flatnonzero(z > 0.0)
    model, feed = system.phase_model.select(present.tolist()), z[present]
    c = len(present)
    starts = [0.98 * np.eye(c) + 0.02 / c]
    starts += [np.array([0.5 * (np.eye(c)[i] + np.eye(c)[j]) * 0.99 + 0.01 / c for i in range(c) for j in range(i)]).reshape(-1, c)]
    starts += [rng.dirichlet(np.full(c, 0.5), size=60), (feed ** (1 / 3))[None] / (feed ** (1 / 3)).sum()]
    w = np.concatenate(starts)
    with np.errstate(all="ignore"):
        bound = model.at(np.full(len(w), T), np.full(len(w), P))
        d = np.log(feed) + model.at(np.array([T]), np.array([P])).ln_phi(feed[None])[0]
        lowest = np.inf
        for _ in range(300):
            new = d - bound.ln_phi(w)
            distance = (w * (np.log(np.maximum(w, 1e-300)) - new)).sum(axis=1)
            lowest = min(lowest, float(np.nanmin(distance)))
            amounts = np.exp(new)
            w = amounts / amounts.sum(axis=1, keepdims=True)
    return lowest


def check(states, z, counts, examples, label):
    """Count what is wrong with a batch of answers."""
    result = states.result
    failed = np.flatnonzero(states.failed)
    counts["not converged"] += failed.size
    counts["loose"] += int((~states.failed & ~result.converged).sum())
    counts["further phase needed"] += int((~result.stable).sum())
    for n in (2, 3, 4):
        counts[f"{n} phases"] += int((states.n_phases == n).sum())
    fine = np.flatnonzero(~states.failed)
    amounts, x = result.amount[fine], result.x[fine]
    balance = np.abs(np.nansum(amounts[:, :, None] * x, axis=1) - z[fine]).max(axis=1)
    counts["mass balance"] += int((balance > 1e-12).sum())
    missing = [states.H, states.S, states.Cp, states.density, states.vapor_fraction]
    nan = np.flatnonzero(~np.isfinite(np.array(missing)[:, fine]).all(axis=0))
    counts["NaN"] += nan.size
    for i in (*failed, *np.flatnonzero(~result.stable), *fine[balance > 1e-12], *fine[nan]):
        examples.append(f"{label}: T={states.T[i]!r} P={states.P[i]!r} z={z[i].tolist()!r}")


BACK = 20
"""How many states of a mixture are found again: many mixtures tell more than many states of one."""

BESIDE_P = ("H", "S", "V", "U", "vapor_fraction", "vapor_mass_fraction")
BESIDE_T = ("V", "S")
NEITHER = (("H", "S"), ("U", "V"), ("S", "V"), ("H", "V"), ("S", "U"))


def value_of(states, name):
    """A property by the name that a flash takes it by."""
    return states.molar_volume if name == "V" else getattr(states, name)


def there_and_back(system, states, counts, examples, label):
    """States given by other quantities than T and P, which must be found again."""
    sure = states.result.converged & states.result.stable & np.isfinite(states.H)
    sure[np.flatnonzero(sure)[BACK:]] = False
    pairs = [("P", name) for name in BESIDE_P]
    if system.eos is not None:  # a liquid of the ideal model does not tell its pressure
        pairs += [("T", name) for name in BESIDE_T]
        pairs += NEITHER
    for pair in pairs:
        rows = sure
        if pair[1].startswith("vapor"):
            rows = sure & (states.vapor_fraction > 1e-9) & (states.vapor_fraction < 1 - 1e-9)
        rows = np.flatnonzero(rows)
        if pair in NEITHER:
            rows = rows[::10]
        if not rows.size:
            continue
        back = system.flash(states.z[rows], **{name: value_of(states, name)[rows] for name in pair})
        error = np.maximum(np.abs(back.T / states.T[rows] - 1.0), np.abs(np.log(back.P / states.P[rows])))
        counts["there and back"] += rows.size
        counts["  not found"] += int(np.isnan(error).sum())
        wrong = error > (1e-7 if "P" in pair else 1e-5)
        if ("T" not in pair and "P" not in pair) or pair[1].startswith("vapor") or pair == ("P", "V"):
            # another state may have the same two values: it only has to have them
            scale = {
                name: np.maximum(np.abs(value_of(states, name)[rows]), 1.0 if name in ("H", "S", "U") else 0.0) for name in pair
            }
            missed = [np.abs(value_of(back, name) - value_of(states, name)[rows]) > 1e-7 * scale[name] for name in pair]
            counts["  another solution"] += int((wrong & ~np.logical_or.reduce(missed)).sum())
            wrong &= np.logical_or.reduce(missed)
        counts["  elsewhere"] += int(wrong.sum())
        for i in np.flatnonzero(wrong | np.isnan(error)):
            examples.append(
                f"{label}: {'-'.join(pair)} T={states.T[rows[i]]!r} P={states.P[rows[i]]!r} z={states.z[rows[i]].tolist()!r} error={error[i]:.1e}"
            )


def main() -> int:
    """Run, and report; status 1 where anything was wrong."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--states", type=int, default=100_000)
    parser.add_argument("--per-mixture", type=int, default=50, help="states of each mixture, one batch")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--sample", type=float, default=0.01, help="share of single-phase answers that get a second opinion")
    parser.add_argument(
        "--back", type=float, default=0.02, help="share of mixtures whose states are found again from other properties"
    )
    args = parser.parse_args()
    rng = np.random.default_rng(args.seed)
    counts: Counter[str] = Counter()
    examples: list[str] = []
    began = time.perf_counter()
    while counts["states"] < args.states:
        names, model, z = random_mixture(rng, args.per_mixture)
        T, P = random_conditions(rng, args.per_mixture)
        system = sl.System(names, **model)
        counts["states"] += len(z)
        label = f"System({names!r}, **{model!r})"
        try:
            states = system.flash(z, T=T, P=P)
            check(states, z, counts, examples, label)
            if rng.random() < args.back:
                there_and_back(system, states, counts, examples, label)
        except Exception as error:  # whatever it is, it is what we look for
            counts["exceptions"] += 1
            examples.append(f"{label}: {type(error).__name__}: {error}")
            continue
        for i in np.flatnonzero((states.n_phases == 1) & (rng.random(len(z)) < args.sample)):
            counts["second opinions"] += 1
            lowest = second_opinion(system, z[i], T[i], P[i], rng)
            if lowest < 10.0 * UNSTABLE:
                counts["second phase missed"] += 1
                examples.append(f"{label}: missed {lowest:.2e}: T={T[i]!r} P={P[i]!r} z={z[i].tolist()!r}")
        if sys.stderr.isatty():
            print(f"\r{counts['states']} of {args.states}", end="", file=sys.stderr)
    for key, value in counts.items():
        print(f"{key:22s} {value}")
    print(f"{'seconds':22s} {time.perf_counter() - began:.0f}")
    for example in examples[:40]:
        print(example)
    wrong = ("exceptions", "NaN", "not converged", "mass balance", "second phase missed", "  not found", "  elsewhere")
    return 1 if any(counts[k] for k in wrong) else 0


if __name__ == "__main__":
    sys.exit(main())
