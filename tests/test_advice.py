"""Advice: textbook situations with a known sensible choice, reasons, honest refusals; and comparison of models."""

import json

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.calculations.advice import FACTS, PURPOSES, _rules
from sleetfield.components.classes import classes_of

from .commands import run

CUBIC, LOCAL = {"PR", "SRK", "PC-SAFT"}, {"NRTL", "UNIQUAC", "Wilson"}

SITUATIONS = [
    # Poling, Prausnitz and O'Connell, 5th ed. (2001), ch. 8; Prausnitz, Lichtenthaler and de Azevedo, 3rd ed. (1999), ch. 6, 7, 10, 12
    ("light hydrocarbons at high pressure", "methane + ethane + propane", "250 K", "40 bar", "vapor-liquid", {"PR", "SRK"}),
    ("natural gas with a heavy tail", "nitrogen + methane + propane + n-decane", "260 K", "60 bar", "envelope", {"PR", "SRK"}),
    ("hydrogen in hydrocarbons", "hydrogen + methane + benzene", "40 degC", "50 bar", "vapor-liquid", {"PR", "SRK"}),
    ("carbon dioxide and alkanes", "carbon dioxide + propane + n-decane", "320 K", "60 bar", "vapor-liquid", {"PR", "SRK"}),
    ("air", "nitrogen + oxygen + argon", "90 K", "1.5 bar", "distillation", {"PR", "SRK"}),
    ("ethylene splitter", "ethylene + ethane", "240 K", "20 bar", "distillation", {"PR", "SRK"}),
    ("butanes", "n-butane + isobutane", "330 K", "7 bar", "distillation", {"PR", "SRK"}),
    ("a pure refrigerant-like gas", "propane", "300 K", "10 bar", "enthalpy", CUBIC),
    ("condensate densities", "n-pentane + n-decane", "300 K", "5 bar", "density", CUBIC),
    ("aromatics at one bar", "benzene + toluene", "90 degC", "1 bar", "distillation", {"PR", "SRK", "ideal"}),
    ("isomers", "o-xylene + p-xylene", "140 degC", "1 bar", "distillation", {"PR", "SRK", "ideal"}),
    ("alcohol and water", "ethanol + water", "80 degC", "1 bar", "distillation", LOCAL),
    ("methanol and water", "methanol + water", "70 degC", "1 atm", "distillation", LOCAL),
    ("ketone and water", "acetone + water", "60 degC", "1 atm", "vapor-liquid", LOCAL),
    ("alcohol and hydrocarbon", "ethanol + n-hexane", "60 degC", "1 bar", "vapor-liquid", LOCAL),
    ("ester and alcohol", "ethyl acetate + ethanol", "75 degC", "1 bar", "distillation", LOCAL),
    ("negative deviations", "acetone + chloroform", "60 degC", "1 bar", "vapor-liquid", LOCAL),
    ("partly miscible alcohol", "1-butanol + water", "90 degC", "1 bar", "vapor-liquid", {"NRTL", "UNIQUAC"}),
    ("extraction", "acetone + toluene + water", "25 degC", "1 bar", "liquid-liquid", {"NRTL", "UNIQUAC"}),
    ("decanter with an ester", "n-butyl acetate + water", "30 degC", "1 bar", "liquid-liquid", {"NRTL", "UNIQUAC"}),
    ("water in natural gas", "methane + carbon dioxide + water", "40 degC", "50 bar", "vapor-liquid", {"PR"}),
    ("water and hydrocarbon under pressure", "propane + water", "50 degC", "15 bar", "vapor-liquid", {"PR", "CPA"}),
    ("fermenter solvents", "acetone + 1-butanol + ethanol + water", "80 degC", "1 bar", "distillation", {"NRTL", "UNIQUAC"}),
    ("acid dimers in the vapor", "acetic acid + water", "100 degC", "1 bar", "vapor-liquid", {"CPA"}),
    ("methanol as an inhibitor", "methane + methanol + water", "10 degC", "60 bar", "vapor-liquid", {"CPA"}),
    ("near a critical point", "ethane + carbon dioxide", "295 K", "55 bar", "vapor-liquid", {"PR", "SRK"}),
    ("aromatic and nitrile", "benzene + acetonitrile", "45 degC", "0.4 bar", "vapor-liquid", LOCAL),
]  # fmt: skip


