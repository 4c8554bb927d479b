"""Constants from group contributions: Joback and Reid, Chem. Eng. Commun. 57 (1987) 233-243.

Tb = 198.2 + ΣTb,  Tc = Tb/(0.584 + 0.965 ΣTc - (ΣTc)²),  Pc = (0.113 + 0.0032 n_atoms - ΣPc)⁻² bar,  Vc = 17.5 + ΣVc cm3/mol,
Tm = 122.5 + ΣTm,  ΔHf = 68.29 + ΣΔHf,  ΔGf = 53.88 + ΣΔGf,  ΔHfus = -0.88 + ΣΔHfus,  ΔHv(Tb) = 15.30 + ΣΔHv, all kJ/mol,
Cp = Σa - 37.93 + (Σb + 0.210) T + (Σc - 3.91e-4) T² + (Σd + 2.06e-7) T³ J/(mol K)
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple


class JobackEstimate(NamedTuple):
    """Estimated constants in SI; ``heat_capacity`` holds the coefficients of a cubic polynomial in T."""

    Tb: float
    Tc: float
    Pc: float
    Vc: float
    Tm: float
    H_formation: float
    G_formation: float
    heat_of_fusion: float
    heat_of_vaporization: float
    heat_capacity: tuple[float, float, float, float]


def joback(total: Mapping[str, float], atoms: int, Tb: float | None = None) -> JobackEstimate:
    """Constants from the sums of contributions ``total`` and the number of atoms; a measured ``Tb`` (K) improves Tc much."""
    boiling = 198.2 + total["Tb"] if Tb is None else Tb
    return JobackEstimate(
        Tb=boiling,
        Tc=boiling / (0.584 + 0.965 * total["Tc"] - total["Tc"] ** 2),
        Pc=1e5 * (0.113 + 0.0032 * atoms - total["Pc"]) ** -2,
        Vc=1e-6 * (17.5 + total["Vc"]),
        Tm=122.5 + total["Tm"],
        H_formation=1e3 * (68.29 + total["H_formation"]),
        G_formation=1e3 * (53.88 + total["G_formation"]),
        heat_of_fusion=1e3 * (-0.88 + total["heat_of_fusion"]),
        heat_of_vaporization=1e3 * (15.30 + total["heat_of_vaporization"]),
        heat_capacity=(total["a"] - 37.93, total["b"] + 0.210, total["c"] - 3.91e-4, total["d"] + 2.06e-7),
    )
