"""Public calls with one or two arguments replaced by something clumsy or hostile: each gives a result or an error of the library's own family, within ten seconds.

Values that can't mean anything (a date as a temperature, True as a pressure) must be refused; what comes back must be whole numbers of phases, positive
temperatures and fractions that sum to 1.

python -m tests.searches.calls --calls 20000
"""

from __future__ import annotations

import copy
import datetime
import decimal
import fractions
import pickle
import random
import re
import signal
import sys
import traceback
import warnings
from pathlib import Path

import numpy as np
import pandas as pd

import sleetfield as sl

from .searching import own_folders, search

PAIR = sl.PairParameters(a12=0.4, a21=0.7, alpha=0.3)
GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR")
STILL = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL")
TWO = sl.System(["ethanol", "water"], liquid="Wilson")
ONE = sl.System(["propane"], eos="SRK")
OLD = GAS.flash([0.7, 0.2, 0.1], T=260.0, P=2e6, flow=1.0)
MEASURED = pd.DataFrame(
    {"x": [0.1, 0.3, 0.5, 0.8], "y": [0.4, 0.57, 0.65, 0.82], "T [K]": [359.0, 355.0, 353.0, 351.0], "P [kPa]": [101.3] * 4}
)


CURVE = {"P": ([300.0, 320.0, 340.0, 360.0], [1e4, 3e4, 6e4, 1e5])}
DATA = sl.data_from_frame(MEASURED, ["ethanol", "water"])
SLEET = sl.Component("sleet", Tc=600.0, Pc=3e6, omega=0.4, molar_mass=0.1)
SLEET_P = sl.Component(
    "sleet", Tc=600.0, Pc=3e6, omega=0.4, molar_mass=0.1, vapor_pressure=sl.antoine(7.0, 1500.0, 220.0, T_min=300.0, T_max=500.0)
)
ENVELOPE = GAS.envelope([0.7, 0.2, 0.1])
TABLE = GAS.table([0.7, 0.2, 0.1], T=[250.0, 260.0], P=[1e6, 2e6])

FROST = sl.System(["hydrogen", "carbon dioxide", "water"], eos="PR")
WET = sl.System(["methane", "propane", "water"], eos="SRK")
SALTS = sl.Electrolyte(["sodium chloride", "carbon dioxide"])
OILY = sl.Electrolyte(["sodium chloride", "carbon dioxide", "n-octane", "propane"])
CRYSTALS = sl.System(["naphthalene", "benzene", "n-hexane"], liquid="ideal")
COMPOUND = sl.SolidCompound({"naphthalene": 1, "benzene": 1}, melting_T=320.0, heat_of_fusion=2e4)


def calculation(system):
    return system.flash([0.7, 0.2, 0.1], T=260.0, P=2e6)


class Odd:
    """Nothing that any call knows."""


class Failing:
    """What fails as soon as it is looked at."""

    def __float__(self):
        raise RuntimeError("no float")

    def __array__(self, *a, **k):
        raise RuntimeError("no array")

    def __iter__(self):
        raise RuntimeError("no items")

    def __str__(self):
        raise RuntimeError("no text")

    __repr__ = __str__


NONSENSE = [
    True, False, np.True_, 1 + 2j, np.array([1 + 1j]), [True, False], np.array([True]), b"300 K", bytearray(b"300"), datetime.date(2026, 1, 1),
    np.datetime64("2026-01-01"), np.array(["2026-01-01"], dtype="datetime64[D]"), np.timedelta64(3, "s"), datetime.timedelta(3), {1, 2}, frozenset([300.0]),
    Odd(), Odd, lambda: 300.0, Ellipsis, range, object(), [object()], [None], [None, 300.0], np.array([None]), np.array([{}, []], dtype=object),
    np.ma.masked_array([300.0, 310.0], mask=[True, False]), np.ma.masked, "", " ", "x", "K", "bar", "20 %bar", "20 bar!", "20 bar year", "27 coulomb", "300 K**9**9**9", "=1+1",
    "nan", "inf K", "nan bar", "1e400 K", "NaN", "0x20", "1_000 K", "٣٠٠ K", "300 K; rm -rf /", "\x00", "𝟛00 K", float("nan"), float("inf"), -float("inf"), [float("nan")], [[1.0, 2.0], [3.0]],
    [], (), {}, np.array([]), np.zeros((0, 3)), pd.Series([], dtype=float), pd.DataFrame(), pd.NaT, pd.NA, [pd.NA], pd.Series([pd.NA, 1.0]), iter([300.0]), (x for x in [300.0]),
    10**400, -(10**400), decimal.Decimal("NaN"), "a" * 100_000, ["x"] * 50, {"x": 1}, {"T": 300.0}, {1: 2}, {None: 1.0}, {("a", "b"): 1.0}, [{}], [[]], [[[]]], np.zeros((2, 0)),
    "rest", ["rest"], "1 to 2", "methane = ", "../../etc/passwd", Failing(), [Failing()], np.dtype(float), np, sys, Exception("x"), Exception, pd.Timestamp("2026-01-01"), slice(0, 3), memoryview(b"abc"),
]  # fmt: skip
"""What no call takes where it wants a number."""

