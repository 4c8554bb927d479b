"""Activity coefficients predicted from groups, by both tables: published worked examples, each pair of groups by what confirmed it, heats of mixing, and the user's way."""

import pickle

import numpy as np
import pytest

import sleetfield as sl
from sleetfield.components.databank import read_table
from sleetfield.components.from_groups import parse_groups
from sleetfield.components.local_groups import LIQUIDS, MODIFIED, UNIFAC, groups_of, interactions, local_groups
from sleetfield.components.structure import groups_in
from sleetfield.core.constants import R
from sleetfield.data_sets.shipped import MeasuredSolubilities, measured_azeotropes, measured_dilutions, measured_solubilities

TABLES = {"UNIFAC": UNIFAC, "modified UNIFAC": MODIFIED, "liquid-liquid UNIFAC": LIQUIDS}
ROWS = [(model, row) for model, table in TABLES.items() for row in read_table(*table.interactions)]
MEASURED = {frozenset((a.first, a.second)): a for a in measured_azeotropes()}


def gammas(system, x, T):
    return np.exp(system.activity.at(np.array([T])).ln_gamma(np.array(x)[:, None])[:, 0])


def test_a_published_example():
    """Acetone and n-pentane at 307 K and 0.047 of acetone: 4.99 and 1.005 (Poling, Prausnitz and O'Connell, 5th ed., example 8-12)."""
    pair = sl.System(["acetone", "n-pentane"], liquid="UNIFAC")
    assert gammas(pair, [0.047, 0.953], 307.0) == pytest.approx([4.99, 1.005], rel=2e-3)


def test_diethylamine_and_heptane_as_textbooks_have_them():
    """Diethylamine and n-heptane at 308.15 K and 0.4 of the amine: 1.133 and 1.047 (Smith, Van Ness and Abbott, appendix on UNIFAC)."""
    pair = sl.System(["diethylamine", "n-heptane"], liquid="UNIFAC")
    assert gammas(pair, [0.4, 0.6], 308.15) == pytest.approx([1.133, 1.047], rel=1e-3)


DILUTE = {d.solute: d for d in measured_dilutions()}
SOLUBLE = {(s.first, s.second): s for s in measured_solubilities()}
# below 66 °C; Riddick, Bunger and Sakano, Organic Solvents, 4th ed. (1986)
SOLUBLE["phenol", "water"] = MeasuredSolubilities("phenol", "water", 298.15, 0.2872, 0.0866, "")
# mass fraction in the solvent over that in water, dilute, and °C: Perry's Chemical Engineers' Handbook, 7th ed. (1997), Table 15-5
PARTITION = {("acetone", "ethyl acetate"): (1.5, 30.0), ("acetone", "n-butyl acetate"): (1.127, 30.0), ("acetone", "methyl isobutyl ketone"): (1.91, 25.0),
             ("acetic acid", "ethyl acetate"): (0.907, 30.0), ("acetic acid", "methyl isobutyl ketone"): (0.657, 25.0)}  # fmt: skip


def split(system, z, T):
    """The liquids by their mass fractions, the one with least of the last component first."""
    liquids = system.liquid_split(z, T=T, P=1e6).state.phases
    last = system.names[-1]
    return [p.mass_composition for p in sorted(liquids, key=lambda p: p.mass_composition[last])] if len(liquids) == 2 else []


def mutual_solubilities(model, first, second):
    """Mass fractions of the second in the first and of the first in the second, calculated and measured."""
    known, pair = SOLUBLE[first, second], sl.System([first, second], liquid=model)
    light, heavy = next(found for x in (0.5, 0.2, 0.1, 0.05) if (found := split(pair, [x, 1.0 - x], known.T)))
    return (light[second], heavy[first]), (known.second_in_first, known.first_in_second)


def partition(model, solute, solvent):
    """Calculated and measured."""
    measured, T = PARTITION[solute, solvent]
    light, heavy = split(sl.System([solute, solvent, "water"], liquid=model), [0.005, 0.5, 0.495], T + 273.15)
    return light[solute] / heavy[solute], measured


