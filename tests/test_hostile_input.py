"""Clumsy and hostile input: every call answers, or says what was wrong in an error of the library's own family."""

import contextlib
import datetime
import io
import multiprocessing
import os
import pickle
import subprocess
import sys
import time
import warnings
import zipfile
from concurrent.futures import ProcessPoolExecutor

import numpy as np
import pandas as pd
import pytest
from openpyxl import Workbook

import sleetfield as sl
from sleetfield.arguments import guarded, short

GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR")
STILL = sl.System(["acetone", "1-butanol", "water"], liquid="NRTL")
Z = [0.7, 0.2, 0.1]


class Unspeakable:
    """An object that fails whatever is asked of it."""

    def __repr__(self):
        raise RuntimeError

    def __array__(self, *args, **options):
        raise RuntimeError

    def __float__(self):
        raise RuntimeError


NO_NUMBERS = [
    True, [True, 300.0], np.array([True]), 1 + 2j, np.array([1j]), b"300 K", {300.0}, datetime.date(2026, 1, 1), np.datetime64("2026-01-01"), datetime.timedelta(3), np.timedelta64(3, "s"),
    np.ma.masked_array([300.0, 310.0], mask=[True, False]), np.ma.masked, pd.NaT, pd.NA, [None], [None, 300.0], object(), lambda: 300.0, {"T": 300.0}, [[1.0, 2.0], [3.0]], 10**400, Unspeakable(), [], np.zeros((0, 3)),
    float("nan"), float("inf"), "", "x", "20 %bar", "20 bar!", "20 bar year", "27 coulomb", "300 K**9**9**9", "1e400 K", "nan", "x" * 100_000, range, slice(3), iter([300.0]), pd.DataFrame(), np.array(["2026"], dtype="datetime64[Y]"),
]  # fmt: skip


@pytest.mark.parametrize("value", NO_NUMBERS, ids=lambda v: type(v).__name__)
def test_what_is_no_number_is_refused_wherever_a_quantity_is_asked_for(value):
    """None gives an answer, nor an error of somebody else's, and no message is drowned in what was given."""
    calls = [
        lambda: GAS.flash(Z, T=value, P=2e6),
        lambda: GAS.flash(Z, P=2e6, H=value),
        lambda: GAS.flash(value, T=260.0, P=2e6),
        lambda: GAS.flash({"methane": value, "propane": "rest"}, T=260.0, P=2e6),
        lambda: GAS.bubble(Z, P=value),
        lambda: GAS.dew(Z, T=value),
        lambda: GAS.table(Z, T=value, P=2e6),
        lambda: GAS.envelope(Z, P_min=value),
        lambda: GAS.stability(Z, T=value, P=2e6),
        lambda: STILL.liquid_map(T=value),
        lambda: STILL.boiling_map(P=value),
        lambda: STILL.azeotropes(P=value),
        lambda: STILL.check(T=value),
        lambda: STILL.liquid_split(Z, T=value),
        lambda: STILL.diagram("Txy", "acetone", "water", P=value),
        lambda: sl.Component("sleet", Tc=value),
        lambda: sl.anchored(sl.databank().find("acetone"), T=value, P="30 kPa"),
    ]
    for call in calls:
        with pytest.raises(sl.SleetfieldError) as caught:
            call()
        assert 10 < len(str(caught.value)) < 600


@pytest.mark.parametrize("T", [-5.0, 0.0, "-300 degC"])
def test_temperatures_below_zero_are_refused_by_every_call(T):
    for call in (STILL.liquid_map, STILL.check, lambda T: STILL.flash(Z, T=T, P=1e5), lambda T: STILL.excess(Z, T=T)):
        with pytest.raises(sl.InputError, match="positive"):
            call(T=T)


