"""Envelopes in full: quality by mass, other axes, several mixtures, second liquids, retrograde drop-out; and bubble points of split feeds."""

import json

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.core.equilibrium.phase_boundaries import forms_more

from .commands import run

GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR")
RICH = [0.6, 0.3, 0.1]
WET = sl.System(["propane", "water"], eos="PR", kij={("propane", "water"): 0.5})


def test_quality_lines_by_mass():
    envelope = GAS.envelope(RICH, quality=[0.2, 0.7], quality_basis="mass")
    for q, (line,) in envelope.quality_lines.items():
        middle = np.flatnonzero(np.abs(line.ln_k).max(axis=1) > 0.05)[::3]
        states = GAS.flash(RICH, T=line.T[middle], P=line.P[middle])
        np.testing.assert_allclose(states.vapor_mass_fraction, q, atol=1e-6)
        np.testing.assert_allclose(line.beta[middle], states.vapor_fraction, atol=1e-6)
        assert max(line.T[0], line.T[-1]) == pytest.approx(envelope.critical_points[0].T, rel=1e-9)
    assert "vapor by mass" in envelope.curves("T", "P")[-1][1]
    with pytest.raises(sl.InputError, match="'mole' or 'mass'"):
        GAS.envelope(RICH, quality_basis="volume")


def test_properties_along_lines_are_those_of_flashes():
    envelope = GAS.envelope(RICH, quality=[0.5])
    for line in (*(b.line for b in envelope.branches), *envelope.quality_lines[0.5]):
        along = envelope.along(line)
        rows = np.arange(2, len(line.T) - 2, 5)
        states = GAS.flash(RICH, T=line.T[rows], P=line.P[rows])
        for name in ("H", "S", "density", "molar_volume"):
            values = getattr(states, name)
            # on the boundary a flash may see the last trace of the other phase
            np.testing.assert_allclose(along[name][rows], values, rtol=1e-6, atol=1e-6 * np.abs(values).max())
    frame = envelope.to_frame()
    assert {"H [J/mol]", "S [J/(mol K)]", "density [kg/m3]"} <= set(frame.columns)


@pytest.mark.parametrize(("x", "y"), [("H", "P"), ("density", "P"), ("S", "P"), ("S", "T"), ("S", "H"), ("T", "P")])
def test_axes(x, y):
    envelope = GAS.envelope(RICH, quality=[0.5])
    ax = envelope.plot(x=x, y=y, marks={"drum": (300.0, 20e5)})
    assert ax.get_xlabel().startswith("$\\rho$" if x == "density" else f"${x}$")
    bubble, dew = (next(c for c in envelope.curves(x, y) if c[0] == kind) for kind in ("bubble", "dew"))
    # both branches meet at the critical point
    end = [np.array([c[2][k], c[3][k]]) for c in (bubble, dew) for k in (0, -1)]
    assert min(np.abs(a / b - 1.0).max() for a in end[:2] for b in end[2:]) < 1e-6
    assert any("drum: " in text.get_text() and "vapor" in text.get_text() for text in ax.texts)
    with pytest.raises(sl.InputError, match="no axis"):
        envelope.plot(x="enthalpy")


def test_several_mixtures(tmp_path):
    both = sl.compare_envelopes({"before": GAS.envelope(RICH), "after": GAS.envelope([0.8, 0.15, 0.05])})
    assert set(both.to_frame()["mixture"]) == {"before", "after"}
    summary = both.summary_frame()
    assert summary.loc["before", "cricondentherm T [K]"] == pytest.approx(both.envelopes["before"].cricondentherm.T)
    assert any(note.startswith("after: ") for note in both.notes)
    assert len(both.plot(marks={"line": (250.0, 40e5)}).lines) > 4
    sl.save(both, tmp_path / "both.xlsx")
    with pytest.raises(sl.InputError, match="no envelope to compare"):
        sl.compare_envelopes({})
    with pytest.raises(sl.InputError, match="axes are T and P"):
        both.plot(x="H", marks={"line": (250.0, 40e5)})


def test_retrograde_dropout_is_the_most_liquid_on_the_isotherm():
    envelope = GAS.envelope(RICH)
    low, high, liquid, at = envelope.dropout
    assert low == envelope.critical_points[0].T
    assert high == envelope.cricondentherm.T
    assert at.T == pytest.approx(0.5 * (low + high))
    state = GAS.flash(RICH, T=at.T, P=at.P)
    assert 1.0 - state.vapor_volume_fraction == pytest.approx(liquid)
    for factor in (0.9, 1.1):
        assert 1.0 - GAS.flash(RICH, T=at.T, P=at.P * factor).vapor_volume_fraction < liquid
    assert any("halfway at most" in note for note in envelope.notes)


