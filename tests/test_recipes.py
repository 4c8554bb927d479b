"""Recipes: families of one's own, parameters by name, systems kept in files and handed to other processes."""

import copy
import importlib.util
import json
import pickle
import subprocess
import sys
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.recipes import names_of, recipe_of

EXAMPLES = Path(__file__).parent.parent / "examples"
GAS = ["nitrogen", "methane", "propane", "n-heptane"]
SOLVENTS = ["acetone", "1-butanol", "water"]


OF_FEW_GROUPS = ("modified UNIFAC", "liquid-liquid UNIFAC")
OWN_FAMILIES = ("midway", "spheres", "PR by excess energy", "PR with frost", "quadratic")
"""What examples and tests make; they are there only where those have run."""


def example(name):
    """An example's module, made once: a family is registered once."""
    if name not in sys.modules:
        spec = importlib.util.spec_from_file_location(name, EXAMPLES / f"{name}.py")
        module = importlib.util.module_from_spec(spec)
        sys.modules[name] = module
        spec.loader.exec_module(module)
    return sys.modules[name]


OWN = sl.Component(
    name="sleetane",
    Tc=450.0,
    Pc=35.123456789e5,
    omega=0.2123,
    molar_mass=0.0701,
    segments=2.3123,
    segment_diameter=3.712e-10,
    segment_energy=221.7,
    heat_capacity=sl.databank().find("propane").heat_capacity,
)

SYSTEMS = {
    **{f"{eos}": lambda eos=eos: sl.System([*GAS[:3], OWN], eos=eos, kij={("methane", "sleetane"): 0.0123}) for eos in names_of("eos") if eos not in (*OWN_FAMILIES, "reference")},
    "reference": lambda: sl.System(["water"], eos="reference"),
    "PR with water": lambda: sl.System(["carbon dioxide", "methane", "water"], eos="PR"),
    "PR flexible": lambda: sl.System(GAS, eos="PR", alpha="Twu", translation="density", lij={("methane", "propane"): 0.01}, kij={("methane", "propane"): (0.01, -0.02, 0.003)}),
    "SRK Mathias-Copeman": lambda: sl.System(GAS, eos="SRK", alpha="Mathias-Copeman", translation="Peneloux", kij="estimated", units="US"),
    **{f"{liquid} liquid": lambda liquid=liquid: sl.System(["n-heptane", *SOLVENTS[1:]] if liquid in OF_FEW_GROUPS else SOLVENTS, liquid=liquid, units="metric") for liquid in names_of("liquid") if liquid not in OWN_FAMILIES},
    **{f"NRTL, {vapor}": lambda vapor=vapor: sl.System(SOLVENTS, liquid="NRTL", vapor=vapor, poynting=True) for vapor in names_of("vapor") if vapor not in (*OWN_FAMILIES, "PC-SAFT")},
    "NRTL, PC-SAFT": lambda: sl.System(["n-hexane", "ethyl acetate"], liquid="NRTL", parameters={("n-hexane", "ethyl acetate"): {"a12": 0.5, "a21": 0.6, "alpha": 0.3}}, vapor="PC-SAFT"),
    "NRTL, PR with Twu": lambda: sl.System(SOLVENTS, liquid="NRTL", vapor=recipe_of(eos="PR", alpha="Twu")),
    "NRTL, Henry": lambda: sl.System(["hydrogen", "ethanol", "water"], liquid="NRTL", henry={("hydrogen", "water"): "70000 bar", ("hydrogen", "ethanol"): ("4500 bar", 1.2)}),
    "UNIQUAC q'": lambda: sl.System(["ethanol", "water"], liquid="UNIQUAC", q_residual={"water": 1.0, "ethanol": 0.92}),
    "Wilson at T": lambda: sl.System(["ethanol", "water"], liquid="Wilson", parameters={("ethanol", "water"): {"a12": 325.0, "a21": 953.0, "form": "cal/mol", "volumes": "at T"}}),
    "Redlich-Kister terms": lambda: sl.System(["ethanol", "water"], liquid="Redlich-Kister", parameters={("water", "ethanol"): {"terms": [1.2, (-0.3, 0.1), 0.1]}}),
}  # fmt: skip


