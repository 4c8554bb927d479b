"""Components with a model: what they are, what there is to say about them, and how a user's numbers are read for them."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from types import MappingProxyType
from typing import Any, Self

import numpy as np
from numpy.typing import NDArray

from . import origins
from .components import Component
from .components.component_list import ComponentList
from .composition import Composition, by_label, is_flows, mole_fractions, parts_of
from .core.models.activity import ActivityModel
from .core.models.contract import PhaseModel
from .core.specification import Thermodynamics
from .core.transport.choices import CHOICES
from .errors import InputError, UnknownComponentError
from .pairs.of_temperature import T_REFERENCE
from .recipes import Model
from .specified import values_of
from .text import html
from .units import dimension_of, one_in_si, unit_of

Array = NDArray[np.float64]

T_SHOWN = T_REFERENCE
"""Where a kij that depends on temperature is shown, K."""


def _checked_methods(transport: Mapping[str, str]) -> dict[str, str]:
    """Methods by what they are of.

    Raises
    ------
    InputError
        If there is no such property or method.
    """
    for what, name in transport.items():
        if what not in CHOICES:
            raise InputError(f"There are no methods for {what!r}. They are for {', '.join(CHOICES)}.")
        if name not in CHOICES[what]:
            raise InputError(f"There is no method {name!r} for {what}. There are {', '.join(CHOICES[what])}.")
    return dict(transport)


class Mixture:
    """What every calculation rests on and every result holds: components, a model, and the units that numbers are shown in. It does not change.

    Parameters
    ----------
    who : ComponentList
    model : Model
        With the parameters for these components.
    units : {"SI", "metric", "US"}
    transport : mapping of str to str
        Which methods transport properties are by, of `core.transport.choices`, where they are not the usual ones.
    """

    def __init__(
        self, who: ComponentList, model: Model, units: str = "SI", transport: Mapping[str, str] = MappingProxyType({})
    ) -> None:
        unit_of("pressure", units)
        self.who, self.model, self.units, self.transport_methods = who, model, units, _checked_methods(transport)
        self.names, self.components = who.names, who.components
        self.molar_mass: Array = who.molar_mass
        self.phase_model: PhaseModel = model.build(who)
        self.known_boundaries: dict[Any, Any] = {}

    @classmethod
    def of(cls, who: ComponentList, model: Model, units: str = "SI", transport: Mapping[str, str] = MappingProxyType({})) -> Self:
        """Components with a model that is settled for them."""
        made = cls.__new__(cls)
        Mixture.__init__(made, who, model, units, transport)
        return made

    def like(self, model: Model, who: ComponentList | None = None) -> Self:
        """The same with another model, of other components where they are given; units and methods stay."""
        return type(self).of(self.who if who is None else who, model, self.units, self.transport_methods)

    def __len__(self) -> int:
        return len(self.who)

    def __reduce__(self) -> tuple[Any, ...]:
        return type(self).of, (self.who, self.model, self.units, self.transport_methods)

    # ---- what they are ----

    @property
    def heat_capacities(self) -> tuple[Any, ...]:
        """Ideal-gas heat capacities, None where one is not known, or no vapor is meant, and so no enthalpy against it."""
        if self.has_no_vapor:
            return tuple(None for _ in self.components)
        return tuple(c.heat_capacity for c in self.components)

    @property
    def has_no_vapor(self) -> bool:
        """Whether its model is of liquids alone."""
        return getattr(self.model.recipe, "has_no_vapor", False)

    def need_vapor(self, call: str) -> None:
        """Refuse a calculation that is about a vapor where the model has none.

        Raises
        ------
        InputError
            If it has none.
        """
        if self.has_no_vapor:
            raise InputError(f"{call} is about a vapor, and this system has vapor='none'. Take vapor='ideal' or another.")

    @cached_property
    def thermodynamics(self) -> Thermodynamics:
        """What the properties of its states rest on, for the engine."""
        return Thermodynamics(self.phase_model, self.heat_capacities, self.molar_mass)

    @cached_property
    def fluids(self) -> PhaseModel:
        """Its phases without solids."""
        return self.model.fluids(self.who) if self.model.solids else self.phase_model

    @cached_property
    def activity(self) -> ActivityModel | None:
        """The activity model of the liquid; None for an equation of state."""
        return self.model.activity(self.who)

    @cached_property
    def gases(self) -> list[int]:
        """Positions of the gases that are dissolved by Henry's law."""
        gases = self.model.recipe.gases(self.model.parameters)
        return [i for i, name in enumerate(self.names) if name in gases]

    @property
    def eos(self) -> str | None:
        """The equation of state's name; None for a liquid model beside a vapor model."""
        return self.model.recipe.name if self.model.recipe.role == "eos" else None

    @cached_property
    def translation(self) -> Array | None:
        """What is taken off each component's molar volume ``(C,)``, m3/mol; None where volumes are the equation's own."""
        moved = self.model.parameters.of_symbol("translation")
        return _fixed(self.model.parameters.column("translation", self.who, 0.0)) if moved else None

    @cached_property
    def kij(self) -> Array:
        """Binary interaction parameters ``(C, C)``; at 298.15 K where they depend on temperature."""
        found = np.zeros((len(self), len(self)))
        for p in self.model.parameters.of_symbol("kij"):
            i, j = (self.names.index(name) for name in p.of)
            found[i, j] = found[j, i] = p.function.at(T_SHOWN)
        return _fixed(found)

    def position(self, name: str) -> int:
        """Where a component stands in the system, by any of its names.

        Raises
        ------
        UnknownComponentError
            If it is not in this system.

        """
        return self.who.position(name)

    def present(self, z: Array) -> tuple[NDArray[np.intp], PhaseModel]:
        """Positions of the components that are there, and the model of those alone."""
        present = np.flatnonzero(z > 0.0)
        return present, self.phase_model if len(present) == len(self) else self.phase_model.select(present.tolist())

    def part(self, components: Any) -> Self:
        """The same with some of the components, in the order named, with the same model and parameters."""
        kept = self.who.part(components)
        return self.like(self.model.part(kept.names), kept)

    @property
    def model_title(self) -> str:
        """The model, for headings."""
        return self.model.title

    @property
    def title(self) -> str:
        """Components and model, for headings."""
        shown_names = self.names if len(self) <= 4 else (*self.names[:3], f"{len(self) - 3} more")
        return f"{' + '.join(shown_names)} ({self.model_title})"

    def full_title(self, z: Array | None = None) -> str:
        """The same with every component, and how much there is of each where a composition ``z (C,)`` is given."""
        amounts = [""] * len(self) if z is None else [f"{x:.4g} " for x in z]
        there = [True] * len(self) if z is None else (z > 0.0).tolist()
        return f"{' + '.join(f'{a}{n}' for a, n, t in zip(amounts, self.names, there, strict=True) if t)} ({self.model_title})"

    def __repr__(self) -> str:
        return f"<{type(self).__name__} {self.title}>"

    def _repr_html_(self) -> str:
        import pandas as pd

        parameters = [(p.name, str(p.function), p.layer, p.source) for p in self.model.parameters.values()]
        frame = pd.DataFrame(parameters, columns=["parameter", "value", "layer", "source"])
        return html(self.full_title(), frame, self.notes)

    def outline(self) -> dict[str, Any]:
        """Components, model and parameters in short, for the results' plain form."""
        parameters = {p.name: p.function.plain() for p in self.model.parameters.values()}
        return {"components": list(self.names), "model": self.model_title, "parameters": parameters}

    def context(self) -> dict[str, str]:
        """The same in lines of text, for files."""
        parameters = [f"{p.name} = {p.function}" for p in self.model.parameters.values() if p.known]
        return {"components": " + ".join(self.names), "model": self.model_title, "parameters": "; ".join(parameters) or "none"}

    # ---- what there is to say about it ----

    @cached_property
    def notes(self) -> list[str]:
        """What holds for every result of this system."""
        notes = self.model.notes(self.who)
        notes += origins.origin_notes(self.components, (*self.model.recipe.needs, "heat_capacity"))
        notes += origins.pair_notes(self.model)
        lacking = [c.name for c in self.components if c.heat_capacity is None]
        if lacking and not self.has_no_vapor:
            notes.append(f"There is no ideal-gas heat capacity for {', '.join(lacking)}: no enthalpy, entropy or heat capacity.")
        return notes

    def range_notes(self, T: Array) -> list[str]:
        """Which correlations and parameters are used outside their range at temperatures ``T``."""
        notes = origins.correlation_notes("ideal-gas heat capacity", "heat_capacity", self.components, T, self.units)
        notes += self.vapor_pressure_notes(T)
        if "liquid_density" in self.model.recipe.needs:
            notes += origins.correlation_notes("liquid density", "liquid_density", self._liquids, T, self.units)
        return notes + self.model.notes_at(self.who, T)

    def vapor_pressure_notes(self, T: Array) -> list[str]:
        """The same for vapor pressures, where the model uses them, and for binary parameters alone; and what there is to say of the vapor."""
        notes = self.model.vapor_notes_at(self.who, np.asarray(T))
        if "vapor_pressure" in self.model.recipe.needs:
            notes += origins.correlation_notes("vapor pressure", "vapor_pressure", self._liquids, T, self.units)
        return notes + self.pair_notes(T)

    def pair_notes(self, T: Array) -> list[str]:
        """The same for binary parameters alone."""
        return origins.parameter_notes(self.model, T)

    @property
    def _liquids(self) -> list[Component]:
        """The components but for gases that are dissolved by Henry's law, which have no pure liquid."""
        return [c for i, c in enumerate(self.components) if i not in self.gases]

    # ---- reading a user's numbers ----

    def conditions(self, z: Composition, basis: str, **given: Any) -> tuple[dict[str, Array], Array, tuple[int, ...]]:
        """Specifications and mole fractions as batches of one length, and the shape that they had."""
        z = by_label(z)
        if is_flows(z):
            z, basis = self.feed_of_flows(z)[0], "mole"  # type: ignore[arg-type]
        fractions = mole_fractions(z, self.names, self.position, self.molar_mass, basis)
        if basis == "mass" and np.isnan(fractions).any():
            lacking = [n for n, m in zip(self.names, self.molar_mass, strict=True) if np.isnan(m)]
            raise UnknownComponentError(f"There is no molar mass of {', '.join(lacking)}, so mass fractions cannot be converted.")
        values = {name: values_of(value, name) for name, value in given.items()}
        try:
            shape: tuple[int, ...] = np.broadcast_shapes(*(v.shape for v in values.values()), fractions.shape[:-1])
        except ValueError:
            shapes = ", ".join(f"{n} {v.shape}" for n, v in values.items())
            raise InputError(
                f"The arrays do not fit together: {shapes}, composition {fractions.shape[:-1]}. Give equal lengths, or single values."
            ) from None
        if 0 in shape:
            raise InputError("The arrays are empty: there is no state to calculate. Give at least one value of each.")
        if not shape:
            return {n: v.reshape(1) for n, v in values.items()}, fractions.reshape(1, -1), shape
        flat = {n: np.ascontiguousarray(np.broadcast_to(v, shape)).ravel() for n, v in values.items()}
        batch = np.broadcast_to(fractions, (*shape, len(self))).reshape(-1, len(self))
        return flat, batch, shape

    def feed_of_flows(self, flows: Mapping[str, Any]) -> tuple[dict[str, float], float]:
        """Mole fractions and molar flow, mol/s, of a feed whose flow is given component by component, in moles, mass or volumes of ideal gas.

        Raises
        ------
        InputError
            If a flow is none, or negative, or all are zero; or a component is not of this system.
        """
        moles: dict[str, float] = {}
        for name, given in flows.items():
            shares = {self.names[self.position(part)]: share for part, share in parts_of(name).items()}
            by_mass = dimension_of(given, "molar_flow", "mass_flow") == "mass_flow"
            amount = one_in_si(given, "mass_flow" if by_mass else "molar_flow", f"the flow of {name}")
            if twice := [part for part in shares if part in moles]:
                raise InputError(f"{twice[0]} stands twice among the flows. Add its amounts up.")
            z = np.array([shares.get(own, 0.0) for own in self.names])
            whole = amount / (float(self.mean_molar_mass(z)) if by_mass else 1.0)
            moles |= {part: share * whole for part, share in shares.items()}
        total = sum(moles.values())
        if not all(0.0 <= n < np.inf for n in moles.values()) or total <= 0.0:
            raise InputError(
                f"Flows must be finite and not negative, and one of them positive; got {', '.join(f'{k}: {v}' for k, v in flows.items())}."
            )
        return {name: n / total for name, n in moles.items()}, total

    def mean_molar_mass(self, z: Array) -> Array:
        """kg/mol of mixtures ``(N,)``."""
        mean = z @ self.molar_mass
        if np.isnan(mean).any():
            lacking = [n for n, m in zip(self.names, self.molar_mass, strict=True) if np.isnan(m)]
            raise UnknownComponentError(f"There is no molar mass of {', '.join(lacking)}, so a mass flow cannot be converted.")
        return np.asarray(mean)


def _fixed(values: Array) -> Array:
    values.flags.writeable = False
    return values
