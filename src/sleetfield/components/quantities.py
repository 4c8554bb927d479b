"""Every quantity that a component can have: constants, and correlations with the equations that they may follow."""

from __future__ import annotations

import math
import warnings
from collections.abc import Callable, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np

from ..arguments import guarded
from ..core.constants import CALORIE, R
from ..core.correlations.contract import Correlation
from ..core.correlations.heat_capacity import Hyperbolic, Oscillators, Polynomial, ReducedPolynomial
from ..core.correlations.heat_of_vaporization import WatsonForm, watson
from ..core.correlations.liquid_conductivity import RiedelConductivity, riedel_through, sato_riedel
from ..core.correlations.liquid_density import PowerSeries, RackettForm, modified_rackett, rackett, rackett_through
from ..core.correlations.liquid_viscosity import VogelForm
from ..core.correlations.surface_tension import GuggenheimForm, guggenheim_through
from ..core.correlations.thin_gas import LogarithmicForm
from ..core.correlations.vapor_pressure import Antoine, RiedelForm, Wagner, lee_kesler_vapor_pressure
from ..errors import InputError, SleetfieldWarning
from ..units import one_in_si


class Constant(NamedTuple):
    """A constant: its dimension (`units.DIMENSIONS`), its name in words, and whether it may be zero or negative."""

    dimension: str
    words: str
    signed: bool = False


MOST = {
    "molar_mass": 1e4,
    "temperature": 2e4,
    "temperature_difference": 2e4,
    "pressure": 1e10,
    "fraction": 1e4,
    "molar_volume": 10.0,
    "molar_energy": 1e8,
    "molar_entropy": 1e6,
    "dipole_moment": 1e3,
    "molecular_length": 1e-7,
    "attraction": 1e3,
    "solubility_parameter": 1e6,
}
"""The largest size that a constant of a dimension may have, SI: beyond it a unit is wrong."""

COLDEST = 0.1
"""K; nothing melts, boils or has its critical point below it."""

CONSTANTS = {
    "molar_mass": Constant("molar_mass", "molar mass"),
    "Tc": Constant("temperature", "critical temperature"),
    "Pc": Constant("pressure", "critical pressure"),
    "omega": Constant("fraction", "acentric factor", signed=True),
    "Tb": Constant("temperature", "normal boiling point"),
    "Vc": Constant("molar_volume", "critical volume"),
    "Tm": Constant("temperature", "melting point"),
    "heat_of_fusion": Constant("molar_energy", "heat of fusion"),
    "fusion_heat_capacity": Constant(
        "molar_entropy", "heat capacity of the liquid less that of the solid, at the melting point", signed=True
    ),
    "solid_volume": Constant("molar_volume", "molar volume of the solid"),
    "transition_T": Constant("temperature", "transition to another form of the solid"),
    "heat_of_transition": Constant("molar_energy", "heat of that transition"),
    "H_formation": Constant("molar_energy", "enthalpy of formation, ideal gas", signed=True),
    "G_formation": Constant("molar_energy", "Gibbs energy of formation, ideal gas", signed=True),
    "dipole_moment": Constant("dipole_moment", "dipole moment", signed=True),
    "association_factor": Constant("fraction", "association factor of viscosity, Chung", signed=True),
    "radius_of_gyration": Constant("molecular_length", "radius of gyration", signed=True),
    "vapor_association": Constant(
        "fraction", "association parameter of second virial coefficients, Hayden and O'Connell", signed=True
    ),
    "uniquac_r": Constant("fraction", "UNIQUAC volume parameter"),
    "uniquac_q": Constant("fraction", "UNIQUAC area parameter"),
    "segments": Constant("fraction", "segments of a chain, PC-SAFT"),
    "segment_diameter": Constant("molecular_length", "diameter of a segment, PC-SAFT"),
    "segment_energy": Constant("temperature_difference", "depth of a segment's potential over k, PC-SAFT"),
    "segment_bond_energy": Constant("temperature_difference", "energy of a bond over k, PC-SAFT", signed=True),
    "segment_bond_volume": Constant("fraction", "volume of a bond over that of a segment, PC-SAFT", signed=True),
    "segment_donors": Constant("fraction", "proton donors of a chain, PC-SAFT", signed=True),
    "segment_acceptors": Constant("fraction", "proton acceptors of a chain, PC-SAFT", signed=True),
    "cpa_attraction": Constant("attraction", "attraction at the critical temperature, CPA"),
    "cpa_covolume": Constant("molar_volume", "covolume, CPA"),
    "cpa_slope": Constant("fraction", "slope of the root of the attraction, CPA"),
    "cpa_bond_energy": Constant("molar_energy", "energy of a bond, CPA", signed=True),
    "cpa_bond_volume": Constant("fraction", "volume of a bond over the covolume, CPA", signed=True),
    "cpa_donors": Constant("fraction", "proton donors, CPA", signed=True),
    "cpa_acceptors": Constant("fraction", "proton acceptors, CPA", signed=True),
    "cpa_pairing": Constant("fraction", "sites that pair with any other, CPA", signed=True),
    "dimerization_enthalpy": Constant("molar_energy", "enthalpy of a dimer from two molecules, ideal gas", signed=True),
    "dimerization_entropy": Constant("molar_entropy", "entropy of a dimer from two molecules, ideal gas at 1 bar", signed=True),
    "delta_d": Constant("solubility_parameter", "solubility parameter, dispersion"),
    "delta_p": Constant("solubility_parameter", "solubility parameter, polar", signed=True),
    "delta_h": Constant("solubility_parameter", "solubility parameter, hydrogen bonding", signed=True),
}
"""Every constant, in the order in which it is shown."""

