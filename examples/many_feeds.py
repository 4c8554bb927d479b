"""A month of the Marlwick drum, an hour a row: which hours lose most butyl acetate? The rows are made up.

python examples/many_feeds.py
"""

import csv
import random

import sleetfield as sl

NAMES = ["carbon dioxide", "hydrogen", "1-butanol", "n-butyl acetate", "water"]
rng = random.Random(4)
with open("hours.csv", "w", newline="") as file:
    writer = csv.writer(file)
    writer.writerow(["hour", "T [degC]", "P [bar]", *(f"{name} [kmol/h]" for name in NAMES)])
    for hour in range(720):
        solvents = [rng.gauss(1.8, 0.3), rng.gauss(1.8, 0.3), rng.gauss(3.0, 0.2)]
        writer.writerow(
            [hour, round(rng.gauss(4.0, 1.5), 2), "" if hour == 300 else 8.0, 52.0, 30.0, *(round(n, 3) for n in solvents)]
        )

drum = sl.System(NAMES, eos="PR", alpha="Mathias-Copeman", units="metric")
done = sl.flash_file(drum, "hours.csv", "states.csv", properties=["n_phases", "vapor_fraction", "composition"], overwrite=True)
print(done)

with open("states.csv", newline="") as file:
    good = [row for row in csv.DictReader(file) if not row["problem"]]
worst = max(good, key=lambda row: float(row["vapor y n-butyl acetate"]))
print(
    f"Hour {worst['hour']}: {100 * float(worst['vapor y n-butyl acetate']):.3f} mol % of butyl acetate in the gas, at {worst['T [degC]']} °C."
)
