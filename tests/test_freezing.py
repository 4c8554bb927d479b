"""Where solids come out of gases and liquids, and how much of them liquids hold: eutectics, freezing points and solubilities that were measured, closed forms, flashes to either side."""

import re

import numpy as np
import pytest
from scipy.optimize import brentq

import sleetfield as sl
from sleetfield.core.constants import ATMOSPHERE, R

from .commands import run
from .test_searches import troubles

# temperature, degrees Celsius, and mole percent of the first: Timmermans, Les solutions concentrees, Masson (1936); the xylenes after Mair, Glasgow and Rossini, J. Res. Natl. Bur. Stand. 26 (1941) 591-620
EUTECTICS = {("p-xylene", "m-xylene"): (-52.7, 13.0), ("p-xylene", "o-xylene"): (-35.2, 24.0), ("m-xylene", "o-xylene"): (-61.1, 67.5), ("naphthalene", "benzene"): (-3.5, 13.3)}  # fmt: skip
# mass percent, and by how many K ice melts lower: CRC Handbook, Section 8; not those that the interaction parameters come from
AQUEOUS = {
    "methanol": [(10, 6.5), (30, 25.9)],
    "ethanol": [(10, 4.47), (30, 20.3)],
    "ethylene glycol": [(10, 3.37), (20, 7.93), (40, 22.8)],
}
# mole percent of naphthalene at 40 °C: Gmehling, Anderson and Prausnitz, Ind. Eng. Chem. Fundam. 17 (1978) 269-273, measured
NAPHTHALENE = {"methanol": 4.4, "ethanol": 7.3, "1-propanol": 9.4, "1-butanol": 11.6, "n-hexane": 22.2, "acetone": 37.8, "carbon tetrachloride": 39.5}  # fmt: skip


@pytest.mark.parametrize("pair", list(EUTECTICS))
def test_eutectics_of_nearly_ideal_liquids(pair):
    T, percent = EUTECTICS[pair]
    system = sl.System(list(pair), liquid="ideal")
    (found,) = system.melting_diagram().eutectics
    assert found.T - 273.15 == pytest.approx(T, abs=1.0)
    assert 100.0 * found.x == pytest.approx(percent, abs=2.0)
    assert set(found.solids) == {f"solid {name}" for name in pair}

    # the ideal liquid's is where both closed forms add up to one
    def ln_x(name, T):
        c = sl.databank().find(name)
        return -c.heat_of_fusion / R * (1.0 / T - 1.0 / c.Tm)

    assert found.T == pytest.approx(
        brentq(lambda T: sum(np.exp(ln_x(n, T)) for n in pair) - 1.0, 150.0, 300.0, xtol=1e-10), abs=1e-5
    )


def test_flashes_around_a_eutectic_and_on_a_plateau():
    system = sl.System(["naphthalene", "benzene"], liquid="UNIFAC", solids="all")
    (e,) = system.melting_diagram().eutectics
    below, above = (system.flash([e.x, 1.0 - e.x], T=e.T + d, P=ATMOSPHERE) for d in (-1e-4, 1e-4))
    assert [p.kind for p in above.phases] == ["liquid"]
    assert [p.kind for p in below.phases] == ["solid", "solid"]
    wet = sl.System(["1-butanol", "water"], liquid="NRTL", solids=["water"])
    (m,) = wet.melting_diagram().monotectics
    below, above = (wet.flash([0.3, 0.7], T=m.T + d, P=ATMOSPHERE) for d in (-1e-4, 1e-4))
    assert [p.kind for p in above.phases] == ["liquid", "liquid"]
    assert [p.kind for p in below.phases] == ["liquid", "solid"]
    np.testing.assert_allclose(sorted(p.composition["1-butanol"] for p in above.phases), m.x, atol=1e-5)


