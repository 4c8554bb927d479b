"""Measurements: headings, tables in every form, ThermoML, the store, and what is refused."""

import json

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, strategies as st

import sleetfield as sl
from sleetfield.data_sets import KINDS, QUANTITIES
from sleetfield.data_sets.headings import read_heading
from sleetfield.data_sets.thermoml.names import NAMESPACE

from .commands import run
from .test_cli import measurements

PAIR = ("acetone", "1-butanol")


@pytest.fixture(autouse=True)
def folders(tmp_path, monkeypatch):
    """A store of one's own."""
    monkeypatch.setenv("SLEETFIELD_DATA", str(tmp_path / "user"))
    monkeypatch.chdir(tmp_path)


def some_of_every_kind():
    """A set of each kind."""
    of = sl.DataSet.of
    return [
        of(PAIR, P=101325.0, T=[350.0, 360.0], x=[0.3, 0.2], y=[0.5, 0.4], uncertainty={"T": 0.05}, source="isobar"),
        of(PAIR, T=330.0, P=[5e4, 6e4], x=[0.3, 0.2], weight=[1.0, 2.0], source="isotherm").without([1], "=bad"),
        of(["acetone", "1-butanol", "water"], P=1e5, T=[350.0], x=[[0.3, 0.3, 0.4]], y=[[0.6, 0.1, 0.3]], source="three"),
        of(["1-butanol", "water"], T=[300.0, 320.0], x_first=[0.02, 0.021], x_second=[0.48, 0.47]),
        of(["benzoic acid", "ethanol"], T=[300.0, 320.0], x=[0.2, 0.3], solid="benzoic acid", uncertainty={"x": "1 %"}),
        of(["ethanol", "benzoic acid"], T=[300.0, 320.0], x=[0.8, 0.7], solid="benzoic acid", source="the other order"),
        of(["acetone", "water"], T=[300.0, 320.0], gamma_inf={"acetone": [7.0, 8.0]}),
        of(["acetone", "water"], T=298.15, x=[0.2, 0.4], HE=[-500.0, -300.0], uncertainty={"HE": "5 J/mol"}),
        of(["hydrogen", "water"], T=[298.15, 300.0], Henry={"hydrogen": ["70000 bar", "71000 bar"]}),
        of(["acetone", "water"], T=298.15, P="1 bar", x=[0.2, 0.4], density=[950.0, 900.0], remark="by a vibrating tube"),
        of(["ethanol", "water"], T=[351.3], P=101325.0, x=[0.894], kind="azeotrope"),
        of(["acetone"], T=[300.0, 320.0], P=[3e4, 7e4]),
    ]


def same(a, b):
    """Whether two sets say the same, to the last digit."""
    names = set(a.values) | set(b.values)
    values = all(np.array_equal(a[q], b[q], equal_nan=True) for q in names)
    doubts = set(a.uncertainty) == set(b.uncertainty) and all(np.array_equal(u, b.uncertainty[q]) for q, u in a.uncertainty.items())
    return values and doubts and (a.names, a.kind, a.solid, a.source, a.remark) == (b.names, b.kind, b.solid, b.source, b.remark)


@pytest.mark.parametrize(
    ("text", "quantity", "component", "unit", "uncertain"),
    [
        ("T [degC]", "T", "", "degC", False),
        ("Temperature (K)", "T", "", "K", False),
        ("p / kPa", "P", "", "kPa", False),
        ("u(T) [K]", "T", "", "K", True),
        ("uncertainty of P [kPa]", "P", "", "kPa", True),
        ("x acetone", "x", "acetone", "", False),
        ("x(acetone)", "x", "acetone", "", False),
        ("y_acetone", "y", "acetone", "", False),
        ("x of acetone / mol%", "x", "acetone", "mol%", False),
        ("x′ 1-butanol [wt%]", "x'", "1-butanol", "wt%", False),
        ("x'' 1,2-dichloroethane", "x''", "1,2-dichloroethane", "", False),
        ("x (mol%)", "x", "", "mol%", False),
        ("gamma_inf acetone in water", "gamma_inf", "acetone", "", False),
        ("γ∞ acetone", "gamma_inf", "acetone", "", False),
        ("HE [J/mol]", "HE", "", "J/mol", False),
        ("Henry hydrogen [bar]", "Henry", "hydrogen", "bar", False),
        ("ρ [kg/m3]", "density", "", "kg/m3", False),
    ],
)
def test_headings(text, quantity, component, unit, uncertain):
    assert read_heading(text) == (quantity, component, unit, uncertain)


