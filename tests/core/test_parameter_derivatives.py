"""Derivatives of converged states by parameters, against differences between solved states, for every kind of model."""

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.equilibrium import saturation
from sleetfield.core.equilibrium.parameter_derivatives import (
    Phase,
    Shift,
    of_saturation,
    of_saturation_conditions,
    of_split_saturation,
    of_two_phases,
)
from sleetfield.core.models.contract import LIQUID, VAPOR

GAS = ["carbon dioxide", "propane", "n-heptane"]
SOLVENTS = ["acetone", "1-butanol", "water"]
SYSTEMS = {
    "PR": lambda: sl.System(GAS, eos="PR", kij={("propane", "n-heptane"): (0.01, 0.02)}),
    "SRK, lij": lambda: sl.System(GAS, eos="SRK", lij={("carbon dioxide", "n-heptane"): 0.02}),
    "PR, Twu, translated": lambda: sl.System(GAS, eos="PR", alpha="Twu", translation="density"),
    "PC-SAFT": lambda: sl.System(GAS, eos="PC-SAFT", kij={("propane", "n-heptane"): (0.01, 0.02)}),
    "PR with water": lambda: sl.System(["carbon dioxide", "propane", "water"], eos="PR"),
    **{f"{liquid}": lambda liquid=liquid: sl.System(SOLVENTS, liquid=liquid) for liquid in ("Margules", "Wilson", "NRTL", "UNIQUAC", "Redlich-Kister")},
    "NRTL, virial": lambda: sl.System(SOLVENTS, liquid="NRTL", vapor="virial", poynting=True),
    "NRTL, PR": lambda: sl.System(SOLVENTS, liquid="NRTL", vapor="PR"),
    "UNIFAC": lambda: sl.System(SOLVENTS, liquid="UNIFAC"),
    "modified UNIFAC": lambda: sl.System(["benzene", "1-butanol", "ethanol"], liquid="modified UNIFAC"),
    "SRK by UNIFAC": lambda: sl.System(SOLVENTS, eos="SRK", mixing="MHV2", excess="UNIFAC"),
    "PR by NRTL": lambda: sl.System(SOLVENTS, eos="PR", mixing="HV", excess="NRTL"),
    "Henry": lambda: sl.System(["hydrogen", "ethanol", "water"], liquid="NRTL", henry={("hydrogen", "water"): "70000 bar", ("hydrogen", "ethanol"): "4500 bar"}),
}  # fmt: skip
FEEDS = np.array([[0.1, 0.5, 0.4], [0.3, 0.3, 0.4], [0.02, 0.08, 0.9], [0.7, 0.2, 0.1]])


def changed(system, name, by):
    return system.with_parameters({name: system.parameters[name] + by})


def size(system, name):
    """A step that moves a parameter of any size a little."""
    small = {"translation": 1e-3, "sigma": 0.0}
    return 1e-5 * max(abs(system.parameters[name]), small.get(name.split()[0], 1.0))


def shift(system, name):
    step = size(system, name)
    return Shift(changed(system, name, -step).phase_model, changed(system, name, step).phase_model, step)


def some_names(system):
    """Every symbol's first parameter, and the slope of one."""
    chosen = {p.symbol: p.name for p in reversed(list(system.model.parameters.values())) if p.known and p.symbol != "translation"}
    varying = [f"{name} slope" for symbol, name in chosen.items() if symbol in ("kij", "tau", "ln_tau", "A")]
    return [*chosen.values(), *varying[:1]]


