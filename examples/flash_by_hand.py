"""A flash in fifteen lines, written by hand, beside Sleetfield: what do the fifteen lines miss?

python examples/flash_by_hand.py
"""

import numpy as np
from scipy.optimize import brentq

import sleetfield as sl

MIXTURES = {
    "boiler gas": {"nitrogen": 0.02, "methane": 0.86, "propane": 0.08, "n-heptane": 0.04},
    "carbon dioxide with oil": {"methane": 0.06, "carbon dioxide": 0.80, "n-hexadecane": 0.14},
    "sour gas": {"methane": 0.50, "carbon dioxide": 0.10, "hydrogen sulfide": 0.40},
}


def ln_phi(x, T, P, a, b, pick):
    """Fugacity coefficients by Peng and Robinson's equation (1976), of the smallest or the largest root."""
    am, bm, s2 = x @ a @ x, x @ b, 2.0**0.5
    A, B = am * P / (8.314462618 * T) ** 2, bm * P / (8.314462618 * T)
    roots = np.roots([1.0, B - 1.0, A - 2.0 * B - 3.0 * B**2, B**3 + B**2 - A * B])
    Z = pick(r.real for r in roots if abs(r.imag) < 1e-9 and r.real > B)
    log = np.log((Z + (1.0 + s2) * B) / (Z + (1.0 - s2) * B)) / (2.0 * s2)
    return b / bm * (Z - 1.0) - np.log(Z - B) - A / B * (2.0 * a @ x / am - b / bm) * log


def flash_by_hand(z, T, P, a, b, K):
    """The fifteen lines: Rachford and Rice with new K-values, until they stay."""
    for _ in range(1000):
        left = lambda vapor, K=K: (z * (K - 1.0) / (1.0 + vapor * (K - 1.0))).sum()  # noqa: E731
        vapor = brentq(left, 0.0, 1.0) if left(0.0) > 0.0 > left(1.0) else float(left(0.0) > 0.0)
        x = z / (1.0 + vapor * (K - 1.0))
        y = K * x
        x, y = x / x.sum(), y / y.sum()
        new = np.exp(ln_phi(x, T, P, a, b, min) - ln_phi(y, T, P, a, b, max))
        if np.abs(np.log(new / K)).max() < 1e-10:
            return vapor
        K = new
    return np.nan


rng = np.random.default_rng(7)
COUNT = 100
for title, feed in MIXTURES.items():
    gas = sl.System(list(feed), eos="PR", kij="published")
    z = np.array(list(feed.values()))
    Tc, Pc, omega = (np.array([getattr(c, name) for c in gas.components]) for name in ("Tc", "Pc", "omega"))
    m = 0.37464 + 1.54226 * omega - 0.26992 * omega**2
    b = 0.07779607 * 8.314462618 * Tc / Pc
    T, P = rng.uniform(170.0, 360.0, COUNT), np.exp(rng.uniform(np.log(2e5), np.log(120e5), COUNT))

    states = gas.flash(z, T=T, P=P)
    by_hand = []
    for t, p in zip(T, P, strict=True):
        root = np.sqrt(0.45723553 * (8.314462618 * Tc) ** 2 / Pc) * (1.0 + m * (1.0 - np.sqrt(t / Tc)))
        a = np.outer(root, root) * (1.0 - gas.interactions.kij)
        by_hand.append(flash_by_hand(z, t, p, a, b, Pc / p * np.exp(5.373 * (1.0 + omega) * (1.0 - Tc / t))))
    off = ~(np.abs(np.array(by_hand) - states.vapor_fraction) < 1e-3)
    found = {
        "three phases, two by hand": states.n_phases == 3,
        "two liquids, otherwise by hand": (states.n_phases == 2) & (states.vapor_fraction == 0.0) & off,
        "vapor and liquid, otherwise by hand": (states.n_phases == 2) & (states.vapor_fraction > 0.0) & off,
        "one phase, named otherwise by hand": (states.n_phases == 1) & off,
    }
    print(f"{title}: {COUNT - int((off | (states.n_phases == 3)).sum())} of {COUNT} states the same")
    for words, where in found.items():
        if where.any():
            i = int(np.flatnonzero(where)[0])
            print(f"  {int(where.sum()):3d} times {words}, first at {T[i]:.1f} K, {P[i] / 1e5:.1f} bar")
