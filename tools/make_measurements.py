"""Lab 2's synthetic measurements: computed, given noise with a fixed seed, written into src/sleetfield/demo.

python tools/make_measurements.py
"""

from pathlib import Path

import numpy as np

import sleetfield as sl

DEMO = Path(__file__).parents[1] / "src/sleetfield/demo"
ATM = 101325.0
SEED = 2031


def rounded(data: sl.DataSet, digits: dict[str, int]) -> sl.DataSet:
    """The same with as many digits as a laboratory would write down."""
    values = {q: np.round(v, digits[q]) if q in digits else v for q, v in data.values.items()}
    for q in ("x", "y", "x'", "x''"):
        if q in values:
            values[q][:, -1] = np.round(1.0 - values[q][:, :-1].sum(axis=1), 10)
    doubts = {q: np.array([float(f"{v:.1g}") for v in u]) for q, u in data.uncertainty.items()}
    values["T"] = np.round(values["T"] - 273.15, 2) + 273.15
    return sl.DataSet(data.names, values, data.kind, doubts, None, data.source, {}, data.solid, data.remark)


def main() -> None:
    """Write every set."""
    noise = np.random.default_rng(SEED)
    names = ("1-butanol", "water")
    broth = sl.System(names, liquid="NRTL", vapor="virial")
    T = np.linspace(283.15, 363.15, 9)
    states = [broth.flash([0.3, 0.7], T=t, P=3e5) for t in T]
    liquids = np.sort([[p.composition["1-butanol"] for p in s.phases] for s in states], axis=1)
    poor, rich = liquids.T * (1.0 + np.array([[0.01], [0.004]]) * noise.normal(size=(2, len(T))))
    said = f"synthetic: computed by NRTL; noise with seed {SEED}"
    solubility = sl.DataSet.of(
        names, T=T, x_first=poor, x_second=rich, uncertainty={"x'": 0.01 * poor, "x''": 0.004 * rich}, source="lab 2, mutual solubility", remark=said
    )  # fmt: skip
    x = np.array([0.004, 0.008, 0.012, 0.018, 0.10, 0.30, 0.55, 0.65, 0.75, 0.85, 0.92, 0.97])
    points = broth.bubble(np.stack([x, 1.0 - x], axis=1), P=ATM)
    boiling = sl.DataSet.of(
        names, P=ATM, T=points.T + 0.05 * noise.normal(size=len(x)), x=x, y=points.y[:, 0] + 0.003 * noise.normal(size=len(x)),
        uncertainty={"T": 0.05, "y": 0.003}, source="lab 2, boiling points", remark=said,
    )  # fmt: skip
    pair = ("benzoic acid", "ethanol")
    crystallizer = sl.System(pair, liquid="NRTL", solids=["benzoic acid"]).with_parameters(
        {"tau benzoic acid / ethanol": 0.9, "tau ethanol / benzoic acid": -0.7}
    )
    T = 273.15 + np.arange(5.0, 61.0, 5.0)
    dissolved = [float(_saturated(crystallizer, t) * (1.0 + 0.01 * noise.normal())) for t in T]
    solid = sl.DataSet.of(
        pair, T=T, x=dissolved, solid="benzoic acid", uncertainty={"x": "1 %"}, source="lab 2, benzoic acid in ethanol", remark=said
    )  # fmt: skip
    for data, name, digits in (
        (solubility, "lab_2_1-butanol_water_solubility.csv", {"x'": 5, "x''": 4}),
        (boiling, "lab_2_1-butanol_water_boiling.csv", {"y": 4}),
        (solid, "lab_2_benzoic_acid_in_ethanol.csv", {"x": 4}),
    ):
        sl.write_data(rounded(data, digits), DEMO / name, units="metric", overwrite=True)


def _saturated(system: sl.System, T: float) -> float:
    """What a liquid dissolves at most: that of a feed with crystals in it."""
    state = system.flash([0.6, 0.4], T=T, P=ATM)
    return next(p for p in state.phases if p.kind == "liquid").composition["benzoic acid"]


if __name__ == "__main__":
    main()
