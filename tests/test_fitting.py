"""Fits to measurements of every kind: parameters recovered, objectives, ties, intervals, consequences, ranking, consistency, keeping."""

import json

import numpy as np
import pandas as pd
import pytest

import sleetfield as sl

from .commands import run
from .test_cli import measurements

PAIR = ("acetone", "1-butanol")
BROTH = ("1-butanol", "water")
X = np.linspace(0.05, 0.95, 10)
NAMES = ("tau acetone / 1-butanol", "tau 1-butanol / acetone")
TRUE = {NAMES[0]: 0.5, NAMES[1]: 0.2, f"{NAMES[0]} slope": 0.3, f"{NAMES[1]} slope": -0.1}


@pytest.fixture(autouse=True)
def folders(tmp_path, monkeypatch):
    """Banks of one's own."""
    for variable in ("SLEETFIELD_PAIRS", "SLEETFIELD_DATA", "SLEETFIELD_COMPONENTS"):
        monkeypatch.setenv(variable, str(tmp_path / variable))
    monkeypatch.chdir(tmp_path)


def z(x):
    return np.stack([np.asarray(x), 1.0 - np.asarray(x)], axis=1)


def nothing(names=PAIR, **options):
    return sl.System(names, **({"liquid": "NRTL"} | options))


def truth(**options):
    return nothing(**options).with_parameters(TRUE)


def boiling(system, x=X, source="still", **given):
    points = system.bubble(z(x), **given)
    return sl.DataSet.of(system.names, x=x, T=points.T, P=points.P, y=points.y, source=source)


def liquids(system, T):
    """Mutual solubilities by flashes."""
    found = np.sort([[p.composition[system.names[0]] for p in system.flash([0.3, 0.7], T=t, P=5e5).phases] for t in T], axis=1)
    return sl.DataSet.of(system.names, T=T, x_first=found[:, 0], x_second=found[:, 1], source="lab")


# ---- every kind ----


def sets_of_every_kind():
    """Sets computed from `truth` by calls that a fit does not make."""
    known = truth()
    T = np.array([300.0, 320.0, 340.0, 360.0])
    gamma = known.parameters.gamma_infinity(*PAIR, T=T)
    excess = known.excess(z(X), T=310.0)
    x = np.array([[0.3, 0.7], [0.6, 0.4]])
    return {
        "boiling at T": [boiling(known, T=320.0), boiling(known, T=360.0)],
        "boiling at P": [boiling(known, P=5e4), boiling(known, P=2e5)],
        "infinite dilution": [sl.DataSet.of(PAIR, T=T, gamma_inf={PAIR[0]: gamma[0], PAIR[1]: gamma[1]})],
        "excess enthalpy and boiling": [sl.DataSet.of(PAIR, T=310.0, x=X, HE=excess.H), boiling(known, T=330.0)],
        "vapors": [sl.DataSet(PAIR, {"T": p.T, "P": p.P, "y": z(X)}) for t in (320.0, 360.0) for p in [known.dew(z(X), T=t)]],
        "three temperatures, two compositions": [boiling(known, x=x[:, 0], T=t) for t in (310.0, 335.0, 360.0)],
    }


@pytest.mark.parametrize("kind", sets_of_every_kind())
def test_parameters_are_recovered_from_every_kind(kind):
    found = sl.regress(nothing(), sets_of_every_kind()[kind], fit=["tau", "tau slope"])
    assert found.values == pytest.approx(list(TRUE.values()), abs=2e-6)
    assert found.evaluations < 200


def test_mutual_solubility_and_boiling_points_in_one_regression():
    names = ("tau 1-butanol / water", "tau water / 1-butanol")
    known = nothing(BROTH, vapor="virial").with_parameters(
        {names[0]: -1.0, names[1]: 5.0, f"{names[0]} slope": -0.8, f"{names[1]} slope": 4.0}
    )
    sets = [liquids(known, np.linspace(285.0, 360.0, 6)), boiling(known, [0.005, 0.015, 0.1, 0.3, 0.6, 0.8, 0.95], P=101325.0)]
    # from where the model has one liquid, and misses every point
    start = known.with_parameters(dict.fromkeys((*names, *(f"{n} slope" for n in names)), 0.0))
    found = sl.regress(start, sets, fit=["tau", "tau slope"])
    assert found.values == pytest.approx([-1.0, 5.0, -0.8, 4.0], abs=1e-6)
    words = {c.words: c for c in found.consequences}
    assert words["heterogeneous azeotrope, 1-butanol"].value == pytest.approx(0.23, abs=0.03)
    assert "1-butanol in the first of two liquids" in words