def test_where_a_second_liquid_meets_the_line():
    """Published interaction parameters give this lean gas a second liquid; where it is marked a region of three phases begins."""
    lean = [0.90, 0.08, 0.02]
    envelope = GAS.envelope(lean)
    assert envelope.second_liquid
    for point in envelope.second_liquid:
        beside = {f: GAS.flash(lean, T=point.T * f, P=point.P * np.linspace(0.95, 1.05, 400)) for f in (0.999, 1.001)}
        assert set(beside[0.999].n_phases) == {1, 2}
        assert set(beside[1.001].n_phases) == {1, 2, 3}
        assert all(states.result.stable.all() and states.result.converged.all() for states in beside.values())
    assert "second liquid" in envelope.summary_frame().index
    assert any("begins or ends at" in note for note in envelope.notes)


def test_limits_of_temperature():
    envelope = GAS.envelope(RICH, T_min=250.0)
    assert min(line.T[:-1].min() for line in envelope.lines) >= 250.0
    assert not envelope.closed
    with pytest.raises(sl.InputError, match="T_min must be positive and below T_max"):
        GAS.envelope(RICH, T_min=300.0, T_max=200.0)


@pytest.mark.parametrize("given", [{"P": 10e5}, {"T": 300.0}])
def test_a_feed_of_two_liquids_boils_where_three_phases_meet(given):
    point = WET.bubble([0.5, 0.5], **given)
    assert len(point.liquids) == 2
    assert any("three phases meet" in note for note in point.notes)
    assert list(point.to_frame().columns) == ["vapor", "both liquids", "liquid", "second liquid"]
    # by Gibbs' rule another feed between the same liquids boils at the same place, with the same vapor
    other = WET.bubble([0.3, 0.7], **given)
    assert (other.T, other.P) == pytest.approx((point.T, point.P), rel=1e-9)
    np.testing.assert_allclose(other.incipient, point.incipient, rtol=1e-8)
    ln_f = [[np.log(p.composition[n]) + p.ln_phi[n] for n in WET.names] for p in point.liquids]
    assert np.ptp(ln_f, axis=0).max() < 1e-8
    three = WET.flash([0.5, 0.5], P=point.P, vapor_fraction=0.2)
    assert three.n_phases == 3
    assert three.T == pytest.approx(point.T, rel=1e-9)
    batch = WET.bubble([[0.5, 0.5], [0.999, 0.001]], **given)
    assert batch.stable.all()


def test_command_line_compares_and_draws_on_other_axes(tmp_path):
    figure = tmp_path / "both.png"
    options = ["--also", "rich: 0.6 methane + 0.3 propane + 0.1 n-heptane", "--name", "lean", "--x", "H", "--out", str(figure)]
    text = run("envelope", "0.85 methane + 0.10 propane + 0.05 n-heptane", *options)
    assert "lean" in text
    assert figure.read_bytes()[:4] == b"\x89PNG"
    answer = json.loads(run("envelope", "0.6 methane + 0.4 propane", "--quality", "0.3", "--quality-basis", "mass", "--json"))
    assert answer["quality_basis"] == "mass"
    assert "--also" in run("envelope", "0.6 methane + 0.4 propane", "--also", "0.5 methane + 0.5 propane", status=2)


def test_three_phases_up_to_where_two_of_them_become_one():
    """Next to the end of the three-phase region two liquids are almost alike; every state on the way is solved and stable."""
    for T in (202.0, 204.0, 205.0, 206.0):
        states = GAS.flash([0.90, 0.08, 0.02], T=T, P=np.linspace(53e5, 63e5, 300))
        assert states.result.converged.all()
        assert states.result.stable.all()


def boundaries(system, envelope, z):
    """At how many stable points of the lines flashes a little inside and outside see different phases, and at how many not."""
    seen = [0, 0]
    for line in envelope.lines:
        for i in range(2, len(line.T) - 2):
            kind = line.roots[i, 0]
            T, P = line.T[i], line.P[i]
            if forms_more(system.phase_model, np.array(z), np.array([T]), np.array([P]), kind)[0]:
                continue
            beside = [{system.flash(z, T=T, P=P * np.exp(s * step)).n_phases for s in (1.0, -1.0)} for step in (1e-3, 1e-6)]
            # where the line is steep, pressure does not lead across it
            beside += [{system.flash(z, T=T * np.exp(s * step), P=P).n_phases for s in (1.0, -1.0)} for step in (1e-4,)]
            seen[int(all(len(phases) == 1 for phases in beside))] += 1
    return seen


def test_an_envelope_that_begins_beside_two_liquids_goes_on_from_its_critical_point():
    """The line from low pressure ends where vapor and liquid of the feed are no longer two; the stable lines above come from the critical point."""
    system, z = sl.System(["glycerol", "n-tetradecane"], eos="SRK"), [0.6425, 0.3575]
    envelope = system.envelope(z)
    (met,), direct = envelope.critical_points, system.critical(z)
    assert (met.T, met.P) == pytest.approx((direct.T, direct.P), rel=1e-9)
    # and the boundary of two liquids, from low pressure on
    assert len(envelope.lines) >= 4
    real, false = boundaries(system, envelope, z)
    assert real > 8
    assert false == 0
    assert len(envelope.second_liquid) == 2
    bubble = system.bubble(z, T=706.57)
    assert [system.flash(z, T=706.57, P=bubble.P * f).n_phases for f in (1.0 - 1e-6, 1.0 + 1e-6)] == [2, 1]


