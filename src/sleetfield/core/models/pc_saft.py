"""PC-SAFT without association: chains of spheres that attract each other.

    Aᴿ/NkT = m̄ a_hs - Σ xᵢ(mᵢ - 1) ln gᵢᵢ + a_disp,     dᵢ = σᵢ[1 - 0.12 exp(-3εᵢ/kT)],     ζₖ = (π/6) N_A Σ ρᵢmᵢdᵢᵏ,     η = ζ₃
    a_hs = [3ζ₁ζ₂/(1 - ζ₃) + ζ₂³/(ζ₃(1 - ζ₃)²) + (ζ₂³/ζ₃² - ζ₀) ln(1 - ζ₃)]/ζ₀
    gᵢᵢ = 1/(1 - ζ₃) + (3/2) dᵢζ₂/(1 - ζ₃)² + (1/2) dᵢ²ζ₂²/(1 - ζ₃)³
    a_disp = -2πρ I₁(η, m̄) Σ Σ xᵢxⱼmᵢmⱼ (εᵢⱼ/kT) σᵢⱼ³ - πρ m̄ C₁(η, m̄) I₂(η, m̄) Σ Σ xᵢxⱼmᵢmⱼ (εᵢⱼ/kT)² σᵢⱼ³
    σᵢⱼ = (σᵢ + σⱼ)/2,     εᵢⱼ = √(εᵢεⱼ) (1 - kᵢⱼ)

Reference: Gross and Sadowski, Ind. Eng. Chem. Res. 40 (2001) 1244-1260, eqs. 3 to 25 and Table 1.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple, Self

import numpy as np

from ..arrays import Array, Index, Numbers
from ..compiled.association_loops import NO_SITES, PlainSites
from ..compiled.equation_loops import common
from ..compiled.loops import Plain
from ..compiled.pc_saft_loops import Attractions, Segments, Tables, plain
from ..constants import N_AVOGADRO, R
from .attraction import Attraction
from .density_roots import Isotherm
from .from_critical_constants import FromCriticalConstants
from .helmholtz import First, HelmholtzModel

_K = np.pi / 6.0 * N_AVOGADRO
_CLOSEST = np.pi / (3.0 * np.sqrt(2.0))
"""Packing of spheres at their closest."""
_STEP = 1e-30

# a₀ᵢ, a₁ᵢ, a₂ᵢ of I₁ and b₀ᵢ, b₁ᵢ, b₂ᵢ of I₂, i from 0 to 6
_A = np.array(
    [
        [0.9105631445, 0.6361281449, 2.6861347891, -26.547362491, 97.759208784, -159.59154087, 91.297774084],
        [-0.3084016918, 0.1860531159, -2.5030047259, 21.419793629, -65.255885330, 83.318680481, -33.746922930],
        [-0.0906148351, 0.4527842806, 0.5962700728, -1.7241829131, -4.1302112531, 13.776631870, -8.6728470368],
    ]
)
_B = np.array(
    [
        [0.7240946941, 2.2382791861, -4.0025849485, -21.003576815, 26.855641363, 206.55133841, -355.60235612],
        [-0.5755498075, 0.6995095521, 3.8925673390, -17.215471648, 192.67226447, -161.82646165, -165.20769346],
        [0.0976883116, -0.2557574982, -9.1558561530, 20.642075974, -38.804430052, 93.626774077, -29.666905585],
    ]
)

_CHAIN = np.array([[0.0, 8.0, -2.0, 0.0, 0.0], [8.0, 20.0, -4.0, 0.0, 0.0]])
_OTHER = np.array([[0.0, 20.0, -27.0, 12.0, -2.0], [40.0, -48.0, 12.0, 2.0, 0.0]])
"""Numerators of both fractions of 1/C₁ over (1 - η)⁴ and [(1 - η)(2 - η)]², and those of their derivatives, one power higher: powers of η from 0."""


class _Integral(NamedTuple):
    """A function of packing and chain length, and its derivatives by both."""

    value: Numbers
    by_packing: Numbers
    by_length: Numbers


class _Moments(NamedTuple):
    """What the energy depends on: moments ζ₀ to ζ₃, mean chain length, both sums of attractions."""

    z0: Numbers
    z1: Numbers
    z2: Numbers
    z3: Numbers
    length: Numbers
    e1: Numbers
    e2: Numbers


class _State(NamedTuple):
    """Aᴿ/VRT with its derivatives by densities, and what those by temperature are made of: diameters, moments, derivatives by them and by ζ₀ to ζ₃ with the chains' share, ρᵢ(mᵢ - 1)/gᵢ, ∂gᵢ/∂dᵢ."""

    f: Numbers
    f_rho: Numbers
    d: Numbers
    q: _Moments
    by: _Moments
    by_spheres: tuple[Numbers, ...]
    weight: Numbers
    contact_d: Numbers