@pytest.mark.parametrize(("name", "mixture", "T", "P", "purpose", "accepted"), SITUATIONS, ids=[s[0] for s in SITUATIONS])
def test_the_first_advice_is_a_sensible_one(name, mixture, T, P, purpose, accepted):
    found = sl.advise(mixture.split(" + "), T=T, P=P, purpose=purpose)
    assert found[0].name.split(",")[0] in accepted
    assert found[0].reasons[0].points > 0.0
    assert all(r.reference for s in found.suggestions for r in s.reasons)
    assert found[0].system.names == tuple(mixture.split(" + "))
    points = [s.points for s in found.suggestions]
    assert points == sorted(points, reverse=True)


def test_there_are_twenty_five_situations():
    assert len(SITUATIONS) >= 25


def test_suggestions_can_be_calculated_with_at_once():
    for _, mixture, T, P, purpose, _ in SITUATIONS[:3] + SITUATIONS[11:13]:
        found = sl.advise(mixture.split(" + "), T=T, P=P, purpose=purpose)
        z = np.full(len(found.names), 1.0 / len(found.names))
        for s in found.suggestions[:2]:
            assert s.system.flash(z, T=T, P=P).n_phases >= 1


def test_reasons_are_right():
    acid = sl.advise(["acetic acid", "water"], T="100 degC", P="1 bar")
    assert any("dimerize" in note for note in acid.notes)
    split = sl.advise(["1-butanol", "water"], T="90 degC", P="1 bar")
    assert "two liquids: 1-butanol - water" in split.phases
    assert any("can't split" in why for why in split.excluded.values())
    hydrogen = sl.advise(["hydrogen", "toluene"], T="40 degC", P="50 bar")
    assert any("Henry" in why for why in hydrogen.excluded.values())
    cold = sl.advise(["benzene", "toluene"], T=["-20 degC", "20 degC"], P="1 bar")
    assert any("solids" in phase and "benzene" in phase for phase in cold.phases)
    lacking = sl.advise(["acetone", "1-butanol"], T="60 degC", P="1 bar")
    assert "acetone - 1-butanol" in lacking["NRTL, virial vapor"].missing
    assert any("fit them" in step for step in lacking["NRTL, virial vapor"].next)
    assert "Abrams" in split.explain()
    with pytest.raises(sl.InputError, match="no suggestion"):
        split["nothing"]


def test_what_is_not_covered_is_said():
    amine = sl.advise(["diethanolamine", "water", "carbon dioxide"], T="40 degC", P="2 bar")
    assert not amine.suggestions
    assert any("react" in note for note in amine.notes)
    assert any("None of the models" in note for note in amine.notes)
    salt = sl.Component(name="sodium sleetate", formula="C2H3NaO2", Tc=900.0, Pc="50 bar", omega=0.5, molar_mass="82 g/mol")
    brine = sl.advise([salt, "water"], T="25 degC", P="1 bar")
    assert not brine.suggestions
    assert any("ions" in why for why in brine.excluded.values())
    for options, message in (
        ({"T": 300.0, "P": 1e5, "purpose": "luck"}, "no purpose"),
        ({"T": -1.0, "P": 1e5}, "temperatures are positive"),
        ({"T": [1.0, 2.0, 3.0], "P": 1e5}, "one positive value"),
        ({"T": 300.0, "P": "1 bar g"}, "gauge"),
    ):
        with pytest.raises(sl.InputError, match=message):
            sl.advise(["ethanol", "water"], **options)
    with pytest.raises(sl.UnknownComponentError):
        sl.advise(["unobtainium"], T=300.0, P=1e5)


def test_kept_measurements_are_pointed_to(tmp_path, monkeypatch):
    monkeypatch.setenv("SLEETFIELD_DATA", str(tmp_path))
    sl.store_data(sl.DataSet.of(["acetone", "1-butanol"], T=330.0, P=[5e4, 6e4], x=[0.3, 0.2]))
    found = sl.advise(["acetone", "1-butanol"], T="60 degC", P="1 bar")
    assert any("1 sets of measurements are kept" in step for step in found["NRTL, virial vapor"].next)


