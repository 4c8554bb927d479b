"""The databank: its numbers, its look-ups, and components of one's own."""

import re

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.components.audit import audit
from sleetfield.components.databank import name_key, read_table
from sleetfield.components.formula import elements, molar_mass
from sleetfield.components.quantities import CONSTANTS, CORRELATIONS
from sleetfield.core.correlations.heat_capacity import Polynomial
from sleetfield.core.correlations.heat_of_vaporization import WatsonForm
from sleetfield.core.correlations.liquid_density import RackettForm

BANK = sl.databank()


def test_it_is_as_large_and_as_complete_as_promised():
    assert len(BANK) >= 200
    share = {key: np.mean([getattr(c, key) is not None for c in BANK]) for key in (*CONSTANTS, *CORRELATIONS)}
    assert all(share[key] == 1.0 for key in ("molar_mass", "Tc", "Pc", "omega", "vapor_pressure"))
    assert all(share[key] > 0.9 for key in ("Tb", "heat_capacity", "liquid_density"))
    assert all(share[key] > 0.5 for key in ("Vc", "Tm", "H_formation", "uniquac_r", "heat_of_vaporization"))
    for c in BANK:
        assert set(c.sources) == {key for key in (*CONSTANTS, *CORRELATIONS) if getattr(c, key) is not None}
        assert all(len(source) > 20 for source in c.sources.values())
        assert c.smiles
        assert re.fullmatch(r"[A-Z]{14}-[A-Z]{10}-[A-Z]", c.inchi_key)


def test_names_numbers_and_structures_are_told_apart():
    assert len({c.cas for c in BANK}) == len({c.inchi_key for c in BANK}) == len(BANK)
    names = [name_key(text) for c in BANK for text in {c.name, *c.aliases}]
    assert sorted(names) == sorted(set(names))


def test_every_kind_of_substance_is_there():
    wanted = "hydrogen nitrogen oxygen methane n-hexadecane isobutane cyclohexane ethylene benzene methanol 1-octanol acetone"
    for name in [
        *wanted.split(),
        "ethyl acetate",
        "diethyl ether",
        "acetic acid",
        "chloroform",
        "water",
        "ammonia",
        "hydrogen sulfide",
    ]:
        assert BANK.find(name).name == name


def test_audit_finds_nothing_but_recorded_exceptions():
    findings = audit(BANK)
    assert [f for f in findings if not f.reason] == []
    recorded = {(r["name"], r["check"]) for r in read_table("exceptions.csv")}
    assert {(f.component, f.check) for f in findings} == recorded, "an exception that is none any more has to go"


@pytest.mark.parametrize(
    "change",
    [{"omega": 0.25}, {"Tb": 350.0}, {"molar_mass": 0.05}, {"cas": "67-64-2"}, {"Tm": 340.0}, {"Vc": 3e-4},
     {"liquid_density": RackettForm((1700.0, 0.25886, 508.2, 0.2913), 178.0, 508.2)},
     {"heat_of_vaporization": WatsonForm((49000.0, 508.2, 0.38), 178.0, 508.0)}, {"heat_capacity": Polynomial((30.0, 0.1), 200.0, 1000.0)}],
)  # fmt: skip
def test_audit_sees_a_wrong_number(change):
    from dataclasses import replace

    acetone = BANK.find("acetone")
    wrong = replace(acetone, **change)
    assert audit([wrong])
    assert not audit([acetone])


def _put_back(name, **change):
    from dataclasses import replace

    return [replace(c, **change) if c.name == name else c for c in BANK]


