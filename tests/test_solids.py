"""Pure solids beside fluids: published vapor pressures of ice and dry ice, closed forms, heats of fusion, every pair of quantities, files and the command line."""

import re
from dataclasses import dataclass, replace

import numpy as np
import pytest
from scipy.optimize import brentq

import sleetfield as sl
from sleetfield.core.constants import R
from sleetfield.core.models.contract import SOLID
from sleetfield.core.models.pure_solid import PureSolid, Solid, SolidStates
from sleetfield.core.models.with_solids import with_solids
from sleetfield.recipes.cubic import PR

from .commands import run

ATMOSPHERE = 101325.0


def frost():
    return sl.System(["nitrogen", "water"], eos="PR", solids=["water"])


def dry_ice():
    return sl.System(["nitrogen", "carbon dioxide"], eos="PR", solids=["carbon dioxide"])


def crystals():
    return sl.System(["benzoic acid", "naphthalene", "ethanol"], liquid="ideal", solids="all")


@pytest.mark.parametrize(("T", "P"), [(243.15, 38.01), (253.15, 103.26), (263.15, 259.90), (268.15, 401.76)])
def test_ice_has_the_vapor_pressure_that_is_tabulated(T, P):
    """Wexler, J. Res. Natl. Bur. Stand. 81A (1977) 5-20, Table 2."""
    state = sl.System(["nitrogen", "water"], eos="PR", solids=["water"]).flash([0.7, 0.3], T=T, P=2000.0)
    assert [p.kind for p in state.phases] == ["vapor", "solid"]
    assert state.phases[0].fugacity["water"] == pytest.approx(P, rel=0.03)
    assert state.phases[1].composition == {"nitrogen": 0.0, "water": 1.0}
    assert state.phases[1].density == pytest.approx(916.7, abs=0.1)


def test_dry_ice_is_at_one_atmosphere_where_it_is_known_to_be():
    """CRC Handbook: carbon dioxide sublimes at 194.69 K."""
    alone = sl.System(["carbon dioxide"], eos="PR", solids="all")
    found = alone.flash([1.0], P=ATMOSPHERE, vapor_fraction=0.5)
    assert [p.kind for p in found.phases] == ["vapor", "solid"]
    assert found.T == pytest.approx(194.69, abs=0.6)
    # its heat of sublimation there is 25.2 kJ/mol (Giauque and Egan, J. Chem. Phys. 5 (1937) 45-54: 6030 cal/mol)
    assert found.phases[0].H - found.phases[1].H == pytest.approx(6030 * 4.184, rel=0.05)


def test_the_heat_of_fusion_is_in_the_enthalpies_and_in_duties():
    water = sl.System(["water"], eos="PR", solids="all")
    melting, heat = water.parameters["melting_T water"], water.parameters["fusion_H water"]
    low, high = (water.flash([1.0], T=melting + d, P=ATMOSPHERE, flow="1 mol/s") for d in (-1e-7, 1e-7))
    assert [low.phases[0].kind, high.phases[0].kind] == ["solid", "liquid"]
    between = low.to(P=ATMOSPHERE, duty=0.3 * heat)
    assert [p.kind for p in between.phases] == ["liquid", "solid"]
    assert between.phases[0].fraction == pytest.approx(0.3, abs=1e-7)
    assert between.T == pytest.approx(melting, abs=1e-9)
    assert between.phases[0].H - between.phases[1].H == pytest.approx(heat, rel=1e-9)
    assert high.H - low.H == pytest.approx(heat, rel=1e-7)


def test_a_transition_of_the_solid_takes_its_heat():
    T, heat = 186.0, 6700.0
    # made up: a waxy solid that turns to a stiff one
    waxy = replace(sl.databank().find("cyclohexane"), name="sleet wax", transition_T=T, heat_of_transition=heat)
    below, above = (sl.System([waxy], liquid="ideal", solids="all").flash([1.0], T=T + d, P=ATMOSPHERE) for d in (-1e-6, 1e-6))
    assert above.H - below.H == pytest.approx(heat, rel=1e-5)
    assert above.G == pytest.approx(below.G, abs=1e-3)
    assert above.S - below.S == pytest.approx(heat / T, rel=1e-5)