def bits(system):
    """What flashes of a system give, to the last bit."""
    rng = np.random.default_rng(3)
    z = rng.dirichlet(np.ones(len(system)), size=12)
    T = rng.uniform(250.0, 400.0, 12)
    states = system.flash(z, T=T, P=10.0 ** rng.uniform(4.5, 6.5, 12))
    return np.concatenate([states.result.x.ravel(), states.H, states.S, states.density]).tobytes()


@pytest.mark.parametrize("name", SYSTEMS)
def test_a_system_comes_back_from_a_file_and_a_pickle_to_the_last_bit(name, tmp_path):
    system = SYSTEMS[name]()
    expected = bits(system)
    for suffix in ("toml", "json"):
        path = sl.save(system, tmp_path / f"kept.{suffix}")
        again = sl.load(path)
        assert again.model == system.model
        assert again.units == system.units
        assert bits(again) == expected
        assert again.notes == system.notes
        assert str(again.model) == str(system.model)
    for other in (pickle.loads(pickle.dumps(system)), copy.copy(system), copy.deepcopy(system)):
        assert bits(other) == expected
        assert type(other) is sl.System


def test_systems_and_results_go_through_a_process_pool(tmp_path):
    systems = [SYSTEMS[name]() for name in ("PR", "NRTL, virial", "NRTL, Henry")]
    with ProcessPoolExecutor(1) as pool:
        assert list(pool.map(bits, systems)) == [bits(s) for s in systems]
        state = pool.submit(flash_there, systems[0]).result()
    assert state.to(T=300.0).T == 300.0
    assert str(state) == str(flash_there(systems[0]))
    path = sl.save(systems[1], tmp_path / "x.toml")
    script = f"import sleetfield as sl; print(sl.load({str(path)!r}).bubble([0.2, 0.3, 0.5], P='1 atm').T.hex())"
    elsewhere = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert elsewhere.stdout.strip() == systems[1].bubble([0.2, 0.3, 0.5], P="1 atm").T.hex()


def flash_there(system):
    return system.flash([0.1, 0.6, 0.2, 0.1], T=250.0, P=20e5)


@pytest.mark.parametrize(
    "result",
    [
        lambda s: s.bubble([0.1, 0.6, 0.2, 0.1], T=220.0),
        lambda s: s.envelope([0.1, 0.6, 0.2, 0.1], quality=[0.5]),
        lambda s: s.critical([0.1, 0.6, 0.2, 0.1]),
        lambda s: s.stability([0.1, 0.6, 0.2, 0.1], T=220.0, P=1e6),
        lambda s: s.parameters,
        lambda s: s.interactions,
        lambda s: s.flash([0.1, 0.6, 0.2, 0.1], T=[250.0, 260.0], P=20e5),
    ],
)
def test_results_are_pickled(result):
    found = result(sl.System(GAS, eos="PR"))
    assert pickle.loads(pickle.dumps(found)).to_frame().equals(found.to_frame())


# ---- parameters by name ----


@pytest.mark.parametrize("name", SYSTEMS)
def test_every_parameter_has_a_name_that_moves_what_it_says(name):
    system = SYSTEMS[name]()
    symbols = {s.symbol: s for s in system.model.recipe.all_symbols()}
    for key in system.parameters.names:
        parameter = system.model.parameters[key]
        if name == "van Laar liquid" and not parameter.known:
            continue  # both of a pair are zero, or none
        value = system.parameters[key]
        moved = value * 1.01 + 1e-3 * symbols[parameter.symbol].size * (parameter.symbol != "sigma")
        other = system.with_parameters({key: moved})
        assert other.parameters[key] == pytest.approx(moved, rel=1e-12)
        assert other.model.parameters[key].source == "given in code"
        assert system.parameters[key] == value
        assert symbols[parameter.symbol].low <= value <= symbols[parameter.symbol].high
        assert {k for k in system.parameters.names if other.parameters[k] != system.parameters[k]} == {key}