class PCSAFT(FromCriticalConstants, HelmholtzModel):
    """PC-SAFT without association.

    Parameters
    ----------
    m : (C,)
        Segments of a chain.
    sigma : (C,)
        Diameter of a segment, m.
    epsilon : (C,)
        Depth of its potential over k, K.
    kij : (C, C) or (K, C, C)
        Symmetric binary interaction parameters, zero on the diagonal, or the coefficients of what they are by temperature (`temperature_terms`).
    Tc, Pc, omega : (C,)
        Critical temperature, K, and pressure, Pa, and acentric factor: where iterations start, and nothing else.
    molar_mass : (C,), optional
        kg/mol, for the order of liquids.

    """

    def __init__(
        self,
        m: Array,
        sigma: Array,
        epsilon: Array,
        kij: Array,
        Tc: Array,
        Pc: Array,
        omega: Array,
        molar_mass: Array | None = None,
    ) -> None:
        self.m, self.sigma, self.epsilon, self.kij = m, sigma, epsilon, kij
        self.Tc, self.Pc, self.omega = Tc, Pc, omega
        self.n_components, self.molar_mass = len(m), molar_mass
        self.attraction = Attraction(kij)
        cubes = (0.5 * (sigma[:, None] + sigma)) ** 3 * m[:, None] * m
        self._w1, self._w2 = cubes * np.sqrt(epsilon[:, None] * epsilon), cubes * epsilon[:, None] * epsilon
        self._volume = _K / _CLOSEST * m * sigma**3

    def select(self, components: Sequence[int]) -> Self:
        i = np.asarray(components)
        mass = None if self.molar_mass is None else self.molar_mass[i]
        kij = self.kij[..., i[:, None], i]
        return type(self)(self.m[i], self.sigma[i], self.epsilon[i], kij, self.Tc[i], self.Pc[i], self.omega[i], mass)

    def compiled(self) -> Plain | None:
        return self._plain(NO_SITES)

    def _plain(self, sites: PlainSites) -> Plain:
        terms, pairs = self.attraction.sum
        attractions = (
            Attractions(self._w1 * pairs[0], self._w2 * pairs[0] ** 2, (), None)
            if len(terms) == 1
            else Attractions(self._w1, self._w2, terms, pairs)
        )
        segments = Segments(self.m, self.sigma, self.epsilon, self._volume)
        tables = Tables(_A, _B, _SERIES, _COMPRESSIBILITY, _GRID[:, 0])
        return plain(
            common(R, self.Tc, self.Pc, self.omega), N_AVOGADRO, self.critical_packing, segments, attractions, tables, sites
        )

    def covolume(self, T: Array, n: Array) -> Array:
        return np.asarray(n @ self._volume)

    # ---- the Helmholtz energy ----

    def _diameters(self, T: Numbers) -> Numbers:
        """Temperature-dependent diameters of segments ``(N, C)``."""
        return np.asarray(self.sigma * (1.0 - 0.12 * np.exp(-3.0 * self.epsilon / T[:, None])))

    def _diameter_slopes(self, T: Numbers) -> Numbers:
        """Their derivatives by temperature."""
        per_T = 1.0 / T[:, None]
        return np.asarray(-0.36 * self.sigma * self.epsilon * np.exp(-3.0 * self.epsilon * per_T) * per_T * per_T)

    def gradient(self, T: Numbers, rho: Numbers) -> tuple[Numbers, Numbers]:
        state = self._state(T, rho)
        return state.f, state.f_rho

    def first(self, T: Numbers, rho: Numbers) -> First:
        d_T = self._diameter_slopes(T)
        state = self._state(T, rho)
        _, by1, by2, by3 = state.by_spheres
        swelling = rho * (_K * self.m) * d_T
        warmer = (by1[:, None] + (2.0 * by2[:, None] + (3.0 * by3)[:, None] * state.d) * state.d) * swelling
        f_T = warmer.sum(axis=-1) - (state.weight * state.contact_d * d_T).sum(axis=-1)
        bent1, bent2 = self._bent(T, rho)
        q = state.q
        return First(state.f, f_T + state.by.e1 * (bent1 - q.e1 / T) + state.by.e2 * (bent2 - 2.0 * q.e2 / T), state.f_rho)

    def _state(self, T: Numbers, rho: Numbers) -> _State:
        d, chains = self._diameters(T), self.m - 1.0
        spheres = self._spheres(d)
        total = rho.sum(axis=-1)
        e1_i, e2_i = self._attractions(T, rho)
        q = self._moments(rho, spheres, (e1_i, e2_i))
        length = q.length
        g, g2, g3, gd = _contact(d, q.z2[:, None], q.z3[:, None])
        weight = rho * chains / g
        energy, by = _energy(q)
        ln_g = chains * np.log(g)
        slopes = by.z0, by.z1, by.z2 - (weight * g2).sum(axis=-1), by.z3 - (weight * g3).sum(axis=-1)
        f_rho = by.e1[:, None] * e1_i + by.e2[:, None] * e2_i - ln_g + (by.length / total)[:, None] * (self.m - length[:, None])
        for slope, sphere in zip(slopes, spheres, strict=True):
            f_rho = f_rho + slope[:, None] * sphere
        return _State(energy - (rho * ln_g).sum(axis=-1), f_rho, d, q, by, slopes, weight, gd)

    def _spheres(self, d: Numbers) -> list[Numbers]:
        """What each component adds to ζ₀ to ζ₃."""
        powers = [_K * self.m + 0.0 * d]
        for _ in range(3):
            powers.append(powers[-1] * d)
        return powers

    def _attractions(self, T: Numbers, rho: Numbers) -> tuple[Numbers, Numbers]:
        """Derivatives of both sums of attractions by densities ``(N, C)``."""
        pairs, per_T = self.attraction.matrix(T), 1.0 / T[:, None]
        return 2.0 * per_T * _applied(self._w1 * pairs, rho), 2.0 * per_T * per_T * _applied(self._w2 * pairs * pairs, rho)

    def _bent(self, T: Numbers, rho: Numbers) -> tuple[Numbers, Numbers]:
        """What the interaction parameters' change with temperature adds to that of both sums ``(N,)``."""
        pairs = self.attraction.matrix(T)
        if pairs.ndim == 2:
            return 0.0 * T, 0.0 * T
        slope = self.attraction.slopes(T)[0]
        one = (rho * _applied(self._w1 * slope, rho)).sum(axis=-1) / T
        return one, (rho * _applied(2.0 * self._w2 * pairs * slope, rho)).sum(axis=-1) / (T * T)

    def _moments(self, rho: Numbers, spheres: list[Numbers], attractions: tuple[Numbers, Numbers]) -> _Moments:
        z0, z1, z2, z3 = ((rho * s).sum(axis=-1) for s in spheres)
        e1, e2 = (0.5 * (rho * e_i).sum(axis=-1) for e_i in attractions)
        return _Moments(z0, z1, z2, z3, (rho @ self.m) / rho.sum(axis=-1), e1, e2)

    def hessian(self, T: Array, rho: Array) -> Array:
        """From the second derivatives by the seven moments, and those of the chains' contact values."""
        d, chains, total = self._diameters(T), self.m - 1.0, rho.sum(axis=-1)
        spheres = self._spheres(d)
        e1_i, e2_i = self._attractions(T, rho)
        q = self._moments(rho, spheres, (e1_i, e2_i))
        length = q.length
        length_i = (self.m - length[:, None]) / total[:, None]
        gradients = np.stack([*spheres, length_i, e1_i, e2_i], axis=1)
        second, by = _second(q)
        contact, bent = _contact_logarithms(d, q.z2[:, None], q.z3[:, None])
        weight = rho * chains
        # chains: -Σ ρᵢ(mᵢ - 1) ln gᵢ
        for k, a in enumerate((2, 3)):
            for j, b in enumerate((2, 3)):
                second[:, a, b] -= (weight * bent[k][j]).sum(axis=-1)
        result = np.einsum("npi,npq,nqj->nij", gradients, second, gradients, optimize=True)
        for k in (0, 1):
            across = (chains * contact[k])[:, :, None] * spheres[2 + k][:, None, :]
            result -= across + across.transpose(0, 2, 1)
        pairs = self.attraction.matrix(T)
        result += (by.e1 / T)[:, None, None] * (2.0 * self._w1 * pairs) + (by.e2 / T**2)[:, None, None] * (
            2.0 * self._w2 * pairs**2
        )
        bend = length_i[:, :, None] + length_i[:, None, :]
        return np.asarray(result - (by.length / total)[:, None, None] * bend, dtype=float)

    def isotherm(self, T: Array, x: Array) -> Isotherm:
        d = self._diameters(T)
        unit = np.asarray(np.stack(self._moments(x, self._spheres(d), self._attractions(T, x))), dtype=float)
        u = np.asarray(d.T * (unit[2] / unit[3]), dtype=float)
        contact = np.stack([1.5 * u, 0.5 * u * u, 1.5 * u - 2.0, u * (u - 1.5)])
        return _Isotherm(unit, (x * (self.m - 1.0)).T, contact, _series(unit[4]))


