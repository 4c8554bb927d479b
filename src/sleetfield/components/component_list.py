"""Components in an order, found by any of their names."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..errors import InputError, UnknownComponentError
from .component import Component
from .databank import databank


class ComponentList(Sequence[Component]):
    """What a model is made for.

    Parameters
    ----------
    components : sequence
        Names, CAS numbers, formulas where unambiguous, or `Component` objects.

    Raises
    ------
    UnknownComponentError
        If one is not in the databank.
    InputError
        If there is none, or one stands twice.
    """

    def __init__(self, components: Iterable[str | Component]) -> None:
        if isinstance(components, str):
            raise InputError(f"Components are a list of names; got the text {components!r}. Write [{components!r}].")
        given = list(components)
        # asked for once for all: it looks at the folders each time
        bank = None if all(isinstance(c, Component) for c in given) else databank()
        self.components = tuple(c if isinstance(c, Component) else (bank or databank()).find(str(c)) for c in given)
        if not self.components:
            raise InputError("A system needs at least one component.")
        self.names = tuple(c.name for c in self.components)
        for i, name in enumerate(self.names):
            if name in self.names[:i]:
                raise InputError(f"{name} stands twice among the components. Name each once.")

    def __len__(self) -> int:
        return len(self.components)

    def __iter__(self) -> Iterator[Component]:
        return iter(self.components)

    def __getitem__(self, i: Any) -> Any:
        return self.components[i]

    @cached_property
    def _positions(self) -> dict[str, int]:
        found: dict[str, int] = {}
        for i, component in enumerate(self.components):
            for key in (component.name, component.cas, component.formula, *component.aliases):
                if key:
                    found.setdefault(key.lower(), i)
        return found

    def position(self, name: str) -> int:
        """Where a component stands, by any of its names.

        Raises
        ------
        UnknownComponentError
            If it is not among these.
        """
        i = self._positions.get(str(name).strip().lower())
        if i is None:
            try:
                i = self.names.index(databank().find(str(name)).name)
            except (UnknownComponentError, ValueError):
                raise UnknownComponentError(f"{name!r} is not in this system, which has {', '.join(self.names)}.") from None
        return i

    def constants(self, key: str, needed_for: str) -> NDArray[np.float64]:
        """A constant of every component ``(C,)``; an error where one is missing."""
        return np.array([c.constant(key, needed_for) for c in self.components])

    @cached_property
    def molar_mass(self) -> NDArray[np.float64]:
        """kg/mol ``(C,)``; NaN where one is unknown."""
        found = np.array([np.nan if c.molar_mass is None else c.molar_mass for c in self.components])
        found.flags.writeable = False
        return found

    @property
    def all_masses(self) -> NDArray[np.float64] | None:
        """The same where every one is known, as phase models take them."""
        return None if np.isnan(self.molar_mass).any() else self.molar_mass

    def part(self, names: Iterable[str]) -> ComponentList:
        """Some of them, in the order named."""
        return ComponentList([self.components[self.position(name)] for name in names])