@pytest.mark.parametrize("by", ["x", "T"])
def test_solubilities_of_a_solid(by):
    names = ("benzoic acid", "ethanol")
    known = nothing(names, solids=["benzoic acid"]).with_parameters(
        {"tau benzoic acid / ethanol": 0.9, "tau ethanol / benzoic acid": -0.6}
    )
    T = np.linspace(280.0, 345.0, 8)
    states = [known.flash([0.8, 0.2], T=t, P=101325.0) for t in T]
    x = [next(p for p in s.phases if p.kind == "liquid").composition["benzoic acid"] for s in states]
    data = sl.DataSet.of(names, T=T, x=x, solid="benzoic acid", uncertainty={by: 0.001 if by == "x" else 0.1})
    # the solid is put beside the model by itself
    found = sl.regress(nothing(names), data)
    assert [q.quantity for q in found.quantities] == ["x benzoic acid" if by == "x" else "T"]
    assert found.values == pytest.approx([0.9, -0.6], abs=1e-6)
    heat = sl.regress(known.with_parameters({"fusion_H benzoic acid": 15e3}), data, fit="fusion_H benzoic acid")
    assert heat.values[0] == pytest.approx(known.parameters["fusion_H benzoic acid"], rel=1e-6)


def test_henrys_constants_densities_and_azeotropes_of_an_equation_of_state():
    names = ("carbon dioxide", "n-decane")
    known = sl.System(names, eos="PR", kij={names: (0.11, -0.03)})
    T = np.array([300.0, 340.0, 380.0])
    start = sl.System(names, eos="PR", kij="zero")
    dilute = [known.flash([1e-9, 1.0 - 1e-9], T=t, P=1e5).phases[0].ln_phi[names[0]] for t in T]
    henry = sl.DataSet.of(names, T=T, P=[1e5] * 3, Henry={names[0]: 1e5 * np.exp(dilute)})
    found = sl.regress(start, henry, fit=["kij", "kij slope"])
    assert found.values == pytest.approx([0.11, -0.03], abs=1e-6)
    states = [known.flash([0.3, 0.7], T=t, P=2e7) for t in (300.0, 320.0, 350.0)]
    density = sl.DataSet.of(names, T=[300.0, 320.0, 350.0], P=2e7, x=[0.3] * 3, density=[s.density for s in states])
    assert sl.regress(start, density, fit=["kij", "kij slope"]).values == pytest.approx([0.11, -0.03], abs=1e-6)
    wine = sl.System(["ethanol", "water"], liquid="NRTL")
    points = [wine.azeotropes(T=t)[0] for t in (330.0, 350.0, 370.0)]
    azeotropes = sl.DataSet.of(
        wine.names, kind="azeotrope", T=[a.T for a in points], P=[a.P for a in points], x=[a.x[0] for a in points]
    )
    free = wine.with_parameters({"tau ethanol / water": 0.4, "tau water / ethanol": 1.2})
    again = sl.regress(free, azeotropes, fit="tau")
    assert again.values == pytest.approx([wine.parameters["tau ethanol / water"], wine.parameters["tau water / ethanol"]], abs=1e-6)


def test_vapor_pressures_fit_what_belongs_to_a_component():
    known = sl.System(["acetone"], eos="PR", alpha="Twu")
    T = np.linspace(280.0, 480.0, 9)
    P = known.bubble([1.0], T=T).P
    names = [n for n in known.parameters.names if n.startswith("alpha")]
    moved = known.with_parameters({names[0]: known.parameters[names[0]] + 0.02})
    # the component's own data, in a system of two
    wide = sl.System(["water", "acetone"], eos="PR", alpha="Twu").with_parameters({names[0]: known.parameters[names[0]] + 0.02})
    for start in (moved, wide):
        found = sl.regress(start, sl.DataSet.of(["acetone"], T=T, P=P), fit=names[0])
        assert found.values[0] == pytest.approx(known.parameters[names[0]], abs=1e-7)


