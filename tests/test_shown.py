"""How results look: on the terminal, in text, in notebooks, in frames."""

import numpy as np
import pandas as pd
import pytest

import sleetfield as sl
from sleetfield import text
from sleetfield.specified import series
from sleetfield.units import pretty_heading, pretty_unit

GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR", kij="zero", units="metric")
Z = [0.7, 0.2, 0.1]


@pytest.mark.parametrize("width", [40, 80, 120, 400])
def test_wide_tables_are_cut_into_parts_that_fit(width):
    frame = GAS.table(Z, T=[240.0, 260.0], P=[20e5, 40e5])
    cells = text.cells_of(frame)
    parts = text.parts_of(cells, width)
    keys = ["T [°C]", "P [bar]"]
    assert all(list(part)[:2] == keys for part in parts)
    spread = [heading for part in parts for heading in list(part)[2:]]
    assert spread == [heading for heading in cells if heading not in keys]
    if width == 400:
        assert len(parts) == 1
    for part in parts:
        if len(part) > 3:
            lines = text.table(frame[[h for h in frame.columns if pretty_heading(h) in part]], width=width).splitlines()
            assert max(map(len, lines)) <= width
            # a heading is folded between words only
            folded = " ".join(" ".join(line.split()) for line in lines[:4]).split()
            assert {word for h in part for word in h.partition(" [")[0].replace("[", " [").split()} <= set(folded)


def test_names_of_rows_are_repeated_in_every_part():
    cells = text.cells_of(GAS.flash(Z, T=250.0, P=20e5).to_frame())
    assert all(next(iter(part)) == "" for part in text.parts_of(cells, 30))


def test_long_tables_are_printed_without_their_middle():
    batch = GAS.flash(Z, T=np.linspace(200.0, 300.0, 500), P=20e5)
    printed = str(batch)
    assert len(printed.splitlines()) < 80
    assert "..." in printed
    assert "500 states of methane" in printed
    assert printed.count("\n") > 60
    assert len(batch.to_frame()) == 500


@pytest.mark.parametrize(
    ("value", "shown"),
    [
        (0.1234567, "0.1235"), (1.0, "1"), (float("nan"), ""), (None, ""), ("text", "text"), (-2e-9, "-2e-09"), (3, "3"), (123456, "123456"),
        (27939.4, "27939"), (99999.6, "100000"), (0.00099996, "0.001"), (1.23456e7, "1.235e+07"), (0.0, "0"), (4701000.0, "4701000"), (float("inf"), "inf"),
    ],
)  # fmt: skip
def test_numbers_in_cells(value, shown):
    assert text.number(value) == shown


def test_more_digits_are_printed_where_they_are_asked_for():
    state = GAS.flash(Z, T=250.0, P=20e5)
    share = f"{state.vapor_fraction:.8f}".rstrip("0")
    assert share in state.report(digits=8)
    assert share not in str(state)
    assert str(state.vapor_fraction)[:6] in str(state)


def test_decimal_points_stand_below_each_other():
    lines = text.table(pd.DataFrame({"a": [1.5, 22.25, 300.0, 0.001234]})).splitlines()[2:]
    assert {line.find(".") for line in lines if "." in line} == {lines[0].index(".")}
    assert [line.strip() for line in lines] == ["1.5", "22.25", "300", "0.001234"]


def test_one_atmosphere_is_called_that():
    boiling = sl.System(["water"], liquid="ideal", units="metric").bubble([1.0], P="1 atm")
    assert "at 1 atm" in str(boiling)
    assert "at 2 bar" in str(sl.System(["water"], liquid="ideal", units="metric").bubble([1.0], P="2 bar"))


@pytest.mark.parametrize(
    ("unit", "pretty"),
    [("degC", "°C"), ("kg/m3", "kg/m³"), ("Btu/(lbmol degR)", "Btu/(lbmol °R)"), ("m3/kmol", "m³/kmol"), ("psi", "psi"), ("", "")],
)
def test_units_as_people_write_them(unit, pretty):
    assert pretty_unit(unit) == pretty
    assert pretty_heading(f"q [{unit}]") == f"q [{pretty}]"


@pytest.mark.parametrize(
    ("given", "values"),
    [
        ("-20 degC", 253.15),
        ("250, 260 ,270 K", [250.0, 260.0, 270.0]),
        ("-10, 300 K, 20 degC", [263.15, 300.0, 293.15]),
        ("0degC to 100degC in 3", [273.15, 323.15, 373.15]),
        ("0 to 100 degC in 3", [273.15, 323.15, 373.15]),
    ],
)
def test_series_of_values(given, values):
    assert np.allclose(series(given, "temperature", "T"), values)


