"""Tasks about solids: what freezes first, hydrates and inhibitors against them, solubilities, melting diagrams."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from pydantic import Field

from ...specified import series_of
from ..form import Pressure, Pressures, Temperatures
from .contract import Specified, Work, marked

if TYPE_CHECKING:
    from ..case import Case


class FirstSolid(Work):
    """Where the first pure solid, or the first gas hydrate, forms from a feed; a list of temperatures or pressures makes a line."""

    do: Literal["freezing", "hydrate"]
    system: str
    feed: str
    T: Temperatures | None = None
    P: Pressures | None = None
    brine: dict[str, str | float] | None = Field(
        None, description="Salt water beside it: { 'sodium chloride' = '3.5 %' }, or mol/kg of water."
    )
    marks: dict[str, Specified] = Field(default={}, description="Points to mark: { drum = { T = '-20 degC', P = '20 bar' } }.")

    def drawing(self) -> dict[str, Any]:
        return marked(self.marks)

    def result(self, case: Case) -> Any:
        system = case.system(self.system)
        call = {"freezing": system.freezing, "hydrate": system.hydrate}[self.do]
        return call(**case.composition(self.feed) | series_of({"T": self.T, "P": self.P}), brine=self.brine)


class HydrateAmount(Work):
    """How much of a feed becomes gas hydrate, and what it takes along."""

    do: Literal["hydrate amount"]
    system: str
    feed: str
    T: Temperatures
    P: Pressures

    def result(self, case: Case) -> Any:
        return case.system(self.system).hydrate_amount(**case.composition(self.feed) | series_of({"T": self.T, "P": self.P}))


class InhibitorDose(Work):
    """How much of a component keeps hydrates away."""

    do: Literal["inhibitor dose"]
    system: str
    feed: str
    of: str = Field(description="The inhibitor, a component of the system.")
    T: Temperatures
    P: Pressures

    def result(self, case: Case) -> Any:
        return case.system(self.system).inhibitor_dose(
            self.of, **case.composition(self.feed) | series_of({"T": self.T, "P": self.P})
        )


class Solubility(Work):
    """How much of a solid a solvent holds, and what that rests on."""

    do: Literal["solubility"]
    system: str
    of: str = Field(description="What dissolves.")
    solvent: str = Field(description="A component, or a mixture: '0.4 ethanol + rest water'.")
    T: Temperatures
    P: Pressure = "1 atm"

    def result(self, case: Case) -> Any:
        from ...composition import solvent_of

        T = series_of({"T": self.T})["T"]
        return case.system(self.system).solubility(self.of, solvent_of(self.solvent), T=T, P=self.P)


class MeltingDiagram(Work):
    """Where liquids of two components begin to freeze."""

    do: Literal["melting diagram"]
    system: str
    components: tuple[str, str] | None = Field(None, description="Two of the system's.")
    P: Pressure = "1 atm"

    def result(self, case: Case) -> Any:
        return case.system(self.system).melting_diagram(*(self.components or ()), P=self.P)


class FreezingMap(Work):
    """How three components freeze: first solids, valleys, the ternary eutectic."""

    do: Literal["freezing map"]
    system: str
    P: Pressure = "1 atm"

    def result(self, case: Case) -> Any:
        return case.system(self.system).freezing_map(P=self.P)
