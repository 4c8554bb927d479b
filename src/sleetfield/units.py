"""Units at the edge: what comes in is turned into SI once, and results are shown in a named set of units.

Inside, every number is SI: K, Pa, mol, kg, J, m3. Strings ("25 degC", "3 bar") and pint quantities are taken wherever a
number with a unit is; the conversion itself is pint's, imported when it is first needed.
"""

from __future__ import annotations

import functools
import re
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from .arguments import as_numbers, guarded, short
from .core.constants import ATMOSPHERE, R
from .errors import InputError

if TYPE_CHECKING:
    import pint

UNIT_SETS = ("SI", "metric", "US")

DIMENSIONS: dict[str, tuple[str, str, str]] = {
    "temperature": ("K", "degC", "degF"),
    "temperature_difference": ("K", "K", "delta_degF"),
    "pressure": ("Pa", "bar", "psi"),
    "molar_flow": ("mol/s", "kmol/h", "lbmol/h"),
    "mass_flow": ("kg/s", "kg/h", "lb/h"),
    "volume_flow": ("m3/s", "m3/h", "ft3/min"),
    "molar_mass": ("kg/mol", "kg/kmol", "lb/lbmol"),
    "molar_volume": ("m3/mol", "m3/kmol", "ft3/lbmol"),
    "density": ("kg/m3", "kg/m3", "lb/ft3"),
    "molar_energy": ("J/mol", "kJ/kmol", "Btu/lbmol"),
    "power": ("W", "kW", "Btu/h"),
    "molar_entropy": ("J/(mol K)", "kJ/(kmol K)", "Btu/(lbmol degR)"),
    "velocity": ("m/s", "m/s", "ft/s"),
    "temperature_by_pressure": ("K/Pa", "K/bar", "delta_degF/psi"),
    "by_temperature": ("1/K", "1/K", "1/delta_degF"),
    "by_pressure": ("1/Pa", "1/bar", "1/psi"),
    "mass_energy": ("J/kg", "MJ/kg", "Btu/lb"),
    "specific_energy": ("J/kg", "kJ/kg", "Btu/lb"),
    "specific_entropy": ("J/(kg K)", "kJ/(kg K)", "Btu/(lb degR)"),
    "volume_energy": ("J/m3", "MJ/m3", "Btu/ft3"),
    "viscosity": ("Pa s", "mPa s", "cP"),
    "kinematic_viscosity": ("m2/s", "mm2/s", "mm2/s"),
    "thermal_conductivity": ("W/(m K)", "W/(m K)", "Btu/(h ft degR)"),
    "surface_tension": ("N/m", "mN/m", "dyn/cm"),
    "molecular_length": ("m", "angstrom", "angstrom"),
    "attraction": ("Pa m^6/mol^2", "Pa m^6/mol^2", "Pa m^6/mol^2"),
    "dipole_moment": ("debye", "debye", "debye"),
    "solubility_parameter": ("Pa^0.5", "MPa^0.5", "MPa^0.5"),
    "molality": ("mol/kg", "mol/kg", "mol/kg"),
    "molarity": ("mol/m3", "mol/L", "mol/L"),
    "mass_concentration": ("kg/m3", "mg/L", "mg/L"),
    "fraction": ("", "", ""),
}
"""The unit of each dimension in each set of `UNIT_SETS`; the first is the one used inside."""