def test_every_fact_that_a_rule_asks_for_is_one():
    derived = {
        "all subcritical",
        "all pairs known",
        "some pairs known",
        "no pair known",
        "equation of state",
        "activity",
        "bonds known",
        "bonds unknown",
        "tie lines",
        "heats of mixing",
    }
    known = {*FACTS, *derived, *(f"purpose {p}" for p in PURPOSES)}
    for _, when, reason in _rules():
        for fact in when:
            assert fact in known or fact.removeprefix("not ") in known, (fact, reason.text)


@pytest.mark.parametrize(
    ("name", "classes"),
    [
        ("water", {"water", "associating", "polar"}),
        ("n-hexane", {"hydrocarbon"}),
        ("acetone", {"polar"}),
        ("acetic acid", {"acid", "associating", "polar"}),
        ("ethylene glycol", {"glycol", "associating", "polar"}),
        ("ammonia", {"amine", "associating", "polar"}),
        ("hydrogen", {"quantum gas"}),
        ("carbon dioxide", set()),
        ("chloroform", {"halogenated", "polar"}),
        ("phenol", {"alcohol", "associating", "polar"}),
    ],
)
def test_classes(name, classes):
    assert classes_of(sl.databank().find(name)) == classes


def test_models_are_compared_number_by_number(tmp_path):
    gas = sl.System(["methane", "propane", "n-heptane"], eos="PR")
    both = {"PR": gas, "SRK": gas.with_model(eos="SRK"), "no kij": gas.with_model(eos="PR", kij="zero")}
    found = sl.compare(both, lambda s: s.bubble([0.3, 0.3, 0.4], T=300.0), limit=0.01)
    P = found.labels.index("vapor, P [Pa]")
    direct = both["SRK"].bubble([0.3, 0.3, 0.4], T=300.0).P / gas.bubble([0.3, 0.3, 0.4], T=300.0).P - 1.0
    assert found.deviations["SRK"][P] == pytest.approx(direct, rel=1e-12)
    assert all(abs(d) > 0.01 for _, _, d in found.disagreements)
    assert found.to_frame().shape[1] == 6
    assert sl.save(found, tmp_path / "a.png").stat().st_size > 5_000
    same = sl.compare({"a": gas, "b": gas}, lambda s: {"H": s.flash([0.3, 0.3, 0.4], T=300.0, P=1e6).H, "T": np.array([1.0, 2.0])})
    assert same.labels == ("H", "T 0", "T 1")
    assert any("No number differs" in note for note in same.notes)
    points = gas.bubble([[0.3, 0.3, 0.4]], T=[300.0])
    data = sl.DataSet(gas.names, {"T": points.T, "P": points.P, "x": points.z})
    held = sl.compare(both, lambda s: 1.0, data=data, base="SRK")
    assert held.off_data["PR"]["P"] == pytest.approx(0.0, abs=1e-3)
    assert held.off_data["SRK"]["P"] == pytest.approx(abs(direct) * points.P[0], rel=1e-9)
    for arguments, message in (
        (({"a": gas}, float), "two systems"),
        (({"a": gas, "b": gas}, lambda s: s.bubble([1.0, 0.0, 0.0], T=400.0)), "No model gave a number"),
    ):
        with pytest.raises(sl.InputError, match=message):
            sl.compare(*arguments)
    with pytest.raises(sl.InputError, match="no system 'c'"):
        sl.compare({"a": gas, "b": gas}, lambda s: 1.0, base="c")


def test_a_model_that_can_not_do_it_has_no_numbers():
    wine = sl.System(["ethanol", "water"], liquid="NRTL")
    found = sl.compare(
        {"NRTL": wine, "PR": wine.with_model(eos="PR")}, lambda s: s.parameters.gamma_infinity("ethanol", "water", T=350.0)[0]
    )
    assert np.isnan(found.values["PR"]).all()
    assert any("only NRTL" in note for note in found.notes)
    assert not found.disagreements