def test_ten_pairs_of_five_components_at_once():
    names = ["methane", "carbon dioxide", "propane", "n-pentane", "n-decane"]
    rng = np.random.default_rng(3)
    pairs = [(a, b) for i, a in enumerate(names) for b in names[i + 1 :]]
    known = sl.System(names, eos="SRK", kij=dict(zip(pairs, rng.uniform(-0.02, 0.13, 10), strict=True)))
    sets = []
    for pair in pairs:
        part = known.part(list(pair))
        points = part.bubble(z(np.linspace(0.03, 0.25, 10)), T=rng.uniform(220.0, 260.0, 10))
        sets.append(sl.DataSet.of(pair, T=points.T, P=points.P, x=points.z, y=points.y, source=" ".join(pair)))
    found = sl.regress(sl.System(names, eos="SRK", kij="zero"), sets)
    assert found.values == pytest.approx([known.parameters[n] for n in found.names], abs=1e-6)


# ---- how it is fitted ----


@pytest.mark.parametrize("objective", ["relative volatility", "activity coefficients", "all variables"])
def test_objectives_agree_without_noise(objective):
    sets = [boiling(truth(vapor="virial"), T=320.0), boiling(truth(vapor="virial"), P=101325.0)]
    found = sl.regress(nothing(vapor="virial"), sets, fit=["tau", "tau slope"], objective=objective)
    assert found.values == pytest.approx(list(TRUE.values()), abs=1e-6)
    assert found.freedom == 36


def test_errors_in_all_variables_are_not_biased_where_errors_in_x_are_great():
    """Liquids that are uncertain by 0.02: least squares, which take them as exact, are off by many of the errors that maximum likelihood leaves."""
    known = sl.System(BROTH[::-1], liquid="Margules").with_parameters({"A water / 1-butanol": 1.1, "A 1-butanol / water": 1.6})
    fits = {"measured": [], "all variables": []}
    x = np.array([0.02, 0.04, 0.06, 0.08, 0.1, 0.15, 0.2, 0.25, 0.3, 0.4])
    for seed in range(12):
        rng = np.random.default_rng(seed)
        p = known.bubble(z(x), T=360.0)
        seen = np.abs(x + 0.02 * rng.normal(size=len(x))) + 1e-4
        data = sl.DataSet.of(
            known.names, T=360.0, P=p.P * (1.0 + 1e-3 * rng.normal(size=len(x))), x=seen, y=p.y[:, 0] + 0.002 * rng.normal(size=len(x)),
            uncertainty={"T": 0.01, "P": "0.1 %", "x": 0.02, "y": 0.002},
        )  # fmt: skip
        for objective, found in fits.items():
            found.append(sl.regress(known, data, objective=objective).values)
    known_values = np.array([1.1, 1.6])
    off = {k: np.abs(np.mean(v, axis=0) - known_values) for k, v in fits.items()}
    spread = {k: np.std(v, axis=0) for k, v in fits.items()}
    assert (off["all variables"] < 3.0 * spread["all variables"] / np.sqrt(12) + 0.01).all()
    assert (off["measured"] > 2.0 * off["all variables"]).any()
    assert (spread["all variables"] < spread["measured"]).all()


def test_parameters_that_are_proportional_to_inverse_temperature_or_tied():
    energies = {NAMES[0]: 0.5, NAMES[1]: 0.2, f"{NAMES[0]} slope": 0.5, f"{NAMES[1]} slope": 0.2}
    known = nothing().with_parameters(energies)
    sets = [boiling(known, T=310.0), boiling(known, T=360.0)]
    found = sl.regress(nothing(), sets, fit="tau 1/T")
    assert found.values == pytest.approx([0.5, 0.2], abs=1e-6)
    assert found.names == NAMES
    frame = found.forms_frame("K")
    assert frame["12"][0] == f"{0.5 * 298.15:.6g}"
    assert frame["12"][1] == frame["21"][0]
    with pytest.raises(sl.InputError, match="can't say"):
        found.forms_frame("ratio")
    same = nothing(liquid="Margules").with_parameters({"A acetone / 1-butanol": 0.7, "A 1-butanol / acetone": 1.4})
    tied = sl.regress(
        nothing(liquid="Margules"), boiling(same, T=330.0), tied={"A 1-butanol / acetone": (2.0, "A acetone / 1-butanol")}
    )
    assert tied.names == ("A acetone / 1-butanol",)
    assert tied.values == pytest.approx([0.7], abs=1e-7)
    assert tied.system.parameters["A 1-butanol / acetone"] == pytest.approx(1.4, abs=1e-6)
    assert any("2 times A acetone" in note for note in tied.notes)
    with pytest.raises(sl.InputError, match="not fitted"):
        sl.regress(nothing(), sets, fit=NAMES[0], tied={NAMES[0]: NAMES[1]})
    # a symmetric parameter in the other order, with bounds in either
    alpha = "alpha 1-butanol / acetone"
    either = sl.regress(known, sets, fit=[alpha, NAMES[0]], bounds={alpha: (0.2, 0.5)})
    assert either.names[0] == "alpha acetone / 1-butanol"
    assert either.values == pytest.approx([0.3, 0.5], abs=1e-4)


