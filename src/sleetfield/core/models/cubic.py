"""Two-parameter cubic equations of state with van der Waals mixing: everything that PR and SRK share.

    P = RT/(V - b) - a(T)/((V + δ₁b)(V + δ₂b)),   a = ΣΣ xᵢxⱼ √(aᵢaⱼ)(1 - kᵢⱼ),   b = ΣΣ xᵢxⱼ (bᵢ + bⱼ)(1 - lᵢⱼ)/2,
    aᵢ = a_c,i αᵢ(T),   kᵢⱼ = k⁰ᵢⱼ + k¹ᵢⱼ T + k²ᵢⱼ/T

and in terms of A = aP/(RT)², B = bP/RT, with Aᵢ = ∂(n²A)/n∂nᵢ, b̄ᵢ = ∂(nb)/∂nᵢ, rᵢ = b̄ᵢ/b and I = ln[(Z + δ₁B)/(Z + δ₂B)]/((δ₁ - δ₂)B),

    ln φᵢ = rᵢ(Z - 1) - ln(Z - B) - I (Aᵢ - A rᵢ),      Σ xᵢ ln φᵢ = g = Z - 1 - ln(Z - B) - A I,    ∂g/∂Z = 0.

With a volume translation cᵢ (Péneloux, Rauzy and Fréze, Fluid Phase Equilib. 8 (1982) 7-23) the volume is V - Σ xᵢcᵢ and ln φᵢ becomes
ln φᵢ - cᵢP/RT, which is the same for every phase, so that equilibria stay and densities mend.

References: Soave, Chem. Eng. Sci. 27 (1972) 1197-1203; Peng and Robinson, Ind. Eng. Chem. Fundam. 15 (1976) 59-64; the
derivative structure after Michelsen and Mollerup, Thermodynamic Models: Fundamentals and Computational Aspects, 2nd ed. (2007), ch. 3.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import ClassVar, Self

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array, Index
from ..compiled.cubic_loops import Temperature, plain
from ..compiled.equation_loops import common
from ..compiled.loops import Plain
from ..constants import R
from .activity.contract import ActivityModel
from .alpha import AlphaFunction, Soave
from .contract import LIQUID, STABLE, VAPOR, Description, Evaluation, Kind, VolumeModel
from .equation_of_state import BoundEquation
from .from_critical_constants import FromCriticalConstants
from .mixing import AqueousInteractions, BoundMixing, ExcessGibbs, InWater, MixingRule, Reference, VanDerWaals, WongSandler

_CBRT_EPS = 1e-300
_SMALL_STEP = 1e-9
_LEAST_SLOPE = 1e-10
"""Of the cubic at a root, over its terms: there is less at a critical point alone, where it is rounding, and what it divides would drown what else there is."""
_THIN = 1e-6
"""A next to zero, where rounding of the closed form loses the small roots."""


class CubicModel(FromCriticalConstants, VolumeModel):
    """A cubic equation of state; a subclass gives δ₁, δ₂, Ω_a, Ω_b and m(ω).

    Parameters
    ----------
    Tc, Pc, omega : (C,)
        Critical temperature, K; critical pressure, Pa; acentric factor.
    kij : (C, C) or (K, C, C)
        Symmetric binary interaction parameters, zero on the diagonal, or the coefficients of what they are by temperature (`temperature_terms`).
    translation : (C,), optional
        What is taken off each component's molar volume, m3/mol.
    alpha : AlphaFunction, optional
        The temperature function; the equation's own by default.
    lij : (C, C), optional
        Parameters of the covolume, zero by default, which makes it linear.
    molar_mass : (C,), optional
        kg/mol, for the order of liquids.
    in_water : AqueousInteractions, optional
        Second interaction parameters, which hold in water.
    excess : tuple of str and ActivityModel, optional
        A mixing rule, HV, WS or one of `excess_references`, and whose excess Gibbs energy it takes, in place of ``lij``, and but for WS of ``kij``.

    """

    excess_references: ClassVar[Mapping[str, Reference]] = {}
    """Mixing rules by excess Gibbs energies that were published for the equation; every one has HV and WS, which follow from it."""
    delta1: ClassVar[float]
    delta2: ClassVar[float]
    omega_a: ClassVar[float]
    omega_b: ClassVar[float]
    critical_volume_ratio: ClassVar[float]
    """V_c/b of a pure component by this equation."""

    def __init__(
        self,
        Tc: Array,
        Pc: Array,
        omega: Array,
        kij: Array,
        translation: Array | None = None,
        alpha: AlphaFunction | None = None,
        lij: Array | None = None,
        molar_mass: Array | None = None,
        in_water: AqueousInteractions | None = None,
        excess: tuple[str, ActivityModel] | None = None,
    ) -> None:
        self.Tc, self.Pc, self.omega, self.kij, self.translation, self.lij = Tc, Pc, omega, kij, translation, lij
        self.in_water, self.excess = in_water, excess
        self.n_components, self.molar_mass = len(Tc), molar_mass
        self.b = self.omega_b * R * Tc / Pc
        self.root_ac = np.sqrt(self.omega_a) * R * Tc / np.sqrt(Pc)
        self.alpha = self.own_alpha(Tc, omega) if alpha is None else alpha
        self.mixing = self.mixing_rule()

    def mixing_rule(self) -> MixingRule:
        """Van der Waals', with what water's second interaction parameters add where there are any, or by an excess Gibbs energy; a subclass may have another."""
        if self.excess is not None:
            name, activity = self.excess
            if name == "WS":
                return WongSandler(self.root_a, self.b, R, activity, self.reference("HV").q1, self.kij)
            return ExcessGibbs(self.root_a, self.b, R, activity, self.reference(name))
        if self.in_water is None:
            return VanDerWaals(self._root_a, self.root_a, self.kij, self.b, self.lij)
        return InWater(self._root_a, self.root_a, self.kij, self.b, self.lij, self.in_water, self.Tc)

    @classmethod
    def reference(cls, rule: str) -> Reference:
        """What a mixing rule by an excess Gibbs energy has for this equation."""
        if rule != "HV":
            return cls.excess_references[rule]
        d1, d2 = cls.delta1, cls.delta2
        return Reference(-math.log((1.0 + d1) / (1.0 + d2)) / (d1 - d2), s=0.0)

    @classmethod
    def own_alpha(cls, Tc: Array, omega: Array) -> AlphaFunction:
        """The temperature function that the equation was published with: Soave's, unless a subclass says otherwise."""
        return Soave(np.atleast_2d(cls.m(omega)), Tc)

    @staticmethod
    def m(omega: Array) -> Array:
        """The constant of Soave's temperature function."""
        raise NotImplementedError

    def at(self, T: Array, P: Array) -> BoundCubic:
        return BoundCubic(self, T, P)

    def compiled(self) -> Plain | None:
        mixing, alpha = self.mixing.plain(), self.alpha
        if alpha.number is None or mixing is None:
            return None
        numbers = (self.delta1, self.delta2, self.critical_volume_ratio, self.omega_a / self.omega_b)
        temperature = Temperature(alpha.number, alpha.constants, alpha.Tc, self.root_ac)
        return plain(common(R, self.Tc, self.Pc, self.omega), numbers, temperature, self.b, mixing, self.translation)

    def select(self, components: Sequence[int]) -> Self:
        i = np.asarray(components)
        translation = None if self.translation is None else self.translation[i]
        lij = None if self.lij is None else self.lij[np.ix_(i, i)]
        kij = self.kij[..., i[:, None], i]
        molar_mass = None if self.molar_mass is None else self.molar_mass[i]
        in_water = None if self.in_water is None else self.in_water.select(components)
        excess = None if self.excess is None else (self.excess[0], self.excess[1].select(components))
        return type(self)(
            self.Tc[i],
            self.Pc[i],
            self.omega[i],
            kij,
            translation,
            self.alpha.select(components),
            lij,
            molar_mass,
            in_water,
            excess,
        )

    def volume_shift(self, x: Array) -> Array:
        return np.zeros(len(x)) if self.translation is None else np.asarray(x @ self.translation)

    def root_a(self, T: Array) -> tuple[Array, Array, Array]:
        """√aᵢ and its first two temperature derivatives, ``(N, C)``."""
        value, slope, curvature = (self.root_ac * part.T for part in self.alpha.root(T))
        return value, slope, curvature

    def _root_a(self, T: Array) -> Array:
        """√aᵢ ``(C, N)``."""
        return np.asarray(self.root_ac[:, None] * self.alpha.value(T))

    def covolume(self, T: Array, n: Array) -> Array:
        return self.mixing.at(T).covolume(n)[0]

    def has_branches(self, T: Array, x: Array) -> NDArray[np.bool_]:
        """Where a/bRT is above that of a pure component at its critical temperature."""
        mixing = self.mixing.at(T)
        a, b = mixing.attraction(x)[0], mixing.covolume(x)[0]
        return np.asarray(a > self.omega_a / self.omega_b * R * T * b)

    def pressure(self, T: Array, V: Array, n: Array) -> Array:
        mixing, total = self.mixing.at(T), n.sum(axis=-1)
        a, b = mixing.attraction(n)[0], mixing.covolume(n)[0]
        result: Array = total * R * T / (V - b) - a / ((V + self.delta1 * b) * (V + self.delta2 * b))
        return result

    def helmholtz_hessian(self, T: Array, V: Array, n: NDArray[np.inexact]) -> NDArray[np.inexact]:
        d1, d2, RT = self.delta1, self.delta2, R * T
        mixing = self.mixing.at(T)
        B, b, b_ij = mixing.covolume_second(n)
        a, a_i, a_ij = mixing.second(n)
        q, q_i, q_ij = a / RT, a_i / RT[:, None], a_ij / RT[:, None, None]
        total = n.sum(axis=-1)
        product = (V + d1 * B) * (V + d2 * B)
        f = np.log((V + d1 * B) / (V + d2 * B)) / ((d1 - d2) * B)
        f_V = -1.0 / product
        f_VV = (2.0 * V + (d1 + d2) * B) * f_V**2
        f_B = -(f + V * f_V) / B
        f_BV = -(2.0 * f_V + V * f_VV) / B
        f_BB = -(2.0 * f_B + V * f_BV) / B
        F_nB = 1.0 / (V - B)
        F_B, F_BB = total * F_nB - q * f_B, total * F_nB**2 - q * f_BB
        one, other = b[:, :, None], b[:, None, :]
        hessian: NDArray[np.inexact] = (
            F_nB[:, None, None] * (one + other)
            + F_BB[:, None, None] * (one * other)
            + F_B[:, None, None] * b_ij
            - f_B[:, None, None] * (one * q_i[:, None, :] + q_i[:, :, None] * other)
            - f[:, None, None] * q_ij
        )
        return hessian


