"""Parameters of a pure component for equations with chains or bonds, fitted to its vapor pressures and liquid densities."""

from __future__ import annotations

import numpy as np

from .arguments import guarded
from .calculations.fitting import regress
from .components import Component, databank
from .components.classes import classes_of
from .core.constants import N_AVOGADRO
from .core.models.soave_redlich_kwong import SoaveRedlichKwong
from .data_sets import DataSet
from .errors import InputError
from .results.regression import Regression
from .system import System

_RANGE, _POINTS = (0.5, 0.9), 15
"""Of the critical temperature, between which the databank's correlations are asked, and at how many temperatures."""
_UNCERTAINTY = {"P": "1 %", "density": "1 %"}

_SITES = {"CPA": ("cpa_donors", "cpa_acceptors", "cpa_pairing"), "PC-SAFT": ("segment_donors", "segment_acceptors")}
"""What sites are called, by equation: donors, acceptors, and those that pair with any."""
_OF_CLASSES = {"water": (2, 2, 0), "glycol": (2, 2, 0), "acid": (0, 0, 1), "alcohol": (1, 1, 0), "amine": (1, 1, 0)}
"""What classes of components have where nothing else is said."""


@guarded
def fit_pure(component: str | Component, eos: str = "CPA", *, sites: tuple[int, ...] | None = None) -> Regression:
    """Parameters of an equation with chains or bonds for a pure component, from what its correlations say.

    Vapor pressures and liquid densities at fifteen temperatures from 0.5 to 0.9 of the critical temperature, as far as the correlations hold, count with 1 % each.

    Parameters
    ----------
    component : str or Component
        With a vapor pressure and a liquid density.
    eos : str
        "CPA" or "PC-SAFT".
    sites : tuple of int, optional
        How many donors, acceptors and, by CPA, sites that pair with any other a molecule has; what its class usually has where nothing is said: none but of water (2, 2), glycols (2, 2), alcohols and
        amines (1, 1), and acids (0, 0, 1) or, as chains, (1, 1).

    Returns
    -------
    Regression
        With intervals. ``fit.component()`` is the component with the fitted parameters, marked as such: for other systems, and to be kept with `store_component`.

    Raises
    ------
    InputError
        If there is no such equation, the sites are not as many as it takes, or a correlation is missing.

    Examples
    --------
    >>> import sleetfield as sl
    >>> fit = sl.fit_pure("2-butanol", "CPA")
    >>> alcohol = fit.component()
    >>> round(alcohol.cpa_bond_energy / 1e3), alcohol.sources["cpa_bond_energy"][:6]
    (20, 'fitted')

    """
    c = component if isinstance(component, Component) else databank().find(component)
    if eos not in _SITES:
        raise InputError(f"There are no parameters of a pure component to fit for eos={eos!r}; there are for {', '.join(_SITES)}.")
    keys = _SITES[eos]
    own = _usual_sites(c, len(keys)) if sites is None else sites
    if len(own) > len(keys) or any(not 0 <= n <= _MOST for n in own):
        raise InputError(f"sites are {own!r}; of {eos} they are {len(keys)} numbers from 0 to {_MOST}: {', '.join(keys)}.")
    data = _measured(c)
    begun = c.changed(source="assumed", **_start(c, eos, own), **{k: float(n) for k, n in zip(keys, own, strict=False)})
    system = System([begun], eos=eos)
    symbols = [s for s in system.model.recipe.constants_of_components if f"{s} {c.name}" in system.model.parameters]
    return regress(system, data, fit=[f"{s} {c.name}" for s in symbols], uncertainty=_UNCERTAINTY)


_MOST = 6


def _usual_sites(c: Component, kinds: int) -> tuple[int, ...]:
    for name, own in _OF_CLASSES.items():
        if name in classes_of(c):
            return own[:kinds] if any(own[:kinds]) else (1, 1)
    return (0,) * kinds


def _measured(c: Component) -> list[DataSet]:
    """The correlations at some temperatures of the range, each where it holds."""
    if c.vapor_pressure is None or c.liquid_density is None:
        raise InputError(
            f"{c.name} needs a vapor pressure and a liquid density to fit parameters to. Give them with sl.Component(...)."
        )
    T = np.linspace(*_RANGE, _POINTS) * c.constant("Tc", "a fit")
    there, dense = ((k.T_min <= T) & (k.T_max >= T) for k in (c.vapor_pressure, c.liquid_density))
    pressures = np.exp(c.vapor_pressure.value(T))
    densities = c.liquid_density.value(T) * c.constant("molar_mass", "a fit")
    source = "the databank's correlation"
    return [
        DataSet((c.name,), {"T": T[there], "P": pressures[there]}, kind="vapor pressure", source=source),
        DataSet(
            (c.name,), {"T": T[dense], "P": 1.01 * pressures[dense], "density": densities[dense]}, kind="density", source=source
        ),
    ]


def _start(c: Component, eos: str, sites: tuple[int, ...]) -> dict[str, float]:
    """Rough values: of Soave's equation or of alkanes, less what bonds do, which in pairs are strong."""
    binds, pairs = any(sites), any(sites[2:])
    Tc, Pc, omega, mass = (np.array([c.constant(k, "a fit")]) for k in ("Tc", "Pc", "omega", "molar_mass"))
    assert c.liquid_density is not None
    volume = 1.0 / float(c.liquid_density.value(0.6 * Tc)[0])
    if eos == "CPA":
        soave = SoaveRedlichKwong(Tc, Pc, omega, np.zeros((1, 1)))
        weaker, bonds = (0.6, {"cpa_bond_energy": 40e3 if pairs else 21e3, "cpa_bond_volume": 0.008}) if binds else (1.0, {})
        m = float(SoaveRedlichKwong.m(omega)[0]) * (0.75 if binds else 1.0)
        return {"cpa_attraction": weaker * float(soave.root_ac[0]) ** 2, "cpa_covolume": 0.8 * volume, "cpa_slope": m, **bonds}
    chain = 1.0 + 20.0 * float(mass[0])
    diameter = (_PACKING * volume / (np.pi / 6.0 * N_AVOGADRO * chain)) ** (1.0 / 3.0)
    bonds = {"segment_bond_energy": 2500.0, "segment_bond_volume": 0.01} if binds else {}
    return {
        "segments": chain,
        "segment_diameter": diameter,
        "segment_energy": 230.0 if binds else 0.42 * float(Tc[0]) / chain**0.25,
        **bonds,
    }


_PACKING = 0.42
"""Of the segments of a liquid."""
