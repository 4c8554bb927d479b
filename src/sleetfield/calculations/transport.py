"""Viscosity, thermal conductivity and surface tension of the phases of states: which methods there are, which one is taken, and what to think of it."""

from __future__ import annotations

import functools
from collections.abc import Callable
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..components import Component
from ..components.component_list import ComponentList
from ..core.constants import ATMOSPHERE, R
from ..core.correlations import Correlation
from ..core.correlations.liquid_conductivity import sato_riedel
from ..core.correlations.liquid_density import generalized_rackett
from ..core.estimates import brock_bird
from ..core.models.contract import LIQUID, VAPOR
from ..core.transport import chung, filippov, liquids, lohrenz, lucas, parachor as parachors, pedersen, water, wilke, winterfeld
from ..core.transport.choices import CHOICES
from ..core.transport.constants import TransportConstants
from ..mixture import Mixture
from ..recipes.interactions import critical_volumes
from ..recipes.parameter import Parameters
from ..recipes.reference import Reference
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
_LITTLE = 0.05
"""What a gas may have of components that nothing was measured of."""
_THIN = 0.2
"""Of the critical density: up to it a gas is thin."""


class Fluid(NamedTuple):
    """Phases of one kind ``(N,)``: K, Pa, mol/m3, and their mole fractions ``(N, C)``."""

    T: Array
    P: Array
    rho: Array
    x: Array


class Found(NamedTuple):
    """Values ``(N,)``, SI, and by which methods, in words."""

    values: Array
    words: tuple[str, ...]


GAS = "gas: Chung and others (1988), viscosity to 3 %, conductivity to 6 %; dense gas to 10 %"
MEASURED_GAS = (
    "gas: Chung and others (1988), brought to the measured pure gases, viscosity to 2 %, conductivity to 4 %; dense gas to 10 %"
)
LUCAS = "gas viscosity: Lucas (1981), to 4 %; dense gas to 10 %"
WILKE = "gas viscosity: Wilke (1950) from thin pure gases, to 4 %"
MASON_SAXENA = "gas conductivity: Mason and Saxena (1958) from thin pure gases, to 6 %"
TOO_DENSE = "Some of the gas is too dense for a method of thin gases: Chung's and Lucas's take its density."
MIXED = "liquid viscosity: Grunberg and Nissan (1949) from the pure liquids, to 20 %; of water with organics to a factor of three"
DENSE = "liquid viscosity: Lohrenz, Bray and Clark (1964) by density, to 20 % of hydrocarbons, to a factor of two of others"
ALIKE = "viscosity: Pedersen and Fredenslund (1987) from methane's at corresponding states, to 6 % of hydrocarbon gases, 20 % of liquid alkanes, 40 % of rings"
DENSE_GAS = "gas viscosity: Lohrenz, Bray and Clark (1964) by density, to 15 % of hydrocarbons"
CONDUCTIVITY = "liquid conductivity: Li (1976) from the pure liquids, to 10 %; where these are estimated to 30 %, of ammonia and alcohols to a factor of two"
FILIPPOV = "liquid conductivity: Filippov (1955) from the pure liquids, to 10 %; where these are estimated to 30 %, of ammonia and alcohols to a factor of two"
STEAM = "water and steam: IAPWS R12-08 and R15-11, to 2 %, but for the critical region"
SURFACE = "surface tension: parachors (Weinaug and Katz, 1943), to 6 %; of water with organics it is too high"
WINTERFELD = (
    "surface tension: Winterfeld, Scriven and Davis (1978) from the pure liquids, to 5 %; of water with organics it is too high"
)


_BLOCK = 4096
"""Phases at once, whose numbers stay in the cache."""


