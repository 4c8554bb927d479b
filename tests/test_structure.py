"""Structures: what SMILES strings of the databank say against what the databank says, and estimates from them."""

import re
import sys

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.components.databank import read_table
from sleetfield.components.formula import elements
from sleetfield.components.from_groups import parse_groups
from sleetfield.components.structure import structure, surface_parameters

GROUPS = {r["name"]: r["groups"] for r in read_table("groups.csv")}


@pytest.mark.parametrize("component", list(sl.databank()), ids=lambda c: c.name)
def test_the_databanks_structures_are_the_substances(component):
    found = structure(component.smiles)
    assert elements(re.sub(r"[+-]\d*$", "", found.formula)) == elements(component.formula)
    assert found.inchi_key == component.inchi_key
    if component.name in GROUPS and found.joback:
        assert found.joback == parse_groups(GROUPS[component.name])
    if component.uniquac_r:
        np.testing.assert_allclose(surface_parameters(found.surface), (component.uniquac_r, component.uniquac_q), rtol=1e-4)


# r, q: Prausnitz et al., Computer Calculations for Multicomponent Vapor-Liquid and Liquid-Liquid Equilibria (1980), Appendix C
UNIQUAC = {"water": (0.92, 1.4), "methanol": (1.4311, 1.432), "acetone": (2.5735, 2.336), "benzene": (3.1878, 2.4), "toluene": (3.9228, 2.968),
           "n-hexane": (4.4998, 3.856), "cyclohexane": (4.0464, 3.24), "ethyl acetate": (3.4786, 3.116), "chloroform": (2.87, 2.41),
           "carbon tetrachloride": (3.39, 2.91), "acetonitrile": (1.8701, 1.724)}  # fmt: skip


@pytest.mark.parametrize("name", list(UNIQUAC))
def test_published_surface_parameters(name):
    found = sl.databank().find(name)
    assert (found.uniquac_r, found.uniquac_q) == pytest.approx(UNIQUAC[name], abs=6e-4)


def test_an_estimate_from_a_structure_is_that_from_its_groups():
    one = sl.estimate_from_structure("2-ethylphenol", "CCc1ccccc1O", Tb="477.67 K")
    two = sl.estimate_from_groups("2-ethylphenol", "CH3 + CH2 + 4 ring =CH + 2 ring =C + phenol OH", Tb=477.67)
    assert (one.Tc, one.Pc, one.omega, one.heat_capacity) == (two.Tc, two.Pc, two.omega, two.heat_capacity)
    assert one.smiles == "CCc1ccccc1O"
    assert len(one.inchi_key) == 27
    assert one.uniquac_r is not None
    assert all(source.startswith(("estimated", "from the groups", "given", "sums of")) for source in one.sources.values())
    notes = sl.System([one, "methane"], eos="PR").notes
    assert any("Estimated, not measured: Tc, Pc, omega, heat_capacity of 2-ethylphenol" in note for note in notes)


@pytest.mark.parametrize(
    ("smiles", "message"),
    [("CC(=O", "no SMILES"), ("", "no SMILES"), ("C" * 2000, "no SMILES"), ("CC.CC", "one neutral molecule"), ("[NH4+]", "one neutral"), ("C[Si](C)(C)C", "Si"),
     ("O=C=O", "No group of Joback"), ("C1CC1(C)C", "No group")],
)  # fmt: skip
def test_structures_that_cannot_be_used(smiles, message):
    with pytest.raises(sl.InputError, match=message):
        sl.estimate_from_structure("thing", smiles)


def test_without_rdkit_it_says_what_to_do(monkeypatch):
    monkeypatch.setitem(sys.modules, "rdkit", None)
    with pytest.raises(sl.InputError, match=r"pip install 'sleetfield\[structure\]'.*estimate_from_groups"):
        sl.estimate_from_structure("acetone", "CC(C)=O")
