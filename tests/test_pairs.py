"""The bank of binary parameters: layers, files, and what systems make of them."""

import json
from concurrent.futures import ProcessPoolExecutor

import pytest

import sleetfield as sl
from sleetfield.pairs import bank

from .commands import run

PAIR = ("ethanol", "water")
OWN = sl.PairParameters(a12=-100.0, a21=1300.0, alpha=0.3, form="cal/mol", source="lab 2", T_min="60 degC", T_max="90 degC", statistics={"mean deviation of P": 0.004})  # fmt: skip


@pytest.fixture(autouse=True)
def folders(tmp_path, monkeypatch):
    """A user's and a case's folder of their own."""
    monkeypatch.setenv("SLEETFIELD_PAIRS", str(tmp_path / "user"))
    (tmp_path / "case").mkdir()
    monkeypatch.chdir(tmp_path / "case")
    return tmp_path


def test_the_later_layer_wins_and_says_so():
    shipped = sl.System(PAIR, liquid="NRTL")
    sl.store_pair("NRTL", PAIR, OWN)
    own = sl.System(PAIR, liquid="NRTL")
    assert own.model.parameters["tau ethanol / water"].layer == "user"
    assert own.parameters.pairs[0].source == "lab 2"
    assert own.parameters.pairs[0].T_min == pytest.approx(333.15)
    same = sl.System(PAIR, liquid="NRTL", parameters={PAIR: OWN})
    assert own.model == same.model
    sl.store_pair("NRTL", PAIR[::-1], sl.PairParameters(a12=1250.0, a21=-90.0, form="cal/mol", source="the case"), "case")
    case = sl.System(PAIR[::-1], liquid="NRTL")
    assert case.model.parameters["tau ethanol / water"].layer == "case"
    assert case.parameters["tau ethanol / water"] == pytest.approx(-90.0 / (1.987204 * 298.15), rel=1e-3)
    records = sl.pair_records("NRTL", *PAIR)
    assert [r.parameters.layer for r in records] == ["case", "user", "shipped"]
    assert [r.parameters.layer for r in sl.pair_records("NRTL", *PAIR, layer="user")] == ["user"]
    sl.remove_pair("NRTL", PAIR, "case")
    sl.remove_pair("NRTL", PAIR)
    assert sl.System(PAIR, liquid="NRTL").model == shipped.model


def test_an_interaction_parameter_is_kept_as_well():
    pair = ("methane", "n-octane")
    sl.store_pair("PR", pair, {"kij": (0.04, -0.01), "source": "fit"})
    for eos in ("PR", "PR78"):
        system = sl.System(pair[::-1], eos=eos)
        assert system.kij[0, 1] == pytest.approx(0.04)
        assert system.parameters["kij n-octane / methane slope"] == pytest.approx(-0.01)
        assert system.model.parameters["kij n-octane / methane"].layer == "user"
    assert sl.System(pair, eos="SRK").kij[0, 1] != pytest.approx(0.04)


def test_files_keep_every_field(tmp_path):
    whole = sl.PairParameters(a12={"1": 0.1, "1/T": 310.123456789012}, a21=(0.2, 0.3), r=(2.1, 0.92), q=(1.97, 1.4), volumes=(5e-5, 1.8e-5), date="2026-11-20", source='a "paper"', statistics={"n": 12.0})  # fmt: skip
    records = [sl.PairRecord("UNIQUAC", *PAIR, whole), sl.PairRecord("NRTL", *PAIR, OWN), sl.PairRecord("PR", "methane", "water", sl.PairParameters(kij=0.5))]  # fmt: skip
    path = sl.write_pairs(records, tmp_path / "pairs.toml")
    again = sl.read_pairs(path)
    assert [r.parameters.to_dict() for r in again] == [r.parameters.to_dict() for r in records]
    with pytest.raises(sl.InputError, match="exists already"):
        sl.write_pairs(records, path)
    sl.store_pairs(again, "case")
    assert sl.pair_records("UNIQUAC", *PAIR)[0].parameters.date == "2026-11-20"
    assert sl.pair_records("NRTL", *PAIR)[0].parameters.date > "2026-11-24"


def test_sizes_and_surfaces_go_with_the_set_that_was_fitted_with_them():
    """Anderson and Prausnitz's way: r and q of a set hold instead of the databank's; two sets of one mixture have to agree."""
    carried = {"a12": 10.0, "a21": 200.0, "form": "K", "r": (2.5, 1.1), "q": (2.4, 1.2)}
    system = sl.System(PAIR, liquid="UNIQUAC", parameters={PAIR: carried})
    assert (system.parameters["r ethanol"], system.parameters["q water"], system.parameters["q_residual water"]) == (2.5, 1.2, 1.2)
    assert "with the parameters of ethanol and water" in system.model.parameters["r ethanol"].source
    turned = sl.System(PAIR[::-1], liquid="UNIQUAC", parameters={PAIR: carried})
    assert turned.bubble([0.7, 0.3], T=340.0).P == pytest.approx(system.bubble([0.3, 0.7], T=340.0).P, rel=1e-12)
    other = {"a12": 1.0, "a21": 1.0, "form": "K", "r": (0.92, 2.5735), "q": (1.4, 2.336)}
    with pytest.raises(sl.InputError, match="of water, those of water and acetone"):
        sl.System([*PAIR, "acetone"], liquid="UNIQUAC", parameters={PAIR: carried, ("water", "acetone"): other})


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("", "tables alone"),
        ("[[pair]]\nmodel = 'NRTL'\n", "list of two names"),
        ("[[pair]]\ncomponents = ['ethanol', 'water']\n", "names no model"),
        ("[[pair]]\nmodel = 'NRTL'\ncomponents = ['ethanol', 'water']\na12 = 1.0\n", "both a12 and a21"),
        ("[[pair]]\nmodel = 'NRTL'\ncomponents = ['ethanol', 'water']\na12 = 1.0\na21 = 1.0\nform = 'kcal'\n", "There is no form"),
        ("[[pair]]\nmodel = 'NRTL'\ncomponents = ['ethanol', 'water']\na12 = 1.0\na21 = 1.0\nb12 = 1\n", "no 'b12'"),
        ("[[pair]]\nmodel = 'PR'\ncomponents = ['ethanol', 'water']\nkij = 'x'\n", "no number"),
        ("[[pair]", "pairs.toml"),
        ("a = " + "[" * 100_000, "deeply"),
    ],
)
def test_wrong_files_are_refused(text, message, tmp_path):
    path = tmp_path / "pairs.toml"
    path.write_text(text)
    with pytest.raises(sl.InputError, match=message):
        sl.read_pairs(path)


