"""Fits of correlations, their statistics, and the files they come from."""

from pathlib import Path

import numpy as np
import pandas as pd
import pytest

import sleetfield as sl
from sleetfield.measurements import read_columns

STILL = Path(sl.__file__).parent / "demo" / "bench_still_acetone.csv"
ACETONE = sl.databank().find("acetone")
T = np.linspace(280.0, 345.0, 24)
P = np.exp(ACETONE.vapor_pressure.value(T))


@pytest.mark.parametrize(("form", "worst"), [("antoine", 3e-4), ("riedel form", 1e-9), ("wagner", 2e-5)])
def test_exact_data_come_back(form, worst):
    fit = sl.fit_correlation((T, P), form, Tc=508.2, Pc=47.01e5)
    assert np.abs(fit.deviation).max() < worst
    assert fit.correlation.T_min == T[0]


def test_parameters_of_an_antoine_equation_come_back():
    from sleetfield.core.correlations.vapor_pressure import Antoine

    true = (14.3145 + np.log(1e3), 2756.22, 228.060 - 273.15)
    fit = sl.fit_correlation((T, np.exp(Antoine(true, 0.0, 1e9).value(T))), "antoine")
    np.testing.assert_allclose(list(fit.parameters.values()), true, rtol=1e-6)


def test_heat_capacities():
    grid = np.linspace(300.0, 900.0, 15)
    cubic = sl.databank().find("cyclohexene").heat_capacity
    fit = sl.fit_correlation((grid, cubic.value(grid)), "cubic")
    np.testing.assert_allclose(list(fit.parameters.values()), cubic.coefficients, rtol=1e-8)
    own = fit.applied_to(ACETONE)
    assert own.heat_capacity is fit.correlation
    assert "fitted to 15 measurements" in own.sources["heat_capacity"]
    assert ACETONE.sources["heat_capacity"] != own.sources["heat_capacity"]


@pytest.mark.parametrize(("form", "worst"), [("extended rackett form", 1e-7), ("rackett form", 3e-4), ("modified rackett", 3e-3)])
def test_liquid_densities(form, worst):
    known = ACETONE.liquid_density
    grid = np.linspace(250.0, 350.0, 12)
    fit = sl.fit_correlation((grid, known.value(grid) * ACETONE.molar_mass), form, component=ACETONE)
    assert np.abs(fit.deviation).max() < worst
    own = fit.applied_to(ACETONE)
    np.testing.assert_allclose(own.liquid_density.value(grid), known.value(grid), rtol=worst)
    same = sl.fit_correlation((grid, fit.measured), form, Tc="508.2 K", Pc="47.01 bar", molar_mass="58.08 g/mol")
    assert same.parameters == pytest.approx(fit.parameters, rel=1e-9)


def test_a_liquids_heat_capacity():
    grid = np.linspace(200.0, 320.0, 9)
    fit = sl.fit_correlation((grid, ACETONE.liquid_heat_capacity.value(grid)), "cubic", of="liquid_heat_capacity")
    own = fit.applied_to(ACETONE)
    assert own.liquid_heat_capacity is fit.correlation
    assert own.heat_capacity is ACETONE.heat_capacity


def test_uncertainties_from_the_file(tmp_path):
    path = tmp_path / "density.csv"
    rows = [(t, 1e3 - 0.8 * t + (40.0 if t == 300 else 0.0), 50.0 if t == 300 else 0.1) for t in range(260, 341, 10)]
    path.write_text("T [K],density [kg/m3],uncertainty [kg/m3]\n" + "\n".join(f"{a},{b},{c}" for a, b, c in rows))
    fit = sl.fit_correlation(path, "rackett form", component=ACETONE)
    assert int(np.abs(fit.deviation).argmax()) == 4
    assert np.delete(np.abs(fit.deviation), 4).max() < 2e-3


