"""Datasheets, and the properties of components and of the boundary that they and tables have."""

import json
import re

import numpy as np
import pytest
from openpyxl import load_workbook

import sleetfield as sl
from sleetfield.calculations.diffusion import volume_of

from .commands import run

GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR", units="metric")
DRUM = GAS.flash([0.7, 0.2, 0.1], T="-20 degC", P="20 bar", flow="120 kmol/h")
BROTH = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL", units="metric")


def lines(sheet, units=None):
    """The lines of a sheet by section and what they are of."""
    frame = sheet.to_frame(units)
    return {(row["section"], row["property"]): row for _, row in frame.iterrows()}


def test_a_sheet_has_what_the_state_has():
    sheet = lines(sl.datasheet(DRUM, title="Knock-out drum"))
    vapor, liquid = DRUM.phases
    assert sheet["Condition", "pressure"][["overall", "vapor", "liquid"]].tolist() == pytest.approx([20.0] * 3)
    assert sheet["Amounts", "mass flow"]["vapor"] == pytest.approx(vapor.flow * vapor.molar_mass * 3600.0)
    assert sheet["Amounts", "volume flow"]["liquid"] == pytest.approx(liquid.flow * liquid.molar_volume * 3600.0)
    by_mass = sheet["Thermal properties", "enthalpy by mass"]
    assert (by_mass["unit"], by_mass["liquid"]) == ("kJ/kg", pytest.approx(liquid.H / liquid.molar_mass / 1e3))
    assert sheet["Transport properties", "viscosity"]["liquid"] == pytest.approx(1e3 * liquid.viscosity)
    assert np.isnan(sheet["Transport properties", "surface tension of a liquid"]["vapor"])
    assert sheet["Mole fractions", "propane"]["overall"] == pytest.approx(0.2)
    assert sheet["K-values, vapor over liquid", "methane"]["liquid"] == pytest.approx(liquid.K["methane"])
    assert sheet["As a fuel", "gross heating value, burnt at 25 °C"]["overall"] == pytest.approx(
        GAS.heating_value([0.7, 0.2, 0.1]).by_mass[0] / 1e3
    )
    # in other units
    assert lines(sl.datasheet(DRUM), "US")["Condition", "temperature"]["overall"] == pytest.approx(-4.0)


def test_several_states_stand_beside_each_other():
    heated = DRUM.to(T="150 degC")
    sheet = sl.datasheet({"drum": DRUM, "heated": heated})
    assert [c.label for c in sheet.columns] == ["drum: overall", "drum: vapor", "drum: liquid", "heated: vapor"]
    row = lines(sheet)["Amounts", "heat taken up before"]
    assert row["heated: vapor"] == pytest.approx(heated.duty / 1e3)
    assert np.isnan(row["drum: overall"])
    batch = sl.datasheet(GAS.flash([0.7, 0.2, 0.1], T=[300.0, 450.0], P="1 bar"))
    assert list(batch.states) == ["26.85 °C, 1 bar", "176.85 °C, 1 bar"]
    # of different systems too
    both = sl.datasheet({"gas": DRUM, "steam": sl.System(["water"], eos="reference").flash([1.0], T=450.0, P=1e5)})
    assert {"methane", "water"} <= {name for section, name in lines(both) if section == "Mole fractions"}
    assert any("IAPWS" in source for source in both.sources)


def test_it_is_printed_and_written_in_every_form(tmp_path):
    sheet = sl.datasheet(DRUM, title="Drum <1> | wet")
    text = str(sheet)
    assert "Transport properties" in text
    assert "subcooling" in text
    for suffix in (".xlsx", ".html", ".md", ".csv", ".json"):
        sl.save(sheet, tmp_path / f"drum{suffix}")
    page = (tmp_path / "drum.html").read_text(encoding="utf-8")
    assert page.startswith("<!doctype html>")
    assert "<h1>Drum &lt;1&gt; | wet</h1>" in page
    assert "Thermal properties" in page
    assert not re.search(r"(src|href)=", page)
    told = (tmp_path / "drum.md").read_text(encoding="utf-8")
    assert "## Sources" in told
    assert re.search(r"\| density +\| kg/m³ +\| +41\.952 \| +19\.558 \| +637\.36 \|", told)
    book = load_workbook(tmp_path / "drum.xlsx")
    assert book.sheetnames == ["datasheet", "numbers"]
    cells = {row[0].value: row for row in book["datasheet"].iter_rows() if row[0].value}
    assert cells["density"][4].value == pytest.approx(637.357, abs=1e-3)
    assert cells["Thermal properties"][0].font.bold
    assert any(str(words).startswith("1. ") for words in cells)
    plain = json.loads((tmp_path / "drum.json").read_text(encoding="utf-8"))
    assert plain["states"]["state"]["T"] == pytest.approx(253.15)