SOLUBILITY_PARTS = ("delta_d", "delta_p", "delta_h")
"""The parts of the solubility parameter."""

Maker = Callable[[tuple[float, ...], float, float, Mapping[str, float]], Correlation]


class Quantity(NamedTuple):
    """A quantity that depends on temperature, and the equations for it by name.

    Each maker takes the coefficients, the range and the component's constants, which some equations rest on.
    """

    words: str
    unit: str
    equations: Mapping[str, Maker]


def _plain(kind: type[Correlation]) -> Maker:
    return lambda c, low, high, constants: kind(c, low, high)


def _oscillators(c: tuple[float, ...], low: float, high: float, constants: Mapping[str, float]) -> Oscillators:
    """Which come in pairs.

    Raises
    ------
    InputError
        If one lacks its temperature, or has none that it could have.
    """
    if len(c) < 6 or len(c) % 2 or min(c[5::2]) < 0.0:
        raise InputError(
            f"Oscillators take four coefficients and one or more pairs of an amount, J/(mol K), and a temperature, K; got {', '.join(f'{v:g}' for v in c)}."
        )
    return Oscillators(c, low, high)


_HEAT_CAPACITIES: dict[str, Maker] = {
    "polynomial": _plain(Polynomial),
    "reduced_polynomial": _plain(ReducedPolynomial),
    "hyperbolic": _plain(Hyperbolic),
    "oscillators": _oscillators,
}


def _logarithmic(c: tuple[float, ...], low: float, high: float, constants: Mapping[str, float]) -> LogarithmicForm:
    """Which has three coefficients or four.

    Raises
    ------
    InputError
        If it has fewer or more.
    """
    if len(c) not in (3, 4):
        raise InputError(f"The logarithmic form takes three coefficients or four; got {len(c)}.")
    return LogarithmicForm(c, low, high)


_OF_THIN_GAS: dict[str, Maker] = {"logarithmic_form": _logarithmic}

CORRELATIONS = {
    "vapor_pressure": Quantity(
        "vapor pressure",
        "Pa",
        {
            "antoine": _plain(Antoine),
            "riedel_form": _plain(RiedelForm),
            "wagner": _plain(Wagner),
            "lee_kesler": lambda c, low, high, k: lee_kesler_vapor_pressure(k["Tc"], k["Pc"], k["omega"]),
        },
    ),
    "heat_capacity": Quantity("ideal-gas heat capacity", "J/(mol K)", _HEAT_CAPACITIES),
    "liquid_density": Quantity(
        "liquid density",
        "mol/m3",
        {
            "rackett_form": _plain(RackettForm),
            "power_series": _plain(PowerSeries),
            "rackett": lambda c, low, high, k: rackett(k["Tc"], k["Pc"], k["Vc"], low, high),
            "modified_rackett": lambda c, low, high, k: modified_rackett(k["Tc"], k["Pc"], c[0], low, high),
            "rackett_through": lambda c, low, high, k: rackett_through(c[0], c[1] / k["molar_mass"], k["Tc"], k["Pc"], low, high),
        },
    ),
    "heat_of_vaporization": Quantity(
        "heat of vaporization",
        "J/mol",
        {
            "watson_form": _plain(WatsonForm),
            "watson": lambda c, low, high, k: watson(c[0], c[1], k["Tc"], low, high),
        },
    ),
    "liquid_heat_capacity": Quantity("liquid heat capacity", "J/(mol K)", _HEAT_CAPACITIES),
    "liquid_viscosity": Quantity("liquid viscosity", "Pa s", {"vogel": _plain(VogelForm)}),
    "liquid_conductivity": Quantity(
        "liquid thermal conductivity",
        "W/(m K)",
        {
            "riedel_through": lambda c, low, high, k: riedel_through(c[0], c[1], k["Tc"], low, high),
            "riedel_form_of_conductivity": _plain(RiedelConductivity),
            "sato_riedel": lambda c, low, high, k: sato_riedel(k["molar_mass"], k["Tb"], k["Tc"], low, high),
        },
    ),
    "surface_tension": Quantity(
        "surface tension",
        "N/m",
        {
            "guggenheim_form": _plain(GuggenheimForm),
            "guggenheim_through": lambda c, low, high, k: guggenheim_through(c[0], c[1], k["Tc"], low, high),
        },
    ),
    "gas_viscosity": Quantity("gas viscosity", "Pa s", _OF_THIN_GAS),
    "gas_conductivity": Quantity("gas thermal conductivity", "W/(m K)", _OF_THIN_GAS),
}
"""Every quantity that depends on temperature, in the order in which it is shown.

``lee_kesler`` takes no coefficients, ``rackett`` neither, ``modified_rackett`` Z_RA; ``rackett_through`` takes a temperature (K) and the density
(kg/m3) there, ``watson`` a temperature and the heat of vaporization (J/mol) there. The others are the classes of `core.correlations`.
"""

