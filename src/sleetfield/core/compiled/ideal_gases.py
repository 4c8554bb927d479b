"""Pure ideal gases in the compiled engine."""

from __future__ import annotations

from typing import NamedTuple

from ..arrays import Array, Kinds

POLYNOMIAL, HYPERBOLIC, OSCILLATORS = range(3)
"""The equations of heat capacities, as the engine numbers them."""


class PlainGases(NamedTuple):
    """How many coefficients each has; the equations ``(C,)``, -1 where none is known; coefficients ``(C, K)``, J/(mol K); ranges ``(C, 2)``; the
    antiderivatives of Cp and Cp/T at the temperature that they begin at ``(C, 2)``.
    """  # fmt: skip

    coefficients: int
    kinds: Kinds
    values: Array
    ranges: Array
    references: Array
