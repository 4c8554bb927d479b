"""Sets from a ThermoML document."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple
from xml.etree import ElementTree as Tree

import numpy as np
from numpy.typing import NDArray

from ...arguments import guarded
from ...components.databank import databank
from ...errors import InputError, UnknownComponentError
from ...files import read_text
from ..data_set import DataSet
from ..kinds import FRACTIONS, QUANTITIES
from .names import BY_NAME, CONDITIONS, FIRST, NAMESPACE, SECOND

Array = NDArray[np.float64]

_TRACE = 1e-6
_COVERAGE = 2.0
"""What an expanded uncertainty is over the standard one."""


@dataclass(frozen=True, eq=False)
class ThermoMLFile:
    """What a ThermoML file has: the sets that are understood, what was skipped and why, and the publication."""

    sets: tuple[DataSet, ...]
    skipped: tuple[str, ...]
    citation: str


@guarded
def read_thermoml(path: str | Path) -> ThermoMLFile:
    """The measurements of a ThermoML file.

    Raises
    ------
    InputError
        If it can't be read, is no ThermoML, or refers to what it does not have.
    """
    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import fromstring

    path = Path(path)
    try:
        root = fromstring(read_text(path), forbid_dtd=True)
    except DefusedXmlException:
        raise InputError(f"{path} has a document type or entities, which are not read.") from None
    except (Tree.ParseError, ValueError, RecursionError) as error:
        raise InputError(f"{path} is no XML: {error}.") from error
    if root.tag != f"{{{NAMESPACE}}}DataReport":
        raise InputError(f"{path} is no ThermoML: its root is {root.tag[:80]!r}, not DataReport of {NAMESPACE}.")
    return _Reader(str(path), root).file()


class _Column(NamedTuple):
    """What a constraint, variable or property is: a quantity, the component's number, the unit in SI."""

    quantity: str
    component: str
    unit: float


