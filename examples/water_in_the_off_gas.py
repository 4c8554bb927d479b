"""The off-gas drum of the Marlwick plant under pressure: what the gas holds of water, and the water of hydrocarbons, with hydrogen bonds and without.

python examples/water_in_the_off_gas.py
"""

import sleetfield as sl

feed = {"hydrogen": 0.30, "methane": 0.30, "propane": 0.10, "n-hexane": 0.15, "methanol": 0.01, "water": "rest"}
names, dry = list(feed), {"kij": "published"}

states = {}
for eos in ("CPA", "PR"):
    drum = sl.System(names, eos=eos, units="metric", **dry).flash(feed, T="30 degC", P="20 bar")
    states[eos] = drum
    print(drum.in_short())

# mole per million of water in the gas and of n-hexane in the water, and where methanol goes
for eos, drum in states.items():
    gas, water = drum.phases[0], max(drum.phases, key=lambda p: p.composition["water"])
    oil = next(p for p in drum.phases if p.composition["n-hexane"] > 0.3)
    print(
        f"{eos:4} water in the gas {1e6 * gas.composition['water']:5.0f} ppm, in the oil {1e6 * oil.composition['water']:5.0f} ppm; "
        f"n-hexane in the water {1e6 * water.composition['n-hexane']:7.3f} ppm; methanol, oil to water 1 : {water.composition['methanol'] / oil.composition['methanol']:.0f}"
    )
print(
    "Of the sites in the water free:",
    {name: f"{free:.1%}" for name, free in max(states["CPA"].phases, key=lambda p: p.composition["water"]).free_sites.items()},
)