_POWERS = 8


def _along_isotherms() -> tuple[Array, Array]:
    """Constant coefficients of powers of η: of the series ``(5, 8, 3)``, see `_series`, and of the numerators of 1/C₁ and its first two derivatives ``(6, 5)``."""
    i = np.arange(7.0)
    series = np.zeros((5, _POWERS, 3))
    series[0, :7], series[1, :6] = (_A * (i + 1.0)).T, (_A * (i * (i + 1.0)))[:, 1:].T
    series[2, 1:], series[3, :7], series[4, :6] = _B.T, (_B * (i + 1.0)).T, (_B * (i * (i + 1.0)))[:, 1:].T
    chain = [*_CHAIN, np.array([60.0, 72.0, -12.0])]
    # the derivative of the other's numerator over [(1 - η)(2 - η)]³, powers from 0
    bent = np.convolve(_OTHER[1, 1:4] * [1.0, 2.0, 3.0], [2.0, -3.0, 1.0]) + 3.0 * np.convolve(_OTHER[1, :4], [3.0, -2.0])
    numerators = np.zeros((6, 5))
    for row, coefficients in zip(numerators, (*chain, *_OTHER, bent), strict=True):
        row[: len(coefficients)] = coefficients
    return series, numerators


_SERIES, _COMPRESSIBILITY = _along_isotherms()