def test_confidence_intervals_cover_the_truth_as_often_as_they_say():
    """A straight line with known noise, many times over: 95 % intervals hold the true value in about 95 % of the fits."""
    rng = np.random.default_rng(5)
    grid, true = np.linspace(300.0, 500.0, 20), np.array([40.0, 0.1])
    held, deviations = [], []
    for _ in range(300):
        fit = sl.fit_correlation((grid, true[0] + true[1] * grid + rng.normal(0.0, 0.5, 20)), "linear", uncertainty=0.5)
        held.append(np.abs(fit.statistics.parameters - true) < fit.statistics.interval)
        deviations.append(fit.statistics.standard_deviation)
    assert 0.92 < np.mean(held) < 0.98
    assert np.mean(deviations) == pytest.approx(1.0, abs=0.05)


def test_linear_fit_against_closed_forms():
    rng = np.random.default_rng(8)
    grid = np.linspace(300.0, 400.0, 12)
    values = 30.0 + 0.2 * grid + rng.normal(0.0, 0.3, 12)
    fit = sl.fit_correlation((grid, values), "linear")
    X = np.stack([np.ones(12), grid], axis=1)
    best = np.linalg.solve(X.T @ X, X.T @ values)
    s2 = ((values - X @ best) ** 2).sum() / 10
    np.testing.assert_allclose(fit.statistics.parameters, best, rtol=1e-8)
    np.testing.assert_allclose(fit.statistics.standard_error, np.sqrt(np.diag(s2 * np.linalg.inv(X.T @ X))), rtol=1e-6)
    corr = np.linalg.inv(X.T @ X)
    assert fit.statistics.correlation[0, 1] == pytest.approx(corr[0, 1] / np.sqrt(corr[0, 0] * corr[1, 1]), rel=1e-6)


def test_uncertainties_weigh():
    spoiled = P.copy()
    spoiled[:4] *= 1.10
    trust = np.where(np.arange(24) < 4, 1.0, 0.001)
    weighed, plain = (sl.fit_correlation((T, spoiled), "antoine", uncertainty=u) for u in (trust, None))
    clean = slice(4, None)
    assert np.abs(weighed.deviation[clean]).max() < 1e-3 < np.abs(plain.deviation[clean]).max()


def test_the_spoiled_point_of_the_bench_still_is_named():
    fit = sl.fit_correlation(STILL, "antoine", uncertainty=0.003)
    assert fit.outliers == [13]
    assert any("Point 14" in note for note in fit.notes)
    text = str(fit)
    assert "on average" in text
    assert {"standard error", "95 % from", "correlation with B"} <= set(fit.to_frame().columns)


def test_too_many_parameters_are_noticed():
    rng = np.random.default_rng(3)
    grid = np.linspace(300.0, 320.0, 8)
    fit = sl.fit_correlation((grid, 50.0 + rng.normal(0.0, 0.5, 8)), "cubic")
    assert any("don't determine" in note for note in fit.notes)


@pytest.mark.parametrize("figure", ["data", "residuals"])
def test_figures(tmp_path, figure):
    fit = sl.fit_correlation(STILL, "antoine")
    assert sl.save(fit, tmp_path / "fit.png", units="metric", figure=figure).stat().st_size > 10_000
    with pytest.raises(sl.InputError, match="data, residuals"):
        fit.plot(figure="colour")


def test_anchoring_shifts_a_curve_through_a_point():
    for name in ("acetone", "neopentane"):
        component = sl.databank().find(name)
        before = np.exp(component.vapor_pressure.value(np.array([280.0, 300.0])))
        shifted = sl.anchored(component, T=300.0, P=float(before[1]) * 1.05)
        after = np.exp(shifted.vapor_pressure.value(np.array([280.0, 300.0])))
        np.testing.assert_allclose(after, 1.05 * before, rtol=1e-9)
        assert "shifted by +5 %" in shifted.sources["vapor_pressure"]
    with pytest.raises(sl.InputError, match="no vapor-pressure"):
        sl.anchored(sl.Component(name="x", Tc=500.0), T=300.0, P=1e4)