def test_melting_diagrams_are_drawn_and_refused(tmp_path):
    picture = tmp_path / "melting.png"
    told = run("melting-diagram", "naphthalene + benzene", "--liquid", "UNIFAC", "--out", picture)
    assert "Eutectic at -3.8" in told
    assert picture.stat().st_size > 10_000
    system = sl.System(["naphthalene", "benzene", "n-hexane"], liquid="UNIFAC", units="metric")
    both = {"ideal": sl.System(["naphthalene", "benzene"], liquid="ideal").melting_diagram()}
    drawn = system.melting_diagram("naphthalene", "benzene").plot(beside=both)
    assert {t.get_text() for t in drawn.get_legend().get_texts()} == {"UNIFAC liquid, ideal vapor", "ideal"}
    for wrong, words in (
        ({}, "two components"),
        ({"first": "naphthalene", "second": "benzene", "points": 3}, "takes 5 to 100000"),
        ({"first": "naphthalene", "second": "benzene", "P": [1e5, 2e5]}, "one value"),
    ):
        with pytest.raises(sl.InputError, match=words):
            system.melting_diagram(**wrong)


@pytest.mark.parametrize("eos", ["CPA", "CPA-ECR"])
@pytest.mark.parametrize("name", list(AQUEOUS))
def test_ice_from_aqueous_alcohols_and_glycol(name, eos):
    system = sl.System([name, "water"], eos=eos)
    for percent, lower in AQUEOUS[name]:
        point = system.freezing([percent / 100.0, 1.0 - percent / 100.0], P=ATMOSPHERE, basis="mass")
        assert point.solid == "solid water"
        assert 273.15 - point.T == pytest.approx(lower, abs=0.3, rel=0.07)


@pytest.mark.parametrize("solvent", list(NAPHTHALENE))
def test_naphthalene_in_solvents_by_groups(solvent):
    """UNIFAC's errors in solubilities: a third, and more in ethanol."""
    found = sl.System(["naphthalene", solvent], liquid="UNIFAC").solubility("naphthalene", solvent, T="40 degC")
    assert 100.0 * found.dissolved[0] == pytest.approx(NAPHTHALENE[solvent], rel=0.42)


# mole fractions at 25 °C: Acree, Polycyclic Aromatic Hydrocarbons in Pure and Binary Solvents, IUPAC Solubility Data Series 54 (1995); McLaughlin and Zainal, J. Chem. Soc. (1959) 863 (benzene)
ANTHRACENE = {"n-hexane": 0.001274, "n-heptane": 0.001571, "n-octane": 0.001838, "cyclohexane": 0.001553, "methylcyclohexane": 0.001649, "isooctane": 0.001074, "benzene": 0.0074,
              "toluene": 0.00736, "1-propanol": 0.000591, "1-butanol": 0.000801, "2-propanol": 0.000411, "2-butanol": 0.000585, "ethanol": 0.00046}  # fmt: skip
# the same: Beerbower, Wu and Martin, J. Pharm. Sci. 73 (1984) 179-188; in water 3.4 g/l (CRC Handbook)
BENZOIC_ACID = {"n-hexane": 0.0095, "n-heptane": 0.0107, "cyclohexane": 0.0107, "benzene": 0.0696, "water": 5.0e-4}


def test_anthracene_in_thirteen_solvents_by_modified_groups():
    """0.17 in ln x off on average; the older table 0.41, with twice too much in cyclohexanes."""
    off = {
        model: np.array([np.log(dissolved("anthracene", solvent, model) / x) for solvent, x in ANTHRACENE.items()])
        for model in ("modified UNIFAC", "UNIFAC")
    }
    assert np.abs(off["modified UNIFAC"]).mean() < 0.18
    assert np.abs(off["modified UNIFAC"]).max() < 0.34
    assert np.abs(off["UNIFAC"]).mean() > 2.0 * np.abs(off["modified UNIFAC"]).mean()


@pytest.mark.parametrize("solvent", list(BENZOIC_ACID))
def test_benzoic_acid_in_solvents_by_groups(solvent):
    assert dissolved("benzoic acid", solvent, "UNIFAC") == pytest.approx(BENZOIC_ACID[solvent], rel=0.12)


