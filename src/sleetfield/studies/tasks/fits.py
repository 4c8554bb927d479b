"""Tasks on measurements: fits, ranked models, tests of consistency, correlations of one component."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from pydantic import Field

from .contract import Work

if TYPE_CHECKING:
    from ...mixture import Mixture
    from ..case import Case

Objective = Literal["measured", "relative volatility", "activity coefficients", "all variables"]
Loss = Literal["squares", "stray points", "absolute"]
Uncertainty = dict[str, str | Literal[False]]


def _uncertainty(given: Uncertainty) -> dict[str, Any]:
    return {quantity: None if value is False else value for quantity, value in given.items()}


class Regress(Work):
    """Parameters of a model from measurements; later tasks have the fitted system under the task's name."""

    do: Literal["regress"]
    system: str
    data: list[str]
    fit: str | list[str] | None = Field(None, description="Parameters; what is usual for the model where nothing is named.")
    tied: dict[str, str] = {}
    bounds: dict[str, tuple[float, float]] = {}
    uncertainty: Uncertainty = Field(default={}, description="{ P = '0.5 %' }; false leaves a quantity out.")
    objective: Objective = "measured"
    loss: Loss = "squares"
    forbid_split: bool = False

    def result(self, case: Case) -> Any:
        from ...calculations.fitting import regress

        system = case.system(self.system)
        options = self.options("system", "data", "uncertainty") | {"uncertainty": _uncertainty(self.uncertainty)}
        return regress(system, case.data(self.data, system), **options)

    def fitted(self, result: Any) -> Mixture | None:
        system: Mixture = result.system
        return system


class RankModels(Work):
    """Several models fitted to the same measurements."""

    do: Literal["rank models"]
    system: str
    data: list[str]
    models: list[str] = Field(default=[], description="Five liquid models where none is named.")
    beside: list[str] = Field(default=[], description="Models that are not fitted, but compared and drawn.")
    uncertainty: Uncertainty = {}
    objective: Objective = "measured"
    loss: Loss = "squares"
    forbid_split: bool = False

    def result(self, case: Case) -> Any:
        from ...calculations.fitting import USUAL, rank_models

        system = case.system(self.system)
        options = self.options("system", "data", "models", "uncertainty") | {"uncertainty": _uncertainty(self.uncertainty)}
        return rank_models(system, case.data(self.data, system), self.models or USUAL, **options)


class Consistency(Work):
    """Whether vapor-liquid measurements can be right."""

    do: Literal["consistency"]
    system: str
    data: list[str] = Field(min_length=1, max_length=2, description="The measurements; then, if there are, excess enthalpies.")

    def result(self, case: Case) -> Any:
        from ...calculations.consistency import consistency

        system = case.system(self.system)
        sets = case.data(self.data, system)
        return consistency(system, sets[0], excess_enthalpy=sets[1] if len(sets) > 1 else None)


class FitCorrelation(Work):
    """A correlation of one component from measurements."""

    do: Literal["fit correlation"]
    component: str
    file: str
    form: str = Field(description="antoine, riedel form, wagner, rackett form, ...")
    of: str | None = None
    uncertainty: float | str | None = None

    def result(self, case: Case) -> Any:
        from ...correlation_fit import fit_correlation

        options = self.options("component", "file", "form")
        return fit_correlation(case.path(self.file), self.form, component=case.component(self.component), **options)
