"""Heavy ends: pseudo-components of petroleum cuts, and plus fractions split into them. The results are ordinary components."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from .arguments import guarded, short
from .components import Component
from .core.constants import SIXTY_FAHRENHEIT, WATER_AT_SIXTY
from .core.correlations.heat_capacity import Polynomial
from .core.correlations.liquid_density import rackett_through
from .core.correlations.vapor_pressure import lee_kesler_vapor_pressure
from .core.estimates import petroleum, petroleum_heat_capacity, plus_fraction
from .errors import InputError
from .results.base import Table
from .results.columns import Column
from .units import one_in_si, unit_of

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

Array = NDArray[np.float64]

METHOD = "Twu"
HEAVIEST = 0.560
"""Molar mass, kg/mol, up to which the boiling-point equation holds."""

DISTRIBUTIONS = ("exponential", "gamma")
_LAYER = "pseudo-component"


def _method(name: str) -> str:
    for known in petroleum.METHODS:
        if known.lower() == name.lower():
            return known
    raise InputError(f"There is no method {name!r} for petroleum cuts. Methods are {', '.join(petroleum.METHODS)}.")


_POSSIBLE = {"Tb": (100.0, 2000.0), "specific_gravity": (0.1, 3.0), "molar_mass": (0.01, 10.0)}
"""What a cut can have, SI: far beyond what the correlations hold for, which they say themselves."""


def _positive(value: Any, dimension: str, name: str) -> float | None:
    return None if value is None else _within(value, dimension, name)


def _within(value: Any, dimension: str, name: str) -> float:
    number = one_in_si(value, dimension, name)
    low, high = _POSSIBLE[name]
    if not low <= number <= high:
        raise InputError(f"{name} is {short(value)}; it lies between {low:g} and {high:g} {unit_of(dimension)}".rstrip() + ".")
    return number


def _complete(Tb: Any, specific_gravity: Any, molar_mass: Any, method: str) -> tuple[float, float, float | None]:
    """Boiling point and specific gravity from any two of the three; and the molar mass where it was given."""
    T = _positive(Tb, "temperature", "Tb")
    SG = _positive(specific_gravity, "fraction", "specific_gravity")
    M = _positive(molar_mass, "molar_mass", "molar_mass")
    if sum(v is not None for v in (T, SG, M)) != 2:
        raise InputError("A pseudo-component takes two of Tb, specific_gravity and molar_mass.")
    if T is None and M is not None and SG is not None:
        return float(petroleum.boiling_point(np.array(M), np.array(SG))), SG, M
    if SG is None and T is not None and M is not None:
        return T, _gravity(T, M, method), M
    assert T is not None
    assert SG is not None
    return T, SG, None


def _gravity(Tb: float, molar_mass: float, method: str) -> float:
    from scipy.optimize import brentq

    def excess(SG: float) -> float:
        return float(petroleum.METHODS[method](np.array(Tb), np.array(SG)).molar_mass) - molar_mass

    grid = np.linspace(0.55, 1.1, 56)
    with np.errstate(all="ignore"):
        values = np.array([excess(g) for g in grid])
    crossing = np.flatnonzero(values[:-1] * values[1:] <= 0.0)
    if not crossing.size:
        raise InputError(
            f"No specific gravity between 0.55 and 1.1 gives a molar mass of {1e3 * molar_mass:g} g/mol at Tb = {Tb:g} K."
        )
    # where there are two, the one nearer to the usual Watson factor of 12
    usual = math.cbrt(1.8 * Tb) / 12.0
    i = min(crossing, key=lambda k: abs(grid[k] - usual))
    return float(brentq(excess, grid[i], grid[i + 1], xtol=1e-14))


@guarded
def pseudo_component(
    name: str, *, Tb: Any = None, specific_gravity: Any = None, molar_mass: Any = None, method: str = METHOD
) -> Component:
    """A component from any two of boiling point, specific gravity (60 °F/60 °F) and molar mass.

    Parameters
    ----------
    name : str
        What to call it.
    Tb, molar_mass
        K and kg/mol, or text with a unit.
    specific_gravity : float
        60 °F/60 °F.
    method : {"Riazi-Daubert", "Kesler-Lee", "Twu"}
        Whose equations give critical constants and molar mass; `compare_methods` shows them side by side.

    Returns
    -------
    Component
        With vapor pressure (Lee-Kesler) and ideal-gas heat capacity (Kesler-Lee); every number marked as estimated.

    Raises
    ------
    InputError
        If not two of the three are given, or one is not positive.

    Examples
    --------
    >>> import sleetfield as sl
    >>> cut = sl.pseudo_component("cut 1", Tb=400.0, specific_gravity=0.75)
    >>> round(cut.Tc, 1), "Twu" in cut.sources["Tc"]
    (583.6, True)
    """
    how = _method(method)
    T, SG, M = _complete(Tb, specific_gravity, molar_mass, how)
    cut = petroleum.METHODS[how](np.array(T), np.array(SG))
    Tc, Pc = float(cut.Tc), float(cut.Pc)
    omega = float(petroleum.acentric_factor(np.array(T), np.array(SG), np.array(Tc), np.array(Pc)))
    mass = float(cut.molar_mass) if M is None else M
    if not all(math.isfinite(v) and v > 0.0 for v in (Tc, Pc, mass)) or Tc <= T:
        raise InputError(f"{how} gives no sensible constants for Tb = {T:g} K and specific gravity {SG:g}; check both.")
    watson = float(petroleum.watson_factor(np.array(T), np.array(SG)))
    heat = Polynomial(
        petroleum_heat_capacity.coefficients(mass, watson, omega), petroleum_heat_capacity.T_MIN, petroleum_heat_capacity.T_MAX
    )
    word = f"estimated: {how}"
    sources = {
        "Tc": word,
        "Pc": word,
        "omega": "estimated: Lee-Kesler from Tb, Tc, Pc",
        "molar_mass": "given" if M is not None else word,
        "Tb": "given"
        if Tb is not None
        else "estimated: Riazi-Daubert, above 300 g/mol Søreide, from molar mass and specific gravity",
        "vapor_pressure": "estimated: Lee-Kesler corresponding states",
        "heat_capacity": "estimated: Kesler-Lee",
        "liquid_density": "estimated: modified Rackett equation through the specific gravity",
    }
    density = rackett_through(SIXTY_FAHRENHEIT, SG * WATER_AT_SIXTY / mass, Tc, Pc, 0.4 * Tc, 0.95 * Tc)
    return Component(
        name=name, molar_mass=mass, Tc=Tc, Pc=Pc, omega=omega, Tb=T, vapor_pressure=lee_kesler_vapor_pressure(Tc, Pc, omega),
        heat_capacity=heat, liquid_density=density, sources=sources, layer=_LAYER,
    )  # fmt: skip


@guarded
def compare_methods(*, Tb: Any = None, specific_gravity: Any = None, molar_mass: Any = None) -> pd.DataFrame:
    """Constants of one cut by every method, side by side.

    Examples
    --------
    >>> compare_methods(Tb=400.0, specific_gravity=0.75).shape
    (5, 3)
    """
    import pandas as pd

    columns = {}
    for method in petroleum.METHODS:
        c = pseudo_component("cut", Tb=Tb, specific_gravity=specific_gravity, molar_mass=molar_mass, method=method)
        columns[method] = {
            "molar_mass [kg/kmol]": 1e3 * (c.molar_mass or math.nan),
            "Tb [K]": c.Tb,
            "Tc [K]": c.Tc,
            "Pc [bar]": 1e-5 * (c.Pc or math.nan),
            "omega": c.omega,
        }
    return pd.DataFrame(columns)


@dataclass(frozen=True, eq=False, repr=False)
class PlusFraction(Table):
    """A plus fraction as cuts: single carbon numbers, or lumps of them.

    Attributes
    ----------
    amount : float
        Mole fraction of the whole in the mixture.
    names : tuple of str
    share : (N,)
        Share of the plus fraction's moles; sums to 1.
    molar_mass, specific_gravity : (N,)
        kg/mol; 60 °F/60 °F.
    distribution, method : str
        How it was split, and whose equations give the constants.
    """

    amount: float
    names: tuple[str, ...]
    share: Array
    molar_mass: Array
    specific_gravity: Array
    distribution: str
    method: str

    def __len__(self) -> int:
        return len(self.names)

    @cached_property
    def components(self) -> tuple[Component, ...]:
        """The cuts as components."""
        cuts = zip(self.names, self.molar_mass.tolist(), self.specific_gravity.tolist(), strict=True)
        return tuple(pseudo_component(n, molar_mass=M, specific_gravity=SG, method=self.method) for n, M, SG in cuts)

    @property
    def fractions(self) -> dict[str, float]:
        """Mole fraction of each cut in the mixture, to be put into a composition: ``{**light_ends, **plus.fractions}``."""
        return dict(zip(self.names, (self.amount * self.share).tolist(), strict=True))

    @guarded
    def lump(self, count: int) -> PlusFraction:
        """Neighboring cuts put together into ``count`` of nearly equal mass; moles, mass and volume are kept.

        Raises
        ------
        InputError
            If there are not that many cuts.
        """
        if not 1 <= count <= len(self):
            raise InputError(f"{len(self)} cuts can be lumped into 1 to {len(self)}; got {count}.")
        groups = plus_fraction.equal_mass_groups(self.share, self.molar_mass, count)
        share, M, SG = plus_fraction.lumped(self.share, self.molar_mass, self.specific_gravity, groups)
        names = tuple(self.names[g[0]] if len(g) == 1 else f"{self.names[g[0]]} to {self.names[g[-1]]}" for g in groups)
        return PlusFraction(self.amount, names, share, M, SG, self.distribution, self.method)

    word = "plus fraction"
    rows = "cuts"
    named_by = "cut"

    def columns(self) -> list[Column]:
        """Each cut, with its constants."""
        dimensions = {"molar_mass": "molar_mass", "Tb": "temperature", "Tc": "temperature", "Pc": "pressure", "omega": "fraction"}
        return [
            Column("cut", list(self.names)),
            Column("mole_fraction", list(self.fractions.values()), label="mole fraction"),
            Column("specific_gravity", self.specific_gravity, label="specific gravity"),
            *(Column(name, [getattr(c, name) for c in self.components], dimension) for name, dimension in dimensions.items()),
        ]

    @property
    def notes(self) -> list[str]:
        """How it was estimated, and what it sums to."""
        M = 1e3 * float((self.share * self.molar_mass).sum())
        SG = float((self.share * self.molar_mass).sum() / (self.share * self.molar_mass / self.specific_gravity).sum())
        return [
            f"Split by the {self.distribution} distribution; constants estimated by {self.method}.",
            f"All cuts together have the molar mass {M:.6g} g/mol and the specific gravity {SG:.6g}.",
            *self._range_notes(),
        ]

    def _range_notes(self) -> list[str]:
        heavy = [n for n, M in zip(self.names, self.molar_mass, strict=True) if M > HEAVIEST]
        if not heavy:
            return []
        return [
            f"The equation for boiling points (Søreide) holds up to {1e3 * HEAVIEST:g} g/mol; it is exceeded by {', '.join(heavy)}."
        ]

    def title(self, units: str | None = None) -> str:
        """How many cuts."""
        return f"Plus fraction of {len(self)} cut{'s' if len(self) > 1 else ''}"

    @guarded
    def plot(self, ax: Axes | None = None, *, units: str | None = None) -> Axes:
        """Mole fraction of each cut against its molar mass, on a logarithmic axis."""
        from .diagrams.plus_fraction import draw_plus_fraction

        return draw_plus_fraction(ax, 1e3 * self.molar_mass, self.amount * self.share, self.names, self.title())


@guarded
def split_plus_fraction(
    *,
    molar_mass: Any,
    specific_gravity: float,
    amount: float = 1.0,
    first: int = 7,
    last: int = 40,
    distribution: str = "exponential",
    alpha: float = 1.0,
    method: str = METHOD,
) -> PlusFraction:
    """A plus fraction split into single carbon numbers.

    Parameters
    ----------
    molar_mass
        Of the whole plus fraction: kg/mol, or text such as "145 g/mol".
    specific_gravity : float
        Of the whole, 60 °F/60 °F.
    amount : float
        Its mole fraction in the mixture.
    first, last : int
        Carbon numbers, such as 7 for C7+; the gamma distribution's last cut takes all that is heavier.
    distribution : {"exponential", "gamma"}
        How moles fall with carbon number.
    alpha : float
        Shape of the gamma distribution.
    method : {"Riazi-Daubert", "Kesler-Lee", "Twu"}
        Whose equations give the cuts' constants.

    Returns
    -------
    PlusFraction
        Look at it (``print``, ``plot``), ``lump`` it, then use its ``components`` and ``fractions``.

    Raises
    ------
    InputError
        If the molar mass can't be had with these carbon numbers, or a number is out of range.

    Examples
    --------
    >>> import sleetfield as sl
    >>> tail = sl.split_plus_fraction(molar_mass="125 g/mol", specific_gravity=0.76, amount=0.004).lump(3)
    >>> len(tail.components), round(sum(tail.fractions.values()), 6)
    (3, 0.004)
    """
    mean, SG = _within(molar_mass, "molar_mass", "molar_mass"), _within(specific_gravity, "fraction", "specific_gravity")
    if not 0.0 < amount <= 1.0:
        raise InputError(f"The amount of the plus fraction is {amount!r}; it is a mole fraction, above 0 and up to 1.")
    if not 1 <= first < last <= 200:
        raise InputError(f"Carbon numbers run from first to last, 1 to 200; got {first} to {last}.")
    split: dict[str, Callable[[], plus_fraction.Distribution]] = {
        "exponential": lambda: plus_fraction.exponential(mean, first, last),
        "gamma": lambda: plus_fraction.gamma(mean, first, last, alpha),
    }
    if distribution not in split:
        raise InputError(f"There is no distribution {distribution!r}. Distributions are {', '.join(DISTRIBUTIONS)}.")
    if not alpha > 0.0:
        raise InputError(f"alpha is {alpha!r}; the shape of a gamma distribution is positive.")
    try:
        found = split[distribution]()
    except ValueError as error:
        raise InputError(
            f"A molar mass of {1e3 * mean:g} g/mol can't be had from C{first} to C{last}: it must be {error}."
        ) from None
    held = found.share > 1e-12
    share = found.share[held] / found.share[held].sum()
    M = found.molar_mass[held]
    M = M * mean / float((share * M).sum())
    names = tuple(f"C{n}" for n in found.carbon_number[held])
    return PlusFraction(amount, names, share, M, plus_fraction.specific_gravities(share, M, SG), distribution, _method(method))
