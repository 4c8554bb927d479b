"""P-H, T-S and H-S charts: their lines are what they say, by flashes and by the lever rule."""

import functools
import json

import matplotlib.pyplot as plt
import numpy as np
import pytest

import sleetfield as sl

from .commands import run

FLUIDS = {
    "propane": (sl.System(["propane"], eos="PR", units="metric"), [1.0]),
    "steam": (sl.System(["water"], eos="reference", units="metric"), [1.0]),
    "carbon dioxide": (sl.System(["carbon dioxide"], eos="reference", units="US"), [1.0]),
    "ethanol": (sl.System(["ethanol"], liquid="ideal", vapor="virial"), [1.0]),
    "gas": (sl.System(["nitrogen", "methane", "propane", "n-butane"], eos="SRK", units="metric"), [0.05, 0.7, 0.15, 0.1]),
    "wide": (sl.System(["methane", "n-hexane"], eos="PR", units="metric"), [0.5, 0.5]),
    "spirit": (sl.System(["ethanol", "water"], liquid="NRTL", units="metric"), [0.3, 0.7]),
}
KINDS = ("PH", "TS", "HS")


@functools.cache
def chart_of(name, kind):
    """Drawn when a test first looks at it."""
    fluid, z = FLUIDS[name]
    return fluid.chart(kind, z)


@pytest.fixture(autouse=True)
def _closed():
    yield
    plt.close("all")


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("name", FLUIDS)
def test_every_line_is_of_constant_what_it_says_and_within_the_range(name, kind):
    chart = chart_of(name, kind)
    assert {line.of for line in chart.lines} == set(
        {"PH": ("T", "S", "density"), "TS": ("P", "H", "density"), "HS": ("P", "T")}[kind]
    )
    for line in chart.lines:
        values, scale = line.states[line.of], max(abs(line.value), 8.314 if line.of == "S" else 2500.0 if line.of == "H" else 0.0)
        # crossings of the boundary are between its points
        np.testing.assert_allclose(values, line.value, rtol=0.0, atol=2e-3 * scale)
        assert np.median(np.abs(values - line.value)) <= 1e-7 * scale
        for axis in ("T", "P"):
            low, high = getattr(chart, axis)
            assert (line.states[axis] >= low * (1.0 - 1e-5)).all()
            assert (line.states[axis] <= high * (1.0 + 1e-5)).all()


@pytest.mark.parametrize("name", list(FLUIDS))
def test_points_of_lines_are_states_of_flashes(name):
    fluid, z = FLUIDS[name]
    rng = np.random.default_rng(1)
    for kind in ("PH", "TS"):
        lines = chart_of(name, kind).lines
        columns = {q: np.concatenate([line.states[q] for line in lines]) for q in ("T", "P", "H", "S", "density")}
        some = rng.choice(len(columns["T"]), 60, replace=False)
        # at P and H, which tell of boiling fluids too what they are; a crossing is as near as its neighbors on the boundary are
        given = {"P": columns["P"][some], "H": columns["H"][some]}
        found = fluid.flash(z, **given)
        there = ~found.failed
        assert there.sum() > 54
        off = np.abs(found.S - columns["S"][some])[there]
        assert np.median(off) < 1e-6
        assert np.quantile(off, 0.9) < 0.1
        assert np.median(np.abs(found.density / columns["density"][some] - 1.0)[there]) < 1e-7


@pytest.mark.parametrize("name", ["propane", "steam", "carbon dioxide"])
def test_isotherms_of_a_pure_fluid_are_level_between_its_phases(name):
    chart, (fluid, _) = chart_of(name, "PH"), FLUIDS[name]
    critical = fluid.critical([1.0]).T
    level = 0
    for line in chart.lines:
        if line.of != "T" or line.value > 0.99 * critical:
            continue
        P = fluid.bubble([1.0], T=line.value).P
        if not chart.P[0] < P < chart.P[1]:
            continue
        both = np.flatnonzero(np.abs(line.states["P"] / P - 1.0) < 1e-3)
        vapor, liquid = fluid.flash([1.0], T=line.value, vapor_fraction=0.5).phases
        heats = line.states["H"][both]
        assert [heats.max(), heats.min()] == pytest.approx([vapor.H, liquid.H], abs=2e-3 * (vapor.H - liquid.H))
        level += 1
    assert level >= 5


def test_shares_of_vapor_follow_the_lever_rule():
    fluid, _ = FLUIDS["steam"]
    for line in chart_of("steam", "TS").boundary:
        if line.of == "vapor_fraction":
            T, S = line.states["T"][20], line.states["S"][20]
            assert fluid.flash([1.0], T=T, S=S).vapor_fraction == pytest.approx(line.value, abs=1e-6)


def test_lines_of_a_mixture_bend_on_its_envelope():
    chart, (gas, z) = chart_of("gas", "PH"), FLUIDS["gas"]
    isotherm = next(line for line in chart.lines if line.of == "T" and 230.0 < line.value < 240.0)
    for kind in ("bubble", "dew"):
        P = getattr(gas, kind)(z, T=isotherm.value).P
        nearest = isotherm.states["P"][np.abs(isotherm.states["P"] / P - 1.0).argmin()]
        assert nearest == pytest.approx(P, rel=2e-3)


