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
from ..core.transport import chung, liquids, lohrenz, water
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
_ALONE = 0.9999
_SHARE = 0.03
"""What a liquid may have of components whose liquid nothing is known of, for it still to be one of pure liquids."""
_REFERENCE = 0.7
"""Of the critical temperature: up to it a pure liquid is what parachors are taken from."""

GAS = "gas: Chung and others (1988), viscosity to 3 %, conductivity to 6 %; dense gas to 10 %; hydrogen, ammonia and steam to 10 and 35 %"
MIXED = "liquid viscosity: Grunberg and Nissan (1949) from the pure liquids, to 20 %; of water with organics to a factor of three"
DENSE = "liquid viscosity: Lohrenz, Bray and Clark (1964) by density, to 20 % of hydrocarbons, to a factor of two of others"
CONDUCTIVITY = "liquid conductivity: Li (1976) from the pure liquids, to 10 %; where these are estimated to 30 %, of ammonia and alcohols to a factor of two"
STEAM = "water and steam: IAPWS R12-08 and R15-11, to 2 %, but for the critical region"
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
        steam = of.steam(x, gas)
        if steam.any():
            density = rho[steam] * float(x[steam][0] @ system.molar_mass)
            viscosity[steam], conductivity[steam] = water.viscosity(T[steam], density), water.conductivity(T[steam], density)
            said = [STEAM, *(words for words in said if not steam.all() or words == SURFACE)]

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
            own, densities = of.parachors(batch.T[rows])
            # where the pure liquids are known, their volumes are nearer to the truth than many an equation's
            known = np.where(x[rows, k] > 0.0, batch.T[rows, None] < _REFERENCE * of.constants.Tc, True).all(axis=1)
            added = 1.0 / np.where(x[rows, k] > 0.0, x[rows, k] / densities, 0.0).sum(axis=1)
            rho_liquid = np.where(known, added, rho[rows, k])
            surface[rows, k] = parachors.surface_tension(own, x[rows, k], rho_liquid, y[rows], rho_vapor[rows])
    return surface


class _Of:
    """What a mixture's transport properties rest on."""

    def __init__(self, system: Mixture) -> None:
        self.system, who = system, system.who
        Tc, Pc, omega = (who.constants(key, "a transport property") for key in ("Tc", "Pc", "omega"))
        dipole, association = (np.array([getattr(c, key) or 0.0 for c in who]) for key in ("dipole_moment", "association_factor"))
        self.constants = TransportConstants(system.molar_mass, Tc, Pc, critical_volumes(who), omega, dipole, association)
        self.Tb = np.array([c.Tb if c.Tb is not None else _boiling(c) for c in who])

    def steam(self, x: Array, gas: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """Which phases are steam, or water whose density is the reference equation's ``(N,)``."""
        if "water" not in self.system.names:
            return np.zeros(len(x), dtype=bool)
        alone = x[:, self.system.names.index("water")] > _ALONE
        return np.asarray(alone & (gas | (self.system.eos == "reference")))

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

    def parachors(self, T: Array) -> tuple[Array, Array]:
        """Parachors of the components, and densities of their liquids, mol/m3 ``(N, C)``, at ``T`` or what is next to it below the critical temperatures."""
        sigmas, densities = [], []
        for c, Tb in zip(self.system.components, self.Tb, strict=True):
            assert c.Tc is not None and c.Pc is not None  # noqa: PT018
            at = np.minimum(T, _REFERENCE * c.Tc)
            sigmas.append(
                brock_bird.surface_tension(at, float(Tb), c.Tc, c.Pc) if c.surface_tension is None else c.surface_tension.value(at)
            )
            densities.append((_rackett(c) if c.liquid_density is None else c.liquid_density).value(at))
        sigma, density = np.stack(sigmas, axis=1), np.stack(densities, axis=1)
        return parachors.parachors(sigma, density), density

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