def transport(batch: StateBatch) -> Transport:
    """Of every phase of every state."""
    system, (n, f) = batch.system, batch.fractions.shape
    there = np.isfinite(batch.fractions) & (batch.result.kinds <= LIQUID) & ~batch.failed[:, None]
    state, phase = np.nonzero(there)
    every = Fluid(
        batch.T[state], batch.P[state], 1.0 / batch.phase_volume[state, phase], np.nan_to_num(batch.result.x[state, phase])
    )
    of = _Of(system)
    gas = batch.result.kinds[state, phase] == VAPOR
    viscosity, conductivity = np.full(len(state), np.nan), np.full(len(state), np.nan)
    said: list[str] = []
    remarks: list[str] = []
    with np.errstate(all="ignore"):
        for some, name in ((gas, "gas"), (~gas, "liquid")):
            rows = np.flatnonzero(some)
            for block in (rows[i : i + _BLOCK] for i in range(0, len(rows), _BLOCK)):
                fluid = Fluid(*(values[block] for values in every))
                for values, quantity in ((viscosity, "viscosity"), (conductivity, "conductivity")):
                    found = of.method(f"{name} {quantity}")(of, fluid)
                    values[block] = found.values
                    said += found.words
        surface, words = _surfaces(batch, of, there)
        if (~gas).any():
            said += words
            remarks = of.remarks(every.x[~gas].max(axis=0), MIXED in said)
        steam = of.steam(every.x, gas)
        if steam.any():
            density = every.rho[steam] * float(every.x[steam][0] @ system.molar_mass)
            viscosity[steam], conductivity[steam] = (
                water.viscosity(every.T[steam], density),
                water.conductivity(every.T[steam], density),
            )
            said = [STEAM, *(words for words in said if not steam.all() or words.startswith("surface"))]
    if (every.rho[gas] * (every.x[gas] @ of.constants.Vc) > _THIN).any() and {WILKE, MASON_SAXENA} & set(said):
        remarks.append(TOO_DENSE)

    def spread(values: Array) -> Array:
        full = np.full((n, f), np.nan)
        full[state, phase] = values
        return full

    return Transport(spread(viscosity), spread(conductivity), surface, tuple(dict.fromkeys(said)), tuple(remarks))


def _surfaces(batch: StateBatch, of: _Of, there: NDArray[np.bool_]) -> tuple[Array, tuple[str, ...]]:
    """Surface tensions of the liquids against the vapor, or where there is none, against nothing ``(N, F)``; and by which method."""
    n, f = there.shape
    surface = np.full((n, f), np.nan)
    x, rho = np.nan_to_num(batch.result.x), 1.0 / batch.phase_volume
    vapor = there[:, 0] & (batch.result.kinds[:, 0] == VAPOR)
    y, rho_vapor = np.where(vapor[:, None], x[:, 0], 0.0), np.where(vapor, rho[:, 0], 0.0)
    words: tuple[str, ...] = ()
    for k in range(f):
        rows = np.flatnonzero(there[:, k] & (batch.result.kinds[:, k] == LIQUID))
        if rows.size:
            liquid = Fluid(batch.T[rows], batch.P[rows], rho[rows, k], x[rows, k])
            beside = Fluid(batch.T[rows], batch.P[rows], rho_vapor[rows], y[rows])
            surface[rows, k], words = SURFACES[of.chosen("surface tension")](of, liquid, beside)
    return surface, words


# ---- methods ----


def _chung_viscosity(of: _Of, gas: Fluid) -> Found:
    estimated = chung.viscosity(gas.T, gas.rho, gas.x, of.constants)
    return of.through_measured("gas_viscosity", gas, estimated, of.chung_viscosities(gas.T))


def _chung_conductivity(of: _Of, gas: Fluid) -> Found:
    Cv = of.ideal_Cv(gas.T)
    mixed = np.where(gas.x > 0.0, gas.x * Cv, 0.0).sum(axis=1)
    estimated = chung.conductivity(gas.T, gas.rho, gas.x, of.constants, mixed)
    return of.through_measured("gas_conductivity", gas, estimated, chung.thin_conductivities(gas.T, of.constants, Cv))


def _lucas(of: _Of, gas: Fluid) -> Found:
    return Found(lucas.viscosity(gas.T, gas.P, gas.x, of.constants), (LUCAS,))


def _wilke(of: _Of, gas: Fluid) -> Found:
    thin = of.thin_viscosities(gas.T)
    return Found(wilke.mixed(gas.x, thin, thin, of.constants.M), (WILKE,))