def test_a_changed_number_is_the_same_as_a_given_one():
    pair = ("carbon dioxide", "n-decane")
    for value in (0.05, (0.1, -0.03), (0.1, -0.03, 0.01)):
        given = sl.System(pair, eos="SRK", kij={pair: value})
        numbers = dict(zip(("", " slope", " bend"), np.atleast_1d(value), strict=False))
        changed = sl.System(pair, eos="SRK", kij={pair: 0.2}).with_parameters(
            {f"kij {pair[0]} / {pair[1]}{k}": v for k, v in numbers.items()}
        )
        assert changed.bubble([0.5, 0.5], T=350.0).P == pytest.approx(given.bubble([0.5, 0.5], T=350.0).P, rel=1e-13)
        turned = sl.System(pair, eos="SRK", kij={pair: 0.2}).with_parameters({f"kij {pair[1]} / {pair[0]}": 0.05})
        assert turned.kij[0, 1] == pytest.approx(0.05)


@pytest.mark.parametrize(
    ("values", "message"),
    [
        ({"kij methane / water": 0.1}, "There is no parameter"),
        ({"translation methane slope": 0.1}, "doesn't depend on temperature"),
        ({"kij nitrogen / methane": float("nan")}, "finite"),
        ({"kij": 1.0}, "There is no parameter"),
    ],
)
def test_wrong_names_and_numbers_are_refused(values, message):
    with pytest.raises(sl.SleetfieldError, match=message):
        sl.System(GAS, eos="PR", translation="density").with_parameters(values)


def test_a_function_of_temperature_is_given_in_any_of_its_forms():
    """Value and slopes, the same around another temperature, and terms of a published equation, against each other and against differences."""
    rng = np.random.default_rng(5)
    for _ in range(300):
        value, slope, bend = rng.normal(size=3)
        T0, T = rng.uniform(200.0, 500.0, 2)
        f = sl.OfTemperature.read({"value": value, "slope": slope, "bend": bend, "T0": T0}, "kij")
        theta = T0 / T - 1.0
        assert f.at(T) == pytest.approx(value + slope * theta + bend * theta**2, abs=1e-12)
        assert sl.OfTemperature.read(f.plain(), "kij") == f
        a, b, c, d, e = rng.normal(size=5) * [1.0, 300.0, 0.3, 3e-3, 1e5]
        g = sl.OfTemperature.read({"1": a, "1/T": b, "ln T": c, "T": d, "1/T2": e}, "tau")
        assert g.at(T) == pytest.approx(a + b / T + c * np.log(T) + d * T + e / T**2, rel=1e-12)
        h = 1e-3
        up, down = (g.at(T0 / (1.0 + s)) for s in (h, -h))
        assert g.parts(T0)[1] == pytest.approx((up - down) / (2.0 * h), rel=1e-4, abs=1e-4)
        assert g.parts(T0)[2] == pytest.approx(0.5 * (up - 2.0 * g.at(T0) + down) / h**2, rel=1e-3, abs=1e-3)
        k = g.with_part("slope", 0.7, T0)
        assert k.parts(T0) == pytest.approx((g.parts(T0)[0], 0.7, g.parts(T0)[2]), rel=1e-9, abs=1e-9)


@pytest.mark.parametrize(
    ("given", "message"),
    [("x", "no number"), ([1.0, 2.0, 3.0, 4.0], "value, slope and bend"), ({"T3": 1.0}, "terms"), ({"slope": 1.0}, "terms"), ({"value": 1.0, "T0": -5.0}, "positive"), (float("inf"), "finite")],
)  # fmt: skip
def test_what_is_no_function_of_temperature(given, message):
    with pytest.raises(sl.InputError, match=message):
        sl.OfTemperature.read(given, "kij of a and b")


def test_the_table_of_an_equation_of_state_says_what_the_numbers_come_to():
    table = sl.System(["methane", "water"], eos="SRK").parameters
    assert any("Saturation pressures" in note and "water" in note for note in table.notes)
    assert table["kij methane / water"] == table.system.kij[0, 1]
    assert "kij methane / water" in str(table)
    with pytest.raises(sl.InputError, match="no activity model"):
        table.gamma_infinity("methane", "water")


def test_arrays_that_are_handed_out_cannot_be_written_to():
    system = sl.System(GAS, eos="PR", translation="density")
    states = system.flash([0.1, 0.6, 0.2, 0.1], T=[250.0, 260.0], P=20e5)
    points = system.bubble([0.1, 0.6, 0.2, 0.1], T=[220.0, 230.0])
    envelope = system.envelope([0.1, 0.6, 0.2, 0.1])
    handed = (states.T, states.z, states.result.x, states.result.amount, points.P, points.incipient, envelope.z)
    for array in (system.kij, system.molar_mass, system.translation, *handed):
        with pytest.raises(ValueError, match="read-only"):
            array[0] = 1.0