_POUND, _FOOT, _BTU = 0.45359237, 0.3048, 1055.056
_PSI = _POUND * 9.80665 / 0.0254**2
_SIZES: dict[str, float] = {
    **{"K": 1.0, "degR": 1.0 / 1.8, "delta_degC": 1.0, "delta_degF": 1.0 / 1.8},
    **{"Pa": 1.0, "kPa": 1e3, "MPa": 1e6, "bar": 1e5, "mbar": 1e2, "atm": ATMOSPHERE, "psi": _PSI},
    **{"mol/s": 1.0, "kmol/h": 1e3 / 3600.0, "lbmol/h": 1e3 * _POUND / 3600.0},
    **{"kg/s": 1.0, "kg/h": 1.0 / 3600.0, "t/h": 1e3 / 3600.0, "lb/h": _POUND / 3600.0},
    **{"m3/s": 1.0, "m3/h": 1.0 / 3600.0, "ft3/min": _FOOT**3 / 60.0},
    **{"kg/mol": 1.0, "g/mol": 1e-3, "kg/kmol": 1e-3, "lb/lbmol": 1e-3},
    **{"m3/mol": 1.0, "m3/kmol": 1e-3, "ft3/lbmol": _FOOT**3 / (1e3 * _POUND)},
    **{"kg/m3": 1.0, "lb/ft3": _POUND / _FOOT**3, "mg/L": 1e-3, "mol/m3": 1.0, "mol/L": 1e3},
    **{"J/mol": 1.0, "kJ/kmol": 1.0, "kJ/mol": 1e3, "Btu/lbmol": _BTU / (1e3 * _POUND)},
    **{"W": 1.0, "kW": 1e3, "MW": 1e6, "Btu/h": _BTU / 3600.0},
    **{"J/(mol K)": 1.0, "kJ/(kmol K)": 1.0, "Btu/(lbmol degR)": _BTU * 1.8 / (1e3 * _POUND)},
    **{"m/s": 1.0, "ft/s": _FOOT, "K/Pa": 1.0, "K/bar": 1e-5, "delta_degF/psi": 1.0 / (1.8 * _PSI)},
    **{"1/K": 1.0, "1/delta_degF": 1.8, "1/Pa": 1.0, "1/bar": 1e-5, "1/psi": 1.0 / _PSI},
    **{"J/(kg K)": 1.0, "kJ/(kg K)": 1e3, "Btu/(lb degR)": _BTU * 1.8 / _POUND},
    **{"J/kg": 1.0, "kJ/kg": 1e3, "MJ/kg": 1e6, "Btu/lb": _BTU / _POUND, "J/m3": 1.0, "MJ/m3": 1e6, "Btu/ft3": _BTU / _FOOT**3},
    **{"Pa s": 1.0, "mPa s": 1e-3, "cP": 1e-3, "m2/s": 1.0, "mm2/s": 1e-6},
    **{"W/(m K)": 1.0, "Btu/(h ft degR)": _BTU * 1.8 / (3600.0 * _FOOT), "N/m": 1.0, "mN/m": 1e-3, "dyn/cm": 1e-3},
    **{"mol/kg": 1.0, "m": 1.0, "angstrom": 1e-10, "Pa m^6/mol^2": 1.0, "debye": 1.0, "Pa^0.5": 1.0, "MPa^0.5": 1e3, "": 1.0},
}
"""The usual units in SI, so that usual numbers need no pint; a test holds them against it."""
_ZEROS = {"degC": (1.0, 273.15), "degF": (1.0 / 1.8, 459.67 / 1.8)}
"""Scales of temperature: size of a degree, and K at zero."""
_USUAL = {
    "temperature": ("K", "degR"),
    "pressure": ("Pa", "kPa", "MPa", "bar", "mbar", "atm", "psi"),
    "molar_flow": ("mol/s", "kmol/h"),
    "mass_flow": ("kg/s", "kg/h", "t/h"),
    "volume_flow": ("m3/s", "m3/h"),
    "molar_mass": ("kg/mol", "g/mol", "kg/kmol"),
    "molar_energy": ("J/mol", "kJ/mol", "kJ/kmol"),
    "molar_entropy": ("J/(mol K)",),
    "molar_volume": ("m3/mol", "m3/kmol"),
    "density": ("kg/m3",),
    "power": ("W", "kW", "MW"),
}
"""Those of them that are read without pint, by dimension."""

_LONGEST = 40
"""Letters of a unit."""
_PRETTY = {"degC": "°C", "degF": "°F", "delta_degF": "°F", "degR": "°R", "m3": "m³", "ft3": "ft³", "m2": "m²", "mm2": "mm²"}
_NUMBER = re.compile(r"(?a)\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*(.*?)\s*")
_ABSOLUTE = re.compile(r"(?i)^(bar|psi|kpa|mpa|pa|kg/cm2|ata)\s*(?:\(?a(?:bs)?(?:olute)?\)?)?$")
"""Pressures as people write that they are absolute: bara, psia, bar(a), bar abs."""
_AS_WRITTEN = {
    "temperature": {
        "C": "degC",
        "F": "degF",
        "R": "degR",
        "°C": "degC",
        "°F": "degF",
        "deg C": "degC",
        "deg F": "degF",
        "kelvin": "K",
        "Kelvin": "K",
    }
}
_ALIASES = {"kg/cm2": "kgf/cm2", "ata": "kgf/cm2", "lb/in2": "psi", "lbf/in2": "psi", "lbs/in2": "psi"}
_PLAIN = re.compile(r"[A-Za-zµ°Ω%][A-Za-zµ°Ω_]*(?:(?:\^|\*\*)?-?(?:[1-9]|0\.5))?")
"""A unit with its power, of one digit."""
_UNIT_TEXT = re.compile(rf"(?:1\s*/\s*)?\(?(?:{_PLAIN.pattern})(?:\s*(?:[*/·]|\s)\s*\(?(?:{_PLAIN.pattern})\)?)*\)?")
_GAUGE = re.compile(r"(?i)^(bar|psi|kpa|mpa|pa)\s*[-_(]?g(auge)?\)?$|^atg$|^atü$")