def test_shipped_numbers_of_solids_agree_with_other_relations():
    """Slopes of melting curves by Clapeyron, the heat of fusion of undercooled water, and the volume that an atom takes in a crystal."""
    bank = sl.databank()
    water, dioxide, acid = (bank.find(n) for n in ("water", "carbon dioxide", "benzoic acid"))
    # ice melts 0.0743 K lower for each MPa; water at 0 °C has 0.99984 g/cm3
    step = water.molar_mass / 999.84 - water.solid_volume
    assert water.Tm * step / water.heat_of_fusion * 1e6 == pytest.approx(-0.0743, rel=0.01)
    # Smithsonian Meteorological Tables: 74.5 cal/g at -10 °C, 79.7 at 0 °C
    assert (79.7 - 74.5) * 4.184e3 * water.molar_mass / 10.0 == pytest.approx(water.fusion_heat_capacity, rel=0.05)
    # dry ice: the liquid's density at the triple point is the databank's, from another source; the melting curve rises by about 0.2 K/MPa
    liquid = 1.0 / float(dioxide.liquid_density.value(np.array([dioxide.Tm]))[0])
    assert dioxide.Tm * (liquid - dioxide.solid_volume) / dioxide.heat_of_fusion * 1e6 == pytest.approx(0.21, abs=0.03)
    # Kempster and Lipson, Acta Cryst. B28 (1972) 3674: 18 Å3 for each atom that is not hydrogen
    assert acid.solid_volume == pytest.approx(9 * 18e-30 * 6.02214e23, rel=0.03)


@pytest.mark.parametrize("T", [285.0, 298.15, 320.0])
def test_solubility_in_an_ideal_liquid_is_the_closed_form(T):
    system = sl.System(["benzoic acid", "ethanol"], liquid="ideal", solids=["benzoic acid"])
    state = system.flash([0.6, 0.4], T=T, P=ATMOSPHERE)
    Tm, H = (system.parameters[f"{n} benzoic acid"] for n in ("melting_T", "fusion_H"))
    assert [p.kind for p in state.phases] == ["liquid", "solid"]
    assert np.log(state.phases[0].composition["benzoic acid"]) == pytest.approx(-H / R * (1.0 / T - 1.0 / Tm), rel=1e-9)
    assert len(system.flash([0.01, 0.99], T=T, P=ATMOSPHERE).phases) == 1


def test_two_solids_meet_their_liquid_at_the_eutectic():
    system = crystals().part(["benzoic acid", "naphthalene"])

    def ln_x(name, T):
        Tm, H = (system.parameters[f"{n} {name}"] for n in ("melting_T", "fusion_H"))
        return -H / R * (1.0 / T - 1.0 / Tm)

    eutectic = brentq(lambda T: sum(np.exp(ln_x(n, T)) for n in system.names) - 1.0, 250.0, 350.0, xtol=1e-10)
    below, above = (system.flash([0.5, 0.5], T=eutectic + d, P=ATMOSPHERE) for d in (-0.01, 0.01))
    assert [p.kind for p in below.phases] == ["solid", "solid"]
    assert [p.kind for p in above.phases] == ["liquid", "solid"]
    melting = system.flash([0.5, 0.5], P=ATMOSPHERE, H=0.5 * (below.H + above.H))
    assert [p.kind for p in melting.phases] == ["liquid", "solid", "solid"]
    assert melting.T == pytest.approx(eutectic, abs=1e-6)


@pytest.mark.parametrize(("make", "T", "P"), [(frost, 260.0, 5e5), (dry_ice, 160.0, 3e5), (crystals, 290.0, 1e5)])
def test_any_two_quantities_lead_back(make, T, P):
    system = make()
    z = np.full(len(system), 1.0 / len(system))
    state = system.flash(z, T=T, P=P)
    assert "solid" in [p.kind for p in state.phases]
    pairs = [{"P": P, "H": state.H}, {"P": P, "S": state.S}]
    if state.phases[0].kind == "vapor":
        pairs += [
            {"T": T, "V": state.molar_volume},
            {"U": state.U, "V": state.molar_volume},
            {"T": T, "vapor_fraction": state.vapor_fraction},
        ]
    for given in pairs:
        again = system.flash(z, **given)
        assert (again.T, again.P) == pytest.approx((T, P), rel=1e-8)
        assert [p.kind for p in again.phases] == [p.kind for p in state.phases]


