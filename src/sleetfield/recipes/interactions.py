"""The interaction parameters kij of equations of state: given, from the bank, estimated, or zero."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..components.component_list import ComponentList
from ..core.constants import R
from ..core.estimates.interaction import from_critical_volumes
from ..errors import InputError
from ..pairs.bank import published_parameters
from ..pairs.of_temperature import OfTemperature, constant
from ..text import first_few
from . import predicted_kij
from .parameter import NO_LAYER, Parameter, Parameters, Symbol

Array = NDArray[np.float64]

PREDICTED = "predicted"
RULES = ("published", PREDICTED, "estimated", "zero")
"""What is done about interaction parameters that are not given."""

ZERO = "none known: taken as zero"
ASKED_ZERO = "zero, as asked for"
ESTIMATED = "estimated: Chueh and Prausnitz (1967), from critical volumes"

KIJ = Symbol("kij", "binary interaction parameter", low=-0.5, high=0.9)


def interactions(who: ComponentList, given: Any, bank: str) -> Iterator[Parameter]:
    """Kij of every pair.

    Parameters
    ----------
    who : ComponentList
        What it is for.
    given : mapping of pairs to numbers, or one of `RULES`, or None
        What the user says of them.
    bank : str
        Whose published parameters are taken; none where it is empty.
    """
    rule = given if isinstance(given, str) else "published"
    if rule not in RULES:
        raise InputError(f"kij is {rule!r}; it is a mapping of pairs to numbers, or one of {', '.join(RULES)}.")
    if rule == PREDICTED and bank != predicted_kij.EQUATION:
        raise InputError(
            "Interaction parameters that are predicted from groups belong to PR and PR78. Take kij='published' or numbers."
        )
    own = given_pairs(who, "kij", {} if given is None or isinstance(given, str) else given)
    estimates = from_critical_volumes(critical_volumes(who)) if rule == "estimated" else None
    sets = published_parameters(bank) if bank and rule != "zero" else {}
    for i, first in enumerate(who.names):
        for j in range(i + 1, len(who)):
            pair = first, who.names[j]
            known = sets.get(pair) or sets.get(pair[::-1])
            if (i, j) in own:
                yield Parameter("kij", pair, own[i, j])
            elif known:
                p = known[0]
                yield Parameter("kij", pair, OfTemperature.read(p.kij, "kij"), p.source, p.layer, p.T_min, p.T_max)
            elif rule == PREDICTED and (guess := predicted_kij.predicted(who.part(pair))) is not None:
                yield Parameter("kij", pair, guess[0], guess[1], NO_LAYER, 150.0, 750.0)
            elif estimates is not None:
                yield Parameter("kij", pair, constant(float(estimates[i, j])), ESTIMATED, NO_LAYER)
            else:
                yield Parameter("kij", pair, constant(0.0), ASKED_ZERO if rule == "zero" else ZERO, NO_LAYER, known=rule == "zero")


def kij_of_pairs(who: ComponentList, values: Parameters) -> Array:
    """Kij ``(C, C)``, or coefficients of temperature ``(K, C, C)`` where one varies."""
    kij = np.asarray(values.pairs("kij", who, mirrored=1.0))
    return kij if kij[1:].any() else kij[0]


def given_pairs(who: ComponentList, what: str, given: Mapping[tuple[str, str], Any]) -> dict[tuple[int, int], OfTemperature]:
    """What a user gave for pairs, by positions ``(i, j)``, i < j."""
    pairs: dict[tuple[int, int], OfTemperature] = {}
    for pair, value in given.items():
        if isinstance(pair, str) or len(pair) != 2:
            raise InputError(f"{what} is keyed by pairs of names, such as ('nitrogen', 'methane'); got {pair!r}.")
        i, j = sorted(who.position(name) for name in pair)
        if i == j:
            raise InputError(f"The pair {pair!r} is one component twice; {what} is between two.")
        read = OfTemperature.read(value, f"{what} of {who.names[i]} and {who.names[j]}")
        if read.varies and what == "lij":
            raise InputError(f"lij of {who.names[i]} and {who.names[j]} is a number; got {value!r}.")
        if (i, j) in pairs and pairs[i, j] != read:
            raise InputError(f"{what} of {who.names[i]} and {who.names[j]} is given twice, with different values.")
        pairs[i, j] = read
    return pairs


def critical_volumes(who: ComponentList) -> Array:
    """Critical volumes ``(C,)``, m3/mol; where one is not known, from Tc, Pc and omega (Lee and Kesler, 1975)."""
    Tc, Pc, omega = (who.constants(k, "a critical volume") for k in ("Tc", "Pc", "omega"))
    known = np.array([np.nan if c.Vc is None else c.Vc for c in who])
    return np.where(np.isnan(known), (0.2905 - 0.085 * omega) * R * Tc / Pc, known)


def interaction_notes(values: Parameters, groups_know: Callable[[tuple[str, ...]], bool] = lambda pair: False) -> list[str]:
    """Which interaction parameters are estimated, derived from one or two measurements, or zero for want of a number, though ``groups_know`` of the pair."""
    kij = values.of_symbol("kij")
    zero = [" - ".join(p.of) for p in kij if p.source in (ZERO, ASKED_ZERO)]
    once = [" - ".join(p.of) for p in kij if p.source.startswith("derived")]
    count = sum(1 for p in kij if p.source == ESTIMATED)
    notes = []
    if count:
        are = "s are" if count > 1 else " is"
        notes.append(f"The interaction parameter{are} estimated from critical volumes for {count} pair{'s' if count > 1 else ''}.")
    from_groups = [" - ".join(p.of) for p in kij if p.source.startswith(predicted_kij.ORIGIN)]
    if from_groups:
        are = "parameters are" if len(from_groups) > 1 else "parameter is"
        notes.append(f"The interaction {are} predicted from groups, to some 0.02, for {first_few(from_groups)}.")
    if once:
        said = ("s", "were", "are") if len(once) > 1 else ("", "was", "is")
        notes.append(
            f"The interaction parameter{said[0]} of {first_few(once)} {said[1]} derived, from one or two measurements or from like pairs, "
            f"and {said[2]} unsure far from them."
        )
    if zero:
        are = "parameters are" if len(zero) > 1 else "parameter is"
        known = any(groups_know(p.of) for p in kij if p.source == ZERO)
        told = f" Where groups are known, kij='{PREDICTED}' has others." if known else ""
        notes.append(
            f"The interaction {are} taken as zero for {len(zero)} pair{'s' if len(zero) > 1 else ''}: {first_few(zero)}.{told}"
        )
    return notes
