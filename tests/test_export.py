"""Results into files."""

import json

import pandas as pd
import pytest
from openpyxl import load_workbook

import sleetfield as sl

GAS = sl.System(["methane", "propane"], eos="PR", kij="zero")
Z = [0.7, 0.3]


@pytest.fixture(scope="module")
def envelope():
    return GAS.envelope(Z, quality=[0.5])


def test_csv_reads_back(tmp_path):
    path = sl.save(GAS.table(Z, T=[250.0, 260.0], P=[20e5]), tmp_path / "table.csv")
    frame = pd.read_csv(path, comment="#")
    assert frame["T [K]"].tolist() == [250.0, 260.0]
    assert frame["vapor_fraction"][0] == pytest.approx(GAS.flash(Z, T=250.0, P=20e5).vapor_fraction, rel=1e-12)


def test_xlsx_has_result_and_notes(tmp_path, envelope):
    book = load_workbook(sl.save(envelope, tmp_path / "envelope.xlsx", units="metric"))
    assert book.sheetnames == ["result", "notes", "summary", "about"]
    assert book["result"]["C1"].value == "T [degC]"
    assert "zero" in book["notes"]["A2"].value


def test_json_is_full_precision_si(tmp_path):
    state = GAS.flash(Z, T=250.0, P=20e5)
    data = json.loads(sl.save(state, tmp_path / "state.json", units="US").read_text())
    assert data["T"] == 250.0
    assert data["vapor_fraction"] == state.vapor_fraction
    assert data["phases"][1]["composition"]["propane"] == state.phases[1].composition["propane"]
    for result in (GAS.flash(Z, T=[250.0], P=20e5), GAS.dew(Z, P=[20e5, 1e9]), GAS.critical(Z), GAS.envelope(Z)):
        json.loads(sl.save(result, tmp_path / "any.json", overwrite=True).read_text())


def test_markdown(tmp_path):
    text = sl.save(GAS.flash(Z, T=250.0, P=20e5), tmp_path / "state.md", units="metric").read_text()
    assert text.startswith("# methane + propane (PR) at -23.15 °C, 20 bar")
    assert "| x propane" in text
    assert "- The interaction parameter" in text


@pytest.mark.parametrize(("suffix", "start"), [(".png", b"\x89PNG"), (".svg", b"<?xml"), (".pdf", b"%PDF")])
def test_figures(tmp_path, envelope, suffix, start):
    path = sl.save(envelope, tmp_path / f"envelope{suffix}", units="US", marks={"line": (250.0, 45e5)}, log=True)
    assert path.read_bytes().startswith(start)


def test_plot_draws_on_given_axes(envelope):
    from matplotlib.figure import Figure

    ax = Figure().add_subplot()
    assert envelope.plot(ax, units="metric", marks={"line": (250.0, 45e5)}) is ax
    assert "°C" in ax.get_xlabel()
    assert "bar" in ax.get_ylabel()
    styles = {line.get_linestyle() for line in ax.lines}
    assert {"-", "--", "None"} <= styles
    assert {"bubble line", "dew line", "critical point", "cricondentherm"} <= {t.get_text() for t in ax.texts}
    assert any(t.get_text().startswith("line: ") and "vapor" in t.get_text() for t in ax.texts)


def test_text_that_looks_like_a_formula_stays_text(tmp_path):
    frame = pd.DataFrame({"=HEAD()": ["=1+1", "@x", "-cmd", "fine"], "n": [-1.0, 2.0, 3.0, 4.0]})
    csv = sl.save(frame, tmp_path / "f.csv").read_text()
    assert "'=1+1" in csv
    assert "'@x" in csv
    assert "'=HEAD()" in csv
    assert ",-1.0" in csv
    sheet = load_workbook(sl.save(frame, tmp_path / "f.xlsx"))["result"]
    assert sheet["A2"].data_type == "s"
    assert sheet["A1"].data_type == "s"
    assert sheet["B2"].value == -1.0


def test_files_are_not_overwritten_unasked(tmp_path):
    path = tmp_path / "state.csv"
    path.write_text("precious")
    with pytest.raises(sl.InputError, match="exists already"):
        sl.save(GAS.flash(Z, T=250.0, P=20e5), path)
    assert path.read_text() == "precious"
    sl.save(GAS.flash(Z, T=250.0, P=20e5), path, overwrite=True)
    assert "share by mole" in path.read_text()
    assert [p.name for p in tmp_path.iterdir()] == ["state.csv"]


def test_wrong_files(tmp_path):
    state = GAS.flash(Z, T=250.0, P=20e5)
    with pytest.raises(sl.InputError, match="no format"):
        sl.save(state, tmp_path / "state.doc")
    with pytest.raises(sl.InputError, match="can't be written"):
        sl.save(state, tmp_path / "no such folder" / "state.csv")
    with pytest.raises(sl.InputError, match="no figure"):
        sl.save(state, tmp_path / "state.png")
    with pytest.raises(sl.InputError, match="no table"):
        sl.save(object(), tmp_path / "state.csv")
    assert list(tmp_path.iterdir()) == []