def test_properties_of_a_solid_belong_together():
    """Gibbs-Helmholtz and the volume by differences of the solid's own Gibbs energy."""
    water = sl.System(["water"], eos="PR", solids="all")

    def solid(T, P):
        return water.flash([1.0], T=T, P=P).phases[0]

    own, h = solid(250.0, 2e6), 1e-3
    slope = (solid(250.0 + h, 2e6).G / (250.0 + h) - solid(250.0 - h, 2e6).G / (250.0 - h)) / (2.0 * h)
    assert own.kind == "solid"
    assert -(250.0**2) * slope == pytest.approx(own.H, rel=1e-6)
    assert (solid(250.0 + h, 2e6).H - solid(250.0 - h, 2e6).H) / (2.0 * h) == pytest.approx(own.Cp, rel=1e-6)
    assert (solid(250.0, 2.1e6).G - solid(250.0, 1.9e6).G) / 2e5 == pytest.approx(own.molar_volume, rel=1e-6)


def test_tables_files_and_parts(tmp_path):
    system = dry_ice()
    table = system.table([0.5, 0.5], T=[150.0, 180.0, 250.0], P=1e6, properties=["fraction", "density"])
    assert table["solid carbon dioxide fraction"].notna().tolist() == [True, True, False]
    kept = sl.load(sl.save(system, tmp_path / "frost.toml"))
    assert kept.flash([0.5, 0.5], T=150.0, P=1e6).H == system.flash([0.5, 0.5], T=150.0, P=1e6).H
    assert kept.model_title == "PR, solid carbon dioxide"
    assert "melting_T carbon dioxide" in kept.part(["carbon dioxide"]).parameters.names
    assert kept.part(["nitrogen"]).phase_model.solids == ()
    higher = system.with_parameters({"melting_T carbon dioxide": 230.0})
    assert higher.flash([0.01, 0.99], T=220.0, P=2e6).phases[-1].kind == "solid"
    state = system.flash([0.5, 0.5], T=150.0, P=1e6)
    assert "solid carbon dioxide" in str(state)
    assert state.to_dict()["phases"][1]["kind"] == "solid"


def test_a_bubble_point_below_which_crystals_form_says_so():
    notes = dry_ice().dew([0.5, 0.5], P=1e6).notes
    assert any("Another phase forms before" in n for n in notes)
    # where none form, solids change nothing
    assert frost().dew([0.98, 0.02], P=1e5).T > 273.15
    assert frost().dew([0.98, 0.02], P=1e5).T == pytest.approx(
        sl.System(["nitrogen", "water"], eos="PR").dew([0.98, 0.02], P=1e5).T
    )


def test_critical_points_are_those_of_the_fluids():
    z = [0.3, 0.7]
    plain = sl.System(["nitrogen", "carbon dioxide"], eos="PR").critical(z)
    assert dry_ice().critical(z).T == plain.T


def test_what_can_be_no_solid_is_said():
    with pytest.raises(sl.SleetfieldError, match="heat of fusion"):
        sl.System(["methane", "sulfur trioxide"], eos="PR", solids=["sulfur trioxide"])
    with pytest.raises(sl.InputError, match="'all'"):
        sl.System(["nitrogen", "water"], eos="PR", solids="some")
    with pytest.raises(sl.SleetfieldError, match="ethanol"):
        sl.System(["nitrogen", "water"], eos="PR", solids=["ethanol"])
    notes = sl.System(["naphthalene", "ethanol"], liquid="ideal", solids=["naphthalene"]).notes
    assert any("taken as zero for want of a number: naphthalene" in n for n in notes)


