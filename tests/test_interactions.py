"""Interaction parameters: published, given, estimated, zero; and what they do."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.components.databank import read_table
from sleetfield.core.constants import R
from sleetfield.core.models.contract import LIQUID

from .tools import tool

NAMES = ["nitrogen", "carbon dioxide", "methane", "n-dodecane"]


def test_where_each_comes_from():
    system = sl.System(NAMES, eos="SRK", kij={("methane", "n-dodecane"): 0.05})
    found = system.interactions
    frame = found.to_frame().set_index(["first", "second"])
    assert frame.loc[("nitrogen", "methane"), "kij"] == 0.0278
    assert "Knapp" in frame.loc[("nitrogen", "methane"), "source"]
    assert frame.loc[("methane", "n-dodecane"), "source"] == "given in code"
    assert frame.loc[("nitrogen", "n-dodecane"), "kij"] == 0.0
    assert sum("2 pairs" in note and "dodecane" in note for note in system.notes) == 1
    np.testing.assert_array_equal(system.kij, system.kij.T)


def test_rules():
    zero, published, estimated = (sl.System(NAMES, eos="PR", kij=rule) for rule in ("zero", "published", "estimated"))
    assert not zero.kij.any()
    assert published.kij[0, 2] == estimated.kij[0, 2] == 0.0311
    # methane and n-dodecane: 1 - 8 √(VV')/(V^(1/3) + V'^(1/3))³ with 98.6 and 718 cm3/mol
    v = np.array([98.6, 718.0])
    expected = 1.0 - 8.0 * np.sqrt(v.prod()) / np.cbrt(v).sum() ** 3
    assert estimated.kij[2, 3] == pytest.approx(expected, abs=1e-3)
    assert any("estimated from critical volumes" in note for note in estimated.notes)
    with pytest.raises(sl.InputError, match="published, predicted, estimated, zero"):
        sl.System(NAMES, eos="PR", kij="magic")
    with pytest.raises(sl.InputError, match="activity model"):
        sl.System(NAMES, liquid="ideal", kij="estimated")


FURTHER_APART = {frozenset({"hydrogen", "methane"}): 125.0, frozenset({"hydrogen", "ethane"}): 245.0}
"""What the two equations need different parameters for, and a temperature, K, at which it is dissolved."""


def _at_room_temperature(text):
    """A number, or a + b T, at 298.15 K."""
    terms = dict(part.split(":") for part in text.split(";")) if ":" in text else {"1": text}
    return float(terms["1"]) + 298.15 * float(terms.get(" T", 0.0))


def test_the_bank_is_sound():
    rows = read_table("kij.csv")
    by_equation, off_henry = {}, tool("derive_interactions").off_henry
    for r in rows:
        for name in (r["first"], r["second"]):
            assert sl.databank().find(name).name == name
        by_equation.setdefault(frozenset({r["first"], r["second"]}), {})[r["equation"]] = _at_room_temperature(r["kij"])
    assert len(by_equation) > 45
    for pair, values in by_equation.items():
        assert len(pair) == 2
        if "PR" not in values:
            # bonds do most of it
            assert set(values) <= {"CPA | CPA-ECR", "CPA", "CPA-ECR"}
            assert max(map(abs, values.values())) < 0.15
            continue
        if "water" in pair and not pair & {"methanol", "ammonia"}:
            assert values["PR"] > 0.1, f"water and gases need a large parameter: {pair}"
            continue
        if pair in FURTHER_APART:
            # measured boiling points give parameters as far apart (Knapp and others, 1982: 0.038 and 0.1); what they come to in the liquid is the same
            (solvent,) = pair - {"hydrogen"}
            one, other = (off_henry(eos, "hydrogen", solvent, FURTHER_APART[pair], values[eos]) for eos in ("PR", "SRK"))
            assert abs(one - other) < 0.03, pair
            continue
        # hydrogen is so hot at any temperature that its two temperature functions differ
        assert abs(values["PR"] - values["SRK"]) < (0.04 if "hydrogen" in pair else 0.025), (
            f"the two equations need nearly the same parameter: {pair}"
        )
    assert len(rows) == sum(len(v) for v in by_equation.values())


@pytest.mark.parametrize("eos", ["PR", "SRK"])
def test_carbon_dioxide_and_ethane_have_their_azeotrope(eos):
    """Fredenslund and Mollerup, J. Chem. Soc. Faraday Trans. I 70 (1974) 1653-1660: at 250 K near 0.67 carbon dioxide and 21.5 bar."""
    x = np.linspace(0.4, 0.95, 111)
    z = np.stack([x, 1.0 - x], axis=1)
    P = sl.System(["carbon dioxide", "ethane"], eos=eos).bubble(z, T=250.0).P
    best = int(P.argmax())
    assert x[best] == pytest.approx(0.67, abs=0.03)
    assert P[best] == pytest.approx(21.5e5, rel=0.02)
    without = sl.System(["carbon dioxide", "ethane"], eos=eos, kij="zero").bubble(z, T=250.0).P
    assert without.max() < 0.93 * P[best]


def test_methane_and_hydrogen_sulfide_make_the_liquids_of_the_worked_example():
    """Michelsen, Fluid Phase Equilib. 9 (1982) 1-19, SRK at 190 K and 40.53 bar: 1.15 % of hydrogen sulfide is stable, 1.87 %, 50 % and 88.8 % are not, 89 % is."""
    system = sl.System(["hydrogen sulfide", "methane"], eos="SRK")
    phases = [len(system.flash([x, 1.0 - x], T=190.0, P="40.53 bar").phases) for x in (0.0115, 0.0187, 0.5, 0.886, 0.89)]
    assert phases == [1, 2, 2, 2, 1]
    ends = [p.composition["hydrogen sulfide"] for p in system.flash([0.5, 0.5], T=190.0, P="40.53 bar").phases]
    assert max(ends) == pytest.approx(0.889, abs=0.002)


@pytest.mark.parametrize(("other", "largest"), [("methane", 0.06), ("n-butane", 0.1), ("n-hexane", 0.1)])
def test_hydrogen_sulfide_boils_alike_by_parameters_of_two_sources(other, largest):
    """One source fitted PR's, another SRK's: they are nearer to each other than either is to no parameter. Without one methane leaves a cold liquid a fifth too late."""
    z = np.array([[x, 1.0 - x] for x in ((0.05, 0.1, 0.2) if other == "methane" else (0.5, 0.7, 0.9))])
    with_one, without = ([np.log(sl.System([other, "hydrogen sulfide"], eos=eos, kij=kij).bubble(z, T=277.6).P) for eos in ("PR", "SRK")]
                         for kij in ("published", "zero"))  # fmt: skip
    apart = np.abs(with_one[0] - with_one[1])
    gained = np.abs(np.array(with_one) - without)
    assert (apart < largest).all()
    assert (apart < gained.min(axis=0)).all()
    if other == "methane":
        assert (gained > 0.2).all()


@pytest.mark.parametrize("eos", ["PR", "SRK"])
def test_ammonia_has_its_henry_constant_in_water(eos):
    """Gibbs energies of -26.50 kJ/mol dissolved and -16.45 as a gas: Wagman and others, NBS Tables (1982); the parameters were not made with them."""
    molal = np.exp((26.50e3 - 16.45e3) / (8.314462618 * 298.15))
    x = 1e-6
    found = sl.System(["ammonia", "water"], eos=eos).bubble([x, 1.0 - x], T=298.15)
    assert found.P * found.y[0] / x == pytest.approx(1e5 * 55.508 / molal, rel=0.03)


def test_nitrogen_and_water_have_their_cross_coefficient():
    """B12 = -40 cm3/mol at 25 °C: Rigby and Prausnitz, J. Phys. Chem. 72 (1968) 330-334. The parameter is that of the phase that is not water."""
    model = sl.System(["nitrogen", "water"], eos="PR").phase_model
    T = np.array([298.15])
    root_a = model.root_a(T)[0][0]
    cross = 0.5 * model.b.sum() - root_a.prod() * (1.0 - model.kij[..., 0, 1].ravel()[0]) / (8.314462618 * T[0])
    assert cross * 1e6 == pytest.approx(-40.0, abs=3.0)


@pytest.mark.parametrize(("eos", "within"), [("PR", 1.0), ("SRK", 1.6)])
def test_methanol_and_water_boil_as_measured_ones_do(eos, within):
    """By the parameter of one source as by Wilson's equation with those of another."""
    x = np.linspace(0.02, 0.98, 25)
    z = np.stack([x, 1.0 - x], axis=1)
    known = sl.System(["methanol", "water"], liquid="Wilson").bubble(z, P="1 atm")
    found = sl.System(["methanol", "water"], eos=eos).bubble(z, P="1 atm")
    np.testing.assert_allclose(found.T, known.T, atol=within)


