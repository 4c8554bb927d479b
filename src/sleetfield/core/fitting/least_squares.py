"""Nonlinear least squares with the statistics that a fit is judged by.

Residuals are scaled by their standard uncertainties. The covariance of the parameters is s² (JᵀJ)⁻¹ with the Jacobian at the optimum
and s² the residual sum of squares over the degrees of freedom (Bates and Watts, Nonlinear Regression Analysis, 1988, ch. 2).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.optimize import least_squares
from scipy.stats import t as student

from ..arrays import Array


@dataclass(frozen=True)
class Fit:
    """Parameters ``(M,)`` fitted to ``N`` measurements.

    Attributes
    ----------
    parameters, standard_error, interval : (M,)
        Values, standard errors, and half widths of the 95 % confidence intervals.
    correlation : (M, M)
        Correlation matrix of the parameters.
    residuals : (N,)
        Measured less fitted, in the quantity that was fitted, not scaled.
    scaled : (N,)
        The same over their standard uncertainties and the residual standard deviation.
    standard_deviation : float
        Of the scaled residuals; near 1 where the uncertainties given are right.
    """

    parameters: Array
    standard_error: Array
    interval: Array
    correlation: Array
    residuals: Array
    scaled: Array
    standard_deviation: float


def fit(
    model: Callable[[Array], Array],
    measured: Array,
    uncertainty: Array,
    start: Array,
    *,
    scale: Array | None = None,
    slopes: Callable[[Array], Array] | None = None,
    bounds: tuple[Array, Array] | None = None,
    loss: Literal["linear", "soft_l1"] = "linear",
    tolerance: float = 1e-14,
) -> Fit | None:
    """Fit ``model(parameters) (N,)`` to ``measured (N,)``; None where it does not converge.

    ``scale (M,)`` is a usual size of the parameters, that of ``start (M,)`` where none is given. There must be more measurements than parameters. ``slopes(parameters) (N, M)`` are the model's
    derivatives, by differences where none are given; ``bounds`` are the lowest and highest parameters ``(M,)``; ``loss`` is one of scipy's.
    """
    if scale is None:
        scale = np.where(start == 0.0, 1.0, np.abs(start))
    low, high = (np.full(len(start), -np.inf), np.full(len(start), np.inf)) if bounds is None else bounds

    def residuals(u: Array) -> Array:
        return np.asarray((model(u * scale) - measured) / uncertainty)

    def jacobian(u: Array) -> Array:
        assert slopes is not None
        return np.asarray(slopes(u * scale) * scale / uncertainty[:, None])

    with np.errstate(all="ignore"):
        found = least_squares(
            residuals,
            start / scale,
            jac="2-point" if slopes is None else jacobian,
            bounds=(low / scale, high / scale),
            method="trf",
            x_scale="jac",
            loss=loss,
            ftol=tolerance,
            xtol=tolerance,
            gtol=tolerance,
            max_nfev=2000,
        )
    if found.status < 1 or not np.isfinite(found.fun).all():
        return None
    freedom = len(measured) - len(start)
    variance = float((found.fun**2).sum()) / freedom
    _, singular, right = np.linalg.svd(np.asarray(found.jac), full_matrices=False)
    inverse = (right.T / np.maximum(singular, singular[0] * 1e-15) ** 2) @ right
    error = np.sqrt(np.diag(inverse))
    correlation = inverse / (error[:, None] * error)
    standard_error = np.sqrt(variance) * error * scale
    deviation = float(np.sqrt(variance))
    scaled = -found.fun / deviation if deviation > 0.0 else np.zeros_like(found.fun)
    return Fit(
        found.x * scale,
        standard_error,
        student.ppf(0.975, freedom) * standard_error,
        correlation,
        -found.fun * uncertainty,
        scaled,
        deviation,
    )
