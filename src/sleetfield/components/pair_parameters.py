"""Parameters of activity models for one pair of components, in the forms that the literature gives them in.

Inside, every parameter is a + b/T + c ln T + d T with T in K. A form says what was printed:

- ``"plain"``: the parameter of the equation itself: τ of NRTL; ln(Λ vᵢ/vⱼ) of Wilson; ln τ of UNIQUAC; A of the others, so that ln γ = A.
  One to four numbers are a, b, c, d.
- ``"ratio"``: Λ of Wilson, or τ of UNIQUAC, as plain numbers.
- ``"log10"``: A in decimal logarithms.
- ``"K"``, ``"J/mol"``, ``"cal/mol"``: energies (λ₁₂ - λ₁₁, g₁₂ - g₂₂, u₁₂ - u₂₂; or A·RT). One to three numbers are e₀ + e₁t + e₂t².

``temperature="degC"`` says that t in the energies is in °C.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.constants import CALORIE, R
from ..errors import InputError
from ..units import to_si

Array = NDArray[np.float64]

_PER_KELVIN = {"K": R, "J/mol": 1.0, "cal/mol": CALORIE}
FORMS = ("plain", "ratio", "log10", *_PER_KELVIN)
_CELSIUS = 273.15


@dataclass(frozen=True, kw_only=True)
class PairParameters:
    """What a paper or a handbook gives for a pair (1, 2), in the order of the names that it is given for.

    Parameters
    ----------
    a12, a21 : float or sequence of floats
        The parameters; several numbers are a function of temperature, see ``form``.
    alpha : float or sequence, optional
        NRTL's α; several numbers are a + b/T + c ln T + d T. 0.3 where it is not given.
    terms : sequence, optional
        Instead of ``a12`` and ``a21``: A₀, A₁, ... of the Redlich-Kister expansion, each like ``a12``.
    form : {"plain", "ratio", "log10", "K", "J/mol", "cal/mol"}
        What the numbers are: the equation's own parameter, its exponential, its decimal logarithm, or an energy.
    temperature : {"K", "degC"}
        What temperature an energy depends on.
    volumes : two floats, or "at T", optional
        Wilson: the molar volumes that belong to the parameters, m3/mol or text with a unit; those of the databank at 25 °C by default, or "at T" those of its
        density correlation at each temperature.
    T_min, T_max : float or text, optional
        Range of validity.
    source : str, optional
    gamma_infinity : (T, γ1, γ2), optional
        Published activity coefficients at infinite dilution, which the parameters are checked against.
    azeotrope : (T, x1), optional
        A published azeotrope, the same.

    Examples
    --------
    >>> import sleetfield as sl
    >>> pair = sl.PairParameters(a12=325.0757, a21=953.2792, form="cal/mol")
    >>> still = sl.System(["ethanol", "water"], liquid="Wilson", parameters={("ethanol", "water"): pair})
    >>> still.parameters.gamma_infinity("ethanol", "water", T=350.0)[0].round(2)
    np.float64(6.17)

    """

    a12: Any = None
    a21: Any = None
    alpha: Any = None
    terms: Sequence[Any] | None = None
    form: str = "plain"
    temperature: str = "K"
    volumes: Any = None
    T_min: Any = None
    T_max: Any = None
    source: str = "given in code"
    gamma_infinity: tuple[Any, float, float] | None = None
    azeotrope: tuple[Any, float] | None = None

    def __post_init__(self) -> None:
        if self.form not in FORMS:
            raise InputError(f"There is no form {self.form!r} of parameters. Forms are {', '.join(FORMS)}.")
        if self.temperature not in ("K", "degC"):
            raise InputError(f"temperature is {self.temperature!r}; it is 'K' or 'degC'.")
        if (self.terms is None) == (self.a12 is None or self.a21 is None):
            raise InputError("A pair has both a12 and a21, or terms of a Redlich-Kister expansion instead.")
        for name in ("T_min", "T_max"):
            value = getattr(self, name)
            object.__setattr__(self, name, None if value is None else float(to_si(value, "temperature", name)))
        if self.T_min is not None and self.T_max is not None and not self.T_min < self.T_max:
            raise InputError(f"The range {self.T_min:g} to {self.T_max:g} K is empty: T_min is to be below T_max.")
        if isinstance(self.volumes, str) and self.volumes != "at T":
            raise InputError(f"volumes is {self.volumes!r}; it is two molar volumes, or 'at T'.")

    def swapped(self) -> PairParameters:
        """The same parameters for the pair in the other order."""
        turned = None if self.terms is None else tuple(_scaled(t, (-1.0) ** k) for k, t in enumerate(self.terms))
        volumes = self.volumes if self.volumes is None or isinstance(self.volumes, str) else tuple(self.volumes)[::-1]
        return replace(self, a12=self.a21, a21=self.a12, terms=turned, volumes=volumes, gamma_infinity=None, azeotrope=None)

    # ---- conversion ----

    def coefficients(self, value: Any, sign: float, what: str) -> Array:
        """a, b, c, d of ``value``; ``sign`` is that of an energy in the equation's own parameter."""
        numbers = np.atleast_1d(np.asarray(value, dtype=float))
        most = 4 if self.form == "plain" else 3 if self.form in _PER_KELVIN else 1
        if numbers.ndim != 1 or not 1 <= len(numbers) <= most or not np.isfinite(numbers).all():
            raise InputError(f"{what} is {value!r}; in the form {self.form!r} it is one to {most} finite numbers.")
        result = np.zeros(4)
        if self.form == "plain":
            result[: len(numbers)] = numbers
        elif self.form == "log10":
            result[0] = numbers[0] * math.log(10.0)
        elif self.form == "ratio":
            if numbers[0] <= 0.0:
                raise InputError(f"{what} is {numbers[0]:g}; as a ratio it is positive.")
            result[0] = math.log(numbers[0])
        else:
            e0, e1, e2 = (*numbers, 0.0, 0.0)[:3]
            if self.temperature == "degC":
                e0, e1 = e0 - _CELSIUS * e1 + _CELSIUS**2 * e2, e1 - 2.0 * _CELSIUS * e2
            result[[1, 0, 3]] = np.array([e0, e1, e2]) * (sign * _PER_KELVIN[self.form] / R)
        return result

    @property
    def alpha_coefficients(self) -> Array:
        """a, b, c, d of α."""
        numbers = np.atleast_1d(np.asarray(0.3 if self.alpha is None else self.alpha, dtype=float))
        if numbers.ndim != 1 or not 1 <= len(numbers) <= 4 or not np.isfinite(numbers).all():
            raise InputError(f"alpha is {self.alpha!r}; it is one to four finite numbers, the same for both orders of the pair.")
        return np.concatenate([numbers, np.zeros(4 - len(numbers))])

    def range_holds(self, T: Array) -> NDArray[np.bool_]:
        """Where temperatures are inside the range; everywhere where none is known."""
        low, high = (-np.inf if self.T_min is None else self.T_min), (np.inf if self.T_max is None else self.T_max)
        return np.asarray((low <= T) & (high >= T))


def _scaled(value: Any, factor: float) -> Any:
    return (np.asarray(value, dtype=float) * factor).tolist()


def pair_parameters(given: Any, pair: tuple[str, str]) -> PairParameters:
    """What the user gave for a pair: `PairParameters`, or a mapping of its fields.

    Raises
    ------
    InputError
        If it is neither.

    """
    if isinstance(given, PairParameters):
        return given
    known = [f.name for f in fields(PairParameters)]
    if isinstance(given, Mapping):
        unknown = [key for key in given if key not in known]
        if unknown:
            raise InputError(f"Parameters of {' and '.join(pair)} have no field {unknown[0]!r}; fields are {', '.join(known)}.")
        return PairParameters(**given)
    raise InputError(
        f"The parameters of {' and '.join(pair)} are {given!r}; give sl.PairParameters(a12=..., a21=..., form=...), so that it is clear what the numbers are."
    )
