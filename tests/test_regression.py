"""Regression: parameters recovered from computed points, how sure they are, what is said of them, data files, figures, the bank."""

import json

import numpy as np
import pytest

import sleetfield as sl

from .commands import run
from .test_cli import measurements

PAIR = ("acetone", "1-butanol")
X = np.linspace(0.03, 0.97, 13)
LIQUIDS = {
    "Margules": {"A acetone / 1-butanol": 0.62, "A 1-butanol / acetone": 0.71},
    "van Laar": {"A acetone / 1-butanol": 0.62, "A 1-butanol / acetone": 0.71},
    "Wilson": {"ln_Lambda acetone / 1-butanol": -0.21, "ln_Lambda 1-butanol / acetone": -0.55},
    "NRTL": {"tau acetone / 1-butanol": 0.5, "tau 1-butanol / acetone": 0.2},
    "UNIQUAC": {"ln_tau acetone / 1-butanol": 0.1, "ln_tau 1-butanol / acetone": -0.4},
}


def binary(x):
    return np.stack([x, 1.0 - x], axis=1)


def points_of(names, T, P, x, y, source="given in code"):
    """Vapor and liquid."""
    return sl.DataSet(tuple(names), {"T": T, "P": P, "x": x, "y": y}, source=source)


def computed(system, *, noise=0.0, seed=1, **given):
    """Points of a system, with noise of a share of the usual uncertainties."""
    rng = np.random.default_rng(seed)
    points = system.bubble(binary(X), **given)
    T, P = points.T + noise * rng.normal(0.0, 0.05, len(X)), points.P * (1.0 + noise * rng.normal(0.0, 0.005, len(X)))
    off = noise * rng.normal(0.0, 0.005, len(X))[:, None] * [1.0, -1.0]
    # what was set is exact
    T, P = (points.T, P) if "T" in given else (T, points.P)
    return points_of(system.names, T, P, binary(X), binary(np.clip((points.y + off)[:, 0], 0.0, 1.0)), source="computed")


@pytest.fixture(autouse=True)
def folders(tmp_path, monkeypatch):
    """A bank of one's own."""
    monkeypatch.setenv("SLEETFIELD_PAIRS", str(tmp_path / "user"))
    monkeypatch.chdir(tmp_path)


@pytest.mark.parametrize("given", [{"T": 340.0}, {"P": 101325.0}])
@pytest.mark.parametrize("liquid", LIQUIDS)
def test_parameters_are_recovered_without_noise(liquid, given):
    nothing = sl.System(PAIR, liquid=liquid, vapor="virial")
    truth = nothing.with_parameters(LIQUIDS[liquid])
    found = sl.regress(nothing, computed(truth, **given), fit=list(LIQUIDS[liquid]))
    assert found.values == pytest.approx(list(LIQUIDS[liquid].values()), rel=1e-5, abs=1e-6)
    assert found.standard_deviation < 1e-4
    assert found.evaluations < 200
    assert found.system.bubble(binary(X), T=350.0).P == pytest.approx(truth.bubble(binary(X), T=350.0).P, rel=1e-6)


def test_an_interaction_parameter_with_its_slope_from_two_isotherms_and_an_isobar():
    names = ("carbon dioxide", "n-decane")
    truth = sl.System(names, eos="PR", kij={names: (0.11, -0.04)})
    sets = []
    for given in ({"T": 310.0}, {"T": 400.0}, {"P": 20e5}):
        x = binary(np.array([0.1, 0.2, 0.3]))
        p = truth.bubble(x, **given)
        sets.append(points_of(names, p.T, p.P, x, p.y))
    found = sl.regress(sl.System(names, eos="PR", kij="zero"), sets, fit=["kij", "kij slope"])
    assert found.names == ("kij carbon dioxide / n-decane", "kij carbon dioxide / n-decane slope")
    assert found.values == pytest.approx([0.11, -0.04], abs=1e-6)


def test_feeds_that_boil_as_two_liquids_are_fitted():
    names = ("1-butanol", "water")
    truth = sl.System(names, liquid="NRTL")
    x = binary(np.array([0.03, 0.1, 0.2, 0.3, 0.6, 0.8]))
    points = truth.bubble(x, P=101325.0)
    assert len(points[1].liquids) == 2
    data = points_of(names, points.T, points.P, x, points.y)
    known = [truth.parameters[n] for n in ("tau 1-butanol / water slope", "tau water / 1-butanol slope")]
    start = truth.with_parameters({"tau 1-butanol / water slope": known[0] * 0.9, "tau water / 1-butanol slope": known[1] * 1.03})
    found = sl.regress(start, data, fit=["tau 1-butanol / water slope", "tau water / 1-butanol slope"])
    assert found.values == pytest.approx(known, rel=1e-4)