CLUMSY = [
    0, 1, -1, 0.0, -0.0, 1e-300, 1e300, -1e300, 5e-324, 273.15, 300, 1e5, 2e6, 0.5, 0.3333, 2, 3, 101, 10**6, -5, "300 K", "27 degC", "20 bar", "20 C", "300", "5 kPa", "1 to 20 bar in 5", "-300 degC",
    "-1 bar", "0 K", "1e9 bar", "20 bara", "3 barg", [300.0], [300.0, 310.0], (300.0, 310.0), ["300 K", "310 K"], ["300 K", 310.0], np.array(300.0), np.array([300.0, 310.0]), np.full((2, 2), 300.0),
    np.full((3, 1, 2), 1e5), np.float32(300), np.int8(100), np.arange(5), range(300, 303), decimal.Decimal("300"), fractions.Fraction(600, 2), pd.Series([300.0, 310.0]), pd.Series({"a": 300.0}),
    pd.Series({"methane": 0.7, "propane": 0.2, "n-heptane": 0.1}), pd.Series({"n-heptane": 0.1, "propane": 0.2, "methane": 0.7}), pd.Series([0.7, 0.2, 0.1]), pd.Series([0.7, 0.2, 0.1], index=["a", "b", "c"]),
    pd.DataFrame({"methane": [0.7, 0.6], "propane": [0.2, 0.3], "n-heptane": [0.1, 0.1]}), pd.DataFrame({"a": [0.7, 0.6], "b": [0.2, 0.3], "c": [0.1, 0.1]}), pd.DataFrame([[0.7, 0.2, 0.1]]), pd.Index([300.0]),
    np.ma.masked_array([300.0, 310.0]), {"methane": 0.7, "propane": 0.3}, {"methane": 0.7, "propane": "rest"}, {"methane": "70 kmol/h", "propane": "30 kmol/h"}, {"methane": "1 t/h", "propane": 3.0},
    {"methane": [0.7, 0.6], "propane": [0.3, 0.4]}, {"methane": [0.7, 0.6], "propane": [0.3, 0.4, 0.5]}, {"acetone": 0.2, "1-butanol": 0.3, "water": "rest"}, {"ethanol": 0.5, "water": 0.5}, [0.5, 0.5], [0.7, 0.2, 0.1],
    [70, 20, 10], [1, 0, 0], [0.0, 0.0, 0.0], [0.5, 0.6, -0.1], [[0.7, 0.2, 0.1]] * 3, [[0.7, 0.2, 0.1], [0.5, 0.5, 0.0]], [1.0], 1.0, "0.7 methane + 0.3 propane", "methane", "water", "ethanol / water", ("ethanol", "water"),
    ["methane", "propane"], ["ethanol", "ethanol"], ["methane", 3], "PR", "SRK", "NRTL", "Wilson", "UNIQUAC", "ideal", "virial", "mole", "mass", "SI", "US", "VL", "V", "LL", "all", "Txy", "Pxy", "xy", None, OLD, GAS, PAIR, OLD.phases[0],
    {("ethanol", "water"): PAIR}, {("ethanol", "water"): 0.3}, {("methane", "propane"): 0.02}, {("methane", "propane"): [0.1, 0.2]}, {("methane", "propane"): {"1": 0.1, "1/T": 3.0}}, {("methane", "propane"): "x"},
    {("methane", "propane"): float("nan")}, {("methane", "propane"): 1e9}, {("methane", "methane"): 0.1}, {("methane",): 0.1}, {"methane / propane": 0.1}, {"methane": [1.0, 2.0, 3.0]}, {"methane": 1.0}, {"methane": 1e-5}, {"methane": "x"},
    {("methane", "water"): "70000 bar"}, {("hydrogen", "water"): "70000 bar"}, {("hydrogen", "water"): -1.0}, {"kij methane / propane": 0.1}, {"kij methane / propane": "x"}, {"kij methane / propane": None}, {"H": 1.0},
    (260.0, 1e5), ("25 degC", "1 atm"), [0.25, 0.5], [0.5, 1.5], ["vapor_fraction", "H"], ["nothing"], "T", MEASURED, MEASURED.to_dict("list"), 1e-9, 1 - 1e-9, [1e-30, 1 - 1e-30, 0.0],
]  # fmt: skip
"""What some call takes somewhere."""