def dissolved(solid, solvent, model):
    """The mole fraction at 25 °C."""
    return sl.System([solid, solvent], liquid=model).solubility(solid, solvent, T=298.15).dissolved[0]


def test_ideal_solubility_is_the_closed_form_and_its_measures_belong_together():
    system = sl.System(["benzoic acid", "ethanol", "water"], liquid="ideal")
    found = system.solubility("benzoic acid", {"ethanol": 0.4, "water": 0.6}, T=[280.0, 300.0, 320.0])
    Tm, H = (
        sl.System(["benzoic acid"], liquid="ideal", solids="all").parameters[f"{n} benzoic acid"] for n in ("melting_T", "fusion_H")
    )
    np.testing.assert_allclose(np.log(found.dissolved), -H / R * (1.0 / found.T - 1.0 / Tm), rtol=1e-10)
    np.testing.assert_allclose(found.gamma, 1.0, rtol=1e-9)
    masses = found.x * system.molar_mass
    np.testing.assert_allclose(found.mass_ratio, masses[:, 0] / masses[:, 1:].sum(axis=1), rtol=1e-12)
    np.testing.assert_allclose(found.x[:, 1] / found.x[:, 2], 0.4 / 0.6, rtol=1e-12)
    assert system.freezing(found.x[1], P=ATMOSPHERE).T == pytest.approx(300.0, abs=1e-5)


def test_sensitivities_are_what_changed_numbers_do():
    crystallizer = sl.System(
        ["benzoic acid", "ethanol"],
        liquid="NRTL",
        parameters={("benzoic acid", "ethanol"): sl.PairParameters(a12=0.4, a21=-0.3, alpha=0.3)},
        solids="all",
    )
    base = crystallizer.solubility("benzoic acid", "ethanol", T=[290.0, 310.0])
    assert {s.parameter for s in base.sensitivities} >= {
        "melting_T benzoic acid",
        "fusion_H benzoic acid",
        "fusion_Cp benzoic acid",
        "tau benzoic acid / ethanol",
    }
    for s in base.sensitivities:
        moved = crystallizer.with_parameters({s.parameter: s.value + 1e-3 * s.change}).solubility(
            "benzoic acid", "ethanol", T=[290.0, 310.0]
        )
        np.testing.assert_allclose(np.log(moved.dissolved / base.dissolved), 1e-3 * np.log1p(s.effect), rtol=0.02, atol=1e-9)


@pytest.mark.parametrize("parameter", ["fusion_H benzoic acid", "melting_T benzoic acid", "tau benzoic acid / ethanol"])
def test_a_measured_solubility_implies_a_parameter(parameter):
    crystallizer = sl.System(
        ["benzoic acid", "ethanol"],
        liquid="NRTL",
        parameters={("benzoic acid", "ethanol"): sl.PairParameters(a12=0.4, a21=-0.3, alpha=0.3)},
        solids="all",
    )
    x = 1.05 * crystallizer.solubility("benzoic acid", "ethanol", T=300.0).dissolved[0]
    value = crystallizer.implied_by_solubility(parameter, solid="benzoic acid", solvent="ethanol", T=300.0, x=x)
    assert crystallizer.with_parameters({parameter: value}).solubility("benzoic acid", "ethanol", T=300.0).dissolved[
        0
    ] == pytest.approx(x, rel=1e-9)