def test_other_models_units_and_parts_of_a_system():
    system = sl.System(SOLVENTS, liquid="NRTL", vapor="virial", parameters={("acetone", "1-butanol"): {"a12": 0.3, "a21": 0.2}})
    part = system.part(["water", "acetone"])
    assert part.names == ("water", "acetone")
    assert part.bubble([0.4, 0.6], P=1e5).T == pytest.approx(system.bubble([0.6, 0.0, 0.4], P=1e5).T, rel=1e-10)
    assert system.with_units("US").units == "US"
    assert system.with_model(eos="PR", kij="zero").model_title == "PR"
    assert system.with_model(liquid="NRTL").model != system.model
    assert (
        sl.System(SOLVENTS, liquid="NRTL", vapor="virial", parameters={("acetone", "1-butanol"): {"a12": 0.3, "a21": 0.2}}).model
        == system.model
    )


def test_it_is_said_where_translated_volumes_and_excess_enthalpies_cannot_be_right():
    """The size of what is said, against the databank's density: 0.5 to 0.75 of what a tenth below the critical temperature is off."""
    translated, own = (sl.System(["propane"], eos="PR", translation=t) for t in ("density", None))
    component = sl.databank().find("propane")
    for T, near in ((0.8 * component.Tc, False), (0.97 * component.Tc, True)):
        point = translated.bubble([1.0], T=T)
        state = translated.flash([1.0], T=T, P=point.P * 1.0001)
        off = 1.0 / state.phases[-1].molar_volume / float(component.liquid_density.value(np.array([T]))[0]) - 1.0
        assert (-0.25 < off < -0.05) == near
        assert any("constant translation" in note for note in state.notes) == near
        assert not any("constant translation" in note for note in own.flash([1.0], T=T, P=point.P * 1.0001).notes)
    alcohol = sl.System(["ethanol", "water"], liquid="NRTL").excess([0.5, 0.5], T=298.15)
    assert any("sign included" in note for note in alcohol.notes)
    assert not any(
        "sign included" in note for note in sl.System(["ethanol", "water"], liquid="ideal").excess([0.5, 0.5], T=298.15).notes
    )


# ---- families of one's own ----


def test_an_equation_of_ones_own_does_what_the_shipped_ones_do(tmp_path):
    example("own_equation_of_state")
    assert "midway" in names_of("eos")
    system = sl.System(GAS, eos="midway", kij={("nitrogen", "methane"): 0.03}, translation="density", alpha="Twu")
    z = [0.1, 0.6, 0.2, 0.1]
    state = system.flash(z, T=250.0, P=20e5)
    assert state.n_phases == 2
    assert system.flash(z, P=20e5, H=state.H).T == pytest.approx(250.0)
    envelope = system.envelope(z)
    assert envelope.critical_points[0].T == pytest.approx(system.critical(z).T, rel=1e-6)
    assert len(system.diagram("Pxy", "propane", "n-heptane", T=350.0).x) > 20
    again = sl.load(sl.save(system, tmp_path / "own.toml"))
    assert bits(again) == bits(system)
    beside = sl.System(["acetone", "n-hexane"], liquid="NRTL", vapor="midway")
    assert beside.bubble([0.5, 0.5], P=1e5).T == pytest.approx(
        sl.System(["acetone", "n-hexane"], liquid="NRTL", vapor="PR").bubble([0.5, 0.5], P=1e5).T, abs=0.3
    )
    for name in ("n-heptane", "methane"):
        pure, c = sl.System([name], eos="midway"), sl.databank().find(name)
        assert pure.critical([1.0]).T == pytest.approx(c.Tc, rel=1e-9)
        assert pure.critical([1.0]).P == pytest.approx(c.Pc, rel=1e-9)


