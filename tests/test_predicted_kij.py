"""Interaction parameters from groups: each pair of groups by the published kij that confirms it, the formula itself, and the user's way."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.components.databank import read_table
from sleetfield.core.constants import R
from sleetfield.recipes.predicted_kij import predicted

TABLE = read_table("group_kij.csv")


def of_pair(*names):
    return predicted(sl.System(list(names), eos="PR", kij="zero").who)


@pytest.mark.parametrize("row", TABLE, ids=lambda r: f"{r['first']} {r['second']}")
def test_each_pair_of_groups_is_confirmed_by_a_published_parameter(row):
    names = row["confirmed_by"].split(" + ")
    (published,) = sl.System(names, eos="PR").model.parameters.of_symbol("kij")
    assert published.known
    assert of_pair(*names)[0].at(298.15) == pytest.approx(published.function.at(298.15), abs=0.025)


@pytest.mark.parametrize(
    ("names", "apart"),
    [(("methane", "n-octane"), 0.012), (("methane", "n-nonane"), 0.012), (("methane", "n-decane"), 0.012), (("ethane", "n-octane"), 0.012),
     (("ethane", "n-decane"), 0.012), (("carbon dioxide", "n-octane"), 0.006), (("carbon dioxide", "n-nonane"), 0.006),
     (("hydrogen sulfide", "n-heptane"), 0.02), (("hydrogen sulfide", "n-nonane"), 0.02), (("hydrogen sulfide", "n-decane"), 0.02)],
)  # fmt: skip
def test_groups_confirm_what_was_published_or_lies_between_neighbors(names, apart):
    (own,) = sl.System(list(names), eos="PR").model.parameters.of_symbol("kij")
    assert own.known
    assert of_pair(*names)[0].at(298.15) == pytest.approx(own.function.at(298.15), abs=apart)


def test_the_formula_by_hand():
    """Propane and n-hexane at 350 K: two thirds and a third of CH₃ and the rest CH₂."""
    T, (A, B) = 350.0, (74.81e6, 165.7e6)
    delta = []
    for name in ("propane", "n-hexane"):
        c = sl.databank().find(name)
        m = 0.37464 + 1.54226 * c.omega - 0.26992 * c.omega**2
        a = 0.45723553 * (R * c.Tc) ** 2 / c.Pc * (1.0 + m * (1.0 - np.sqrt(T / c.Tc))) ** 2
        delta.append(np.sqrt(a) / (0.07779607 * R * c.Tc / c.Pc))
    apart = 2.0 / 3.0 - 2.0 / 6.0
    E = apart**2 * A * (298.15 / T) ** (B / A - 1.0)
    k = (E - (delta[0] - delta[1]) ** 2) / (2.0 * delta[0] * delta[1])
    assert of_pair("propane", "n-hexane")[0].at(T) == pytest.approx(k, abs=3e-4)


def test_what_is_known_stays_and_what_is_not_covered_is_zero():
    gas = sl.System(["methane", "carbon dioxide", "n-dodecane", "cyclohexane"], eos="PR", kij="predicted")
    plain = sl.System(gas.names, eos="PR")
    kij = {p.of: p for p in gas.model.parameters.of_symbol("kij")}
    known = [p for p in plain.model.parameters.of_symbol("kij") if p.known]
    assert known
    assert all(kij[p.of].function == p.function for p in known)
    assert kij["carbon dioxide", "n-dodecane"].source.startswith("predicted from groups")
    assert (kij["carbon dioxide", "n-dodecane"].T_min, kij["carbon dioxide", "n-dodecane"].T_max) == (150.0, 750.0)
    assert of_pair("methane", "cyclohexane") is None
    assert of_pair("methane", "water") is None
    notes = " ".join(gas.flash([0.5, 0.2, 0.2, 0.1], T=300.0, P=50e5).notes)
    assert "predicted from groups, to some 0.02" in notes


def test_it_is_of_one_equation():
    assert sl.System(["carbon dioxide", "n-dodecane"], eos="PR78", kij="predicted").interactions.kij[0, 1] > 0.05
    for eos in ("SRK", "RK", "PC-SAFT"):
        with pytest.raises(sl.InputError, match="belong to PR and PR78"):
            sl.System(["carbon dioxide", "n-dodecane"], eos=eos, kij="predicted")


def test_it_is_kept_to_the_last_digit(tmp_path):
    gas = sl.System(["carbon dioxide", "n-dodecane"], eos="PR", kij="predicted")
    sl.save(gas, tmp_path / "gas.toml")
    assert sl.load(tmp_path / "gas.toml").model == gas.model


def test_where_groups_know_what_is_taken_as_zero_it_is_said():
    def says(names, **options):
        return any("kij='predicted'" in note for note in sl.System(names, **options).notes)

    assert says(["propane", "n-octane"], eos="PR")
    assert not says(["propane", "n-octane"], eos="PR", kij="predicted")
    assert not says(["propane", "n-octane"], eos="PR", kij="zero")
    assert not says(["propane", "n-octane"], eos="SRK")
    assert not says(["acetone", "n-octane"], eos="PR")


def test_no_structure_is_read_for_what_the_databank_has(monkeypatch):
    """Without RDKit, which is an extra, systems of shipped substances work as they do with it, whether groups cover them or not."""

    def missing():
        raise AssertionError("RDKit is asked for")

    monkeypatch.setattr("sleetfield.components.structure._rdkit", missing)
    for names in (["hydrogen", "acetone", "n-octane"], ["sulfolane", "n-octane"], ["propane", "n-octane"]):
        assert sl.System(names, eos="PR").flash(np.full(len(names), 1.0 / len(names)), T=300.0, P=1e6).notes
        assert sl.System(names, eos="PR", kij="predicted").notes
    with pytest.raises(sl.UnknownComponentError, match="no group stands for"):
        sl.System(["sulfolane", "n-octane"], liquid="UNIFAC")
    own = sl.databank().find("n-octane").changed(smiles="CCCCCCCC", source="mine")
    plain = sl.Component(name="thing", smiles="CCCCC", Tc=470.0, Pc=3.4e6, omega=0.25, molar_mass=0.07215)
    assert sl.System([own, plain], eos="PR").notes