def test_uncertainties_can_be_told_relative_absolute_or_not_at_all():
    known = truth()
    data = boiling(known, T=330.0)
    spoiled = sl.DataSet(PAIR, {**data.values, "y": np.clip(data["y"] + [[0.05, -0.05]], 0.0, 1.0)}, source="y is wrong")
    start = nothing().with_parameters({f"{n} slope": TRUE[f"{n} slope"] for n in NAMES})
    without = sl.regress(start, spoiled, fit="tau", uncertainty={"y": None, "P": "0.1 %"})
    assert without.values == pytest.approx([0.5, 0.2], abs=1e-6)
    assert {q.quantity for q in without.quantities} == {"P"}
    assert without.quantities[0].uncertainty == pytest.approx(1e-3 * data["P"])
    assert np.abs(sl.regress(start, spoiled, fit="tau").values - [0.5, 0.2]).max() > 0.01
    weighed = sl.DataSet(PAIR, spoiled.values, weight=np.full(len(X), 4.0))
    ratio = (
        sl.regress(start, spoiled, fit="tau").quantities[0].uncertainty
        / sl.regress(start, weighed, fit="tau").quantities[0].uncertainty
    )
    assert ratio == pytest.approx(np.full(len(X), 2.0))


def test_least_absolute_deviations_pass_stray_points_by():
    data = boiling(truth(), T=330.0)
    P = data["P"].copy()
    P[[2, 6]] *= [1.2, 0.8]
    start = nothing().with_parameters({f"{n} slope": TRUE[f"{n} slope"] for n in NAMES})
    off = {}
    for loss in ("squares", "stray points", "absolute"):
        values = sl.regress(start, sl.DataSet(PAIR, {**data.values, "P": P}), fit="tau", loss=loss).values
        off[loss] = np.abs(values - [0.5, 0.2]).max()
    assert off["absolute"] < off["stray points"] < 0.3 * off["squares"]
    assert off["absolute"] < 0.01


def test_false_splits_are_said_and_can_be_forbidden():
    known = nothing().with_parameters({NAMES[0]: 1.25, NAMES[1]: 1.25})
    rng = np.random.default_rng(8)
    p = known.bubble(z(X), T=320.0)
    data = sl.DataSet.of(PAIR, T=320.0, P=p.P * 1.04, x=X, y=p.y[:, 0] + 0.01 * rng.normal(size=len(X)), source="too high")
    free = sl.regress(known, data)
    assert any("splits the liquid" in note for note in free.notes)
    held = sl.regress(known, data, forbid_split=True)
    assert not any("splits the liquid" in note for note in held.notes)
    assert held.sum_of_squares > free.sum_of_squares
    assert len(held.system.flash([0.5, 0.5], T=320.0, P=3e5).phases) == 1


def test_what_hides_in_the_data_is_said():
    data = boiling(truth(), T=330.0)
    narrow = sl.regress(truth(), data, fit=["tau", "tau slope"])
    assert any("too few to tell it from the value" in note for note in narrow.notes)
    few = data.without(range(9), "spared")
    with pytest.raises(sl.InputError, match="don't determine"):
        sl.regress(nothing(), few)
    other = boiling(nothing(("acetone", "water")), T=330.0)
    with pytest.raises(sl.InputError, match="not water"):
        sl.regress(nothing(), other)
    with pytest.raises(sl.InputError, match="depends on"):
        sl.regress(nothing(("acetone", "1-butanol", "water")), data, fit="tau")
    with pytest.raises(sl.InputError, match="objective"):
        sl.regress(nothing(), data, objective="beauty")
    with pytest.raises(sl.InputError, match="none of this model is fitted as a rule"):
        sl.regress(nothing(liquid="ideal"), data)
    heavy = sl.DataSet(
        PAIR,
        {**data.values, "P": np.where(np.arange(10) == 3, 2.0, 1.0) * data["P"]},
        weight=np.where(np.arange(10) == 3, 0.0, 1.0),
    )
    assert sl.regress(truth(), heavy, fit="tau").count == 18
    off = data.switched_off("not ours")
    with pytest.raises(sl.InputError, match="every one is left out"):
        sl.regress(nothing(), off)
    assert sl.regress(truth(), [data, off], fit="tau").count == 20