def test_the_wrong_kind_of_argument_is_told_by_name():
    """Whatever a signature names: lists, mappings, functions, classes, truths."""
    for call, words in [
        (lambda: sl.System("methane", eos="PR"), "components .* takes a list of names or Components"),
        (lambda: sl.System(["methane", 3], eos="PR"), "components"),
        (lambda: sl.System(["methane", "propane"], eos="PR", kij={"methane": 0.1}), "kij .* mapping of pairs of names"),
        (lambda: sl.System(["methane", "propane"], eos="PR", kij=0.1), "kij"),
        (lambda: sl.System(["methane", "propane"], eos="PR", poynting="no"), "poynting .* True or False"),
        (lambda: GAS.with_units(3), "units .* text"),
        (lambda: GAS.part("methane"), "components"),
        (lambda: GAS.taking("PR"), "other .* a System"),
        (lambda: GAS.flash(Z, T=260.0, P=2e6, executor=2), "executor .* Executor"),
        (lambda: GAS.table(Z, T=260.0, P=2e6, progress="yes"), "progress .* function"),
        (lambda: sl.regress(GAS, 3), "data .* a DataSet or a list"),
        (lambda: sl.regress("PR", []), "system .* a System"),
        (lambda: sl.compare([GAS], lambda s: s), "systems .* a mapping of texts to Systems"),
        (lambda: sl.load(3), "path .* text or a path"),
        (lambda: sl.PairParameters(a12=1.0, a21=2.0, r="big"), "r of PairParameters"),
        (lambda: sl.Component(3), "name of Component"),
        (lambda: sl.Component("x", aliases="y"), "aliases of Component"),
        (lambda: GAS.flash(Z, T=260.0, P=2e6).report(units=3), "units"),
    ]:
        with pytest.raises(sl.InputError, match=words):
            call()


def test_a_guarded_call_stays_what_it_is():
    @guarded
    def scaled(values: list[float], *more: float, by: float | None = None) -> float:
        """Twice."""
        return sum(values) * (by or 1.0) + sum(more)

    assert scaled([1, np.float64(2.0)], 3.0, by=2) == 9.0
    assert scaled.__doc__ == "Twice."
    for arguments, options in ((("x",), {}), (([1.0], "y"), {}), (([1.0],), {"by": True}), (([1.0, "2"],), {})):
        with pytest.raises(sl.InputError):
            scaled(*arguments, **options)
    with pytest.raises(TypeError):
        scaled()
    assert short(Unspeakable()) == "a Unspeakable"


# ---- labels ----


def test_labels_of_pandas_say_which_component_is_meant():
    """A series in another order is read by its labels; foreign ones are refused; numbers of rows are none."""
    wanted = GAS.flash(Z, T=260.0, P=2e6).H
    turned = pd.Series({"n-heptane": 0.1, "methane": 0.7, "propane": 0.2})
    assert GAS.flash(turned, T=260.0, P=2e6).H == wanted
    assert GAS.flash(pd.Series(Z), T=260.0, P=2e6).H == wanted
    frame = pd.DataFrame([turned, turned])
    assert GAS.flash(frame, T=260.0, P=2e6).H.tolist() == pytest.approx([wanted, wanted], rel=1e-12)
    assert GAS.flash(frame, T=pd.Series([260.0, 260.0], index=["a", "b"]), P=2e6).H.tolist() == pytest.approx(
        [wanted, wanted], rel=1e-12
    )
    for strange in (
        pd.Series({"a": 0.7, "b": 0.3}),
        pd.DataFrame({"a": [0.7], "b": [0.3]}),
        pd.Series([0.5, 0.5], index=["methane", "methane"]),
    ):
        with pytest.raises(sl.SleetfieldError, match=r"not in this system|stands twice"):
            GAS.flash(strange, T=260.0, P=2e6)


# ---- files ----


def _good_workbook():
    book = Workbook()
    for row in (("T [K]", "P [kPa]", "x ethanol", "y ethanol"), (350.0, 100.0, 0.3, 0.5)):
        book.active.append(row)
    buffer = io.BytesIO()
    book.save(buffer)
    return buffer.getvalue()


def _with_sheet(path, content):
    with zipfile.ZipFile(io.BytesIO(_good_workbook())) as old, zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as new:
        for part in old.infolist():
            new.writestr(part.filename, content if part.filename.endswith("sheet1.xml") else old.read(part.filename))


SHEET = '<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'