def test_dew_points_and_three_components_are_fitted_too():
    names = ("propane", "n-pentane", "n-heptane")
    truth = sl.System(names, eos="SRK", kij={("propane", "n-heptane"): 0.03, ("propane", "n-pentane"): 0.02})
    rng = np.random.default_rng(2)
    z = rng.dirichlet(np.ones(3), size=14)
    points = truth.dew(z, T=360.0)
    data = points_of(names, points.T, points.P, points.x, z).without([3], "tried")
    vapor = points_of(names, points.T, points.P, np.full_like(z, np.nan), z)
    start = truth.with_parameters({"kij propane / n-heptane": 0.0, "kij propane / n-pentane": 0.0})
    for one in (data, vapor):
        found = sl.regress(start, one, fit=["kij propane / n-heptane", "kij propane / n-pentane"])
        assert found.values == pytest.approx([0.03, 0.02], abs=1e-6)
    assert 3 not in sl.regress(start, data, fit="kij").quantities[0].points


def test_intervals_cover_the_truth_as_often_as_they_say():
    """Sixty repetitions with noise of the size that the data are said to have: 95 % intervals cover in 85 to 100 %, and their width is that of the scatter."""
    truth = sl.System(PAIR, liquid="NRTL", vapor="ideal").with_parameters(LIQUIDS["NRTL"])
    names = list(LIQUIDS["NRTL"])
    known = np.array(list(LIQUIDS["NRTL"].values()))
    values, covered, widths, spread = [], 0, [], []
    for seed in range(60):
        found = sl.regress(truth, computed(truth, noise=1.0, seed=seed, T=340.0), fit=names)
        covered += int((np.abs(found.values - known) < found.interval).sum())
        values.append(found.values)
        widths.append(found.standard_error)
        spread.append(found.standard_deviation)
    assert 0.85 <= covered / 120 <= 1.0
    assert np.mean(widths, axis=0) == pytest.approx(np.std(values, axis=0), rel=0.3)
    assert np.mean(spread) == pytest.approx(1.0, abs=0.1)


def test_stray_points_are_named_and_pull_less_when_asked():
    truth = sl.System(PAIR, liquid="NRTL", units="metric").with_parameters(LIQUIDS["NRTL"])
    clean = computed(truth, noise=1.0, seed=4, T=340.0)
    P = clean["P"].copy()
    P[5] *= 1.12
    spoiled = points_of(PAIR, clean["T"], P, clean["x"], clean["y"], source="bench still")
    names = list(LIQUIDS["NRTL"])
    plain = sl.regress(truth, spoiled, fit=names)
    assert any("Far off in P of bench still: point 5" in note for note in plain.notes)
    robust = sl.regress(truth, spoiled, fit=names, loss="stray points")
    without = sl.regress(truth, spoiled.without([5], "stray"), fit=names)
    assert np.abs(robust.values - without.values).max() < 0.5 * np.abs(plain.values - without.values).max()
    assert "stray" in spoiled.without([5], "stray").to_frame()["left out"].tolist()
    assert without.standard_deviation < 0.3 * plain.standard_deviation


def test_what_the_data_do_not_determine_is_said():
    truth = sl.System(PAIR, liquid="NRTL").with_parameters(LIQUIDS["NRTL"])
    found = sl.regress(truth, computed(truth, noise=1.0, T=340.0), fit=["tau", "tau slope", "alpha"])
    assert any("Correlated so strongly" in note or "hardly determine" in note for note in found.notes)
    edge = sl.regress(truth, computed(truth, T=340.0), fit=["tau"], bounds={"tau acetone / 1-butanol": (0.6, 2.0)})
    assert edge.at_bound == (True, False)
    assert any("At the bound" in note for note in edge.notes)