def test_a_heat_of_fusion_that_is_not_known_is_estimated_and_what_its_error_does_is_said():
    system = sl.System(["n-butyl acetate", "n-hexane"], liquid="ideal", vapor="ideal")
    found = system.solubility("n-butyl acetate", "n-hexane", T=[160.0, 180.0])
    heat = found.system.model.parameters["fusion_H n-butyl acetate"]
    assert heat.source.startswith("estimated: Joback")
    assert any("heat of fusion of n-butyl acetate is estimated from groups" in n for n in found.notes)
    (effect,) = (n for n in found.notes if n.startswith("With a third more or less"))
    low, high = (float(x) for x in re.search(r"at 160 K is ([\d.e-]+) or ([\d.e-]+)", effect).groups())
    # ideal: ln x goes with the heat of fusion
    x = found.dissolved[0]
    assert low == pytest.approx(x ** (4.0 / 3.0), rel=0.01)
    assert high == pytest.approx(x ** (2.0 / 3.0), rel=0.01)
    own = system.with_model(liquid="ideal", vapor="ideal", solids=["n-butyl acetate"]).with_parameters(
        {"fusion_H n-butyl acetate": 14.6e3}
    )
    assert not any("estimated from groups" in n for n in own.solubility("n-butyl acetate", "n-hexane", T=160.0).notes)


def test_two_of_three_estimated_heats_of_fusion_are_within_a_third():
    from sleetfield.components.from_groups import groups_of_the_bank

    off = []
    for c in sl.databank():
        if c.heat_of_fusion and c.name in groups_of_the_bank():
            guess = sl.estimate_from_groups(c.name, groups_of_the_bank()[c.name]).heat_of_fusion
            off += [] if guess is None else [abs(guess / c.heat_of_fusion - 1.0)]
    assert len(off) > 100
    assert 0.6 < np.mean(np.array(off) < 1.0 / 3.0) < 0.8


def test_on_the_command_line(tmp_path):
    out = run(
        "flash", "0.7 nitrogen + rest carbon dioxide", "--eos", "PR", "--solid", "carbon dioxide", "--T", "150K", "--P", "10bar"
    )
    assert "solid carbon dioxide" in out
    run("system", "nitrogen + carbon dioxide", "--eos", "PR", "--solid", "all", "--out", "frost.toml", cwd=tmp_path)
    again = run(
        "flash", "0.7 nitrogen + rest carbon dioxide", "--system", "frost.toml", "--T", "150K", "--P", "10bar", cwd=tmp_path
    )
    assert "solid carbon dioxide" in again


@dataclass(frozen=True)
class Sublimating(Solid):
    """A solid of one's own: ln P = A - B/T, without volume."""

    A: float
    B: float

    def at(self, fluid, T, P):
        nothing = np.zeros(len(T))
        return SolidStates(self.A - self.B / T - np.log(P), self.B / T**2, -1.0 / P, -2.0 * self.B / T**3, nothing + 1e-9)


class PRWithFrost(PR, name="PR with frost"):
    """Peng and Robinson's equation beside it."""

    def build(self, who, values):
        fluid = super().build(who, values)
        at = who.names.index("carbon dioxide")
        return with_solids(fluid, [Sublimating(at, 27.65, 3150.0)])


def test_a_solid_of_ones_own_runs_through(tmp_path):
    system = sl.System(["nitrogen", "carbon dioxide"], eos="PR with frost")
    state = system.flash([0.5, 0.5], T=150.0, P=1e5)
    assert [p.kind for p in state.phases] == ["vapor", "solid"]
    assert state.phases[0].fugacity["carbon dioxide"] == pytest.approx(np.exp(27.65 - 3150.0 / 150.0), rel=1e-9)
    assert system.flash([0.5, 0.5], P=1e5, H=state.H).T == pytest.approx(150.0, rel=1e-9)
    assert state.phases[0].H - state.phases[1].H > 20e3
    table = system.table([0.5, 0.5], T=[150.0, 170.0], P=1e5, properties=["fraction"])
    assert table["solid carbon dioxide fraction"].notna().all()
    assert sl.load(sl.save(system, tmp_path / "own.toml")).flash([0.5, 0.5], T=150.0, P=1e5).H == state.H
    assert system.envelope([0.5, 0.5]).critical_points
    assert np.isnan(system.bubble([0.5, 0.5], T=[150.0]).P[0]) or not system.bubble([0.5, 0.5], T=[150.0])[0].stable


