"""Random flashes over random databank mixtures, looking for what fails.

    python benchmarks/fuzz.py --states 100000 --seed 1

Counts exceptions, NaN, answers that did not converge, broken balances; and tests a sample of the single-phase answers again
with many more starts than the library uses, by a search of its own.
"""

from __future__ import annotations

import argparse
import sys
import time
import warnings
from collections import Counter

import numpy as np

import sleetfield as sl
from sleetfield.core.equilibrium.stability import UNSTABLE

warnings.simplefilter("error")

STATES_PER_MIXTURE = 50


def random_mixture(rng):
    """Names, a model, and a batch of compositions, some with traces and absent components."""
    names = [c.name for c in sl.databank() if c.heat_capacity is not None]
    count = int(rng.integers(2, 13))
    chosen = [str(n) for n in rng.choice(names, count, replace=False)]
    z = rng.dirichlet(np.full(count, rng.choice([0.3, 1.0, 3.0])), size=STATES_PER_MIXTURE)
    trace = rng.random(z.shape) < 0.05
    z = np.where(trace, 10.0 ** rng.uniform(-12, -4, z.shape), z)
    z = np.where(rng.random(z.shape) < 0.03, 0.0, z)
    z[z.sum(axis=1) == 0.0, 0] = 1.0
    model = rng.choice(["PR", "SRK", "ideal"], p=[0.45, 0.45, 0.1])
    return chosen, {"liquid": "ideal"} if model == "ideal" else {"eos": str(model)}, z / z.sum(axis=1, keepdims=True)


def random_conditions(rng):
    """Temperatures, 150 to 600 K, and pressures, 0.1 to 300 bar."""
    return rng.uniform(150.0, 600.0, STATES_PER_MIXTURE), 1e5 * 10.0 ** rng.uniform(-1.0, np.log10(300.0), STATES_PER_MIXTURE)


def second_opinion(system, z, T, P, rng):
    """The lowest tangent-plane distance over many starts: pairs, random compositions, and the cube root of the feed."""
    present = np.flatnonzero(z > 0.0)
    model, feed = system.model.select(present.tolist()), z[present]
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
    counts["three phases needed"] += int((~result.stable).sum())
    counts["two phases"] += int((states.n_phases == 2).sum())
    fine = np.flatnonzero(~states.failed)
    amounts, x = result.amount[fine], result.x[fine]
    balance = np.abs(np.nansum(amounts[:, :, None] * x, axis=1) - z[fine]).max(axis=1)
    counts["mass balance"] += int((balance > 1e-12).sum())
    missing = [states.H, states.S, states.Cp, states.density, states.vapor_fraction]
    nan = np.flatnonzero(~np.isfinite(np.array(missing)[:, fine]).all(axis=0))
    counts["NaN"] += nan.size
    for i in (*failed, *fine[balance > 1e-12], *fine[nan]):
        examples.append(f"{label}: T={states.T[i]!r} P={states.P[i]!r} z={z[i].tolist()!r}")


def there_and_back(system, states, counts, examples, label):
    """States given by another property than T or P, which must be found again."""
    sure = np.flatnonzero(states.result.converged & states.result.stable & np.isfinite(states.H))
    ideal = system.eos is None
    for known, name in [
        ("P", "H"),
        ("P", "S"),
        ("P", "V"),
        ("P", "U"),
        ("P", "vapor_fraction"),
        *([] if ideal else [("T", "V"), ("T", "S")]),
    ]:
        values = (
            states.H - states.P * states.molar_volume
            if name == "U"
            else states.molar_volume
            if name == "V"
            else getattr(states, name)
        )
        rows = (
            sure
            if name != "vapor_fraction"
            else sure[(states.vapor_fraction[sure] > 1e-9) & (states.vapor_fraction[sure] < 1 - 1e-9)]
        )
        if not rows.size:
            continue
        back = system.flash(states.z[rows], **{known: getattr(states, known)[rows], name: values[rows]})
        unknown = "T" if known == "P" else "P"
        error = np.abs(getattr(back, unknown) / getattr(states, unknown)[rows] - 1.0)
        counts["there and back"] += rows.size
        counts["  not found"] += int(np.isnan(error).sum())
        wrong = error > (1e-7 if known == "P" else 1e-5)
        if name == "vapor_fraction":  # another state of that vapor fraction is right, too
            wrong &= np.abs(back.vapor_fraction - values[rows]) > 1e-8
        counts["  elsewhere"] += int(wrong.sum())
        for i in np.flatnonzero(wrong | np.isnan(error)):
            examples.append(
                f"{label}: {known}-{name} T={states.T[rows[i]]!r} P={states.P[rows[i]]!r} z={states.z[rows[i]].tolist()!r} error={error[i]:.1e}"
            )


def main() -> int:
    """Run, and report; status 1 where anything was wrong."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--states", type=int, default=100_000)
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
        names, model, z = random_mixture(rng)
        T, P = random_conditions(rng)
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
