"""Can 1-butanol and water be distilled apart, and what does the decanter do instead?"""

import sleetfield as sl

solvents = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL", units="metric")
print(solvents.check(P="1 atm"))

for azeotrope in solvents.azeotropes(P="1 atm"):
    print("Azeotrope:", azeotrope)

split = solvents.liquid_split({"acetone": 0.02, "1-butanol": 0.24, "water": "rest"}, T="30 degC")
print(split)
print(f"{len(split.history)} steps, the last one with differences of ln f below {split.history['residual'].iloc[-1]:.0e}")
