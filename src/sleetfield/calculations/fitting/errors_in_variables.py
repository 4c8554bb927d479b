"""Errors in all variables: of every point the true T or P and composition are sought along with the parameters (maximum likelihood).

For given parameters each point's true values are those that make the sum of all its squared residuals, over their uncertainties, the least; what is left of
the residuals is what the parameters are fitted to, with the derivatives that the true values don't make up for (Anderson, Abrams and Grens, AIChE J. 24 (1978)
20-29; Britt and Luecke, Technometrics 15 (1973) 233-247).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...core.equilibrium.parameter_derivatives import Phase, of_saturation_conditions
from ...core.equilibrium.saturation import Near
from ...core.models.contract import LIQUID, VAPOR
from ...data_sets import DataSet
from ...mixture import Mixture
from ..predictions import Predicted, Shifted
from ..predictions.vapor_liquid import slopes_of
from ..saturation import saturate

Array = NDArray[np.float64]

_ITERATIONS = 30
_SETTLED = 1e-9
"""Steps of the true values, over their uncertainties, at which they are found."""
_LONGEST = 5.0
_EDGE = 1e-9


class AllVariables:
    """Residuals of bubble points with every variable measured; begins where it ended the last time."""

    def __init__(self, system: Mixture, data: DataSet) -> None:
        self.data, self.given = data, data.given
        self.unknown = "P" if self.given == "T" else "T"
        there = data.used & np.isfinite(data["x"]).all(axis=1) & np.isfinite(data[self.given])
        self.points = np.flatnonzero(there)
        c = len(system) - 1
        x = data["x"][self.points]
        other = x if data.kind == "azeotrope" else data["y"][self.points]
        letters = [(f"x {n}", x[:, i]) for i, n in enumerate(system.names[:c])]
        vapor = [(f"y {n}", other[:, i]) for i, n in enumerate(system.names[:c])]
        columns = [(self.given, data[self.given][self.points]), *letters, (self.unknown, data[self.unknown][self.points]), *vapor]
        self.quantities = [name for name, _ in columns]
        self.measured = np.stack([values for _, values in columns], axis=1)
        self.uncertainty = np.stack(
            [data.standard_uncertainty(name.split(" ")[0], values, self.points) for name, values in columns], axis=1
        )
        pure = (x[:, :c] <= 0.0) | (x[:, :c] >= 1.0)
        # what a pure component's fractions are is not measured
        self.measured[:, 1 : 1 + c][pure] = x[:, :c][pure]
        self.measured[:, 2 + c :][pure] = np.nan
        self.fixed = np.concatenate([np.zeros((len(x), 1), dtype=bool), pure], axis=1)
        self.true = self.measured[:, : 1 + c].copy()
        self._near: Near | None = None

    @property
    def sought(self) -> int:
        """How many true values are sought, which add no degrees of freedom."""
        return int((~self.fixed).sum())

    def __call__(self, m: Mixture, shifts: Sequence[Shifted]) -> list[Predicted]:
        """Measured quantities beside the most likely true ones."""
        c = len(m) - 1
        u = self.uncertainty
        for _ in range(_ITERATIONS):
            value, A, found, z = self._at(m)
            r = np.nan_to_num((value - self.measured) / u)
            scaled = A / u[:, :, None] * u[:, None, : 1 + c]
            scaled[np.isnan(self.measured)] = 0.0
            normal = scaled.swapaxes(1, 2) @ scaled + 1e-12 * np.eye(1 + c)
            step = -np.linalg.solve(normal, (scaled.swapaxes(1, 2) @ r[:, :, None]))[:, :, 0]
            step = np.where(self.fixed | ~np.isfinite(step), 0.0, step)
            longest = np.abs(step).max(axis=1, keepdims=True)
            step *= np.minimum(1.0, _LONGEST / np.maximum(longest, 1e-300))
            if (longest < _SETTLED).all():
                break
            self.true = self._inside(self.true + step * u[:, : 1 + c])
        slopes = self._slopes(m, shifts, found, z)
        # what true values make up for is taken off
        weighted = np.nan_to_num(slopes / u[:, :, None])
        weighted[np.isnan(self.measured)] = 0.0
        taken = scaled @ np.linalg.solve(normal, scaled.swapaxes(1, 2) @ weighted)
        left = (weighted - taken) * u[:, :, None]
        result = []
        for q, name in enumerate(self.quantities):
            seen = np.isfinite(self.measured[:, q])
            if q <= c:
                seen &= ~self.fixed[:, q]
            if seen.any():
                result.append(Predicted(name, self.points[seen], self.measured[seen, q], u[seen, q], value[seen, q], left[seen, q]))
        return result

    def _inside(self, true: Array) -> Array:
        fractions = true[:, 1:]
        kept = np.where(self.fixed[:, 1:], fractions, np.clip(fractions, _EDGE, 1.0 - _EDGE))
        return np.concatenate([np.maximum(true[:, :1], 0.2 * self.measured[:, :1]), kept], axis=1)

    def _at(self, m: Mixture) -> tuple[Array, Array, tuple[Array, ...], Array]:
        """All quantities at the true values ``(N, Q)``, their derivatives by these ``(N, Q, C)``, and the points."""
        c = len(m) - 1
        z = np.concatenate([self.true[:, 1:], 1.0 - self.true[:, 1:].sum(axis=1, keepdims=True)], axis=1)
        z = np.maximum(z, 0.0)
        found = saturate(m, "bubble", self.given, self.true[:, 0], z, self._near)
        sought = getattr(found, self.unknown)
        self._near = sought, found.incipient
        value = np.concatenate([self.true, sought[:, None], found.incipient[:, :c]], axis=1)
        A = np.zeros((len(z), value.shape[1], 1 + c))
        A[:, range(1 + c), range(1 + c)] = 1.0
        rows = np.flatnonzero(np.isfinite(found.T) & np.isfinite(found.P))
        by_log, moved = of_saturation_conditions(
            m.phase_model, self.given, found.T[rows], found.P[rows], Phase(z[rows], LIQUID), Phase(found.incipient[rows], VAPOR)
        )
        A[rows, 1 + c] = by_log * sought[rows, None]
        A[rows, 2 + c :] = moved[:, :, :c].swapaxes(1, 2)
        A[np.repeat(self.fixed[:, None], A.shape[1], axis=1)] = 0.0
        return value, A, (found.T, found.P, found.incipient), z

    def _slopes(self, m: Mixture, shifts: Sequence[Shifted], found: tuple[Array, ...], z: Array) -> Array:
        c = len(m) - 1
        slopes = np.zeros((len(z), len(self.quantities), len(shifts)))
        by_unknown, moved = slopes_of(m, "bubble", self.given, z, found, shifts)
        slopes[:, 1 + c] = by_unknown
        slopes[:, 2 + c :] = moved[:, :, :c].swapaxes(1, 2)
        return slopes
