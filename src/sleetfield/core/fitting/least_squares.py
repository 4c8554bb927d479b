"""Nonlinear least squares with the statistics that a fit is judged by.

Residuals are scaled by their standard uncertainties. The covariance of the parameters is s² (JᵀJ)⁻¹ with the Jacobian at the optimum
and s² the residual sum of squares over the degrees of freedom (Bates and Watts, Nonlinear Regression Analysis, 1988, ch. 2). Where large residuals count for
less than their squares, s² is Σψ²/ν over the square of the mean of ψ', ψ the derivative of what a residual counts (Huber, Robust Statistics, 1981, ch. 7).
Leverages are the diagonal of J(JᵀJ)⁻¹Jᵀ; the influence of a measurement is Cook's distance (Technometrics 19 (1977) 15-18);
stray ones are found by externally studentized residuals (Cook and Weisberg, Residuals and Influence in Regression, 1982, ch. 2).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..arrays import Array

Residuals = Callable[[Array], Array]


@dataclass(frozen=True)
class Loss:
    """What a residual r counts: r², or 2C²(√(1 + r²/C²) - 1), which for r far above ``C`` is hardly more than 2C|r|."""

    name: Literal["linear", "soft_l1"] = "linear"
    C: float = 1.0

    def pull(self, r: Array) -> tuple[Array, Array]:
        """ψ, half the derivative of what it counts, and ψ'."""
        if self.name == "linear":
            return r, np.ones_like(r)
        root = np.sqrt(1.0 + (r / self.C) ** 2)
        return r / root, root**-3


SQUARES = Loss()
CONFIDENCE = 0.95
BY_CHANCE = 0.01
"""How often a set of good measurements may have one that is called stray."""


@dataclass(frozen=True)
class Fit:
    """Parameters ``(M,)`` fitted to ``N`` measurements.

    Attributes
    ----------
    parameters, standard_error, interval : (M,)
        Values, standard errors, and half widths of the 95 % confidence intervals.
    covariance, correlation : (M, M)
    residuals : (N,)
        Measured less fitted, over their standard uncertainties.
    scaled : (N,)
        The same over the residual standard deviation.
    leverage, influence : (N,)
        How much of its own fitted value a measurement decides; Cook's distance.
    studentized : (N,)
        Residuals over the standard deviation that they would have in a fit without them, which a stray point can't widen.
    standard_deviation : float
        Of the scaled residuals; near 1 where the uncertainties given are right.
    freedom : int
        Degrees of freedom.
    sum_of_squares : float
    steps : int
        Evaluations of the residuals.
    ended : str
        Why the search ended.
    """

    parameters: Array
    standard_error: Array
    interval: Array
    covariance: Array
    correlation: Array
    residuals: Array
    scaled: Array
    leverage: Array
    influence: Array
    studentized: Array
    standard_deviation: float
    freedom: int
    sum_of_squares: float
    steps: int
    ended: str

    @property
    def stray(self) -> NDArray[np.bool_]:
        """Which measurements ``(N,)`` are so far off that one in a hundred sets of them would have one there by chance."""
        from scipy.stats import t as student

        if self.freedom < 2:
            return np.zeros(len(self.residuals), dtype=bool)
        limit = float(student.ppf(1.0 - 0.5 * BY_CHANCE / len(self.residuals), self.freedom - 1))
        return np.asarray(np.abs(self.studentized) > limit)


_ENDED = {
    1: "gradient is zero",
    2: "sum of squares is settled",
    3: "parameters are settled",
    4: "sum of squares and parameters are settled",
}


def fit(
    model: Callable[[Array], Array],
    measured: Array,
    uncertainty: Array,
    start: Array,
    *,
    scale: Array | None = None,
    slopes: Callable[[Array], Array] | None = None,
    tolerance: float = 1e-14,
) -> Fit | None:
    """Fit ``model(parameters) (N,)`` to ``measured (N,)``; None where it does not converge.

    ``scale (M,)`` is a usual size of the parameters, that of ``start (M,)`` where none is given. There must be more measurements than parameters.
    ``slopes(parameters) (N, M)`` are the model's derivatives, by differences where none are given.
    """

    def jacobian(p: Array) -> Array:
        assert slopes is not None
        return np.asarray(slopes(p) / uncertainty[:, None])

    return fit_residuals(
        lambda p: np.asarray((model(p) - measured) / uncertainty),
        None if slopes is None else jacobian,
        start,
        scale=scale,
        tolerance=tolerance,
    )


