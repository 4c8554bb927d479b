"""A component that the databank lacks, in a solvent: bubble points by Raoult's law, and the envelope by an equation of state.

    python examples/own_component.py

Pentyl sleetate is made up; so are its constants.
"""

import sleetfield as sl
from sleetfield.core.correlations.vapor_pressure import Antoine

sleetate = sl.Component(
    name="pentyl sleetate",
    Tc=612.0,
    Pc=29.5e5,
    omega=0.45,
    Tb=424.0,
    molar_mass=0.1302,
    vapor_pressure=Antoine((14.20, 3300.0, 193.6), 300.0, 450.0),
)
print(sleetate)

ideal = sl.System(["acetone", sleetate], liquid="ideal", vapor="ideal", units="metric")
print(ideal.bubble({"acetone": [0.1, 0.3, 0.5, 0.7, 0.9], "pentyl sleetate": [0.9, 0.7, 0.5, 0.3, 0.1]}, P="1 atm"))

cubic = sl.System(["acetone", sleetate], eos="PR", units="metric")
envelope = cubic.envelope([0.5, 0.5], quality=[0.5])
print(envelope)