@pytest.mark.parametrize(
    ("name", "change", "check"),
    [
        ("acetic acid", {"uniquac_r": 2.6724, "uniquac_q": 2.688}, "size"),
        ("propionic acid", {"uniquac_r": 3.3468, "uniquac_q": 3.228}, "size"),
        ("n-butyric acid", {"uniquac_r": 4.0212, "uniquac_q": 3.768}, "size"),
        ("butyraldehyde", {"uniquac_r": 3.0212, "uniquac_q": 2.568}, "size"),
        ("ethanol", {"uniquac_r": 2.5755, "uniquac_q": 2.588}, "size"),
        (
            "1-decanol",
            {"heat_capacity": Polynomial((14.57, 0.8947, -3.921e-4, -3.451e-8), 273.0, 1000.0)},
            "step of heat capacity at 1000 K",
        ),
        ("acetonitrile", {"H_formation": 87900.0, "G_formation": 105700.0}, "step of H_formation"),
        ("propionaldehyde", {"H_formation": -192200.0, "G_formation": -130500.0}, "step of H_formation"),
        ("1-heptanol", {"H_formation": -332200.0, "G_formation": -121000.0}, "step of H_formation"),
        ("carbon tetrachloride", {"H_formation": -100480.0, "G_formation": -58280.0}, "exchange in H_formation"),
        ("methyl chloride", {"H_formation": -86370.0, "G_formation": -62930.0}, "exchange in H_formation"),
        ("dichlorodifluoromethane", {"H_formation": -481500.0, "G_formation": -442500.0}, "exchange in G_formation"),
        ("chloroform", {"H_formation": -101300.0, "G_formation": -68600.0}, "exchange in H_formation"),
        ("chlorotrifluoromethane", {"H_formation": -695000.0, "G_formation": -654400.0}, "exchange in H_formation"),
        ("2-butanol", {"Tm": 158.45}, "second reading of melting point"),
        ("triethylamine", {"H_formation": -99.6e3}, "second reading of enthalpy of formation"),
        ("hydrogen cyanide", {"H_formation": 135.1e3, "G_formation": 124.7e3}, "second reading of Gibbs energy of formation"),
        ("1-octanol", {"sources": {"vapor_pressure": "estimated: corresponding states"}}, "cold vapor pressure"),
        ("1-decanol", {"sources": {"vapor_pressure": "estimated: corresponding states"}}, "cold vapor pressure"),
    ],
)
def test_audit_finds_errors_that_the_bank_once_had(name, change, check):
    found = {(f.component, f.check) for f in audit(_put_back(name, **change)) if not f.reason}
    assert any(c.startswith(check) for _, c in found), found
    near = {n for n, _ in found}
    assert name in near or check.startswith("step")


def test_audit_finds_the_coefficients_of_another_substance():
    one = BANK.find("1,1-dichloroethane")
    found = audit(_put_back("1,2-dichloroethane", heat_capacity=one.heat_capacity))
    assert [f.check for f in found if not f.reason and f.check.startswith("copy")] == ["copy of heat_capacity"]


# heat capacities at 298 K over R: Smith, Van Ness and Abbott, 7th ed. (2005), Table C.1
CP_OVER_R = {"methane": 4.217, "ethane": 6.369, "propane": 9.011, "n-butane": 11.928, "ethylene": 5.325, "benzene": 10.259,
             "carbon dioxide": 4.467, "hydrogen": 3.468, "nitrogen": 3.502, "water": 4.038, "ammonia": 4.269}  # fmt: skip


@pytest.mark.parametrize("name", list(CP_OVER_R))
def test_heat_capacities_against_another_table(name):
    value = BANK.find(name).heat_capacity.value(np.array([298.15]))[0] / 8.31446
    assert value == pytest.approx(CP_OVER_R[name], rel=0.04)


# Antoine constants, ln(P/kPa) and °C: Smith, Van Ness and Abbott, 7th ed. (2005), Table B.2
ANTOINE = {"acetone": (14.3145, 2756.22, 228.060, 40.0), "benzene": (13.7819, 2726.81, 217.572, 60.0),
           "ethanol": (16.8958, 3795.17, 230.918, 50.0), "n-hexane": (13.8193, 2696.04, 224.317, 40.0),
           "toluene": (13.9320, 3056.96, 217.625, 80.0), "water": (16.3872, 3885.70, 230.170, 100.0),
           "1-butanol": (15.3144, 3212.43, 182.739, 100.0)}  # fmt: skip


