"""A component's structure, written as SMILES: its groups, formula and InChIKey. Needs RDKit (``pip install 'sleetfield[structure]'``)."""

from __future__ import annotations

import functools
from collections import Counter
from collections.abc import Mapping
from typing import Any, NamedTuple

from ..errors import InputError
from .databank import read_table
from .formula import elements

_LONGEST = 1000


class Structure(NamedTuple):
    """What follows from a SMILES string; groups are None where the structure has a part that no group stands for."""

    smiles: str
    formula: str
    inchi_key: str
    joback: dict[str, int] | None
    surface: dict[str, int] | None
    unmatched: str
    """The atoms that no Joback group stands for."""


def _rdkit() -> Any:
    try:
        from rdkit import Chem, rdBase
    except ImportError:
        raise InputError(
            "Reading SMILES needs RDKit: pip install 'sleetfield[structure]'. Without it, write the groups: "
            "sl.estimate_from_groups(name, '2 CH3 + 3 CH2 + OH')."
        ) from None
    rdBase.DisableLog("rdApp.error")
    return Chem


def _molecule(smiles: str) -> Any:
    chem = _rdkit()
    molecule = chem.MolFromSmiles(smiles) if smiles.strip() and len(smiles) <= _LONGEST else None
    if molecule is None:
        raise InputError(f"{smiles[:60]!r} is no SMILES string. Write it like 'CC(=O)C' for acetone.")
    if "." in smiles or chem.GetFormalCharge(molecule) != 0:
        raise InputError(f"{smiles!r} is not one neutral molecule, which a component has to be.")
    return molecule


def structure(smiles: str) -> Structure:
    """What a SMILES string says.

    Parameters
    ----------
    smiles : str
        Such as ``CC(=O)C`` for acetone; one molecule without charge.

    Raises
    ------
    InputError
        If RDKit is not installed, or the text is no SMILES of one neutral molecule.

    Examples
    --------
    >>> structure("CC(=O)C").joback
    {'C=O': 1, 'CH3': 2}

    """
    chem, molecule = _rdkit(), _molecule(smiles)
    joback, left = _groups(molecule, "joback_groups.csv", "group")
    surface, _ = _groups(molecule, "surface_groups.csv", "main")
    return Structure(
        smiles=chem.MolToSmiles(molecule),
        formula=_formula(molecule),
        inchi_key=chem.MolToInchiKey(molecule),
        joback=joback,
        surface=surface,
        unmatched=left,
    )


def groups_in(smiles: str, table: str, column: str = "main") -> dict[str, int] | None:
    """The groups of one of the databank's tables, those with something in a column, that a structure has; None where a part of it is none.

    Examples
    --------
    >>> groups_in("CC(O)CC", "modified_groups.csv")
    {'CH3': 2, 'CH2': 1, 'CH': 1, 'secondary OH': 1}

    """
    return _groups(_molecule(smiles), table, column)[0]


def surface_parameters(groups: Mapping[str, int]) -> tuple[float, float]:
    """UNIQUAC's r and q as sums over groups: Hansen et al., Ind. Eng. Chem. Res. 30 (1991) 2352-2355, hydroxyl groups of alcohols as Bondi has them.

    Examples
    --------
    >>> r, q = surface_parameters({"CH3": 1, "CH2": 1, "OH": 1})  # ethanol
    >>> round(r, 4), round(q, 3)
    (2.1055, 1.972)

    """
    table = {row["group"]: row for row in read_table("surface_groups.csv")}
    r, q = (sum(count * float(table[group][key]) for group, count in groups.items()) for key in ("R", "Q"))
    return r, q


@functools.cache
def _patterns(table: str, column: str) -> list[tuple[str, Any]]:
    """The groups of a table with their patterns, those of most atoms first."""
    chem = _rdkit()
    found = [(row["group"], chem.MolFromSmarts(row["smarts"])) for row in read_table(table) if row[column]]
    return sorted(found, key=lambda pair: -pair[1].GetNumAtoms())


def _formula(molecule: Any) -> str:
    from rdkit.Chem.rdMolDescriptors import CalcMolFormula

    return str(CalcMolFormula(molecule))


def _groups(molecule: Any, table: str, column: str) -> tuple[dict[str, int] | None, str]:
    """How many of each group, larger groups first, each atom in one; None where atoms are left over, which are the second, or hydrogens differ."""
    counts: dict[str, int] = {}
    taken: set[int] = set()
    for group, pattern in _patterns(table, column):
        for match in molecule.GetSubstructMatches(pattern):
            if taken.isdisjoint(match):
                taken.update(match)
                counts[group] = counts.get(group, 0) + 1
    left = [atom.GetSymbol() for atom in molecule.GetAtoms() if atom.GetIdx() not in taken]
    made = sum(
        (Counter({e: n * counts[g] for e, n in atoms.items()}) for g, atoms in _atoms(table).items() if g in counts), Counter[str]()
    )
    lacking = (elements(_formula(molecule)) or Counter()) - made
    if not left and not lacking:
        return counts, ""
    return None, ", ".join(left or lacking.elements())


@functools.cache
def _atoms(table: str) -> dict[str, Counter[str]]:
    """The atoms of each group of a table."""
    return {row["group"]: elements(row["atoms"]) or Counter() for row in read_table(table)}
