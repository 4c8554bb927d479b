"""A cubic equation of state of one's own, between Soave's and Peng and Robinson's: it does all that the shipped ones do.

python examples/own_equation_of_state.py
"""

import math

import sleetfield as sl
from sleetfield.core.models.cubic import CubicModel

DELTA = 2.0
"""Of P = RT/(V - b) - a/((V + δ₁b)(V + δ₂b)) with δ₂ = (1 - δ₁)/(1 + δ₁): 1 makes Soave's equation, 1 + √2 Peng and Robinson's."""

# what the critical point makes of the two constants: Michelsen and Mollerup, Thermodynamic Models, 2nd ed. (2007), ch. 3
D = (1.0 + DELTA**2) / (1.0 + DELTA)
Y = 1.0 + math.cbrt(2.0 * (1.0 + DELTA)) + math.cbrt(4.0 / (1.0 + DELTA))


class MidwayModel(CubicModel):
    """The core's side: arrays in, arrays out."""

    delta1, delta2 = DELTA, (1.0 - DELTA) / (1.0 + DELTA)
    omega_a = (3.0 * Y**2 + 3.0 * Y * D + D**2 + D - 1.0) / (3.0 * Y + D - 1.0) ** 2
    omega_b = 1.0 / (3.0 * Y + D - 1.0)
    critical_volume_ratio = Y

    @staticmethod
    def m(omega):
        """Soave's constant."""
        return 0.46 + 1.56 * omega - 0.23 * omega**2


class Midway(sl.CubicEquation, name="midway"):
    """The user's side: kij, lij, temperature functions and translations come with it."""

    equation = MidwayModel


if __name__ == "__main__":
    gas = sl.System(["methane", "propane", "n-heptane"], eos="midway", kij={("methane", "n-heptane"): 0.03}, units="metric")
    z = {"methane": 0.80, "propane": 0.15, "n-heptane": "rest"}
    print(gas.flash(z, T="-20 degC", P="20 bar"))
    print(gas.envelope(z))
    print(gas.model)