def test_figure_and_files(tmp_path):
    found = sl.System(NAMES, eos="PR").interactions
    assert sl.save(found, tmp_path / "kij.png").stat().st_size > 10_000
    assert "Knapp" in sl.save(found, tmp_path / "kij.csv").read_text()
    assert "0.0311" in str(found)
    assert found.to_dict()["pairs"][0]["first"] == "nitrogen"


@pytest.mark.parametrize("eos", ["PR", "SRK"])
@pytest.mark.parametrize(
    ("pair", "x"),
    # mole fractions of and R-507A, whose boiling points alone the parameters were derived from
    [
        (("dichlorodifluoromethane", "1,1-difluoroethane"), 0.606),
        (("chlorodifluoromethane", "chloropentafluoroethane"), 0.630),
        (("trifluoromethane", "chlorotrifluoromethane"), 0.500),
        (("pentafluoroethane", "1,1,1-trifluoroethane"), 0.412),
    ],
)
def test_refrigerants_have_their_azeotropes(pair, x, eos):
    (found,) = sl.System(list(pair), eos=eos).azeotropes(P="1 atm")
    assert found.x[0] == pytest.approx(x, abs=0.05)


# ---- the equation for natural gases, which hydrogen's parameters with light alkanes come from ----


def vapor_pressure(name, T):
    return np.exp(sl.databank().find(name).vapor_pressure.value(np.array([T]))[0])