def test_a_helmholtz_energy_of_ones_own_does_what_the_shipped_ones_do(tmp_path):
    example("own_helmholtz_equation")
    system = sl.System(["methane", "ethane", "propane"], eos="spheres", kij={("methane", "propane"): 0.02})
    z = [0.7, 0.2, 0.1]
    state = system.flash(z, T=213.15, P=20e5)
    assert state.n_phases == 2
    assert system.flash(z, P=20e5, H=state.H).T == pytest.approx(213.15)
    assert system.dew(z, P=20e5).T > 213.15 > system.bubble(z, P=20e5).T
    envelope = system.envelope(z)
    assert envelope.critical_points[0].T == pytest.approx(system.critical(z).T, rel=1e-8)
    assert envelope.closed
    assert len(system.diagram("Pxy", "ethane", "propane", T=250.0).x) > 20
    assert len(system.table(z, T=[220.0, 240.0], P=20e5, properties=["H", "density"])) == 2
    assert bits(sl.load(sl.save(system, tmp_path / "own.toml"))) == bits(system)
    for name in ("methane", "propane"):
        pure, c = sl.System([name], eos="spheres").critical([1.0]), sl.databank().find(name)
        assert (pure.T, pure.P) == pytest.approx((c.Tc, c.Pc), rel=1e-6)
        # Carnahan and Starling (1972): Zc = 0.359
        assert pure.P * pure.molar_volume / (8.31446261815324 * pure.T) == pytest.approx(0.359, abs=1e-4)


def test_a_mixing_rule_of_ones_own_does_what_the_shipped_one_does(tmp_path):
    module = example("own_mixing_rule")
    system = sl.System(["acetone", "n-hexane"], eos="PR by excess energy", kij={("acetone", "n-hexane"): 0.32})
    z = [0.4, 0.6]
    state = system.flash(z, T=327.0, P=0.9e5)
    assert state.n_phases == 2
    assert system.flash(z, P=0.9e5, H=state.H).T == pytest.approx(327.0)
    envelope = system.envelope(z)
    assert envelope.critical_points[0].T == pytest.approx(system.critical(z).T, rel=1e-8)
    assert 0.2 < system.azeotropes(P="1 atm")[0].x[0] < 0.8
    assert len(system.diagram("Txy", P="1 atm").azeotropes) == 1
    assert len(system.table(z, T=[300.0, 320.0], P=1e5, properties=["H", "density"])) == 2
    assert bits(sl.load(sl.save(system, tmp_path / "own.toml"))) == bits(system)
    # at infinite pressure ln γ are those of the excess Gibbs energy g x₁x₂
    T, P, x = np.array([320.0]), np.array([1e12]), np.array([[0.3, 0.7]])
    model, R = system.phase_model, 8.31446261815324
    ln_gamma = model.at(T, P).ln_phi(x)[0] - [model.at(T, P).ln_phi(np.eye(2)[[i]] + 1e-100)[0, i] for i in (0, 1)]
    np.testing.assert_allclose(ln_gamma, 3200.0 / (R * 320.0) * np.array([0.49, 0.09]), rtol=2e-3)
    # with gᵢⱼ that undo the difference it is van der Waals' rule, which shares no line with it
    plain = sl.System(["methane", "propane"], eos="PR", kij={("methane", "propane"): 0.02}).phase_model
    root, b = plain.root_a(T)[0][0], plain.b
    S = root**2 / b
    g = module.LAMBDA * (S[0] * b[1] + S[1] * b[0] - 2.0 * root[0] * root[1] * 0.98)
    x = np.array([[0.5, 0.5]])
    rule = module.ByExcessEnergy(plain.root_a, b, np.array([[0.0, 1.0], [1.0, 0.0]]) * g / b.mean())
    assert rule.at(T).attraction(x)[0] == pytest.approx(plain.mixing.at(T).attraction(x)[0], rel=1e-12)