def test_vapor_pressures_of_the_data_stand_in_for_the_databanks():
    """Data with a barometer that reads 2 % high: with the databank's vapor pressures the error goes into the pair's parameters, with the data's own it does not."""
    known = nothing(liquid="Margules").with_parameters({"A acetone / 1-butanol": 0.7, "A 1-butanol / acetone": 0.9})
    x = np.array([0.0, 0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 0.9, 1.0])
    p = known.bubble(z(x), T=340.0)
    data = sl.DataSet.of(PAIR, T=340.0, P=1.02 * p.P, x=x, y=p.y, source="barometer")
    plain = sl.regress(nothing(liquid="Margules"), data)
    own = sl.with_measured_ends(nothing(liquid="Margules"), data)
    assert own.bubble([1.0, 0.0], T=340.0).P == pytest.approx(1.02 * p.P[-1], rel=1e-9)
    assert sl.regress(own, data).values == pytest.approx([0.7, 0.9], abs=2e-4)
    assert np.abs(plain.values - [0.7, 0.9]).max() > 0.01
    assert "barometer" in own.components[0].sources["vapor_pressure"]
    with pytest.raises(sl.InputError, match="no point of a pure"):
        sl.with_measured_ends(own, boiling(known, T=340.0))
    T = np.linspace(290.0, 350.0, 9)
    pure = sl.DataSet.of(["acetone"], T=T, P=known.bubble([1.0, 0.0], T=T).P)
    assert float(np.exp(sl.fit_correlation(pure, "antoine").correlation.value(T) - np.log(pure["P"])).max()) == pytest.approx(
        1.0, abs=1e-3
    )


# ---- what follows ----


def noisy(seed, system=None, source="still", **given):
    known = system or truth()
    rng = np.random.default_rng(seed)
    p = known.bubble(z(X), **(given or {"T": 330.0}))
    off = rng.normal(size=len(X))
    T, P = (p.T + 0.05 * off, p.P) if "P" in given else (p.T, p.P * (1.0 + 0.005 * off))
    return sl.DataSet.of(
        PAIR, T=T, P=P, x=X, y=np.clip(p.y[:, 0] + 0.005 * rng.normal(size=len(X)), 0, 1), source=source
    )  # fmt: skip


def test_intervals_of_predictions_and_consequences_cover_the_truth():
    known = truth()
    start = nothing().with_parameters(TRUE)
    point = {"acetone": 0.5, "1-butanol": 0.5}
    P = known.bubble(point, T=330.0).P
    gamma = [float(v[0]) for v in known.parameters.gamma_infinity(*PAIR, T=[330.0])]
    covered = np.zeros(3)
    for seed in range(40):
        fit = sl.regress(start, noisy(seed), fit="tau")
        value, half = fit.interval_of(lambda s: s.bubble(point, T=330.0).P)
        own = {c.words: c for c in fit.consequences}
        pairs = [(value, half, P)]
        for name, other, g in ((*PAIR, gamma[0]), (*PAIR[::-1], gamma[1])):
            c = own[f"γ∞ of {name} in {other}"]
            pairs.append((c.value, c.half_width, g))
        covered += [abs(v - t) <= h for v, h, t in pairs]
    assert (covered >= 34).all()
    assert (covered < 40).any()


