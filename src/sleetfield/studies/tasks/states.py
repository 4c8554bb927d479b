"""Tasks on a feed: flash, bubble and dew points, critical point, table, envelope."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from pydantic import Field

from ...diagrams.table import column
from ...specified import series_of
from ...units import pretty_heading
from ..form import Pressure, Pressures, Temperature, Temperatures
from .contract import Specified, Work, marked

if TYPE_CHECKING:
    import pandas as pd

    from ...electrolyte import Electrolyte
    from ..case import Case


class Then(Specified):
    """The state that one is brought to; with a duty, or at the same pressure where that alone is not given; through a machine with an efficiency."""

    duty: float | str | None = Field(None, description="'0', '20 kW'; in place of one of the two quantities.")
    efficiency: float | None = Field(
        None, description="Of a machine, that the entropy would stay the same without: beside the pressure."
    )

    def brought(self, state: Any) -> Any:
        """The state that another one is brought to."""
        beside = {} if self.duty is None else {"duty": self.duty}
        if self.efficiency is not None:
            beside |= {"S": state.S, "efficiency": self.efficiency}
        return state.to(**self.given(), **beside)


class Flash(Work, Specified):
    """Phases at equilibrium, at any two given quantities; then brought to other states, one after the other."""

    do: Literal["flash"]
    system: str
    feed: str
    phases: str | None = Field(None, description="V, L, LL or VL.")
    then: list[Then] = Field(default=[], description="States that it is brought to; the last one is the result, with its duty.")

    def result(self, case: Case) -> Any:
        system = case.system(self.system)
        state: Any = system.flash(**case.feed(self.feed), **self.given(), phases=self.phases)
        for step in self.then:
            state = step.brought(state)
        return state


class Saturation(Work):
    """Bubble or dew points."""

    do: Literal["bubble", "dew"]
    system: str
    feed: str
    T: Temperatures | None = None
    P: Pressures | None = None

    def result(self, case: Case) -> Any:
        system = case.system(self.system)
        call = {"bubble": system.bubble, "dew": system.dew}[self.do]
        return call(**case.composition(self.feed) | series_of({"T": self.T, "P": self.P}))


class Critical(Work):
    """Critical points of a feed."""

    do: Literal["critical"]
    system: str
    feed: str

    def result(self, case: Case) -> Any:
        system = case.system(self.system)
        return system.critical(**case.composition(self.feed))


class Table(Work, Specified):
    """A property table over two quantities: a grid, or a path."""

    do: Literal["table"]
    system: str
    feed: str
    properties: list[str] = ["n_phases", "vapor_fraction", "H", "S", "density"]
    path: bool = False
    largest: str | None = Field(None, description="A column whose largest value, and where it is, is the answer.")
    smallest: str | None = Field(None, description="The same of the smallest.")

    def result(self, case: Case) -> Any:
        system = case.system(self.system)
        given = case.composition(self.feed) | self.given()
        table = system.table(**given, properties=self.properties, path=self.path)
        found = [
            _extreme(table, list(self.given()), name, word)
            for name, word in ((self.largest, "largest"), (self.smallest, "smallest"))
            if name
        ]
        table.attrs["in_short"] = " ".join(found)
        return table


def _extreme(table: pd.DataFrame, given: list[str], name: str, word: str) -> str:
    """Where a column is largest or smallest, in words."""
    heading = column(table, name)
    values = table[heading]
    if not values.notna().any():
        return f"There is no {heading}."
    row = table.iloc[int(values.argmax() if word == "largest" else values.argmin())]
    at = ", ".join(f"{key} {row[key]:.4g}" for key in (column(table, quantity) for quantity in given))
    return pretty_heading(f"The {heading.replace('_', ' ')} is {word}, {row[heading]:.4g}, at {at}.")


class FlashFile(Work):
    """States of many feeds, one a row of a file: the rows come back with properties."""

    do: Literal["flash file"]
    system: str
    file: str
    properties: list[str] = ["n_phases", "vapor_fraction", "H", "density"]

    def result(self, case: Case) -> Any:
        return case.feeds_from(self.file, self.system, self.properties)


class Envelope(Work):
    """The phase envelope of a feed, or of several beside each other."""

    do: Literal["envelope"]
    system: str
    feed: str | None = None
    feeds: list[str] = Field(default=[], description="Several feeds, in place of one.")
    quality: list[float] = []
    quality_basis: Literal["mole", "mass"] = "mole"
    P_min: Pressure = "1 bar"
    P_max: Pressure | None = None
    T_min: Temperature | None = None
    T_max: Temperature | None = None
    marks: dict[str, Specified] = Field(default={}, description="Points to mark: { drum = { T = '-20 degC', P = '20 bar' } }.")

    def drawing(self) -> dict[str, Any]:
        return marked(self.marks)

    def result(self, case: Case) -> Any:
        from ...results.envelope import compare_envelopes

        system = case.system(self.system)
        options = self.options("system", "feed", "feeds", "marks")
        found = {name: system.envelope(**case.composition(name), **options) for name in self.named("feed")}
        return next(iter(found.values())) if len(found) == 1 else compare_envelopes(found)


class Chart(Work):
    """A P-H, T-S or H-S chart of a feed, with lines of constant quantities."""

    do: Literal["chart"]
    system: str
    feed: str
    kind: Literal["PH", "TS", "HS"] = "PH"
    T: Temperatures | None = Field(None, description="Its range: '-40, 150 degC'.")
    P: Pressures | None = Field(None, description="Its range: '1, 100 bar'.")
    lines: dict[str, str] = Field(default={}, description="Lines in place of round ones: { T = '0, 50 degC', density = 'none' }.")
    per: Literal["mass", "mole"] = "mass"
    zero: Specified | None = Field(None, description="The state whose enthalpy and entropy are zero.")
    marks: dict[str, Specified] = Field(default={}, description="Points to mark: { drum = { T = '-20 degC', P = '20 bar' } }.")
    joined: bool = Field(False, description="Whether lines are drawn from mark to mark.")

    def drawing(self) -> dict[str, Any]:
        return {"marks": {name: point.given() for name, point in self.marks.items()}, "joined": self.joined}

    def result(self, case: Case) -> Any:
        lines = {name: [] if values == "none" else values for name, values in self.lines.items()}
        options = self.options("system", "feed", "marks", "joined", "lines", "zero", "kind")
        zero = None if self.zero is None else self.zero.given()
        return case.system(self.system).chart(self.kind, **case.composition(self.feed), **options, lines=lines, zero=zero)


class Datasheet(Work, Specified):
    """Everything of a state, or of several where a quantity has several values, on one sheet."""

    do: Literal["datasheet"]
    system: str
    feed: str
    title: str | None = None

    def result(self, case: Case) -> Any:
        from ...results.datasheet import datasheet

        return datasheet(case.system(self.system).flash(**case.feed(self.feed), **self.given()), title=self.title)


class InWater(Work):
    """What every task of salts in water asks for."""

    amounts: dict[str, float | str] = Field(description="For a kilogram of water: { 'sodium chloride' = 0.5, gypsum = '2 g/kg' }.")
    ions: Literal["Pitzer", "electrolyte-NRTL", "Davies"] = "Pitzer"
    solids: bool = Field(True, description="Whether solids form.")
    species: list[str] = Field(default=[], description="Further species: [ 'CaSO4(aq) = Ca+2 + SO4-2, -2.31' ].")
    without: list[str] = Field(default=[], description="Species and solids that are left out.")

    def electrolyte(self, *more: str) -> Electrolyte:
        """Of everything that is named."""
        from ...electrolyte import Electrolyte

        added = list(dict.fromkeys([*self.amounts, *more]))
        return Electrolyte(added, ions=self.ions, species=self.species, without=self.without)


class UnderGas(InWater):
    """And what may stand over it."""

    P: Pressure | None = Field(None, description="Pressure at which a vapor may stand over the solution.")
    gases: dict[str, Pressure] = Field(
        default={}, description="In place of it, gases over the solution: { 'carbon dioxide' = '1 atm' }."
    )

    def electrolyte(self, *more: str) -> Electrolyte:
        return super().electrolyte(*self.gases, *more)

    def conditions(self) -> dict[str, Any]:
        """What stands over the solution, and what may form."""
        return {"P": self.P, "gases": self.gases, "precipitation": self.solids}


class Speciation(UnderGas):
    """Ions, pH, solids and gases of salts in water."""

    do: Literal["speciation"]
    T: Temperature = "25 degC"

    def result(self, case: Case) -> Any:
        return self.electrolyte().speciation(self.amounts, T=self.T, **self.conditions())


class BubblePressure(InWater):
    """The pressure at which a vapor begins to form over salts and gases in water."""

    do: Literal["bubble pressure"]
    T: Temperature = "25 degC"

    def result(self, case: Case) -> Any:
        return self.electrolyte().bubble_pressure(self.amounts, T=self.T, precipitation=self.solids)


class Titration(UnderGas):
    """The same with more and more of something added."""

    do: Literal["titration"]
    amounts: dict[str, float | str] = {}
    added: str
    steps: str = Field(description="How much of it: '0 to 0.15 mol/kg in 61'.")
    T: Temperature = "25 degC"

    def result(self, case: Case) -> Any:
        system = self.electrolyte(self.added)
        return system.titration(self.amounts, self.added, self.steps, T=self.T, **self.conditions())


class Warming(UnderGas):
    """The same at several temperatures."""

    do: Literal["warming"]
    T: str = Field(description="Temperatures: '0 to 60 degC in 13'.")

    def result(self, case: Case) -> Any:
        return self.electrolyte().warming(self.amounts, self.T, **self.conditions())


class LiquidSplit(Work):
    """The liquids that a feed forms, whatever vapor there might be."""

    do: Literal["liquid split"]
    system: str
    feed: str
    T: Temperature
    P: Pressure = "1 atm"

    def result(self, case: Case) -> Any:
        system = case.system(self.system)
        return system.liquid_split(**case.composition(self.feed), T=self.T, P=self.P)
