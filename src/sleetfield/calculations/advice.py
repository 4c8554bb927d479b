"""Which model to take for a mixture and a question. The rules are a table, `data/advice.csv`: for which models, when, how much it counts, why, by whom.

A rule fires where the model has one of its tags and all its facts hold; points are added up, and -100 or less excludes. What facts there are is `FACTS`.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterable, Sequence
from itertools import combinations
from typing import Any, NamedTuple

from ..components import Component
from ..components.classes import classes_of
from ..components.component_list import ComponentList
from ..components.databank import read_table
from ..data_sets import data_records
from ..data_sets.shipped import measured_azeotropes, measured_solubilities
from ..errors import InputError, SleetfieldError
from ..mixture import Mixture
from ..recipes.model import recipe_of, settled
from ..results.advice import Advice, Reason, Suggestion
from ..specified import values_of

PURPOSES = ("vapor-liquid", "liquid-liquid", "distillation", "enthalpy", "density", "envelope", "solids")
"""What can be calculated."""

_LOW, _HIGH, _RETROGRADE = 3e5, 10e5, 30e5
_EXCLUDED = -100.0
_CLOSE, _NEAR_P = 0.95, 0.7
_UNLIKE, _ALIKE = 3.0, 1.7
"""Ratios of molar mass."""
_CANDIDATES: dict[str, tuple[dict[str, Any], tuple[str, ...]]] = {
    "PR": ({"eos": "PR"}, ("cubic", "has parameters", "equation of state")),
    "SRK": ({"eos": "SRK"}, ("cubic", "has parameters", "equation of state")),
    "RK": ({"eos": "RK"}, ("cubic", "equation of state")),
    "PC-SAFT": ({"eos": "PC-SAFT"}, ("bonds", "equation of state")),
    "CPA": ({"eos": "CPA"}, ("bonds", "equation of state")),
    **{
        f"{liquid}, {vapor} vapor": (
            {"liquid": liquid, "vapor": vapor},
            ("activity", f"{vapor} vapor", *tags),
        )
        for liquid, tags in {
            "NRTL": ("local composition", "has parameters"),
            "UNIQUAC": ("local composition", "has parameters"),
            "Wilson": ("local composition", "has parameters"),
            "Margules": ("has parameters",),
            "van Laar": ("has parameters",),
            "UNIFAC": ("prediction",),
            "modified UNIFAC": ("prediction", "heats of mixing"),
            "liquid-liquid UNIFAC": ("prediction", "tie lines"),
            "Scatchard-Hildebrand": (),
            "ideal": (),
        }.items()
        for vapor in ("ideal", "virial")
    },
}
"""Models by name: how they are made, and their tags."""


class _Question(NamedTuple):
    who: ComponentList
    kinds: tuple[frozenset[str], ...]
    T: tuple[float, float]
    P: tuple[float, float]
    purpose: str

    def having(self, kind: str) -> list[str]:
        """Components of a kind."""
        return [c.name for c, own in zip(self.who, self.kinds, strict=True) if kind in own]


Fact = Callable[[_Question], Iterable[str] | bool]


def _if(holds: bool, names: Iterable[str] = ()) -> list[str] | bool:
    found = list(names)
    return found if holds and found else holds


def _gases(q: _Question) -> list[str]:
    return [c.name for c in q.who if c.Tc is not None and c.Tc < q.T[1]]


def _near_critical(q: _Question) -> list[str]:
    """Components whose critical point lies within the range, or next to it."""
    (T_low, T_high), (_, P_high) = q.T, q.P
    return [
        c.name
        for c in q.who
        if c.Tc is not None and c.Pc is not None and _CLOSE * T_low < c.Tc < T_high / _CLOSE and P_high > _NEAR_P * c.Pc
    ]


def _with_water(q: _Question) -> list[str]:
    light = [
        c.name
        for c, k in zip(q.who, q.kinds, strict=True)
        if "hydrocarbon" in k or (c.Tc is not None and c.Tc < 320.0 and "associating" not in k)
    ]
    return light if q.having("water") else []


def _others_than_water(q: _Question) -> list[str]:
    return [n for n in q.having("associating") if n != "water"]


def _splitting(q: _Question) -> list[str]:
    """Pairs that were measured to split, or that do as a rule."""
    known = {frozenset((s.first, s.second)) for s in measured_solubilities()}
    known |= {frozenset((a.first, a.second)) for a in measured_azeotropes() if a.parts}
    found = [" - ".join(pair) for pair in combinations(q.who.names, 2) if frozenset(pair) in known]
    hydrocarbons = [n for n in q.having("hydrocarbon") if (q.who.components[q.who.names.index(n)].Tc or 0.0) > q.T[0]]
    if q.having("water"):
        found += [f"water - {n}" for n in hydrocarbons if f"water - {n}" not in found and f"{n} - water" not in found]
    return found


def _ratio(q: _Question) -> float:
    masses = [c.molar_mass for c in q.who if c.molar_mass]
    return max(masses) / min(masses) if masses else 1.0


def _families(q: _Question) -> set[frozenset[str]]:
    return {k - {"polar"} for k in q.kinds}


FACTS: dict[str, Fact] = {
    "one component": lambda q: len(q.who) == 1,
    "nonpolar": lambda q: not any("polar" in k for k in q.kinds) and not q.having("salt"),
    "polar": lambda q: q.having("polar"),
    "associating": lambda q: q.having("associating"),
    "others than water associate": _others_than_water,
    "alcohol": lambda q: q.having("alcohol") + q.having("glycol"),
    "acid": lambda q: q.having("acid"),
    "quantum gas": lambda q: q.having("quantum gas"),
    "fraction": lambda q: q.having("fraction"),
    "salt": lambda q: q.having("salt"),
    "acid gas in amine": lambda q: _if(
        bool(
            q.having("amine") and q.having("water") and {"carbon dioxide", "hydrogen sulfide", "sulfur dioxide"} & set(q.who.names)
        ),
        q.having("amine"),
    ),
    "water with hydrocarbons or gases": _with_water,
    "gas above critical": _gases,
    "near critical": _near_critical,
    "two liquids": _splitting,
    "unlike sizes": lambda q: _ratio(q) > _UNLIKE,
    "similar": lambda q: len(q.who) > 1 and len(_families(q)) == 1 and _ratio(q) < _ALIKE,
    "low pressure": lambda q: q.P[1] <= _LOW,
    "high pressure": lambda q: q.P[1] > _HIGH,
}
"""What rules can ask: of which components it holds, or whether it does."""


def advise(components: Sequence[str | Component], *, T: Any, P: Any, purpose: str, units: str, make: type[Mixture]) -> Advice:
    """Models ranked, each as a system of the type ``make``; `sleetfield.advise` says it all."""
    if purpose not in PURPOSES:
        raise InputError(f"There is no purpose {purpose!r}; there are {', '.join(PURPOSES)}.")
    who = ComponentList(components)
    q = _Question(who, tuple(classes_of(c) for c in who), _range(T, "T"), _range(P, "P"), purpose)
    facts = _facts(q)
    given = (
        {"solids": solids} if purpose == "solids" and (solids := [c.name for c in _cold(q) if c.heat_of_fusion is not None]) else {}
    )
    suggestions, excluded = [], {}
    for name, (options, tags) in _CANDIDATES.items():
        try:
            system = make.of(who, settled(recipe_of(**options), who, given), units)
        except SleetfieldError as error:
            excluded[name] = str(error).rstrip(".")
            continue
        missing = _missing(system)
        own = {*facts, *_known_facts(system, missing), *_known_bonds(system, q), *tags}
        reasons = _fired({*tags, name.split(",")[0], "any"}, own)
        points = sum(r.points for r in reasons)
        worst = min(reasons, default=None, key=lambda r: r.points)
        if worst is not None and worst.points <= _EXCLUDED:
            excluded[name] = worst.text
        else:
            by_weight = tuple(sorted(reasons, key=lambda r: -abs(r.points)))
            suggestions.append(Suggestion(name, system, round(points, 3), by_weight, missing, tuple(_next(system, missing, facts))))
    # of a liquid beside several vapors the best
    best = {s.name.split(",")[0]: s for s in sorted(suggestions, key=lambda s: s.points)}
    ranked = sorted(best.values(), key=lambda s: -s.points)
    return Advice(who.names, facts, tuple(ranked), _joined(excluded), tuple(_phases(q, facts)))


def _range(given: Any, name: str) -> tuple[float, float]:
    values = values_of(given, name)
    if values.size > 2:
        raise InputError(f"{name} is {given!r}; it is one positive value, or the lowest and the highest.")
    return float(values.min()), float(values.max())


def _facts(q: _Question) -> dict[str, str]:
    """What holds, and of which components."""
    found: dict[str, str] = {}
    for name, fact in FACTS.items():
        answer = fact(q)
        if answer:
            found[name] = "" if answer is True else ", ".join(answer)
    found |= {"all subcritical": ""} if "gas above critical" not in found else {}
    found |= {f"purpose {q.purpose}": ""}
    return found


def _missing(system: Mixture) -> tuple[str, ...]:
    """Pairs whose parameters are not known."""
    own = [p for p in system.model.parameters.values() if len(p.of) == 2 and p.symbol in system.model.recipe.usual_fit]
    pairs = {tuple(sorted(p.of, key=system.names.index)): p.known for p in own}
    return tuple(" - ".join(of) for of, known in pairs.items() if not known)


def _known_facts(system: Mixture, missing: Sequence[str]) -> set[str]:
    count = len(system) * (len(system) - 1) // 2
    if not system.model.recipe.usual_fit or not count:
        return set()
    return {"all pairs known" if not missing else "no pair known" if len(missing) == count else "some pairs known"}


def _known_bonds(system: Mixture, q: _Question) -> set[str]:
    """Whether an equation with bonds has numbers for all of them; nothing where there are none."""
    binding = {p.of[0] for p in system.model.parameters.values() if p.symbol == "bond_energy"}
    wanted = set(q.having("associating"))
    return {"bonds known" if wanted <= binding else "bonds unknown"} if wanted else set()


@functools.cache
def _rules() -> tuple[tuple[frozenset[str], tuple[str, ...], Reason], ...]:
    return tuple(
        (
            frozenset(m.strip() for m in row["models"].split("|")),
            tuple(f.strip() for f in row["when"].split("&")),
            Reason(float(row["points"]), row["reason"], row["reference"], row["models"] == "any"),
        )
        for row in read_table("advice.csv")
    )


def _fired(tags: set[str], facts: set[str]) -> list[Reason]:
    return [reason for models, when, reason in _rules() if models & tags and all(_holds(f, facts) for f in when)]


def _holds(fact: str, facts: set[str]) -> bool:
    if fact in facts:
        return True
    return fact.startswith("not ") and fact.removeprefix("not ") not in facts


def _next(system: Mixture, missing: Sequence[str], facts: dict[str, str]) -> Iterable[str]:
    for pair in missing[:3]:
        sets = data_records(*pair.split(" - "))
        if sets:
            yield f"fit {pair}: {len(sets)} sets of measurements are kept (sl.data_records, sl.regress)"
        else:
            yield f"find data of {pair} and fit them (sl.regress), or try how much the pair matters"
    if "two liquids" in facts:
        yield "check mutual solubilities against data (sl.data_table)"
    if not missing and len(system) > 1:
        yield "hold it against data of one's own before relying on it (System.check, sl.data_table)"


def _phases(q: _Question, facts: dict[str, str]) -> Iterable[str]:
    if "two liquids" in facts:
        yield f"two liquids: {facts['two liquids']}"
    if "gas above critical" in facts and q.P[1] > _RETROGRADE:
        yield "retrograde behavior near the critical point of the mixture"
    if cold := _cold(q):
        yield f"solids, below the melting points of {', '.join(c.name for c in cold)} (solids=)"


def _cold(q: _Question) -> list[Component]:
    """Components that are solid by themselves at the lowest temperature."""
    return [c for c in q.who if c.Tm is not None and c.Tm > q.T[0]]


def _joined(excluded: dict[str, str]) -> dict[str, str]:
    """Models that are excluded for the same reason, together."""
    by_reason: dict[str, list[str]] = {}
    for name, why in excluded.items():
        by_reason.setdefault(why, []).append(name)
    return {", ".join(dict.fromkeys(n.split(",")[0] for n in names)): why for why, names in by_reason.items()}