Z3 = [0.7, 0.2, 0.1]
SYSTEM = {"components": ["methane", "propane", "n-heptane"], "eos": "PR"}
LIQUID = {"components": ["ethanol", "water"], "liquid": "NRTL", "parameters": {("ethanol", "water"): PAIR}}
CALLS = {
    "System": (sl.System, [
        SYSTEM, SYSTEM | {"kij": {("methane", "propane"): 0.01}, "lij": None, "alpha": None, "alpha_constants": None, "translation": None, "solids": None, "units": "SI"},
        SYSTEM | {"alpha": "Twu", "alpha_constants": {"methane": [0.1, 0.9, 1.9]}, "translation": {"methane": 1e-6}}, LIQUID,
        LIQUID | {"vapor": "virial", "poynting": True, "kij": None, "henry": None, "q_residual": None},
        {"components": ["hydrogen", "water"], "liquid": "ideal", "henry": {("hydrogen", "water"): "70000 bar"}},
    ]),
    "PairParameters": (sl.PairParameters, [{"a12": 1.0, "a21": 2.0, "alpha": 0.3, "form": "plain", "temperature": "K", "T_min": 300.0, "T_max": 400.0, "r": None, "q": None, "volumes": None, "terms": None, "kij": None}]),
    "flash": (GAS.flash, [
        {"z": Z3, "T": 260.0, "P": 2e6}, {"z": Z3, "T": 260.0, "P": 2e6, "flow": "5 t/h", "phases": None, "basis": "mass"}, {"z": Z3, "P": 2e6, "H": -6000.0}, {"z": Z3, "T": 260.0, "vapor_fraction": 0.4},
        {"z": Z3, "P": 2e6, "S": -20.0}, {"z": Z3, "T": 260.0, "V": 1e-3}, {"z": Z3, "T": 260.0, "density": 30.0}, {"z": Z3, "P": 2e6, "vapor_mass_fraction": 0.4}, {"z": Z3, "U": -6000.0, "V": 1e-3},
        {"z": Z3, "T": 260.0, "P": 2e6, "phases": "VL", "executor": None},
    ]),
    "liquid flash": (STILL.flash, [{"z": [0.2, 0.3, 0.5], "T": 350.0, "P": 1e5}, {"z": [0.2, 0.3, 0.5], "P": 1e5, "vapor_fraction": 0.5}]),
    "to": (OLD.to, [{"T": 250.0, "P": 1e6}, {"P": 1e6, "duty": 0.0}, {"duty": "-50 kW"}, {"P": 1e6, "S": OLD.S}]),
    "exergy": (OLD.exergy, [{"T": 298.15, "P": 1e5}]),
    "bubble": (GAS.bubble, [{"z": Z3, "T": 260.0, "P": None, "basis": "mole"}, {"z": Z3, "P": 2e6}]),
    "dew": (GAS.dew, [{"z": Z3, "T": 260.0, "P": None, "basis": "mole"}, {"z": Z3, "P": 2e6}]),
    "liquid bubble": (STILL.bubble, [{"z": [0.2, 0.3, 0.5], "P": 1e5}, {"z": [0.2, 0.3, 0.5], "T": 350.0}]),
    "excess": (STILL.excess, [{"x": [0.2, 0.3, 0.5], "T": 350.0, "basis": "mole"}]),
    "diagram": (TWO.diagram, [{"kind": "Txy", "first": "ethanol", "second": "water", "T": None, "P": 1e5, "points": 11, "data": None}, {"kind": "gamma", "T": 350.0, "points": 11}, {"kind": "Pxy", "T": 350.0, "points": 11}]),
    "liquid_split": (STILL.liquid_split, [{"z": [0.02, 0.24, 0.74], "T": 303.0, "P": 1e5, "basis": "mole"}]),
    "liquid_map": (STILL.liquid_map, [{"T": 303.0, "P": 1e5}]),
    "boiling_map": (sl.System(["acetone", "chloroform", "methanol"], liquid="Wilson").boiling_map, [{"P": 1e5}]),
    "check": (TWO.check, [{"T": 300.0, "P": 1e5}]),
    "dilution": (STILL.dilution, [{"solvent": "water", "T": 303.0, "against": "1-butanol", "mutual": True}, {"solvent": {"water": 0.9, "1-butanol": 0.1}}]),
    "azeotropes": (TWO.azeotropes, [{"T": None, "P": 1e5}, {"T": 350.0}, {"P": [1e5, 2e5]}]),
    "saturation_curve": (ONE.saturation_curve, [{"T": [231.1, 300.0], "data": None}]),
    "stability": (GAS.stability, [{"z": Z3, "T": 260.0, "P": 2e6, "basis": "mole"}]),
    "critical": (GAS.critical, [{"z": Z3, "basis": "mole"}]),
    "envelope": (GAS.envelope, [{"z": Z3, "quality": (), "quality_basis": "mole", "P_min": 1e5, "P_max": None, "T_min": None, "T_max": None, "basis": "mole"}]),
    "table": (GAS.table, [{"z": Z3, "T": [250.0, 260.0], "P": 2e6, "properties": ["H", "vapor_fraction"], "path": False, "dead_state": (298.0, 1e5), "basis": "mole", "units": "SI", "progress": None}, {"z": Z3, "P": [1e6, 2e6], "H": -5000.0}]),
    "with_parameters": (GAS.with_parameters, [{"values": {"kij methane / propane": 0.1}}]),
    "with_model": (GAS.with_model, [{"eos": "SRK"}, {"liquid": "ideal", "vapor": "virial"}]),
    "with_units": (GAS.with_units, [{"units": "US"}]),
    "part": (GAS.part, [{"components": ["methane", "propane"]}]),
    "taking": (GAS.taking, [{"other": GAS.with_parameters({"kij methane / propane": 0.1})}]),
    "from_dict": (sl.System.from_dict, [{"plain": GAS.to_dict()}]),
    "Component": (sl.Component, [
        {"name": "sleet", "Tc": 600.0, "Pc": 3e6, "omega": 0.4, "molar_mass": 0.1, "formula": "C7H14O2", "cas": "", "aliases": (), "Tb": 420.0, "vapor_pressure": None, "liquid_density": None, "heat_capacity": None},
    ]),
    "antoine": (sl.antoine, [{"A": 10.0, "B": 1500.0, "C": -50.0, "T_min": 300.0, "T_max": 400.0}]),
    "normalize": (sl.normalize, [{"z": [1.0, 2.0]}]),
    "advise": (sl.advise, [{"components": ["ethanol", "water"], "T": "25 degC", "P": "1 bar", "purpose": "vapor-liquid", "units": "metric"}]),
    "fit_ions": (
        sl.fit_ions,
        [{"cation": "Na+", "anion": "Cl-", "data": {"molality": [0.5, 1.0, 2.0, 4.0], "osmotic_coefficient": [0.92, 0.94, 0.98, 1.12]}, "ions": "Pitzer"}],
    ),
    "fit_pure": (sl.fit_pure, [{"component": "2-butanol", "eos": "CPA", "sites": (1, 1)}]),
    "fit_correlation": (sl.fit_correlation, [{"data": CURVE, "form": "Antoine", "of": None, "component": None, "uncertainty": None}]),
    "quantity": (sl.quantity, [{"value": 300.0, "dimension": "temperature", "unit_set": "US"}]),
    "data_from_frame": (sl.data_from_frame, [{"frame": MEASURED, "components": ["ethanol", "water"], "kind": "", "solid": ""}]),
    "read_data": (sl.read_data, [{"path": "nothing.csv", "components": ["ethanol", "water"], "kind": ""}]),
    "write_data": (sl.write_data, [{"data": DATA, "path": "data.csv", "units": "SI", "overwrite": True}]),
    "store_data": (sl.store_data, [{"data": DATA, "layer": "user", "overwrite": True}]),
    "data_records": (sl.data_records, [{"kind": None, "layer": None}]),
    "load": (sl.load, [{"path": "nothing.toml"}]),
    "save": (sl.save, [{"result": OLD, "path": "out.csv", "units": "US", "overwrite": True}, {"result": GAS, "path": "gas.toml", "overwrite": True}]),
    "store_pair": (sl.store_pair, [{"model": "NRTL", "pair": ("ethanol", "water"), "parameters": PAIR, "layer": "user", "overwrite": True}]),
    "remove_pair": (sl.remove_pair, [{"model": "NRTL", "pair": ("ethanol", "water"), "layer": "user"}]),
    "pair_records": (sl.pair_records, [{"model": "NRTL", "layer": None}]),
    "earlier_pairs": (sl.earlier_pairs, [{"model": "NRTL", "pair": ("ethanol", "water"), "layer": "user"}]),
    "store_component": (sl.store_component, [{"component": SLEET, "layer": "user", "insist": True, "overwrite": True}]),
    "remove_component": (sl.remove_component, [{"name": "sleet", "layer": "user"}]),
    "read_components": (sl.read_components, [{"path": "nothing.toml"}]),
    "read_pairs": (sl.read_pairs, [{"path": "nothing.toml"}]),
    "estimate_from_groups": (sl.estimate_from_groups, [{"name": "x", "counts": {"CH3": 2, "CH2": 4}, "Tb": None, "omega": "Lee-Kesler", "cas": ""}]),
    "estimate_from_structure": (sl.estimate_from_structure, [{"name": "x", "smiles": "CCCO", "Tb": None}]),
    "pseudo_component": (sl.pseudo_component, [{"name": "cut", "Tb": 420.0, "specific_gravity": 0.75, "molar_mass": None, "method": "Twu"}]),
    "split_plus_fraction": (sl.split_plus_fraction, [{"molar_mass": 0.15, "specific_gravity": 0.8, "amount": 1.0, "first": 7, "last": 40, "distribution": "exponential", "alpha": 1.0, "method": "Twu"}]),
    "lump": (sl.split_plus_fraction(molar_mass=0.15, specific_gravity=0.8).lump, [{"count": 3}]),
    "compare_methods": (sl.compare_methods, [{"Tb": 420.0, "specific_gravity": 0.75}]),
    "compare": (sl.compare, [{"systems": {"PR": GAS, "SRK": GAS.with_model(eos="SRK")}, "calculation": calculation, "base": None, "data": (), "limit": 0.02}]),
    "compare_envelopes": (sl.compare_envelopes, [{"envelopes": {"PR": ENVELOPE, "again": ENVELOPE}}]),
    "anchored": (sl.anchored, [{"component": SLEET_P, "T": 420.0, "P": 1e5, "source": ""}]),
    "anchored_pair": (sl.anchored_pair, [{"system": TWO, "first": TWO.names[0], "second": TWO.names[1], "T": 330.0, "gamma_inf": 2.0, "x": None, "P": None, "source": ""}]),
    "with_measured_ends": (sl.with_measured_ends, [{"system": TWO, "data": DATA}]),
    "regress": (sl.regress, [{"system": TWO, "data": DATA, "fit": None, "objective": "measured", "loss": "squares", "uncertainty": None, "bounds": None, "tied": None, "forbid_split": False}]),
    "rank_models": (sl.rank_models, [{"system": TWO, "data": DATA, "models": ("Wilson",), "fit": None, "beside": ()}]),
    "data_table": (sl.data_table, [{"data": DATA, "beside": None}]),
    "consistency": (sl.consistency, [{"data": DATA, "system": TWO, "excess_enthalpy": None}]),
    "new_study": (sl.new_study, [{"components": ["ethanol", "water"], "T": "25 degC", "P": "1 bar", "purpose": "vapor-liquid", "composition": None, "flow": None, "title": None, "units": "metric", "name": "study.toml"}]),
    "read_study": (sl.read_study, [{"path": "nothing.toml"}]),
    "draw_table": (sl.draw_table, [{"frame": TABLE, "x": "T", "y": "H", "by": None, "log": False}]),
    "plot": (ENVELOPE.plot, [{"ax": None, "x": "T", "y": "P", "units": None}]),
    "report": (OLD.report, [{"units": None}]),
    "KValues": (sl.KValues, [{"K": {"propane": 2.4, "n-butane": 0.9}}]),
    "KValues flash": (sl.KValues({"a": 2.4, "b": 0.9}).flash, [{"z": [0.5, 0.5], "flow": "1 mol/s"}]),
    "pair_readings": (sl.pair_readings, [{"model": "NRTL", "pair": ("ethanol", "water"), "parameters": PAIR, "T": 300.0}]),
    "heat_capacity": (sl.heat_capacity, [{"coefficients": [30.0, 0.01], "unit": "J/(mol K)", "per_kelvin": 1.0, "T_min": 300.0, "T_max": 400.0}]),
    "machine": (OLD.to, [{"P": 4e6, "S": OLD.S, "efficiency": 0.8}]),
    "several feeds": (GAS.table, [{"z": {"lean": {"methane": 1.0}, "rich": {"methane": 0.7, "propane": "rest"}}, "T": 300.0, "P": [1e6, 2e6], "phases": None}]),
    "points": (GAS.bubble(Z3, T=[260.0, 270.0]).plot, [{"ax": None, "units": "SI", "beside": GAS.dew(Z3, T=[260.0, 270.0])}]),
    "groups": (sl.System, [
        {"components": ["ethanol", "water"], "liquid": "UNIFAC", "groups": {"ethanol": "CH3 + CH2 + OH"}, "parameters": {("OH", "H2O"): {"a12": 353.5, "a21": -229.1}}},
        {"components": ["n-heptane", "1-propanol"], "liquid": "NRTL", "missing": "UNIFAC", "groups": None},
        {"components": ["ethanol", "water"], "eos": "SRK", "mixing": "MHV2", "excess": "UNIFAC", "alpha": "Mathias-Copeman", "groups": {"ethanol": {"CH3": 1, "CH2": 1, "OH": 1}}},
        {"components": ["carbon dioxide", "n-dodecane"], "eos": "PR", "kij": "predicted"},
        {"components": ["ethanol", "water"], "eos": "PR", "mixing": "WS", "excess": "NRTL", "kij": {("ethanol", "water"): 0.25}},
        {"components": ["carbon dioxide", "ethanol"], "eos": "SRK", "mixing": "PSRK", "excess": "UNIFAC with gases"},
    ]),
    "transport methods": (sl.System, [{"components": ["methane", "propane"], "eos": "PR", "transport": {"gas viscosity": "Lucas"}}]),
    "virial": (sl.System, [{"components": ["ethanol", "water"], "liquid": "ideal", "vapor": "virial", "virial": {("ethanol", "ethanol"): -1e-3}}]),
    "freezing": (FROST.freezing, [{"z": [0.5, 0.3, 0.2], "P": 5e5, "T": None, "basis": "mole", "brine": None}, {"z": [0.5, 0.3, 0.2], "T": 200.0}, {"z": [0.5, 0.3, 0.2], "P": [1e5, 5e5], "brine": {"NaCl": "5 %"}}]),
    "hydrate": (WET.hydrate, [{"z": [0.8, 0.1, 0.1], "P": 4e6, "T": None, "basis": "mole", "brine": None}, {"z": [0.8, 0.1, 0.1], "T": 280.0}, {"z": [0.8, 0.1, 0.1], "P": 4e6, "brine": {"NaCl": 1.0}}]),
    "hydrate_amount": (WET.hydrate_amount, [{"z": [0.8, 0.1, 0.1], "T": 275.0, "P": 4e6, "basis": "mole"}]),
    "inhibitor_dose": (sl.System(["methane", "methanol", "water"], eos="SRK").inhibitor_dose, [{"inhibitor": "methanol", "z": [0.9, 0.0, 0.1], "T": 275.0, "P": 6e6, "basis": "mole"}]),
    "distance": (WET.hydrate([0.8, 0.1, 0.1], P=[1e6, 4e6, 8e6]).distance, [{"T": 280.0, "P": 3e6}]),
    "solid line": (WET.hydrate([0.8, 0.1, 0.1], P=[1e6, 4e6]).plot, [{"ax": None, "units": None, "log": True, "marks": {"here": (280.0, 2e6)}, "beside": None}]),
    "solubility": (CRYSTALS.solubility, [{"solid": "naphthalene", "solvent": {"benzene": 0.4, "n-hexane": 0.6}, "T": [290.0, 310.0], "P": 1e5, "basis": "mole"}, {"solid": "naphthalene", "solvent": "benzene"}]),
    "implied_by_solubility": (CRYSTALS.implied_by_solubility, [{"parameter": "fusion_H naphthalene", "solid": "naphthalene", "solvent": "benzene", "x": 0.29, "T": 298.15, "P": 1e5, "basis": "mole"}]),
    "melting_diagram": (CRYSTALS.melting_diagram, [{"first": "naphthalene", "second": "benzene", "P": 1e5, "points": 11, "compounds": ()}, {"first": "naphthalene", "second": "benzene", "points": 7, "compounds": [COMPOUND]}]),
    "SolidCompound": (sl.SolidCompound, [{"parts": {"naphthalene": 1, "benzene": 2}, "melting_T": 300.0, "heat_of_fusion": 2e4, "name": ""}]),
    "melting by": (lambda **given: CRYSTALS.melting_diagram("naphthalene", "benzene", points=7, compounds=[sl.SolidCompound(**given)]), [{"parts": {"naphthalene": 1, "benzene": 2}, "melting_T": 300.0, "heat_of_fusion": 2e4}]),
    "freezing_map": (CRYSTALS.freezing_map, [{"P": 1e5}]),
    "transport": (GAS.transport, [{"z": Z3, "T": 260.0, "P": 2e6, "basis": "mole"}]),
    "chart": (sl.System(["propane"], eos="PR").chart, [{"kind": "PH", "T": [200.0, 400.0], "P": [1e5, 1e7], "lines": {"T": [300.0], "S": [], "density": []}, "per": "mass", "zero": None, "basis": "mole"}, {"kind": "TS", "z": [1.0], "zero": {"T": 250.0, "vapor_fraction": 0.0}}]),
    "chart plot": (sl.System(["propane"], eos="PR").chart("PH", lines={"T": [300.0], "S": [], "density": [], "vapor_fraction": []}).plot, [{"ax": None, "units": "SI", "marks": {"a": (300.0, 1e5), "b": {"P": 2e5, "vapor_fraction": 0.5}}, "joined": True}]),
    "datasheet": (sl.datasheet, [{"states": OLD, "title": None}, {"states": {"a": OLD}, "title": "A"}]),
    "Electrolyte": (
        sl.Electrolyte,
        [
            {
                "added": ["NaCl", "gypsum"],
                "ions": "Pitzer",
                "parameters": {("Na+", "Cl-"): {"beta0": 0.08}},
                "species": ["CaSO4(aq) = Ca+2 + SO4-2, -2.31"],
                "without": ["anhydrite"],
            }
        ],
    ),
    "bubble_pressure": (SALTS.bubble_pressure, [{"feed": {"sodium chloride": 1.0, "carbon dioxide": 0.1}, "T": "40 degC", "precipitation": True}]),
    "beside oil": (OILY.speciation, [{"feed": {"sodium chloride": 1.0, "carbon dioxide": 1.0, "n-octane": 2.0}, "T": 310.0, "P": "5 bar"}]),
    "boiling oil": (OILY.bubble_pressure, [{"feed": {"propane": 1.0, "n-octane": "2 mol/kg"}, "T": 310.0, "precipitation": True}]),
    "more oil": (OILY.titration, [{"feed": {"carbon dioxide": 0.1}, "added": "n-octane", "amounts": [0.0, 1.0], "T": "40 degC", "P": 5e5}]),
    "under pressure": (SALTS.speciation, [{"feed": {"sodium chloride": 1.0, "carbon dioxide": 1.0}, "T": 310.0, "P": "5 bar"}]),
    "speciation": (SALTS.speciation, [{"feed": {"sodium chloride": 1.0, "carbon dioxide": "1 g/kg"}, "gases": {"carbon dioxide": 1e5}, "precipitation": True}]),
    "warming": (SALTS.warming, [{"feed": {"carbon dioxide": 0.1}, "T": ["5 degC", 350.0], "gases": None, "precipitation": False}]),
    "titration": (SALTS.titration, [{"feed": {"carbon dioxide": 0.1}, "added": "sodium chloride", "amounts": [0.0, 1.0], "T": "40 degC", "gases": None, "precipitation": ["halite"]}]),
    "heating_value": (GAS.heating_value, [{"z": Z3, "T": 288.15, "P": 1e5, "basis": "mole"}]),
    "steam": (sl.System(["water"], eos="reference").flash, [{"z": [1.0], "T": 450.0, "P": 1e5}, {"z": [1.0], "P": 1e5, "vapor_fraction": 0.3}]),
    "to_frame": (GAS.flash(Z3, T=[250.0, 260.0], P=1e6).to_frame, [{"units": "SI", "properties": ["H", "S"]}]),
}  # fmt: skip
NUMBERS = {
    "T",
    "P",
    "H",
    "S",
    "U",
    "V",
    "density",
    "vapor_fraction",
    "vapor_mass_fraction",
    "flow",
    "duty",
    "z",
    "x",
    "Tc",
    "Pc",
    "omega",
    "P_min",
    "P_max",
    "T_min",
    "T_max",
}
"""Arguments in which nothing of `NONSENSE` may pass."""
SLOW = {
    "chart",
    "freezing_map",
    "steam",
    "check",
    "boiling_map",
    "liquid_map",
    "envelope",
    "regress",
    "consistency",
    "advise",
    "azeotropes",
}