@functools.cache
def registry() -> pint.UnitRegistry[Any]:
    """The pint registry that Sleetfield's quantities belong to."""
    import pint

    units: pint.UnitRegistry[Any] = pint.UnitRegistry(autoconvert_offset_to_baseunit=True)
    units.define("lbmol = 453.59237 mol")
    # volumes of ideal gas at standard conditions stand for amounts: 0 degC, 15 degC, 60 degF, all at 1 atm
    units.define(f"Nm3 = {ATMOSPHERE / (R * 273.15)!r} mol")
    units.define(f"Sm3 = {ATMOSPHERE / (R * 288.15)!r} mol")
    units.define(f"scf = {ATMOSPHERE * 0.3048**3 / (R * (459.67 + 60.0) / 1.8)!r} mol")
    units.define("MMscf = 1e6 scf")
    units.define("MMscfd = 1e6 scf / day = MMSCFD")
    units.define("Mscfd = 1e3 scf / day = MSCFD")
    units.define("scfm = scf / minute = SCFM")
    units.define("scfh = scf / hour = SCFH")
    units.define("m2 = meter ** 2")
    units.define("mm2 = millimeter ** 2")
    # volumes at the feed's own temperature and pressure
    units.define("gpm = gallon / minute = GPM")
    units.define("bpd = oil_barrel / day = BPD")
    units.define("bbl = oil_barrel")
    units.define("acfm = foot ** 3 / minute = ACFM = cfm = CFM")
    return units


def unit_of(dimension: str, unit_set: str = "SI") -> str:
    """The unit of ``dimension`` in a set of units, as it stands in table headings."""
    if dimension not in DIMENSIONS:
        raise InputError(f"There is no dimension {short(dimension)}. Dimensions are {', '.join(DIMENSIONS)}.")
    return DIMENSIONS[dimension][_position(unit_set)]


def pretty_unit(unit: str) -> str:
    """A unit as it is printed in figures and reports: °C, m³/kmol."""
    return re.sub(r"[A-Za-z_]+[23]?", lambda m: _PRETTY.get(m.group(), m.group()), unit)


def pretty_heading(heading: str) -> str:
    """A table heading as people read it: ``molar_volume [m3/kmol]`` becomes ``molar volume [m³/kmol]``."""
    words = re.sub(r"(?<=[A-Za-z])_(?=[a-z])", " ", heading)
    return re.sub(r"\[([^\]]*)\]", lambda m: f"[{pretty_unit(m[1])}]", words)


def _position(unit_set: str) -> int:
    for i, name in enumerate(UNIT_SETS):
        if isinstance(unit_set, str) and unit_set.lower() == name.lower():
            return i
    raise InputError(f"There is no set of units {short(unit_set)}. Sets of units are {', '.join(UNIT_SETS)}.")


def _for_pint(unit: str) -> str:
    return re.sub(r"\b(m|cm|dm|ft)3\b", r"\1**3", unit).replace(" ", "*")


def to_si(value: Any, dimension: str, name: str) -> NDArray[np.float64]:
    """``value`` as SI numbers: a number, an array, a string with a unit, a pint quantity, or a sequence of these.

    Parameters
    ----------
    value
        What the user gave.
    dimension
        A key of `DIMENSIONS`.
    name
        What to call it in an error.

    Raises
    ------
    InputError
        If it is no number, or its unit is unknown or of another dimension, or it is a gauge pressure.

    Examples
    --------
    >>> one_in_si("20 bar", "pressure", "P")
    2000000.0
    >>> one_in_si("25degC", "temperature", "T")
    298.15

    """
    if isinstance(value, str):
        return np.asarray(_from_text(value, dimension, name))
    if hasattr(value, "magnitude") and hasattr(value, "to"):
        return np.asarray(_from_quantity(value, dimension, name), dtype=float)
    if isinstance(value, (list, tuple)) and any(isinstance(v, str) or hasattr(v, "magnitude") for v in value):
        return np.array([one_in_si(v, dimension, name) for v in value], dtype=float)
    try:
        return as_numbers(value)
    except ValueError:
        unit = unit_of(dimension)
        ways = f" Give it in {unit}, or as text with a unit." if unit else " Give a plain number."
        raise InputError(f"{name} is {short(value)}, which is no number.{ways}") from None