@pytest.mark.parametrize(
    ("names", "z"),
    [(["xenon", "ethylene"], [0.81965, 0.18035]), (["1,2-dichlorotetrafluoroethane", "phosgene"], [0.45135, 0.54865])],
)
def test_a_line_next_to_an_azeotrope_goes_through_its_critical_point_once(names, z):
    """ln K passes an extremum of a thousandth before it goes to zero at the critical point."""
    system = sl.System(names, eos="SRK", kij="zero")
    envelope = system.envelope(z)
    assert envelope.closed
    direct = system.critical(z)
    assert [p.T for p in envelope.critical_points] == [pytest.approx(direct.T, rel=1e-9)]
    (line,) = envelope.lines
    assert np.abs(np.diff(np.log(line.T))).max() < 0.1


def test_a_critical_point_is_marked_beside_which_a_line_turns():
    """Tangents there lead to a pressure of nothing."""
    gas = sl.System(["ethane", "carbon dioxide", "acetone", "benzene"], eos="SRK")
    z = [0.28204105597229423, 0.6450259130594898, 0.02217455556586898, 0.05075847540234715]
    envelope = gas.envelope(z)
    found = gas.critical(z)
    assert any(
        p.T == pytest.approx(found.T, rel=1e-8) and p.P == pytest.approx(found.P, rel=1e-8) for p in envelope.critical_points
    )


def test_a_line_that_ends_does_not_stand_still():
    envelope = sl.System(["nitric oxide", "triethylene glycol"], eos="PR").envelope([0.4752, 0.5248])
    for line in envelope.lines:
        assert (np.hypot(np.diff(np.log(line.T)), np.diff(np.log(line.P))) > 1e-8).all()


def test_a_line_does_not_swing_between_two_branches_where_a_k_value_has_an_extremum():
    names = [
        "diethanolamine",
        "chloropentafluoroethane",
        "N-methylaniline",
        "chlorodifluoromethane",
        "methyl isopropyl ketone",
        "krypton",
    ]
    envelope = sl.System(names, eos="SRK").envelope([0.0335, 0.1106, 0.2697, 0.2436, 0.1395, 0.2031])
    for line in envelope.lines:
        turns = np.diff(np.sign(np.diff(line.T)))
        assert (turns != 0).sum() <= 2
        assert np.abs(np.diff(np.log(line.T))).max() < 0.07


def test_lines_of_every_share_leave_the_critical_point():
    """A narrow region of vapor and liquid between its critical point and one of three phases, which a survey by flashes passes by."""
    names, z = (
        ["ethane", "water", "propane", "n-hexane"],
        [0.7608926642610216, 0.05194988709570447, 0.006417897966706273, 0.1807395506765676],
    )
    system = sl.System(names, eos="SRK")
    envelope = system.envelope(z, quality=[0.3, 0.5, 0.98])
    (critical,) = envelope.critical_points
    for q in (0.3, 0.5):
        (line,) = envelope.quality_lines[q]
        assert line.P.max() == pytest.approx(critical.P, rel=1e-6)
        T, P = line.T[len(line.T) // 2], line.P[len(line.T) // 2]
        assert system.flash(z, T=T, P=P).vapor_fraction == pytest.approx(q, abs=1e-6)
    ends = [(line.T[0], line.P[0], line.T[-1]) for line in envelope.quality_lines[0.98]]
    assert len({tuple(np.round(np.log(end), 4)) for end in ends}) == len(ends)  # each line once
    assert "there is no such line" not in " ".join(envelope.notes)


def test_what_was_not_found_is_said_with_the_temperature_from_which_it_was_sought():
    envelope = sl.System(["nitrogen", "water"], eos="PR").envelope([0.5389, 0.4611], quality=[0.5])
    assert not envelope.quality_lines[0.5]  # it is there at 150 K
    assert "above 246.6 K" in envelope.notes[-1]


def test_the_extremum_next_to_a_critical_point_that_lines_begin_at_is_marked():
    system = sl.System(["hydrogen", "benzene", "water"], eos="SRK")
    z = [0.2232740065281619, 0.5026424020970822, 0.2740835913747558]
    mark = system.envelope(z).cricondentherm
    assert mark.T == pytest.approx(556.93, abs=0.01)  # the critical point is at 556.82 K
    P = np.linspace(0.9, 1.1, 41) * mark.P
    assert (system.flash(z, T=mark.T + 0.02, P=P).n_phases == 1).all()
    assert (system.flash(z, T=mark.T - 0.02, P=P).n_phases == 2).any()
