"""The task that does another one with several systems."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field

from .contract import Work
from .diagrams import Azeotropes, BoilingMap, Diagram, LiquidMap
from .fits import Regress
from .states import Critical, Envelope, Flash, LiquidSplit, Saturation, Table

if TYPE_CHECKING:
    from ..case import Case

Calculation = Annotated[
    Flash | Saturation | Critical | Table | Envelope | LiquidSplit | Diagram | Azeotropes | LiquidMap | BoilingMap | Regress,
    Field(discriminator="do"),
]


class Compare(Work):
    """The same calculation with several systems, and where they disagree."""

    do: Literal["compare"]
    systems: list[str] = Field(min_length=2)
    calculation: Calculation = Field(description="The fields of another task; its own system has no part in it.")
    base: str | None = Field(None, description="Whose numbers the others are compared with; the first by default.")
    data: list[str] = Field(default=[], description="Measurements that every model is held against, too.")
    limit: float = Field(0.02, description="Relative difference that is worth a note.")

    def result(self, case: Case) -> Any:
        from ...calculations.comparing import compare

        systems = {name: case.system(name) for name in self.systems}
        sets = case.data(self.data, next(iter(systems.values())))
        labels = {id(system): name for name, system in systems.items()}

        def calculate(system: Any) -> Any:
            return self.calculation.model_copy(update={"system": labels[id(system)]}).result(case)

        return compare(systems, calculate, base=self.base, data=sets, limit=self.limit)