# highest temperatures, °C, at which two liquids are there: Francis, Critical Solution Temperatures, Adv. Chem. Ser. 31, ACS (1961)
CRITICAL_SOLUTION = {("furfural", "cyclohexane"): 66.5}


def critical_solution(model, one, other, words):
    """How far off the highest temperature is at which some mixture is unstable, over what it may be."""
    pair, x = sl.System([one, other], liquid=model), np.linspace(0.005, 0.995, 199)

    def splits(T):
        ln_gamma = pair.activity.at(np.full(len(x), T)).ln_gamma(np.stack([x, 1.0 - x]))
        return bool((np.diff(ln_gamma[0] + np.log(x)) < 0.0).any())

    low, high = 200.0, 500.0
    for _ in range(20):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if splits(middle) else (low, middle)
    return abs(low - 273.15 - CRITICAL_SOLUTION[one, other]) / float(words.split()[-2])


# What confirms a pair of groups, as files say it: how far off that is, over what it may be.


def azeotrope(model, one, other, vapor="ideal"):
    known, pair = MEASURED[frozenset((one, other))], sl.System([one, other], liquid=model, vapor=vapor)
    masses = np.array([c.molar_mass for c in pair.components])
    share = known.mass_fraction if known.first == one else 1.0 - known.mass_fraction
    x = share / masses[0] / (share / masses[0] + (1.0 - share) / masses[1])
    limits = [(0.7, 0.06)] if model == "modified UNIFAC" else [(1.5, 0.07), (1.0, 0.12)]
    found = [(abs(p.T - known.T), abs(p.composition[one] - x)) for p in pair.azeotropes(P=known.P)]
    return min((max(T / most, apart / widest) for T, apart in found for most, widest in limits), default=np.inf)


def boiling_points(model, one, other):
    published = [r["model"] for r in read_table("activity_parameters.csv") if {r["first"], r["second"]} == {one, other}]
    return min(_boiling_apart(model, (one, other), name) for name in published) / 1.5


def _boiling_apart(model, pair, other):
    system, z = sl.System(list(pair), liquid=model), np.stack([np.linspace(0.1, 0.9, 9), np.linspace(0.9, 0.1, 9)], axis=1)
    return np.abs(system.bubble(z, P="1 atm").T - system.with_model(liquid=other).bubble(z, P="1 atm").T).max()


def _factor(found, measured, within):
    return np.abs(np.log(np.divide(found, measured))).max() / np.log(within)


def _percent(words):
    return 1.0 + float(words.split()[-2]) / 100.0


CONFIRMED = {
    "azeotrope": lambda model, names, _: azeotrope(model, *names),
    # acids were fitted, and boil, beside a vapor of dimers
    "azeotrope beside dimers": lambda model, names, _: azeotrope(model, *names, vapor="dimers"),
    "boiling points": lambda model, names, _: boiling_points(model, *names),
    "ideal boiling points": lambda model, names, _: _boiling_apart(model, names, "ideal") / 0.3,
    "dilution": lambda model, names, _: _factor(gammas(sl.System(list(names), liquid=model), [1e-9, 1.0], DILUTE[names[0]].T)[0], DILUTE[names[0]].gamma, 2.1),
    "solubilities": lambda model, names, words: _factor(*mutual_solubilities(model, *names), _percent(words)),
    "critical solution": lambda model, names, words: critical_solution(model, *names, words),
    "partition": lambda model, names, words: _factor(*partition(model, *names[:2]), _percent(words)),
}  # fmt: skip


def confirmed_by(row):
    """The kind, and the components."""
    kind, _, names = row["confirmed_by"].partition(" within ")[0].partition(" of ")
    return kind, tuple(names.split(" + "))


def off(model, row):
    kind, names = confirmed_by(row)
    return CONFIRMED[kind](model, names, row["confirmed_by"])


