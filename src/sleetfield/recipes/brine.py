"""Salt water that holds ice and hydrates back: one salt of the databank, by molality or mass percent."""

from __future__ import annotations

import functools
from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

from ..components.databank import read_table, source_text
from ..core.models.brine import BesideBrine, Salt
from ..core.models.crystal import Crystal
from ..errors import InputError
from ..units import one_in_si


class Brine(NamedTuple):
    """A solution of one salt: its name, mol/kg of water, ln of water's activity, and what there is to say about it."""

    salt: str
    molality: float
    ln_activity: float
    notes: tuple[str, ...]


@functools.cache
def _salts() -> dict[str, dict[str, str]]:
    return {r["name"]: r for r in read_table("salts.csv")}


def brine_of(given: Any) -> Brine:
    """What a user gives: ``{"sodium chloride": "10 %"}`` by mass, or a number in mol/kg of water.

    Raises
    ------
    InputError
        If it is something else, or more than one salt, or none of the databank's.

    Examples
    --------
    >>> round(brine_of({"sodium chloride": "10 %"}).molality, 3)
    1.901

    """
    if not isinstance(given, Mapping) or len(given) != 1:
        raise InputError(
            f"brine is {given!r}; it is one salt with its amount: {{'sodium chloride': '10 %'}} by mass, or a number in mol/kg of water."
        )
    ((name, amount),) = given.items()
    if name not in _salts():
        by_formula = {r["formula"]: n for n, r in _salts().items()}
        if name not in by_formula:
            raise InputError(f"There is no salt {name!r}. Salts are {', '.join(_salts())}.")
        name = by_formula[name]
    r = _salts()[name]
    if isinstance(amount, str):
        share = one_in_si(amount, "fraction", "brine")
        if not 0.0 <= share < 0.6:
            raise InputError(f"The brine has {100.0 * share:g} % of {name} by mass; it is between 0 and 60 %.")
        molality = share / (1.0 - share) / float(r["molar_mass"])
    else:
        molality = one_in_si(amount, "fraction", "brine")
    if not 0.0 <= molality < 100.0:
        raise InputError(f"The brine's molality is {molality:g} mol/kg; it is a number from 0 on.")
    salt = Salt(
        *(int(r[key]) for key in ("cations", "anions", "z_cation", "z_anion")), *(float(r[key]) for key in ("beta0", "beta1", "C"))
    )
    notes = [
        f"Water is held back by {molality:.4g} mol/kg of {name}, by Pitzer's equation ({source_text(r['source'])}), which solvents beside it are not in."
    ]
    if molality > float(r["m_max"]):
        notes.append(f"The parameters of {name} hold up to {r['m_max']} mol/kg.")
    return Brine(name, molality, salt.ln_water_activity(molality), tuple(notes))


def beside_brine(crystals: Sequence[Crystal], water: int, brine: Brine) -> list[Crystal]:
    """The same crystals beside salt water."""
    return [BesideBrine(c, water, brine.ln_activity) for c in crystals]