@pytest.mark.parametrize("liquid", [*LIQUIDS, "Redlich-Kister"])
def test_fitted_pairs_are_kept_and_taken_from_then_on(liquid):
    start = sl.System(PAIR, liquid=liquid, parameters={PAIR: {"a12": 0.3, "a21": 0.4}} if liquid == "Redlich-Kister" else None)
    truth = sl.System(PAIR, liquid="NRTL").with_parameters(LIQUIDS["NRTL"])
    symbol = start.model.recipe.liquid.symbols[0].symbol
    found = sl.regress(start, computed(truth, noise=1.0, T=340.0), fit="A0" if liquid == "Redlich-Kister" else symbol)
    found.store(source="bench still, fitted")
    for names in (PAIR, PAIR[::-1]):
        again = sl.System(names, liquid=liquid)
        assert again.parameters.pairs[0].source == "bench still, fitted"
        said = again.bubble([0.5, 0.5], T=345.0).notes
        assert any("From the user layer of the bank of pairs" in note and "bench still, fitted" in note for note in said)
        z = binary(X) if names == PAIR else binary(X)[:, ::-1]
        assert again.bubble(z, T=345.0).P == pytest.approx(found.system.bubble(binary(X), T=345.0).P, rel=1e-9)
    record = sl.pair_records(liquid, *PAIR)[0].parameters
    assert (record.T_min, record.T_max) is not None
    assert record.statistics["values"] == 26.0
    # what was there is kept
    found.store(source="bench still, again")
    assert sl.pair_records(liquid, *PAIR)[0].parameters.source == "bench still, again"
    assert [r.parameters.source for r in sl.earlier_pairs(liquid, PAIR)] == ["bench still, fitted"]


def test_a_fitted_kij_goes_to_the_bank_of_its_equation():
    names = ("carbon dioxide", "n-decane")
    truth = sl.System(names, eos="SRK", kij={names: 0.13})
    p = truth.bubble(binary(np.array([0.1, 0.3, 0.5])), T=[300.0, 330.0, 360.0])
    found = sl.regress(sl.System(names, eos="SRK"), points_of(names, p.T, p.P, p.z, p.y), fit="kij")
    found.store("case")
    again = sl.System(names, eos="SRK")
    assert again.kij[0, 1] == pytest.approx(0.13, abs=1e-6)
    assert again.model.parameters["kij carbon dioxide / n-decane"].layer == "case"
    alpha = sl.System(names, eos="SRK", alpha="Twu")
    with pytest.raises(sl.InputError, match="no pair"):
        sl.regress(alpha, points_of(names, p.T, p.P, p.z, p.y), fit="alpha1").store()


def test_prints_tables_and_figures(tmp_path):
    truth = sl.System(PAIR, liquid="NRTL", units="metric").with_parameters(LIQUIDS["NRTL"])
    found = sl.regress(truth, computed(truth, noise=1.0, P=101325.0), fit="tau")
    assert "root mean square" in str(found)
    assert "tau acetone / 1-butanol" in str(found)
    assert len(found.points_frame()) == 26
    assert found.deviations_frame().loc[0, "quantity"] == "T"
    for figure in ("data", "residuals", "parity", "ellipses"):
        assert sl.save(found, tmp_path / f"{figure}.png", figure=figure).stat().st_size > 10_000
    answer = json.loads(sl.save(found, tmp_path / "fit.json").read_text())
    assert answer["parameters"]["tau acetone / 1-butanol"]["value"] == pytest.approx(found.values[0])
    with pytest.raises(sl.InputError, match="no figure"):
        found.plot(figure="pie")
    three = sl.System(["propane", "n-butane", "n-pentane"], eos="PR")
    z = np.array([[0.2, 0.3, 0.5], [0.5, 0.3, 0.2], [0.3, 0.4, 0.3]])
    p = three.bubble(z, T=300.0)
    with pytest.raises(sl.InputError, match="3 components"):
        sl.regress(three, points_of(three.names, p.T, p.P, z, p.y), fit="kij propane / n-pentane").plot()


@pytest.mark.parametrize(
    ("options", "message"),
    [
        ({"fit": "r slope"}, "There is no parameter"),
        ({"fit": "taus"}, "There is no parameter"),
        ({"fit": []}, "names no parameter"),
        ({"fit": "tau", "loss": "cubes"}, "squares, stray points"),
        ({"fit": "tau", "bounds": {"alpha acetone / 1-butanol": (0.0, 1.0)}}, "is not fitted"),
        ({"fit": "tau", "bounds": {"tau acetone / 1-butanol": (1.0, 0.0)}}, "below its upper"),
    ],
)
def test_wrong_wishes_are_refused(options, message):
    truth = sl.System(PAIR, liquid="NRTL").with_parameters(LIQUIDS["NRTL"])
    with pytest.raises(sl.SleetfieldError, match=message):
        sl.regress(truth, computed(truth, T=340.0), **options)


