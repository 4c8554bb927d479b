"""A ThermoML document of sets."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree as Tree

import numpy as np

from ...arguments import guarded
from ...components.databank import databank
from ...errors import InputError
from ...files import write_whole
from ..data_set import DataSet
from ..kinds import QUANTITIES
from .names import BY_NAME, FIRST, KILO, NAMESPACE, PROPERTIES, SECOND, Property


@guarded
def write_thermoml(sets: Sequence[DataSet], path: str | Path, *, overwrite: bool = False) -> Path:
    """Write sets to a ThermoML file; points that are left out are not written.

    Raises
    ------
    InputError
        If there is none, or the file exists or can't be written.
    """
    if not sets:
        raise InputError("There is no set to write.")
    root = Tree.Element("DataReport", {"xmlns": NAMESPACE})
    version = _add(root, "Version")
    _add(version, "nVersionMajor", "4")
    _add(version, "nVersionMinor", "0")
    citation = _add(root, "Citation")
    _add(citation, "sTitle", "; ".join(dict.fromkeys(d.source for d in sets)))
    names = list(dict.fromkeys(n for d in sets for n in d.names))
    for k, name in enumerate(names, start=1):
        compound, component = _add(root, "Compound"), databank().find(name)
        number = _add(compound, "RegNum")
        if component.cas:
            _add(number, "nCASRNum", component.cas.replace("-", ""))
        _add(number, "nOrgNum", str(k))
        _add(compound, "sCommonName", name)
        if component.formula:
            _add(compound, "sFormulaMolec", component.formula)
    for k, data in enumerate((one for d in sets for one in _by_solute(d)), start=1):
        _write_set(_add(root, "PureOrMixtureData"), k, data, {n: str(i) for i, n in enumerate(names, start=1)})
    Tree.indent(root)
    path = Path(path)
    write_whole(path, b'<?xml version="1.0" encoding="UTF-8"?>\n' + Tree.tostring(root, encoding="utf-8") + b"\n", overwrite)
    return path


def _by_solute(data: DataSet) -> list[DataSet]:
    """Activity coefficients at infinite dilution, those of each component by themselves."""
    if data.kind != "infinite dilution":
        return [data]
    own = []
    for i in np.flatnonzero(np.isfinite(data["gamma_inf"]).any(axis=0)).tolist():
        rows = np.isfinite(data["gamma_inf"][:, i]) & data.used
        only = np.where(np.arange(len(data.names)) == i, data["gamma_inf"], np.nan)
        values = {**data.values, "gamma_inf": only}
        own.append(replace(data, values={q: v[rows] for q, v in values.items()}, uncertainty={}, weight=None, excluded={}))
    return own


def _add(parent: Tree.Element, name: str, text: str = "") -> Tree.Element:
    child = Tree.SubElement(parent, name)
    if text:
        child.text = text
    return child


def _write_set(block: Tree.Element, number: int, data: DataSet, numbers: dict[str, str]) -> None:
    _add(block, "nPureOrMixtureDataNumber", str(number))
    for name in data.names:
        _add(_add(_add(block, "Component"), "RegNum"), "nOrgNum", numbers[name])
    points = np.flatnonzero(data.used).tolist()
    properties, variables = _roles(data)
    for k, (own, component) in enumerate(properties, start=1):
        element = _add(block, "Property")
        _add(element, "nPropNumber", str(k))
        method = _add(element, "Property-MethodID")
        _add(_add(_add(method, "PropertyGroup"), own.group), "ePropName", own.name)
        if component:
            _add(_add(method, "RegNum"), "nOrgNum", numbers[component])
        _add(_add(element, "PropPhaseID"), "ePropPhase", own.phase)
        _add(element, "ePresentation", "Direct value, X")
    for phase in _phases_of(data):
        _add(_add(block, "PhaseID"), "ePhase", phase)
    if data.kind == "infinite dilution":
        _write_trace(block, numbers[properties[0][1]])
    for k, (quantity, component) in enumerate(variables, start=1):
        _write_variable(_add(block, "Variable"), k, quantity, numbers.get(component, ""))
    for i in points:
        row = _add(block, "NumValues")
        for k, (quantity, component) in enumerate(variables, start=1):
            value = _add(row, "VariableValue")
            _add(value, "nVarNumber", str(k))
            _digits(value, "Var", _value(data, quantity, component, i) / (KILO if quantity == "P" else 1.0))
        for k, (own, component) in enumerate(properties, start=1):
            _write_property(row, k, own, _value(data, own.quantity, component, i), data, i)


def _write_trace(block: Tree.Element, number: str) -> None:
    """The constraint that there is none of a component but a trace."""
    element = _add(block, "Constraint")
    _add(element, "nConstraintNumber", "1")
    identity = _add(element, "ConstraintID")
    _add(_add(identity, "ConstraintType"), "eComponentComposition", "Mole fraction")
    _add(_add(identity, "RegNum"), "nOrgNum", number)
    _add(_add(element, "ConstraintPhaseID"), "eConstraintPhase", "Liquid")
    _add(element, "nConstraintValue", "0")
    _add(element, "nConstrDigits", "1")


def _write_property(row: Tree.Element, k: int, own: Property, number: float, data: DataSet, i: int) -> None:
    if np.isnan(number):
        return
    value = _add(row, "PropertyValue")
    _add(value, "nPropNumber", str(k))
    _digits(value, "Prop", number / own.unit)
    u = data.uncertainty.get(own.quantity)
    if u is not None and np.isfinite(u[i]):
        doubt = _add(value, "CombinedUncertainty")
        _add(doubt, "nCombUncertAssessNum", "1")
        _add(doubt, "nCombStdUncertValue", repr(float(u[i] / own.unit)))


def _write_variable(element: Tree.Element, k: int, quantity: str, number: str) -> None:
    _add(element, "nVarNumber", str(k))
    identity = _add(element, "VariableID")
    kind = _add(identity, "VariableType")
    words = {"T": ("eTemperature", "Temperature, K"), "P": ("ePressure", "Pressure, kPa")}
    _add(kind, *words.get(quantity, ("eComponentComposition", "Mole fraction")))
    if number:
        _add(_add(identity, "RegNum"), "nOrgNum", number)
    phase = {"y": "Gas", "x'": FIRST, "x''": SECOND}.get(quantity, "Liquid")
    _add(_add(element, "VarPhaseID"), "eVarPhase", phase)


def _digits(element: Tree.Element, what: str, number: float) -> None:
    text = repr(float(number))
    _add(element, f"n{what}Value", text)
    digits = len(text.lower().partition("e")[0].replace(".", "").lstrip("-0"))
    _add(element, f"n{what}Digits", str(max(1, digits)))


def _value(data: DataSet, quantity: str, component: str, i: int) -> float:
    values = data[quantity]
    return float(values[i] if values.ndim == 1 else values[i, data.names.index(component)])


def _phases_of(data: DataSet) -> list[str]:
    if data.kind == "liquid-liquid":
        return [FIRST, SECOND]
    if data.kind == "solid-liquid":
        return ["Crystal", "Liquid"]
    return ["Liquid", "Gas"] if data.kind in ("vapor-liquid", "azeotrope", "vapor pressure", "Henry's constant") else ["Liquid"]


Roles = tuple[list[tuple[Property, str]], list[tuple[str, str]]]


def _roles(data: DataSet) -> Roles:
    """What is a property and what a variable, with the component that each is of."""
    names = data.names[:-1] if len(data.names) > 1 else ()
    there = [q for q in ("T", "P") if np.isfinite(data[q]).any()]
    fraction = BY_NAME["Mole fraction"]
    if data.kind in ("vapor-liquid", "azeotrope", "vapor pressure"):
        return _of_boiling(data, names, there)
    if data.kind == "liquid-liquid":
        both = [(fraction._replace(quantity=q, phase=p), n) for q, p in (("x'", FIRST), ("x''", SECOND)) for n in names]
        return [(p, n) for p, n in both if np.isfinite(data[p.quantity]).any()], [(q, "") for q in there]
    if data.kind == "solid-liquid":
        return [(fraction, data.solid)], [(q, "") for q in there]
    quantity = {"infinite dilution": "gamma_inf", "excess enthalpy": "HE", "Henry's constant": "Henry", "density": "density"}[
        data.kind
    ]
    own = next(p for p in PROPERTIES if p.quantity == quantity)
    if QUANTITIES[own.quantity].of_components:
        return [(own, n) for i, n in enumerate(data.names) if np.isfinite(data[own.quantity][:, i]).any()], [(q, "") for q in there]
    return [(own, "")], [*((q, "") for q in there), *(("x", n) for n in names)]


def _of_boiling(data: DataSet, names: Sequence[str], there: Sequence[str]) -> Roles:
    sought = "P" if data.given == "T" else "T"
    word = {("P", False): "Vapor or sublimation pressure, kPa", ("T", False): "Boiling temperature at pressure P, K"}
    word |= {("P", True): "Azeotropic pressure, kPa", ("T", True): "Azeotropic temperature, K"}
    properties = [(BY_NAME[word[sought, data.kind == "azeotrope"]], "")] if sought in there else []
    variables = [(q, "") for q in there if q != sought]
    variables += [("x", n) for n in names if np.isfinite(data["x"]).any()]
    vapor = BY_NAME["Mole fraction"]._replace(quantity="y", phase="Gas")
    return properties + [(vapor, n) for n in names if np.isfinite(data["y"]).any()], variables
