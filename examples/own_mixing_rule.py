"""A mixing rule of one's own for Peng and Robinson's equation: by an excess Gibbs energy, which the mixture has at infinite pressure.

    n²a = nb (Σ nᵢaᵢ/bᵢ - G/Λ),     G = ΣΣ nᵢnⱼgᵢⱼ/2n,     nb = Σ nᵢbᵢ,     Λ = ln[(2 + √2)/(2 - √2)]/2√2

(Huron and Vidal, Fluid Phase Equilib. 3 (1979) 255-271, here with the simplest of excess Gibbs energies.)

python examples/own_mixing_rule.py
"""

import math
from dataclasses import dataclass

import sleetfield as sl
from sleetfield.core.models.mixing import LinearCovolume, MixingRule
from sleetfield.core.models.peng_robinson import PengRobinson
from sleetfield.recipes.cubic import PR

LAMBDA = math.log((2.0 + math.sqrt(2.0)) / (2.0 - math.sqrt(2.0))) / (2.0 * math.sqrt(2.0))


class ByExcessEnergy(MixingRule):
    """The rule: ``g (C, C)`` are the gᵢⱼ, J/mol."""

    linear_covolume = True

    def __init__(self, roots_a, b, g):
        self.roots_a, self.b, self.g = roots_a, b, g

    def at(self, T):
        return Bound(self, T)


class Bound(LinearCovolume):
    """At given temperatures, with aᵢ/bᵢ and its first two derivatives."""

    def __init__(self, rule, T):
        self.rule, self.T = rule, T
        root, root1, root2 = rule.roots_a(T)
        self.pure = [part / rule.b for part in (root**2, 2.0 * root * root1, 2.0 * (root1**2 + root * root2))]

    def rows(self, index):
        return Bound(self.rule, self.T[index])

    def second(self, n):
        b, g = self.rule.b, self.rule.g
        total = n.sum(axis=-1)[:, None]
        q_i = n @ g
        q = 0.5 * (n * q_i).sum(axis=-1)[:, None]
        S = (n * self.pure[0]).sum(axis=-1)[:, None] - q / total / LAMBDA
        S_i = self.pure[0] - (q_i / total - q / total**2) / LAMBDA
        all_ = total[:, :, None]
        S_ij = -(g / all_ - (q_i[:, :, None] + q_i[:, None, :]) / all_**2 + 2.0 * q[:, :, None] / all_**3) / LAMBDA
        B = (n @ b)[:, None]
        D_ij = b[:, None] * S_i[:, None, :] + S_i[:, :, None] * b + B[:, :, None] * S_ij
        return (B * S)[:, 0], b * S + B * S_i, D_ij

    def attraction(self, n):
        D, D_i, _ = self.second(n)
        return D, 0.5 * D_i.T

    def by_temperature(self, n):
        B, (_, slope, curvature) = n @ self.rule.b, self.pure
        first, second = (n * slope).sum(axis=-1), (n * curvature).sum(axis=-1)
        return B * first, B * second, self.rule.b * first[:, None] + B[:, None] * slope


class PengRobinsonByExcess(PengRobinson):
    """The core's side: kᵢⱼ is taken for gᵢⱼ in units of 10 kJ/mol, so that it is fitted, kept and shown like any other."""

    def mixing_rule(self):
        return ByExcessEnergy(self.root_a, self.b, 1e4 * self.kij)


@dataclass(frozen=True)
class PRByExcess(PR, name="PR by excess energy"):
    """The user's side."""

    equation, bank, has_aqueous = PengRobinsonByExcess, "", False


if __name__ == "__main__":
    still = sl.System(["acetone", "n-hexane"], eos="PR by excess energy", kij={("acetone", "n-hexane"): 0.32})
    print(still.flash([0.4, 0.6], T=327.0, P=0.9e5))
    print(still.bubble([0.3, 0.7], P="1 atm"))
    print(still.azeotropes(P="1 atm"))