@given(st.text(max_size=40))
def test_no_heading_breaks_it(text):
    found = read_heading(text)
    assert found is None or found.quantity in QUANTITIES


@pytest.mark.parametrize("data", some_of_every_kind(), ids=lambda d: f"{d.kind}-{d.source}")
def test_every_kind_survives_tables_frames_and_thermoml(data, tmp_path):
    assert same(sl.read_data(sl.write_data(data, tmp_path / "a.csv")), data)
    again = sl.data_from_frame(data.to_frame("metric"), data.names, kind=data.kind, solid=data.solid)
    for q in data.values:
        np.testing.assert_allclose(again[q], data[q], rtol=1e-13)
    assert again.excluded == data.excluded
    data.to_frame("metric").to_excel(tmp_path / "a.xlsx", index=False)
    from_book = sl.read_data(tmp_path / "a.xlsx", data.names, kind=data.kind, solid=data.solid)
    np.testing.assert_allclose(from_book["T"], data["T"], rtol=1e-13)
    (xml,) = sl.read_thermoml(sl.write_data(data, tmp_path / "a.xml")).sets
    used = data.used
    for q in data.values:
        np.testing.assert_allclose(xml[q], data[q][used], rtol=1e-12, atol=1e-15)
    assert (xml.kind, xml.names, xml.solid) == (data.kind, data.names, data.solid)
    assert set(xml.uncertainty) == set(data.uncertainty)
    assert str(data).startswith(" + ".join(data.names))


def test_every_kind_is_there():
    assert {d.kind for d in some_of_every_kind()} == set(KINDS)


def test_forgiving_tables(tmp_path):
    text = "# P: 1013 mbar\n# components: ethanol; water\n\nT (degC)\tx [wt%]\ty\tbatch\n78,4\t95,6\t0,92\ta\n80,0\t60\t-\tb\n"
    path = tmp_path / "a.tsv"
    path.write_text(text.replace("ethanol; water", "ethanol, water"))
    data = sl.read_data(path)
    assert data.names == ("ethanol", "water")
    assert data.given == "P"
    assert data["P"] == pytest.approx([101300.0, 101300.0])
    assert data["T"] == pytest.approx([351.55, 353.15])
    ethanol, water = (sl.databank().find(n).molar_mass for n in data.names)
    assert data["x"][0, 0] == pytest.approx(95.6 / ethanol / (95.6 / ethanol + 4.4 / water), rel=1e-12)
    assert data["y"][0, 0] == 0.92
    assert np.isnan(data["y"][1]).all()
    semicolons = tmp_path / "b.txt"
    semicolons.write_text("T [K];P [mmHg];x acetone;x 1-butanol\n330;400;0,25;0,75\n")
    assert sl.read_data(semicolons)["P"][0] == pytest.approx(400 * 133.322387415)


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("T,P [kPa],x acetone\n60,80,0.5\n", "'T' has no unit"),
        ("T [degC],P [furlong],x acetone\n60,80,0.5\n", "is not a pressure|not known"),
        ("T [degC],P [bar g],x acetone\n60,80,0.5\n", "gauge"),
        ("T [degC],P [kPa],x acetone [lb]\n60,80,0.5\n", "no unit of fractions"),
        ("T [degC],P [kPa],x acetone,x 1-butanol\n60,80,0.5,0.4\n", "sum to 1"),
        ("T [degC],P [kPa],x acetone,x 1-butanol [wt%]\n60,80,0.5,50\n", "by mole and by mass"),
        ("T [degC],T [K],x acetone\n60,333,0.5\n", "stands twice"),
        ("T [degC],P [kPa],x acetone\n60,80,=0.5\n", "formula"),
        ("T [degC],P [kPa],x acetone\n", "no points"),
        ("T [degC],P [kPa],x acetone\n60,80,inf\n", "not finite"),
        ("T [degC],P [kPa],x acetone,u(T) [K]\n60,80,0.5,-1\n", "positive"),
        ("T [degC],P [kPa],x acetone\n-300,80,0.5\n", "positive and absolute"),
        ("# kind: wonder\nT [degC],P [kPa],x acetone\n60,80,0.5\n", "no kind of data 'wonder'"),
        ("# solid: 1-butanol\nT [degC],x acetone\n", "no points"),
        ("T [degC],gamma_inf\n60,2\n", "names no component"),
        ("T [degC],HE [J/mol]\n60,2\n", "have x"),
    ],
)
def test_tables_that_are_wrong(text, message, tmp_path):
    path = tmp_path / "a.csv"
    path.write_text(text)
    with pytest.raises(sl.InputError, match=message):
        sl.read_data(path, PAIR)
    assert not (tmp_path / "user").exists()


