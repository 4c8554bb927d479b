"""What a study's file says: the fields of each table, checked when it is read.

The published JSON Schema (`data/study.schema.json`) is made from these classes.
"""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from ..composition import Composition, parse
from ..errors import InputError
from ..specified import series


class Form(BaseModel):
    """A table of the file; a key that it doesn't have is an error."""

    model_config = ConfigDict(extra="forbid", frozen=True, regex_engine="python-re")


def _read(text: str, dimension: str, what: str) -> str:
    series(text, dimension, what)
    return text


def _one(text: str, dimension: str, what: str) -> str:
    if series(text, dimension, what).ndim:
        raise InputError(f"{what} is {text!r}; it takes one value here.")
    return text


Temperature = Annotated[str, AfterValidator(lambda t: _one(t, "temperature", "T"))]
Pressure = Annotated[str, AfterValidator(lambda t: _one(t, "pressure", "P"))]
Temperatures = Annotated[str, AfterValidator(lambda t: _read(t, "temperature", "T"))]
Pressures = Annotated[str, AfterValidator(lambda t: _read(t, "pressure", "P"))]
Energies = Annotated[str, AfterValidator(lambda t: _read(t, "molar_energy", "the energy"))]
Entropies = Annotated[str, AfterValidator(lambda t: _read(t, "molar_entropy", "S"))]
Volumes = Annotated[str, AfterValidator(lambda t: _read(t, "molar_volume", "V"))]
Densities = Annotated[str, AfterValidator(lambda t: _read(t, "density", "density"))]
MolarMass = Annotated[str, AfterValidator(lambda t: _one(t, "molar_mass", "molar_mass"))]
Fractions = float | Annotated[str, AfterValidator(lambda t: _read(t, "fraction", "the fraction"))]


def _flow(text: str) -> str:
    try:
        return _one(text, "molar_flow", "flow")
    except InputError:
        return _one(text, "mass_flow", "flow")


Flow = Annotated[str, AfterValidator(_flow)]


def _pair(text: str) -> str:
    first, slash, second = text.partition(" / ")
    if not (slash and first.strip() and second.strip()):
        raise InputError(f"{text!r} is no pair. Write it like 'nitrogen / methane'.")
    return text


Pair = Annotated[str, AfterValidator(_pair)]
UnitSet = Literal["SI", "metric", "US"]
Basis = Literal["mole", "mass"]


class PairNumbers(Form):
    """Parameters of a pair as a paper prints them; the fields of `sl.PairParameters`."""

    a12: float | list[float] | None = None
    a21: float | list[float] | None = None
    alpha: float | None = None
    terms: list[float] | None = None
    form: str = "plain"
    temperature: Literal["K", "degC"] = "K"
    T_min: Temperature | None = None
    T_max: Temperature | None = None
    source: str = "given in the study"


class SystemForm(Form):
    """Components with a model: the options of `sl.System`; or a file that `sl.save` wrote."""

    components: list[str] = Field(default=[], description="Names, CAS numbers or formulas; own components by their names.")
    file: str | None = Field(None, description="A system's file, in place of components and model.")
    eos: str | None = Field(None, description="Equation of state.")
    liquid: str | None = Field(None, description="Liquid model, in place of an equation of state.")
    vapor: str | None = Field(None, description="Vapor model beside the liquid model.")
    alpha: str | None = None
    mixing: str | None = Field(None, description="Mixing rule of a cubic equation by an excess Gibbs energy.")
    excess: str | None = Field(None, description="The liquid model whose excess Gibbs energy that is.")
    translation: str | None = None
    poynting: bool = False
    solids: list[str] | Literal["all"] | None = None
    transport: dict[str, str] | None = Field(None, description="Methods in place of the usual: { 'gas viscosity' = 'Lucas' }.")
    kij: dict[Pair, float | list[float]] | Literal["published", "predicted", "estimated", "zero"] | None = None
    lij: dict[Pair, float] | None = None
    parameters: dict[Pair, PairNumbers] | None = None
    missing: str | None = Field(None, description="What unknown parameters of the liquid model are estimated by.")
    groups: dict[str, str] | None = Field(None, description="Groups of own components.")
    henry: dict[Pair, Pressure] | None = None
    virial: dict[Pair, str | float | list[float]] | None = None
    fits: list[str] = Field(default=[], description="Fits (names of earlier tasks) whose parameters it takes.")
    why: str = Field("", description="Why this model; the report prints it.")

    @model_validator(mode="after")
    def _whole(self) -> SystemForm:
        options = self.model_fields_set - {"file", "why", "fits"}
        if self.file is None and not self.components:
            raise InputError("A system needs components, or a file.")
        if self.file is not None and options:
            raise InputError(f"A system from a file has its model already: leave out {', '.join(sorted(options))}.")
        return self


