"""Virial equation of state, cut off after the second coefficient: Z = 1 + BP/RT, for vapors at moderate pressure.

    B = ΣΣ yᵢyⱼ Bᵢⱼ,   ln φᵢ = (2 Σ yⱼBᵢⱼ - B) P/RT

`SecondVirial` is that, whatever the coefficients; `Virial` has them by corresponding states,

    Bᵢⱼ P_c,ij/(R T_c,ij) = f⁰(T_r) + ω f¹(T_r) + f²(T_r),   f² = a/T_r⁶ - b/T_r⁸

with the functions of Tsonopoulos, AIChE J. 20 (1974) 263-272; f² is that of polar components, and between two of them has the means of a and b
(ibid. 21 (1975) 827-829). The
usual mixing rules (Prausnitz, Lichtenthaler and de Azevedo, Molecular Thermodynamics of Fluid-Phase Equilibria, 3rd ed. (1999), ch. 5):
T_c,ij = √(T_c,i T_c,j)(1 - kᵢⱼ), V_c,ij = [(V_c,i^⅓ + V_c,j^⅓)/2]³, Z_c,ij and ω_ij the means, P_c,ij = Z_c,ij R T_c,ij/V_c,ij.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from ..compiled.pair_loops import NOTHING, VIRIAL_POWERS, PlainVirial
from ..constants import R
from ..recent import Recent
from .activity.pair_function import PairFunction
from .attraction import Attraction
from .contract import LIQUID, STABLE, VAPOR, BoundModel, Description, Evaluation, Kind

LEAST_Z = 0.5
"""What the second coefficient takes off may not be more than half: a gas is some half as dense as at its critical point then, further coefficients
count as much, and the equation has no vapor to offer."""

_F0 = {0: 0.1445, 1: -0.330, 2: -0.1385, 3: -0.0121, 8: -0.000607}
_F1 = {0: 0.0637, 2: 0.331, 3: -0.423, 8: -0.008}


Given = tuple[NDArray[np.bool_], Array]
"""Which coefficients ``(C, C)`` are not correlated but given, and what they are by temperature ``(K, C, C)`` (`temperature_terms`), m3/mol."""


class SecondVirial(ABC):
    """A vapor by its second virial coefficients."""

    def __init__(self, n_components: int, given: Given | None) -> None:
        self.n_components, self.given = n_components, given
        self._recent = Recent(self._coefficients)

    @abstractmethod
    def correlated(self, T: Array) -> tuple[Array, Array, Array]:
        """Bᵢⱼ by the correlation, m3/mol, and its first two derivatives by temperature ``(N, C, C)``."""

    @abstractmethod
    def select(self, components: Sequence[int]) -> SecondVirial:
        """The same for those components."""

    def coefficients(self, T: Array) -> tuple[Array, Array, Array]:
        """Bᵢⱼ, m3/mol, and its first two derivatives by temperature ``(N, C, C)``."""
        return self._recent(T)

    def _coefficients(self, T: Array) -> tuple[Array, Array, Array]:
        found = self.correlated(T)
        if self.given is not None:
            there, coefficients = self.given
            own = PairFunction(coefficients)
            for correlated, part in zip(found, (own.value(T), own.slope(T), own.curvature(T)), strict=True):
                correlated[:, there] = part[there].T
        return found

    def given_of(self, i: NDArray[np.intp]) -> Given | None:
        """What is given of components ``i``."""
        if self.given is None:
            return None
        there, coefficients = self.given
        return there[i[:, None], i], coefficients[..., i[:, None], i]

    def at(self, T: Array, P: Array) -> BoundVirial:
        """Bind to states."""
        return BoundVirial(T, P, self.coefficients(T))


class Virial(SecondVirial):
    """Second virial coefficients of a mixture by corresponding states.

    Parameters
    ----------
    Tc, Pc, omega, Vc : (C,)
        Critical temperature, K; critical pressure, Pa; acentric factor; critical volume, m3/mol.
    kij : (C, C) or (K, C, C)
        What the geometric mean of critical temperatures is lowered by, or the coefficients of what they are by temperature (`temperature_terms`).
    polar : (2, C), optional
        Constants a and b of the polar term, both zero for a component without one.
    given : Given, optional
        Coefficients that are known.
    """

    def __init__(
        self,
        Tc: Array,
        Pc: Array,
        omega: Array,
        Vc: Array,
        kij: Array,
        polar: Array | None = None,
        given: Given | None = None,
    ) -> None:
        super().__init__(len(Tc), given)
        self.Tc, self.Pc, self.omega, self.Vc, self.kij = Tc, Pc, omega, Vc, kij
        self.polar = np.zeros((2, len(Tc))) if polar is None else polar
        self._means, self._attraction = np.sqrt(Tc[:, None] * Tc), Attraction(kij)
        Zc, root = Pc * Vc / (R * Tc), np.cbrt(Vc)
        V_ij = (0.5 * (root[:, None] + root)) ** 3
        # R T_c,ij/P_c,ij, in which the temperature cancels; a component with itself keeps its own constants
        scale = V_ij / (0.5 * (Zc[:, None] + Zc))
        np.fill_diagonal(scale, R * Tc / Pc)
        both = np.asarray(self.polar.any(axis=0))
        a, b = 0.5 * (self.polar[:, :, None] + self.polar[:, None, :]) * (both[:, None] & both)
        self._series = _series(0.5 * (omega[:, None] + omega), a, b) * scale

    def correlated(self, T: Array) -> tuple[Array, Array, Array]:
        t = T[:, None, None]
        value, slope, curvature = np.zeros((3, len(T), self.n_components, self.n_components))
        # ln(T_c,ij/T) and its first two derivatives by temperature
        ratio = np.asarray(self._attraction.matrix(T), dtype=float)
        first, second = (np.asarray(part, dtype=float) for part in self._attraction.slopes(T))
        u, u1 = self._means * ratio / t, first / ratio - 1.0 / t
        u2 = second / ratio - (first / ratio) ** 2 + 1.0 / t**2
        for power, own in zip(VIRIAL_POWERS, self._series, strict=True):
            term = own * u**power
            value += term
            slope += power * u1 * term
            curvature += (power**2 * u1**2 + power * u2) * term
        return value, slope, curvature

    def plain(self) -> PlainVirial:
        """The coefficients as the compiled engine takes them."""
        given, own = (None, NOTHING) if self.given is None else (self.given[0], PairFunction(self.given[1]).plain)
        return PlainVirial(self._means, self._attraction.sum, self._series, given, own)

    def select(self, components: Sequence[int]) -> Virial:
        """The same for those components."""
        i = np.asarray(components)
        return Virial(
            self.Tc[i], self.Pc[i], self.omega[i], self.Vc[i], self.kij[..., i[:, None], i], self.polar[:, i], self.given_of(i)
        )


def _series(omega: Array, a: Array, b: Array) -> Array:
    """What each of `VIRIAL_POWERS` of T_c/T is multiplied by in f⁰ + ω f¹ + f² ``(6, C, C)``."""
    return np.stack([_F0.get(n, 0.0) + omega * _F1.get(n, 0.0) + a * (n == 6) - b * (n == 8) for n in VIRIAL_POWERS])


class BoundVirial(BoundModel):
    """The virial equation at given T and P."""

    def __init__(self, T: Array, P: Array, B: tuple[Array, Array, Array]) -> None:
        self.T, self.P, self._B = T, P, B

    def rows(self, index: Index) -> BoundVirial:
        B, B1, B2 = self._B
        return BoundVirial(self.T[index], self.P[index], (B[index], B1[index], B2[index]))

    def _mixed(self, x: Array, B: Array) -> tuple[Array, Array]:
        """Σ yⱼBᵢⱼ ``(N, C)`` and ΣΣ yᵢyⱼBᵢⱼ ``(N,)``."""
        own = np.einsum("nij,nj->ni", B, x)
        return own, (x * own).sum(axis=-1)

    def ln_phi(self, x: Array, kind: Kind = STABLE) -> Array:
        own, B = self._mixed(x, self._B[0])
        return np.asarray((2.0 * own - B[:, None]) * (self.P / (R * self.T))[:, None])

    def describe(self, x: Array, kind: Kind = STABLE) -> Description:
        Z = 1.0 + self._mixed(x, self._B[0])[1] * self.P / (R * self.T)
        kinds = np.where(Z < LEAST_Z, LIQUID, VAPOR).astype(np.int8)
        return Description(Z, kinds, (kinds == LIQUID).astype(float))

    def evaluate(self, x: Array, kind: Kind = STABLE) -> Evaluation:
        T, P = self.T, self.P
        p = P / (R * T)
        (own, B), (own1, B1), (_, B2) = (self._mixed(x, part) for part in self._B)
        ln_phi = (2.0 * own - B[:, None]) * p[:, None]
        dT = (2.0 * own1 - B1[:, None]) * p[:, None] - ln_phi / T[:, None]
        g_TT = p * (B2 - 2.0 * B1 / T + 2.0 * B / T**2)
        Z_T = p * (B1 - B / T)

        def by_mole_numbers() -> Array:
            away = own - B[:, None]
            return np.asarray(2.0 * (self._B[0] - B[:, None, None] - away[:, :, None] - away[:, None, :]) * p[:, None, None])

        return Evaluation(ln_phi, dT, ln_phi / P[:, None], g_TT, 1.0 + B * p, Z_T, B * p / P, by_mole_numbers)