@pytest.mark.parametrize("kind", ["text", "empty", "cut", "bomb", "sparse", "wide", "many parts", "entities"])
def test_a_hostile_workbook_is_refused_at_once(tmp_path, kind):
    path = tmp_path / "points.xlsx"
    if kind in ("text", "empty", "cut"):
        path.write_bytes({"text": b"hello", "empty": b"", "cut": _good_workbook()[:2000]}[kind])
    elif kind == "many parts":
        with zipfile.ZipFile(path, "w") as archive:
            for i in range(5000):
                archive.writestr(str(i), b"")
    else:
        entities = "".join(f'<!ENTITY {chr(98 + i)} "{f"&{chr(97 + i)};" * 10}">' for i in range(9))
        content = {
            "bomb": SHEET + "<sheetData>" + " " * 100_000_000,
            "sparse": SHEET + '<sheetData><row r="1048576"><c r="XFD1048576"><v>1</v></c></row></sheetData></worksheet>',
            "wide": SHEET + '<sheetData><row r="1"><c r="XFD1"><v>1</v></c></row></sheetData></worksheet>',
            "entities": f'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa">{entities}]>{SHEET}<sheetData><row r="1"><c r="A1"><v>&j;</v></c></row></sheetData></worksheet>',
        }[kind]
        _with_sheet(path, content)
    began = time.process_time()
    with pytest.raises(sl.InputError, match=str(path)):
        sl.read_data(path, ["ethanol", "water"])
    assert time.process_time() - began < 20.0  # that it ends, whatever the machine; some 1 s


def test_damaged_workbooks_give_no_foreign_error(tmp_path):
    """Five bytes of a good one changed, two hundred times."""
    rng = np.random.default_rng(5)
    good = _good_workbook()
    for k in range(200):
        damaged = bytearray(good)
        for i in rng.integers(0, len(good), 5):
            damaged[i] = rng.integers(256)
        path = tmp_path / f"{k}.xlsx"
        path.write_bytes(damaged)
        with contextlib.suppress(sl.SleetfieldError):
            sl.read_data(path, ["ethanol", "water"])


@pytest.mark.parametrize(
    "text",
    ["a = " + "[" * 50_000, "a." * 300_000 + "b = 1", "a = " + "9" * 100_000, "k = 1\n" * 400_000, "[" + "a." * 100_000 + "b]", "a = {a =" * 9999, "\x00", "a = '"],
    ids=["nested", "dotted", "digits", "long", "header", "inline", "zero", "open"],
)  # fmt: skip
def test_hostile_toml_is_refused_at_once(tmp_path, text):
    path = tmp_path / "x.toml"
    path.write_text(text)
    for read in (sl.load, sl.read_components, sl.read_pairs, sl.read_study):
        began = time.process_time()
        with pytest.raises(sl.InputError):
            read(path)
        assert time.process_time() - began < 20.0


def test_pipes_devices_and_folders_are_no_files(tmp_path):
    os.mkfifo(tmp_path / "pipe.csv")
    os.mkfifo(tmp_path / "pipe.toml")
    (tmp_path / "folder.xlsx").mkdir()
    (tmp_path / "zero.toml").symlink_to("/dev/zero")
    for call in (
        lambda: sl.read_data(tmp_path / "pipe.csv"),
        lambda: sl.load(tmp_path / "pipe.toml"),
        lambda: sl.read_data(tmp_path / "folder.xlsx"),
        lambda: sl.load(tmp_path / "zero.toml"),
        lambda: sl.read_thermoml(tmp_path),
        lambda: sl.load("a\x00b.toml"),
    ):
        with pytest.raises(sl.InputError, match=r"is no file|can't be read|null"):
            call()


def test_a_target_keeps_its_mode_and_its_link(tmp_path):
    """What a link leads to is replaced, and stays as readable as it was."""
    state = GAS.flash(Z, T=260.0, P=2e6)
    target, link = tmp_path / "elsewhere.csv", tmp_path / "link.csv"
    target.write_text("old")
    target.chmod(0o600)
    link.symlink_to(target)
    with pytest.raises(sl.InputError, match="exists already"):
        sl.save(state, link)
    sl.save(state, link, overwrite=True)
    assert link.is_symlink()
    assert target.stat().st_mode & 0o777 == 0o600
    assert "liquid" in target.read_text()
    with pytest.raises(sl.InputError, match="can't be written"):
        sl.save(state, tmp_path / "none" / "x.csv")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["elsewhere.csv", "link.csv"]