def test_other_results_are_pages_too(tmp_path):
    for name, result in (
        ("state", DRUM),
        ("envelope", GAS.envelope([0.7, 0.2, 0.1])),
        ("table", GAS.table([0.7, 0.2, 0.1], T=[300.0], P=[1e5])),
    ):
        page = sl.save(result, tmp_path / f"{name}.html").read_text(encoding="utf-8")
        assert page.count("<table") >= 1
        assert ("data:image/png" in page) == (name == "envelope")
        assert "PR" in page


def test_what_is_no_state_makes_no_sheet():
    for wrong, message in (
        ([], "no state"),
        (5, "of states, not of a int"),
        ({"a": 3}, "a is no state"),
        ([DRUM, 2], "one of them is no state"),
    ):
        with pytest.raises(sl.InputError, match=message):
            sl.datasheet(wrong)


def test_solids_have_no_transport_properties():
    crystallizer = sl.System(["naphthalene", "benzene"], liquid="ideal", solids=["naphthalene"])
    state = crystallizer.flash([0.6, 0.4], T=300.0, P="1 atm")
    sheet = lines(sl.datasheet(state))
    row = sheet["Transport properties", "viscosity"]
    assert np.isnan(row["solid naphthalene"])
    assert row["liquid"] > 0.0


def test_partial_molar_properties_are_slopes_and_add_up():
    for system, z, T, P in ((GAS, [0.7, 0.2, 0.1], 253.15, 20e5), (BROTH, [0.2, 0.3, 0.5], 368.0, 101325.0)):
        names = system.names
        for phase in system.flash(z, T=T, P=P).phases:
            x = np.array(list(phase.composition.values()))
            for name, whole in (("volume", "molar_volume"), ("enthalpy", "H"), ("entropy", "S")):
                partial = getattr(phase, f"partial_molar_{name}")
                mean = sum(xi * partial[n] for xi, n in zip(x, names, strict=True))
                assert mean == pytest.approx(getattr(phase, whole), rel=1e-9)
                # what a little more of a component adds to the phase
                slopes = {}
                for i, n in enumerate(names):
                    h, totals = 1e-3 * x[i], []
                    for sign in (-1.0, 1.0):
                        moles = x + sign * h * np.eye(len(x))[i]
                        one = {"vapor": "V", "liquid": "L"}[phase.kind]
                        (other,) = system.flash(moles / moles.sum(), T=T, P=P, phases=one).phases
                        totals.append(moles.sum() * getattr(other, whole))
                    slopes[n] = (totals[1] - totals[0]) / (2.0 * h)
                assert partial == pytest.approx(slopes, rel=2e-4, abs=1e-9)


def test_activities_are_those_of_the_liquid_model_and_of_equations_of_state_by_fugacities():
    state = BROTH.flash([0.2, 0.3, 0.5], T=368.0, P="1 atm")
    vapor, liquid = state.phases
    x = list(liquid.composition.values())
    assert list(liquid.activity_coefficient.values()) == pytest.approx(BROTH.excess(x, T=368.0).gamma[0], rel=1e-9)
    assert list(liquid.activity.values()) == pytest.approx(np.array(x) * BROTH.excess(x, T=368.0).gamma[0], rel=1e-9)
    assert all(np.isnan(v) for v in vapor.activity.values())
    pair = sl.System(["n-hexane", "n-heptane"], eos="PR")
    (mixed,) = pair.flash([0.3, 0.7], T=300.0, P=1e6).phases
    (alone,) = pair.part(["n-hexane"]).flash([1.0], T=300.0, P=1e6).phases
    assert mixed.activity["n-hexane"] == pytest.approx(mixed.fugacity["n-hexane"] / alone.fugacity["n-hexane"], rel=1e-9)
    # there is no liquid methane at 253 K
    assert np.isnan(DRUM.phases[1].activity["methane"])


