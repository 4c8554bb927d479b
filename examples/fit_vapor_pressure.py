"""Vapor pressures of acetone from the bench still, fitted; one bad point is found; the fit is used in a bubble point.

    python examples/fit_vapor_pressure.py

The measurements are the demo's: synthetic, and the file says so.
"""

from pathlib import Path

import sleetfield as sl

data = Path(sl.__file__).parent / "demo" / "bench_still_acetone.csv"
fit = sl.fit_correlation(data, "antoine", uncertainty=0.003)
print(fit)

acetone = fit.applied_to(sl.databank().find("acetone"))
# sl.store_component(acetone, "case") would keep it for every later calculation in this folder
solvent = sl.System([acetone, "1-butanol"], liquid="ideal", units="metric")
print(solvent.bubble({"acetone": 0.6, "1-butanol": "rest"}, P="1 atm"))
