"""An equation of state of one's own from its Helmholtz energy: hard spheres after Carnahan and Starling, with van der Waals' attraction.

    Aᴿ/nRT = (4η - 3η²)/(1 - η)² - aρ/RT,     η = bρ/4,     a = ΣΣ xᵢxⱼ √(aᵢaⱼ)(1 - kᵢⱼ),     b = Σ xᵢbᵢ

(Carnahan and Starling, AIChE J. 18 (1972) 1184-1189; a = 0.4964 R²T_c²/P_c and b = 0.1873 RT_c/P_c put the critical point where it is.)

python examples/own_helmholtz_equation.py
"""

from dataclasses import dataclass

import numpy as np

import sleetfield as sl
from sleetfield.core.constants import R
from sleetfield.core.models.from_critical_constants import FromCriticalConstants
from sleetfield.core.models.helmholtz import First, HelmholtzModel
from sleetfield.recipes.interactions import KIJ, interaction_notes, interactions

OMEGA_A, OMEGA_B = 0.49638805, 0.18729457
"""What the critical conditions dP/dV = d²P/dV² = 0 make of a and b."""


class SpheresModel(FromCriticalConstants, HelmholtzModel):
    """The core's side: Aᴿ/VRT and its first derivatives, for real and complex arrays."""

    critical_packing = 0.1304

    def __init__(self, Tc, Pc, omega, kij):
        self.Tc, self.Pc, self.omega, self.kij, self.n_components = Tc, Pc, omega, kij, len(Tc)
        self.root_a, self.b = np.sqrt(OMEGA_A / Pc) * R * Tc, OMEGA_B * R * Tc / Pc

    def first(self, T, rho):
        total, eta = rho.sum(axis=-1), rho @ self.b / 4.0
        spheres = (4.0 * eta - 3.0 * eta**2) / (1.0 - eta) ** 2
        by_eta = (4.0 - 2.0 * eta) / (1.0 - eta) ** 3
        a_i = self.root_a * ((rho * self.root_a) @ (1.0 - self.kij))
        a = (rho * a_i).sum(axis=-1)
        by_rho = spheres[:, None] + (total * by_eta)[:, None] * self.b / 4.0 - 2.0 * a_i / (R * T)[:, None]
        return First(total * spheres - a / (R * T), a / (R * T**2), by_rho)

    def covolume(self, T, n):
        return n @ self.b / 4.0

    def select(self, components):
        i = np.asarray(components)
        return SpheresModel(self.Tc[i], self.Pc[i], self.omega[i], self.kij[np.ix_(i, i)])


@dataclass(frozen=True)
class Spheres(sl.EquationOfState, name="spheres"):
    """The user's side: what it needs of components, and kij."""

    symbols = (KIJ,)
    needs = ("Tc", "Pc", "omega")
    takes = ("kij",)

    def parameters(self, who, given):
        """Kij of every pair."""
        return interactions(who, given.get("kij"), self.bank_name)

    def build(self, who, values):
        """The core's model."""
        return SpheresModel(*(who.constants(k, self.name) for k in self.needs), values.pairs("kij", who, mirrored=1.0)[0])

    def notes(self, who, values):
        """On interaction parameters."""
        return interaction_notes(values)


if __name__ == "__main__":
    gas = sl.System(["methane", "ethane", "propane"], eos="spheres", kij={("methane", "propane"): 0.02}, units="metric")
    z = {"methane": 0.70, "ethane": 0.20, "propane": "rest"}
    print(gas.flash(z, T="-60 degC", P="20 bar"))
    print(gas.critical(z))
    print(gas.table(z, T=[220.0, 240.0], P=20e5, properties=["vapor_fraction", "H", "density"]))