def test_subcooling_and_superheat_are_distances_from_the_boundary():
    table = GAS.table(
        [0.7, 0.2, 0.1], T=[150.0, 450.0], P=[20e5], properties=["bubble_point", "dew_point", "subcooling", "superheat"], units="SI"
    )
    z = [0.7, 0.2, 0.1]
    assert table["bubble_point [K]"].tolist() == pytest.approx([GAS.bubble(z, P=20e5).T] * 2, rel=1e-9)
    assert table["subcooling [K]"][0] == pytest.approx(GAS.bubble(z, P=20e5).T - 150.0)
    assert table["superheat [K]"][1] == pytest.approx(450.0 - GAS.dew(z, P=20e5).T)
    assert DRUM.superheat == pytest.approx(DRUM.T - DRUM.dew_point)
    # beyond the cricondenbar there is neither
    assert np.isnan(GAS.flash(z, T=400.0, P="300 bar").dew_point)


# at 1 atm, 1e-4 m2/s: Poling, Prausnitz and O'Connell, The Properties of Gases and Liquids, 5th ed. (2001), Table 11-2, measured
GASES = [
    (("carbon dioxide", "nitrogen"), 298.2, 0.167),
    (("hydrogen", "nitrogen"), 297.2, 0.779),
    (("water", "nitrogen"), 307.5, 0.256),
]
# 1e-9 m2/s in water: Cussler, Diffusion, 3rd ed. (2009), Table 5.2-1; Poling, Prausnitz and O'Connell, Example 11-8
IN_WATER = [("acetone", 298.15, 1.16), ("benzene", 298.15, 1.02), ("ethylbenzene", 293.0, 0.81)]


@pytest.mark.parametrize(("pair", "T", "measured"), GASES)
def test_diffusion_in_gases(pair, T, measured):
    (gas,) = sl.System(list(pair), eos="PR").flash([0.02, 0.98], T=T, P="1 atm").phases
    found = gas.diffusion_coefficient
    assert 1e4 * found[pair[0]] == pytest.approx(measured, rel=0.07)
    # a pair has one coefficient, whoever moves in whom
    assert found[pair[0]] == pytest.approx(found[pair[1]], rel=1e-12)


@pytest.mark.parametrize(("name", "T", "measured"), IN_WATER)
def test_diffusion_in_water(name, T, measured):
    (liquid,) = sl.System(["water", name], liquid="UNIFAC").flash([1.0 - 1e-6, 1e-6], T=T, P="1 atm").phases
    assert 1e9 * liquid.diffusion_coefficient[name] == pytest.approx(measured, rel=0.2)


def test_diffusion_in_mixtures_follows_blanc_and_what_is_alone_has_none():
    gas = sl.System(["methane", "hydrogen", "carbon dioxide"], eos="SRK")
    (mixed,) = gas.flash([0.2, 0.3, 0.5], T=400.0, P=1e5).phases
    binary = {}
    for other in ("hydrogen", "carbon dioxide"):
        (pair,) = gas.part(["methane", other]).flash([0.5, 0.5], T=400.0, P=1e5).phases
        binary[other] = pair.diffusion_coefficient["methane"]
    expected = 0.8 / (0.3 / binary["hydrogen"] + 0.5 / binary["carbon dioxide"])
    assert mixed.diffusion_coefficient["methane"] == pytest.approx(expected, rel=2e-3)
    (alone,) = sl.System(["methane"], eos="PR").flash([1.0], T=300.0, P=1e5).phases
    assert np.isnan(alone.diffusion_coefficient["methane"])


def test_rings_count_where_they_are_aromatic_or_hold_another_atom():
    volumes = {
        name: volume_of(sl.databank().find(name)) for name in ("benzene", "cyclohexane", "tetrahydrofuran", "naphthalene", "water")
    }
    assert volumes == pytest.approx(
        {
            "benzene": 6 * 15.9 + 6 * 2.31 - 18.3, "cyclohexane": 6 * 15.9 + 12 * 2.31, "tetrahydrofuran": 4 * 15.9 + 8 * 2.31 + 6.11 - 18.3,
            "naphthalene": 10 * 15.9 + 8 * 2.31 - 2 * 18.3, "water": 13.1,
        }
    )  # fmt: skip


def test_the_command_writes_one(tmp_path):
    out = tmp_path / "drum.html"
    printed = run("datasheet", "0.70 methane + 0.20 propane + 0.10 n-heptane", "--T", "-20degC, 150degC", "--P", "20bar", "--flow", "120 kmol/h",
                  "--title", "Knock-out drum", "--out", str(out))  # fmt: skip
    assert "Knock-out drum" in printed
    assert "150 °C, 20 bar" in out.read_text(encoding="utf-8")
