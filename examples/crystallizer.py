"""The Marlwick crystallizer: how cold, for how much benzoic acid from how much solvent, and what is to be taken away on the way?

python examples/crystallizer.py
"""

import sleetfield as sl

crystallizer = sl.System(["benzoic acid", "ethanol", "acetone"], liquid="ideal", solids=["benzoic acid"], units="metric")
feed = {"benzoic acid": 0.25, "ethanol": 0.50, "acetone": "rest"}

warm = crystallizer.flash(feed, T="60 degC", P="1 atm", flow="10 kmol/h")
print(warm)

cold = warm.to(T="5 degC")
print(cold)
crystals = cold.phases[-1]
print(
    f"Crystals of {max(crystals.composition, key=crystals.composition.get)}: {crystals.fraction:.1%} of the feed; duty {cold.duty / 1e3:.1f} kW"
)

cooling = crystallizer.table(
    feed, T=["5 degC", "15 degC", "25 degC", "35 degC", "45 degC"], P="1 atm", properties=["fraction", "H"]
)
print(cooling.to_string(index=False))

# the gas side of the works: frost and dry ice beside cold off-gas
off_gas = sl.System(["hydrogen", "carbon dioxide", "water"], eos="PR", solids="all", units="metric")
print(off_gas.flash({"hydrogen": 0.5, "carbon dioxide": 0.48, "water": 0.02}, T="-20 degC", P="5 bar"))
print(off_gas.flash({"hydrogen": 0.5, "carbon dioxide": 0.48, "water": 0.02}, T="-100 degC", P="5 bar"))
