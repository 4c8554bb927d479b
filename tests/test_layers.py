"""The user's and the case's layers of the databank: adding, changing, removing; and components in files."""

import csv
import re

import numpy as np
import pytest

import sleetfield as sl


@pytest.fixture(autouse=True)
def folders(tmp_path, monkeypatch):
    """An empty folder of the user's, and an empty working folder."""
    monkeypatch.setenv("SLEETFIELD_COMPONENTS", str(tmp_path / "mine"))
    (tmp_path / "work").mkdir()
    monkeypatch.chdir(tmp_path / "work")
    return tmp_path


def sleetate(**changes):
    return sl.Component(**{"name": "pentyl sleetate", "Tc": "612 K", "Pc": "29.5 bar", "omega": 0.45, "molar_mass": "130.2 g/mol", "Tb": 421.0, **changes})  # fmt: skip


def test_a_component_of_ones_own_is_found_again(folders):
    path = sl.store_component(
        sleetate(aliases=("PS",), vapor_pressure=sl.antoine(7.0, 1500.0, 200.0, T_min=300.0, T_max=430.0)), insist=True
    )
    assert path == folders / "mine" / "pentyl-sleetate.toml"
    found = sl.databank().find("ps")
    assert (found.Tc, found.layer, found.layers["Tc"]) == (612.0, "user", "user")
    assert found.vapor_pressure.value(np.array([373.15]))[0] == pytest.approx(
        np.log(10 ** (7.0 - 1500.0 / 300.0) * 133.322), rel=1e-6
    )
    assert sl.databank().search("sleetate")[0].name == "pentyl sleetate"
    state = sl.System(["methane", "pentyl sleetate"], eos="PR").flash([0.9, 0.1], T=300.0, P=20e5)
    assert any("user layer" in note and "pentyl sleetate" in note for note in state.notes)
    sl.remove_component("pentyl sleetate")
    assert not path.exists()
    with pytest.raises(sl.UnknownComponentError):
        sl.databank().find("pentyl sleetate")


def test_later_layers_win_value_by_value():
    shipped = sl.databank().find("acetone")
    sl.store_component(shipped.changed(Tc=508.1, source="mine"))
    sl.store_component(sl.databank().find("acetone").changed(Pc="46.9 bar", Tc=508.3, source="this case"), "case")
    found = sl.databank().find("acetone")
    assert (found.Tc, found.Pc, found.omega) == (508.3, 46.9e5, shipped.omega)
    assert [found.layers[k] for k in ("Tc", "Pc", "omega")] == ["case", "case", "shipped"]
    assert (found.sources["Tc"], found.sources["omega"]) == ("this case", shipped.sources["omega"])
    assert any("case layer" in note and "Tc, Pc of acetone" in note for note in sl.System(["acetone"], eos="PR").notes)
    sl.remove_component("acetone", "case")
    assert (sl.databank().find("acetone").Tc, sl.databank().find("acetone").Pc) == (508.1, shipped.Pc)


def test_only_what_differs_is_written(folders):
    path = sl.store_component(sl.databank().find("ethanol").changed(Tm=159.0, source="lab 2"))
    text = path.read_text()
    assert "159.0" in text
    assert "lab 2" in text
    assert "Pc" not in text
    with pytest.raises(sl.InputError, match="nothing to store"):
        sl.store_component(sl.databank().find("methanol"))


def test_what_the_audit_finds_is_refused_with_its_reasons_unless_one_insists(folders):
    wrong = sl.databank().find("acetone").changed(omega=0.5, Tb=400.0)
    with pytest.raises(sl.InputError, match=r"boiling point: .*acentric factor: .*insist"):
        sl.store_component(wrong)
    assert not (folders / "mine").exists()
    sl.store_component(wrong, insist=True)
    assert sl.databank().find("acetone").omega == 0.5


def test_nothing_is_overwritten_without_being_asked():
    sl.store_component(sleetate())
    with pytest.raises(sl.InputError, match="overwrite"):
        sl.store_component(sleetate(Tc=613.0))
    sl.store_component(sleetate(Tc=613.0), overwrite=True)
    assert sl.databank().find("pentyl sleetate").Tc == 613.0


