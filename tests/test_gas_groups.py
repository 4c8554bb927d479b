"""Gases as groups, in Soave's equation with the mixing rule that their interactions were fitted with: each pair by what its row says, and would a wrong one be told."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.components.databank import read_table
from sleetfield.components.local_groups import UNIFAC, WITH_GASES, interactions, local_groups

ROWS = {(row["first"], row["second"]): row for row in read_table("gas_interactions.csv")}
ALKANES = {
    "CO2": ("carbon dioxide", ["propane", "n-butane", "n-hexane", "n-decane"]),
    "H2": ("hydrogen", ["propane", "n-butane", "n-hexane"]),
}
HENRY = 1.01325e5 / 6.37e-3
"""Of carbon dioxide in ethanol at 25 °C, Pa: 6.37e-3 dissolve at 1 atm (Fogg and Gerrard, Solubility of Gases in Liquids (1991))."""


def psrk(names, **more):
    return sl.System(names, eos="SRK", mixing="PSRK", excess="UNIFAC with gases", alpha="Mathias-Copeman", **more)


@pytest.mark.parametrize(("gas", "off", "mean"), [("CO2", 0.16, 0.06), ("H2", 0.15, 0.10)])
def test_gases_over_alkanes_as_by_published_interaction_parameters(gas, off, mean):
    assert "bubble pressures" in ROWS["CH2", gas]["confirmed_by"]
    name, alkanes = ALKANES[gas]
    apart = []
    for alkane in alkanes:
        predicted, published = psrk([name, alkane]), sl.System([name, alkane], eos="PR", kij="published")
        assert published.interactions.kij[0, 1] != 0.0
        for T in (300.0, 330.0, 350.0):
            for x in (0.02, 0.05) if gas == "H2" else (0.05, 0.2):
                apart.append(np.log(predicted.bubble([x, 1.0 - x], T=T).P / published.bubble([x, 1.0 - x], T=T).P))
    assert np.abs(apart).max() < off
    assert np.abs(apart).mean() < mean


def henry(system):
    bound = system.phase_model.at(np.array([298.15]), np.array([1e5]))
    return float(np.exp(bound.ln_phi(np.array([[1e-9, 1.0 - 1e-9]]), np.int8(1))[0, 0])) * 1e5


def test_carbon_dioxide_in_ethanol():
    """As it dissolves at 1 atm; and both mix at 40 °C, which the two interactions in the other order would not have."""
    pair = ["carbon dioxide", "ethanol"]
    assert henry(psrk(pair)) == pytest.approx(HENRY, rel=0.08)
    row = ROWS["OH", "CO2"]
    turned = psrk(pair, parameters={("OH", "CO2"): {"a12": float(row["a21_K"]), "a21": float(row["a12_K"])}})
    z = np.stack([np.linspace(0.3, 0.9, 13), np.linspace(0.7, 0.1, 13)], axis=1)
    assert not (psrk(pair).flash(z, T=313.15, P=120e5).n_phases > 1).any()
    assert (turned.flash(z, T=313.15, P=120e5).n_phases > 1).any()


@pytest.mark.parametrize(("pair", "within"), [(("CH2", "CO2"), 0.16), (("CH2", "H2"), 0.15), (("OH", "CO2"), 0.08)], ids=str)
def test_what_confirms_a_pair_would_tell_a_wrong_one(pair, within, monkeypatch):
    """One of the two interactions changed by 30 %, and by 60 K at least."""
    known = interactions(WITH_GASES)
    gas, solvent = {"CO2": "carbon dioxide", "H2": "hydrogen"}[pair[1]], "ethanol" if pair[0] == "OH" else "n-hexane"

    def found():
        system = psrk([gas, solvent])
        return henry(system) if pair[0] == "OH" else system.bubble([0.05, 0.95], T=330.0).P

    right, moved = found(), []
    for order in (pair, pair[::-1]):
        first, *rest = known[order].terms
        for sign in (1.0, -1.0):
            changed = known[order]._replace(terms=(first + sign * max(0.3 * abs(first), 60.0), *rest))
            monkeypatch.setattr(
                "sleetfield.recipes.unifac.interactions", lambda table, own=(order, changed): {**known, own[0]: own[1]}
            )
            moved.append(found())
    assert max(abs(np.log(np.array(moved) / right))) > within


def test_it_is_unifac_without_gases_and_unifac_is_without_them():
    liquid = ["ethanol", "n-heptane"]
    one, other = (
        sl.System(liquid, eos="SRK", mixing="PSRK", excess=excess).bubble([0.4, 0.6], T=340.0).P
        for excess in ("UNIFAC", "UNIFAC with gases")
    )
    assert one == other
    assert set(local_groups(WITH_GASES)) - set(local_groups(UNIFAC)) == {"CO2", "H2"}
    with pytest.raises(sl.UnknownComponentError, match="carbon dioxide"):
        sl.System(["carbon dioxide", "ethanol"], eos="SRK", mixing="PSRK", excess="UNIFAC")
    with pytest.raises(sl.UnknownComponentError, match="no interaction of the main groups"):
        psrk(["carbon dioxide", "acetone"])
    assert any("Usual errors are a tenth" in note for note in psrk(["carbon dioxide", "ethanol"]).notes)