@pytest.mark.parametrize("kind", ["bubble", "dew"])
@pytest.mark.parametrize("given", ["T", "P"])
@pytest.mark.parametrize("name", SYSTEMS)
def test_saturation_points_move_as_differences_say(name, given, kind):
    system = SYSTEMS[name]()
    dry = np.array([[0.4, 0.5999, 0.0001], [0.2, 0.7999, 0.0001]])
    z = (
        dry
        if name == "PR with water"
        else FEEDS
        if name != "Henry"
        else np.array([[1e-5, 0.4, 0.59999], [1e-6, 0.1, 0.899999], [2e-5, 0.7, 0.29998]])
    )
    volatile = name.startswith(("PR", "SRK", "PC-SAFT")) and "by" not in name
    level = {"T": 290.0 if volatile else 350.0, "P": 20e5 if volatile else 1e5}[given]
    points = getattr(system, kind)(z, **{given: level})
    # feeds that are two liquids at their bubble point obey other equations
    single = np.array([len(p.liquids) == 1 for p in points]) if kind == "bubble" else True
    rows = np.flatnonzero(np.isfinite(points.P + points.T) & points.stable & single)
    assert rows.size
    phases = (Phase(z[rows], LIQUID), Phase(points.incipient[rows], VAPOR))
    if kind == "dew":
        phases = (Phase(z[rows], VAPOR), Phase(points.incipient[rows], LIQUID))
    names = some_names(system)
    shifts = [shift(system, n) for n in names]
    unknown, moved = of_saturation(system.phase_model, shifts, given, points.T[rows], points.P[rows], *phases)
    other = "P" if given == "T" else "T"
    for k, parameter in enumerate(names):
        differences = []
        for h in (30.0 * size(system, parameter), 60.0 * size(system, parameter)):
            up, down = (getattr(changed(system, parameter, by), kind)(z, **{given: level}) for by in (h, -h))
            slope = (np.log(getattr(up, other)[rows]) - np.log(getattr(down, other)[rows])) / (2.0 * h)
            differences.append((slope, (up.incipient[rows] - down.incipient[rows]) / (2.0 * h)))
        # without the error that goes with the square of the step
        slope, difference = ((4.0 * near - far) / 3.0 for near, far in zip(*differences, strict=True))
        # of a parameter that is itself very small or large, derivatives are compared for a change of its own size
        s = min(1.0, 1e5 * size(system, parameter)) if "sigma" in parameter else 1.0
        np.testing.assert_allclose(s * unknown[:, k], s * slope, rtol=1e-6, atol=2e-8)
        np.testing.assert_allclose(s * moved[:, k], s * difference, rtol=1e-5, atol=2e-7)
        assert np.abs(s * moved[:, k].sum(axis=1)).max() < 1e-9


@pytest.mark.parametrize(
    ("name", "z", "T", "P", "kinds"),
    [
        ("PR", FEEDS, 300.0, 15e5, (VAPOR, LIQUID)),
        ("SRK, lij", FEEDS, 300.0, 15e5, (VAPOR, LIQUID)),
        ("PR, Twu, translated", FEEDS, 300.0, 15e5, (VAPOR, LIQUID)),
        ("PC-SAFT", FEEDS, 300.0, 15e5, (VAPOR, LIQUID)),
        *(
            (name, np.array([[0.3, 0.3, 0.4]]), None, 1.05e5, (VAPOR, LIQUID))
            for name in ("Margules", "Wilson", "NRTL, PR", "UNIFAC", "PR by NRTL", "SRK by UNIFAC")
        ),
        ("NRTL, virial", np.array([[0.3, 0.3, 0.4]]), 355.0, 1.05e5, (VAPOR, LIQUID)),
        ("NRTL", np.array([[0.01, 0.2, 0.79], [0.02, 0.15, 0.83]]), 300.0, 1e5, (LIQUID, LIQUID)),
        ("UNIQUAC", np.array([[0.01, 0.2, 0.79]]), 300.0, 1e5, (LIQUID, LIQUID)),
    ],
)
def test_two_phases_move_as_differences_say(name, z, T, P, kinds):
    system = SYSTEMS[name]()
    T = 0.2 * system.bubble(z, P=P).T + 0.8 * system.dew(z, P=P).T if T is None else T
    states = system.flash(z, T=T, P=P)
    rows = np.flatnonzero((states.n_phases == 2) & (states.result.kinds[:, :2] == kinds).all(axis=1))
    assert rows.size
    names = some_names(system)
    r = states.result
    parts = (Phase(r.x[rows, 0], kinds[0]), Phase(r.x[rows, 1], kinds[1]))
    shifts = [shift(system, n) for n in names]
    share, first, second = of_two_phases(system.phase_model, shifts, states.T[rows], states.P[rows], r.amount[rows, :2], *parts)
    for k, parameter in enumerate(names):
        differences = []
        for h in (30.0 * size(system, parameter), 60.0 * size(system, parameter)):
            up, down = (changed(system, parameter, by).flash(z, T=T, P=P).result for by in (h, -h))
            differences.append(((up.amount - down.amount)[rows, 0] / (2.0 * h), (up.x - down.x)[rows, :2] / (2.0 * h)))
        amounts, compositions = ((4.0 * near - far) / 3.0 for near, far in zip(*differences, strict=True))
        np.testing.assert_allclose(share[:, k], amounts, rtol=1e-6, atol=1e-7)
        for f, own in enumerate((first, second)):
            np.testing.assert_allclose(own[:, k], compositions[:, f], rtol=1e-6, atol=1e-7)
    # what one phase gains the other loses
    beta = r.amount[rows, :2]
    total = (
        share[:, :, None] * (r.x[rows, 0] - r.x[rows, 1])[:, None]
        + beta[:, 0, None, None] * first
        + beta[:, 1, None, None] * second
    )
    # by a diameter of 1e-10 m, derivatives are of the order of 1e9
    np.testing.assert_allclose(total, 0.0, atol=1e-9 * max(1.0, float(np.abs(first).max())))