def test_wrong_data_are_refused():
    system = sl.System(PAIR, liquid="NRTL")
    data = computed(system.with_parameters(LIQUIDS["NRTL"]), T=340.0)
    few = data.without(range(12), "few")
    for options, message in (
        ((system, few), "don't determine 2 parameters"),
        ((system, []), "no data"),
        ((system, data.without(range(13), "all")), "no point"),
        ((sl.System(("acetone", "water"), liquid="NRTL"), data), "the system has acetone, water"),
    ):
        with pytest.raises(sl.InputError, match=message):
            sl.regress(*options, fit="tau")
    with pytest.raises(sl.InputError, match="there is no point 13"):
        data.without([13], "none")
    with pytest.raises(sl.InputError, match="sum to 1"):
        points_of(PAIR, data["T"], data["P"], data["x"] * 1.1, data["y"])
    with pytest.raises(sl.InputError, match="positive"):
        points_of(PAIR, data["T"] - 400.0, data["P"], data["x"], data["y"])


FILE = "T [degC],P [kPa],x acetone,y acetone,u(P) [Pa],remark\n60,80,0.5,0.8,100,a\n60,95,0.7,0.9,120,b\n60,60,0.3,0.65,90,c\n"


def test_a_file_is_read_with_its_units(tmp_path):
    path = tmp_path / "still.csv"
    path.write_text(FILE)
    data = sl.read_data(path, PAIR)
    assert data["T"] == pytest.approx(np.full(3, 333.15))
    assert data["P"] == pytest.approx([80e3, 95e3, 60e3])
    assert data["x"][:, 1] == pytest.approx([0.5, 0.3, 0.7])
    assert data.uncertainty["P"] == pytest.approx([100.0, 120.0, 90.0])
    assert (data.given, data.source, len(data)) == ("T", "still.csv", 3)
    assert data.to_frame("metric").columns[0] == "T [°C]" or "degC" in data.to_frame("metric").columns[0]


@pytest.mark.parametrize(
    ("text", "components", "message"),
    [
        (FILE, None, "one component alone"),
        (FILE, ("acetone", "1-butanol", "water"), "lacks columns x of 1-butanol, water"),
        (FILE, ("ethanol", "water"), "not among"),
        ("T [K],P [Pa]\n300,1e5\n", PAIR, "have x or y"),
        ("x acetone,y acetone\n0.5,0.6\n", PAIR, "neither T nor P"),
        (FILE.replace("0.5,0.8", "1.5,0.8"), PAIR, "not negative"),
        (FILE.replace("60,80", "60,=1+1"), PAIR, "formula"),
        (FILE.replace("60,80", "60,many"), PAIR, "no number"),
        (FILE.replace(",100,", ",0,"), PAIR, "uncertainties must be positive"),
        (FILE.replace("x acetone", "x acetonne"), PAIR, "acetonne"),
    ],
)
def test_files_that_are_wrong(text, components, message, tmp_path):
    path = tmp_path / "still.csv"
    path.write_text(text)
    with pytest.raises(sl.SleetfieldError, match=message):
        sl.read_data(path, components)


def test_the_command_line_fits_leaves_out_and_keeps(tmp_path):
    measurements()
    arguments = ["regress", "acetone + 1-butanol", "--liquid", "NRTL", "--vapor", "virial", "--data", "demo/bench_still_acetone_1-butanol.csv", "--fit", "tau"]  # fmt: skip
    first = json.loads(run(*arguments, "--json"))
    assert any("point 7" in note for note in first["notes"])
    second = json.loads(run(*arguments, "--without", "7, 13: stray", "--store", "case", "--out", "fit.png", "--json"))
    assert second["standard_deviation"] < 1.5 < first["standard_deviation"]
    kept = json.loads(run("parameters", "acetone + 1-butanol", "--liquid", "NRTL", "--json"))
    assert kept["parameters"][0]["value"] == pytest.approx(second["parameters"]["tau acetone / 1-butanol"]["value"])
    assert "not understood" in run(*arguments, "--without", "seven", status=2)
