"""Properties of states and tables of them: against differences between flashes, sums, and limits."""

import json

import numpy as np
import pandas as pd
import pytest

import sleetfield as sl
from sleetfield.core.constants import R

from .commands import run

GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR")
Z = [0.7, 0.2, 0.1]
SINGLE = [(420.0, 20e5), (450.0, 150e5), (250.0, 300e5)]


@pytest.mark.parametrize(("T", "P"), SINGLE)
@pytest.mark.parametrize("options", [{"eos": "PR"}, {"eos": "SRK", "alpha": "Twu"}, {"eos": "PR", "translation": "density"}])
def test_second_order_properties_against_flashes_nearby(T, P, options):
    """Each is a derivative along a path that a flash can follow."""
    system = sl.System(["methane", "propane", "n-heptane"], **options)
    phase = system.flash(Z, T=T, P=P).phases[0]
    assert system.flash(Z, T=T, P=P).n_phases == 1
    h = 1e-4
    hot, cold = (system.flash(Z, T=T * f, V=phase.molar_volume) for f in (1 + h, 1 - h))
    assert phase.Cv == pytest.approx((hot.U - cold.U) / (2 * h * T), rel=1e-5)
    high, low = (system.flash(Z, P=P * f, H=phase.H) for f in (1 + h, 1 - h))
    assert phase.throttling_coefficient == pytest.approx((high.T - low.T) / (2 * h * P), rel=1e-4, abs=1e-11)
    high, low = (system.flash(Z, P=P * f, S=phase.S) for f in (1 + h, 1 - h))
    squared = (high.P - low.P) / (high.density - low.density)
    assert phase.speed_of_sound == pytest.approx(np.sqrt(squared), rel=1e-5)
    high, low = (system.flash(Z, P=P * f, T=T) for f in (1 + h, 1 - h))
    assert phase.isothermal_compressibility == pytest.approx(
        -(high.molar_volume - low.molar_volume) / (2 * h * P) / phase.molar_volume, rel=1e-5
    )
    hot, cold = (system.flash(Z, P=P, T=T * f) for f in (1 + h, 1 - h))
    assert phase.thermal_expansion == pytest.approx(
        (hot.molar_volume - cold.molar_volume) / (2 * h * T) / phase.molar_volume, rel=1e-5
    )
    assert phase.Cp == pytest.approx((hot.H - cold.H) / (2 * h * T), rel=1e-5)


def test_ideal_gas_limits():
    gas = sl.System(["methane"], eos="SRK").flash([1.0], T=300.0, P=10.0).phases[0]
    assert gas.Cp - gas.Cv == pytest.approx(R, rel=1e-5)
    assert gas.speed_of_sound == pytest.approx(np.sqrt(gas.Cp / gas.Cv * R * 300.0 / gas.molar_mass), rel=1e-6)
    assert gas.isothermal_compressibility == pytest.approx(1 / 10.0, rel=1e-5)
    assert gas.thermal_expansion == pytest.approx(1 / 300.0, rel=1e-5)
    assert gas.fugacity["methane"] == pytest.approx(10.0, rel=1e-6)


def test_speed_of_sound_in_nitrogen():
    """353.2 m/s at 300 K and 1 bar (Span et al., J. Phys. Chem. Ref. Data 29 (2000) 1361, table of the single-phase region)."""
    assert sl.System(["nitrogen"], eos="PR").flash([1.0], T=300.0, P=1e5).phases[0].speed_of_sound == pytest.approx(353.2, rel=2e-3)