# ---- folders of the user's ----


@pytest.fixture
def folders(tmp_path, monkeypatch):
    for kind in ("components", "pairs", "data"):
        monkeypatch.setenv(f"SLEETFIELD_{kind.upper()}", str(tmp_path / kind))
        (tmp_path / kind).mkdir()
    return tmp_path


def test_a_bad_file_in_a_folder_is_named_passed_over_and_can_be_removed(folders):
    (folders / "components" / "bad-sleet.toml").write_text("[[component]]\nname = 'bad sleet'\nTc = 'hot'\n")
    (folders / "pairs" / "nrtl--ethanol--water.toml").write_text("[[pair]\n")
    (folders / "data" / "odd.csv").write_text("what, is, this\n1, 2, 3\n")
    os.mkfifo(folders / "components" / "pipe.toml")
    with pytest.warns(sl.SleetfieldWarning, match=r"bad-sleet\.toml is passed over.*line 3"):
        assert sl.databank().find("acetone").name == "acetone"
    with pytest.warns(sl.SleetfieldWarning, match=r"nrtl--ethanol--water\.toml is passed over"):
        sl.System(["ethanol", "water"], liquid="NRTL")
    with pytest.warns(sl.SleetfieldWarning, match=r"odd\.csv is passed over"):
        sl.data_records()
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        sl.remove_component("bad sleet")
        sl.remove_pair("NRTL", ("ethanol", "water"))
        sl.remove_data("odd")
        for gone in ("bad sleet", "worse sleet"):
            with pytest.raises(sl.UnknownComponentError):
                sl.remove_component(gone)
        with pytest.raises(sl.UnknownComponentError, match="no measurements"):
            sl.remove_data("odd")
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        sl.System(["ethanol", "water"], liquid="NRTL")


def _store_many(first):
    for k in range(first, first + 10):
        sl.store_pair("NRTL", ("ethanol", "water"), {"a12": float(k), "a21": 1.0, "alpha": 0.3}, overwrite=True)


def test_two_processes_that_store_at_once_lose_nothing(folders):
    """Every set that was replaced is among the earlier ones, or is the last."""
    context = multiprocessing.get_context("spawn")
    workers = [context.Process(target=_store_many, args=(first,)) for first in (100, 200)]
    for worker in workers:
        worker.start()
    for worker in workers:
        worker.join()
    assert [w.exitcode for w in workers] == [0, 0]
    kept = [r.parameters.a12 for r in sl.earlier_pairs("NRTL", ("ethanol", "water"))]
    last = [r.parameters.a12 for r in sl.read_pairs(folders / "pairs" / "nrtl--ethanol--water.toml")]
    assert sorted(kept + last) == [*map(float, range(100, 110)), *map(float, range(200, 210))]


# ---- other processes ----