def test_no_parameters_are_no_derivatives():
    system = SYSTEMS["PR"]()
    point = system.bubble(FEEDS, T=290.0)
    unknown, moved = of_saturation(system.phase_model, [], "T", point.T, point.P, Phase(FEEDS, LIQUID), Phase(point.y, VAPOR))
    assert unknown.shape == (len(FEEDS), 0)
    assert moved.shape == (len(FEEDS), 0, 3)


@pytest.mark.parametrize("kind", ["bubble", "dew"])
@pytest.mark.parametrize("given", ["T", "P"])
@pytest.mark.parametrize("name", ["PR", "NRTL", "NRTL, virial"])
def test_saturation_points_move_with_their_conditions(name, given, kind):
    system = SYSTEMS[name]()
    level = {"T": 290.0 if name == "PR" else 350.0, "P": 20e5 if name == "PR" else 1e5}[given]
    feeds = FEEDS if name == "PR" else np.array([[0.3, 0.6, 0.1], [0.6, 0.35, 0.05]])
    points = getattr(system, kind)(feeds, **{given: level})
    phases = (Phase(feeds, LIQUID), Phase(points.incipient, VAPOR))
    if kind == "dew":
        phases = (Phase(feeds, VAPOR), Phase(points.incipient, LIQUID))
    unknown, moved = of_saturation_conditions(system.phase_model, given, points.T, points.P, *phases)
    other = "P" if given == "T" else "T"

    def near(z, at):
        p = getattr(system, kind)(z, **{given: at})
        return np.log(getattr(p, other)), p.incipient

    h = 1e-5
    for k in range(feeds.shape[1]):
        step = h * level if k == 0 else h
        dz = np.zeros(3)
        if k:
            dz[[k - 1, 2]] = step, -step
        up, down = (near(feeds + s * dz, level + s * step * (k == 0)) for s in (1.0, -1.0))
        np.testing.assert_allclose(unknown[:, k], (up[0] - down[0]) / (2.0 * step), rtol=1e-6, atol=1e-9)
        np.testing.assert_allclose(moved[:, k], (up[1] - down[1]) / (2.0 * step), rtol=1e-5, atol=1e-8)


@pytest.mark.parametrize("given", ["T", "P"])
def test_feeds_that_boil_as_two_liquids_move_as_differences_say(given):
    system = sl.System(["1-butanol", "water", "ethanol"], liquid="NRTL", vapor="virial")
    z = np.array([[0.1, 0.88, 0.02], [0.25, 0.74, 0.01], [0.2, 0.8, 0.0]])
    at = {"T": 360.0, "P": 1e5}[given]
    points = system.bubble(z, **{given: at})
    liquids = [p.liquids for p in points]
    assert all(len(two) == 2 for two in liquids)
    x = np.array([[list(p.composition.values()) for p in two] for two in liquids])
    amounts = np.array([[p.fraction for p in two] for two in liquids])
    names = ["tau 1-butanol / water", "tau water / 1-butanol", "alpha 1-butanol / water", "tau ethanol / water"]
    shifts = [shift(system, n) for n in names]
    unknown, moved = of_split_saturation(system.phase_model, shifts, given, points.T, points.P, points.incipient, x, amounts)
    other = "P" if given == "T" else "T"
    for k, name in enumerate(names):
        h = 30.0 * size(system, name)
        up, down = (changed(system, name, by).bubble(z, **{given: at}) for by in (h, -h))
        slope = (np.log(getattr(up, other)) - np.log(getattr(down, other))) / (2.0 * h)
        np.testing.assert_allclose(unknown[:, k], slope, rtol=1e-4, atol=1e-6)
        np.testing.assert_allclose(moved[:, k], (up.incipient - down.incipient) / (2.0 * h), rtol=1e-4, atol=1e-6)


def test_points_sought_from_near_ones_are_those_sought_from_nothing():
    for name, make in SYSTEMS.items():
        if name in ("Henry", "PR with water"):
            continue
        system, level = make(), 290.0 if name.startswith(("PR", "SRK", "PC-SAFT")) else 350.0
        model, T = system.phase_model, np.full(len(FEEDS), level)
        for solve, given in ((saturation.bubble_at_T, T), (saturation.dew_at_T, T)):
            cold = solve(model, given, FEEDS)
            off = cold.P * np.exp(np.linspace(-0.1, 0.1, len(FEEDS)))
            off[0] = np.nan
            warm = solve(model, given, FEEDS, (off, np.roll(cold.incipient, 1, axis=0)))
            np.testing.assert_allclose(warm.P, cold.P, rtol=1e-9)
            np.testing.assert_allclose(warm.incipient, cold.incipient, rtol=1e-8, atol=1e-14)