def _mason_saxena(of: _Of, gas: Fluid) -> Found:
    return Found(wilke.mixed(gas.x, of.thin_conductivities(gas.T), of.thin_viscosities(gas.T), of.constants.M), (MASON_SAXENA,))


def _dense_gas(of: _Of, gas: Fluid) -> Found:
    return Found(lohrenz.viscosity(gas.T, gas.rho, gas.x, of.constants), (DENSE_GAS,))


def _corresponding_gas(of: _Of, gas: Fluid) -> Found:
    return _corresponding(of, gas, VAPOR, _dense_gas)


def _corresponding_liquid(of: _Of, liquid: Fluid) -> Found:
    return _corresponding(of, liquid, LIQUID, _by_density)


def _corresponding(of: _Of, fluid: Fluid, kind: np.int8, otherwise: Method) -> Found:
    """From methane's; what corresponds to no methane that is known has its viscosity by another method."""
    values = pedersen.viscosity(fluid.T, fluid.P, fluid.x, of.constants, _methane(kind))
    cold = np.isnan(values)
    if not cold.any():
        return Found(values, (ALIKE,))
    instead = otherwise(of, Fluid(*(part[cold] for part in fluid)))
    values[cold] = instead.values
    return Found(values, (*(() if cold.all() else (ALIKE,)), *instead.words))


@functools.cache
def _methane(kind: np.int8) -> pedersen.Density:
    """The density of a phase of methane by its reference equation."""
    model = Reference().build(ComponentList(["methane"]), Parameters([]))

    def density(T: Array, P: Array) -> Array:
        return np.asarray(P / (model.at(T, P).describe(np.ones((len(T), 1)), kind).Z * R * T))

    return density


def _grunberg_nissan(of: _Of, liquid: Fluid) -> Found:
    """From the pure liquids; by density where too much is of components whose liquid nothing is known of."""
    pure = of.pure_viscosities(liquid.T)
    mixed = np.where(np.isnan(pure), liquid.x, 0.0).sum(axis=1) <= _SHARE
    kept = np.where(np.isnan(pure), 0.0, liquid.x)
    found = liquids.grunberg_nissan(kept / kept.sum(axis=1, keepdims=True), np.where(np.isnan(pure), 1.0, pure))
    if not mixed.all():
        found[~mixed] = _by_density(of, Fluid(*(values[~mixed] for values in liquid))).values
    words = (*((MIXED,) if mixed.any() else ()), *((DENSE,) if (~mixed).any() else ()))
    return Found(found, words)


def _by_density(of: _Of, liquid: Fluid) -> Found:
    return Found(lohrenz.viscosity(liquid.T, liquid.rho, liquid.x, of.constants), (DENSE,))


def _li(of: _Of, liquid: Fluid) -> Found:
    volumes = 1.0 / of.pure("liquid_density", liquid.T, lambda c, at: _rackett(c).value(at))
    return Found(liquids.li(liquid.x, of.pure_conductivities(liquid.T), volumes), (CONDUCTIVITY,))


def _filippov(of: _Of, liquid: Fluid) -> Found:
    return Found(filippov.conductivity(liquid.x, of.pure_conductivities(liquid.T), of.constants.M), (FILIPPOV,))


def _by_parachors(of: _Of, liquid: Fluid, beside: Fluid) -> Found:
    sigma, densities = of.surfaces(liquid.T)
    # where the pure liquids are known, their volumes are nearer to the truth than many an equation's
    known = np.where(liquid.x > 0.0, liquid.T[:, None] < _REFERENCE * of.constants.Tc, True).all(axis=1)
    added = 1.0 / np.where(liquid.x > 0.0, liquid.x / densities, 0.0).sum(axis=1)
    own = parachors.parachors(sigma, densities)
    found = parachors.surface_tension(own, liquid.x, np.where(known, added, liquid.rho), beside.x, beside.rho)
    return Found(found, (SURFACE,))


