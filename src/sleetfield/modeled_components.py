"""Components with a thermodynamic model: what they are, what there is to say about them, and how a user's numbers are read for them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .calculations import origins, specifications
from .calculations.model_choice import ModelChoice
from .components import Component, databank
from .composition import Composition, mole_fractions
from .core.specification import Mixture
from .errors import InputError, UnknownComponentError
from .units import to_si, unit_of

Array = NDArray[np.float64]


class ModeledComponents:
    """What every calculation on a `System` rests on; the system's docstring says what the arguments are."""

    def __init__(
        self,
        components: Sequence[str | Component],
        *,
        eos: str | None = None,
        liquid: str | None = None,
        vapor: str | None = None,
        kij: Mapping[tuple[str, str], Any] | str | None = None,
        lij: Mapping[tuple[str, str], float] | None = None,
        alpha: str | None = None,
        alpha_constants: Mapping[str, Sequence[float]] | None = None,
        translation: Mapping[str, Any] | str | None = None,
        parameters: Mapping[tuple[str, str], Any] | None = None,
        henry: Mapping[tuple[str, str], Any] | None = None,
        q_residual: Mapping[str, float] | None = None,
        poynting: bool = False,
        units: str = "SI",
    ) -> None:
        if isinstance(components, str):
            raise InputError(f"Components are a list of names; got the text {components!r}. Write [{components!r}].")
        if not components:
            raise InputError("A system needs at least one component.")
        self.components = tuple(c if isinstance(c, Component) else databank().find(c) for c in components)
        self.names = tuple(c.name for c in self.components)
        self._positions: dict[str, int] = {}
        for i, component in enumerate(self.components):
            if component.name in self.names[:i]:
                raise InputError(f"{component.name} stands twice among the components. Name each once.")
            for key in (component.name, component.cas, component.formula, *component.aliases):
                if key:
                    self._positions.setdefault(key.lower(), i)
        unit_of("pressure", units)
        self.units = units
        self.molar_mass: Array = np.array([np.nan if c.molar_mass is None else c.molar_mass for c in self.components])
        self.heat_capacities = tuple(c.heat_capacity for c in self.components)
        self._model_options: dict[str, Any] = {
            "eos": eos,
            "liquid": liquid,
            "vapor": vapor,
            "kij": kij,
            "lij": lij,
            "alpha": alpha,
            "alpha_constants": alpha_constants,
            "translation": translation,
            "parameters": parameters,
            "henry": henry,
            "q_residual": q_residual,
            "poynting": poynting,
        }
        self.choice = ModelChoice(self.components, self.position, *self._model_options.values())
        self.eos = self.choice.equation
        self.model = self.choice.model
        self.known_boundaries: dict[Any, Any] = {}

    def __len__(self) -> int:
        return len(self.components)

    # ---- what they are ----

    @cached_property
    def mixture(self) -> Mixture:
        """What the properties of its states rest on."""
        return Mixture(self.model, self.heat_capacities, self.molar_mass)

    @property
    def translation(self) -> Array | None:
        """What is taken off each component's molar volume ``(C,)``, m3/mol; None where volumes are the equation's own."""
        return self.choice.translation

    @property
    def kij(self) -> Array:
        """Binary interaction parameters ``(C, C)``; at 298.15 K where they depend on temperature."""
        return self.choice.kij

    def position(self, name: str) -> int:
        """Where a component stands in the system, by any of its names.

        Raises
        ------
        UnknownComponentError
            If it is not in this system.

        """
        i = self._positions.get(str(name).strip().lower())
        if i is None:
            try:
                i = self.names.index(databank().find(str(name)).name)
            except (UnknownComponentError, ValueError):
                raise UnknownComponentError(f"{name!r} is not in this system, which has {', '.join(self.names)}.") from None
        return i

    @property
    def model_title(self) -> str:
        """The model, for headings."""
        return self.choice.title

    @property
    def title(self) -> str:
        """Components and model, for headings."""
        shown_names = self.names if len(self) <= 4 else (*self.names[:3], f"{len(self) - 3} more")
        return f"{' + '.join(shown_names)} ({self.model_title})"

    def __repr__(self) -> str:
        return f"<System {self.title}>"

    # ---- what there is to say about it ----

    @cached_property
    def notes(self) -> list[str]:
        """What holds for every result of this system."""
        notes = list(self.choice.notes)
        notes += origins.origin_notes(self)
        lacking = [c.name for c in self.components if c.heat_capacity is None]
        if lacking:
            notes.append(f"There is no ideal-gas heat capacity for {', '.join(lacking)}: no enthalpy, entropy or heat capacity.")
        return notes

    def range_notes(self, T: Array) -> list[str]:
        """Which correlations are used outside their range at temperatures ``T``."""
        return origins.range_notes(self, T)

    def vapor_pressure_notes(self, T: Array) -> list[str]:
        """The same for vapor pressures alone, where the model uses them."""
        return origins.vapor_pressure_notes(self, T)

    # ---- reading a user's numbers ----

    def conditions(self, z: Composition, basis: str, **given: Any) -> tuple[dict[str, Array], Array, tuple[int, ...]]:
        """Specifications and mole fractions as batches of one length, and the shape that they had."""
        fractions = mole_fractions(z, self.names, self.position, self.molar_mass, basis)
        if basis == "mass" and np.isnan(fractions).any():
            lacking = [n for n, m in zip(self.names, self.molar_mass, strict=True) if np.isnan(m)]
            raise UnknownComponentError(f"There is no molar mass of {', '.join(lacking)}, so mass fractions cannot be converted.")
        values = {name: to_si(value, specifications.DIMENSIONS[name], name) for name, value in given.items()}
        for name, value in values.items():
            bad = ~(np.isfinite(value) & specifications.possible(name, value))
            if bad.any():
                unit = unit_of(specifications.DIMENSIONS[name])
                first = f"{float(np.ravel(value)[np.ravel(bad)][0]):g} {unit}".strip()
                raise InputError(f"{name} is {first}; {specifications.RULES.get(name, 'it must be finite')}.")
        try:
            shape = np.broadcast_shapes(*(v.shape for v in values.values()), fractions.shape[:-1])
        except ValueError:
            shapes = ", ".join(f"{n} {v.shape}" for n, v in values.items())
            raise InputError(
                f"The arrays do not fit together: {shapes}, composition {fractions.shape[:-1]}. Give equal lengths, or single values."
            ) from None
        if 0 in shape:
            raise InputError("The arrays are empty: there is no state to calculate. Give at least one value of each.")
        flat = {n: np.ascontiguousarray(np.broadcast_to(v, shape)).ravel() for n, v in values.items()}
        batch = np.broadcast_to(fractions, (*shape, len(self))).reshape(-1, len(self))
        return flat, batch, shape

    def mean_molar_mass(self, z: Array) -> Array:
        """kg/mol of mixtures ``(N,)``."""
        mean = z @ self.molar_mass
        if np.isnan(mean).any():
            lacking = [n for n, m in zip(self.names, self.molar_mass, strict=True) if np.isnan(m)]
            raise UnknownComponentError(f"There is no molar mass of {', '.join(lacking)}, so a mass flow cannot be converted.")
        return np.asarray(mean)
