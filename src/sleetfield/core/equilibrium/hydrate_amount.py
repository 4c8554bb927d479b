"""How much hydrate there is at equilibrium with fluids.

Unknown is what is left of water and of each guest beside the hydrate, as ln of moles for each mole of feed; what is not left is in the hydrate,

    mᵢ = zᵢ - leftᵢ,    mᵢ / m_w = xᵢ(f) / x_w(f),    s(f) = 0,    f = f(fluids that are left),

x being the composition of a hydrate beside these fluids, and s how far they are supersaturated with it. Newton's method, with derivatives by differences of
flashes, starts from a hydrate of one composition, of which as much is taken away as leaves the fluids saturated.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from ..arrays import ABSENT, Array, Index
from ..brackets import narrowed
from ..models.contract import PhaseModel
from ..models.hydrate import Hydrate
from .onset import ln_fugacities, supersaturations

_ALMOST = 1.0 - 1e-10
"""Share of what there could be of a hydrate before something is used up."""
_LEFT = 0.3, 0.03, 1e-3, 1e-5, 1e-7, 1e-9, 1e-11
_FILLED = 0.92
"""Of all cages, where guests are nearly used up."""
_STEP = 1e-5
_EVALUATIONS = 80
_SETTLED = 1e-8


class HydrateAmount(NamedTuple):
    """Hydrates at ``N`` states: which of them ``(N,)``, -1 for none; moles of each component in it for each mole of feed ``(N, C)``, NaN where they were not
    found; ln f of the fluids beside it ``(N, C)``.
    """

    crystal: Index
    moles: Array
    ln_f: Array


def hydrate_amount(fluid: PhaseModel, hydrates: Sequence[Hydrate], T: Array, P: Array, z: Array) -> HydrateAmount:
    """The hydrate that is most supersaturated, in equilibrium with the fluids."""
    with np.errstate(all="ignore"):
        over = supersaturations(fluid, hydrates, T, P, z)
        crystal = np.where(over.max(axis=1) > 0.0, over.argmax(axis=1), -1)
        moles, ln_f = np.zeros(z.shape), ln_fugacities(fluid, T, P, z)
        for row in np.flatnonzero(crystal >= 0):
            beside = _Beside(fluid, hydrates[crystal[row]], float(T[row]), float(P[row]), z[row])
            left = next(
                (found for start in beside.starts(ln_f[row]) if np.isfinite(found := beside.solved(start)).all()),
                np.full(len(z[row]), np.nan),
            )
            moles[row] = z[row] - left
            ln_f[row] = beside.ln_f(left[None])[0]
    return HydrateAmount(crystal, moles, ln_f)


class _Beside:
    """Fluids beside a hydrate at one state."""

    def __init__(self, fluid: PhaseModel, hydrate: Hydrate, T: float, P: float, z: Array) -> None:
        self.fluid, self.hydrate, self.T, self.P, self.z = fluid, hydrate, T, P, z
        fits = hydrate.A.sum(axis=0) > 0.0
        self.guests = np.flatnonzero(fits & (z > 0.0))
        self.unknown = np.append(self.guests, hydrate.water)

    def _at(self, n: int) -> tuple[Array, Array]:
        return np.full(n, self.T), np.full(n, self.P)

    def ln_f(self, left: Array) -> Array:
        """Of fluids of which ``left (M, C)`` moles are left."""
        some = np.maximum(left, ABSENT)
        return ln_fugacities(self.fluid, *self._at(len(left)), some / some.sum(axis=1, keepdims=True))

    def starts(self, ln_f: Array) -> Iterator[Array]:
        """What may be left: beside a hydrate of the composition that begins to form, then where guests are nearly used up."""
        yield self._beside_first(ln_f)
        for share in _LEFT:
            left = self.z.copy()
            left[self.guests] *= share
            water = float((self.z - left).sum()) / (_FILLED * float(self.hydrate.cages.sum()))
            left[self.hydrate.water] = max(self.z[self.hydrate.water] - water, share * self.z[self.hydrate.water])
            yield left

    def _beside_first(self, ln_f: Array) -> Array:
        x = self.hydrate.composition(np.array([self.T]), ln_f[None])[0]
        most = float((self.z[x > 0.0] / x[x > 0.0]).min())

        def error(u: Array, _: Index) -> Array:
            left = self.z - (u * most)[:, None] * x
            return self.hydrate.supersaturation(self.fluid, *self._at(len(u)), self.ln_f(left))

        u, _, _ = narrowed(error, np.zeros(1), np.full(1, _ALMOST), 1e-6)
        return np.asarray(self.z - float(np.clip(np.nan_to_num(u[0], nan=0.5), 0.0, _ALMOST)) * most * x)

    def _errors(self, left: Array) -> Array:
        """What has to become zero ``(M, unknowns)``."""
        T, P = self._at(len(left))
        ln_f = self.ln_f(left)
        x, moles, water = self.hydrate.composition(T, ln_f), self.z - left, self.hydrate.water
        size = np.minimum(self.z[self.guests], self.z[water])
        ratio = (moles[:, self.guests] - moles[:, [water]] * x[:, self.guests] / x[:, [water]]) / size
        return np.column_stack([ratio, self.hydrate.supersaturation(self.fluid, T, P, ln_f)])

    def solved(self, left: Array) -> Array:
        """What is left at equilibrium ``(C,)``; NaN where Newton's method, in a region of trust, does not lead there from here."""
        from scipy.optimize import least_squares

        def all_left(u: Array) -> Array:
            some = np.tile(self.z, (*u.shape[:-1], 1))
            some[..., self.unknown] = np.exp(u)
            return some

        def errors(u: Array) -> Array:
            return np.asarray(self._errors(all_left(u)[None])[0])

        def slopes(u: Array) -> Array:
            steps = _STEP * np.eye(len(u))
            both = self._errors(all_left(np.concatenate([u + steps, u - steps])))
            return np.asarray((both[: len(u)] - both[len(u) :]).T / (2.0 * _STEP))

        most = np.log(self.z[self.unknown])
        start = np.minimum(np.log(left[self.unknown]), most - _STEP)
        try:
            found = least_squares(
                errors, start, slopes, bounds=(-np.inf, most), xtol=1e-14, ftol=1e-14, gtol=1e-14, max_nfev=_EVALUATIONS
            )
        except ValueError:  # no fluids were found somewhere
            return np.full(len(self.z), np.nan)
        return all_left(found.x) if float(np.abs(found.fun).max()) < _SETTLED else np.full(len(self.z), np.nan)