def _winterfeld(of: _Of, liquid: Fluid, beside: Fluid) -> Found:
    at = np.minimum(liquid.T[:, None], _HOTTEST * of.constants.Tc)
    sigma = np.stack([of.surface_of(i, at[:, i]) for i in range(len(of.system))], axis=1)
    densities = of.pure("liquid_density", liquid.T, lambda c, at: _rackett(c).value(at))
    return Found(winterfeld.surface_tension(liquid.x, sigma, densities), (WINTERFELD,))


Method = Callable[["_Of", Fluid], Found]
"""What there is behind the names of `core.transport.choices`; surface tensions ask for what is beside the liquid too."""

METHODS: dict[str, dict[str, Method]] = {
    "gas viscosity": {
        "Chung": _chung_viscosity,
        "Lucas": _lucas,
        "Wilke": _wilke,
        "Lohrenz": _dense_gas,
        "Pedersen": _corresponding_gas,
    },
    "gas conductivity": {"Chung": _chung_conductivity, "Mason-Saxena": _mason_saxena},
    "liquid viscosity": {"Grunberg-Nissan": _grunberg_nissan, "Lohrenz": _by_density, "Pedersen": _corresponding_liquid},
    "liquid conductivity": {"Li": _li, "Filippov": _filippov},
}
SURFACES: dict[str, Callable[[_Of, Fluid, Fluid], Found]] = {"parachors": _by_parachors, "Winterfeld": _winterfeld}


