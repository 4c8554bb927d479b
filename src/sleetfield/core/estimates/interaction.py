"""Binary interaction parameters from critical volumes.

kᵢⱼ = 1 - 8 √(VᵢVⱼ)/(Vᵢ^(1/3) + Vⱼ^(1/3))³: Chueh and Prausnitz, AIChE J. 13 (1967) 1099-1107, for non-polar mixtures.
"""

from __future__ import annotations

import numpy as np

from ..arrays import Array


def from_critical_volumes(Vc: Array) -> Array:
    """kᵢⱼ ``(C, C)`` from critical volumes ``(C,)`` in any unit."""
    root, cube_root = np.sqrt(Vc), np.cbrt(Vc)
    return np.asarray(1.0 - 8.0 * np.outer(root, root) / (cube_root[:, None] + cube_root) ** 3)
