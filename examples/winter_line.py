"""The Marlwick boiler-gas line in winter, its gas not quite dry: does it plug before it drops liquid, by how much is it too cold, and how much methanol keeps it open?

python examples/winter_line.py
"""

import sleetfield as sl

gas = {
    "nitrogen": 0.012,
    "carbon dioxide": 0.008,
    "ethane": 0.043,
    "propane": 0.015,
    "n-butane": 0.003,
    "n-heptane": 0.0012,
    "methanol": 0.0,
    "water": 0.00015,
    "methane": "rest",
}
line = sl.System(list(gas), eos="CPA", units="metric")

print(line.dew(gas, P="45 bar").in_short())
print(line.freezing(gas, P="45 bar").in_short())
hydrate = line.hydrate(gas, P=[10e5, 20e5, 30e5, 45e5, 60e5, 80e5])
print(hydrate)

kelvin, _ = hydrate.distance("-25 degC", "45 bar")
print(f"The line in winter is {-kelvin:.1f} K below where hydrates begin.")

dose = line.inhibitor_dose("methanol", gas, T=["-25 degC", "-15 degC", "-5 degC"], P="45 bar")
print(dose)
print(f"For 600 kmol/h of gas that is {600.0 * dose.moles[0] * 32.042:.1f} kg/h of methanol at -25 °C.")
