"""Radii of gyration of the databank's substances, from their structures.

    python tools/derive_radii.py

Molecules of more than three atoms in the lowest of twenty conformers by the MMFF94 force field (Halgren, J. Comput. Chem. 17 (1996) 490-519); smaller ones, which it does not
know, from their bonds (CRC Handbook, tables of bond lengths and angles in the gas). Linear molecules have √(I/m), others √(2π (ABC)^⅓/m), with A, B, C the moments of
inertia: Prausnitz and others, Computer Calculations for Multicomponent Vapor-Liquid and Liquid-Liquid Equilibria (1980), appendix C.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from rdkit import Chem, RDLogger
from rdkit.Chem import AllChem

import sleetfield as sl

RDLogger.DisableLog("rdApp.*")
Array = NDArray[np.float64]

# angstrom: of diatomic molecules the bond; of linear ones the places of the atoms; of others all coordinates
BONDS = {"hydrogen": 0.7414, "nitrogen": 1.0977, "oxygen": 1.2075, "carbon monoxide": 1.1283, "nitric oxide": 1.1508, "hydrogen chloride": 1.2746, "hydrogen bromide": 1.4144,
         "hydrogen fluoride": 0.9169, "chlorine": 1.988, "fluorine": 1.412, "bromine": 2.281}  # fmt: skip
LINEAR = {"carbon dioxide": ("OCO", (-1.160, 0.0, 1.160)), "carbon disulfide": ("SCS", (-1.553, 0.0, 1.553)), "nitrous oxide": ("NNO", (-1.128, 0.0, 1.184)),
          "carbonyl sulfide": ("OCS", (-1.157, 0.0, 1.561)), "hydrogen cyanide": ("HCN", (-1.065, 0.0, 1.153))}  # fmt: skip
ANGLED = {"water": ("OHH", 0.958, 104.51), "hydrogen sulfide": ("SHH", 1.336, 92.1), "sulfur dioxide": ("SOO", 1.431, 119.3)}
CONFORMERS = 20


def radius(name: str, smiles: str) -> float | None:
    """Angstrom; None where neither the force field nor a table knows the molecule."""
    table = Chem.GetPeriodicTable()
    if name in BONDS:
        first, second = (a.GetSymbol() for a in Chem.AddHs(Chem.MolFromSmiles(smiles)).GetAtoms())
        return _of(
            np.array([table.GetAtomicWeight(e) for e in (first, second)]), np.array([[0.0, 0.0, 0.0], [0.0, 0.0, BONDS[name]]])
        )
    if name in LINEAR:
        atoms, along = LINEAR[name]
        return _of(np.array([table.GetAtomicWeight(e) for e in atoms]), np.array([[0.0, 0.0, z] for z in along]))
    if name in ANGLED:
        atoms, bond, angle = ANGLED[name]
        half = np.radians(0.5 * angle)
        places = bond * np.array([[0.0, 0.0, 0.0], [np.sin(half), np.cos(half), 0.0], [-np.sin(half), np.cos(half), 0.0]])
        return _of(np.array([table.GetAtomicWeight(e) for e in atoms]), places)
    molecule = Chem.AddHs(Chem.MolFromSmiles(smiles))
    if molecule.GetNumAtoms() == 1:
        return 0.0
    if molecule.GetNumAtoms() < 4 or AllChem.MMFFGetMoleculeProperties(molecule) is None:
        return None
    conformers = list(AllChem.EmbedMultipleConfs(molecule, CONFORMERS, randomSeed=11))
    if not conformers:
        return None
    energy = [e for _, e in AllChem.MMFFOptimizeMoleculeConfs(molecule, maxIters=5000)]
    places = molecule.GetConformer(conformers[int(np.argmin(energy))]).GetPositions()
    return _of(np.array([a.GetMass() for a in molecule.GetAtoms()]), places)


def _of(mass: Array, places: Array) -> float:
    places = places - mass @ places / mass.sum()
    inertia = sum(m * ((r @ r) * np.eye(3) - np.outer(r, r)) for m, r in zip(mass, places, strict=True))
    A, B, C = np.linalg.eigvalsh(inertia)
    square = C if A < 1e-3 * C else 2.0 * np.pi * np.cbrt(A * B * C)
    return float(np.sqrt(square / mass.sum()))


def main() -> None:
    """Print rows of constants.csv."""
    for c in sl.databank():
        found = radius(c.name, c.smiles)
        if found is not None:
            name = f'"{c.name}"' if "," in c.name else c.name
            print(f"{name},radius_of_gyration,{1e-10 * found:.4g},m,structure-radius")


if __name__ == "__main__":
    main()