@pytest.mark.parametrize(
    ("arguments", "options", "message"),
    [(((T, P), "magic"), {}, "antoine, riedel form"), (((T[:3], P[:3]), "antoine"), {}, "at least 4"), (((T, -P), "antoine"), {}, "positive"),
     (((T, P[:5]), "antoine"), {}, "one length"), (((T, P), "wagner"), {}, "needs Tc and Pc"), (((T, P), "wagner"), {"Tc": 300.0, "Pc": 47e5}, "ends at Tc"),
     (((T, P), "antoine"), {"uncertainty": 0.0}, "uncertainty"), (((T, P), "antoine"), {"uncertainty": [1.0, 2.0]}, "one for each of the 24"),
     (((T, P), "antoine"), {"of": "liquid_density"}, "It is of vapor_pressure"), (((T, P), "rackett form"), {"Tc": 508.2}, "molar_mass"), (((T, P), "antoine"), {"omega": 0.3}, "takes no omega")],
)  # fmt: skip
def test_wrong_fits(arguments, options, message):
    with pytest.raises(sl.InputError, match=message):
        sl.fit_correlation(*arguments, **options)


def test_csv_and_xlsx_read_the_same(tmp_path):
    frame = pd.read_csv(STILL)
    frame.to_excel(tmp_path / "still.xlsx", index=False)
    wanted = {"T": "temperature", "P": "pressure"}
    one, two = read_columns(STILL, wanted), read_columns(tmp_path / "still.xlsx", wanted)
    np.testing.assert_allclose(one["T"], frame["T [degC]"] + 273.15)
    np.testing.assert_allclose(one["P"], 1e3 * frame["P [kPa]"])
    np.testing.assert_array_equal(one["P"], two["P"])


@pytest.mark.parametrize(
    ("content", "message"),
    [("T [K],P [Pa]\n300,abc\n", r"line 2, column 2 \(P\).*no number"), ("T [K],P [Pa]\n300,=1+1\n", "line 2.*formula"), ("T [K],T [K],P [Pa]\n1,1,1\n", "twice"),
     ("T [K]\n300\n", "no column 'P'"), ("T [m],P [Pa]\n300,1e5\n", "not a temperature"), ("T [foo],P [Pa]\n300,1e5\n", "not known"), ("", "empty"),
     ("T [K],P [Pa]\n300\n", "line 2, column 2"), ("T [K],P [Pa]\n300,inf\n", "not finite"), ("T [K],P [Pa]\n300,3 barg\n", "no number")],
)  # fmt: skip
def test_hostile_csv(tmp_path, content, message):
    path = tmp_path / "bad.csv"
    path.write_text(content)
    with pytest.raises(sl.InputError, match=message):
        read_columns(path, {"T": "temperature", "P": "pressure"})


def test_hostile_files(tmp_path):
    wanted = {"T": "temperature"}
    binary = tmp_path / "latin.csv"
    binary.write_bytes("T [K]\n300\ngr\xfc\xdfe\n".encode("latin-1"))
    with pytest.raises(sl.InputError, match="UTF-8"):
        read_columns(binary, wanted)
    fake = tmp_path / "fake.xlsx"
    fake.write_text("this is no workbook")
    with pytest.raises(sl.InputError, match="no readable workbook"):
        read_columns(fake, wanted)
    with pytest.raises(sl.InputError, match="can't be read"):
        read_columns(tmp_path / "missing.csv", wanted)
    with pytest.raises(sl.InputError, match=r"neither \.csv"):
        read_columns(tmp_path / "x.ods", wanted)
    long = tmp_path / "long.csv"
    long.write_text("T [K]\n" + "300\n" * 200_001)
    with pytest.raises(sl.InputError, match="more than 200000 rows"):
        read_columns(long, wanted)
    from openpyxl import Workbook

    book = Workbook()
    book.active.append(["T [K]"])
    book.active.append(["=1+1"])
    book.save(tmp_path / "formula.xlsx")
    with pytest.raises(sl.InputError, match="formula"):
        read_columns(tmp_path / "formula.xlsx", wanted)