def test_what_else_happens_to_a_saturated_liquid_is_said():
    system = sl.System(["naphthalene", "benzene"], liquid="ideal")
    found = system.solubility("naphthalene", "benzene", T=[250.0, 300.0, 360.0])
    assert found.frozen == (("benzene",), (), ())
    assert found.dissolved[2] == 1.0
    assert any("eutectic" in note for note in found.notes)
    assert any("melts at" in note for note in found.notes)
    for wrong, words in (
        ({"solid": "naphthalene", "solvent": "naphthalene"}, "what dissolves"),
        ({"solid": "toluene", "solvent": "benzene"}, "toluene"),
        ({"solid": "naphthalene", "solvent": 3}, "solvent is 3"),
    ):
        with pytest.raises(sl.SleetfieldError, match=words):
            system.solubility(**wrong)
    with pytest.raises(sl.InputError, match="Those that the solubility"):
        system.implied_by_solubility("fusion_H water", solid="naphthalene", solvent="benzene", x=0.3)
    with pytest.raises(sl.InputError, match="between 0 and 1"):
        system.implied_by_solubility("fusion_H naphthalene", solid="naphthalene", solvent="benzene", x=1.3)


def test_frost_of_one_component_is_its_sublimation_pressure():
    """By the flash's own fugacities: dry ice alone under its own vapor, and diluted in hydrogen at low pressure."""
    T = 185.0
    alone = sl.System(["carbon dioxide"], eos="PR", solids="all")
    P = alone.freezing([1.0], T=T).P
    state = alone.flash([1.0], T=T, vapor_fraction=0.5)
    assert state.P == pytest.approx(P, rel=1e-8)
    thin = sl.System(["hydrogen", "carbon dioxide"], eos="PR").freezing([0.8, 0.2], T=T)
    assert 0.2 * thin.P == pytest.approx(P, rel=0.05)


# mmHg, °C: Stull, Ind. Eng. Chem. 39 (1947) 540-550, solid carbon dioxide; Pa, °C: ice, Wagner and others, J. Phys. Chem. Ref. Data 40 (2011) 043103
DRY_ICE = [(1, -134.3), (5, -124.4), (10, -119.5), (20, -114.4), (40, -108.6), (60, -104.8), (100, -100.2), (200, -93.0), (400, -85.7), (760, -78.2)]  # fmt: skip
ICE = [(259.9, -10.0), (103.26, -20.0), (38.01, -30.0), (12.84, -40.0)]


def test_dry_ice_sublimates_as_measured():
    system = sl.System(["carbon dioxide"], eos="PR", solids="all")
    found = [system.freezing([1.0], P=133.322 * p).T - 273.15 for p, _ in DRY_ICE]
    np.testing.assert_allclose(found, [t for _, t in DRY_ICE], atol=0.8)


@pytest.mark.parametrize(("eos", "within"), [("PR", 0.4), ("CPA", 1.1), ("SRK", 6.0), ("PC-SAFT", 2.6)])
def test_frost_in_thin_gas_is_as_measured_or_said_to_be_off(eos, within):
    """A solid rests on the liquid of the equation, so its frost is off where that boils wrongly; by how much is told from the melting point alone."""
    system = sl.System(["nitrogen", "water"], eos=eos)
    for P, t in ICE:
        point = system.freezing([0.999, 0.001], P=1e3 * P)
        off = point.T - 273.15 - t
        assert abs(off) < within
        told = [re.search(r"frost points are some ([\d.]+) K too (warm|cold)", note) for note in point.notes]
        known = [float(m[1]) * (1.0 if m[2] == "warm" else -1.0) for m in told if m]
        assert len(known) == (eos in {"SRK", "PC-SAFT"})
        assert not known or known[0] == pytest.approx(off, abs=1.5)
        # the same where the solid is one of the system's
        kept = sl.System(["nitrogen", "water"], eos=eos, solids=["water"]).freezing([0.999, 0.001], P=1e3 * P).notes
        assert [n for n in kept if "Frost" in n] == [n for n in point.notes if "Frost" in n]


def test_melting_curve_rises_by_clapeyron():
    water = sl.System(["water"], eos="PR")
    low, high = (water.freezing([1.0], P=P).T for P in (1e5, 101e5))
    # 0.0743 K lower for each MPa with the true volume of the liquid; Peng and Robinson's is a sixth larger
    liquid = water.flash([1.0], T=274.0, P=1e5).phases[0].molar_volume
    component = sl.databank().find("water")
    expected = component.Tm * (liquid - component.solid_volume) / component.heat_of_fusion * 100e5
    assert high - low == pytest.approx(expected, rel=0.02)