def one_in_si(value: Any, dimension: str, name: str) -> float:
    """A single value as `to_si` reads it.

    Raises
    ------
    InputError
        As `to_si` does, or if there are several.

    Examples
    --------
    >>> one_in_si("1 atm", "pressure", "P")
    101325.0

    """
    found = to_si(value, dimension, name)
    if found.ndim or np.isnan(found):
        raise InputError(f"{name} is {short(value)}; it takes one number here.")
    return float(found)


def dimension_of(value: Any, *choices: str) -> str:
    """Which of several dimensions a value with a unit has; the first where it has no unit, or none of them.

    Examples
    --------
    >>> dimension_of("5 t/h", "molar_flow", "mass_flow")
    'mass_flow'

    """
    for choice in choices:
        try:
            to_si(value, choice, "value")
        except InputError:
            continue
        return choice
    return choices[0]


def _from_text(text: str, dimension: str, name: str) -> float:
    match = _NUMBER.fullmatch(text)
    if match is None:
        raise InputError(
            f"{name} is {short(text)}, which does not begin with a number. Write a number and a unit, such as {_example(dimension)!r}."
        )
    number, unit = float(match[1]), match[2]
    if np.isinf(number):
        raise InputError(f"{name} is {short(text)}, a number without end.")
    if unit and _GAUGE.match(unit):
        raise InputError(
            f"{name} is {text!r}: gauge pressures are not converted, because the local atmosphere is not known. Give it as absolute pressure."
        )
    if not unit:
        return number
    try:
        plain = _plain(unit, dimension)
        if dimension == "temperature" and plain in _ZEROS:
            size, zero = _ZEROS[plain]
            return number * size + zero
        if plain in _USUAL.get(dimension, ()):
            return number * _SIZES[plain]
        quantity = registry().Quantity(number, _for_pint(plain))
    except Exception as error:
        raise InputError(
            f"{name} is {short(text)}: the unit {short(unit)} is not known. Write it like {_example(dimension)!r}."
        ) from error
    return float(_from_quantity(quantity, dimension, name))


def _plain(unit: str, dimension: str) -> str:
    """A unit as it is looked up: checked, with what people write for it replaced.

    Raises
    ------
    ValueError
        If it is not made of names and small powers.
    """
    unit = _AS_WRITTEN.get(dimension, {}).get(unit, unit).replace("³", "3").replace("²", "2")
    if dimension == "pressure" and (match := _ABSOLUTE.fullmatch(unit)):
        unit = match[1]
    unit = re.sub(r"\b(m|cm|mm|in|ft)2\b", r"\1**2", _ALIASES.get(unit, unit))
    unit = re.sub(r"\s*(\*\*|[/*])\s*", r"\1", unit)
    if len(unit) > _LONGEST or not _UNIT_TEXT.fullmatch(unit) or ("%" in unit and unit != "%"):
        raise ValueError(unit)
    return unit


def _from_quantity(quantity: Any, dimension: str, name: str) -> Any:
    import pint

    try:
        return quantity.to(_for_pint(unit_of(dimension)) or "dimensionless").magnitude
    except pint.DimensionalityError:
        raise InputError(
            f"{name} is {quantity!s}, which is not a {dimension.replace('_', ' ')}. It takes units such as {_example(dimension)!r}."
        ) from None


def _example(dimension: str) -> str:
    number = {"temperature": "25", "pressure": "3", "molar_flow": "120"}.get(dimension, "1")
    return f"{number} {DIMENSIONS[dimension][1]}".strip()


def from_si(values: Any, dimension: str, unit_set: str = "SI") -> NDArray[np.float64]:
    """SI numbers as numbers in the unit that a set of units has for ``dimension``.

    Examples
    --------
    >>> from_si([273.15, 373.15], "temperature", "metric").tolist()
    [0.0, 100.0]

    """
    try:
        numbers = as_numbers(values)
    except ValueError:
        raise InputError(f"{short(values)} is no number, nor several.") from None
    scale, offset = _affine(dimension, _position(unit_set))
    return numbers * scale + offset


def _affine(dimension: str, position: int) -> tuple[float, float]:
    """The straight line from SI numbers to those in a set's unit."""
    unit = unit_of(dimension, UNIT_SETS[position])
    if dimension == "temperature" and unit in _ZEROS:
        size, zero = _ZEROS[unit]
        return 1.0 / size, -zero / size
    return 1.0 / _SIZES[unit], 0.0


@guarded
def quantity(value: Any, dimension: str, unit_set: str = "SI") -> pint.Quantity[Any]:
    """An SI number as a pint quantity in the unit of a set of units, from where it converts to any other.

    Examples
    --------
    >>> print(quantity(20e5, "pressure", "metric"))
    20.0 bar

    """
    return registry().Quantity(from_si(value, dimension, unit_set)[()], _for_pint(unit_of(dimension, unit_set)))
