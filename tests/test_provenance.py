"""Every number that a system is calculated with, and where it came from."""

import json

import pytest

import sleetfield as sl
from sleetfield.export import as_plain

OPTIONS = {
    "PR": (["nitrogen", "methane", "n-heptane"], {"eos": "PR", "kij": {("methane", "n-heptane"): 0.04}}),
    "Twu": (["ethanol", "water"], {"eos": "SRK", "alpha": "Twu", "translation": "density"}),
    "PC-SAFT": (["methane", "n-hexane"], {"eos": "PC-SAFT"}),
    "NRTL": (["ethanol", "water"], {"liquid": "NRTL", "vapor": "virial"}),
    "UNIQUAC": (["acetone", "water"], {"liquid": "UNIQUAC"}),
    "Henry": (["hydrogen", "water"], {"liquid": "ideal", "henry": {("hydrogen", "water"): "70000 bar"}}),
    "solids": (["benzoic acid", "ethanol"], {"liquid": "NRTL", "solids": ["benzoic acid"]}),
}
IDLE = {("Twu", "omega"), ("PC-SAFT", "Tc"), ("PC-SAFT", "Pc"), ("PC-SAFT", "omega")}
"""Constants in the place of which a fitted temperature function stands, or that only say where to begin."""


def system_of(name):
    components, options = OPTIONS[name]
    return sl.System(components, **options)


@pytest.mark.parametrize("name", OPTIONS)
def test_every_number_has_a_source_and_a_layer(name):
    system = system_of(name)
    found = system.provenance()
    assert all(used.source for used in found.entries)
    assert {used.of[0] for used in found.entries} == set(system.names)
    adjustable = {f"{used.name} {' / '.join(used.of)}" for used in found.entries if used.adjustable}
    assert adjustable == set(system.parameters.names)
    assert json.loads(json.dumps(as_plain(found)))["numbers"][0]["layer"] == "shipped"
    frame = found.to_frame("metric")
    assert len(frame) == len(found.entries)
    assert str(found).count("[1]") >= 2


@pytest.mark.parametrize("name", OPTIONS)
def test_what_a_model_rests_on_changes_its_answers(name):
    """No constant that is listed is idle: another value of it changes some property of some state."""
    system = system_of(name)
    z = [1.0 / len(system)] * len(system)

    def numbers(one):
        states = [one.flash(z, T=T, P=2e5) for T in (290.0, 390.0)]
        return [
            (state.vapor_fraction, *(p.density for p in state.phases), *(tuple(p.ln_phi.values()) for p in state.phases), state.H)
            for state in states
        ]

    for used in system.provenance().entries:
        if not used.adjustable and isinstance(used.value, float) and (name, used.name) not in IDLE:
            i = system.names.index(used.of[0])
            changed = system.components[i].changed(**{used.name: used.value * 1.05}, source="a test")
            other = sl.System([*system.components[:i], changed, *system.components[i + 1 :]], **OPTIONS[name][1])
            assert numbers(system) != numbers(other), used


def test_differences_name_both_values():
    gas = system_of("PR")
    other = gas.with_parameters({"kij nitrogen / methane": 0.05})
    (one,) = gas.provenance().differences(other.provenance())
    assert str(one) == "kij of nitrogen / methane: 0.0311 here, 0.05 there"
    assert gas.provenance().differences(gas.provenance()) == ()
    missing = gas.provenance().differences(gas.part(["methane", "n-heptane"]).provenance())
    assert {d.of for d in missing if d.there is None} == {("nitrogen",), ("nitrogen", "methane"), ("nitrogen", "n-heptane")}


def test_a_fit_is_the_source_of_its_parameters():
    known = sl.System(["ethanol", "water"], liquid="NRTL")
    points = known.bubble([[x, 1.0 - x] for x in (0.1, 0.3, 0.6, 0.9)], T=350.0)
    data = sl.DataSet.of(known.names, T=350.0, P=points.P, x=points.x[:, 0], y=points.y[:, 0], source="a still")
    fit = sl.regress(known, data, fit="tau")
    fitted = {used.name for used in fit.system.provenance().entries if used.source == "fitted to a still"}
    assert fitted == {"tau"}
    column = sl.System(["water", "acetone", "ethanol"], liquid="NRTL").taking(fit.system)
    for name in ("tau ethanol / water", "tau water / ethanol"):
        assert column.parameters[name] == fit.system.parameters[name]
    assert column.parameters["alpha ethanol / water"] == fit.system.parameters["alpha ethanol / water"]
    with pytest.raises(sl.InputError, match="have none of these"):
        sl.System(["methane", "propane"], eos="PR").taking(fit.system)


def test_flows_by_component_make_a_feed():
    gas = system_of("PR")
    z, flow = gas.feed_of_flows({"methane": "90 kmol/h", "nitrogen": "10 kmol/h"})
    assert z == pytest.approx({"methane": 0.9, "nitrogen": 0.1})
    assert flow == pytest.approx(100.0 / 3.6)
    z, flow = gas.feed_of_flows({"methane": "16.043 kg/s"})
    assert (z, flow) == ({"methane": 1.0}, pytest.approx(1000.0, rel=1e-6))
    with pytest.raises(sl.InputError, match="not negative"):
        gas.feed_of_flows({"methane": "-1 mol/s"})