def test_sets_that_are_wrong():
    with pytest.raises(sl.InputError, match="no quantity 'z'"):
        sl.DataSet.of(PAIR, T=300.0, z=[0.1])
    with pytest.raises(sl.InputError, match="differ in length"):
        sl.DataSet.of(PAIR, T=[300.0, 310.0], P=[1e5, 1e5, 1e5], x=[0.1, 0.2, 0.3])
    with pytest.raises(sl.InputError, match="name the component"):
        sl.DataSet.of(PAIR, kind="solid-liquid", T=[300.0], x=[0.1])
    with pytest.raises(sl.InputError, match="mixes an isotherm and an isobar"):
        sl.DataSet.of(
            PAIR, T=[330.0] * 4 + [340.0, 350.0, 360.0, 370.0], P=[5e4, 6e4, 7e4, 8e4] + [1e5] * 4, x=np.linspace(0.1, 0.9, 8)
        )
    with pytest.raises(sl.InputError, match="not among"):
        sl.DataSet.of(PAIR, T=300.0, gamma_inf={"water": 3.0})
    with pytest.raises(sl.InputError, match="share of what was not measured"):
        sl.DataSet.of(PAIR, T=330.0, x=[0.1, 0.2], uncertainty={"P": "1 %"})
    with pytest.raises(sl.UnknownComponentError, match="acetonne"):
        sl.DataSet.of(["acetonne", "water"], T=300.0, x=[0.1], P=[1e5])
    data = some_of_every_kind()[0]
    assert len(data.switched_off("spare").used.nonzero()[0]) == 0
    assert data.switched_off("spare").with_all().used.all()
    assert np.isnan(data["HE"]).all()


# ---- ThermoML ----

WRITTEN = f"""<?xml version="1.0"?>
<DataReport xmlns="{NAMESPACE}">
 <Version><nVersionMajor>4</nVersionMajor><nVersionMinor>0</nVersionMinor></Version>
 <Citation><sAuthor>Frost, J.</sAuthor><sPubName>J. Made-up Data</sPubName><yrPubYr>2024</yrPubYr><sTitle>On solvents</sTitle></Citation>
 <Compound><RegNum><nCASRNum>67641</nCASRNum><nOrgNum>7</nOrgNum></RegNum><sCommonName>propan-2-one of ours</sCommonName></Compound>
 <Compound><RegNum><nOrgNum>3</nOrgNum></RegNum><sCommonName>unheard-of</sCommonName><sCommonName>water</sCommonName></Compound>
 <PureOrMixtureData><nPureOrMixtureDataNumber>1</nPureOrMixtureDataNumber>
  <Component><RegNum><nOrgNum>3</nOrgNum></RegNum></Component><Component><RegNum><nOrgNum>7</nOrgNum></RegNum></Component>
  <Property><nPropNumber>1</nPropNumber><Property-MethodID><PropertyGroup><VaporPBoilTAzeotropTandP>
   <ePropName>Vapor or sublimation pressure, kPa</ePropName></VaporPBoilTAzeotropTandP></PropertyGroup></Property-MethodID>
   <PropPhaseID><ePropPhase>Liquid</ePropPhase></PropPhaseID></Property>
  <PhaseID><ePhase>Liquid</ePhase></PhaseID><PhaseID><ePhase>Gas</ePhase></PhaseID>
  <Constraint><nConstraintNumber>1</nConstraintNumber><ConstraintID><ConstraintType><eTemperature>Temperature, K</eTemperature></ConstraintType></ConstraintID>
   <nConstraintValue>330</nConstraintValue></Constraint>
  <Variable><nVarNumber>1</nVarNumber><VariableID><VariableType><eComponentComposition>Mole fraction</eComponentComposition></VariableType>
   <RegNum><nOrgNum>7</nOrgNum></RegNum></VariableID><VarPhaseID><eVarPhase>Liquid</eVarPhase></VarPhaseID></Variable>
  <NumValues><VariableValue><nVarNumber>1</nVarNumber><nVarValue>0.25</nVarValue></VariableValue>
   <PropertyValue><nPropNumber>1</nPropNumber><nPropValue>87.5</nPropValue>
    <CombinedUncertainty><nCombUncertAssessNum>1</nCombUncertAssessNum><nCombExpandUncertValue>0.4</nCombExpandUncertValue></CombinedUncertainty></PropertyValue></NumValues>
 </PureOrMixtureData>
 <PureOrMixtureData><nPureOrMixtureDataNumber>2</nPureOrMixtureDataNumber>
  <Component><RegNum><nOrgNum>3</nOrgNum></RegNum></Component>
  <Property><nPropNumber>1</nPropNumber><Property-MethodID><PropertyGroup><TransportProp><ePropName>Viscosity, Pa*s</ePropName></TransportProp></PropertyGroup></Property-MethodID></Property>
  <NumValues><PropertyValue><nPropNumber>1</nPropNumber><nPropValue>0.001</nPropValue></PropertyValue></NumValues>
 </PureOrMixtureData>
</DataReport>
"""