def test_a_fit_is_kept_in_one_step():
    T = np.linspace(280.0, 340.0, 12)
    acetone = sl.databank().find("acetone")
    fit = sl.fit_correlation((T, np.exp(acetone.vapor_pressure.value(T))), "antoine")
    sl.store_component(fit.applied_to(acetone), "case")
    found = sl.databank().find("acetone")
    assert "fitted to 12 measurements" in found.sources["vapor_pressure"]
    assert found.layers["vapor_pressure"] == "case"
    assert found.vapor_pressure == fit.correlation


def test_all_or_none():
    with pytest.raises(sl.InputError, match="Tb/Tc"):
        sl.store_components([sleetate(), sleetate(name="other", Tb=610.0)])
    with pytest.raises(sl.UnknownComponentError):
        sl.databank().find("pentyl sleetate")
    assert len(sl.store_components([sl.databank().find("water"), sleetate(name="new one")])) == 1
    with pytest.raises(sl.InputError, match="one file"):
        sl.store_components([sleetate(name="A-1"), sleetate(name="a 1")])


@pytest.mark.parametrize("suffix", [".toml", ".csv"])
def test_components_go_out_and_come_back(tmp_path, suffix):
    names = ["acetone", "water", "2,2-dimethylbutane", "1,1,1,2-tetrafluoroethane", "hydrogen", "n-triacontane"]
    first = [sl.databank().find(n) for n in names]
    path = sl.write_components(first, tmp_path / f"some{suffix}")
    again = sl.read_components(path)
    for one, two in zip(first, again, strict=True):
        assert str(two).replace(f"from some{suffix}", "shipped") == str(one)
        for key in ("formula", "cas", "aliases", "smiles", "inchi_key", "omega", "H_formation", "vapor_pressure", "liquid_density"):
            assert getattr(one, key) == getattr(two, key), key
    with pytest.raises(sl.InputError, match="exists already"):
        sl.write_components(first, path)
    with pytest.raises(sl.InputError, match=r"neither \.toml nor \.csv"):
        sl.write_components(first, tmp_path / "some.ods")


def test_cells_like_formulas_are_text(tmp_path):
    path = sl.write_components([sleetate(name="=cmd()", aliases=("+1",))], tmp_path / "some.csv")
    rows = list(csv.reader(path.read_text().splitlines()))
    assert rows[1][0] == "'=cmd()"
    assert sl.read_components(path)[0].name == "=cmd()"


def test_toml_as_people_write_it(tmp_path):
    path = tmp_path / "mine.toml"
    path.write_text(
        """
[[component]]
name = "butyl sleetate"
formula = "C8H16O2"
source = "lab 2"
Tc = "339 degC"
Pc = { value = 29.5, unit = "bar", source = "supplier" }
omega = 0.45
liquid_density = { equation = "rackett_through", coefficients = [293.15, 870.0], T_min = 260.0, T_max = 500.0 }
[component.vapor_pressure]
equation = "antoine"
log = "log10"
T = "degC"
P = "mmHg"
coefficients = [7.0, 1500.0, 200.0]
T_min = "20 degC"
T_max = "140 degC"
"""
    )
    (found,) = sl.read_components(path)
    assert (found.Tc, found.Pc) == (pytest.approx(612.15), 29.5e5)
    assert (found.sources["Tc"], found.sources["Pc"]) == ("lab 2", "supplier")
    assert found.molar_mass == pytest.approx(0.144214, rel=1e-5)
    assert found.liquid_density.value(np.array([293.15]))[0] * found.molar_mass == pytest.approx(870.0, rel=1e-9)
    assert found.vapor_pressure.T_min == pytest.approx(293.15)


GOOD = '[[component]]\nname = "x"\n'