class BoundCubic(BoundEquation[CubicModel]):
    """A cubic at given T and P. Arrays are kept component by component, ``(C, N)``."""

    @cached_property
    def _mixing(self) -> BoundMixing:
        return self.model.mixing.at(self.T)

    def rows(self, index: Index) -> BoundCubic:
        part = BoundCubic(self.model, self.T[index], self.P[index])
        if "_mixing" in self.__dict__:
            part._mixing = self._mixing.rows(index)
        return part

    @cached_property
    def _scales(self) -> tuple[Array, Array]:
        """P/(RT)² and P/RT, which make A of a and B of b."""
        per = self.P / (R * self.T)
        return per / (R * self.T), per

    def _mixture(self, x: Array) -> tuple[Array, Array, Array, Array, Array]:
        """A, B ``(N,)``, half the aᵢ ``(C, N)``, b ``(N,)`` and the bᵢ ``(C, N)`` or ``(C, 1)``."""
        (a, half), (b, b_i) = self._mixing.attraction(x), self._mixing.covolume(x)
        to_A, to_B = self._scales
        return a * to_A, b * to_B, half, b, b_i

    def _I(self, Z: Array, B: Array) -> Array:
        d1, d2 = self.model.delta1, self.model.delta2
        result: Array = np.log((Z + d1 * B) / (Z + d2 * B)) / ((d1 - d2) * B)
        return result

    def _shift(self) -> Array:
        """cᵢP/RT ``(C, N)``."""
        assert self.model.translation is not None
        return np.asarray(self.model.translation[:, None] * (self.P / (R * self.T)))

    def ln_phi_by_arrays(self, x: Array, kind: Kind) -> Array:
        A, B, half, b, b_i = self._mixture(x)
        Z = self._Z(A, B, kind)
        integral = self._I(Z, B)
        half *= -2.0 * integral * self._scales[0]
        half += ((Z - 1.0 + A * integral) / b) * b_i
        half -= np.log(Z - B)
        if self.model.translation is not None:
            half -= self._shift()
        return half.T

    def describe_by_arrays(self, x: Array, kind: Kind) -> Description:
        A, B, *_ = self._mixture(x)
        Z = self._Z(A, B, kind)
        kinds = np.where(self.model.critical_volume_ratio * B < Z, VAPOR, LIQUID).astype(np.int8)
        return Description(Z - self.model.volume_shift(x) * self.P / (R * self.T), kinds, B / Z)

    def _Z(self, A: Array, B: Array, kind: Kind) -> Array:
        """The root of the cubic that ``kind`` asks for: closed form, then Newton polish where it improves."""
        smallest, largest, three = self._roots(A, B)
        if np.ndim(kind):
            choice = np.asarray(kind)
            Z = np.where(choice == LIQUID, smallest, largest)
            contest = np.flatnonzero(three & (choice == STABLE))
        elif kind == STABLE:
            Z, contest = largest, np.flatnonzero(three)
        else:
            return smallest if kind == LIQUID else largest
        if contest.size:
            a, b, low, high = A[contest], B[contest], smallest[contest], largest[contest]
            lower = low - np.log(low - b) - a * self._I(low, b) < high - np.log(high - b) - a * self._I(high, b)
            Z[contest] = np.where(lower, low, high)
        return Z

    def _coefficients(self, A: Array, B: Array) -> tuple[Array, Array, Array]:
        s, p = self.model.delta1 + self.model.delta2, self.model.delta1 * self.model.delta2
        return (s - 1.0) * B - 1.0, A + (p - s) * B * B - s * B, -B * (A + p * (B + B * B))

    def _roots(self, A: Array, B: Array) -> tuple[Array, Array, NDArray[np.bool_]]:
        """Smallest and largest root above B, and where they are two."""
        smallest, largest, three = self._closed_form(A, B)
        thin = np.flatnonzero(np.abs(A) < _THIN)
        if thin.size:
            low, high, several = self._at_low_pressure(A[thin], B[thin])
            if smallest is largest:
                smallest = largest.copy()
            smallest[thin], largest[thin], three[thin] = low, high, several
        return smallest, largest, three

    def _at_low_pressure(self, A: Array, B: Array) -> tuple[Array, Array, NDArray[np.bool_]]:
        """The same where the largest root is next to 1 and the others are as small as B: those are of the quadratic that is left when it is divided out."""
        c2, c1, c0 = self._coefficients(A, B)
        high = self._polish(self._polish(np.ones_like(A), c2, c1, c0), c2, c1, c0)
        product = -c0 / high
        total = (c1 - product) / high
        inside = total * total - 4.0 * product
        low = 2.0 * product / (total + np.sqrt(np.maximum(inside, 0.0)))
        three = np.asarray((inside > 0.0) & (total > 0.0) & (low > B))
        return np.where(three, low, high), high, three

    def _closed_form(self, A: Array, B: Array) -> tuple[Array, Array, NDArray[np.bool_]]:
        """The same from the formulas of Cardano and Vieta, improved by Newton's method."""
        c2, c1, c0 = self._coefficients(A, B)
        shift = c2 / 3.0
        square = shift * shift
        q = c1 / 3.0 - square
        r = 0.5 * (shift * c1 - c0) - square * shift
        disc = q * q * q + r * r
        three = disc < 0.0
        Z = np.empty_like(A)
        one = np.flatnonzero(~three)
        if one.size:
            r1 = r[one]
            # the larger of the two cube roots without cancellation; the other from their product, -q
            big = np.cbrt(r1 + np.copysign(np.sqrt(disc[one]), r1))
            Z[one] = big - q[one] / (big + _CBRT_EPS) - shift[one]
        many = np.flatnonzero(three)
        if not many.size:
            Z = self._polish(Z, c2, c1, c0)
            return Z, Z, three
        # Z = m cos(t/3) - c₂/3 and m cos(t/3 + 2π/3) - c₂/3, both from the tangent of t/6
        three_q = -q[many]
        half = np.sqrt(three_q)
        tangent = np.tan(np.arccos(np.minimum(np.maximum(r[many] / (three_q * half), -1.0), 1.0)) / 6.0)
        square = tangent * tangent
        half /= 1.0 + square
        cosine, sine = half * (1.0 - square), (2.0 * math.sqrt(3.0)) * half * tangent
        Z[many] = 2.0 * cosine - shift[many]
        low = self._polish(-cosine - sine - shift[many], c2[many], c1[many], c0[many])
        Z = self._polish(Z, c2, c1, c0)
        # a "root" at or below B is no volume: only the other one counts
        valid = low > B[many]
        three[many] = valid
        smallest = Z.copy()
        smallest[many] = np.where(valid, low, Z[many])
        return smallest, Z, three

    @staticmethod
    def _polish(Z: Array, c2: Array, c1: Array, c0: Array) -> Array:
        """One step of Newton's method; where it is not small, as beside a double root, further ones as long as they help."""
        step = (((Z + c2) * Z + c1) * Z + c0) / ((3.0 * Z + 2.0 * c2) * Z + c1)
        wide = np.flatnonzero(np.logical_not(np.abs(step) <= _SMALL_STEP * Z))
        if not wide.size:
            return Z - step
        root, b2, b1, b0 = Z[wide], c2[wide], c1[wide], c0[wide]
        for _ in range(3):
            f = ((root + b2) * root + b1) * root + b0
            better = root - f / ((3.0 * root + 2.0 * b2) * root + b1)
            f_better = ((better + b2) * better + b1) * better + b0
            root = np.where(np.abs(f_better) < np.abs(f), better, root)
        polished: Array = Z - step
        polished[wide] = root
        return polished

    def evaluate_by_arrays(self, x: Array, kind: Kind) -> Evaluation:
        model, T, P = self.model, self.T, self.P
        d1, d2 = model.delta1, model.delta2
        s, p = d1 + d2, d1 * d2
        A, B, half, b, b_i = self._mixture(x)
        Z = self._Z(A, B, kind)
        scale = self._scales[0]
        Ai = 2.0 * (half * scale).T
        r = (b_i / b).T

        rising, rest = 3.0 * Z * Z, 2.0 * ((s - 1.0) * B - 1.0) * Z + A + (p - s) * B * B - s * B
        slope_Z = np.maximum(rising + rest, _LEAST_SLOPE * (rising + np.abs(rest)))
        Z_A = (B - Z) / slope_Z
        Z_B = -((s - 1.0) * Z * Z + (2.0 * (p - s) * B - s) * Z - A - p * (2.0 * B + 3.0 * B * B)) / slope_Z
        free = 1.0 / (Z - B)
        Q = Z * Z + s * Z * B + p * B * B
        integral = self._I(Z, B)
        I_Z = -1.0 / Q
        I_B = (Z / Q - integral) / B

        ln_phi = r * (Z - 1.0)[:, None] - np.log(Z - B)[:, None] - integral[:, None] * (Ai - A[:, None] * r)

        def along(dA: Array, dB: Array, dAi: Array) -> Array:
            """Derivative of ln φ along a direction in which the rᵢ stay."""
            dZ = Z_A * dA + Z_B * dB
            dI = I_Z * dZ + I_B * dB
            result: Array = (
                r * dZ[:, None]
                - ((dZ - dB) * free)[:, None]
                - dI[:, None] * (Ai - A[:, None] * r)
                - integral[:, None] * (dAi - dA[:, None] * r)
            )
            return result

        dP = along(A / P, B / P, Ai / P[:, None])

        # temperature: A = aP/(RT)²
        a1, a2, by_T = self._mixing.by_temperature(x)
        a1, a2 = a1 * scale, a2 * scale
        A1 = a1 - 2.0 * A / T
        A2 = a2 - 4.0 * a1 / T + 6.0 * A / T**2
        Ai1 = scale[:, None] * by_T - 2.0 * Ai / T[:, None]
        (b1, b2, b_i1), b_scale = self._mixing.covolume_by_temperature(x), self._scales[1]
        B1 = b1 * b_scale - B / T
        B2 = b2 * b_scale - 2.0 * B1 / T
        # rᵢ = bᵢ/b
        dT = along(A1, B1, Ai1) + (Z - 1.0 + A * integral)[:, None] * (b_i1 - r * b1[:, None]) / b[:, None]

        Q_B = s * Z + 2.0 * p * B
        I_BB = (2.0 * integral - 2.0 * Z / Q - B * Z * Q_B / Q**2) / B**2
        I_ZB = Q_B / Q**2
        g_B = free - A * I_B
        g_TT = (
            -integral * A2
            + g_B * B2
            - 2.0 * I_B * A1 * B1
            + (free**2 - A * I_BB) * B1**2
            - (I_Z * A1 + (free**2 + A * I_ZB) * B1) * (Z_A * A1 + Z_B * B1)
        )

        def by_mole_numbers() -> Array:
            # dA_j = A_j - 2A, dB_j = B_j - B, dr_i = -r_i (r_j - 1), dA_i = 2A_ij - A_i
            dA, rj1 = Ai - 2.0 * A[:, None], r - 1.0
            dB = B[:, None] * rj1
            dZ = Z_A[:, None] * dA + Z_B[:, None] * dB
            dI = I_Z[:, None] * dZ + I_B[:, None] * dB
            own, free_part = Ai - A[:, None] * r, (dZ - dB) * free[:, None]
            column = dZ - rj1 * (Z - 1.0)[:, None] + integral[:, None] * (dA - A[:, None] * rj1)
            dn = (-integral * scale)[:, None, None] * np.asarray(self._mixing.second(x)[2], dtype=float)
            dn += r[:, :, None] * column[:, None, :]
            dn -= own[:, :, None] * dI[:, None, :]
            dn -= free_part[:, None, :]
            dn += (integral[:, None] * Ai)[:, :, None]
            if not model.mixing.linear_covolume:
                b_ij = np.asarray(self._mixing.covolume_second(x)[2], dtype=float)
                dn += b_ij * ((Z - 1.0 + A * integral) / b)[:, None, None]
            return np.asarray(dn)

        Z_T, Z_P = Z_A * A1 + Z_B * B1, (Z_A * A + Z_B * B) / P
        plain = Evaluation(ln_phi, dT, dP, g_TT, Z, Z_T, Z_P, by_mole_numbers)
        return plain if model.translation is None else self._translated(plain, x)

    def _translated(self, e: Evaluation, x: Array) -> Evaluation:
        shift, T, P = self._shift().T, self.T[:, None], self.P[:, None]
        mean = (x * shift).sum(axis=-1)
        return Evaluation(
            e.ln_phi - shift,
            e.dT + shift / T,
            e.dP - shift / P,
            e.g_TT - 2.0 * mean / self.T**2,
            e.Z - mean,
            e.Z_T + mean / self.T,
            e.Z_P - mean / self.P,
            e.compute_dn,
        )