def test_flashes_to_either_side_of_random_points():
    from .searches import freezing

    assert not troubles(freezing.look, 40)


def test_lines_over_an_envelope_and_from_the_command_line(tmp_path):
    picture = tmp_path / "freezing.png"
    told = run(
        "freezing",
        "0.50 hydrogen + 0.50 carbon dioxide",
        "--eos",
        "PR",
        "--P",
        "5bar to 40bar in 4",
        "--envelope",
        "--log",
        "--out",
        picture,
    )
    assert "solid carbon dioxide" in told
    assert picture.stat().st_size > 10_000
    told = run("solubility", "naphthalene+benzene+n-hexane", "--of", "naphthalene", "--solvent", "0.5 benzene + 0.5 n-hexane", "--liquid", "ideal",
               "--T", "0degC to 60degC in 4", "--figure", "reciprocal", "--out", tmp_path / "solubility.png")  # fmt: skip
    assert "fusion_H naphthalene" in told
    off_gas = sl.System(["hydrogen", "carbon dioxide"], eos="PR", units="metric")
    line = off_gas.freezing([0.5, 0.5], P=[5e5, 10e5, 20e5])
    drawn = line.plot(beside=off_gas.envelope([0.5, 0.5]), marks={"drum": ("-60 degC", "15 bar")})
    assert any("solid carbon dioxide" in t.get_text() for t in drawn.texts)


def test_solids_of_the_system_are_those_that_are_looked_for():
    z = [0.5, 0.48, 0.02]
    every = sl.System(["hydrogen", "carbon dioxide", "water"], eos="PR")
    dry = sl.System(["hydrogen", "carbon dioxide", "water"], eos="PR", solids=["carbon dioxide"])
    assert every.freezing(z, P=20e5).solid == "solid water"
    assert dry.freezing(z, P=20e5).solid == "solid carbon dioxide"
    with pytest.raises(sl.CalculationError, match="No solid forms"):
        dry.freezing([0.9, 0.0, 0.1], P=20e5)


def test_two_liquids_freeze_together_along_a_plateau():
    """Water and benzene: from both liquids ice comes out at one temperature, whatever the feed."""
    system = sl.System(["benzene", "water"], eos="CPA")
    line = system.freezing([[0.2, 0.8], [0.5, 0.5], [0.8, 0.2]], P=ATMOSPHERE)
    assert np.ptp(line.T) < 1e-5
    # benzene melts at 278.7 K: it is what comes first, next to its melting point, since little water dissolves in it
    assert line.solids[0] == "solid benzene"
    pure = brentq(
        lambda T: (
            sl.System(["benzene"], eos="CPA", solids="all").flash([1.0], T=T, P=ATMOSPHERE).phases[0].kind.count("solid") - 0.5
        ),
        270.0,
        285.0,
        xtol=1e-3,
    )
    assert 0.0 < pure - line.T[0] < 1.0


def test_compounds_have_the_lines_of_the_closed_form():
    """In an ideal liquid: ln(4 x (1 - x)) = -(H/R)(1/T - 1/Tm), and a eutectic where that meets the pure solid's."""
    Tm, H = 304.15, 21e3
    system = sl.System(["phenol", "aniline"], liquid="ideal", units="metric")
    compound = sl.SolidCompound({"phenol": 1, "aniline": 1}, melting_T=Tm, heat_of_fusion=H)
    found = system.melting_diagram(compounds=[compound])
    own = np.array([s == compound.title for s in found.solids])
    x, T = found.x[own], found.T[own]
    np.testing.assert_allclose(np.log(4.0 * x * (1.0 - x)), -H / R * (1.0 / T - 1.0 / Tm), atol=1e-6)
    assert len(found.eutectics) == 2
    for e in found.eutectics:
        assert 4.0 * e.x * (1.0 - e.x) == pytest.approx(np.exp(-H / R * (1.0 / e.T - 1.0 / Tm)), rel=1e-7)
    assert T.max() == pytest.approx(Tm, abs=0.02)


