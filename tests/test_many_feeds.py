"""A file of feeds: the rows come back, none is lost, and an interruption loses nothing that is done."""

import csv
from concurrent.futures import ProcessPoolExecutor

import numpy as np
import pandas as pd
import pytest

import sleetfield as sl
from sleetfield.many_feeds import run as feeds_run

from .commands import run

NAMES = ["methane", "propane", "n-heptane"]
GAS = sl.System(NAMES, eos="PR", units="metric")
HEAD = "tag,T [degC],P [bar],methane,propane,n-heptane,note\n"
BAD = {
    "A,abc,20,0.7,0.2,0.1,": "T is 'abc', which is no number",
    "B,-20,,0.7,0.2,0.1,": "P is missing",
    "C,-20,-3,0.7,0.2,0.1,": "P is not possible",
    "D,-20,20,0.7,0.2,0.2,": "sum to 1.1",
    "E,-20,20,0.7,-0.2,0.5,": "negative",
    "F,-20,20,,,,": "sum to 0",
    "G,-20,20,0.7,0.2,nan,": "not finite",
    "H,-20,20,0.7,0.2,0.1,x,more": "more cells than headings",
    "I,-300,20,0.7,0.2,0.1,": "T is not possible",
}
GOOD = "ok,-20,20,0.7,0.2,0.1,=1+1\n"


def rows_of(path):
    with path.open(newline="") as file:
        return list(csv.DictReader(file))


def states(count):
    rng = np.random.default_rng(3)
    z = rng.dirichlet([5.0, 2.0, 1.0], count)
    return z, rng.uniform(-60.0, 150.0, count), rng.uniform(2.0, 80.0, count)


def written(path, count=60):
    z, T, P = states(count)
    frame = pd.DataFrame({"T [degC]": T, "P [bar]": P, **{n: z[:, i] for i, n in enumerate(NAMES)}})
    frame.to_csv(path, index=False)
    return GAS.flash(z, T=T + 273.15, P=P * 1e5)


def test_rows_come_back_with_the_same_numbers_as_one_call(tmp_path):
    batch = written(tmp_path / "in.csv")
    done = sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "out.csv", properties=["vapor_fraction", "H"], block=17)
    frame = pd.read_csv(tmp_path / "out.csv")
    assert len(frame) == done.count == 60
    assert done.failed == 0
    np.testing.assert_allclose(frame["vapor_fraction"], batch.vapor_fraction, rtol=1e-9, atol=1e-12)
    np.testing.assert_allclose(frame["H [kJ/kmol]"], batch.H, rtol=1e-9)
    assert not (tmp_path / "out.csv.part").exists()


def test_bad_rows_say_why_and_the_others_are_done(tmp_path):
    (tmp_path / "in.csv").write_text(HEAD + GOOD + "".join(f"{row}\n" for row in BAD) + GOOD)
    done = sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "out.csv", block=4)
    found = rows_of(tmp_path / "out.csv")
    assert done.failed == len(BAD)
    assert [row["tag"] for row in found] == ["ok", *(row[0] for row in BAD), "ok"]
    for row, reason in zip(found[1:-1], BAD.values(), strict=True):
        assert reason in row["problem"]
        assert row["vapor_fraction"] == ""
    assert found[0]["problem"] == found[-1]["problem"] == ""
    assert found[0]["note"] == "'=1+1"
    assert float(found[-1]["vapor_fraction"]) == pytest.approx(0.7282, abs=1e-4)
    assert "T is no number" in str(done)


@pytest.mark.parametrize("form", ["xlsx", "parquet"])
def test_other_formats_in_and_out(tmp_path, form):
    pytest.importorskip("pyarrow")
    batch = written(tmp_path / "in.csv", 12)
    frame = pd.read_csv(tmp_path / "in.csv")
    frame.to_excel(tmp_path / "in.xlsx", index=False) if form == "xlsx" else frame.to_parquet(tmp_path / "in.parquet")
    sl.flash_file(GAS, tmp_path / f"in.{form}", tmp_path / f"out.{form}", properties=["vapor_fraction"])
    again = pd.read_excel(tmp_path / "out.xlsx") if form == "xlsx" else pd.read_parquet(tmp_path / "out.parquet")
    np.testing.assert_allclose(again["vapor_fraction"].astype(float), batch.vapor_fraction, rtol=1e-9, atol=1e-12)
    np.testing.assert_allclose(again["T [degC]"], frame["T [degC]"], rtol=1e-15)


def test_flows_mass_fractions_and_other_quantities(tmp_path):
    state = GAS.flash([0.7, 0.2, 0.1], T=253.15, P=20e5)
    (tmp_path / "flows.csv").write_text(
        f"P [Pa],H [J/mol],methane [kmol/h],propane [kmol/h],n-heptane [kmol/h]\n2e6,{state.H!r},70,20,10\n"
    )
    sl.flash_file(GAS, tmp_path / "flows.csv", tmp_path / "a.csv", properties=["vapor_fraction"], units="SI")
    (row,) = rows_of(tmp_path / "a.csv")
    assert float(row["T [K]"]) == pytest.approx(253.15, rel=1e-8)
    mass = np.array([0.7, 0.2, 0.1]) * GAS.molar_mass
    w = (mass / mass.sum()).tolist()
    (tmp_path / "mass.csv").write_text(
        "T [K],P [bar],methane [wt %],propane [wt %],n-heptane [wt %]\n"
        + f"253.15,20,{100 * w[0]!r},{100 * w[1]!r},{100 * w[2]!r}\n"
    )
    sl.flash_file(GAS, tmp_path / "mass.csv", tmp_path / "b.csv", properties=["vapor_fraction"])
    assert float(rows_of(tmp_path / "b.csv")[0]["vapor_fraction"]) == pytest.approx(state.vapor_fraction, rel=1e-7)