def test_the_interval_of_an_azeotrope_is_that_of_differences():
    names = ("ethanol", "water")
    known = sl.System(names, liquid="NRTL")
    p = known.bubble(z(X), P=101325.0)
    rng = np.random.default_rng(5)
    data = sl.DataSet.of(
        names, P=101325.0, T=p.T + 0.05 * rng.normal(size=len(X)), x=X, y=p.y[:, 0] + 0.003 * rng.normal(size=len(X))
    )
    fit = sl.regress(known, data)
    own = {c.words: c for c in fit.consequences}
    x, half_x = fit.interval_of(lambda s: s.azeotropes(P=101325.0)[0].x[0])
    T, half_T = fit.interval_of(lambda s: s.azeotropes(P=101325.0)[0].T)
    assert (own["azeotrope, ethanol"].value, own["azeotrope, T"].value) == pytest.approx((float(x), float(T)), rel=1e-8)
    assert own["azeotrope, ethanol"].half_width == pytest.approx(float(half_x), rel=1e-3)
    assert own["azeotrope, T"].half_width == pytest.approx(float(half_T), rel=1e-3)


def test_bands_are_the_intervals_of_predictions():
    fit = sl.regress(nothing().with_parameters(TRUE), noisy(2), fit="tau")
    curves = fit.later.curves([fit], fit.data[0])
    bubble = next(c for c in curves if c.quantity == "P")
    k = 50
    value, half = fit.interval_of(lambda s: s.bubble({"acetone": bubble.at[k], "1-butanol": "rest"}, T=330.0).P)
    assert bubble.value[k] == pytest.approx(float(value), rel=1e-9)
    assert bubble.half_width[k] == pytest.approx(float(half), rel=1e-4)


def test_influence_and_information():
    data = noisy(1)
    x = data["x"].copy()
    far = sl.DataSet(
        PAIR, {**data.values, "P": np.where(np.arange(10) == 0, 1.15 * data["P"], data["P"]), "x": x}, source="one is off"
    )
    fit = sl.regress(truth(), far, fit="tau")
    points = fit.points_frame()
    assert points.loc[points["influence"].idxmax(), "point"] == 0
    assert points["leverage"].sum() == pytest.approx(2.0, rel=1e-6)
    two, four = (sl.regress(truth(), noisy(4), fit=f) for f in ("tau", ["tau", "alpha"]))
    assert four.sum_of_squares <= two.sum_of_squares
    # N ln(S/N) + 2k + 2k(k + 1)/(N - k - 1) of N = 20 and k = 3
    assert two.information == pytest.approx(20 * np.log(two.sum_of_squares / 20) + 6 + 24 / 16)


# ---- several models ----


def test_models_are_ranked_and_one_is_recommended():
    known = truth(vapor="virial")
    told = []
    found = sl.rank_models(
        known, [noisy(1, known), noisy(2, known, T=350.0)], ["Margules", "Wilson", "NRTL", "PR"], beside=["ideal"],
        progress=lambda *turn: told.append(turn),
    )  # fmt: skip
    assert told == [(0, 4, "Margules"), (1, 4, "Wilson"), (2, 4, "NRTL"), (3, 4, "PR")]
    assert found.recommended in ("Margules", "Wilson", "NRTL")
    assert list(found.fits)[-1] == "PR"
    assert found.to_frame().loc["ideal", "standard deviation"] > 3.0 * found["NRTL"].standard_deviation
    assert str(found).count("Take ") == 1
    assert found.plot().get_title(loc="left")
    wide = sl.rank_models(known, noisy(3, known), {"two": nothing(), "three": nothing()}, fit={"three": ["tau", "alpha"]})
    assert (len(wide["two"].names), len(wide["three"].names)) == (2, 3)
    with pytest.raises(sl.InputError, match="no fit of"):
        wide["four"]
    with pytest.raises(sl.InputError, match="could be fitted"):
        sl.rank_models(known, noisy(3, known).without(range(9), "few"), ["NRTL"])


def test_a_model_that_misses_a_split_is_objected_to():
    broth = nothing(BROTH, vapor="virial")
    data = liquids(broth, np.linspace(290.0, 350.0, 5))
    found = sl.rank_models(broth, data, ["NRTL", "UNIQUAC", "Wilson"])
    assert found.recommended in ("NRTL", "UNIQUAC")
    assert "Wilson" in found.failed or any(note.startswith("Wilson: no answer") for note in found.notes)


# ---- before fitting ----