class _Reader:
    def __init__(self, where: str, root: Tree.Element) -> None:
        self.where, self.root = where, root
        self.compounds: dict[str, list[str]] = {}
        for compound in self._all(root, "Compound"):
            self.compounds[self._number(compound)] = list(self._called(compound))
        if not self.compounds:
            raise InputError(f"{where} has no Compound.")

    # ---- finding things ----

    def _all(self, element: Tree.Element, name: str) -> list[Tree.Element]:
        return element.findall("/".join(f"{{{NAMESPACE}}}{part}" for part in name.split("/")))

    def _text(self, element: Tree.Element, name: str, *, needed: bool = True) -> str:
        found = element.find("/".join(f"{{{NAMESPACE}}}{part}" for part in name.split("/")))
        if found is None or not (found.text or "").strip():
            if needed:
                raise InputError(f"{self.where}: {_short(element)} has no {name}.")
            return ""
        return str(found.text).strip()

    def _float(self, element: Tree.Element, name: str) -> float:
        text = self._text(element, name)
        try:
            value = float(text)
        except ValueError:
            raise InputError(f"{self.where}: {name} is {text[:40]!r}, which is no number.") from None
        if not np.isfinite(value):
            raise InputError(f"{self.where}: {name} is {text!r}, which is not finite.")
        return value

    def _number(self, element: Tree.Element) -> str:
        return self._text(element, "RegNum/nOrgNum")

    def _called(self, compound: Tree.Element) -> Iterator[str]:
        cas = self._text(compound, "RegNum/nCASRNum", needed=False)
        if cas.isdigit() and len(cas) > 3:
            yield f"{cas[:-3]}-{cas[-3:-1]}-{cas[-1]}"
        for name in self._all(compound, "sCommonName"):
            yield (name.text or "").strip()
        yield self._text(compound, "sFormulaMolec", needed=False)

    def _component(self, number: str) -> str:
        if number not in self.compounds:
            raise InputError(f"{self.where}: there is no Compound of number {number[:20]!r}.")
        for name in filter(None, self.compounds[number]):
            try:
                return databank().find(name).name
            except UnknownComponentError:
                continue
        raise UnknownComponentError(
            f"{' / '.join(filter(None, self.compounds[number])) or 'a nameless compound'} is not in the databank"
        )

    # ---- what it says ----

    def file(self) -> ThermoMLFile:
        sets, skipped = [], []
        citation = self._citation()
        blocks = self._all(self.root, "PureOrMixtureData")
        for i, block in enumerate(blocks, start=1):
            try:
                sets.append(self._set(block, citation if len(blocks) == 1 else f"{citation}, set {i}"))
            except (UnknownComponentError, _NotOursError) as error:
                skipped.append(f"set {i}: {error}")
        return ThermoMLFile(tuple(sets), tuple(skipped), citation)

    def _citation(self) -> str:
        found = self._all(self.root, "Citation")
        if not found:
            return Path(self.where).name
        authors = [(a.text or "").strip() for a in self._all(found[0], "sAuthor")]
        parts = [
            ", ".join(filter(None, authors)),
            *(self._text(found[0], n, needed=False) for n in ("sPubName", "yrPubYr", "sDOI")),
        ]
        return ", ".join(filter(None, parts)) or self._text(found[0], "sTitle", needed=False) or Path(self.where).name

    def _set(self, block: Tree.Element, source: str) -> DataSet:
        numbers = [self._number(c) for c in self._all(block, "Component")]
        names = tuple(self._component(n) for n in numbers)
        if not names:
            raise InputError(f"{self.where}: a PureOrMixtureData has no Component.")
        rows = self._all(block, "NumValues")
        if not rows:
            raise InputError(f"{self.where}: a PureOrMixtureData has no NumValues.")
        told = _Told(names, numbers, len(rows))
        for constraint in self._all(block, "Constraint"):
            column = self._condition(constraint, "Constraint")
            told.put(column, slice(None), self._float(constraint, "nConstraintValue"))
        variables = {self._text(v, "nVarNumber"): self._condition(v, "Var") for v in self._all(block, "Variable")}
        properties = {self._text(p, "nPropNumber"): self._property(p) for p in self._all(block, "Property")}
        for i, row in enumerate(rows):
            for value in self._all(row, "VariableValue"):
                told.put(self._known(variables, value, "nVarNumber"), i, self._float(value, "nVarValue"))
            for value in self._all(row, "PropertyValue"):
                column = self._known(properties, value, "nPropNumber")
                told.put(column, i, self._float(value, "nPropValue"))
                told.doubt(column, i, self._uncertainty(value))
        crystal = any("rystal" in phase for phase in self._phases(block))
        # the solid is that of the component whose fraction in the liquid is told
        dissolved = next((p.component for p in properties.values() if p.quantity == "x"), numbers[0]) if crystal else ""
        solid = names[numbers.index(dissolved)] if dissolved in numbers else ""
        return told.data(source, self._azeotropic(block), solid)

    def _known(self, columns: dict[str, _Column], value: Tree.Element, name: str) -> _Column:
        number = self._text(value, name)
        if number not in columns:
            raise InputError(f"{self.where}: {name} {number[:20]!r} is not declared.")
        return columns[number]

    def _phases(self, block: Tree.Element) -> set[str]:
        return {(p.text or "").strip() for p in self._all(block, "PhaseID/ePhase")}

    def _azeotropic(self, block: Tree.Element) -> bool:
        return any("zeotropic" in name for p in self._all(block, "Property") for _, name in self._property_name(p))

    def _property_name(self, element: Tree.Element) -> Iterator[tuple[str, str]]:
        for group in self._all(element, "Property-MethodID/PropertyGroup"):
            for kind in group:
                yield kind.tag.rpartition("}")[2], self._text(kind, "ePropName")

    def _condition(self, element: Tree.Element, what: str) -> _Column:
        long = "Constraint" if what == "Constraint" else "Variable"
        types = self._all(element, f"{long}ID/{long}Type")
        name = "".join((child.text or "").strip() for kind in types for child in kind)
        if name not in CONDITIONS:
            raise _NotOursError(f"{name[:60] or 'a nameless condition'} is no condition that is understood")
        quantity, unit = CONDITIONS[name]
        phase = self._text(element, f"{what}PhaseID/e{what}Phase", needed=False)
        component = self._text(element, f"{long}ID/RegNum/nOrgNum", needed=False)
        return _Column(_of_phase(quantity, phase), component, unit)

    def _property(self, element: Tree.Element) -> _Column:
        names = list(self._property_name(element))
        name = names[0][1] if names else ""
        if name not in BY_NAME:
            raise _NotOursError(f"{name[:60] or 'a nameless property'} is no property that is understood")
        own = BY_NAME[name]
        phase = self._text(element, "PropPhaseID/ePropPhase", needed=False)
        component = self._text(element, "Property-MethodID/RegNum/nOrgNum", needed=False)
        return _Column(_of_phase(own.quantity, phase), component, own.unit)

    def _uncertainty(self, value: Tree.Element) -> float:
        for name, share in (
            ("CombinedUncertainty/nCombStdUncertValue", 1.0),
            ("PropUncertainty/nStdUncertValue", 1.0),
            ("CombinedUncertainty/nCombExpandUncertValue", 1.0 / _COVERAGE),
            ("PropUncertainty/nExpandUncertValue", 1.0 / _COVERAGE),
        ):
            if self._text(value, name, needed=False):
                return self._float(value, name) * share
        return float("nan")