@pytest.mark.parametrize(("model", "row"), ROWS, ids=lambda r: r if isinstance(r, str) else f"{r['first']} {r['second']}")
def test_each_pair_of_groups_is_confirmed_by_what_it_says(model, row):
    _, names = confirmed_by(row)
    table = TABLES[model]
    mains = {local_groups(table)[g].main for name in names for g in groups_of(sl.databank().find(name), table=table)}
    assert {row["first"], row["second"]} <= mains
    assert off(model, row) < 1.0


HARDLY = {
    "CH2 CHO", "CH2 CNH2", "CH2 CNH", "CH2 (C)3N", "CH2 ACCl", "C=C ACH", "ACH ACOH", "ACH CHO", "ACH CH2O", "ACH ACNH2", "ACH ACCl", "ACCH2 CH3OH",
    "ACCH2 ACNH2", "OH HCOO", "OH (C)3N", "OH ACCl", "CH3OH HCOO", "H2O CHO", "H2O ACNH2", "H2O COOH", "H2O CS2",
}  # fmt: skip
"""Pairs of the first table that a change of 30 %, and of 60 K at least, in one of their interactions does not move beyond what confirms them: what is at hand hardly depends on them."""


@pytest.mark.parametrize(("model", "row"), ROWS, ids=lambda r: r if isinstance(r, str) else f"{r['first']} {r['second']}")
def test_what_confirms_a_pair_of_groups_would_tell_a_wrong_one(model, row, monkeypatch):
    known, pair = interactions(TABLES[model]), (row["first"], row["second"])

    def tells(order, sign):
        first, *rest = known[order].terms
        changed = known[order]._replace(terms=(first + sign * max(0.3 * abs(first), 60.0), *rest))
        monkeypatch.setattr("sleetfield.recipes.unifac.interactions", lambda table: {**known, order: changed})
        try:
            return not off(model, row) < 1.0
        except (ValueError, StopIteration):  # no two liquids at all
            return True

    assert any(tells(order, sign) for order in (pair, pair[::-1]) for sign in (1.0, -1.0)) == (
        model != "UNIFAC" or " ".join(pair) not in HARDLY
    )


def test_azeotropes_that_were_not_chosen_for_it():
    """Of the measured azeotropes of the handbook's first table, all but three are predicted, 0.5 K off on average, although it was fitted to none of them alone."""
    off, missed = [], []
    for known in [a for a in measured_azeotropes() if "table of azeotropes" in a.source]:
        found = sl.System([known.first, known.second], liquid="UNIFAC").azeotropes(P=known.P)
        if found:
            off.append(min(abs(p.T - known.T) for p in found))
        else:
            missed.append((known.first, known.second))
    assert len(off) >= 42
    assert len(missed) <= 3
    assert np.mean(off) < 0.5
    assert np.max(off) < 2.5


def test_azeotropes_of_the_modified_table():
    """Of 63 measured ones, twice as many as were chosen to confirm it, all are there, 0.31 K off on average."""
    off = []
    for known in measured_azeotropes():
        try:
            pair = sl.System([known.first, known.second], liquid="modified UNIFAC")
        except sl.UnknownComponentError:
            continue
        # ethers hardly mix with water, but wholly do by their groups
        if {known.first, known.second} != {"diethyl ether", "water"}:
            off.append(min(abs(p.T - known.T) for p in pair.azeotropes(P=known.P)))
    assert len(off) >= 60
    assert np.mean(off) < 0.35
    assert np.max(off) < 1.5


HEATS = {("benzene", "cyclohexane"): (799.0, 0.04), ("n-hexane", "cyclohexane"): (217.0, 0.06), ("benzene", "n-heptane"): (930.0, 0.12),
         ("ethanol", "n-heptane"): (620.0, 0.12), ("ethanol", "water"): (-380.0, 0.15), ("acetone", "ethanol"): (1080.0, 0.15)}  # fmt: skip
"""J/mol at x = 0.5 and 25 °C, and within what: Stokes, Marsh and Tomlins, J. Chem. Thermodyn. 1 (1969) 211-221; Marsh and Stokes, 1 (1969) 223-239 (hexane and cyclohexane);
of the others Christensen, Hanks and Izatt, Handbook of Heats of Mixing, Wiley (1982)."""