EQUATION_OF: dict[type[Correlation], str] = {
    Antoine: "antoine",
    RiedelForm: "riedel_form",
    Wagner: "wagner",
    Polynomial: "polynomial",
    ReducedPolynomial: "reduced_polynomial",
    Hyperbolic: "hyperbolic",
    Oscillators: "oscillators",
    RackettForm: "rackett_form",
    PowerSeries: "power_series",
    WatsonForm: "watson_form",
    VogelForm: "vogel",
    RiedelConductivity: "riedel_form_of_conductivity",
    GuggenheimForm: "guggenheim_form",
    LogarithmicForm: "logarithmic_form",
}
"""The name under which a correlation is written."""

LENGTHS = {
    "antoine": 3, "riedel_form": 5, "wagner": 6, "lee_kesler": 0, "hyperbolic": 5, "rackett_form": 4, "power_series": 6, "rackett": 0,
    "modified_rackett": 1, "rackett_through": 2, "watson": 2, "vogel": 3, "riedel_through": 2, "sato_riedel": 0, "guggenheim_through": 2,
    "riedel_form_of_conductivity": 2,
}  # fmt: skip
"""How many coefficients an equation takes; the others take any number from one on."""

_LOGARITHMS = {"ln": 1.0, "log10": math.log(10.0)}


@guarded
def antoine(
    A: float,
    B: float,
    C: float,
    *,
    log: str = "log10",
    T: str = "degC",
    P: str = "mmHg",
    T_min: Any = None,
    T_max: Any = None,
) -> Antoine:
    """An Antoine equation as papers print it: log P = A - B/(T + C).

    Parameters
    ----------
    A, B, C : float
        As printed, with B positive.
    log : {"log10", "ln"}
        Which logarithm.
    T, P : str
        Units of temperature and pressure that it is printed for.
    T_min, T_max : optional
        Range of validity, K or text with a unit. Where a paper gives none, it is taken to hold where it gives 100 Pa to 1 MPa, and a warning says so.

    Returns
    -------
    Antoine
        The same curve in SI, for ``sl.Component(..., vapor_pressure=...)``.

    Raises
    ------
    InputError
        If the logarithm or a unit is unknown, B is not positive, the pole lies in the range, or the pressures are no vapor pressures (a wrong unit or sign of C).

    Examples
    --------
    >>> import numpy as np
    >>> import sleetfield as sl
    >>> water = sl.antoine(8.07131, 1730.63, 233.426, T_min="1 degC", T_max="100 degC")
    >>> round(float(np.exp(water.value(np.array([373.15])))[0]) / 1e3)
    101
    """
    if log not in _LOGARITHMS:
        raise InputError(f"There is no logarithm {log!r} of an Antoine equation. It is one of {', '.join(_LOGARITHMS)}.")
    if not B > 0.0:
        raise InputError(f"B of the Antoine equation log P = A - B/(T + C) is {B:g}; it must be positive. Check the sign.")
    zero, one = (one_in_si(f"{t} {T}", "temperature", "the unit of T") for t in (0.0, 1.0))
    pascal = one_in_si(f"1 {P}", "pressure", "the unit of P")
    a, b, c = _LOGARITHMS[log] * A + math.log(pascal), _LOGARITHMS[log] * B * (one - zero), C * (one - zero) - zero
    ends = [b / (a - math.log(at)) - c if a > math.log(at) else math.nan for at in _RANGE_UNKNOWN]
    low, high = _range_or(T_min, T_max, ends, "Antoine equation", "where it gives 100 Pa to 1 MPa")
    if not low + c > 0.0:
        raise InputError(f"T + C is not positive at {low:g} K: check the unit of T and the sign of C, which is {C:g}.")
    for t in (low, high):
        if not _LOWEST_LN_P < a - b / (t + c) < _HIGHEST_LN_P:
            raise InputError(
                f"The Antoine equation gives ln(P/Pa) = {a - b / (t + c):.3g} at {t:g} K, which is no vapor pressure: check the units and signs."
            )
    return Antoine((a, b, c), low, high)