@pytest.mark.parametrize("name", list(ANTOINE))
def test_vapor_pressures_against_another_table(name):
    A, B, C, t = ANTOINE[name]
    value = np.exp(BANK.find(name).vapor_pressure.value(np.array([t + 273.15])))[0] / 1e3
    assert value == pytest.approx(np.exp(A - B / (t + C)), rel=0.012)


@pytest.mark.parametrize(
    ("text", "name"),
    [("Methane", "methane"), ("ACETONE", "acetone"), ("mek", "methyl ethyl ketone"), ("7732-18-5", "water"), ("n hexane", "n-hexane"),
     ("hexane", "n-hexane"), ("NH3", "ammonia"), ("H3N", "ammonia"), ("i-butane", "isobutane"), ("HCl", "hydrogen chloride")],
)  # fmt: skip
def test_find(text, name):
    assert BANK.find(text).name == name


def test_misspelt_names_offer_the_nearest():
    with pytest.raises(sl.UnknownComponentError, match="n-heptane"):
        BANK.find("heptan")
    with pytest.raises(LookupError, match="propane"):
        BANK.find("porpane")


def test_a_formula_of_isomers_is_ambiguous():
    with pytest.raises(sl.UnknownComponentError, match="n-butane, isobutane"):
        BANK.find("C4H10")


def test_search_finds_parts_formulas_and_near_spellings():
    assert {c.name for c in BANK.search("xylene")} >= {"o-xylene", "m-xylene", "p-xylene"}
    assert [c.name for c in BANK.search("C4H10")] == ["n-butane", "isobutane"]
    assert BANK.search("tolune")[0].name == "toluene"
    assert BANK.search("zzzzzz") == []


def test_formulas():
    assert elements("C2H6O") == {"C": 2, "H": 6, "O": 1}
    assert elements("Xx2") is None
    assert elements("no formula") is None
    assert molar_mass("H2O") == pytest.approx(0.018015)


def test_own_component():
    own = sl.Component(name="pentyl sleetate", formula="C8H16O2", Tc=612.0, Pc=29.5e5, omega=0.45)
    assert own.molar_mass == pytest.approx(0.14421, rel=1e-4)
    assert "given in code" in str(own)
    state = sl.System(["methane", own], eos="PR").flash([0.9, 0.1], T=300.0, P=50e5)
    assert state.n_phases == 2
    assert any("heat capacity" in note for note in state.notes)
    assert np.isnan(state.H)


@pytest.mark.parametrize("bad", [{"Tc": -5.0}, {"Pc": 0.0}, {"molar_mass": float("nan")}, {"Tb": float("inf")}, {"name": " "}])
def test_own_component_with_an_impossible_constant(bad):
    with pytest.raises(sl.InputError):
        sl.Component(**{"name": "thing", "Tc": 500.0, "Pc": 30e5, "omega": 0.2, **bad})


def test_a_missing_constant_is_named():
    with pytest.raises(sl.UnknownComponentError, match="acentric factor"):
        sl.System(["methane", sl.Component(name="thing", Tc=500.0, Pc=30e5)], eos="PR")
    with pytest.raises(sl.UnknownComponentError, match="vapor-pressure"):
        sl.System(["acetone", sl.Component(name="thing", Tc=500.0, Pc=30e5, omega=0.2)], liquid="ideal")
    thing = sl.Component(name="thing", Tc=500.0, Pc=30e5, omega=0.2)
    with pytest.raises(sl.UnknownComponentError, match="molar mass"):
        sl.System(["methane", thing], eos="PR").flash([0.5, 0.5], T=300.0, P=1e6, basis="mass")