class _Isotherm(Isotherm):
    """P/RT and its slope from moments for a unit of density, with everything that does not depend on density at hand."""

    def __init__(self, moments: Array, chains: Array, contact: Array, series: Array) -> None:
        self.moments, self.chains, self.contact, self.series = moments, chains, contact, series
        self.all_chains = chains.sum(axis=0)

    def rows(self, index: Index) -> _Isotherm:
        return _Isotherm(self.moments[:, index], self.chains[:, index], self.contact[:, :, index], self.series[:, :, index])

    def grid(self, densest: Array) -> tuple[Array, Array, Array]:
        rho = _GRID / self.moments[3]
        return rho, *self._at(rho, _GRID, _GRID ** np.arange(_POWERS) @ self.series)

    def __call__(self, rho: Array) -> tuple[Array, Array]:
        eta = rho * self.moments[3]
        return self._at(rho, eta, _polynomials(self.series if eta.ndim == 1 else self.series[:, :, None], eta))

    def _at(self, rho: Array, eta: Array, series: Array) -> tuple[Array, Array]:
        """``eta`` is ``(..., N)``, or ``(K, 1)`` where it is the same for all states; what depends on it alone is worked out apart."""
        z0, z1, z2, unit, m, e1, e2 = self.moments
        one, one_eta, y, y1, y2 = series
        w = 1.0 / (1.0 - eta)
        # 1/C₁ is 1 + other + m̄ (chain - other); then ηI₂ divided by it, and derivatives of all
        (chain, other), (chain1, other1), (chain2, other2) = _compressibility(eta, w)
        inverse = 1.0 / (1.0 + other + m * (chain - other))
        q1, q2 = other1 + m * (chain1 - other1), other2 + m * (chain2 - other2)
        g = y * inverse
        g1 = (y1 - g * q1) * inverse
        g2 = (y2 - 2.0 * g1 * q1 - g * q2) * inverse
        c1, c2 = -2.0 * np.pi * N_AVOGADRO * e1, -np.pi * N_AVOGADRO * e2 * m
        both = c1 * one + c2 * g1
        r0, r1, r2 = z0 / unit, z1 / unit, z2 / unit
        values, slopes = _spheres(eta, w)
        parts = r0 / _K, 3.0 * r1 * r2 / _K, r2 * r2 * r2 / _K
        spheres, spheres_eta = (sum(part * each for part, each in zip(parts, of, strict=True)) for of in (values, slopes))
        chains, chains_eta = self._chains(eta, w)
        rest = 1.0 - chains + rho * both
        return rho * rest + spheres, rest + rho * both + unit * (rho * (rho * (c1 * one_eta + c2 * g2) - chains_eta) + spheres_eta)

    def _chains(self, eta: Array, w: Array) -> tuple[Array, Array]:
        """Σ xᵢ(mᵢ - 1) (ζ₂ ∂g/∂ζ₂ + ζ₃ ∂g/∂ζ₃)/g and its derivative by η.

        With y = η/(1 - η) and uᵢ = dᵢζ₂/ζ₃ that is Σ xᵢ(mᵢ - 1) y (3 + rᵢ), rᵢ = [(3/2)uᵢ - 2 + uᵢ(uᵢ - 3/2)y]/[1 + uᵢy(3 + uᵢy)/2].
        """
        y = eta * w
        weight, linear, square, top, rise = (a if eta.ndim == 1 else a[:, None, :] for a in (self.chains, *self.contact))
        curved = square * y
        inverse = 1.0 / (1.0 + y * (linear + curved))
        r = (top + rise * y) * inverse
        bent = (rise - r * (linear + 2.0 * curved)) * inverse
        value, slope = 3.0 * self.all_chains + (weight * r).sum(axis=0), (weight * bent).sum(axis=0)
        return y * value, (value + y * slope) * (w * w)


