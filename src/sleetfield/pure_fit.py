"""Parameters of a pure component for equations with chains or bonds, fitted to its vapor pressures and liquid densities."""

from __future__ import annotations

import numpy as np

from .arguments import guarded
from .calculations.fitting import regress
from .components import Component, databank
from .components.classes import classes_of
from .data_sets import DataSet
from .errors import InputError
from .recipes.contract import Recipe, named
from .results.regression import Regression
from .system import System

_RANGE, _POINTS = (0.5, 0.9), 15
"""Of the critical temperature, between which the databank's correlations are asked, and at how many temperatures."""
_UNCERTAINTY = {"P": "1 %", "density": "1 %"}

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
        "CPA", "CPA-ECR" or "PC-SAFT".
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
    recipe = named("eos", eos)
    keys = recipe.sites_of_components
    if not keys:
        able = ", ".join(name for name, family in Recipe.registered["eos"].items() if family().sites_of_components)
        raise InputError(f"There are no parameters of a pure component to fit for eos={eos!r}; there are for {able}.")
    own = _usual_sites(c, len(keys)) if sites is None else sites
    if len(own) > len(keys) or any(not 0 <= n <= _MOST for n in own):
        raise InputError(f"sites are {own!r}; of {eos} they are {len(keys)} numbers from 0 to {_MOST}: {', '.join(keys)}.")
    data = _measured(c)
    own = (*own, *(0,) * (len(keys) - len(own)))
    begun = c.changed(source="assumed", **recipe.rough_constants(c, own), **{k: float(n) for k, n in zip(keys, own, strict=True)})
    system = System([begun], eos=recipe)
    symbols = [s for s in recipe.constants_of_components if f"{s} {c.name}" in system.model.parameters]
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
