"""What goes through a measured point: vapor pressures of a component, and of a system whose data bring their pure components' own along; and parameters of a pair, predicted ones above all."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any, TypeVar

import numpy as np

from .arguments import guarded
from .components import Component
from .components.component_list import ComponentList
from .core.arrays import ABSENT
from .core.correlations.vapor_pressure import Antoine, RiedelForm, Wagner
from .core.equilibrium.stability import UNSTABLE, of_feeds
from .core.models.contract import LIQUID, VAPOR
from .data_sets import DataSet
from .errors import CalculationError, InputError
from .mixture import Mixture
from .pairs.of_temperature import OfTemperature
from .recipes.model import Model
from .recipes.parameter import Parameter, Parameters
from .specified import value_of
from .units import one_in_si

_PURE = 1e-6
_COMPRESSED = 30.0
"""Over the pressure of an azeotrope, so that nothing boils."""
_FACTORS = np.linspace(0.0, 3.0, 121)
"""By which parameters of a pair are multiplied: none makes an ideal or athermal mixture."""

AnyMixture = TypeVar("AnyMixture", bound=Mixture)


@guarded
def anchored(component: Component, *, T: Any, P: Any, source: str = "") -> Component:
    """A component whose vapor pressure is shifted in ln P so that it goes through one measured point, from ``source``.

    Raises
    ------
    InputError
        If the component has no vapor-pressure correlation of the Riedel form, Antoine or Wagner form.

    Examples
    --------
    >>> import numpy as np
    >>> import sleetfield as sl
    >>> acetone = sl.anchored(sl.databank().find("acetone"), T="25 degC", P="30.8 kPa")
    >>> float(np.exp(acetone.vapor_pressure.value(np.array([298.15]))[0]).round(6))
    30800.0
    """
    curve = component.vapor_pressure
    if curve is None:
        raise InputError(f"{component.name} has no vapor-pressure correlation to shift.")
    at, measured = value_of(T, "T"), value_of(P, "P")
    shift = float(np.log(measured) - curve.value(np.array([at]))[0])
    c = list(curve.coefficients)
    if isinstance(curve, Wagner):
        c[-1] *= float(np.exp(shift))
    elif isinstance(curve, (Antoine, RiedelForm)):
        c[0] += shift
    else:
        raise InputError(f"The vapor pressure of {component.name} is of a form that can't be shifted.")
    where = f"{component.sources['vapor_pressure']}; shifted by {100.0 * np.expm1(shift):+.3g} % to go through {measured:g} Pa at {at:g} K{f' ({source})' if source else ''}"
    return component.changed(source=where, vapor_pressure=replace(curve, coefficients=tuple(c)))


@guarded
def with_measured_ends(system: AnyMixture, data: DataSet | Sequence[DataSet]) -> AnyMixture:
    """A system whose components' vapor pressures go through those that data have of them: points of a pure component, or sets of its vapor pressure.

    A curve keeps its shape, and is shifted in ln P by what the points are off on average. A fit then does not put into parameters of pairs what is the pure
    components'.

    Raises
    ------
    InputError
        If the data have no point of a pure component.

    Examples
    --------
    >>> import sleetfield as sl
    >>> still = sl.System(["acetone", "1-butanol"], liquid="NRTL")
    >>> data = sl.DataSet.of(still.names, T="60 degC", P=["8.0 kPa", "68 kPa", "116 kPa"], x=[0.0, 0.5, 1.0])
    >>> own = sl.with_measured_ends(still, data)
    >>> round(float(own.bubble({"acetone": 1.0}, T="60 degC").P), 6)
    116000.0

    """
    sets = (data,) if isinstance(data, DataSet) else tuple(data)
    components = list(system.components)
    found = False
    for i, c in enumerate(components):
        parts = [own for d in sets if c.name in d.names and (own := _pure_points(d, c.name)) is not None]
        if not parts or c.vapor_pressure is None:
            continue
        T, P = (np.concatenate([part[k] for part in parts]) for k in (0, 1))
        off = float((np.log(P) - c.vapor_pressure.value(T)).mean())
        middle = float(np.median(T))
        level = float(np.exp(c.vapor_pressure.value(np.array([middle]))[0] + off))
        components[i] = anchored(c, T=middle, P=level, source=", ".join(dict.fromkeys(d.source for d in sets if c.name in d.names)))
        found = True
    if not found:
        raise InputError("The data have no point of a pure component, with T and P.")
    return type(system).of(ComponentList(components), system.model, system.units)


def _pure_points(data: DataSet, name: str) -> tuple[Any, Any] | None:
    """T and P of the points of one component by itself."""
    if data.kind not in ("vapor-liquid", "vapor pressure"):
        return None
    there = data.used & np.isfinite(data["T"]) & np.isfinite(data["P"])
    if len(data.names) > 1:
        there &= np.abs(data["x"][:, data.names.index(name)] - 1.0) < _PURE
    return (data["T"][there], data["P"][there]) if there.any() else None


@guarded
def anchored_pair(
    system: AnyMixture,
    first: str,
    second: str,
    *,
    T: Any,
    gamma_inf: Any = None,
    x: Any = None,
    P: Any = None,
    source: str = "",
) -> AnyMixture:
    """A system in which the parameters of a pair are all multiplied by one factor, so that its liquid goes through one measured point.

    So the ratio of both activity coefficients' logarithms and how they depend on temperature stay what was predicted, with ``missing="UNIFAC"`` say, or published. The parameters tell of it in their source.

    Parameters
    ----------
    system : System
        With a liquid model that has parameters of pairs.
    first, second : str
        The pair.
    T
        K, or text with a unit.
    gamma_inf : float, optional
        The activity coefficient of the first at infinite dilution in the second, as measured.
    x, P : optional
        Instead: the mole fraction of the first in their azeotrope at T, and its pressure.
    source : str
        Where the measurement is from.

    Raises
    ------
    InputError
        If the model has no such parameters, or neither or both of the measurements are given.
    CalculationError
        If no factor from 0 to 3 leads there, or the liquid would split.

    Examples
    --------
    >>> import sleetfield as sl
    >>> predicted = sl.System(["ethyl acetate", "n-hexane"], liquid="NRTL", missing="UNIFAC")
    >>> still = sl.anchored_pair(predicted, "ethyl acetate", "n-hexane", T="65.2 degC", x=0.387, P="1 atm", source="bench still")
    >>> [round(a.composition["ethyl acetate"], 3) for a in still.azeotropes(T="65.2 degC")]
    [0.387]

    """
    if system.activity is None:
        raise InputError(f"{system.title} has no liquid model whose parameters could be scaled.")
    i, j = system.position(first), system.position(second)
    if i == j or (gamma_inf is None) == (x is None) or (x is None) != (P is None):
        raise InputError("Give two components, and either gamma_inf of the first in the second, or x and P of their azeotrope.")
    at = np.array([value_of(T, "T")])
    own = _of_pair(system.model, {system.names[i], system.names[j]})
    here = f"{system.names[i]} at {at[0]:g} K"
    if gamma_inf is not None:
        measured = one_in_si(gamma_inf, "fraction", "gamma_inf")
        if not measured > 0.0:
            raise InputError(f"gamma_inf is {measured:g}; an activity coefficient is above zero.")
        words = f"γ∞ = {measured:g} in {system.names[j]} of {here}"
        solvent = np.full((len(system.names), 1), ABSENT)
        solvent[j] = 1.0

        def off(factor: float) -> float:
            activity = _scaled(system, own, factor).activity
            assert activity is not None
            return float(activity.at(at).ln_gamma(solvent)[i, 0] - np.log(measured))

        return _told(system, own, _zero(off, words), words, source)
    share, pressure = one_in_si(x, "fraction", "x"), np.array([value_of(P, "P")])
    if not 0.0 < share < 1.0:
        raise InputError(f"x is {share:g}; an azeotrope has a mole fraction between 0 and 1.")
    words = f"the azeotrope with {share:g} of {here}"
    z = np.full((1, len(system.names)), ABSENT)
    z[0, [i, j]] = share, 1.0 - share

    def apart(factor: float) -> float:
        bound = _scaled(system, own, factor).phase_model.at(at, pressure)
        volatility = (bound.ln_phi(z, LIQUID) - bound.ln_phi(z, VAPOR))[0]
        return float(volatility[i] - volatility[j])

    factor = _zero(apart, words)
    if of_feeds(_scaled(system, own, factor).phase_model, at, _COMPRESSED * pressure, z).tm[0] < UNSTABLE:
        raise CalculationError(f"With the parameters multiplied by {factor:.3g}, {words} would be one of two liquids.")
    return _told(system, own, factor, words, source)


def _of_pair(model: Model, pair: set[str]) -> list[Parameter]:
    parameters = model.parameters
    own = [p for symbol in model.recipe.usual_fit for p in parameters.of_symbol(symbol) if set(p.of) == pair]
    if not any(p.known for p in own):
        raise InputError(
            f'{model} has no parameters of {" and ".join(sorted(pair))} to multiply. With missing="UNIFAC" they are predicted.'
        )
    return own


def _scaled(system: AnyMixture, own: Sequence[Parameter], factor: float) -> AnyMixture:
    """The system with parameters multiplied."""
    model = system.model
    changed = {
        p.name: replace(p, function=OfTemperature(tuple(factor * c for c in p.function.coefficients)), written="") for p in own
    }
    return system.like(Model(model.recipe, model.names, Parameters({**model.parameters, **changed}.values())))


def _told(system: AnyMixture, own: Sequence[Parameter], factor: float, words: str, source: str) -> AnyMixture:
    """The same, and their sources say so."""
    about = f"multiplied by {factor:.4g}: {words}{f' ({source})' if source else ''}"
    return _scaled(system, [replace(p, source=f"{p.source}; {about}", layer="given") for p in own], factor)


def _zero(off: Callable[[float], float], words: str) -> float:
    """The factor nearest to one at which something is zero."""
    from scipy.optimize import brentq

    errors = np.array([off(f) for f in _FACTORS])
    passed = np.flatnonzero(np.sign(errors[:-1]) != np.sign(errors[1:]))
    if not passed.size:
        raise CalculationError(f"No factor from 0 to 3 on the parameters leads to {words}: they are of another kind of mixture.")
    k = passed[np.abs(_FACTORS[passed] - 1.0).argmin()]
    return float(brentq(off, _FACTORS[k], _FACTORS[k + 1], xtol=1e-12))