def test_a_liquid_of_ones_own_does_what_the_shipped_ones_do(tmp_path):
    example("own_liquid_model")
    pair = {("acetone", "n-hexane"): {"a12": (1.9, 0.8), "a21": 0.0}}
    system = sl.System(["acetone", "n-hexane"], liquid="quadratic", vapor="virial", parameters=pair)
    two = sl.PairParameters(a12=(1.9, 0.8), a21=(1.9, 0.8))
    shipped = sl.System(["acetone", "n-hexane"], liquid="Margules", vapor="virial", parameters={("acetone", "n-hexane"): two})
    assert bits(system) == pytest.approx(bits(system))
    assert system.bubble([0.3, 0.7], P=1e5).T == pytest.approx(shipped.bubble([0.3, 0.7], P=1e5).T, rel=1e-12)
    a, b = (s.excess([0.3, 0.7], T=[310.0, 330.0]) for s in (system, shipped))
    for name in ("G", "H", "Cp"):
        np.testing.assert_allclose(getattr(a, name), getattr(b, name), rtol=1e-10, atol=1e-12)
    assert system.azeotropes(P="1 atm")[0].T == pytest.approx(shipped.azeotropes(P="1 atm")[0].T, rel=1e-9)
    assert len(system.diagram("Txy", P="1 atm").azeotropes) == 1
    assert bits(sl.load(sl.save(system, tmp_path / "own.json"))) == bits(system)


def test_recipes_are_given_as_names_values_or_classes():
    from sleetfield.recipes.cubic import PR

    for given in ("pr", PR(alpha="Twu"), PR):
        assert sl.System(["methane"], eos=given).eos == "PR"
    with pytest.raises(sl.InputError, match="no liquid model"):
        sl.System(["methane"], liquid=PR())
    with pytest.raises(sl.InputError, match="already"):
        type("Second", (sl.CubicEquation,), {"__module__": "elsewhere"}, name="PR")
    with pytest.raises(sl.InputError, match="no option"):
        recipe_of(eos="PR", beta=1.0)


# ---- files that are wrong ----


def kept():
    return json.loads(json.dumps(sl.System(["methane", "propane"], eos="PR").to_dict()))


def without(key):
    return lambda d: d.pop(key)


@pytest.mark.parametrize(
    ("damage", "message"),
    [
        (lambda d: d.update(sleetfield=99), "version"),
        (without("sleetfield"), "version"),
        (without("component"), "components"),
        (without("model"), "model"),
        (lambda d: d.update(model={"eos": "midday"}), "no equation of state"),
        (lambda d: d.update(model={"eos": "PR", "gamma": 1}), "no option"),
        (lambda d: d.update(surprise=1), "surprise"),
        (lambda d: d["parameter"][0].update(symbol="kik"), "no parameter"),
        (lambda d: d["parameter"][0].update(of=["methane", "water"]), "no parameter"),
        (lambda d: d["parameter"][0].update(of="methane"), "list of names"),
        (lambda d: d["parameter"][0].update(value="0.1.2"), "no number"),
        (lambda d: d["parameter"].append({"symbol": "lij", "of": ["methane", "propane"], "value": {"1/T": 3.0}}), "is a number"),
        (lambda d: d["parameter"][0].pop("value"), "symbol, of and value"),
        (lambda d: d["component"][0].update(Tc={"value": -3.0}), "positive"),
        (lambda d: d["component"][0].pop("name"), "damaged"),
        (lambda d: d["component"].append(d["component"][0]), "twice"),
        (lambda d: d.update(component=3), "list of components"),
        (lambda d: d.update(units="furlongs"), "units"),
    ],
)
def test_a_damaged_file_is_refused_and_named(damage, message, tmp_path):
    content = kept()
    damage(content)
    path = tmp_path / "kept.json"
    path.write_text(json.dumps(content))
    with pytest.raises(sl.InputError, match=message):
        sl.load(path)


@pytest.mark.parametrize("text", ["", "[", "sleetfield = ", "\x00\x01", "[" * 100_000, '{"sleetfield": NaN}'])
def test_what_is_no_file_of_a_system_is_refused(text, tmp_path):
    for suffix in ("toml", "json"):
        path = tmp_path / f"kept.{suffix}"
        path.write_text(text)
        with pytest.raises(sl.InputError):
            sl.load(path)
    with pytest.raises(sl.InputError, match=r"\.toml or \.json"):
        sl.save(sl.System(["methane"], eos="PR"), tmp_path / "kept.csv")
    with pytest.raises(sl.InputError, match="no file that a system"):
        sl.load(tmp_path / "kept.csv")
    with pytest.raises(sl.InputError, match="can't be read"):
        sl.load(tmp_path / "nothing.toml")