class FeedForm(Form):
    """A feed: fractions, with a flow if there is one; or flows by component."""

    composition: str | dict[str, float | Literal["rest"]] | None = Field(
        None, description="'0.7 methane + rest propane', or a table of fractions."
    )
    basis: Basis = "mole"
    flow: Flow | None = Field(None, description="'120 kmol/h', '5 t/h', '3000 Nm3/h'.")
    flows: dict[str, Flow] | None = Field(None, description="By component, each with its unit, in place of composition and flow.")
    remark: str = ""

    @model_validator(mode="after")
    def _one_way(self) -> FeedForm:
        if (self.composition is None) == (self.flows is None) or (self.flows is not None and self.flow is not None):
            raise InputError("A feed has a composition, with a flow if there is one; or flows by component.")
        if isinstance(self.composition, str):
            parse(self.composition)
        return self

    @property
    def fractions(self) -> Composition:
        """The composition as calls take it."""
        return parse(self.composition) if isinstance(self.composition, str) else dict(self.composition or {})


class PlusForm(Form):
    """A heavy tail known by molar mass and specific gravity alone, as `sl.split_plus_fraction` splits it."""

    molar_mass: MolarMass
    specific_gravity: float
    first: int = 7
    last: int = 40
    distribution: Literal["exponential", "gamma"] = "exponential"
    alpha: float = 1.0
    method: Literal["Riazi-Daubert", "Kesler-Lee", "Twu"] = "Twu"
    lump: int | None = Field(None, description="How many cuts to put it into.")
    remark: str = ""


class LeftOut(Form):
    """Points that are not used, and why."""

    points: list[int]
    because: str


class DataForm(Form):
    """A file of measurements, as `sl.read_data` or `sl.read_thermoml` takes it."""

    file: str
    components: list[str] | None = Field(None, description="Where the headings don't name them.")
    without: list[LeftOut] = Field(default=[], description="Of a file of several sets, the first.")
    remark: str = ""


class StudyForm(Form):
    """The whole file, but for what each task has of its own."""

    study: Literal[1] = Field(description="The version of this form.")
    title: str
    question: str = Field("", description="What is to be found out; the report begins with it.")
    units: UnitSet = "metric"
    formats: list[Literal["csv", "xlsx", "json", "md", "html", "svg", "png", "pdf"]] = Field(
        default=["csv", "svg"], min_length=1, description="Of each task's files; figures are in the report whatever they are."
    )
    remarks: list[str] = Field(default=[], description="What a reader has to know besides.")
    component: list[dict[str, Any]] = Field(
        default=[], description="Own components, as files of components have them; they go before the databank's."
    )
    plus_fraction: dict[str, PlusForm] = Field(default={}, description="Heavy tails; systems and feeds name them like components.")
    system: dict[str, SystemForm] = {}
    feed: dict[str, FeedForm] = {}
    data: dict[str, DataForm] = {}
    lock: dict[str, dict[str, Any]] = Field(default={}, description="The numbers themselves, written by `sleetfield lock`.")


def quoted(value: Any) -> str:
    """A value as TOML has it."""
    if isinstance(value, dict):
        return "{ " + ", ".join(f"{key} = {quoted(v)}" for key, v in value.items()) + " }"
    if isinstance(value, list):
        return f"[{', '.join(map(quoted, value))}]"
    return json.dumps(value, ensure_ascii=False) if isinstance(value, (str, bool)) else repr(value)