def test_enthalpies_by_mole_or_mass_and_from_another_zero():
    steam, _ = FLUIDS["steam"]
    zero = {"T": 273.16, "vapor_fraction": 0}
    chart = steam.chart("PH", zero=zero, lines={"T": "100 degC", "S": "1, 7 kJ/(kg K)", "density": []})
    assert sorted(line.of for line in chart.lines) == ["S", "S", "T"]
    table = chart.to_frame()
    rows = table[table["line"] == "T = 100 °C"]
    heats = rows["H [kJ/kg]"][np.abs(rows["P [bar]"] / 1.01418 - 1.0) < 1e-3]
    # any steam table at 100 °C: 419.1 and 2675.6 kJ/kg
    assert [heats.min(), heats.max()] == pytest.approx([419.1, 2675.6], abs=0.3)
    assert any("count from" in note for note in chart.notes)
    assert chart.columns()[3].dimension == "specific_energy"
    by_mole = steam.chart("PH", per="mole", lines={"T": [373.15], "S": [], "density": []})
    rows = by_mole.to_frame("SI")
    boiling = rows[(rows["line"] == "T = 100 °C") & (np.abs(rows["P [Pa]"] / 101418.0 - 1.0) < 1e-3)]["H [J/mol]"]
    assert boiling.max() - boiling.min() == pytest.approx(2256.5 * 18.015, rel=1e-3)


def test_a_cycle_is_drawn_on_it():
    propane, _ = FLUIDS["propane"]
    cold = propane.flash([1.0], T="-10 degC", vapor_fraction=1)
    hot = cold.to(P="15 bar", S=cold.S)
    chart = chart_of("propane", "PH")
    marks = {"suction": cold, "discharge": hot, "liquid": {"P": "15 bar", "vapor_fraction": 0}, "gas": ("60 degC", "5 bar")}
    ax = chart.plot(marks=marks, joined=True)
    texts = [t.get_text() for t in ax.texts]
    assert {"suction", "discharge", "liquid", "gas", "critical point", "0.5", "-50"} <= set(texts)
    assert ax.get_yscale() == "log"
    assert ax.get_ylabel() == "$P$, pressure [bar]"
    assert ax.get_xlabel() == "$H$, enthalpy [kJ/kg]"
    assert [t.get_text() for t in ax.get_legend().get_texts()] == [
        "saturated liquid", "saturated vapor", "share of vapor", "temperature [°C]", "entropy [kJ/(kg K)]", "density [kg/m³]",
    ]  # fmt: skip
    width, height = ax.figure.get_size_inches()
    assert (round(width * 25.4), round(height * 25.4)) == (297, 210)
    drawn = next(line for line in ax.lines if len(line.get_xdata()) == 5)
    assert drawn.get_xdata()[0] == drawn.get_xdata()[-1] == pytest.approx(cold.H / 0.044097 / 1e3, rel=1e-3)


@pytest.mark.parametrize(
    ("options", "message"),
    [
        ({"kind": "HP"}, "There is no chart 'HP'. Charts are PH, TS, HS."),
        ({"kind": "PH", "per": "volume"}, "per is 'volume'; enthalpies and entropies are drawn per mass or mole"),
        ({"kind": "PH", "T": [300.0]}, "T of a chart is its range, two values of which the second is the higher"),
        ({"kind": "PH", "P": "20 bar, 1 bar"}, "P of a chart is its range"),
        ({"kind": "PH", "lines": {"H": [1.0]}}, "A PH chart has no lines of constant 'H'. It has T, S, density, vapor_fraction."),
        ({"kind": "PH", "lines": {"vapor_fraction": [1.5]}}, "between 0 and 1"),
        ({"kind": "PH", "lines": {"T": [-5.0]}}, "positive"),
        ({"kind": "PH", "lines": {"T": "50"}}, "without a unit"),
        ({"kind": "PH", "zero": 5}, "zero is 5; it takes a state"),
        ({"kind": "PH", "zero": {"T": [300.0, 310.0], "P": 1e5}}, "several states"),
    ],
)
def test_what_makes_no_chart_is_refused(options, message):
    with pytest.raises(sl.InputError, match=message.replace("(", r"\(").replace(")", r"\)")):
        FLUIDS["propane"][0].chart(**options)


def test_a_chart_needs_a_composition_heat_capacities_and_marks_that_are_states():
    with pytest.raises(sl.InputError, match="needs a composition: the system has 4 components"):
        FLUIDS["gas"][0].chart("PH")
    with pytest.raises(sl.InputError, match="one composition"):
        FLUIDS["wide"][0].chart("PH", [[0.5, 0.5], [0.4, 0.6]])
    with pytest.raises(sl.InputError, match="The mark 'x' is 3"):
        chart_of("propane", "PH").plot(marks={"x": 3})
    bare = sl.Component(name="bare", Tc=400.0, Pc=40e5, omega=0.2, molar_mass=0.05)
    with pytest.raises(sl.InputError, match="heat capacities"):
        sl.System([bare], eos="PR").chart("PH")
    # what is absent has no part in it
    assert sl.System(["propane", "water"], eos="PR").chart("PH", [1.0, 0.0]).system.names == ("propane",)


def test_the_command_draws_it_and_writes_its_lines(tmp_path):
    out, table = tmp_path / "propane.pdf", tmp_path / "propane.csv"
    printed = run(
        "chart", "propane", "--kind", "ts", "--line", "P = 1bar, 10bar", "--line", "density = none", "--zero", "T=0degC, vapor_fraction=0",
        "--mark", "outlet: 60degC, 20bar", "--out", str(out), "--out", str(table),
    )  # fmt: skip
    assert "T-S chart of propane (PR)" in printed
    assert out.stat().st_size > 10_000
    assert "P = 10 bar" in table.read_text(encoding="utf-8")
    assert "Write it like 'T = 0degC'" in run("chart", "propane", "--line", "P: 1bar", status=2)
    plain = json.loads(run("chart", "propane", "--json"))
    assert plain["result"] == "chart"
    assert plain["kind"] == "PH"