class _NotOursError(Exception):
    """A set of something else."""


def _of_phase(quantity: str, phase: str) -> str:
    """Mole fractions by the phase that they are of."""
    if quantity != "x":
        return quantity
    return {"Gas": "y", FIRST: "x'", SECOND: "x''"}.get(phase, "x")


class _Told:
    """Values of a set as they come in."""

    def __init__(self, names: tuple[str, ...], numbers: Sequence[str], count: int) -> None:
        self.names, self.numbers, self.count = names, list(numbers), count
        self.values: dict[str, Array] = {}
        self.uncertainty: dict[str, Array] = {}

    def _place(self, column: _Column) -> int | None:
        if not QUANTITIES[column.quantity].of_components:
            return None
        return self.numbers.index(column.component) if column.component in self.numbers else 0

    def put(self, column: _Column, i: int | slice, value: float) -> None:
        q = column.quantity
        shape = (self.count, len(self.names)) if QUANTITIES[q].of_components else (self.count,)
        values = self.values.setdefault(q, np.full(shape, np.nan))
        place = self._place(column)
        if place is None:
            values[i] = value * column.unit
        else:
            values[i, place] = value * column.unit

    def doubt(self, column: _Column, i: int, u: float) -> None:
        if np.isfinite(u) and u > 0.0 and column.quantity not in ("Henry", "gamma_inf"):
            known = self.uncertainty.setdefault(column.quantity, np.full(self.count, np.nan))
            known[i] = u * column.unit

    def data(self, source: str, azeotropic: bool, solid: str) -> DataSet:
        for q in FRACTIONS:
            if q in self.values:
                lacking = np.isnan(self.values[q])
                one = lacking.sum(axis=1) == 1
                rest = 1.0 - np.nansum(self.values[q], axis=1)
                self.values[q][one] = np.where(lacking[one], rest[one, None], self.values[q][one])
        if len(self.names) == 1:
            self.values.pop("x", None)
        if "gamma_inf" in self.values:
            self._infinite_dilution()
        kind = "azeotrope" if azeotropic else ""
        if not self.values.keys() & {"T", "P"}:
            raise _NotOursError("it has neither temperature nor pressure")
        return DataSet(self.names, self.values, kind, self.uncertainty, None, source, {}, solid)

    def _infinite_dilution(self) -> None:
        """Activity coefficients are read where their component is a trace."""
        x = self.values.pop("x", None)
        gamma = self.values["gamma_inf"]
        rows, columns = np.nonzero(np.isfinite(gamma))
        if x is None or not (x[rows, columns] < _TRACE).all():
            raise _NotOursError("its activity coefficients are not at infinite dilution")


def _short(element: Tree.Element) -> str:
    return element.tag.rpartition("}")[2]