def fit_residuals(
    residuals: Residuals,
    jacobian: Callable[[Array], Array] | None,
    start: Array,
    *,
    scale: Array | None = None,
    bounds: tuple[Array, Array] | None = None,
    loss: Loss = SQUARES,
    tolerance: float = 1e-14,
    without_freedom: int = 0,
) -> Fit | None:
    """Make ``residuals(parameters) (N,)``, fitted less measured over their uncertainties, small; None where that does not converge, or nothing depends on
    the parameters.

    ``jacobian(parameters) (N, M)`` are their derivatives, by differences where none is given; ``bounds`` are the lowest and highest parameters ``(M,)``;
    ``without_freedom`` is how many residuals add no degree of freedom.
    """
    from scipy.optimize import least_squares

    if scale is None:
        scale = np.where(start == 0.0, 1.0, np.abs(start))
    low, high = (np.full(len(start), -np.inf), np.full(len(start), np.inf)) if bounds is None else bounds

    # unknowns are the changes from the start, so that the first step does not depend on how near to zero that is
    def scaled_residuals(u: Array) -> Array:
        return residuals(start + u * scale)

    def scaled_jacobian(u: Array) -> Array:
        assert jacobian is not None
        return jacobian(start + u * scale) * scale

    with np.errstate(all="ignore"):
        found = least_squares(
            scaled_residuals,
            np.zeros(len(start)),
            jac="2-point" if jacobian is None else scaled_jacobian,
            bounds=((low - start) / scale, (high - start) / scale),
            method="trf",
            x_scale="jac",
            loss=loss.name,
            f_scale=loss.C,
            ftol=tolerance,
            xtol=tolerance,
            gtol=tolerance,
            max_nfev=2000,
        )
    if found.status < 1 or not np.isfinite(found.fun).all():
        return None
    J = np.asarray(found.jac) if jacobian is None else scaled_jacobian(found.x)
    if not J.any():
        return None
    freedom = len(found.fun) - len(start) - without_freedom
    return _judged(start + found.x * scale, found.fun, J, scale, freedom, loss, (int(found.nfev), _ENDED[int(found.status)]))


def _judged(parameters: Array, r: Array, J: Array, scale: Array, freedom: int, loss: Loss, search: tuple[int, str]) -> Fit:
    """With its statistics; ``r`` is fitted less measured."""
    from scipy.stats import t as student

    psi, slope = loss.pull(r)
    mean_slope = max(float(slope.mean()), 1e-3)
    deviation = float(np.sqrt((psi**2).sum() / max(freedom, 1))) / mean_slope
    left, singular, right = np.linalg.svd(J, full_matrices=False)
    kept = singular > singular[0] * 1e-15
    inverse = (right.T / np.maximum(singular, singular[0] * 1e-15) ** 2) @ right
    error = np.sqrt(np.diag(inverse))
    leverage = (left[:, kept] ** 2).sum(axis=1)
    spread = (len(parameters) * deviation**2 * np.maximum(1.0 - leverage, 1e-12) ** 2) if deviation > 0.0 else np.inf
    standard_error = deviation * error * scale
    own = np.maximum(1.0 - leverage, 1e-12)
    if loss.name == "linear":
        others = np.maximum((r**2).sum() - r**2 / own, 1e-12 * (r**2).sum()) / max(freedom - 1, 1)
    else:
        others = np.full(len(r), deviation**2)
    with np.errstate(all="ignore"):
        studentized = np.where(others > 0.0, -r / np.sqrt(others * own), 0.0)
    return Fit(
        parameters=parameters,
        standard_error=standard_error,
        interval=student.ppf(0.5 + 0.5 * CONFIDENCE, max(freedom, 1)) * standard_error,
        covariance=deviation**2 * inverse * scale[:, None] * scale,
        correlation=inverse / (error[:, None] * error),
        residuals=-r,
        scaled=-r / deviation if deviation > 0.0 else np.zeros_like(r),
        leverage=leverage,
        studentized=np.asarray(studentized),
        influence=np.asarray(psi**2 * leverage / spread),
        standard_deviation=deviation,
        freedom=freedom,
        sum_of_squares=float((r**2).sum()),
        steps=search[0],
        ended=search[1],
    )