_GRID = np.array([0.013, 0.05, 0.10, 0.15, 0.22, 0.31, 0.45, 0.70])[:, None]
"""Packings η at which pressure is looked at first; there is one loop at most."""


def _compressibility(eta: Array, w: Array) -> tuple[tuple[Array, Array], tuple[Array, Array], tuple[Array, Array]]:
    """Both fractions of 1/C₁, and their first and second derivatives."""
    chain, chain1, chain2, other, other1, other2 = _polynomials(
        _COMPRESSIBILITY.reshape(_COMPRESSIBILITY.shape + (1,) * eta.ndim), eta
    )
    v = w / (2.0 - eta)
    w2, v2 = w * w, v * v
    w4 = w2 * w2
    return (chain * w4, other * v2), (chain1 * w4 * w, other1 * v2 * v), (chain2 * w4 * w2, other2 * v2 * v2)


def _spheres(eta: Array, w: Array) -> tuple[tuple[Array, ...], tuple[Array, ...]]:
    """What multiplies ζ₀, 3ζ₁ζ₂ and ζ₂³, over powers of ζ₃, in the pressure of hard spheres, and their derivatives by η."""
    y = eta * w
    square, far = y * y, 3.0 - eta
    return (square / w, square, square * y * far), (y * (1.0 + w), 2.0 * y * w * w, square * w * (9.0 - 4.0 * eta + 3.0 * far * y))