@pytest.mark.parametrize("quantity", ["gas_viscosity", "gas_conductivity"])
def test_thin_gases_are_fitted_by_their_logarithm(quantity):
    methane, T = sl.databank().find("methane"), np.linspace(220.0, 560.0, 12)
    true = getattr(methane, quantity).value(T)
    fit = sl.fit_correlation((T, true * (1.0 + 0.004 * np.random.default_rng(5).standard_normal(12))), "logarithmic", of=quantity)
    assert np.abs(fit.fitted / true - 1.0).max() < 0.02
    own = fit.applied_to(methane)
    attribute = {"gas_viscosity": "viscosity", "gas_conductivity": "thermal_conductivity"}[quantity]
    (gas,) = sl.System([own], eos="PR").flash([1.0], T=350.0, P=1e3).phases
    assert getattr(gas, attribute) == pytest.approx(np.interp(350.0, T, true), rel=0.01)
    # beyond the measurements as the power of T that it is at their end
    far = np.log(getattr(own, quantity).value(np.array([600.0, 1200.0, 2400.0])))
    assert far[2] - far[1] == pytest.approx(far[1] - far[0])


@pytest.mark.parametrize(
    ("form", "quantity", "label"),
    [
        ("vogel", "liquid_viscosity", "$\\mu$, viscosity [mPa s]"),
        ("andrade", "liquid_viscosity", "$\\mu$, viscosity [mPa s]"),
        ("guggenheim", "surface_tension", "$\\sigma$, surface tension [mN/m]"),
        ("guggenheim with exponent", "surface_tension", "$\\sigma$, surface tension [mN/m]"),
        ("riedel conductivity", "liquid_conductivity", "$\\lambda$, thermal conductivity [W/(m K)]"),
    ],
)
def test_transport_properties_of_liquids_are_fitted_as_others_are(form, quantity, label, tmp_path):
    rng = np.random.default_rng(7)
    toluene = sl.databank().find("toluene")
    T = np.linspace(280.0, 350.0, 12)
    true = getattr(toluene, quantity).value(T)
    fit = sl.fit_correlation((T, true * (1.0 + 0.004 * rng.standard_normal(12))), form, component=toluene)
    assert np.abs(fit.fitted / true - 1.0).max() < 0.02
    assert fit.plot().get_ylabel() == label
    own = fit.applied_to(toluene)
    assert float(getattr(own, quantity).value(np.array([300.0]))[0]) == pytest.approx(np.interp(300.0, T, true), rel=0.02)
    # what was fitted is what a liquid's transport properties rest on
    (liquid,) = sl.System([own], eos="PR").flash([1.0], T=300.0, P="1 bar").phases
    attribute = {"liquid_conductivity": "thermal_conductivity", "surface_tension": "surface_tension"}.get(quantity, "viscosity")
    assert getattr(liquid, attribute) == pytest.approx(np.interp(300.0, T, true), rel=0.03)
    # and from a file, with its unit
    unit = {
        "liquid_viscosity": "viscosity [cP]",
        "surface_tension": "surface_tension [mN/m]",
        "liquid_conductivity": "thermal_conductivity [mW/(m K)]",
    }[quantity]
    lines = [f"T [K],{unit}", *(f"{t:.3f},{1e3 * v:.6f}" for t, v in zip(T, true, strict=True))]
    path = tmp_path / "measured.csv"
    path.write_text("\n".join(lines), encoding="utf-8")
    assert np.abs(sl.fit_correlation(path, form, component=toluene).deviation).max() < 0.02