def test_a_document_of_others_is_read(tmp_path):
    path = tmp_path / "paper.xml"
    path.write_text(WRITTEN)
    found = sl.read_thermoml(path)
    (data,) = found.sets
    assert data.names == ("water", "acetone")
    assert (data["T"][0], data["P"][0]) == (330.0, 87500.0)
    assert data["x"][0] == pytest.approx([0.75, 0.25])
    assert data.uncertainty["P"][0] == pytest.approx(200.0)
    assert "Frost" in data.source
    assert "J. Made-up Data" in found.citation
    assert len(found.skipped) == 1
    assert "Viscosity" in found.skipped[0]
    assert sl.read_data(path).names == data.names


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("<!DOCTYPE a [<!ENTITY b 'c'>]><a>&b;</a>", "document type"),
        ('<!DOCTYPE a SYSTEM "file:///etc/passwd"><a/>', "document type"),
        ("<a>", "no XML"),
        ("not at all", "no XML"),
        ("<DataReport/>", "no ThermoML"),
        (f'<DataReport xmlns="{NAMESPACE}"/>', "no Compound"),
        (WRITTEN.replace("<nVarValue>0.25", "<nVarValue>many"), "no number"),
        (WRITTEN.replace("<nVarValue>0.25", "<nVarValue>inf"), "not finite"),
        (WRITTEN.replace("<Component><RegNum><nOrgNum>7", "<Component><RegNum><nOrgNum>99"), "no Compound of number"),
        (WRITTEN.replace("<VariableValue><nVarNumber>1", "<VariableValue><nVarNumber>8"), "not declared"),
        (WRITTEN.replace("<nVarValue>0.25", "<nVarValue>1.25"), "not negative"),
    ],
)
def test_documents_that_are_wrong_or_hostile(text, message, tmp_path):
    path = tmp_path / "a.xml"
    path.write_text(text)
    with pytest.raises(sl.InputError, match=message):
        sl.read_thermoml(path)


# ---- the store ----


def own_records(*components, **options):
    """Those that are not shipped."""
    return [r for r in sl.data_records(*components, **options) if r.layer != "shipped"]


def test_what_is_shipped_is_listed_and_fitted():
    found = sl.data_records("1-butanol", "water", layer="shipped")
    assert {r.kind for r in found} == {"azeotrope", "liquid-liquid"}
    split = next(r for r in found if r.kind == "liquid-liquid").read()
    # 7.45 % of 1-butanol and 20.5 % of water by mass at 25 °C
    assert split["x'"][0, 0] == pytest.approx(0.0745 / 74.12 / (0.0745 / 74.12 + 0.9255 / 18.015), rel=1e-3)
    assert split["x''"][0, 0] == pytest.approx(0.795 / 74.12 / (0.795 / 74.12 + 0.205 / 18.015), rel=1e-3)
    fit = sl.regress(sl.System(split.names, liquid="UNIQUAC"), [r.read() for r in found])
    assert fit.count >= 4
    assert found[0].name == ""