def test_consistent_data_pass_and_others_fail_where_they_are_wrong():
    known = nothing(vapor="virial").with_parameters({NAMES[0]: 0.5, NAMES[1]: 0.2})
    x = np.array([0.0, 0.03, 0.08, 0.15, 0.25, 0.35, 0.5, 0.65, 0.75, 0.85, 0.92, 0.97, 1.0])
    for given in ({"T": 330.0}, {"P": 101325.0}):
        good = boiling(known, x, **given)
        passed = {v.test: v.passed for v in sl.consistency(known, good).verdicts}
        assert passed == {"area": True, "point to point": True, "infinite dilution": True, "pure ends": True}
        y = np.clip(good["y"] + np.where((x > 0) & (x < 1), 0.03, 0.0)[:, None] * [1.0, -1.0], 0.0, 1.0)
        wrong = sl.consistency(known, sl.DataSet(PAIR, {**good.values, "y": y}, source="wrong y"))
        assert {v.test: v.passed for v in wrong.verdicts}["point to point"] is False
        assert np.nanmean(wrong.y_off) == pytest.approx(0.03, abs=0.01)
    ends = sl.consistency(known, sl.DataSet(PAIR, {**good.values, "T": good["T"] + 1.0}, source="thermometer")).verdicts[-1]
    assert ends.passed is False
    assert ends.number == pytest.approx(
        100.0 * (1.0 - known.bubble([0.0, 1.0], P=101325.0).P / known.bubble([0.0, 1.0], T=good["T"][0] + 1.0).P), rel=0.3
    )
    for figure in ("area", "points"):
        wrong.plot(figure=figure)
    with pytest.raises(sl.InputError, match="two components"):
        sl.consistency(known, liquids(nothing(BROTH), [300.0, 310.0]))


def test_the_temperature_term_by_measured_excess_enthalpies():
    """Along an isobar ∫ln(γ₁/γ₂)dx is ∫Hᴱ/(RT²)dT: with the model's own Hᴱ the areas come out equal."""
    known = nothing().with_parameters({NAMES[0]: 0.5, NAMES[1]: 0.2, f"{NAMES[0]} slope": 1.5, f"{NAMES[1]} slope": 1.0})
    x = np.linspace(0.02, 0.98, 25)
    data = boiling(known, x, P=101325.0)
    enthalpies = sl.DataSet.of(PAIR, T=data["T"], x=x, HE=known.excess(data["x"], T=data["T"]).H)
    with_them = sl.consistency(known, data, excess_enthalpy=enthalpies).verdicts[0]
    values = known.excess(data["x"], T=data["T"]).gamma
    bare = (
        100.0
        * abs(np.trapezoid(np.log(values[:, 0] / values[:, 1]), x))
        / np.trapezoid(np.abs(np.log(values[:, 0] / values[:, 1])), x)
    )
    assert with_them.number < 0.25 * bare


# ---- keeping, figures, the command line ----


def test_fits_go_to_files_and_figures(tmp_path):
    fit = sl.regress(truth(), [noisy(1), noisy(2, P=101325.0, source="second")], fit=["tau", "tau slope"])
    for figure in ("data", "residuals", "parity", "ellipses"):
        assert sl.save(fit, tmp_path / f"{figure}.png", figure=figure).stat().st_size > 10_000
    for against in ("x", "T", "P"):
        assert fit.plot(figure="residuals", against=against).get_xlabel().startswith(f"${against}$")
    with pytest.raises(sl.InputError, match="against point"):
        fit.plot(figure="residuals", against="y")
    book = pd.read_excel(sl.save(fit, tmp_path / "fit.xlsx"), sheet_name=None)
    assert list(book) == [
        "result",
        "notes",
        "Deviations, fitted - measured",
        "What the parameters come to",
        "Correlation",
        "Points",
        "about",
    ]
    assert len(book["Points"]) == fit.count
    assert "## Deviations" in sl.save(fit, tmp_path / "fit.md").read_text()
    assert fit.plot(of="second").get_ylabel().startswith("$T$")
    with pytest.raises(sl.InputError, match="no set"):
        fit.plot(of=7)
    plain = json.loads(sl.save(fit, tmp_path / "fit.json").read_text())
    assert plain["degrees_of_freedom"] == 36
    assert plain["consequences"][0]["words"].startswith("γ∞")
    assert {"bias", "average", "largest", "relative_rms"} <= set(plain["deviations"][0])
    for text in (str(fit), fit._repr_html_()):
        assert "What the parameters come to" in text
        assert "bias" in text


