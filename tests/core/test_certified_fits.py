"""The fitting core against certified values: NIST Statistical Reference Datasets, nonlinear regression (itl.nist.gov/div898/strd), from both of their starts."""

import numpy as np
import pytest

from sleetfield.core.fitting.least_squares import fit

MISRA = (
    [77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760.0],
    [10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05, 61.01, 66.40, 75.47, 81.78],
)

SETS = {
    # name: data, model, certified values, residual standard deviation, both starts
    "Misra1a": (MISRA, lambda x, b: b[0] * (1.0 - np.exp(-b[1] * x)), [2.3894212918e02, 5.5015643181e-04], 1.0187876330e-01, ([500.0, 1e-4], [250.0, 5e-4])),
    "Misra1b": (MISRA, lambda x, b: b[0] * (1.0 - (1.0 + 0.5 * b[1] * x) ** -2.0), [3.3799746163e02, 3.9039091287e-04], 7.9301471998e-02, ([500.0, 1e-4], [300.0, 2e-4])),
    "Misra1c": (MISRA, lambda x, b: b[0] * (1.0 - (1.0 + 2.0 * b[1] * x) ** -0.5), [6.3642725809e02, 2.0813627256e-04], 5.8428615257e-02, ([500.0, 1e-4], [600.0, 2e-4])),
    "Misra1d": (MISRA, lambda x, b: b[0] * b[1] * x / (1.0 + b[1] * x), [4.3736970754e02, 3.0227324449e-04], 6.8568272111e-02, ([500.0, 1e-4], [450.0, 3e-4])),
    "DanWood": (
        ([1.309, 1.471, 1.490, 1.565, 1.611, 1.680], [2.138, 3.421, 3.597, 4.340, 4.882, 5.660]),
        lambda x, b: b[0] * x ** b[1], [7.6886226176e-01, 3.8604055871e00], 3.2853114039e-02, ([1.0, 5.0], [0.7, 4.0]),
    ),
    "Rat42": (
        ([9.0, 14.0, 21.0, 28.0, 42.0, 57.0, 63.0, 70.0, 79.0], [8.930, 10.800, 18.590, 22.330, 39.350, 56.110, 61.730, 64.620, 67.080]),
        lambda x, b: b[0] / (1.0 + np.exp(b[1] - b[2] * x)), [7.2462237576e01, 2.6180768402e00, 6.7359200066e-02], 1.1587725499e00, ([100.0, 1.0, 0.1], [75.0, 2.5, 0.07]),
    ),
    "BoxBOD": (
        ([1.0, 2.0, 3.0, 5.0, 7.0, 10.0], [109.0, 149.0, 149.0, 191.0, 213.0, 224.0]),
        lambda x, b: b[0] * (1.0 - np.exp(-b[1] * x)), [2.1380940889e02, 5.4723748542e-01], 1.7088072423e01, ([1.0, 1.0], [100.0, 0.75]),
    ),
    "MGH09": (
        ([4.0, 2.0, 1.0, 0.5, 0.25, 0.167, 0.125, 0.1, 0.0833, 0.0714, 0.0625], [0.1957, 0.1947, 0.1735, 0.16, 0.0844, 0.0627, 0.0456, 0.0342, 0.0323, 0.0235, 0.0246]),
        lambda x, b: b[0] * (x**2 + x * b[1]) / (x**2 + x * b[2] + b[3]), [1.9280693458e-01, 1.9128232873e-01, 1.2305650693e-01, 1.3606233068e-01], 6.6279236551e-03,
        ([25.0, 39.0, 41.5, 39.0], [0.25, 0.39, 0.415, 0.39]),
    ),
}  # fmt: skip


@pytest.mark.parametrize("start", [0, 1])
@pytest.mark.parametrize("name", SETS)
def test_certified_values_are_met_to_six_digits(name, start):
    (x, y), model, certified, deviation, starts = SETS[name]
    x, y = np.array(x), np.array(y)
    found = fit(lambda b: model(x, b), y, np.ones_like(y), np.array(starts[start]))
    np.testing.assert_allclose(found.parameters, certified, rtol=1e-6)
    assert found.standard_deviation == pytest.approx(deviation, rel=1e-6)


def test_certified_standard_errors():
    """Misra1a: 2.7070075241 and 7.2668688436e-06."""
    (x, y), model, certified, _, starts = SETS["Misra1a"]
    x, y = np.array(x), np.array(y)

    def slopes(b):
        return np.stack([1.0 - np.exp(-b[1] * x), b[0] * x * np.exp(-b[1] * x)], axis=1)

    found = fit(lambda b: model(x, b), y, np.ones_like(y), np.array(starts[1]), slopes=slopes)
    np.testing.assert_allclose(found.parameters, certified, rtol=1e-7)
    np.testing.assert_allclose(found.standard_error, [2.7070075241e00, 7.2668688436e-06], rtol=1e-6)
