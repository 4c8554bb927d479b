"""Constants from group contributions of first order: Constantinou and Gani, AIChE J. 40 (1994) 1697-1710.

exp(Tb/204.359 K) = ΣTb,  exp(Tc/181.128 K) = ΣTc,  (Pc/bar - 1.3705)^-½ - 0.100220 = ΣPc,  Vc = -0.00435 + ΣVc m3/kmol,
exp(Tm/102.425 K) = ΣTm,  ΔHf = 10.835 + ΣΔHf,  ΔGf = -14.828 + ΣΔGf kJ/mol

Groups are UNIFAC's. What its second order adds, groups of groups, is not here.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np


def constantinou_gani(total: Mapping[str, float]) -> dict[str, float]:
    """Constants in SI from the sums of contributions ``total``, by the same keys; NaN where a group's contribution is not known, or their sum means nothing."""
    return {
        "Tb": _logarithm(204.359, total["Tb"]),
        "Tc": _logarithm(181.128, total["Tc"]),
        "Pc": 1e5 * (1.3705 + (0.100220 + total["Pc"]) ** -2),
        "Vc": 1e-3 * (-0.00435 + total["Vc"]),
        "Tm": _logarithm(102.425, total["Tm"]),
        "H_formation": 1e3 * (10.835 + total["H_formation"]),
        "G_formation": 1e3 * (-14.828 + total["G_formation"]),
    }


def _logarithm(scale: float, total: float) -> float:
    return scale * float(np.log(total)) if total > 0.0 else float("nan")
