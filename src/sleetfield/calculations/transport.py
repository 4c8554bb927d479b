"""Viscosity, thermal conductivity and surface tension of the phases of states: which method for which phase, and what to think of it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..core.constants import ATMOSPHERE, R
from ..core.correlations import Correlation
from ..core.correlations.liquid_conductivity import sato_riedel
from ..core.correlations.liquid_density import generalized_rackett
from ..core.estimates import brock_bird
from ..core.models.contract import LIQUID, VAPOR
from ..core.transport import chung, liquids, lohrenz
from ..core.transport import parachor as parachors
from ..core.transport.constants import TransportConstants
from ..mixture import Mixture
from ..recipes.interactions import critical_volumes
from ..results.state import StateBatch
from ..results.transport import Transport
from ..text import first_few

Array = NDArray[np.float64]

_HOTTEST = 0.98
"""Of the critical temperature: beyond it a component has no pure liquid to speak of."""
_SHARE = 0.03
"""What a liquid may have of components whose liquid nothing is known of, for it still to be one of pure liquids."""
_REFERENCE = 0.6
"""Of the critical temperature: where parachors are taken from."""

GAS = "gas: Chung and others (1988), viscosity to 3 %, conductivity to 6 %; dense gas to 10 %; hydrogen, ammonia and steam to 10 and 35 %"
MIXED = "liquid viscosity: Grunberg and Nissan (1949) from the pure liquids, to 20 %; of water with organics to a factor of three"
DENSE = "liquid viscosity: Lohrenz, Bray and Clark (1964) by density, to 20 % of hydrocarbons, to a factor of two of others"
CONDUCTIVITY = "liquid conductivity: Li (1976) from the pure liquids, to 10 %; where these are estimated to 30 %, of ammonia and alcohols to a factor of two"
SURFACE = "surface tension: parachors (Weinaug and Katz, 1943), to 6 %; of water with organics it is too high"


def transport(batch: StateBatch) -> Transport:
    """Of every phase of every state."""
    system, (n, f) = batch.system, batch.fractions.shape
    there = np.isfinite(batch.fractions) & (batch.result.kinds <= LIQUID) & ~batch.failed[:, None]
    state, phase = np.nonzero(there)
    T, x, rho = batch.T[state], np.nan_to_num(batch.result.x[state, phase]), 1.0 / batch.phase_volume[state, phase]
    of = _Of(system)
    gas = batch.result.kinds[state, phase] == VAPOR
    viscosity, conductivity = np.full(len(T), np.nan), np.full(len(T), np.nan)
    said: list[str] = []
    remarks: list[str] = []
    with np.errstate(all="ignore"):
        if gas.any():
            viscosity[gas] = chung.viscosity(T[gas], rho[gas], x[gas], of.constants)
            conductivity[gas] = chung.conductivity(T[gas], rho[gas], x[gas], of.constants, of.ideal_Cv(T[gas], x[gas]))
            said.append(GAS)
        if (~gas).any():
            viscosity[~gas], words = of.liquid_viscosity(T[~gas], rho[~gas], x[~gas])
            conductivity[~gas] = of.liquid_conductivity(T[~gas], x[~gas])
            said += [*words, CONDUCTIVITY, SURFACE]
            remarks = of.remarks(x[~gas].max(axis=0), MIXED in words)
        surface = _surfaces(batch, of, there)

    def spread(values: Array) -> Array:
        full = np.full((n, f), np.nan)
        full[state, phase] = values
        return full

    return Transport(spread(viscosity), spread(conductivity), surface, tuple(said), tuple(remarks))


def _surfaces(batch: StateBatch, of: _Of, there: NDArray[np.bool_]) -> Array:
    """Surface tensions of the liquids against the vapor, or where there is none, against nothing ``(N, F)``."""
    n, f = there.shape
    surface = np.full((n, f), np.nan)
    x, rho = np.nan_to_num(batch.result.x), 1.0 / batch.phase_volume
    vapor = there[:, 0] & (batch.result.kinds[:, 0] == VAPOR)
    y, rho_vapor = np.where(vapor[:, None], x[:, 0], 0.0), np.where(vapor, rho[:, 0], 0.0)
    for k in range(f):
        rows = np.flatnonzero(there[:, k] & (batch.result.kinds[:, k] == LIQUID))
        if rows.size:
            surface[rows, k] = parachors.surface_tension(of.parachors, x[rows, k], rho[rows, k], y[rows], rho_vapor[rows])
    return surface


class _Of:
    """What a mixture's transport properties rest on."""

    def __init__(self, system: Mixture) -> None:
        self.system, who = system, system.who
        Tc, Pc, omega = (who.constants(key, "a transport property") for key in ("Tc", "Pc", "omega"))
        dipole, association = (np.array([getattr(c, key) or 0.0 for c in who]) for key in ("dipole_moment", "association_factor"))
        self.constants = TransportConstants(system.molar_mass, Tc, Pc, critical_volumes(who), omega, dipole, association)
        self.Tb = np.array([c.Tb if c.Tb is not None else _boiling(c) for c in who])
        self.parachors = self._parachors()

    def ideal_Cv(self, T: Array, x: Array) -> Array:
        """J/(mol K) ``(N,)``; NaN where a heat capacity is not known of what is there."""
        Cp = np.stack(
            [np.full(len(T), np.nan) if c.heat_capacity is None else c.heat_capacity.value(T) for c in self.system.components],
            axis=1,
        )
        return np.asarray(np.where(x > 0.0, x * Cp, 0.0).sum(axis=1) - R)

    def _pure(self, key: str, T: Array, otherwise: Callable[[Component, Array], Array]) -> Array:
        """A correlation of each component ``(N, C)``, or what stands in for it."""
        columns = []
        for c in self.system.components:
            known: Correlation | None = getattr(c, key)
            at = np.minimum(T, _HOTTEST * (c.Tc or np.inf))
            columns.append(otherwise(c, at) if known is None else known.value(at))
        return np.stack(columns, axis=1)

    def liquid_viscosity(self, T: Array, rho: Array, x: Array) -> tuple[Array, list[str]]:
        """Pa s ``(N,)``, and by which methods."""
        c = self.constants
        low, high = liquids.LETSOU_STIEL
        Tr = T[:, None] / c.Tc
        estimated = np.where((Tr >= low) & (Tr <= high), liquids.letsou_stiel(T, c), np.nan)
        pure = self._pure("liquid_viscosity", T, lambda _, at: np.full(len(at), np.nan))
        pure = np.where(np.isnan(pure), estimated, np.where(Tr <= high, pure, np.nan))
        lacking = np.where(np.isnan(pure), x, 0.0).sum(axis=1)
        mixed = lacking <= _SHARE
        kept = np.where(np.isnan(pure), 0.0, x)
        found = liquids.grunberg_nissan(kept / kept.sum(axis=1, keepdims=True), np.where(np.isnan(pure), 1.0, pure))
        words = [*([MIXED] if mixed.any() else []), *([DENSE] if (~mixed).any() else [])]
        return np.where(mixed, found, lohrenz.viscosity(T, rho, x, c)), words

    def liquid_conductivity(self, T: Array, x: Array) -> Array:
        """W/(m K) ``(N,)``."""

        def estimated(c: Component, at: Array) -> Array:
            assert c.molar_mass is not None and c.Tc is not None  # noqa: PT018
            Tb = self.Tb[self.system.names.index(c.name)]
            return sato_riedel(c.molar_mass, float(Tb), c.Tc, 0.0, c.Tc).value(at)

        volumes = 1.0 / self._pure("liquid_density", T, lambda c, at: _rackett(c).value(at))
        return liquids.li(x, self._pure("liquid_conductivity", T, estimated), volumes)

    def _parachors(self) -> Array:
        found = []
        for c, Tb in zip(self.system.components, self.Tb, strict=True):
            assert c.Tc is not None and c.Pc is not None  # noqa: PT018
            T = np.array([_REFERENCE * c.Tc])
            sigma = (
                brock_bird.surface_tension(T, float(Tb), c.Tc, c.Pc) if c.surface_tension is None else c.surface_tension.value(T)
            )
            density = (_rackett(c) if c.liquid_density is None else c.liquid_density).value(T)
            found.append(parachors.parachors(sigma, density)[0])
        return np.array(found)

    def remarks(self, most: Array, mixed: bool) -> list[str]:
        """Of which components, that liquids have ``most (C,)`` of, the pure liquids are estimated; their viscosities only matter to those that are ``mixed``."""
        said = []
        used = (
            *((("liquid_viscosity", "viscosity"),) if mixed else ()),
            ("liquid_conductivity", "thermal conductivity"),
            ("surface_tension", "surface tension"),
        )
        for key, words in used:
            lacking = [c.name for c, x in zip(self.system.components, most, strict=True) if x > 0.0 and getattr(c, key) is None]
            if lacking:
                said.append(f"The {words} of the pure liquid is estimated of {first_few(lacking)}.")
        return said


def _boiling(c: Component) -> float:
    """By the acentric factor (Edmister, Petroleum Refiner 37(4) (1958) 173), where no boiling point is known."""
    assert c.Tc is not None and c.Pc is not None and c.omega is not None  # noqa: PT018
    ratio = 7.0 / 3.0 * (c.omega + 1.0) / np.log10(c.Pc / ATMOSPHERE)
    return float(c.Tc * ratio / (1.0 + ratio))


def _rackett(c: Component) -> Correlation:
    assert c.Tc is not None and c.Pc is not None and c.omega is not None  # noqa: PT018
    return generalized_rackett(c.Tc, c.Pc, c.omega)
