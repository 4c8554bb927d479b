"""What transport properties of mixtures rest on."""

from __future__ import annotations

from dataclasses import dataclass

from ..arrays import Array


@dataclass(frozen=True, eq=False)
class TransportConstants:
    """Of each component ``(C,)``: kg/mol, K, Pa, m3/mol, acentric factor, dipole moment in debye, Chung's association factor."""

    M: Array
    Tc: Array
    Pc: Array
    Vc: Array
    omega: Array
    dipole: Array
    association: Array