def test_what_is_there_is_not_replaced_unasked():
    sl.store_pair("NRTL", PAIR, OWN)
    with pytest.raises(sl.InputError, match="already"):
        sl.store_pair("NRTL", PAIR[::-1], OWN)
    sl.store_pair("NRTL", PAIR[::-1], OWN, overwrite=True)
    assert sl.pair_records("NRTL", *PAIR)[0].first == "water"
    for call in (lambda: sl.store_pair("NRTL", ("ethanol", "ethanol"), OWN), lambda: sl.store_pair("NRTL", PAIR, OWN, "shipped")):
        with pytest.raises(sl.InputError):
            call()
    for wrong, message in (
        ({"a12": 1.0, "a21": "x"}, "no number"),
        ({"a12": 1.0, "b21": 2.0}, "no field"),
        ({"kij": float("nan")}, "finite"),
    ):
        with pytest.raises(sl.InputError, match=message):
            sl.store_pair("Wilson", PAIR, wrong)
    assert not sl.pair_records("Wilson", layer="user")
    with pytest.raises(sl.UnknownComponentError, match="no NRTL parameters"):
        sl.remove_pair("NRTL", ("acetone", "water"))


def store_many(k):
    """One of many processes: its own pair, and one that all write."""
    other = ("acetone", "benzene", "n-hexane", "toluene", "cyclohexane", "methanol")[k]
    sl.store_pair("NRTL", ("water", other), {"a12": float(k), "a21": 1.0})
    for value in range(20):
        sl.store_pair("NRTL", PAIR, {"a12": 10.0 * k + 0.4 * value, "a21": 2.0}, overwrite=True)
        sl.read_pairs(bank.layer_folder("user") / "nrtl--ethanol--water.toml")
    return k


def test_two_processes_that_write_at_once_do_no_harm():
    with ProcessPoolExecutor(4) as pool:
        assert sorted(pool.map(store_many, range(6))) == list(range(6))
    assert len(sl.pair_records("NRTL", layer="user")) == 7
    assert sl.System(PAIR, liquid="NRTL").parameters["tau water / ethanol"] == 2.0


def test_the_command_line_keeps_lists_exports_and_removes(tmp_path):
    run("pairs", "store", "NRTL", "ethanol / water = -100, 1300, 0.3 cal/mol", "--source", "lab 2", "--T-min", "60degC", "--T-max", "90degC", "--layer", "case")  # fmt: skip
    run("pairs", "store", "PR", "methane / n-octane = 0.04, -0.01", "--source", "fit")
    assert "There is no model 'NRTLL'" in run("pairs", "store", "NRTLL", "ethanol / water = 1, 2", "--source", "x", status=2)
    listed = run("pairs", "list", "ethanol", "water")
    assert "lab 2" in listed
    assert "case" in listed
    answer = json.loads(run("parameters", "ethanol + water", "--liquid", "NRTL", "--json"))
    assert answer["parameters"][0]["layer"] == "case"
    run("pairs", "write", "ethanol", "--model", "NRTL", "--out", "pairs.toml")
    assert any(r.parameters.source == "lab 2" for r in sl.read_pairs("pairs.toml"))
    run("pairs", "remove", "NRTL", "water", "ethanol", "--layer", "case")
    assert "lab 2" not in run("pairs", "list", "ethanol", "water")
    run("pairs", "store-file", "pairs.toml", "--layer", "case")
    assert "lab 2" in run("pairs", "list", "ethanol", "water")
    assert "already" in run("pairs", "store-file", "pairs.toml", "--layer", "case", status=2)


def test_a_kept_system_stands_in_for_the_models_options():
    run("system", "acetone + 1-butanol + water", "--liquid", "NRTL", "--vapor", "virial", "--out", "broth.toml")
    kept = json.loads(run("flash", "0.3 acetone + 0.7 water", "--system", "broth.toml", "--T", "60degC", "--P", "0.8bar", "--json"))
    told = json.loads(run("flash", "0.3 acetone + 0.7 water", "--liquid", "NRTL", "--vapor", "virial", "--T", "60degC", "--P", "0.8bar", "--json"))  # fmt: skip
    assert kept == told
    assert "leave out --eos" in run(
        "bubble", "0.3 acetone + 0.7 water", "--system", "broth.toml", "--eos", "PR", "--T", "60degC", status=2
    )
    assert "not in this system" in run("bubble", "0.3 acetone + 0.7 methane", "--system", "broth.toml", "--T", "60degC", status=2)