_RANGE_UNKNOWN = (1e2, 1e6)
"""Pa between which an equation without a range is taken to hold."""
_LOWEST_LN_P, _HIGHEST_LN_P = -60.0, 21.0


def _range_or(T_min: Any, T_max: Any, ends: Sequence[float], what: str, why: str) -> tuple[float, float]:
    """The range given, in K; an end that is not is one of ``ends``, and a warning says so."""
    given = (None if t is None else one_in_si(t, "temperature", n) for t, n in ((T_min, "T_min"), (T_max, "T_max")))
    low, high = (end if t is None else t for t, end in zip(given, ends, strict=True))
    if T_min is None or T_max is None:
        words = f"No range was given for the {what}: it is taken to hold from {low:.1f} to {high:.1f} K, {why}."
        warnings.warn(words, SleetfieldWarning, stacklevel=4)
    return range_of(low, high, f"The {what}")


_PER_KELVIN = {"J/(mol K)": 1.0, "cal/(mol K)": CALORIE, "R": R}
_USUAL_RANGE = (250.0, 1000.0)


@guarded
def heat_capacity(
    coefficients: Sequence[float], *, unit: str = "J/(mol K)", per_kelvin: float = 1.0, T_min: Any = None, T_max: Any = None
) -> Polynomial:
    """A heat capacity as books print it: a + b T + c T² + ..., with T in K.

    Parameters
    ----------
    coefficients : sequence of float
        a, b, c, ... as printed, one to eight of them.
    unit : {"J/(mol K)", "cal/(mol K)", "R"}
        Of the heat capacity; "R" where Cp/R is printed.
    per_kelvin : float
        What T stands for in the equation, by kelvin: 0.001 where it is printed in T/1000.
    T_min, T_max : optional
        Range of validity, K or text with a unit; 250 to 1000 K is taken where none is given, and a warning says so.

    Returns
    -------
    Polynomial
        For ``sl.Component(..., heat_capacity=...)``.

    Raises
    ------
    InputError
        If the unit is unknown, or the heat capacity is not positive at an end of the range.

    Examples
    --------
    >>> import numpy as np
    >>> import sleetfield as sl
    >>> methane = sl.heat_capacity([19.25, 5.213e-2, 1.197e-5, -1.132e-8], T_min="0 degC", T_max="1200 degC")
    >>> float(methane.value(np.array([298.15]))[0].round(2))
    35.56

    """
    if unit not in _PER_KELVIN:
        raise InputError(f"There is no unit {unit!r} of a heat capacity here; it is one of {', '.join(_PER_KELVIN)}.")
    if not 1 <= len(coefficients) <= _MOST_COEFFICIENTS:
        raise InputError(f"A heat capacity takes 1 to {_MOST_COEFFICIENTS} coefficients; got {len(coefficients)}.")
    terms = tuple(float(c) * _PER_KELVIN[unit] * per_kelvin**k for k, c in enumerate(coefficients))
    made = Polynomial(terms, *_range_or(T_min, T_max, _USUAL_RANGE, "heat capacity", "as many are"))
    for t in (made.T_min, made.T_max):
        value = float(made.value(np.array([t]))[0])
        if not 0.0 < value < _LARGEST_HEAT_CAPACITY:
            raise InputError(f"The heat capacity is {value:.4g} J/(mol K) at {t:g} K: check the coefficients and the unit.")
    return made


_MOST_COEFFICIENTS = 8
_LARGEST_HEAT_CAPACITY = 1e5


def range_of(T_min: float, T_max: float, where: str) -> tuple[float, float]:
    """A sensible range of temperature.

    Raises
    ------
    InputError
        If it is not 0 < T_min < T_max.
    """
    if not 0.0 < T_min < T_max < math.inf:
        raise InputError(f"{where}: the range is {T_min:g} to {T_max:g} K; it must rise, from above 0.")
    return T_min, T_max