def test_energies_shares_and_fugacities_of_a_two_phase_state():
    state = GAS.flash(Z, T=250.0, P=20e5)
    assert state.G == pytest.approx(state.H - 250.0 * state.S)
    assert pytest.approx(state.H - 20e5 * state.molar_volume) == state.U
    assert pytest.approx(state.U - 250.0 * state.S) == state.A
    vapor, liquid = state.phases
    for share in ("fraction", "mass_fraction", "volume_fraction"):
        assert getattr(vapor, share) + getattr(liquid, share) == pytest.approx(1.0, rel=1e-12)
    assert vapor.mass_fraction == pytest.approx(vapor.fraction * vapor.molar_mass / float(state.z @ GAS.molar_mass))
    assert state.vapor_mass_fraction == pytest.approx(vapor.mass_fraction)
    assert state.vapor_volume_fraction > 0.9 > state.vapor_fraction > state.vapor_mass_fraction
    for name in GAS.names:
        assert vapor.fugacity[name] == pytest.approx(liquid.fugacity[name], rel=1e-9)
        assert liquid.K[name] == pytest.approx(vapor.composition[name] / liquid.composition[name])
        assert np.isnan(vapor.K[name])
    assert sum(liquid.mass_composition.values()) == pytest.approx(1.0)
    assert state.heat_of_vaporization == pytest.approx(vapor.H - liquid.H)
    with pytest.raises(AttributeError, match="no 'enthalpy'; its properties are"):
        _ = state.enthalpy
    assert "heat_of_vaporization" in dir(state)


def test_exergy():
    """Zero at the dead state, RT₀ ln(P/P₀) for an ideal gas at T₀, and never negative from the dead pressure upwards."""
    state = GAS.flash(Z, T="25 degC", P="1 atm")
    assert state.exergy() == pytest.approx(0.0, abs=1e-9)
    gas = sl.System(["nitrogen"], liquid="ideal").flash([1.0], T=298.15, P=2e5)
    assert gas.exergy(P=1e5) == pytest.approx(R * 298.15 * np.log(2.0), rel=1e-6)
    T, P = np.meshgrid([200.0, 298.15, 400.0], [101325.0, 5e5, 50e5])
    assert (GAS.flash(Z, T=T.ravel(), P=P.ravel()).exergy() > -1e-9).all()


def test_tables_over_any_two_quantities():
    grid = GAS.table(Z, H=[-10000.0, 0.0], P=[10e5, 20e5, 40e5], properties=["vapor_fraction", "throttling_coefficient"])
    assert len(grid) == 6
    np.testing.assert_allclose(grid["H [J/mol]"], np.tile([-10000.0, 0.0], 3), atol=1e-6)
    isenthalp = grid[grid["H [J/mol]"] < -5000.0]
    assert (np.diff(isenthalp["T [K]"]) > 0.0).all()
    path = GAS.table(Z, T=[250.0, 300.0], P=[10e5, 20e5], properties=["density"], path=True)
    assert path["P [Pa]"].tolist() == [10e5, 20e5]
    isochore = GAS.table(Z, density=40.0, T=[260.0, 300.0, 340.0], properties=["exergy", "U"], dead_state=("0 degC", "1 bar"))
    np.testing.assert_allclose(isochore["density [kg/m3]"], 40.0, rtol=1e-9)
    assert (np.diff(isochore["U [J/mol]"]) > 0.0).all()
    fraction = GAS.table(Z, vapor_mass_fraction=[0.0, 0.5, 1.0], P="20 bar", properties=["vapor_mass_fraction"])
    np.testing.assert_allclose(fraction["vapor_mass_fraction"], [0.0, 0.5, 1.0], atol=1e-9)
    for given, message in [
        ({"T": [1.0, 2.0], "P": [1e5, 2e5, 3e5], "path": True}, "2 of T and 3 of P"),
        ({"T": 300.0}, "table needs two of"),
        ({"T": 300.0, "P": 1e5, "properties": ["enthalpy"]}, "no property 'enthalpy'"),
    ]:
        with pytest.raises(sl.InputError, match=message):
            GAS.table(Z, **given)