def heat_of_mixing(model, pair, T=298.15, step=0.5):
    above, below = (np.log(gammas(sl.System(list(pair), liquid=model), [0.5, 0.5], t)).mean() for t in (T + step, T - step))
    return -R * T**2 * (above - below) / (2.0 * step)


@pytest.mark.parametrize("pair", list(HEATS))
def test_heats_of_mixing_by_the_modified_table(pair):
    """Interactions as functions of temperature were fitted to them, and a wrong digit in any would show; by the older table benzene and cyclohexane have a third of it."""
    measured, within = HEATS[pair]
    plain, modified = (heat_of_mixing(model, pair) for model in ("UNIFAC", "modified UNIFAC"))
    assert modified == pytest.approx(measured, rel=within)
    assert abs(modified - measured) < abs(plain - measured) + 0.05 * abs(measured)


def test_alkylbenzenes_in_water_by_the_modified_table():
    """Mole fractions at 25 °C: benzene 4.1e-4, toluene 1.01e-4, ethylbenzene 2.6e-5 (McAuliffe, J. Phys. Chem. 70 (1966) 1267-1275)."""
    for name, x in (("benzene", 4.1e-4), ("toluene", 1.01e-4), ("ethylbenzene", 2.6e-5)):
        dilute = gammas(sl.System([name, "water"], liquid="modified UNIFAC"), [1e-9, 1.0], 298.15)[0]
        assert dilute * x == pytest.approx(1.0, rel=0.35), name


def test_each_table_is_advised_for_what_it_was_fitted_to():
    liquids = sl.advise(["1-butanol", "water", "n-heptane"], T="25 degC", P="1 atm", purpose="liquid-liquid")
    names = [s.name.split(",")[0] for s in liquids.suggestions]
    assert names.index("liquid-liquid UNIFAC") < names.index("UNIFAC")
    heats = sl.advise(["ethanol", "n-octane"], T=("20 degC", "80 degC"), P="1 atm", purpose="enthalpy")
    names = [s.name.split(",")[0] for s in heats.suggestions]
    assert names.index("modified UNIFAC") < names.index("UNIFAC") < names.index("liquid-liquid UNIFAC")


def test_tie_lines_of_other_temperatures_are_said():
    pair = sl.System(["1-butanol", "water"], liquid="liquid-liquid UNIFAC")
    warm, cool = (" ".join(pair.liquid_split([0.2, 0.8], T=f"{t} degC").notes) for t in (60, 30))
    assert "are for 10 to 40 °C" in warm
    assert "10 to 40" not in cool


def test_any_prediction_fills_gaps_and_is_named_in_full():
    filled = sl.System(["n-heptane", "1-propanol"], liquid="NRTL", missing="modified UNIFAC")
    assert "fitted to a prediction by modified UNIFAC." in " ".join(filled.notes)


def test_ring_and_rank_of_hydroxyl_tell_groups_of_the_modified_table():
    bank = sl.databank()
    assert groups_of(bank.find("2-butanol"), table=MODIFIED)["secondary OH"] == 1
    assert groups_of(bank.find("tert-butanol"), table=MODIFIED)["tertiary OH"] == 1
    assert groups_of(bank.find("methylcyclohexane"), table=MODIFIED) == {"CH3": 1, "ring CH2": 5, "ring CH": 1}
    assert groups_of(bank.find("tetralin"), table=MODIFIED)["ACCH2"] == 2
    with pytest.raises(sl.UnknownComponentError, match="no group stands for"):
        sl.System(["tetrahydrofuran", "water"], liquid="modified UNIFAC")
    with pytest.raises(sl.UnknownComponentError, match=r"modified UNIFAC has no interaction of the main groups CH2CO - H2O"):
        sl.System(["acetone", "water"], liquid="modified UNIFAC")