@pytest.mark.parametrize("bare", ["250", "250, 260", "1 to 20 in 5", "250 K, 260"])
def test_a_bare_number_is_refused(bare):
    with pytest.raises(sl.InputError, match="without a unit"):
        series(bare, "temperature", "T")
    assert series("0.5, 0.7", "fraction", "vapor_fraction").tolist() == [0.5, 0.7]


def test_frames_have_one_column_for_each_phase():
    two, one = GAS.flash(Z, T=250.0, P=20e5).to_frame(), GAS.flash(Z, T=500.0, P=20e5).to_frame()
    assert list(two.columns) == ["overall", "vapor", "liquid"]
    assert list(one.columns) == ["overall", "vapor"]
    assert two.loc["share by mole"].tolist()[0] == pytest.approx(
        two.loc["share by mole"].tolist()[1] + two.loc["share by mole"].tolist()[2]
    )
    water = sl.System(["n-hexane", "water"], eos="PR", kij={("n-hexane", "water"): 0.5}).flash([0.5, 0.5], T=300.0, P=20e5)
    assert list(water.to_frame().columns) == ["overall", "liquid", "second liquid"]
    assert water.vapor_fraction == 0.0


def test_tables_put_each_phase_in_its_own_columns():
    frame = GAS.table(Z, T=[150.0, 250.0, 500.0], P=[20e5], properties=["fraction", "density", "composition"], units="SI")
    assert np.isnan(frame["vapor fraction"]).tolist() == [True, False, False] or frame["vapor fraction"].notna().sum() >= 2
    assert np.isnan(frame["liquid density [kg/m3]"]).tolist()[2]
    both = frame[["vapor fraction", "liquid fraction"]].fillna(0.0).sum(axis=1)
    np.testing.assert_allclose(both, 1.0)
    y = frame[[c for c in frame.columns if c.startswith("vapor y")]].sum(axis=1)
    np.testing.assert_allclose(y[frame["vapor fraction"].notna()], 1.0)


def test_markdown_and_html_escape_nothing_away(tmp_path):
    html = GAS.flash(Z, T=250.0, P=20e5)._repr_html_()
    assert html.startswith("<h4>methane + propane + n-heptane (PR) at -23.15 °C, 20 bar</h4>")
    assert "<li>The interaction parameters" in html
    markdown = sl.save(GAS.dew(Z, P=[10e5, 20e5]), tmp_path / "dew.md").read_text()
    assert markdown.count("|") > 10


def test_a_smooth_line_goes_through_its_points():
    line = GAS.envelope(Z).lines[0]
    fine = line.smooth(8)
    np.testing.assert_allclose(fine.T[::8], line.T, rtol=1e-9)
    np.testing.assert_allclose(fine.P[::8], line.P, rtol=1e-9)
    np.testing.assert_allclose(fine.ln_k[::8], line.ln_k, atol=1e-9)
    assert len(fine.T) == 8 * (len(line.T) - 1) + 1
    assert fine.T[list(fine.critical)] == pytest.approx(line.T[list(line.critical)])


def test_report_in_other_units_leaves_the_result_alone():
    state = GAS.flash(Z, T=250.0, P=20e5)
    before = state.to_dict()
    assert "°F" in state.report(units="US")
    assert "K" in state.report(units="SI")
    assert state.to_dict() == before
    assert isinstance(state.to_frame(units="US"), pd.DataFrame)


def test_a_system_names_itself():
    assert "methane + propane + n-heptane (PR)" in repr(GAS)
    many = sl.System(["methane", "ethane", "propane", "n-butane", "n-pentane"], eos="SRK")
    assert many.title == "methane + ethane + propane + 2 more (SRK)"


EMPTY = {
    "check": lambda: sl.System(["ethane", "n-decane"], eos="PC-SAFT").check(),
    "check of one component": lambda: sl.System(["propane"], eos="PR").check(),
    "azeotropes": lambda: sl.System(["ethane", "n-decane"], eos="PR").azeotropes(P="20 bar"),
    "parameters": lambda: sl.System(["water", "ethanol"], liquid="ideal").parameters,
    "interactions": lambda: sl.System(["propane"], eos="PR").interactions,
}
"""Results with nothing in their tables."""


@pytest.mark.parametrize("name", EMPTY)
def test_nothing_found_is_a_result_too(name, tmp_path):
    found = EMPTY[name]()
    assert found.title() in found.report()
    assert found._repr_html_()
    assert len(found.compared_frame()) == 0
    assert found.to_dict()["notes"] == found.notes
    for units in sl.UNIT_SETS:
        assert len(found.to_frame(units)) == 0
        assert found.report(units)
    for suffix in ("csv", "xlsx", "json", "md"):
        assert sl.save(found, tmp_path / f"empty.{suffix}").stat().st_size