class _Of:
    """What a mixture's transport properties rest on."""

    def __init__(self, system: Mixture) -> None:
        self.system, who = system, system.who
        Tc, Pc, omega = (who.constants(key, "a transport property") for key in ("Tc", "Pc", "omega"))
        dipole, association = (np.array([getattr(c, key) or 0.0 for c in who]) for key in ("dipole_moment", "association_factor"))
        self.constants = TransportConstants(system.molar_mass, Tc, Pc, critical_volumes(who), omega, dipole, association)
        self.Tb = np.array([c.Tb if c.Tb is not None else _boiling(c) for c in who])

    def chosen(self, what: str) -> str:
        """The name of the method that the system has for something, or the first of all."""
        return self.system.transport_methods.get(what, CHOICES[what][0])

    def method(self, what: str) -> Method:
        """The method itself."""
        return METHODS[what][self.chosen(what)]

    def steam(self, x: Array, gas: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """Which phases are steam, or water whose density is the reference equation's ``(N,)``."""
        if "water" not in self.system.names:
            return np.zeros(len(x), dtype=bool)
        alone = x[:, self.system.names.index("water")] > _ALONE
        return np.asarray(alone & (gas | (self.system.eos == "reference")))

    def ideal_Cv(self, T: Array) -> Array:
        """J/(mol K) of each component ``(N, C)``; NaN where its heat capacity is not known."""
        known = (c.heat_capacity for c in self.system.components)
        return np.stack([np.full(len(T), np.nan) if k is None else k.value(T) - R for k in known], axis=1)

    def chung_viscosities(self, T: Array) -> Array:
        """Of the thin pure gases by Chung's method, Pa s ``(N, C)``."""
        return chung.thin_viscosities(T, self.constants)

    def measured(self, key: str, T: Array) -> Array:
        """What was measured of the thin pure gases ``(N, C)``; NaN where nothing was."""
        known = (getattr(c, key) for c in self.system.components)
        return np.stack([np.full(len(T), np.nan) if k is None else k.value(T) for k in known], axis=1)

    def thin_viscosities(self, T: Array) -> Array:
        """Of the thin pure gases, Pa s ``(N, C)``."""
        return self._measured_or("gas_viscosity", T, self.chung_viscosities(T))

    def thin_conductivities(self, T: Array) -> Array:
        """W/(m K) ``(N, C)``."""
        return self._measured_or("gas_conductivity", T, chung.thin_conductivities(T, self.constants, self.ideal_Cv(T)))

    def _measured_or(self, key: str, T: Array, estimated: Array) -> Array:
        measured = self.measured(key, T)
        return np.where(np.isnan(measured), estimated, measured)

    def through_measured(self, key: str, gas: Fluid, values: Array, pure: Array) -> Found:
        """Estimates ``(N,)`` brought to what was measured of the pure gases, of which they are ``pure (N, C)``: by each one's factor to the power of its mole fraction."""
        measured = self.measured(key, gas.T)
        known = ~np.isnan(measured) & (gas.x > 0.0)
        factor = np.where(known, gas.x * np.log(np.where(known, measured / pure, 1.0)), 0.0).sum(axis=1)
        whole = np.where(known, 0.0, gas.x).sum(axis=1) < _LITTLE
        words = (*((MEASURED_GAS,) if whole.any() else ()), *((GAS,) if not whole.all() else ()))
        return Found(values * np.exp(factor), words)

    def pure(self, key: str, T: Array, otherwise: Callable[[Component, Array], Array]) -> Array:
        """A correlation of each component ``(N, C)``, or what stands in for it."""
        columns = []
        for c in self.system.components:
            known: Correlation | None = getattr(c, key)
            at = np.minimum(T, _HOTTEST * (c.Tc or np.inf))
            columns.append(otherwise(c, at) if known is None else known.value(at))
        return np.stack(columns, axis=1)

    def pure_viscosities(self, T: Array) -> Array:
        """Of the pure liquids, Pa s ``(N, C)``; NaN of what is none, or nothing is known of."""
        c = self.constants
        low, high = liquids.LETSOU_STIEL
        Tr = T[:, None] / c.Tc
        estimated = np.where((Tr >= low) & (Tr <= high), liquids.letsou_stiel(T, c), np.nan)
        pure = self.pure("liquid_viscosity", T, lambda _, at: np.full(len(at), np.nan))
        return np.where(np.isnan(pure), estimated, np.where(Tr <= high, pure, np.nan))

    def pure_conductivities(self, T: Array) -> Array:
        """W/(m K) ``(N, C)``."""

        def estimated(c: Component, at: Array) -> Array:
            assert c.molar_mass is not None and c.Tc is not None  # noqa: PT018
            Tb = self.Tb[self.system.names.index(c.name)]
            return sato_riedel(c.molar_mass, float(Tb), c.Tc, 0.0, c.Tc).value(at)

        return self.pure("liquid_conductivity", T, estimated)

    def surface_of(self, i: int, T: Array) -> Array:
        """Surface tension of a pure liquid, N/m ``(N,)``."""
        c = self.system.components[i]
        assert c.Tc is not None and c.Pc is not None  # noqa: PT018
        if c.surface_tension is None:
            return np.asarray(brock_bird.surface_tension(T, float(self.Tb[i]), c.Tc, c.Pc))
        return np.asarray(c.surface_tension.value(T))

    def surfaces(self, T: Array) -> tuple[Array, Array]:
        """Surface tensions of the pure liquids, N/m, and their densities, mol/m3 ``(N, C)``, at ``T`` or what is next to it below the critical temperatures."""
        sigmas, densities = [], []
        for i, c in enumerate(self.system.components):
            at = np.minimum(T, _REFERENCE * self.constants.Tc[i])
            sigmas.append(self.surface_of(i, at))
            densities.append((_rackett(c) if c.liquid_density is None else c.liquid_density).value(at))
        return np.stack(sigmas, axis=1), np.stack(densities, axis=1)

    @cached_property
    def _measured(self) -> dict[str, list[bool]]:
        """Of which components liquids were measured."""
        keys = ("liquid_viscosity", "liquid_conductivity", "surface_tension")
        return {key: [getattr(c, key) is not None for c in self.system.components] for key in keys}

    def remarks(self, most: Array, mixed: bool) -> list[str]:
        """Of which components, that liquids have ``most (C,)`` of, the pure liquids are estimated; their viscosities only matter to those that are ``mixed``."""
        said = []
        used = (
            *((("liquid_viscosity", "viscosity"),) if mixed else ()),
            ("liquid_conductivity", "thermal conductivity"),
            ("surface_tension", "surface tension"),
        )
        for key, words in used:
            lacking = [n for n, x, there in zip(self.system.names, most, self._measured[key], strict=True) if x > 0.0 and not there]
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
