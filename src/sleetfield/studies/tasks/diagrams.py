"""Tasks on a system without a feed: diagrams, maps, azeotropes, checks, advice."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from pydantic import Field

from ...specified import series_of
from ..form import Pressure, Pressures, Temperature, Temperatures
from .contract import Work

if TYPE_CHECKING:
    from ..case import Case


class Advise(Work):
    """Which model to take for a system's components, and why."""

    do: Literal["advise"]
    system: str = Field(description="Whose components; its own model has no part in it.")
    T: Temperatures = Field(description="One, or 'low to high in 2'.")
    P: Pressures
    purpose: str = "vapor-liquid"

    def result(self, case: Case) -> Any:
        from ...choosing import advise

        system = case.system(self.system)
        ends = {name: [float(v.min()), float(v.max())] for name, v in series_of({"T": self.T, "P": self.P}).items()}
        return advise(system.components, **ends, purpose=self.purpose, units=system.units)


class Check(Work):
    """What to look at before trusting a model."""

    do: Literal["check"]
    system: str
    T: Temperature = "25 degC"
    P: Pressure = "1 atm"

    def result(self, case: Case) -> Any:
        return case.system(self.system).check(T=self.T, P=self.P)


class Diagram(Work):
    """A diagram of two components."""

    do: Literal["diagram"]
    system: str
    kind: Literal["Txy", "Pxy", "xy", "pressures", "gamma", "Gmix", "excess"]
    first: str | None = None
    second: str | None = None
    T: Temperature | None = None
    P: Pressure | None = None
    points: int = 101
    measured: str | None = Field(None, description="A file of measured points to draw over: x beside y, T or P.")

    def result(self, case: Case) -> Any:
        data = None if self.measured is None else case.path(self.measured)
        return case.system(self.system).diagram(**self.options("system", "measured"), data=data)


class Azeotropes(Work):
    """All azeotropes of a system's components."""

    do: Literal["azeotropes"]
    system: str
    T: Temperatures | None = None
    P: Pressures | None = None

    def result(self, case: Case) -> Any:
        return case.system(self.system).azeotropes(**series_of({"T": self.T, "P": self.P}))


class LiquidMap(Work):
    """The liquids that three components form."""

    do: Literal["liquid map"]
    system: str
    T: Temperature
    P: Pressure = "1 atm"

    def result(self, case: Case) -> Any:
        return case.system(self.system).liquid_map(T=self.T, P=self.P)


class BoilingMap(Work):
    """How three components boil: residue curves, boundaries."""

    do: Literal["boiling map"]
    system: str
    P: Pressure = "1 atm"

    def result(self, case: Case) -> Any:
        return case.system(self.system).boiling_map(P=self.P)


class SaturationCurve(Work):
    """What a model makes of one component along saturation."""

    do: Literal["saturation curve"]
    system: str
    T: Temperatures | None = None
    measured: str | None = Field(None, description="A file of measured values to stand beside.")

    def result(self, case: Case) -> Any:
        data = None if self.measured is None else case.path(self.measured)
        return case.system(self.system).saturation_curve(**series_of({"T": self.T}), data=data)
