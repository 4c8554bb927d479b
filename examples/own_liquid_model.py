"""An activity model of one's own, with one parameter for each pair: Gᴱ/RT = ½ ΣΣ Aᵢⱼxᵢxⱼ. It does all that the shipped ones do.

python examples/own_liquid_model.py
"""

import numpy as np

import sleetfield as sl
from sleetfield.core.models.activity import ActivityEvaluation, ActivityModel
from sleetfield.core.models.activity.pair_function import PairFunction


class QuadraticModel(ActivityModel):
    """The core's side: ln γ and its derivatives, component by component."""

    n_bound = 1

    def __init__(self, A):
        self.A, self.n_components = A, A.coefficients.shape[1]

    def bind(self, T):
        return (self.A.value(T),)

    @staticmethod
    def _parts(x, A):
        """Σⱼ Aᵢⱼxⱼ ``(C, N)`` and Gᴱ/RT ``(N,)``."""
        sums = np.einsum("ijn,jn->in", A, x)
        return sums, 0.5 * (x * sums).sum(axis=0)

    def ln_gamma(self, x, bound):
        sums, g = self._parts(x, bound[0])
        return sums - g

    def evaluate(self, x, T, bound):
        sums, g = self._parts(x, bound[0])
        slopes, g_T = self._parts(x, self.A.slope(T))
        _, g_TT = self._parts(x, self.A.curvature(T))
        return ActivityEvaluation(sums - g, slopes - g_T, g_TT, lambda: bound[0] - sums[:, None] - sums[None, :] + 2.0 * g)

    def select(self, components):
        return QuadraticModel(self.A.select(components))


class Quadratic(sl.PairedLiquid, name="quadratic"):
    """The user's side: what parameters there are, and how the core's model is made of them."""

    symbols = (sl.Symbol("A", "ln γ at infinite dilution, both ways", low=-8.0, high=8.0),)

    def of_pair(self, pair, p):
        """One parameter, the same for both orders."""
        yield sl.Parameter("A", pair.names, p.function(p.a12, 1.0, "a12"))

    def ideal_pair(self, pair):
        """Zero."""
        yield sl.Parameter("A", pair.names, sl.OfTemperature.read(0.0, "A"))

    def build(self, who, values):
        """The core's model."""
        return QuadraticModel(PairFunction(values.pairs("A", who, mirrored=1.0)))


if __name__ == "__main__":
    pair = sl.PairParameters(a12=(1.9, 0.8), a21=(1.9, 0.8), source="bench still (synthetic)")
    still = sl.System(["acetone", "n-hexane"], liquid="quadratic", parameters={("acetone", "n-hexane"): pair}, units="metric")
    print(still.parameters)
    print(still.azeotropes(P="1 atm"))
    print(still.flash([0.5, 0.5], T="50 degC", P="1 bar"))
