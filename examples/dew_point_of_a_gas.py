"""Will the boiler gas of the Marlwick Works drop liquid? Dew points, both of them, and how much liquid lies between.

python examples/dew_point_of_a_gas.py
"""

import sleetfield as sl

gas = sl.System(["nitrogen", "methane", "ethane", "propane", "n-pentane", "n-heptane"], eos="PR", units="metric")
z = {"nitrogen": 0.012, "methane": "rest", "ethane": 0.043, "propane": 0.015, "n-pentane": 0.002, "n-heptane": 0.001}

dew = gas.dew(z, T="-25 degC")
print(dew)
print("Dew pressures at -25 °C:", ", ".join(f"{point.P / 1e5:.2f} bar" for point in dew.all))

line = gas.flash(z, T="-25 degC", P="45 bar", flow="600 kmol/h")
print(line)

dropout = gas.table(z, T=["-25 degC"], P=["10 bar", "30 bar", "50 bar", "70 bar"], properties=["vapor_fraction", "density"])
print(dropout.to_string(index=False))