@pytest.mark.parametrize("kind", [*sets_of_every_kind(), "liquid-liquid", "solid-liquid"])
def test_every_kind_is_drawn(kind, tmp_path):
    if kind == "liquid-liquid":
        system, sets = nothing(BROTH), [liquids(nothing(BROTH), np.linspace(290.0, 350.0, 4))]
    elif kind == "solid-liquid":
        system = nothing(("benzoic acid", "ethanol"))
        sets = [sl.DataSet.of(system.names, T=[280.0, 300.0, 320.0], x=[0.1, 0.17, 0.28], solid="benzoic acid")]
    else:
        system, sets = truth(), sets_of_every_kind()[kind]
    fit = sl.regress(system, sets)
    for i in range(len(sets)):
        ax = fit.plot(of=i)
        assert ax.lines
        assert ax.get_xlabel()
    table = sl.data_table(sets[0], {"as it is": system})
    assert sl.save(table, tmp_path / "points.png").stat().st_size > 5_000


def test_the_command_line_ranks_checks_and_prints_forms():
    measurements()
    still = ["--data", "demo/bench_still_acetone_1-butanol.csv", "--without", "7, 13: stray"]
    ranked = json.loads(
        run(
            "rank-models",
            "acetone + 1-butanol",
            "--liquid",
            "NRTL",
            "--vapor",
            "virial",
            *still,
            "--model",
            "NRTL",
            "--model",
            "Wilson",
            "--json",
        )
    )
    assert ranked["recommended"] in ("NRTL", "Wilson")
    tests = json.loads(
        run("data", "consistency", "acetone + 1-butanol", "--liquid", "ideal", "--vapor", "virial", *still, "--json")
    )
    assert tests["tests"]["point to point"]["verdict"] == "passed"
    both = ["--data", "demo/lab_2_1-butanol_water_solubility.csv", "--data", "demo/lab_2_1-butanol_water_boiling.csv"]
    said = run(
        "regress",
        "1-butanol + water",
        "--liquid",
        "NRTL",
        "--vapor",
        "virial",
        *both,
        "--fit",
        "tau 1/T",
        "--form",
        "cal/mol",
        "--store",
        "case",
    )
    assert "cal/mol" in said
    assert "slope is tau" in said
    solid = run("regress", "benzoic acid + ethanol", "--liquid", "NRTL", "--data", "demo/lab_2_benzoic_acid_in_ethanol.csv")
    assert "x benzoic acid" in solid
    assert "Write it like" in run("regress", "acetone + 1-butanol", "--liquid", "NRTL", *still, "--bound", "tau", status=2)
    bounded = json.loads(
        run(
            "regress",
            "acetone + 1-butanol",
            "--liquid",
            "NRTL",
            *still,
            "--bound",
            "tau acetone / 1-butanol = 0.7 to 2",
            "--uncertainty",
            "y = none",
            "--json",
        )
    )
    assert bounded["parameters"]["tau acetone / 1-butanol"]["value"] == pytest.approx(0.7, abs=1e-3)


def test_a_fit_of_fifty_points_takes_few_batches():
    known = truth()
    x = np.linspace(0.02, 0.98, 25)
    sets = [boiling(known, x, T=320.0), boiling(known, x, T=360.0)]
    found = sl.regress(nothing(), sets, fit=["tau", "tau slope"])
    assert found.evaluations <= 50


@pytest.mark.parametrize(
    ("names", "T"),
    [(["carbon dioxide", "n-decane"], 344.0), (["methane", "hydrogen sulfide"], 277.15), (["methanol", "n-hexane"], 330.0)],
)
def test_a_dissolved_gas_is_no_second_liquid(names, T):
    """Above the critical temperature of one there is no liquid of it that could split, or that activity coefficients refer to."""
    known = sl.System(names, eos="PR", kij={("methanol", "n-hexane"): 0.02} if "methanol" in names else None)
    x = np.array([0.1, 0.3, 0.5])
    points = known.bubble(np.stack([x, 1.0 - x], axis=1), T=T)
    found = sl.regress(known, sl.DataSet.of(known.names, T=T, P=points.P, x=x, y=points.y[:, 0]), fit="kij", forbid_split=False)
    said = [c.words for c in found.consequences]
    gas = any(T > c.Tc for c in known.components)
    assert any("splits the liquid" in note for note in found.notes) != gas
    assert any("of two liquids" in words for words in said) != gas
    assert any("γ∞" in words for words in said) != gas