def _series(length: Array) -> Array:
    """Coefficients of powers of η along an isotherm: (ηI₁)' and its derivative, ηI₂ and its first two ``(5, 8, N)``."""
    inverse = 1.0 / length
    share = np.stack([np.ones_like(length), 1.0 - inverse, (1.0 - inverse) * (1.0 - 2.0 * inverse)])
    return np.asarray((_SERIES.reshape(-1, 3) @ share).reshape(*_SERIES.shape[:2], -1))


def _polynomials(coefficients: Array, eta: Array) -> Array:
    """Several at once: ``coefficients (S, I, ...)`` of the powers of η from 0."""
    value = coefficients[:, -1] * eta + coefficients[:, -2]
    for i in range(coefficients.shape[1] - 3, -1, -1):
        value *= eta
        value += coefficients[:, i]
    return np.asarray(value)


def _applied(matrix: Numbers, rho: Numbers) -> Numbers:
    return rho @ matrix if matrix.ndim == 2 else np.einsum("nij,nj->ni", matrix, rho)


def _contact(d: Numbers, z2: Numbers, z3: Numbers) -> tuple[Numbers, Numbers, Numbers, Numbers]:
    """The contact value of pairs of like segments, and its derivatives by ζ₂, ζ₃ and d."""
    w = 1.0 / (1.0 - z3)
    b = d * z2 * w
    g = w * (1.0 + b * (1.5 + 0.5 * b))
    by_b = w * (1.5 + b)
    return g, by_b * d * w, w * (g + by_b * b), by_b * z2 * w


def _contact_logarithms(d: Numbers, z2: Numbers, z3: Numbers) -> tuple[list[Array], list[list[Array]]]:
    """At real states, first and second derivatives of ln g by ζ₂ and ζ₃."""

    def first(z2: Numbers, z3: Numbers) -> list[Numbers]:
        g, g2, g3, _ = _contact(d, z2, z3)
        return [g2 / g, g3 / g]

    h2, h3 = _STEP * z2, _STEP * z3
    by_2, by_3 = first(z2 + 1j * h2, z3 + 0j), first(z2 + 0j, z3 + 1j * h3)
    bent = [[np.imag(by_2[k]) / h2, np.imag(by_3[k]) / h3] for k in (0, 1)]
    return [np.real(v) for v in by_2], bent


