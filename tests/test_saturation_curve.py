"""Saturation of single components: identities, published boiling points, figures."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.constants import ATMOSPHERE

NONPOLAR = ["methane", "ethane", "propane", "n-butane", "isobutane", "n-pentane", "isopentane", "n-hexane", "n-heptane", "n-octane", "n-nonane",
            "n-decane", "cyclopentane", "cyclohexane", "ethylene", "propylene", "1-butene", "benzene", "toluene", "ethylbenzene", "o-xylene",
            "m-xylene", "p-xylene", "nitrogen", "oxygen", "argon", "carbon monoxide", "hydrogen sulfide", "carbon tetrachloride", "chloroform"]  # fmt: skip


@pytest.mark.parametrize("eos", ["PR", "SRK"])
@pytest.mark.parametrize("name", NONPOLAR)
def test_normal_boiling_points(name, eos):
    """Both equations were fitted to vapor pressures of such substances between the boiling and the critical point, to 1 to 2 %
    (Soave, 1972; Peng and Robinson, 1976, Table 1), which is well under 0.5 % in temperature."""
    boiling = sl.System([name], eos=eos).bubble([1.0], P="1 atm").T
    assert boiling == pytest.approx(sl.databank().find(name).Tb, rel=0.006)


@pytest.mark.parametrize(("name", "model"), [("propane", {"eos": "PR"}), ("acetone", {"eos": "SRK"}), ("n-octane", {"eos": "PR"})])
def test_clapeyron(name, model):
    """dP/dT = ΔH/(T ΔV), an identity between numbers that come from different derivatives."""
    system = sl.System([name], **model)
    T = np.linspace(0.6, 0.98, 12) * system.components[0].Tc
    h = 1e-4
    low, mid, high = (system.saturation_curve(T=T * f) for f in (1 - h, 1.0, 1 + h))
    slope = (high.P - low.P) / (2 * h * T)
    np.testing.assert_allclose(slope, mid.heat_of_vaporization / (T * (mid.vapor["V"] - mid.liquid["V"])), rtol=2e-6)


def test_ideal_vapor_obeys_clausius_clapeyron():
    curve = sl.System(["ethanol"], liquid="ideal").saturation_curve(T=[300.0, 350.0, 400.0])
    slope = sl.databank().find("ethanol").vapor_pressure.slope(curve.T)
    np.testing.assert_allclose(curve.heat_of_vaporization, 8.31446261815324 * curve.T**2 * slope, rtol=1e-9)
    assert "P" not in curve.references


# heat of vaporization at the normal boiling point, kJ/mol: Smith, Van Ness and Abbott, 7th ed. (2005), Table B.2
HEATS = {
    "acetone": 29.10,
    "benzene": 30.72,
    "n-butane": 22.44,
    "n-hexane": 28.85,
    "n-heptane": 31.77,
    "toluene": 33.18,
    "n-pentane": 25.79,
}


@pytest.mark.parametrize("name", list(HEATS))
def test_heats_of_vaporization(name):
    curve = sl.System([name], eos="PR").saturation_curve(T=[sl.databank().find(name).Tb])
    assert curve.heat_of_vaporization[0] / 1e3 == pytest.approx(HEATS[name], rel=0.04)


def test_the_phases_become_alike_at_the_critical_point():
    curve = sl.System(["propane"], eos="PR").saturation_curve()
    assert (np.diff(curve.heat_of_vaporization) < 0.0).all()
    assert (np.diff(curve.density("liquid")) < 0.0).all()
    assert (np.diff(curve.density("vapor")) > 0.0).all()
    assert curve.heat_of_vaporization[-1] < 0.15 * curve.heat_of_vaporization[0]
    assert curve.T[-1] == pytest.approx(369.83, rel=1e-3)


def test_residual_properties():
    """Of saturated vapors near the ideal gas they are small; what a liquid's are beyond the vapor's is the heat of vaporization."""
    curve = sl.System(["propane"], eos="PR").saturation_curve(T=[200.0, 250.0, 300.0])
    difference = curve.vapor["H_residual"] - curve.liquid["H_residual"]
    np.testing.assert_allclose(difference, curve.heat_of_vaporization, rtol=1e-9)
    assert (curve.vapor["H_residual"] < 0.0).all()
    assert abs(curve.vapor["H_residual"][0]) < 150.0
    entropy = curve.vapor["S_residual"] - curve.liquid["S_residual"]
    np.testing.assert_allclose(entropy, curve.heat_of_vaporization / curve.T, rtol=1e-9)
    assert "liquid H_residual [J/mol]" in curve.to_frame().columns


def test_above_the_critical_point_there_is_nothing_and_it_is_said():
    curve = sl.System(["propane"], eos="PR").saturation_curve(T=[300.0, 369.8, 400.0])
    assert np.isfinite(curve.P).tolist() == [True, True, False]
    assert any("above the critical point" in note for note in curve.notes)


def test_deviation_from_the_databank_is_stated():
    curve = sl.System(["propane"], eos="PR").saturation_curve()
    assert any("% on average" in note for note in curve.notes)
    assert np.nanmean(np.abs(curve.deviations["P"])) < 0.01
    frame = curve.to_frame(units="metric")
    assert {"T [degC]", "P [bar]", "heat of vaporization [kJ/kmol]", "liquid density [kg/m3]", "P deviation [%]"} <= set(
        frame.columns
    )


def test_fugacities_cross_at_the_boiling_point():
    system = sl.System(["acetone"], eos="PR")
    T_boil = system.bubble([1.0], P="1 atm").T
    T, vapor, liquid, crossing = system.saturation_curve(T=[300.0]).fugacities(ATMOSPHERE)
    assert crossing[0] == pytest.approx(T_boil, rel=1e-12)
    assert crossing[1] == pytest.approx(np.interp(T_boil, T, liquid), abs=1e-3)
    there = np.isfinite(vapor) & np.isfinite(liquid) & (np.abs(T / T_boil - 1.0) > 1e-9)
    assert there.sum() > 40
    np.testing.assert_array_equal((liquid < vapor)[there], (T < T_boil)[there])


@pytest.mark.parametrize("figure", ["pressure", "density", "fugacity"])
@pytest.mark.parametrize("model", [{"eos": "PR"}, {"liquid": "ideal"}])
def test_figures(tmp_path, figure, model):
    data = {"P": ([300.0, 320.0], [33e3, 75e3]), "density": ([300.0, 320.0], [780.0, 755.0])}
    curve = sl.System(["acetone"], units="metric", **model).saturation_curve(data=data)
    assert sl.save(curve, tmp_path / "curve.png", figure=figure).stat().st_size > 10_000


def test_measured_values_stand_beside_the_model(tmp_path):
    path = tmp_path / "bench.csv"
    path.write_text("T [degC],P [kPa],density [kg/m3]\n20,24.6,790\n40,56.5,767\n")
    curve = sl.System(["acetone"], eos="PR", units="metric").saturation_curve(data=path)
    np.testing.assert_allclose(curve.measured["P"].values, [24600.0, 56500.0])
    np.testing.assert_allclose(curve.measured["P"].model, curve.system.bubble([1.0], T=curve.measured["P"].T).P, rtol=1e-9)
    assert sum("2 measured values" in note for note in curve.notes) == 2
    with pytest.raises(sl.InputError, match="P or density"):
        curve.system.saturation_curve(data={"Cp": ([300.0], [1.0])})
    path.write_text("T [degC]\n20\n")
    with pytest.raises(sl.InputError, match="no column P or density"):
        curve.system.saturation_curve(data=path)


def test_wrong_requests():
    with pytest.raises(sl.InputError, match="one component"):
        sl.System(["propane", "methane"], eos="PR").saturation_curve()
    curve = sl.System(["propane"], eos="PR").saturation_curve(T=[250.0])
    with pytest.raises(sl.InputError, match="pressure, density, fugacity"):
        curve.plot(figure="colour")
