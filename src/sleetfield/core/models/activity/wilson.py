"""Wilson's equation: Gᴱ/RT = -Σ xᵢ ln Σⱼ xⱼΛᵢⱼ, Λᵢⱼ = (vⱼ/vᵢ) exp(tᵢⱼ), tᵢⱼ = -(λᵢⱼ - λᵢᵢ)/RT.

Wilson, J. Am. Chem. Soc. 86 (1964) 127-130. It cannot describe two liquids. The molar volumes are constants, or follow from density
correlations, or are all one, when exp(t) is the ratio itself.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ...arrays import Array
from ...compiled.pair_loops import Equations, OfTemperature, equations
from ...correlations import LiquidDensity
from .pair_function import PairFunction
from .weighted_logarithm import WeightedLogarithm


class VolumeRatio:
    """ln Lⱼᵢ = ln Λᵢⱼ = ln(vⱼ/vᵢ) + tᵢⱼ, laid out as `WeightedLogarithm` wants it.

    Parameters
    ----------
    t : PairFunction
        tᵢⱼ, zero on the diagonal.
    ln_volume : (C,), or one LiquidDensity for each component
        Constant ln v, or what gives the volumes at each temperature.
    """

    def __init__(self, t: PairFunction, ln_volume: Array | Sequence[LiquidDensity]) -> None:
        self.t, self.ln_volume = t, ln_volume

    def _logarithms(self, T: Array) -> tuple[Array, Array, Array]:
        """ln v and its first two derivatives ``(C, N)``."""
        if isinstance(self.ln_volume, np.ndarray):
            constant = np.repeat(self.ln_volume[:, None], len(T), axis=1)
            return constant, np.zeros_like(constant), np.zeros_like(constant)
        rho, rise, bend = (np.stack([getattr(c, k)(T) for c in self.ln_volume]) for k in ("value", "slope", "curvature"))
        return -np.log(rho), -rise / rho, (rise / rho) ** 2 - bend / rho

    def _with(self, t: Array, ln_v: Array) -> Array:
        return t.swapaxes(0, 1) + ln_v[:, None] - ln_v[None, :]

    @property
    def plain(self) -> OfTemperature | None:
        """As the compiled engine takes it, volumes at each temperature apart; None where it has not their equations."""
        terms, coefficients = self.t.plain
        turned = coefficients.swapaxes(1, 2).copy()
        if isinstance(self.ln_volume, np.ndarray):
            turned[0] += self.ln_volume[:, None] - self.ln_volume[None, :]
        elif self.densities is None:
            return None
        return terms, turned

    @property
    def densities(self) -> Equations | None:
        """The densities that volumes follow from."""
        return None if isinstance(self.ln_volume, np.ndarray) else equations(self.ln_volume)

    def value(self, T: Array) -> Array:
        """Ln L ``(C, C, N)``."""
        return self._with(self.t.value(T), self._logarithms(T)[0])

    def slope(self, T: Array) -> Array:
        """Its derivative by temperature."""
        return self._with(self.t.slope(T), self._logarithms(T)[1])

    def curvature(self, T: Array) -> Array:
        """Its second derivative by temperature."""
        return self._with(self.t.curvature(T), self._logarithms(T)[2])

    def select(self, components: Sequence[int]) -> VolumeRatio:
        """The same for those components."""
        kept = self.ln_volume
        chosen = kept[list(components)] if isinstance(kept, np.ndarray) else [kept[i] for i in components]
        return VolumeRatio(self.t.select(components), chosen)


class Wilson(WeightedLogarithm):
    """Wilson's equation, see `VolumeRatio` for its parameters."""

    def __init__(self, t: PairFunction, ln_volume: Array | Sequence[LiquidDensity]) -> None:
        super().__init__(np.ones(t.coefficients.shape[1]), VolumeRatio(t, ln_volume))