def test_measured_dilutions_rise_by_regular_factors():
    """With each CH2 of an alkane, a cycloalkane or an alkylbenzene, by 3.3 to 5.1, of an alcohol or a ketone by less; a branch, and a double bond, makes a molecule more soluble."""
    plain = [("n-pentane", "n-hexane"), ("n-hexane", "n-heptane"), ("n-heptane", "n-octane"), ("cyclopentane", "cyclohexane"), ("cyclohexane", "methylcyclohexane"),
             ("benzene", "toluene"), ("toluene", "ethylbenzene"), ("toluene", "o-xylene"), ("ethylbenzene", "cumene")]  # fmt: skip
    assert all(3.3 < DILUTE[b].gamma / DILUTE[a].gamma < 5.1 for a, b in plain)
    polar = [("methanol", "ethanol"), ("ethanol", "1-propanol"), ("1-propanol", "1-butanol"), ("acetone", "methyl ethyl ketone")]
    assert all(2.2 < DILUTE[b].gamma / DILUTE[a].gamma < 4.0 for a, b in polar)
    for more, less in (("isopentane", "n-pentane"), ("2-methylpentane", "n-hexane"), ("isooctane", "n-octane"), ("1-hexene", "n-hexane"), ("cyclohexene", "cyclohexane"), ("styrene", "ethylbenzene")):  # fmt: skip
        assert 1.2 < DILUTE[less].gamma / DILUTE[more].gamma < 6.0


def test_liquids_that_split_are_nearer_by_the_table_made_of_them():
    """In mole fractions of both liquids, which it was fitted to: Magnussen and others have 2 percent on average over theirs; here it is 2.2. Small solubilities in water may be a third."""
    off = {"UNIFAC": [], "liquid-liquid UNIFAC": []}
    for pair in SOLUBLE:
        masses = np.array([sl.databank().find(name).molar_mass for name in pair])
        try:
            both = [mutual_solubilities(model, *pair) for model in off]
        except (sl.UnknownComponentError, StopIteration):
            continue
        for (found, measured), differences in zip(both, off.values(), strict=True):
            for w, known, own, other in zip(found, measured, masses[::-1], masses, strict=True):
                fractions = [share / own / (share / own + (1.0 - share) / other) for share in (w, known)]
                differences.append(abs(fractions[0] - fractions[1]))
    assert len(off["UNIFAC"]) >= 24
    assert np.mean(off["liquid-liquid UNIFAC"]) < 0.023
    assert np.mean(off["liquid-liquid UNIFAC"]) < 0.8 * np.mean(off["UNIFAC"])


def test_propanols_are_groups_of_their_own_where_liquids_split():
    with pytest.raises(sl.UnknownComponentError, match="interaction of the main groups 1-propanol - H2O"):
        sl.System(["1-propanol", "water"], liquid="liquid-liquid UNIFAC")


def test_activity_coefficients_at_infinite_dilution_in_water():
    """Of thirty measured ones alkanes are ten to ninety times too small by the first table, the others a factor of two off at most, as notes say."""
    known = DILUTE
    assert len(known) >= 30
    ratios = {"alkane": [], "other": []}
    for d in known.values():
        try:
            found = gammas(sl.System([d.solute, "water"], liquid="UNIFAC"), [1e-9, 1.0], d.T)[0]
        except sl.UnknownComponentError:
            continue
        alkane = {local_groups()[g].main for g in groups_of(sl.databank().find(d.solute))} <= {"CH2", "C=C"}
        ratios["alkane" if alkane else "other"].append(found / d.gamma)
    assert len(ratios["other"]) >= 17
    assert np.abs(np.log(ratios["other"])).max() < np.log(2.1)
    assert np.median(np.abs(np.log(ratios["other"]))) < np.log(1.35)
    assert 1.0 / 95.0 < min(ratios["alkane"]) < max(ratios["alkane"]) < 0.25
    measured = {name: d.gamma for name, d in known.items() if "Tiegs" in d.source}
    # what was measured agrees with published sets of parameters, which rest on boiling points
    for name, value in measured.items():
        models = {r["model"] for r in read_table("activity_parameters.csv") if {r["first"], r["second"]} == {name, "water"}}
        published = [gammas(sl.System([name, "water"], liquid=model), [1e-9, 1.0], 298.15)[0] for model in models]
        assert np.abs(np.log(np.array(published) / value)).min() < np.log(1.35), name