def test_what_is_compared_is_the_same_thing_of_both_models():
    z = [0.7, 0.2, 0.1]
    gas = sl.System(["methane", "propane", "n-heptane"], eos="PR")
    both = {"PR": gas, "SRK": gas.with_model(eos="SRK")}
    found = sl.compare(both, lambda s: s.envelope(z))
    by_label = dict(zip(found.labels, found.values["SRK"], strict=True))
    assert by_label["P [Pa], cricondentherm"] == both["SRK"].envelope(z).cricondentherm.P
    broth = sl.System(["1-butanol", "water"], liquid="NRTL")
    pair = {"NRTL": broth, "UNIQUAC": broth.with_model(liquid="UNIQUAC")}
    found = sl.compare(pair, lambda s: s.diagram("Txy", P="1 atm"))
    by_label = dict(zip(found.labels, found.values["UNIQUAC"], strict=True))
    assert by_label["T [K], x 0.90"] == pytest.approx(pair["UNIQUAC"].bubble([0.9, 0.1], P="1 atm").T, abs=0.02)
    (azeotrope,) = pair["UNIQUAC"].azeotropes(P="1 atm")
    assert by_label["T [K], 1-butanol + water"] == pytest.approx(azeotrope.T, abs=1e-6)
    assert by_label["T [K], x 0.20"] == pytest.approx(azeotrope.T, abs=1e-6)
    assert "gamma water, x 0.20" not in by_label
    three = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL")
    found = sl.compare({"a": three, "b": three.with_model(liquid="UNIQUAC")}, lambda s: s.liquid_map(T="25 degC"))
    assert [label for label in found.labels if "plait" in label]
    x = [[v, 1.0 - v] for v in (0.1, 0.3, 0.6, 0.9)]
    wine = sl.System(["ethanol", "water"], liquid="NRTL")
    points = wine.bubble(x, T=350.0)
    data = sl.DataSet.of(wine.names, T=350.0, P=points.P, x=points.x[:, 0], y=points.y[:, 0], source="a still")
    found = sl.compare({"NRTL": wine, "van Laar": wine.with_model(liquid="van Laar")}, lambda s: sl.regress(s, data))
    by_label = dict(zip(found.labels, found.values["van Laar"], strict=True))
    assert (
        by_label["value, standard deviation"]
        > dict(zip(found.labels, found.values["NRTL"], strict=True))["value, standard deviation"]
    )
    assert not any("tau" in label for label in found.labels)


def test_a_question_about_solids_is_answered_with_systems_that_have_them():
    advice = sl.advise(["benzoic acid", "ethanol"], T=["5 degC", "50 degC"], P="1 atm", purpose="solids")
    assert all(
        s.system.model.solids == ("benzoic acid",) or list(s.system.model.solids) == ["benzoic acid"] for s in advice.suggestions
    )
    assert advice[0].system.flash([0.4, 0.6], T=278.15, P=101325.0).phases[-1].kind == "solid"
    plain = sl.advise(["benzoic acid", "ethanol"], T="25 degC", P="1 atm")
    assert not plain[0].system.model.solids


def test_the_command_line_compares():
    told = json.loads(
        run(
            "compare",
            "0.5 ethanol + rest water",
            "--liquid",
            "NRTL",
            "--with",
            "Wilson",
            "--with",
            "PR",
            "--calculation",
            "bubble",
            "--P",
            "1atm",
            "--json",
        )
    )
    assert told["base"] == "NRTL"
    assert {"NRTL", "Wilson", "PR"} <= set(told["numbers"][0])
    for what in ("flash", "envelope", "critical", "azeotropes"):
        given = (
            []
            if what in ("envelope", "critical")
            else ["--P", "1 atm"]
            if what == "azeotropes"
            else ["--T", "80degC", "--P", "1atm"]
        )
        assert "compared with PR" in run(
            "compare", "0.5 ethanol + rest water", "--eos", "PR", "--with", "SRK", "--calculation", what, *given
        )


def test_the_command_line_advises():
    told = run(
        "advise", "acetone + 1-butanol + water", "--T", "20degC to 100degC", "--P", "1atm", "--purpose", "distillation", "--explain"
    )
    assert "NRTL" in told
    assert "[Poling" in told
    plain = json.loads(run("advise", "methane + n-decane", "--T", "300K", "--P", "60bar", "--json"))
    assert plain["models"][0]["model"] in ("PR", "SRK")
    assert "is missing" in run("advise", "methane + n-decane", status=2)