def _energy(q: _Moments) -> tuple[Numbers, _Moments]:
    """Spheres and attractions: Aᴿ/VRT, and its derivatives by the moments."""
    w, s = 1.0 / (1.0 - q.z3), q.z2 / q.z3
    lnw = np.log(1.0 - q.z3)
    cube, square = q.z2 * s * s, q.z2 * w
    spheres = 3.0 * q.z1 * square + s * square * square + (cube - q.z0) * lnw
    by_2 = 3.0 * w * (q.z1 + s * square) + 3.0 * s * s * lnw
    by_3 = w * (3.0 * q.z1 * square + s * square * (2.0 * square - s) - cube + q.z0) - 2.0 * s * s * s * lnw
    one, two = _integrals(q.z3, q.length)
    c1, c2 = -2.0 * np.pi * N_AVOGADRO, -np.pi * N_AVOGADRO
    energy = spheres / _K + c1 * one.value * q.e1 + c2 * two.value * q.e2
    by = _Moments(
        -lnw / _K,
        3.0 * q.z2 * w / _K,
        by_2 / _K,
        by_3 / _K + c1 * one.by_packing * q.e1 + c2 * two.by_packing * q.e2,
        c1 * one.by_length * q.e1 + c2 * two.by_length * q.e2,
        c1 * one.value,
        c2 * two.value,
    )
    return energy, by


def _second(q: _Moments) -> tuple[Array, _Moments]:
    """The second derivatives by the moments ``(N, 7, 7)``, exact by complex steps in all of them at once, and the first ones."""
    here = np.stack(q)
    h = _STEP * here
    stepped = _energy(_Moments(*(here[:, None] + 1j * np.eye(len(q))[:, :, None] * h[:, None])))[1]
    # a slope that depends on none of the steps is not complex in them all
    slopes = [np.broadcast_to(slope, h.shape) for slope in stepped]
    second = np.stack([np.imag(slope) / h for slope in slopes])
    return np.moveaxis(second, -1, 0), _Moments(*(np.real(slope[0]) for slope in slopes))


def _integrals(packing: Numbers, length: Numbers) -> tuple[_Integral, _Integral]:
    """I₁, and m̄ C₁ I₂."""
    one, (i2, i2_eta, i2_m) = _power_series(_A, packing, length), _power_series(_B, packing, length)
    w = 1.0 / (1.0 - packing)
    v = w / (2.0 - packing)
    w4, v2 = (w * w) * (w * w), v * v
    (chain, chain_eta), (other, other_eta) = _numerators(_CHAIN, packing), _numerators(_OTHER, packing)
    chain, chain_eta, other, other_eta = chain * w4, chain_eta * (w4 * w), other * v2, other_eta * (v2 * v)
    inverse = 1.0 + length * chain + (1.0 - length) * other
    c = 1.0 / inverse
    c_eta, c_m = -c * c * (length * chain_eta + (1.0 - length) * other_eta), -c * c * (chain - other)
    mc = length * c
    two = _Integral(mc * i2, length * (c_eta * i2 + c * i2_eta), c * i2 + length * c_m * i2 + mc * i2_m)
    return one, two


def _numerators(table: Array, eta: Numbers) -> Iterator[Numbers]:
    """Polynomials in η."""
    for row in table:
        value = 0.0 * eta
        for c in row[::-1]:
            value = value * eta + c
        yield value


def _power_series(table: Array, packing: Numbers, length: Numbers) -> _Integral:
    """Σ aᵢ(m̄) ηⁱ with aᵢ = a₀ᵢ + (m̄ - 1)/m̄ a₁ᵢ + (m̄ - 1)(m̄ - 2)/m̄² a₂ᵢ."""
    inverse = 1.0 / length
    first, second = 1.0 - inverse, (1.0 - inverse) * (1.0 - 2.0 * inverse)
    first_m, second_m = inverse**2, inverse**2 * (3.0 - 4.0 * inverse)
    value, slope, by_length = 0.0 * packing, 0.0 * packing, 0.0 * packing
    for a0, a1, a2 in table.T[::-1]:
        slope = slope * packing + value
        value = value * packing + (a0 + first * a1 + second * a2)
        by_length = by_length * packing + (first_m * a1 + second_m * a2)
    return _Integral(value, slope, by_length)