@pytest.mark.parametrize("a", [[353.5, 0.0, 0.0, 1.0], "353.5", [], True, np.nan, [[353.5]], None, {"a": 1.0}], ids=repr)
def test_an_interaction_is_one_to_three_numbers(a):
    with pytest.raises(sl.InputError, match="it is a number in K, or"):
        sl.System(["ethanol", "water"], liquid="UNIFAC", parameters={("OH", "H2O"): {"a12": a, "a21": -229.1}})


@pytest.mark.parametrize("table", TABLES.values(), ids=TABLES)
def test_structures_of_the_databank_are_what_their_smiles_say(table):
    listed = {row["name"]: parse_groups(row[table.made_of] or row["groups"]) for row in read_table(*table.structures)}
    assert {
        c.name: found for c in sl.databank() if c.smiles and (found := groups_in(c.smiles, *table.groups, table.main))
    } == listed


def test_ring_ethers_of_six_have_the_plain_group():
    """Published UNIQUAC constants of 1,4-dioxane are 3.1854 and 2.640, of tetrahydrofuran 2.9415 and 2.720."""
    for name, q in (("1,4-dioxane", 2.640), ("tetrahydrofuran", 2.720)):
        c = sl.databank().find(name)
        assert c.uniquac_q == pytest.approx(q)
        assert sum(n * local_groups()[g].Q for g, n in groups_of(c).items()) == pytest.approx(q)


@pytest.mark.parametrize(("table", "pairs"), [(UNIFAC, 124), (MODIFIED, 30), (LIQUIDS, 22)], ids=TABLES)
def test_the_table_has_both_orders_and_no_group_of_unknown_name(table, pairs):
    mains, found = {group.main for group in local_groups(table).values()}, interactions(table)
    assert {name for pair in found for name in pair} <= mains
    assert all(pair[::-1] in found for pair in found)
    assert len(found) >= 2 * pairs


def test_what_is_not_known_is_named():
    with pytest.raises(sl.UnknownComponentError, match=r"no interaction of the main groups .*C5H4O2"):
        sl.System(["furfural", "water"], liquid="UNIFAC")
    with pytest.raises(sl.UnknownComponentError, match="no group stands for"):
        sl.System(["nitrogen", "water"], liquid="UNIFAC")
    own = sl.databank().find("n-hexane")
    stranger = sl.Component(
        **{f: getattr(own, f) for f in ("Tc", "Pc", "omega", "molar_mass", "vapor_pressure")}, name="of one's own"
    )
    with pytest.raises(sl.UnknownComponentError, match="groups of of one's own are not known"):
        sl.System([stranger, "water"], liquid="UNIFAC")
    groups = {"of one's own": "2 CH3 + 4 CH2"}
    same = sl.System([stranger, "ethanol"], liquid="UNIFAC", groups=groups)
    assert gammas(same, [0.3, 0.7], 330.0) == pytest.approx(
        gammas(sl.System(["n-hexane", "ethanol"], liquid="UNIFAC"), [0.3, 0.7], 330.0)
    )
    for wrong in (
        {("CH2", "OH"): 5.0},
        {("ethanol", "water"): {"a12": 1.0, "a21": 2.0}},
        {("CH2", "OH"): {"a12": "much", "a21": 1.0}},
    ):
        with pytest.raises(sl.SleetfieldError):
            sl.System([stranger, "ethanol"], liquid="UNIFAC", groups=groups, parameters=wrong)
    with pytest.raises(sl.UnknownComponentError, match="There is no group 'CH9'"):
        sl.System([stranger, "ethanol"], liquid="UNIFAC", groups={"of one's own": "2 CH9"})


def test_interactions_of_ones_own():
    given = {("C5H4O2", "H2O"): {"a12": [300.0, 0.5, 1e-4], "a21": 0.5}}
    pair = sl.System(["furfural", "water"], liquid="UNIFAC", parameters=given)
    assert pair.model.parameters["ln_psi C5H4O2 / H2O"].function.at(350.0) == pytest.approx(
        -(300.0 + 0.5 * 350.0 + 1e-4 * 350.0**2) / 350.0
    )
    cooler = pair.with_parameters({"ln_psi C5H4O2 / H2O": -0.5})
    assert gammas(cooler, [0.1, 0.9], 350.0)[0] < gammas(pair, [0.1, 0.9], 350.0)[0]