def test_a_long_table_goes_block_by_block_and_says_how_far_it_is(monkeypatch):
    monkeypatch.setattr("sleetfield.calculations.tables._BLOCK", 7)
    told = []
    options = {"T": np.linspace(200.0, 300.0, 5), "P": [1e5, 20e5, 40e5, 60e5], "properties": ["n_phases", "H", "composition"]}
    blocks = GAS.table(Z, **options, progress=lambda done, total: told.append((done, total)))
    assert told == [(7, 20), (14, 20), (20, 20)]
    monkeypatch.undo()
    whole = GAS.table(Z, **options)
    pd.testing.assert_frame_equal(blocks, whole)
    assert blocks.attrs == whole.attrs


def test_any_column_against_any_other():
    frame = GAS.table(Z, T=np.linspace(220.0, 300.0, 5), P=[10e5, 30e5], properties=["density", "fraction"])
    both = sl.draw_table(frame, "T", ["vapor fraction", "liquid fraction"])
    assert both.get_ylabel() == "fraction"
    assert [t.get_text() for t in both.texts] == ["vapor fraction", "liquid fraction"]
    ax = sl.draw_table(frame, "T", "liquid fraction", by="P")
    assert len(ax.lines) == 2
    assert ax.get_xlabel() == "$T$, temperature [K]"
    np.testing.assert_allclose(ax.lines[0].get_ydata(), frame["liquid fraction"][frame["P [Pa]"] == 10e5].dropna())
    with pytest.raises(sl.InputError, match="no column 'enthalpy'"):
        sl.draw_table(frame, "T", "enthalpy")


def test_flows_by_standard_volume():
    """One kmol of ideal gas is 22.414 m3 at 0 degC, 23.645 m3 at 15 degC, and 1 lbmol 379.5 ft3 at 60 degF, at 1 atm."""
    for text, per_kmol in (("1 Nm3/h", 22.41397), ("1 Sm3/h", 23.64484), ("1 scf/h", 379.4821 / 0.45359237)):
        assert GAS.flash(Z, T=300.0, P=1e5, flow=text).flow == pytest.approx(1.0 / per_kmol / 3.6, rel=1e-5)
    assert GAS.flash(Z, T=300.0, P=1e5, flow="1 MMscf/day").flow == pytest.approx(13.835, rel=1e-3)


def test_command_line_table(tmp_path):
    arguments = [
        "table",
        "0.7 methane + 0.3 propane",
        "--H",
        "-5000 J/mol",
        "--P",
        "10bar to 40bar in 4",
        "--property",
        "throttling_coefficient",
        "--property",
        "K",
    ]
    answer = json.loads(run(*arguments, "--json"))
    assert [row["P [Pa]"] for row in answer["rows"]] == pytest.approx([10e5, 20e5, 30e5, 40e5])
    figure = tmp_path / "jt.png"
    run(*arguments, "--x", "P", "--y", "T", "--out", str(figure))
    assert figure.read_bytes()[:4] == b"\x89PNG"
    run(*arguments, "--out", str(tmp_path / "b.png"))
    assert "--dead-state" in run(*arguments, "--dead-state", "25degC", status=2)


@pytest.mark.parametrize("eos", ["PR", "SRK"])
def test_at_a_critical_point_properties_lie_between_those_beside_it(eos):
    """There the cubic has a triple root, and the slope that derivatives are divided by is nothing but rounding."""
    wrong = []
    for name in [c.name for c in sl.databank()][::5]:
        pure = sl.System([name], eos=eos)
        c = pure.critical([1.0])
        at = pure.flash([1.0], T=c.T, P=c.P)
        beside = pure.flash([1.0], T=[c.T * (1.0 - 1e-6), c.T * (1.0 + 1e-6)], P=c.P)
        for quantity in ("H", "S"):
            low, high = getattr(beside, quantity)
            # without a heat capacity there is none beside it either
            if np.isfinite(low) and not low <= getattr(at, quantity) <= high:
                wrong.append((name, quantity))
    assert not wrong