@pytest.mark.parametrize(
    ("text", "message"),
    [(GOOD + "Tc = -5.0", r"bad\.toml, line 3: .*positive"), (GOOD + 'Tc = "5 bar"', "line 3: .*not a temperature"), (GOOD + "Tc = true", "line 3: .*no finite number"),
     (GOOD + "Tc = inf", "line 3: .*no finite number"), (GOOD + "Tc = 1e400", "line 3"), (GOOD + "critical = 5.0", "line 3: there is no quantity 'critical'"),
     (GOOD + GOOD, "line 4: .*there twice"), ("[[component]]\nTc = 500.0", "line 1: the component has no name"), ("[component]\nname = 'x'", r"\[\[component\]\] tables"),
     ("x = 1", "tables alone, not 'x'"), ("[[component]\n", "at line 1, column"), (GOOD + "Tc = 500.0\nTc = 501.0\n# end", "line 4"), (GOOD + "aliases = 'x'", "line 3: aliases"),
     (GOOD + "vapor_pressure = 5.0", "line 3: .*takes equation"), (GOOD + "Tc = { value = 5, size = 3 }", "line 3: Tc takes value, unit and source"),
     (GOOD + "vapor_pressure = { equation = 'magic', coefficients = [1.0], T_min = 200, T_max = 300 }", "no equation 'magic'"),
     (GOOD + "vapor_pressure = { equation = 'antoine', coefficients = [1.0], T_min = 200, T_max = 300 }", "takes 3 coefficients"),
     (GOOD + "vapor_pressure = { equation = 'antoine', coefficients = ['=1', 2.0, 3.0], T_min = 200, T_max = 300 }", "no finite number"),
     (GOOD + "vapor_pressure = { equation = 'antoine', coefficients = [9.0, 2.0, 3.0], T_min = 300, T_max = 200 }", "must rise"),
     (GOOD + "vapor_pressure = { equation = 'lee_kesler', coefficients = [], T_min = 200, T_max = 300 }", "needs the component's Tc"),
     (GOOD + "vapor_pressure = { equation = 'antoine', log = 'log2', coefficients = [9.0, 2.0, 3.0], T_min = 200, T_max = 300 }", "log2"),
     (GOOD + "Tc = 500.0\nPc = 3e6\nmolar_mass = 0.1\nliquid_density = { equation = 'rackett_through', coefficients = [700.0, 800.0], T_min = 200, T_max = 300 }", "gives no number"),
     ("a=" + "[" * 5000 + "]" * 5000, "nested too deeply")],
)  # fmt: skip
def test_hostile_toml(tmp_path, text, message):
    path = tmp_path / "bad.toml"
    path.write_text(text)
    with pytest.raises(sl.InputError, match=message):
        sl.read_components(path)


@pytest.mark.parametrize(
    ("text", "message"),
    [("name,Tc [K]\nx,abc", r"bad\.csv, line 2, column 2 \(Tc\): 'abc' is no number"), ("name,Tc [bar]\nx,500", r"line 2, column 2 .*not a temperature"),
     ("name,Tc [K]\nx,=1+1", "line 2, column 2 .*formula"), ("name,Tc [K],Tc [degC]\nx,1,1", "line 1, column 3: the column 'Tc' stands twice"), ("Tc [K]\n5", "no column 'name'"),
     ("name,size\nx,1", "line 1, column 2: there is no quantity 'size'"), ("name,Tc [K]\nx,500\nX,501", "line 3: the component 'X' is there twice"), ("name,Tc [K]\n,500", "line 2, column 1"),
     ("name,Tc [K]\nx,-5", "line 2, column 2 .*positive"), ("name,vapor_pressure equation,vapor_pressure c1\nx,antoine,5", r"line 2, column missing \(vapor_pressure T_min\)"),
     ("name,Tc [K]\nx,1e999", "line 2, column 2"), ("", "empty")],
)  # fmt: skip
def test_hostile_csv(tmp_path, text, message):
    path = tmp_path / "bad.csv"
    path.write_text(text)
    with pytest.raises(sl.InputError, match=message):
        sl.read_components(path)


def test_files_that_are_none(tmp_path):
    latin = tmp_path / "latin.toml"
    latin.write_bytes(b"[[component]]\nname = 'gr\xfc\xdfe'\n")
    with pytest.raises(sl.InputError, match="UTF-8"):
        sl.read_components(latin)
    with pytest.raises(sl.InputError, match="can't be read"):
        sl.read_components(tmp_path / "missing.toml")
    large = tmp_path / "large.toml"
    large.write_text("#" * 20_000_001)
    with pytest.raises(sl.InputError, match="larger than 20 MB"):
        sl.read_components(large)
    long = tmp_path / "long.csv"
    long.write_text("name\n" + "x\n" * 1_000_000)
    with pytest.raises(sl.InputError, match="more than 200000 rows"):
        sl.read_components(long)