def test_interactions_of_ones_own_as_pairs_are_given():
    one = sl.System(
        ["furfural", "water"], liquid="UNIFAC", parameters={("C5H4O2", "H2O"): sl.PairParameters(a12=300.0, a21=50.0, form="K")}
    )
    other = sl.System(["furfural", "water"], liquid="UNIFAC", parameters={("C5H4O2", "H2O"): {"a12": 300.0, "a21": 50.0}})
    assert one.model == other.model


def test_it_is_advised_where_nothing_was_measured():
    best = sl.advise(["2-pentanone", "1-propanol", "n-heptane"], T=("60 degC", "110 degC"), P="1 atm")
    assert best.suggestions[0].name.startswith("UNIFAC")
    known = sl.advise(["ethanol", "water"], T=("60 degC", "110 degC"), P="1 atm")
    assert not known.suggestions[0].name.startswith("UNIFAC")


def test_a_system_is_kept_copied_and_cut(tmp_path):
    broth = sl.System(["acetone", "1-butanol", "water"], liquid="UNIFAC")
    sl.save(broth, tmp_path / "broth.toml")
    again = sl.load(tmp_path / "broth.toml")
    x = [0.2, 0.3, 0.5]
    for other in (again, pickle.loads(pickle.dumps(broth))):
        assert gammas(other, x, 340.0).tolist() == gammas(broth, x, 340.0).tolist()
    alone = sl.System(["acetone", "water"], liquid="UNIFAC")
    assert gammas(broth.part(["acetone", "water"]), [0.4, 0.6], 340.0) == pytest.approx(gammas(alone, [0.4, 0.6], 340.0))
    assert any("predicted from groups" in note for note in broth.flash(x, T=340.0, P=1e5).notes)
    assert [p.kind for p in broth.flash([0.03, 0.17, 0.8], T=298.15, P=1e5).phases] == ["liquid", "liquid"]


@pytest.mark.parametrize("model", ["NRTL", "UNIQUAC", "Wilson", "van Laar"])
def test_missing_parameters_are_estimated_and_said_to_be(model):
    names = ["n-heptane", "1-propanol", "2-pentanone"]
    plain, filled = sl.System(names, liquid=model), sl.System(names, liquid=model, missing="UNIFAC")
    predicted = sl.System(names, liquid="UNIFAC")
    x = [0.3, 0.3, 0.4]
    assert "taken as ideal" in " ".join(plain.notes)
    assert "taken as ideal" not in " ".join(filled.notes)
    assert "fitted to a prediction by UNIFAC" in " ".join(filled.flash(x, T=360.0, P=1e5).notes)
    there = [p for p in filled.model.parameters.values() if len(p.of) == 2 and p.layer == "estimated"]
    assert len(there) >= 6
    assert all("ln γ within" in p.source for p in there)
    for pair in (names[:2], names[1:], names[::2]):
        one, other = (gammas(system.part(pair), [0.4, 0.6], 340.0) for system in (filled, predicted))
        assert np.abs(np.log(one / other)).max() < 0.1


def test_what_is_known_is_not_estimated():
    known = sl.System(["ethanol", "water"], liquid="NRTL", missing="UNIFAC")
    assert known.model == sl.System(["ethanol", "water"], liquid="NRTL").model
    with pytest.raises(sl.InputError, match="predicts nothing"):
        sl.System(["n-heptane", "1-propanol"], liquid="NRTL", missing="Wilson")
    with pytest.raises(sl.InputError, match="missing belongs to"):
        sl.System(["methane", "ethane"], eos="PR", missing="UNIFAC")
    still_ideal = sl.System(["furfural", "ethanol"], liquid="NRTL", missing="UNIFAC")
    assert "taken as ideal" in " ".join(still_ideal.notes)
