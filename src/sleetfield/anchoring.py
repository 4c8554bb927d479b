"""Vapor pressures that go through measured points: of a component, and of a system whose data bring their pure components' own along."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any, TypeVar

import numpy as np

from .arguments import guarded
from .components import Component
from .components.component_list import ComponentList
from .core.correlations.vapor_pressure import Antoine, RiedelForm, Wagner
from .data_sets import DataSet
from .errors import InputError
from .mixture import Mixture
from .specified import value_of

_PURE = 1e-6

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