def test_sets_are_kept_listed_and_taken_out():
    for data in some_of_every_kind():
        sl.store_data(data, "user" if data.kind != "azeotrope" else "case")
    assert len(own_records()) == len(some_of_every_kind())
    found = sl.data_records("1-butanol", "acetone", kind="vapor-liquid")
    assert {r.source for r in found} == {"isobar", "isotherm", "three"}
    isobar = next(r for r in found if r.source == "isobar")
    assert (isobar.points, isobar.T, isobar.P) == (2, (350.0, 360.0), (101325.0, 101325.0))
    assert same(isobar.read(), some_of_every_kind()[0])
    assert [r.layer for r in own_records(kind="azeotrope")] == ["case"]
    with pytest.raises(sl.InputError, match="already"):
        sl.store_data(some_of_every_kind()[0])
    sl.store_data(some_of_every_kind()[0], overwrite=True)
    sl.remove_data(isobar.name, isobar.layer)
    with pytest.raises(sl.UnknownComponentError, match="no measurements"):
        sl.remove_data(isobar.name, isobar.layer)
    assert len(own_records()) == len(some_of_every_kind()) - 1
    with pytest.raises(sl.InputError, match="no kind"):
        sl.data_records(kind="wonder")


def test_a_table_that_somebody_put_there_is_listed(tmp_path):
    folder = tmp_path / "user"
    folder.mkdir()
    (folder / "mine.csv").write_text("T [degC],P [kPa],x acetone,x water\n60,80,0.5,0.5\n70,,0.4,0.6\n")
    (record,) = own_records("water")
    assert (record.names, record.kind, record.points, record.T, record.source) == (
        ("acetone", "water"),
        "vapor-liquid",
        2,
        (333.15, 343.15),
        "mine.csv",
    )


def test_what_begins_like_a_formula_is_text_in_a_kept_file():
    path = sl.store_data(sl.DataSet.of(PAIR, T=330.0, P=[5e4, 6e4], x=[0.3, 0.2]).without([0], "=1+1"))
    assert ",'=1+1" in path.read_text()
    assert sl.read_data(path).excluded == {0: "=1+1"}


def test_the_command_line_shows_keeps_lists_and_converts(tmp_path):
    measurements()
    file = "demo/lab_2_1-butanol_water_solubility.csv"
    assert "1-butanol + water, liquid-liquid" in run("data", "show", file, "--out", "a.png")
    shown = json.loads(run("data", "show", file, "--json"))
    assert (shown["kind"], len(shown["points"])) == ("liquid-liquid", 9)
    run("data", "store", file, "--layer", "case")
    assert "lab 2, mutual solubility" in run("data", "list", "water")
    assert "There are none" in run("data", "list", "acetone", "n-decane")
    run("data", "convert", "demo/bench_still_acetone_1-butanol.csv", "still.xml")
    run("data", "convert", "still.xml", "still.csv")
    first, second = sl.read_data("demo/bench_still_acetone_1-butanol.csv"), sl.read_data("still.csv")
    np.testing.assert_allclose(second["T"], first["T"], rtol=1e-13)
    np.testing.assert_allclose(second.uncertainty["y"], first.uncertainty["y"], rtol=1e-13)
    assert "exists already" in run("data", "convert", "still.xml", "still.csv", status=2)


def test_a_frame_of_several_sets_and_models_beside():
    isobar, isotherm = some_of_every_kind()[:2]
    table = sl.data_table([isobar, isotherm])
    assert len(table.to_frame()) == 4
    assert isinstance(table.to_frame(), pd.DataFrame)
    assert any("=bad" in note for note in table.notes)
    with pytest.raises(sl.InputError, match="does not go into one table"):
        sl.data_table([isobar, some_of_every_kind()[3]])
    with pytest.raises(sl.InputError, match="no measurements"):
        sl.data_table([])


def test_a_set_of_plain_lists_is_one_of_arrays():
    lists = sl.DataSet(["acetone", "water"], {"T": [330.0, 335.0], "P": [1e5, 1.1e5], "x": [[0.5, 0.5], [0.4, 0.6]]})
    assert lists.names == ("acetone", "water")
    assert lists["x"][1, 1] == 0.6
    for strange in (["hot", "cold"], 330.0, {"a": 1.0}, [[330.0], [335.0]], [True, False]):
        with pytest.raises(sl.InputError, match=r"quantities are arrays of SI numbers|there is none"):
            sl.DataSet(("acetone", "water"), {"T": strange, "P": [1e5, 1.1e5], "x": [[0.5, 0.5], [0.4, 0.6]]})
