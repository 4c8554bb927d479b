"""The chilled knock-out drum in the off-gas of the Marlwick Works: how much solvent leaves with the gas?

    python examples/knock_out_drum.py

One call flashes the whole range of drum temperatures; a state that splits in a way that two phases can't show says so in its notes.
"""

import numpy as np

import sleetfield as sl

off_gas = sl.System(["hydrogen", "carbon dioxide", "acetone", "1-butanol", "ethanol"], eos="SRK", units="metric")
z = sl.normalize({"hydrogen": 38.0, "carbon dioxide": 58.0, "acetone": 2.6, "1-butanol": 0.8, "ethanol": 0.6})

drum = off_gas.flash(z, T=np.linspace(233.15, 293.15, 7), P="8 bar")
print(drum.to_frame(properties=["vapor_fraction", "H", "composition"]).iloc[:, :9].to_string(index=False))
for note in drum.notes:
    print("note:", note)

acetone = off_gas.position("acetone")
lost = drum.of_phases("composition")[:, 0, acetone] * drum.vapor_fraction / z["acetone"]
for T, share in zip(drum.T, lost, strict=True):
    print(f"at {T - 273.15:6.1f} °C {100 * share:5.1f} % of the acetone leaves with the gas")