def test_a_compound_that_parts_before_it_melts_has_a_peritectic():
    system = sl.System(["phenol", "aniline"], liquid="ideal", units="metric")
    one, two = (
        sl.SolidCompound({"phenol": 1, "aniline": n}, melting_T=T, heat_of_fusion=H)
        for n, T, H in ((1, "31 degC", "21 kJ/mol"), (2, "17 degC", "25 kJ/mol"))
    )
    found = system.melting_diagram(compounds=[one, two])
    (p,) = found.peritectics
    assert set(p.solids) == {one.title, two.title}
    # the liquid has less phenol than both: heating, the one with more aniline turns into the other and liquid
    assert p.x < 1.0 / 3.0
    assert "Peritectic at" in found.in_short()
    assert len(found.eutectics) == 2
    for wrong, words in (
        ({"phenol": 1}, "at least two"),
        ({"phenol": 1, "water": 1}, "water"),
        ({"phenol": -1, "aniline": 1}, "positive parts"),
    ):
        with pytest.raises(sl.SleetfieldError, match=words):
            system.melting_diagram(compounds=[sl.SolidCompound(wrong, melting_T=300.0, heat_of_fusion=2e4)])
    with pytest.raises(sl.InputError, match="positive melting"):
        system.melting_diagram(compounds=[sl.SolidCompound({"phenol": 1, "aniline": 1}, melting_T=300.0, heat_of_fusion=-2e4)])


def test_three_components_freeze_together_where_their_closed_forms_add_up():
    names = ["o-xylene", "m-xylene", "p-xylene"]
    system = sl.System(names, liquid="ideal", units="metric")
    found = system.freezing_map()

    def x_of(name, T):
        c = sl.databank().find(name)
        return np.exp(-c.heat_of_fusion / R * (1.0 / T - 1.0 / c.Tm))

    T = brentq(lambda T: sum(x_of(n, T) for n in names) - 1.0, 150.0, 280.0, xtol=1e-10)
    (inside,) = [e for e in found.eutectics if len(e.solids) == 3]
    assert inside.T == pytest.approx(T, abs=1e-5)
    np.testing.assert_allclose(inside.x, [x_of(n, T) for n in names], atol=1e-7)
    assert len(found.eutectics) == 4
    for v in found.valleys:
        # on a valley both solids' closed forms hold, and it runs down to the eutectic
        for solid in v.solids:
            i = names.index(solid.removeprefix("solid "))
            np.testing.assert_allclose(v.x[:, i], [x_of(names[i], t) for t in v.T], rtol=1e-6)
        assert (np.diff(v.T) < 0.0).all()
        assert v.T[-1] == pytest.approx(T, abs=1e-5)
    below, above = (sl.System(names, liquid="ideal", solids="all").flash(inside.x, T=T + d, P=ATMOSPHERE) for d in (-1e-3, 1e-3))
    assert [p.kind for p in above.phases] == ["liquid"]
    assert [p.kind for p in below.phases] == ["solid"] * 3
    with pytest.raises(sl.InputError, match="three components"):
        system.part(names[:2]).freezing_map()


def test_a_trace_of_a_third_takes_part_in_the_eutectic(tmp_path):
    found = sl.System(["naphthalene", "ethanol", "water"], liquid="UNIFAC").freezing_map()
    (inside,) = [e for e in found.eutectics if len(e.solids) == 3]
    assert 1e-7 < inside.x[0] < 1e-5
    picture = tmp_path / "map.png"
    assert "All three" not in run("freezing-map", "o-xylene + m-xylene + p-xylene", "--liquid", "ideal", "--out", picture)
    assert picture.stat().st_size > 10_000