def test_xlsx(tmp_path):
    from openpyxl import Workbook

    book = Workbook()
    for row in (["name", "Tc [degC]", "Pc [bar]", "omega", "source"], ["x", 300.0, 30.0, 0.3, "lab 2"], [None] * 5):
        book.active.append(row)
    book.save(tmp_path / "x.xlsx")
    (found,) = sl.read_components(tmp_path / "x.xlsx")
    assert (found.Tc, found.Pc, found.sources["omega"]) == (573.15, 30e5, "lab 2")


def test_a_broken_file_of_the_users_is_named(folders):
    (folders / "mine").mkdir()
    (folders / "mine" / "a.toml").write_text("[[component]]\nname = 'x'\nTc = 5.0\n")
    (folders / "mine" / "b.toml").write_text("[[component]]\nname = 'X'\nTc = 5.0\n")
    with pytest.warns(sl.SleetfieldWarning, match=r"b\.toml has the component 'X', which .*a\.toml has too"):
        sl.databank()
    (folders / "mine" / "b.toml").write_text("nonsense")
    with pytest.warns(sl.SleetfieldWarning, match=r"b\.toml is passed over"):
        sl.databank()
    (folders / "mine" / "b.toml").write_text("[[component]]\nname = 'y'\nTc = 5.0\n[[component]]\nname = 'z'\nTc = 5.0\n")
    with pytest.raises(sl.InputError, match="other components"):
        sl.remove_component("y")
    with pytest.raises(sl.InputError, match="among others"):
        sl.store_component(sleetate(name="y"), overwrite=True)


def test_wrong_requests():
    with pytest.raises(sl.InputError, match="no layer that can be changed"):
        sl.store_component(sleetate(), "shipped")
    with pytest.raises(sl.UnknownComponentError, match="it has nothing"):
        sl.remove_component("acetone")
    with pytest.raises(sl.InputError, match="has no 'colour'"):
        sleetate().changed(colour=5)
    with pytest.raises(sl.InputError, match="nothing to store"):
        sl.store_components([])
    with pytest.raises(sl.InputError, match="must be a correlation"):
        sleetate(vapor_pressure=5.0)


@pytest.mark.parametrize(
    ("changes", "message"),
    [({"log": "log2"}, "ln, log10|log10, ln"), ({"B": -1500.0}, "sign"), ({"T": "K"}, "unit of T|not positive"), ({"P": "metre"}, "not a pressure"), ({"T_min": "20 bar"}, "T_min")],
)  # fmt: skip
def test_antoine_equations_with_a_wrong_unit_or_sign(changes, message):
    given = {"A": 7.0, "B": 1500.0, "C": -320.0 if changes.get("T") == "K" else 200.0, "T_min": 300.0, "T_max": 400.0, **changes}
    with pytest.raises(sl.InputError, match=message):
        sl.antoine(**given)


@pytest.mark.parametrize(
    ("log", "T", "P"), [("log10", "degC", "mmHg"), ("ln", "K", "kPa"), ("log10", "degF", "psi"), ("ln", "degR", "bar")]
)
def test_antoine_equations_in_any_units(log, T, P):
    """The printed equation, worked out in its own units, is what the converted one gives."""
    A, B, C = {
        "degC": (7.0, 1500.0, 200.0),
        "K": (14.0, 3000.0, -60.0),
        "degF": (6.0, 2900.0, 390.0),
        "degR": (10.0, 5000.0, -80.0),
    }[T]
    made = sl.antoine(A, B, C, log=log, T=T, P=P, T_min="20 degC", T_max="120 degC")
    kelvin = 350.0
    printed = {"degC": kelvin - 273.15, "K": kelvin, "degF": 1.8 * kelvin - 459.67, "degR": 1.8 * kelvin}[T]
    pascal = {"mmHg": 133.322387, "kPa": 1e3, "psi": 6894.757293, "bar": 1e5}[P]
    expected = (10.0 if log == "log10" else np.e) ** (A - B / (printed + C)) * pascal
    assert np.exp(made.value(np.array([kelvin])))[0] == pytest.approx(expected, rel=1e-6)


def test_show_says_which_layer():
    sl.store_component(sl.databank().find("acetone").changed(Tc=508.1, source="mine"))
    rows = {row.quantity: row for row in sl.databank().find("acetone").rows()}
    assert rows["critical temperature"].layer == "user"
    assert rows["critical pressure"].layer == "shipped"
    assert re.search(r"critical temperature\s+Tc\s+508.1 K\s+user\s+mine", str(sl.databank().find("acetone")))
