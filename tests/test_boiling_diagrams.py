"""Boiling diagrams by equations of state: up to critical points, in two parts, with second liquids, at the edge of what can be told."""

from __future__ import annotations

import json

import numpy as np
import pytest
from typer.testing import CliRunner

import sleetfield as sl
from sleetfield.cli.app import app
from sleetfield.core.models.contract import LIQUID, VAPOR


def equal_fugacities(system, d, rows):
    """Largest difference of ln f between the liquids and vapors of a diagram."""
    bound = system.phase_model.at(d.T[rows], d.P[rows])
    x, y = (np.stack([part[rows], 1.0 - part[rows]], axis=1) for part in (d.x, d.y))
    return np.abs(np.log(x) + bound.ln_phi(x, LIQUID) - np.log(y) - bound.ln_phi(y, VAPOR)).max()


def test_a_supercritical_component_closes_the_diagram_at_a_critical_point():
    gas = sl.System(["methane", "n-butane"], eos="PR")
    d = gas.diagram("Pxy", T="40 degC")
    assert d.azeotropes == ()
    assert d.open_ends.size == 0
    (end,) = d.critical_points
    direct = gas.critical([d.x[end], 1.0 - d.x[end]])
    assert direct.T == pytest.approx(313.15, rel=1e-9)
    assert direct.P == pytest.approx(d.P[end], rel=1e-8)
    assert d.P[end] == d.P.max()
    assert equal_fugacities(gas, d, np.flatnonzero((d.x > 0.0) & (d.x != d.y))) < 1e-8
    assert any("ends at a critical point" in note for note in d.notes)


def test_a_curve_that_turns_back_is_followed_around():
    d = sl.System(["methane", "n-butane"], eos="PR").diagram("Txy", P="60 bar")
    assert len(d.critical_points) == 2
    assert len(set(d.branch)) == 1
    hottest = int(np.argmax(d.T))
    assert hottest in d.critical_points
    assert d.x.min() < d.x[hottest] - 0.01


def test_two_parts_beside_an_azeotrope_that_has_gone_critical():
    d = sl.System(["carbon dioxide", "ethane"], eos="PR").diagram("Pxy", T=295.0)
    assert set(d.branch) == {0, 1}
    assert len(d.critical_points) == 2
    left, right = (d.x[d.branch == k] for k in (0, 1))
    assert left.min() == 0.0
    assert right.max() == 1.0
    assert left.max() < right.min()
    ax = d.plot()
    assert sum("critical point" in t.get_text() for t in ax.texts) == 2


def test_raoults_law_is_drawn_for_what_has_a_vapor_pressure():
    def grey(names):
        ax = sl.System(names, eos="PR").diagram("pressures", T="40 degC").plot()
        return sum(list(line.get_xdata()) == [0, 1] for line in ax.lines)

    assert grey(["methane", "n-butane"]) == 1
    assert grey(["propane", "n-butane"]) == 2


def test_a_gas_hardly_dissolved_in_water_is_seen():
    # one number for both phases: a hundred times less than what does dissolve
    d = sl.System(["carbon dioxide", "water"], eos="PR", kij={("carbon dioxide", "water"): 0.1896}).diagram("Pxy", T="20 degC")
    (line,) = d.three_phase
    assert line.x[0] < 1e-3
    assert line.x[1] > 0.99
    assert line.x[1] < line.y < 1.0
    watery = d.x <= line.x[0]
    assert watery.sum() > 15
    assert np.abs(np.diff(d.y[watery])).max() < 0.35


def test_a_heavy_oil_and_water_boil_as_a_heterogeneous_azeotrope():
    d = sl.System(["n-hexacosane", "water"], eos="PR").diagram("Txy", P=7.5e5)
    (line,), (azeotrope,) = d.three_phase, d.azeotropes
    assert line.x[0] < 1e-30
    assert azeotrope.heterogeneous
    assert azeotrope.T == pytest.approx(line.T, rel=1e-10)
    assert azeotrope.x[0] == pytest.approx(line.y, rel=1e-6)


def test_volatilities_are_given_at_infinite_dilution_too():
    d = sl.System(["1-butanol", "water"], liquid="NRTL").diagram("Txy", P="1 atm")
    psat = sl.System(["1-butanol"], liquid="ideal").bubble([1.0], T=d.T[0]).P
    assert d.K[0, 0] == pytest.approx(d.gamma[0, 0] * psat / d.P[0], rel=1e-9)
    inside = (d.x > 0.0) & (d.x < 1.0)
    assert d.K[inside, 0] == pytest.approx(d.y[inside] / d.x[inside], rel=1e-8)


def test_almost_pure_feeds_next_to_their_dew_point_are_not_taken_for_stable():
    wet, z = sl.System(["methyl propionate", "water"], eos="SRK"), [1.2e-4, 1.0 - 1.2e-4]
    dew = wet.dew(z, P=1071805.9).T
    states = wet.flash(z, T=dew + np.array([-0.005, -0.001, 0.001]), P=1071805.9)
    assert states.n_phases.tolist() == [2, 2, 1]


