"""What one databank layer says of one component, and how layers make a component: each value from the last layer that gives it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np

from ..core.correlations.contract import Correlation
from ..errors import InputError
from .component import IDENTITY, Component
from .formula import molar_mass
from .quantities import CONSTANTS, CORRELATIONS, EQUATION_OF, LENGTHS, range_of


class Equation(NamedTuple):
    """A correlation as it is written: the equation's name, coefficients and range."""

    name: str
    coefficients: tuple[float, ...]
    T_min: float
    T_max: float


@dataclass(frozen=True)
class Record:
    """Identity, SI values and equations by quantity, and the source of each."""

    name: str
    identity: Mapping[str, Any] = field(default_factory=dict)
    values: Mapping[str, float | Equation] = field(default_factory=dict)
    sources: Mapping[str, str] = field(default_factory=dict)


def record_of(component: Component) -> Record:
    """A component as a record."""
    identity = {key: getattr(component, key) for key in IDENTITY if getattr(component, key)}
    values: dict[str, float | Equation] = {}
    for key in (*CONSTANTS, *CORRELATIONS):
        value = getattr(component, key)
        if isinstance(value, Correlation):
            values[key] = Equation(EQUATION_OF[type(value)], value.coefficients, value.T_min, value.T_max)
        elif value is not None:
            values[key] = float(value)
    return Record(component.name, identity, values, {key: component.sources[key] for key in values})


def assemble(records: Sequence[tuple[str, Record]]) -> Component:
    """A component from what the layers say of it, ``(layer, record)``, the first layer first.

    Raises
    ------
    InputError
        If an equation is unknown or its coefficients are not as many as it takes.
    """
    identity: dict[str, Any] = {}
    values: dict[str, float | Equation] = {}
    sources: dict[str, str] = {}
    layers: dict[str, str] = {}
    for layer, record in records:
        identity |= record.identity
        values |= record.values
        sources |= record.sources
        layers |= dict.fromkeys(record.values, layer)
    name = records[0][1].name
    constants = {key: value for key, value in values.items() if not isinstance(value, Equation)}
    by_formula = molar_mass(identity.get("formula", ""))
    if by_formula is not None:
        constants.setdefault("molar_mass", by_formula)
    made = {key: build(name, key, value, constants) for key, value in values.items() if isinstance(value, Equation)}
    return Component(name=name, **identity, **constants, **made, sources=sources, layers=layers, layer=records[-1][0])  # type: ignore[arg-type]


def build(name: str, key: str, equation: Equation, constants: Mapping[str, float]) -> Correlation:
    """The correlation that an equation stands for.

    Raises
    ------
    InputError
        If the equation is unknown, its coefficients are not as many as it takes, or it needs a constant that is not there.
    """
    quantity = CORRELATIONS[key]
    where = f"{quantity.words} of {name}"
    if equation.name not in quantity.equations:
        raise InputError(f"{where}: there is no equation {equation.name!r}. There are {', '.join(quantity.equations)}.")
    wanted = LENGTHS.get(equation.name)
    if len(equation.coefficients) != (max(1, len(equation.coefficients)) if wanted is None else wanted):
        raise InputError(f"{where}: {equation.name} takes {wanted or 'some'} coefficients; got {len(equation.coefficients)}.")
    low, high = range_of(equation.T_min, equation.T_max, where)
    try:
        made = quantity.equations[equation.name](equation.coefficients, low, high, constants)
        with np.errstate(all="ignore"):
            ends = made.value(np.array([low, high]))
        sound = bool(np.isrealobj(ends) and np.isfinite(ends).all())
    except KeyError as error:
        raise InputError(f"{where}: the equation {equation.name} needs the component's {error.args[0]}.") from None
    except (ArithmeticError, ValueError, TypeError):
        sound = False
    if not sound:
        raise InputError(f"{where}: {equation.name} with these coefficients gives no number at {low:g} or {high:g} K. Check them.")
    return made
