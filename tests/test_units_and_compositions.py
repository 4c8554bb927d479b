"""What comes in: numbers with units, and compositions."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield import composition, units
from sleetfield.units import DIMENSIONS, to_si

GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR")
Z = [0.7, 0.2, 0.1]


@pytest.mark.parametrize(
    ("text", "dimension", "value"),
    [("25 degC", "temperature", 298.15), ("-20degC", "temperature", 253.15), ("300", "temperature", 300.0), ("77 degF", "temperature", 298.15),
     ("3 bar", "pressure", 3e5), ("1 atm", "pressure", 101325.0), ("14.5 psi", "pressure", 99973.98), ("2.5e3 kPa", "pressure", 2.5e6),
     ("120 kmol/h", "molar_flow", 33.3333333), ("1 lbmol/h", "molar_flow", 0.12599788)],
)  # fmt: skip
def test_text_with_units(text, dimension, value):
    assert float(units.to_si(text, dimension, "it")) == pytest.approx(value, rel=1e-7)


def test_quantities_and_lists():
    ureg = units.registry()
    assert float(units.to_si(ureg.Quantity(2.0, "MPa"), "pressure", "P")) == pytest.approx(2e6)
    assert units.to_si(ureg.Quantity([1.0, 2.0], "bar"), "pressure", "P").tolist() == [1e5, 2e5]
    assert units.to_si(["1 bar", "200 kPa", 3e5], "pressure", "P").tolist() == [1e5, 2e5, 3e5]
    own = __import__("pint").UnitRegistry()
    assert float(units.to_si(own.Quantity(1.0, "bar"), "pressure", "P")) == pytest.approx(1e5)


@pytest.mark.parametrize(
    ("text", "dimension", "message"),
    [("3 m", "pressure", "not a pressure"), ("3 bar", "temperature", "not a temperature"), ("5 foo", "pressure", "not known"), ("abc", "pressure", "number"),
     ("3 barg", "pressure", "gauge"), ("30 psig", "pressure", "gauge"), ("2 bar(g)", "pressure", "gauge"), ("", "pressure", "number")],
)  # fmt: skip
def test_wrong_units(text, dimension, message):
    with pytest.raises(sl.InputError, match=message):
        units.to_si(text, dimension, "it")


@pytest.mark.parametrize("unit_set", units.UNIT_SETS)
def test_every_dimension_converts_there_and_back(unit_set):
    for dimension in units.DIMENSIONS:
        shown = units.from_si(300.0, dimension, unit_set)
        if dimension == "temperature_difference":
            assert shown == pytest.approx(540.0 if unit_set == "US" else 300.0)
            continue
        unit = units.unit_of(dimension, unit_set)
        assert float(units.to_si(f"{float(shown)!r} {unit}", dimension, "it")) == pytest.approx(300.0, rel=1e-9)


def test_unknown_set_of_units():
    with pytest.raises(sl.InputError, match="metric"):
        sl.System(["methane"], eos="PR", units="imperial")


def test_results_in_every_set_of_units():
    state = GAS.flash(Z, T=300.0, P=20e5, flow=10.0)
    si, metric, us = (state.to_frame(units=u) for u in units.UNIT_SETS)
    assert metric.loc["density [kg/m3]", "overall"] == pytest.approx(si.loc["density [kg/m3]", "overall"])
    assert us.loc["density [lb/ft3]", "overall"] == pytest.approx(si.loc["density [kg/m3]", "overall"] * 0.0624279606, rel=1e-8)
    assert us.loc["H [Btu/lbmol]", "overall"] == pytest.approx(si.loc["H [J/mol]", "overall"] * 0.429922614, rel=1e-6)
    assert state.quantity("T", units="US").magnitude == pytest.approx(80.33)
    assert "80.33 °F" in state.report(units="US")
    assert "26.85 °C" in state.report(units="metric")


@pytest.mark.parametrize(
    "z", [Z, tuple(Z), np.array(Z), {"methane": 0.7, "propane": 0.2, "n-heptane": 0.1}, {"CH4": 0.7, "C3": 0.2, "heptane": "rest"}]
)
def test_compositions_in_every_form(z):
    assert GAS.flash(z, T=300.0, P=20e5).vapor_fraction == pytest.approx(GAS.flash(Z, T=300.0, P=20e5).vapor_fraction, rel=1e-12)


def test_mass_basis():
    mass = np.array(Z) * GAS.molar_mass
    by_mass = GAS.flash(mass / mass.sum(), T=300.0, P=20e5, basis="mass")
    np.testing.assert_allclose(by_mass.z, Z, rtol=1e-12)


def test_absent_components_are_left_out_of_a_mapping():
    state = GAS.flash({"methane": 0.9, "propane": 0.1}, T=220.0, P=20e5)
    assert state.phases[0].composition["n-heptane"] == 0.0


@pytest.mark.parametrize(
    ("z", "message"),
    [([0.7, 0.2, 0.2], "sum to 1.1"), ([0.7, 0.4, -0.1], "negative"), ([0.7, 0.3, float("nan")], "not finite"), ([0.5, 0.5], "2 fractions"),
     ([70.0, 20.0, 10.0], "percentages"), ({"methane": 1.2, "propane": "rest"}, "Nothing is left"), ({"methane": "rest", "propane": "rest"}, "Only one"),
     ({"methane": "much", "propane": 0.5}, "no number"), ({"methane": 0.5, "CH4": 0.5}, "twice"), ("methane", "fractions"), (0.5, "fractions")],
)  # fmt: skip
def test_wrong_compositions(z, message):
    with pytest.raises(sl.InputError, match=message):
        GAS.flash(z, T=300.0, P=1e6)


def test_a_component_of_another_system():
    with pytest.raises(sl.UnknownComponentError, match="not in this system"):
        GAS.flash({"methane": 0.5, "water": 0.5}, T=300.0, P=1e6)


def test_wrong_basis():
    with pytest.raises(sl.InputError, match="mole or mass"):
        GAS.flash(Z, T=300.0, P=1e6, basis="volume")


def test_normalize():
    assert sl.normalize([2.0, 2.0]).tolist() == [0.5, 0.5]
    assert sl.normalize({"a": 1, "b": 3}) == {"a": 0.25, "b": 0.75}
    for bad in ([0.0, 0.0], [1.0, -1.0], [np.inf, 1.0]):
        with pytest.raises(sl.InputError):
            sl.normalize(bad)


@pytest.mark.parametrize(
    ("text", "parsed"),
    [("0.7 methane + 0.3 propane", {"methane": 0.7, "propane": 0.3}), ("70% methane+30% propane", {"methane": 0.7, "propane": 0.3}), ("propane", {"propane": 1.0}), (" 7732-18-5 ", {"7732-18-5": 1.0}),
     ("1e-3 1-butanol + rest water", {"1-butanol": 1e-3, "water": "rest"}), (".5 ethyl acetate +.5 1,3-butadiene", {"ethyl acetate": 0.5, "1,3-butadiene": 0.5})],
)  # fmt: skip
def test_compositions_as_text(text, parsed):
    assert composition.parse(text) == parsed


@pytest.mark.parametrize("text", ["0.5 methane 0.5 propane +", "0.5 methane + 0.5 methane", "", "0.5", "50%", "methane + propane"])
def test_wrong_text(text):
    with pytest.raises(sl.InputError):
        composition.parse(text)


@pytest.mark.parametrize(
    ("text", "dimension", "value"),
    [
        ("20 C", "temperature", 293.15),
        ("68 F", "temperature", 293.15),
        ("20 °C", "temperature", 293.15),
        ("1 bara", "pressure", 1e5),
        ("1 bar(a)", "pressure", 1e5),
        ("1 bar abs", "pressure", 1e5),
        ("1 psia", "pressure", 6894.757293168),
        ("1 lb/in2", "pressure", 6894.757293168),
        ("1 N/m2", "pressure", 1.0),
        ("1 N/m^2", "pressure", 1.0),
        ("1 kgf/cm2", "pressure", 98066.5),
        ("1 kg/cm2", "pressure", 98066.5),
        ("1 kmol / h", "molar_flow", 1.0 / 3.6),
        ("1 J mol**-1 K**-1", "molar_entropy", 1.0),
    ],
)
def test_units_as_engineers_write_them(text, dimension, value):
    assert float(to_si(text, dimension, "q")) == pytest.approx(value, rel=1e-9)


@pytest.mark.parametrize(
    ("text", "dimension"),
    [
        ("20 %bar", "pressure"),
        ("20 bar!", "pressure"),
        ("20 bar year", "pressure"),
        ("1 barg", "pressure"),
        ("1 bar(g)", "pressure"),
        ("27 coulomb", "temperature"),
        ("300 K**9**9**9", "temperature"),
        ("1 bar**99", "pressure"),
        ("1 " + "m*" * 400 + "m", "pressure"),
        ("1 __import__", "pressure"),
        ("1 bar/(bar", "pressure"),
    ],
)
def test_units_that_are_none(text, dimension):
    with pytest.raises(sl.InputError, match="q is"):
        to_si(text, dimension, "q")


def test_every_unit_of_the_sets_is_understood():
    for dimension, unit_set in DIMENSIONS.items():
        for unit in filter(None, unit_set):
            assert np.isfinite(to_si(f"1 {unit}", dimension, "q"))


@pytest.mark.parametrize("dimension", units.DIMENSIONS)
def test_the_usual_units_are_those_of_pint(dimension):
    """Sizes that are at hand without pint, against pint: every set of units, and everything that is read without it."""
    registry = units.registry()
    inside, *_ = units.DIMENSIONS[dimension]
    from_unit = {"temperature_difference": "delta_degC"}.get(dimension, units._for_pint(inside))
    for place, unit in enumerate(units.DIMENSIONS[dimension]):
        to_unit = "delta_degC" if dimension == "temperature_difference" and unit == "K" else units._for_pint(unit)
        size, zero = units._affine(dimension, place)
        for number in (1.0, 250.0):
            wanted = registry.Quantity(number, from_unit or "dimensionless").to(to_unit or "dimensionless").magnitude
            assert size * number + zero == pytest.approx(wanted, rel=1e-12)
    for unit in units._USUAL.get(dimension, ()):
        wanted = registry.Quantity(3.5, units._for_pint(unit)).to(from_unit).magnitude
        assert units.one_in_si(f"3.5 {unit}", dimension, "it") == pytest.approx(wanted, rel=1e-12)