def test_everything_can_be_sent_to_another_process():
    """Results, systems, components: pickled and made again, they say the same."""
    butanol = sl.System(["1-butanol", "water"], liquid="NRTL")
    points = {
        "T": [359.0, 355.0, 353.0, 352.0, 351.0],
        "P": 101.3e3,
        "x": [0.1, 0.3, 0.5, 0.7, 0.8],
        "y": [0.4, 0.57, 0.65, 0.75, 0.82],
    }
    data = sl.DataSet.of(
        ["ethanol", "water"], **{k: np.array([[v, 1 - v] for v in values]) if k in "xy" else values for k, values in points.items()}
    )
    wine = sl.System(["ethanol", "water"], liquid="Wilson")
    state = GAS.flash(Z, T=260.0, P=2e6, flow=1.0)
    for one in (
        data, sl.regress(wine, data), sl.rank_models(wine, data, ("Wilson", "NRTL")), sl.consistency(wine, data), sl.KValues({"a": 2.0, "b": 0.5}).flash([0.5, 0.5]),
        sl.compare({"PR": GAS, "SRK": GAS.with_model(eos="SRK")}, lambda s: s.flash(Z, T=260.0, P=2e6)), sl.new_study(["ethanol", "water"], T="25 degC", P="1 bar"),
        sl.databank().find("acetone"), sl.PairParameters(a12=1.0, a21=2.0), GAS, STILL, state, state.to(P=1e6, duty=0.0), state.phases[0], GAS.flash(Z, T=[250.0, 260.0], P=2e6), GAS.bubble(Z, T=260.0),
        GAS.dew(Z, P=[1e6, 2e6]), GAS.envelope(Z), GAS.critical(Z), GAS.stability(Z, T=260.0, P=2e6), butanol.excess([0.5, 0.5], T=300.0), butanol.diagram("Txy", P=1e5, points=11),
        butanol.liquid_split([0.2, 0.8], T=300.0), butanol.azeotropes(P=1e5), butanol.check(), STILL.liquid_map(T=300.0), sl.System(["propane"], eos="SRK").saturation_curve(), GAS.interactions,
        butanol.parameters, GAS.provenance(), sl.advise(["ethanol", "water"], T="25 degC", P="1 bar"),
    ):  # fmt: skip
        again = pickle.loads(pickle.dumps(one))
        assert type(again) is type(one)
        if hasattr(one, "report"):
            assert again.report() == one.report()


def test_executors_serve_restricted_flashes():
    T = np.linspace(240.0, 300.0, 5000)
    context = multiprocessing.get_context("spawn")
    with ProcessPoolExecutor(2, mp_context=context) as pool:
        there = GAS.flash(Z, T=T, P=2e6, phases="VL", executor=pool)
    here = GAS.flash(Z, T=T, P=2e6, phases="VL")
    assert np.array_equal(there.H, here.H)
    with pytest.raises(sl.InputError, match="shut down"):
        GAS.flash(Z, T=T, P=2e6, executor=pool)


DEAD = """
import multiprocessing, os
from concurrent.futures import ProcessPoolExecutor
import numpy as np
import sleetfield as sl

pool = ProcessPoolExecutor(1, mp_context=multiprocessing.get_context("spawn"))
pool.submit(os._exit, 3)
try:
    sl.System(["methane", "propane", "n-heptane"], eos="PR").flash([0.7, 0.2, 0.1], T=np.linspace(240.0, 300.0, 20_000), P=2e6, executor=pool)
except sl.CalculationError as error:
    print(error, flush=True)
os._exit(0)
"""
"""Ends at once: some interpreters can't shut such a pool down, nor leave while it is there."""


def test_dead_workers_are_told():
    done = subprocess.run([sys.executable, "-c", DEAD], capture_output=True, text=True, timeout=120, check=True)
    assert "worker of the executor ended" in done.stdout


def test_what_a_search_with_other_draws_found():
    """A calculation of one's own that gives no number, a truth of NumPy's, lists within lists, a range without an end, a molar mass that is not there."""
    pair = {eos: sl.System(["methane", "propane"], eos=eos) for eos in ("PR", "SRK")}
    brine = sl.Electrolyte(["sodium chloride", "carbon dioxide"])
    with pytest.raises(sl.InputError, match="it gives numbers"):
        sl.compare(pair, Exception)
    with pytest.raises(sl.InputError, match="it takes one number"):
        brine.titration({"carbon dioxide": 0.1}, "sodium chloride", [[1.0, 2.0], [3.0]])
    with pytest.raises(sl.InputError, match="T_max is inf"):
        sl.PairParameters(a12=1.0, a21=2.0, T_max=np.inf)
    with pytest.raises(sl.InputError, match="molar_mass is None"):
        sl.split_plus_fraction(molar_mass=None, specific_gravity=0.8, amount=1.0)
    assert brine.speciation({"sodium chloride": 1.0}, precipitation=np.False_).pH == pytest.approx(
        brine.speciation({"sodium chloride": 1.0}, precipitation=False).pH
    )
