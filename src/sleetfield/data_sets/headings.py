"""Headings of tables of measurements: a quantity, the component that it is of, and its unit.

    T [degC]    P [kPa]    x acetone    y acetone    x acetone [mass%]    x' 1-butanol    x'' 1-butanol    gamma_inf acetone    HE [J/mol]
    Henry hydrogen [bar]    density [kg/m3]    u(T) [K]    u(P) [%]    weight    left out

The unit stands in brackets, in parentheses, or behind a stroke (``T / K``); the component behind its quantity, or in parentheses. Words do as well as symbols
(``pressure [bar]``). ``x1`` is of the first of the components that are named for the whole table.
``x'`` and ``x''`` are the liquids of a pair of liquids. Columns with other headings are passed over.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from .kinds import QUANTITIES

WORDS: dict[str, str] = {
    "temperature": "T",
    "t": "T",
    "pressure": "P",
    "p": "P",
    "x''": "x''",
    "x'": "x'",
    "x": "x",
    "y": "y",
    "gamma_inf": "gamma_inf",
    "gamma∞": "gamma_inf",
    "γ∞": "gamma_inf",
    "he": "HE",
    "excess enthalpy": "HE",
    "henry": "Henry",
    "density": "density",
    "rho": "density",
    "ρ": "density",
}
"""Quantities by what they are called, in small letters."""

_MARKS = str.maketrans({"′": "'", "’": "'", "″": '"', "”": '"', "\xa0": " "})
_UNCERTAIN = re.compile(r"(?i)u\s*\((.+)\)|(?:standard )?uncertainty (?:of )?(.+)|u (.+)")
_UNITS = (re.compile(r"(.*\S)\s*\[([^\]]*)\]"), re.compile(r"(.*\S)\s*/\s*([^/]+)"), re.compile(r"(.*\S)\s*\(([^()]*)\)"))
_FIRST = "|".join(sorted(map(re.escape, WORDS), key=len, reverse=True))
_BODY = re.compile(rf"(?i)({_FIRST})(?:\s*\((.+)\)|[\s_]+(?:of\s+)?(.+))?")
NUMBER = "#"
"""Before the number of a component that is not named."""
_NUMBERED = re.compile(r"(?i)(x'{0,2}|y|gamma_inf|γ∞)_?([1-9])")
PERCENT = {
    "%": "mole",
    "mol%": "mole",
    "mol %": "mole",
    "mole%": "mole",
    "mass%": "mass",
    "mass %": "mass",
    "wt%": "mass",
    "wt %": "mass",
}
"""Units of fractions in hundredths, and what they are by."""
PLAIN = {"": "mole", "mol/mol": "mole", "mole": "mole", "mass": "mass", "kg/kg": "mass", "g/g": "mass"}
"""Units of plain fractions."""


class Heading(NamedTuple):
    """What a column holds: a quantity, the component that it is of, its unit, and whether it is the quantity's uncertainty."""

    quantity: str
    component: str
    unit: str
    uncertain: bool


def read_heading(text: str) -> Heading | None:
    """What a heading says; None where it speaks of something else.

    Examples
    --------
    >>> read_heading("x acetone [mass%]")
    Heading(quantity='x', component='acetone', unit='mass%', uncertain=False)
    >>> read_heading("u(P) [kPa]").uncertain, read_heading("Pressure (mmHg)").unit, read_heading("T / K").quantity
    (True, 'mmHg', 'T')
    >>> read_heading("remark") is None
    True

    """
    return next((found for name, unit in names_and_units(text) if (found := _body(name, unit)) is not None), None)


def names_and_units(text: str) -> list[tuple[str, str]]:
    """The ways in which a heading may be a name and a unit: all of it a name first.

    Examples
    --------
    >>> names_and_units("T / K"), names_and_units("P (bar)")
    ([('T / K', ''), ('T', 'K')], [('P (bar)', ''), ('P', 'bar')])

    """
    plain = " ".join(text.translate(_MARKS).replace('"', "''").split())
    matches = [pattern.fullmatch(plain) for pattern in _UNITS]
    return [(plain, ""), *((match[1], match[2].strip()) for match in matches if match)]


def _body(text: str, unit: str) -> Heading | None:
    uncertain = _UNCERTAIN.fullmatch(text)
    inner = next(part for part in uncertain.groups() if part) if uncertain else text
    numbered = _NUMBERED.fullmatch(inner.strip())
    if numbered is not None:
        return Heading(WORDS[numbered[1].lower()], f"{NUMBER}{numbered[2]}", unit, uncertain is not None)
    match = _BODY.fullmatch(inner.strip())
    if match is None:
        return None
    quantity, component = WORDS[match[1].lower()], match[2] or match[3] or ""
    if component and not QUANTITIES[quantity].of_components:
        return None
    if "[" in component or "/" in component:
        return None
    if not unit and match[2] and (match[2].strip().lower() in PERCENT or match[2].strip() in PLAIN):
        return Heading(quantity, "", match[2].strip(), uncertain is not None)
    # of what is in something else, the solvent is named too
    return Heading(quantity, re.split(r"\s+in\s+", component.strip())[0], unit, uncertain is not None)
