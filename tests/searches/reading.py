"""What a user reads off the engine, checked from outside it: names and order of phases, shares of vapor, marks and completeness of envelopes.

    python -m tests.searches.reading --mixtures 1000 --seed 1

Light gases with heavier components, sometimes water, by PR or SRK. Volumes, packings, mass densities and tangent planes come from the equations written
once more here, with the components' constants and interaction parameters alone. Counted are phases out of order, names and shares that jump along an isotherm or
at a border, splits beyond a marked cricondentherm or cricondenbar, bubble and dew points that flashes see and `.all` lacks, and quality lines that are missing or
lie elsewhere.
"""

from __future__ import annotations

import sys
import warnings

import numpy as np

import sleetfield as sl

from .searching import search

warnings.simplefilter("error")

R = 8.31446261815324
LIGHT = ("methane", "nitrogen", "carbon dioxide", "hydrogen", "ethane", "hydrogen sulfide", "carbon monoxide", "argon")
HEAVY = (
    "propane",
    "n-butane",
    "n-pentane",
    "n-hexane",
    "n-heptane",
    "n-decane",
    "benzene",
    "toluene",
    "n-dodecane",
    "acetone",
    "methanol",
    "water",
)
JUMP = 0.05
"""A change of the share of vapor that a small step may not make."""
HALVINGS = 26
BEYOND_T, BEYOND_P = 0.05, 1e-3
"""How far beyond a mark, K and as a fraction, nothing may split."""
QUALITIES = (0.02, 0.3, 0.5, 0.8, 0.98)


class Plain:
    """The equation of state again, one state at a time."""

    def __init__(self, system):
        c = system.components
        self.Tc, self.Pc, self.w = (np.array([getattr(k, name) for k in c]) for name in ("Tc", "Pc", "omega"))
        self.M, self.kij, self.pr = system.molar_mass, np.asarray(system.kij), system.eos == "PR"
        fa, fb = (0.457235528921382, 0.0777960739038885) if self.pr else (0.427480233540341, 0.0866403499649577)
        self.ac, self.b = fa * (R * self.Tc) ** 2 / self.Pc, fb * R * self.Tc / self.Pc
        self.m = 0.37464 + 1.54226 * self.w - 0.26992 * self.w**2 if self.pr else 0.480 + 1.574 * self.w - 0.176 * self.w**2

    def volumes(self, T, P, x):
        """Molar volumes of all roots, rising."""
        root = np.sqrt(self.ac) * (1.0 + self.m * (1.0 - np.sqrt(T / self.Tc)))
        a, b = x @ ((1.0 - self.kij) * np.outer(root, root)) @ x, x @ self.b
        if self.pr:
            poly = [P, P * b - R * T, -3 * P * b * b - 2 * b * R * T + a, P * b**3 + R * T * b * b - a * b]
        else:
            poly = [P, -R * T, a - P * b * b - R * T * b, -a * b]
        found = np.roots(poly)
        return np.sort([v.real for v in found if abs(v.imag) < 1e-6 * abs(v) and v.real > b])

    def packing(self, T, P, x, Z):
        """Covolume over the volume of the root that is nearest to what was stated."""
        V = self.volumes(T, P, x)
        return x @ self.b / V[np.abs(V * P / (R * T) / Z - 1.0).argmin()]


def random_mixture(rng):
    """A system of light and heavier components, and a composition."""
    light, heavy = int(rng.integers(1, 3)), int(rng.integers(1, 4))
    names = [str(n) for n in (*rng.choice(LIGHT, light, replace=False), *rng.choice(HEAVY, heavy, replace=False))]
    share = rng.uniform(0.2, 0.97)
    z = np.concatenate([share * rng.dirichlet(np.ones(light)), (1.0 - share) * rng.dirichlet(np.ones(heavy))])
    return names, str(rng.choice(["PR", "SRK"])), z


def check_order(system, plain, states, counts):
    """Phases in order by the plain equation: the least packed first if it is a vapor, then liquids by rising mass density."""
    trouble = []
    for i in np.flatnonzero(states.n_phases > 1):
        n, T, P = int(states.n_phases[i]), states.T[i], states.P[i]
        x, Z, kinds = states.result.x[i, :n], states.result.Z[i, :n], states.result.kinds[i, :n]
        packing = np.array([plain.packing(T, P, x[k], Z[k]) for k in range(n)])
        density = x @ system.molar_mass / Z
        counts["states of several phases"] += 1
        wrong = kinds[0] == 0 and packing[0] > packing[1:].min() * (1.0 + 1e-6)
        liquids = density[int(kinds[0] == 0) :]
        if wrong or (np.diff(liquids) < -1e-6 * liquids[:-1]).any() or (kinds[1:] == 0).any():
            counts["  out of order"] += 1
            trouble.append(f"order at T={T!r} P={P!r}")
    return trouble