@pytest.mark.parametrize(
    "head",
    [
        "T (degC),P / bar,methane (mol%),propane / %,n-heptane [%]",
        "T [degC],P [bar],z methane [mole],x propane [mol/mol],n-heptane",
    ],
)
def test_headings_as_people_write_them(tmp_path, head):
    shares = "70,20,10" if "%" in head else "0.7,0.2,0.1"
    (tmp_path / "in.csv").write_text(f"{head}\n-20,20,{shares}\n")
    sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "out.csv", properties=["vapor_fraction"])
    assert float(rows_of(tmp_path / "out.csv")[0]["vapor_fraction"]) == pytest.approx(0.72822, abs=1e-5)


def test_mass_without_a_molar_mass_is_refused(tmp_path):
    system = sl.System(["methane", sl.Component(name="x-ane", Tc=500.0, Pc=3e6, omega=0.3)], eos="PR")
    (tmp_path / "in.csv").write_text("T [K],P [bar],methane [kg/h],x-ane [kg/h]\n300,20,1,1\n")
    with pytest.raises(sl.InputError, match="no molar mass of x-ane"):
        sl.flash_file(system, tmp_path / "in.csv", tmp_path / "out.csv")


@pytest.mark.parametrize(
    ("head", "message"),
    [
        ("T,P [bar],methane", "T has no unit"),
        ("T [degC],methane", "two of"),
        ("T [degC],P [bar],x", "no column of a component"),
        ("T [degC],P [bar],methane,methane", "two columns of methane"),
        ("T [degC],P [bar],methane,propane [kmol/h]", "not both"),
        ("T [barn],P [bar],methane", "T"),
    ],
)
def test_headings_that_do_not_do(tmp_path, head, message):
    (tmp_path / "in.csv").write_text(f"{head}\n{','.join('1' for _ in head.split(','))}\n")
    with pytest.raises(sl.InputError, match=message):
        sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "out.csv")


def test_an_interruption_loses_no_block_that_is_done(tmp_path, monkeypatch):
    batch = written(tmp_path / "in.csv")
    calls = []
    whole = feeds_run.Work.__call__

    def interrupted(self, rows):
        calls.append(len(rows))
        if len(calls) == 4:
            raise KeyboardInterrupt
        return whole(self, rows)

    monkeypatch.setattr(feeds_run.Work, "__call__", interrupted)
    with pytest.raises(KeyboardInterrupt):
        sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "out.csv", block=10, properties=["vapor_fraction"])
    assert not (tmp_path / "out.csv").exists()
    done = sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "out.csv", block=10, properties=["vapor_fraction"])
    assert len(calls) == 4 + 3
    assert done.count == 60
    np.testing.assert_allclose(pd.read_csv(tmp_path / "out.csv")["vapor_fraction"], batch.vapor_fraction, rtol=1e-9, atol=1e-12)
    # of other work nothing is taken over
    with pytest.raises(sl.InputError, match="exists already"):
        sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "out.csv")


def test_processes_give_the_same_file(tmp_path):
    written(tmp_path / "in.csv")
    sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "one.csv", block=7)
    with ProcessPoolExecutor(2) as executor:
        sl.flash_file(GAS, tmp_path / "in.csv", tmp_path / "two.csv", block=7, executor=executor)
    assert (tmp_path / "one.csv").read_bytes() == (tmp_path / "two.csv").read_bytes()


def test_phases_that_come_up_later_have_their_columns(tmp_path):
    wet = sl.System(["methane", "n-heptane", "water"], eos="SRK")
    lines = ["T [K],P [bar],methane,n-heptane,water", "400,1,0.9,0.05,0.05", "300,20,0.4,0.3,0.3", "400,1,0.9,0.05,0.05"]
    (tmp_path / "in.csv").write_text("\n".join(lines) + "\n")
    sl.flash_file(wet, tmp_path / "in.csv", tmp_path / "out.csv", properties=["n_phases", "fraction"], block=1)
    found = rows_of(tmp_path / "out.csv")
    assert [int(row["phases"]) for row in found] == [1, 3, 1]
    assert found[0]["second liquid fraction"] == ""
    assert sum(float(found[1][f"{p} fraction"]) for p in ("vapor", "liquid", "second liquid")) == pytest.approx(1.0)


def test_the_command(tmp_path):
    written(tmp_path / "in.csv", 5)
    out = run("flash-file", " + ".join(NAMES), "--file", "in.csv", "--into", "out.csv", "--workers", "2", cwd=tmp_path)
    assert "5 of 5 rows" in out
    assert "exists already" in run("flash-file", " + ".join(NAMES), "--file", "in.csv", "--into", "out.csv", cwd=tmp_path, status=2)