def test_pure_fluids_of_the_equation_for_natural_gases_boil_as_the_bank_has_it():
    multifluid = tool("multifluid")
    for name, (Tc, _, _) in multifluid.PURE.items():
        for share in (0.6, 0.75, 0.9):
            assert multifluid.boiling(name, share * Tc)[0] == pytest.approx(vapor_pressure(name, share * Tc), rel=0.012), name


@pytest.mark.parametrize("eos", ["PR", "SRK", "CPA"])
def test_hydrogen_dissolves_in_light_alkanes_as_in_the_equation_for_natural_gases(eos):
    derive = tool("derive_interactions")
    for (gas, solvent), (low, high) in derive.BY_MULTIFLUID.items():
        shipped = sl.System([gas, solvent], eos=eos).kij[0, 1]
        off = [derive.off_henry(eos, gas, solvent, T, shipped) for T in np.linspace(low, high, 4)]
        assert np.abs(off).max() < (0.19 if eos == "CPA" else 0.14), (gas, solvent)


@pytest.mark.parametrize(
    ("gas", "solvent", "T", "kij", "within"),
    [
        ("hydrogen", "methane", 120.0, 0.0156, 0.15),
        ("hydrogen", "ethane", 240.0, -0.0667, 0.1),
        ("carbon monoxide", "propane", 260.0, 0.0259, 0.05),
    ],
)
def test_the_equation_for_natural_gases_has_what_was_fitted_to_boiling_points(gas, solvent, T, kij, within):
    """Knapp and others (1982), for Peng and Robinson's equation."""
    assert abs(tool("derive_interactions").off_henry("PR", gas, solvent, T, kij)) < within


# J/mol at x = 0.5 and K: Mathot, Staveley, Young and Parsonage, Trans. Faraday Soc. 52 (1956) 1488-1496; Rowlinson, Liquids and Liquid Mixtures, 2nd ed. (1969), ch. 4
EXCESS_GIBBS = {("carbon monoxide", "methane"): (115.0, 90.7), ("nitrogen", "methane"): (135.0, 90.7), ("argon", "methane"): (74.0, 90.7), ("nitrogen", "oxygen"): (44.0, 78.0),
                ("argon", "nitrogen"): (34.0, 83.8), ("argon", "oxygen"): (37.0, 83.8)}  # fmt: skip


@pytest.mark.parametrize("eos", ["PR", "SRK"])
@pytest.mark.parametrize("pair", list(EXCESS_GIBBS))
def test_simple_liquids_mix_with_the_excess_gibbs_energy_that_was_measured(pair, eos):
    """Of which kij that boiling points gave make no more than 5 % in activity coefficients."""
    joules, T = EXCESS_GIBBS[pair]
    liquids = sl.System(list(pair), eos=eos).phase_model.at(np.array([T]), np.array([1e5]))
    half, first, second = (liquids.ln_phi(np.array([[x, 1.0 - x]]), LIQUID)[0] for x in (0.5, 1.0 - 1e-9, 1e-9))
    assert T * R * (half.sum() - first[0] - second[1]) / 2.0 == pytest.approx(joules, abs=0.05 * R * T)


@pytest.mark.parametrize(("solvent", "within"), [("propane", 0.15), ("n-butane", 0.12)])
def test_the_equation_for_natural_gases_has_as_much_hydrogen_dissolved_as_regular_solutions(solvent, within):
    derive, multifluid = tool("derive_interactions"), tool("multifluid")
    T = 298.15
    regular = derive.dissolving("PR", "hydrogen", solvent, derive.as_a_regular_solution("hydrogen", solvent))
    assert abs(derive.off_henry("PR", "hydrogen", solvent, T, regular)) < within
    assert multifluid.ln_henry(solvent, "hydrogen", T)[0] > multifluid.ln_henry(solvent, "hydrogen", T + 20.0)[0]
