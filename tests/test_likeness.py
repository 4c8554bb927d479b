"""How alike substances are: what is near, what is said, and the command."""

import json
import warnings

import numpy as np
import pytest

import sleetfield as sl

from .commands import run

HAVING = [c for c in sl.databank() if c.delta_d is not None]


def test_distances_are_those_of_hansen():
    """Acetone 15.5, 10.4, 7.0 and ethanol 15.8, 8.8, 19.4 MPa^0.5 (Hansen, 2000)."""
    found = sl.alike("acetone", among=["ethanol", "n-hexane"])
    assert found.names == ("ethanol", "n-hexane")
    assert found.distances[0] / 1e3 == pytest.approx(np.sqrt(4 * 0.3**2 + 1.6**2 + 12.4**2), rel=1e-9)
    assert found.parts == pytest.approx((15.5e3, 10.4e3, 7.0e3))


def test_everything_that_can_be_is_ranked():
    found = sl.alike("toluene", most=1000)
    assert found.ranked == len(found.components) == len(HAVING) - 1
    assert len(found.unknown) == len(sl.databank()) - len(HAVING)
    assert "toluene" not in found.names
    assert list(found.distances) == sorted(found.distances)
    assert sl.alike("toluene", most=4).names == found.names[:4]


@pytest.mark.parametrize("c", HAVING[::7], ids=lambda c: c.name)
def test_a_distance_is_the_same_both_ways(c):
    other = HAVING[0] if c.name != HAVING[0].name else HAVING[1]
    assert sl.alike(c, among=[other]).distances == pytest.approx(sl.alike(other, among=[c]).distances)


def test_what_is_near_mixes_and_what_is_far_does_not():
    """Of solvents within 5 MPa^0.5 of n-hexane all mix with it at 25 °C as regular solutions, and of measured splits none is near."""
    near = [c for c in sl.alike("n-hexane", most=30).components if c.Tb > 300.0][:8]
    for c in near:
        liquid = sl.System(["n-hexane", c.name], liquid="Scatchard-Hildebrand")
        assert len(liquid.liquid_split([0.5, 0.5], T="25 degC").state.phases) == 1
    for name in ("n-hexane", "toluene", "ethyl acetate"):
        assert sl.alike("water", among=[name]).distances[0] > 20e3


def test_parts_that_were_measured_take_the_place_of_a_component():
    by_name, by_parts = sl.alike("acetone", most=5), sl.alike(["15.5 MPa^0.5", 10.4e3, "7000 Pa^0.5"], most=6)
    assert by_parts.names[0] == "acetone"
    assert by_parts.distances[0] == pytest.approx(0.0, abs=1e-6)
    assert by_parts.names[1:] == by_name.names
    assert "like one of these parts (dispersion 15.5, polar 10.4, hydrogen bonding 7 MPa^0.5)" in by_parts.title()


def test_a_component_of_ones_own():
    own = sl.Component(
        name="sleet ether",
        Tc=500.0,
        Pc="35 bar",
        omega=0.3,
        molar_mass="90 g/mol",
        delta_d="15.5 MPa^0.5",
        delta_p="3 MPa^0.5",
        delta_h="5 MPa^0.5",
    )
    found = sl.alike("diethyl ether", among=[own, "water"])  # 14.5, 2.9, 5.1
    assert found.names == ("sleet ether", "water")
    assert found.distances[0] / 1e3 == pytest.approx(np.sqrt(4.0 + 0.01 + 0.01))


@pytest.mark.parametrize(
    ("given", "said"),
    [
        (("methane",), "methane has no solubility parameter"),
        ((["18 MPa^0.5", "10 MPa^0.5"],), "three parts"),
        ((7.0,), "takes text or a Component or a list"),
        (([18.0, 10.0, 8.0],), "write the unit"),
        ((["18 MPa^0.5", "10 MPa^0.5", np.inf],), "write the unit"),
        ((["18 bar", "10 MPa^0.5", "8 MPa^0.5"],), "delta_d is 18"),
    ],
    ids=str,
)
def test_what_can_not_be_held_against_anything_is_said(given, said):
    with pytest.raises(sl.SleetfieldError, match=said):
        sl.alike(*given)


def test_other_bad_input_is_said():
    with pytest.raises(sl.InputError, match="how many to list"):
        sl.alike("toluene", most=0)
    with pytest.raises(sl.InputError, match="takes a list of names"):
        sl.alike("toluene", among="acetone")
    with pytest.raises(sl.InputError, match="None of the 1 components"):
        sl.alike("toluene", among=["methane"])
    with pytest.raises(sl.UnknownComponentError, match="acetonne"):
        sl.alike("toluene", among=["acetonne"])


def test_it_is_shown_saved_and_drawn(tmp_path):
    found = sl.alike("toluene", most=15)
    frame = found.to_frame()
    assert list(frame.index) == list(found.names)
    assert frame["distance [MPa^0.5]"].to_numpy() == pytest.approx(np.array(found.distances) / 1e3)
    assert any("no measurement" in note for note in found.notes)
    for suffix in ("csv", "json", "xlsx", "md"):
        assert sl.save(found, tmp_path / f"alike.{suffix}").exists()
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        ax = found.plot()
    words = {t.get_text() for t in ax.texts}
    assert words == set(found.names[:12])


def test_the_command():
    shown = run("components", "alike", "toluene", "--most", "3", "--json")
    assert list(json.loads(shown)["components"]) == list(sl.alike("toluene", most=3).names)
    given = run("components", "alike", "18, 10, 8 MPa^0.5", "--among", "acetone + n-hexane + 2-butanone")
    assert given.index("methyl ethyl ketone") < given.index("acetone") < given.index("n-hexane")
    assert "three parts" in run("components", "alike", "18, 10 MPa^0.5", status=2)
    assert "write the unit" in run("components", "alike", "18, 10, 8 Pa^0.5", status=2)
    assert "no component '18, 10, 8'" in run("components", "alike", "18, 10, 8", status=2)
    assert run("components", "alike", "1,2-dichloroethane", "--most", "1")