def test_the_core_takes_them_by_arrays_alone():
    fluid = sl.System(["benzoic acid", "ethanol"], liquid="ideal").phase_model
    model = with_solids(fluid, [PureSolid(0, 395.6, 18000.0, 96e-6, 50.0)])
    T, P = np.array([300.0, 330.0]), np.full(2, 1e5)
    x = np.array([[1.0, 1e-100], [1.0, 1e-100]])
    e = model.at(T, P).evaluate(x, np.full(2, SOLID))
    h = 1e-4
    up, down = (model.at(T + s * h, P).evaluate(x, np.full(2, SOLID)) for s in (1.0, -1.0))
    np.testing.assert_allclose(e.dT[:, 0], (up.ln_phi - down.ln_phi)[:, 0] / (2.0 * h), rtol=1e-7)
    np.testing.assert_allclose(e.g_TT, (up.dT - down.dT)[:, 0] / (2.0 * h), rtol=1e-6)
    assert not e.dn.any()
    assert model.select([1]).n_components == 1
    assert model.select([1, 0]).solids == (1,)


def test_restricted_flashes_have_no_solids_but_say_that_they_would_form():
    state = dry_ice().flash([0.5, 0.5], T=150.0, P=1e6, phases="VL")
    assert [p.kind for p in state.phases] == ["vapor", "liquid"]
    assert any("Another phase would form" in n for n in state.notes)
    again = dry_ice().flash([0.5, 0.5], P=1e6, H=state.H, phases="VL")
    assert again.T == pytest.approx(150.0, rel=1e-8)


def test_three_solids_beside_three_fluids():
    """A mixture of seven, from a random search."""
    names = ["n-dodecane", "propionic acid", "acetic acid", "biphenyl", "n-eicosane", "ethylene", "sulfur trioxide"]
    system = sl.System(names, eos="SRK", kij="zero", solids=names[:3])
    z = [
        0.385985888035486,
        0.09492030152356755,
        0.09064547893402435,
        0.18313445802253153,
        0.012658758213904605,
        0.18918896851728015,
    ]
    state = system.flash([*z, 1.0 - sum(z)], T=167.66508989752302, P=10000.35417502712)
    assert [p.kind for p in state.phases] == ["vapor", "liquid", "liquid", "solid", "solid", "solid"]
    assert state.batch.result.stable[0]


def test_what_is_absent_falls_out_beside_no_solid():
    """Saturated vapor has less than 10⁻¹⁰⁰ of triacontane at 128 K; of what stood for none of it a liquid would have formed."""
    names = ["phenanthrene", "nitrous oxide", "ethylbenzene"]
    z, T, P = [0.006, 0.014, 0.98], 128.7, 9375.0
    with_it = sl.System([*names, "n-triacontane"], eos="PR", kij="zero", solids=names).flash([*z, 0.0], T=T, P=P)
    without = sl.System(names, eos="PR", kij="zero", solids=names).flash(z, T=T, P=P)
    assert len(with_it.phases) == len(without.phases) == 3
    assert with_it.H == pytest.approx(without.H, rel=1e-12)
    assert not any("not the equilibrium" in note for note in with_it.notes)


def test_what_is_absent_changes_nothing():
    """Nor is a further phase said to form of it, as once beside the liquid of the first state."""
    light = ["methane", "ethane", "nitrogen", "propane", "n-hexane", "ethylbenzene", "carbon monoxide", "toluene"]
    rng = np.random.default_rng(9)
    chosen = [["carbon monoxide", "n-hexane", "nitrogen"], *([str(n) for n in rng.choice(light, int(rng.integers(1, 4)), replace=False)] for _ in range(40))]  # fmt: skip
    for k, names in enumerate(chosen):
        z, T, P = rng.dirichlet(np.ones(len(names)), 20), rng.uniform(70.0, 250.0, 20), 10.0 ** rng.uniform(3.0, 6.5, 20)
        if k == 0:
            z[0], T[0], P[0] = [0.52346857, 0.3831147, 0.09341673], 71.05269554850464, 6789.250278684816
        heavy, eos = str(rng.choice(["n-triacontane", "n-eicosane", "phenanthrene"])), "SRK" if k % 2 == 0 else "PR"
        with_it = sl.System([*names, heavy], eos=eos, kij="zero").flash(np.hstack([z, np.zeros((20, 1))]), T=T, P=P).result
        without = sl.System(names, eos=eos, kij="zero").flash(z, T=T, P=P).result
        assert (with_it.stable == without.stable).all(), names
        assert (np.isfinite(with_it.amount).sum(axis=1) == np.isfinite(without.amount).sum(axis=1)).all(), names