def test_a_lens_as_thin_as_next_to_an_azeotrope_is_found():
    system, T = sl.System(["ethanol", "2,4-dimethylpentane"], eos="PR"), 418.35811779346017
    x = np.array([0.902, 0.9035, 0.906])
    z = np.stack([x, 1.0 - x], axis=1)
    between = 0.5 * (system.bubble(z, T=T).P + system.dew(z, T=T).P)
    assert (system.flash(z, T=T, P=between).n_phases == 2).all()


@pytest.mark.parametrize(("name", "eos"), [("nitrobenzene", "SRK"), ("n-nonacosane", "PR")])
def test_vapor_pressures_far_below_a_pascal(name, eos):
    pure = sl.System([name], eos=eos)
    T = np.array([204.0, 210.0, 220.0, 230.0, 240.0])
    P = pure.bubble(np.ones((5, 1)), T=T).P
    assert (P > 0.0).all()
    assert P[0] < 1e-3
    # d ln P / d(1/T) = -ΔH/R hardly changes over a few kelvin
    slope = np.diff(np.log(P)) / np.diff(1.0 / T)
    assert slope == pytest.approx(slope.mean(), rel=0.03)


def test_a_critical_point_of_gas_that_is_mostly_helium_is_found_directly():
    z = [0.5903175579324581, 0.07019793760934064, 0.1625725313387144, 0.06197087949676375, 0.1149410936227231]
    system = sl.System(["helium", "n-octane", "nitrogen", "ethyl propionate", "o-xylene"], eos="SRK")
    (traced,) = system.envelope(z).critical_points
    assert min(abs(p.T / traced.T - 1.0) for p in system.critical(z).all) < 1e-8


def test_an_envelope_does_not_jump():
    names = ["1,1,1-trichloroethane", "3-ethylpentane", "nitrogen", "furfural", "glycerol", "ethylene glycol", "cyclopentane"]
    z = [0.127545436, 0.158462908, 0.143197672, 0.169308114, 0.192404742, 0.0801365185, 0.1289446095]
    for line in sl.System(names, eos="SRK").envelope(sl.normalize(z)).lines:
        assert np.abs(np.diff(np.log(line.T))).max() < 0.1
        assert (np.abs(np.diff(np.log(line.T))) + np.abs(np.diff(np.log(line.P))) > 0.0).all()


def test_states_of_a_batch_keep_their_balance_where_substitution_fails():
    names = [
        "ethylcyclohexane",
        "benzyl alcohol",
        "ethyl tert-butyl ether",
        "sulfur trioxide",
        "styrene",
        "ammonia",
        "n-propyl chloride",
    ]
    names += ["n-heptacosane", "methylamine", "ethyl acetate", "1-dodecene", "2,3,4-trimethylpentane"]
    z = np.array(
        [0.081615, 0.035905, 0.097837, 0.130417, 0.150039, 0.075221, 0.080817, 0.168691, 0.021218, 0.029813, 0.051224, 0.077203]
    )
    many = z * np.exp(np.random.default_rng(4).normal(0.0, 1e-4, (60, 12)))
    states = sl.System(names, eos="PR").flash(many / many.sum(axis=1, keepdims=True), T=157.1263, P=14284.0)
    r = states.result
    assert not states.failed.any()
    assert r.converged.all()
    assert np.nanmin(r.amount) > 0.0
    assert np.nansum(r.amount[:, :, None] * r.x, axis=1) == pytest.approx(states.z, abs=1e-12)


@pytest.mark.parametrize(
    ("command", "model"),
    [
        (["check"], ["--liquid", "NRTL"]),
        (["azeotropes", "--P", "1atm"], ["--liquid", "NRTL"]),
        (["parameters"], ["--liquid", "NRTL"]),
        (["diagram", "--kind", "Txy", "--P", "1atm"], ["--liquid", "NRTL"]),
        (["interactions"], ["--eos", "PR"]),
    ],
)
def test_commands_about_components_take_names_with_or_without_amounts(command, model):
    shown = [
        CliRunner().invoke(app, [command[0], text, *command[1:], *model, "--json"])
        for text in ("1-butanol + water", "1-butanol+water", "0.3 1-butanol + 0.7 water", "20 % 1-butanol + rest water")
    ]
    assert [r.exit_code for r in shown] == [0] * 4
    assert len({json.dumps(json.loads(r.stdout)) for r in shown}) == 1


def test_a_list_of_components_with_a_hole_in_it_is_refused():
    result = CliRunner().invoke(app, ["check", "acetone + ", "--liquid", "NRTL"])
    assert result.exit_code == 2
    assert "acetone + 1-butanol + water" in result.stderr
