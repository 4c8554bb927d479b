"""What is a table says its columns once: frames in any units and plain values in SI are the same numbers."""

import json

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.export import as_plain
from sleetfield.results.columns import Column, frame, lists, records, yes_or_no

GAS = sl.System(["methane", "propane"], eos="PR", kij="zero")
BROTH = sl.System(["1-butanol", "water"], liquid="NRTL")
THREE = sl.System(["acetone", "ethanol", "water"], liquid="NRTL")
RESULTS = {
    "states": lambda: GAS.flash([0.6, 0.4], T=[240.0, 260.0], P=20e5),
    "dew": lambda: GAS.dew([0.6, 0.4], P=[20e5, 1e9]),
    "critical": lambda: GAS.critical([0.6, 0.4]),
    "stability": lambda: GAS.stability([0.6, 0.4], T=240.0, P=20e5),
    "azeotropes": lambda: BROTH.azeotropes(P="1 atm"),
    "diagram": lambda: BROTH.diagram("Txy", P="1 atm"),
    "excess": lambda: BROTH.diagram("excess", T="80 degC"),
    "dilution": lambda: THREE.dilution("water", T=[300.0, 320.0], against="ethanol"),
    "check": lambda: BROTH.check(T="80 degC"),
    "interactions": lambda: sl.System(["nitrogen", "methane"], eos="PR").interactions,
    "boiling": lambda: THREE.boiling_map(P="1 atm"),
    "liquids": lambda: sl.System(["1-butanol", "ethanol", "water"], liquid="NRTL").liquid_map(T="25 degC"),
    "saturation": lambda: sl.System(["propane"], eos="PR").saturation_curve(T=[250.0, 300.0]),
    "plus": lambda: sl.split_plus_fraction(amount=0.02, molar_mass="150 g/mol", specific_gravity=0.79),
}


@pytest.mark.parametrize("name", RESULTS)
def test_frames_and_plain_values_have_the_same_numbers(name):
    result = RESULTS[name]()
    plain = json.loads(json.dumps(as_plain(result)))
    rows = plain[getattr(result, "rows", "rows")]
    rows = list(rows.values()) if isinstance(rows, dict) else rows
    numbers = [number for row in rows for number in numbers_in(row)]
    table = result.to_frame("SI")
    shown = np.concatenate([table[c].to_numpy(float) for c in table.columns if table[c].dtype.kind in "fiu"])
    assert sorted(v for v in numbers if v is not None) == sorted(shown[np.isfinite(shown)].tolist())


def numbers_in(value):
    if isinstance(value, dict):
        return [n for v in value.values() for n in numbers_in(v)]
    return [value] if isinstance(value, (int, float)) and not isinstance(value, bool) else []


def test_columns_turn_units_words_and_names():
    columns = [
        Column("T", [273.15, 300.0], "temperature"),
        Column("x", np.array([[0.25, 0.75], [0.5, 0.5]]), of=("acetone", "water")),
        Column("stable", [True, False], words=yes_or_no, label="seen"),
        Column("line", "dew"),
    ]
    table = frame(columns, "metric")
    assert table.columns.tolist() == ["T [degC]", "x acetone", "x water", "seen", "line"]
    assert table["T [degC]"].tolist() == pytest.approx([0.0, 26.85])
    assert table["seen"].tolist() == ["yes", "no"]
    assert records(columns[:3])[1] == {"T": 300.0, "x": {"acetone": 0.5, "water": 0.5}, "stable": False}
    assert lists(columns)["line"] == "dew"