HANGS = 300


class TooLong(BaseException):
    """A call that had not come back after `HANGS` seconds."""


def _stop(*_):
    raise TooLong


def known_arguments(work, arguments):
    """Those that the call has: the table above may name some that it lacks."""
    import inspect

    names = inspect.signature(work).parameters
    return {k: v for k, v in arguments.items() if k in names or any(p.kind == p.VAR_KEYWORD for p in names.values())}


def same(value):
    try:
        return copy.copy(value)
    except Exception:
        return value


def shown(value):
    try:
        return repr(value)[:100]
    except Exception:
        return f"<{type(value).__name__}>"


def look(rng):
    draw = random.Random(int(rng.integers(2**62)))
    while True:
        name = draw.choice(list(CALLS))
        if name not in SLOW or draw.random() < 0.15:
            break
    work, choices = CALLS[name]
    arguments = known_arguments(work, draw.choice(choices))
    senseless = {}
    for _ in range(draw.choice([1, 1, 1, 2])):
        key = draw.choice(list(arguments))
        nonsense = draw.random() < 0.5
        arguments[key] = same(draw.choice(NONSENSE if nonsense else CLUMSY))
        senseless[key] = nonsense and key in NUMBERS
    label = f"{name}({', '.join(f'{k}={shown(v)}' for k, v in arguments.items())})"

    def trouble_of(counts):
        counts[name] += 1
        signal.signal(signal.SIGALRM, _stop)
        signal.alarm(HANGS)
        trouble = []
        try:
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                result = work(**arguments)
                trouble += whole(result)
            if any(senseless.values()) and name != "normalize":
                trouble.append(f"taken: {shown(result)}")
            counts["answered"] += 1
        except sl.SleetfieldError as error:
            counts["refused"] += 1
            if not str(error).strip() or len(str(error)) > 2000:
                trouble.append(f"a message of {len(str(error))} letters")
        except TooLong:
            trouble.append("hangs")
        except Exception as error:
            where = [f for f in traceback.extract_tb(error.__traceback__) if "sleetfield" in f.filename]
            place = f"{Path(where[-1].filename).name}:{where[-1].lineno}" if where else ""
            if name == "compare" and not where[-1].filename.endswith("arguments.py") and where[-1].name == "compare":
                counts["a function's own"] += 1
            elif isinstance(error, TypeError) and re.search("(unexpected|required) .*argument|missing .*argument", str(error)):
                counts["python's own"] += 1
            elif any(
                isinstance(v, Failing) or (isinstance(v, list) and v and isinstance(v[0], Failing)) for v in arguments.values()
            ) and isinstance(error, RuntimeError):
                counts["its own failure"] += 1
            else:
                trouble.append(f"{type(error).__name__} at {place}: {str(error)[:150]}")
        finally:
            signal.alarm(0)
        return trouble

    return label, trouble_of


def whole(result):
    """What is wrong with an answer, whatever it is an answer to."""
    trouble = []
    if isinstance(result, sl.State):
        if not (result.T > 0.0 and result.P > 0.0 and result.n_phases >= 1):
            trouble.append(f"a state at {result.T}, {result.P} with {result.n_phases} phases")
        if abs(sum(p.fraction for p in result.phases) - 1.0) > 1e-6:
            trouble.append("phases that don't sum to 1")
        result.report()
    if isinstance(result, sl.StateBatch) and not (result.failed | (result.n_phases >= 1)).all():
        trouble.append("states without phases")
    if isinstance(result, (sl.State, sl.StateBatch, sl.System, sl.Component)):
        pickle.loads(pickle.dumps(result))
    return trouble


if __name__ == "__main__":
    with own_folders():
        sys.exit(search(__doc__, "calls", 20000, look, seconds=10.0))
