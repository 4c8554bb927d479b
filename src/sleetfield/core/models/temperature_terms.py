"""The functions of temperature that binary parameters are sums of: 1, 1/T, ln T, T and 1/T², with T in K."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from ..arrays import Array

TERMS = ("1", "1/T", "ln T", "T", "1/T2")
"""Their names, in the order that coefficients have."""

Function = Callable[[Any], Any]

VALUES: tuple[Function, ...] = (np.ones_like, lambda T: 1.0 / T, np.log, lambda T: T, lambda T: 1.0 / T**2)
SLOPES: tuple[Function, ...] = (np.zeros_like, lambda T: -1.0 / T**2, lambda T: 1.0 / T, np.ones_like, lambda T: -2.0 / T**3)
CURVATURES: tuple[Function, ...] = (
    np.zeros_like,
    lambda T: 2.0 / T**3,
    lambda T: -1.0 / T**2,
    np.zeros_like,
    lambda T: 6.0 / T**4,
)
"""The terms and their first and second derivative by temperature."""


def varying(coefficients: Array) -> list[int]:
    """Which of the terms behind the first have coefficients other than zero."""
    return [k for k in range(1, len(coefficients)) if coefficients[k].any()]