def between(system, z, a, b, stop):
    """Two states halved towards each other while their numbers of phases stay; None where another number comes between."""
    ends = [system.flash(z, T=T, P=P) for T, P in (a, b)]
    places = [a, b]
    for _ in range(HALVINGS):
        middle = (np.sqrt(places[0][0] * places[1][0]), np.sqrt(places[0][1] * places[1][1]))
        state = system.flash(z, T=middle[0], P=middle[1])
        side = stop(state, *ends)
        if side is None:
            return None
        places[side], ends[side] = middle, state
    return ends


def three_meet(one, other):
    """Whether two states of two phases have three between them, as those of a binary on both sides of its three-phase line: one's phase is none of the other's."""

    def far(phase, state):
        return min(abs(np.log(phase.molar_volume / p.molar_volume)) for p in state.phases) > 0.1

    return any(far(p, other) for p in one.phases) and any(far(p, one) for p in other.phases)


def check_shares(system, z, states, counts):
    """The share of vapor along an isotherm: no jump among two-phase states, and 0 or 1 beyond a border as just inside it."""
    trouble = []
    share, n = np.nan_to_num(states.vapor_fraction), states.n_phases
    places = list(zip(states.T, states.P, strict=True))
    for i in range(len(n) - 1):
        if n[i] == n[i + 1] == 2:
            counts["steps between two-phase states"] += 1
            if abs(share[i] - share[i + 1]) < JUMP:
                continue

            def nearer(state, one, other):
                if state.n_phases != 2:
                    return None
                return int(abs(state.vapor_fraction - one.vapor_fraction) > abs(state.vapor_fraction - other.vapor_fraction))

            ends = between(system, z, places[i], places[i + 1], nearer)
            if ends is not None and abs(ends[0].vapor_fraction - ends[1].vapor_fraction) > 0.8 * JUMP:
                if three_meet(*ends):
                    counts["  three phases met"] += 1
                    continue
                counts["  jumps"] += 1
                trouble.append(f"jump at T={ends[0].T!r} P={ends[0].P!r}")
        if {int(n[i]), int(n[i + 1])} == {1, 2}:
            counts["borders"] += 1

            def same(state, one, other):
                return {one.n_phases: 0, other.n_phases: 1}.get(state.n_phases)

            ends = between(system, z, places[i], places[i + 1], same)
            if ends is None:
                continue
            two = ends[int(n[i + 1] == 2)]
            alike = max(abs(v - w) for v, w in zip(*(p.composition.values() for p in two.phases), strict=True)) < 0.02
            if not alike and abs(ends[0].vapor_fraction - ends[1].vapor_fraction) > JUMP:
                counts["  names change there"] += 1
                trouble.append(f"border at T={two.T!r} P={two.P!r}")
            if two.phases[0].kind == "vapor":
                trouble += check_all(system, z, two, ends, counts)
    return trouble


def check_all(system, z, two, ends, counts):
    """The bubble and dew points at a border's temperature have it among them."""
    one = ends[0] if ends[1] is two else ends[1]
    kind = "dew" if one.vapor_fraction > 0.5 else "bubble"
    try:
        point = getattr(system, kind)(z, T=two.T)
        pressures = np.array([p.P for p in point.all] + [point.P])
    except sl.CalculationError:
        pressures = np.zeros(1)
    if np.abs(pressures / two.P - 1.0).min() > 1e-4:
        counts["  not among all"] += 1
        return [f"{kind} point at T={two.T!r} P={two.P!r} not among {pressures.tolist()}"]
    return []


def check_marks(system, z, envelope, counts):
    """Nothing splits a little beyond the marks, over the whole range of the other condition."""
    trouble = []
    P = np.geomspace(1.01e5, 4.9e7, 240)
    if envelope.cricondentherm is not None:
        counts["cricondentherms"] += 1
        T_top, P_top = envelope.cricondentherm
        near = np.concatenate([P, P_top * np.linspace(0.9, 1.1, 60)])
        beyond = system.flash(z, T=T_top + BEYOND_T, P=near)
        if (beyond.n_phases > 1).any():
            counts["  splits beyond"] += 1
            trouble.append(f"splits {BEYOND_T} K beyond the cricondentherm {T_top!r}, at P={near[beyond.n_phases > 1][0]!r}")
    if envelope.cricondenbar is not None:
        counts["cricondenbars"] += 1
        T_top, P_top = envelope.cricondenbar
        coldest = max(120.0, min(float(line.T.min()) for line in envelope.lines))
        T = np.concatenate([np.linspace(coldest, 750.0, 200), T_top * np.linspace(0.95, 1.05, 60)])
        beyond = system.flash(z, T=T, P=P_top * (1.0 + BEYOND_P))
        if (beyond.n_phases > 1).any():
            counts["  splits above"] += 1
            trouble.append(f"splits above the cricondenbar {P_top!r}, at T={T[beyond.n_phases > 1][0]!r}")
    return trouble


def check_names(system, z, envelope, counts):
    """Where a line leads through one critical point from bubble points to dew points, the feed is what it is on that side of it, however close."""
    trouble = []
    for line, of_liquids in zip(envelope.lines, envelope.of_liquids, strict=True):
        if not line.closed or len(line.critical) != 1 or of_liquids.any():
            continue
        at = np.arange(len(line.T))
        vapor = system.phase_model.at(line.T, line.P).is_vapor(np.tile(z, (len(at), 1)), line.roots[:, 0])
        wrong = (vapor != line.first_is_lighter) & (at != line.critical[0])
        counts["saturation points named"] += len(at) - 1
        counts["  named otherwise"] += int(wrong.sum())
        trouble += [f"a feed's name at T={T!r} P={P!r}" for T, P in zip(line.T[wrong], line.P[wrong], strict=True)]
    return trouble


def check_qualities(system, z, envelope, counts):
    """Where flashes along isobars pass a share among states of two phases, its line is there."""
    trouble = []
    for P in (3e5, 2e6, 8e6):
        states = system.flash(z, T=np.linspace(130.0, 650.0, 160), P=P)
        share, n, T = np.nan_to_num(states.vapor_fraction), states.n_phases, states.T
        for i in np.flatnonzero(
            (n[:-1] == 2) & (n[1:] == 2) & (states.result.kinds[:-1, 0] == 0) & (states.result.kinds[1:, 0] == 0)
        ):
            for q in QUALITIES:
                if (share[i] - q) * (share[i + 1] - q) >= 0.0:
                    continue
                counts["shares passed"] += 1
                passed = T[i] + (q - share[i]) / (share[i + 1] - share[i]) * (T[i + 1] - T[i])
                if passed > envelope.surveyed_from and not any(
                    _near(line, passed, P, 1.2 * (T[1] - T[0])) for line in envelope.quality_lines[q]
                ):
                    counts["  no line there"] += 1
                    trouble.append(f"no {q} line at T={passed!r} P={P!r}")
    return trouble


def _near(line, T, P, reach):
    """Whether a line passes the pressure within ``reach`` K."""
    side = np.log(line.P / P)
    for i in np.flatnonzero(side[:-1] * side[1:] <= 0.0):
        t = side[i] / (side[i] - side[i + 1]) if side[i] != side[i + 1] else 0.0
        if abs(line.T[i] + t * (line.T[i + 1] - line.T[i]) - T) < reach:
            return True
    return False


def look(rng):
    """One mixture: two isotherms, its envelope with five quality lines."""
    names, eos, z = random_mixture(rng)
    temperatures = rng.uniform(160.0, 600.0, 2)

    def trouble(counts):
        system = sl.System(names, eos=eos)
        plain = Plain(system)
        found = []
        for T in temperatures:
            states = system.flash(z, T=T, P=np.geomspace(1e5, 1e8, 70))
            counts["states"] += len(states)
            found += check_order(system, plain, states, counts) + check_shares(system, z, states, counts)
        envelope = system.envelope(z, quality=QUALITIES)
        counts["envelopes"] += 1
        counts["critical points missing, as noted"] += len(envelope.missing_critical)
        found += check_names(system, z, envelope, counts)
        return found + check_marks(system, z, envelope, counts) + check_qualities(system, z, envelope, counts)

    return f"System({names!r}, eos={eos!r}), z={z.tolist()!r}", trouble


if __name__ == "__main__":
    sys.exit(search(__doc__, "mixtures", 200, look))
