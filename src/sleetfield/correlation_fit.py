"""Correlations fitted to measurements of a pure component."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from .arguments import guarded, short
from .components import Component
from .components.quantities import CORRELATIONS
from .core.correlations.contract import Correlation
from .core.correlations.heat_capacity import Polynomial
from .core.correlations.liquid_conductivity import RiedelConductivity
from .core.correlations.liquid_density import RackettForm, modified_rackett, rackett_through
from .core.correlations.liquid_viscosity import VogelForm
from .core.correlations.surface_tension import GuggenheimForm
from .core.correlations.thin_gas import LogarithmicForm
from .core.correlations.vapor_pressure import Antoine, RiedelForm, Wagner
from .core.fitting.least_squares import Fit, fit
from .data_sets import DataSet
from .errors import CalculationError, InputError
from .measurements import read_columns
from .results.base import Table
from .results.columns import Column, frame, records, yes_or_no
from .text import shown
from .units import one_in_si, to_si

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

Array = NDArray[np.float64]
Data = str | Path | DataSet | tuple[Any, Any]
Constants = Mapping[str, float]

_WIDE = (0.0, np.inf)


class Form(NamedTuple):
    """A form that can be fitted: of what, its parameters, the constants that it rests on, how they make a correlation, where a fit starts, and how it is
    written: with parameters by name, and coefficients of the correlation by number.
    """

    quantities: tuple[str, ...]
    names: tuple[str, ...]
    needs: tuple[str, ...]
    make: Callable[[Array, Constants], Correlation]
    start: Callable[[Array, Array, Constants], Array]
    written: str


def _linear(columns: Sequence[Array], values: Array) -> Array:
    return np.asarray(np.linalg.lstsq(np.stack(columns, axis=1), values, rcond=None)[0])


def _antoine_start(T: Array, ln_P: Array, k: Constants) -> Array:
    """From ln P = A - B/(T + C), linear in A, C and AC - B: T ln P = A T - C ln P + (AC - B); shifted to the mean, for its condition."""
    middle = T.mean()
    t = T - middle
    A, C, rest = _linear([t, -ln_P, np.ones_like(t)], t * ln_P)
    return np.array([A, A * C - rest, C - middle])


def _extended_start(power: float) -> Callable[[Array, Array, Constants], Array]:
    return lambda T, ln_P, k: _linear([np.ones_like(T), 1.0 / T, np.log(T), T**power], ln_P)


def _wagner_start(T: Array, ln_P: Array, k: Constants) -> Array:
    tau = 1.0 - T / k["Tc"]
    return _linear([tau, tau**1.5, tau**3, tau**6], (ln_P - np.log(k["Pc"])) * T / k["Tc"])


def _Z_RA_start(T: Array, rho: Array, k: Constants) -> Array:
    """The Z_RA that the middle point gives."""
    i = len(T) // 2
    through = rackett_through(float(T[i]), float(rho[i]), k["Tc"], k["Pc"], *_WIDE)
    return np.array([through.coefficients[1]])


def _rackett_start(T: Array, rho: Array, k: Constants) -> Array:
    """From ln ρ = ln c1 - (1 + (1 - Tr)^(2/7)) ln c2, linear for Rackett's own exponent."""
    ln_c1, ln_c2 = _linear([np.ones_like(T), -(1.0 + (1.0 - T / k["Tc"]) ** (2.0 / 7.0))], np.log(rho))
    return np.array([np.exp(ln_c1), np.exp(ln_c2), 2.0 / 7.0])


def _vogel_start(T: Array, ln_mu: Array, k: Constants) -> Array:
    """As Antoine's equation with the other sign."""
    A, B, C = _antoine_start(T, ln_mu, k)
    return np.array([A, -B, C])


def _guggenheim_start(T: Array, sigma: Array, k: Constants) -> Array:
    """From ln σ = ln c1 + c3 ln(1 - T/Tc)."""
    ln_c1, c3 = _linear([np.ones_like(T), np.log(1.0 - T / k["Tc"])], np.log(sigma))
    return np.array([np.exp(ln_c1), c3])


_POWERS = ("", " T", " T²", " T³")


def _polynomial(degree: int) -> Form:
    return Form(
        ("heat_capacity", "liquid_heat_capacity"),
        tuple(f"c{i + 1}" for i in range(degree + 1)),
        (),
        lambda p, k: Polynomial(tuple(p.tolist()), *_WIDE),
        lambda T, y, k: _linear([T**i for i in range(degree + 1)], y),
        f"Cp/(J/(mol K)) = {' + '.join(f'{{c{i + 1}}}{_POWERS[i]}' for i in range(degree + 1))}, T in K",
    )


_RACKETT = "ρ/(mol/m³) = {0}/{1}^(1 + (1 - T/{2} K)^{3})"

FORMS: dict[str, Form] = {
    "antoine": Form(
        ("vapor_pressure",),
        ("A", "B", "C"),
        (),
        lambda p, k: Antoine(tuple(p.tolist()), *_WIDE),
        _antoine_start,
        "ln(P/Pa) = {A} - {B}/(T/K + {C})",
    ),
    "riedel form": Form(
        ("vapor_pressure",),
        ("c1", "c2", "c3", "c4"),
        (),
        lambda p, k: RiedelForm((*p.tolist(), 2.0), *_WIDE),
        _extended_start(2.0),
        "ln(P/Pa) = {c1} + {c2}/T + {c3} ln T + {c4} T², T in K",
    ),
    "wagner": Form(
        ("vapor_pressure",),
        ("a", "b", "c", "d"),
        ("Tc", "Pc"),
        lambda p, k: Wagner((*p.tolist(), k["Tc"], k["Pc"]), *_WIDE),
        _wagner_start,
        "ln(P/Pc) = ({a} τ + {b} τ^1.5 + {c} τ³ + {d} τ⁶)/(1 - τ), τ = 1 - T/{4} K, Pc = {5} Pa",
    ),
    "modified rackett": Form(
        ("liquid_density",),
        ("Z_RA",),
        ("Tc", "Pc", "molar_mass"),
        lambda p, k: modified_rackett(k["Tc"], k["Pc"], float(p[0]), *_WIDE),
        _Z_RA_start,
        "ρ = ρc/Z_RA^((1 - T/Tc)^(2/7)) by the modified Rackett equation with Z_RA = {Z_RA}",
    ),
    "rackett form": Form(
        ("liquid_density",),
        ("c1", "c2"),
        ("Tc", "molar_mass"),
        lambda p, k: RackettForm((float(p[0]), float(p[1]), k["Tc"], 2.0 / 7.0), *_WIDE),
        lambda T, rho, k: _rackett_start(T, rho, k)[:2],
        _RACKETT,
    ),
    "extended rackett form": Form(
        ("liquid_density",),
        ("c1", "c2", "c4"),
        ("Tc", "molar_mass"),
        lambda p, k: RackettForm((float(p[0]), float(p[1]), k["Tc"], float(p[2])), *_WIDE),
        _rackett_start,
        _RACKETT,
    ),
    "vogel": Form(
        ("liquid_viscosity",),
        ("c1", "c2", "c3"),
        (),
        lambda p, k: VogelForm(tuple(p.tolist()), *_WIDE),
        _vogel_start,
        "ln(μ/(Pa s)) = {c1} + {c2}/(T/K + {c3})",
    ),
    "andrade": Form(
        ("liquid_viscosity",),
        ("c1", "c2"),
        (),
        lambda p, k: VogelForm((float(p[0]), float(p[1]), 0.0), *_WIDE),
        lambda T, ln_mu, k: _linear([np.ones_like(T), 1.0 / T], ln_mu),
        "ln(μ/(Pa s)) = {c1} + {c2}/T, T in K",
    ),
    "guggenheim": Form(
        ("surface_tension",),
        ("c1",),
        ("Tc",),
        lambda p, k: GuggenheimForm((float(p[0]), k["Tc"]), *_WIDE),
        lambda T, sigma, k: _linear([(1.0 - T / k["Tc"]) ** (11.0 / 9.0)], sigma),
        "σ/(N/m) = {0} (1 - T/{1} K)^(11/9)",
    ),
    "guggenheim with exponent": Form(
        ("surface_tension",),
        ("c1", "c3"),
        ("Tc",),
        lambda p, k: GuggenheimForm((float(p[0]), k["Tc"], float(p[1])), *_WIDE),
        _guggenheim_start,
        "σ/(N/m) = {0} (1 - T/{1} K)^{2}",
    ),
    "riedel conductivity": Form(
        ("liquid_conductivity",),
        ("c1",),
        ("Tc",),
        lambda p, k: RiedelConductivity((float(p[0]), k["Tc"]), *_WIDE),
        lambda T, y, k: _linear([3.0 + 20.0 * (1.0 - T / k["Tc"]) ** (2.0 / 3.0)], y),
        "λ/(W/(m K)) = {0} (3 + 20 (1 - T/{1} K)^(2/3))",
    ),
    "logarithmic": Form(
        ("gas_viscosity", "gas_conductivity"),
        ("c1", "c2", "c3"),
        (),
        lambda p, k: LogarithmicForm(tuple(p.tolist()), *_WIDE),
        lambda T, ln_y, k: _linear([np.ones_like(T), np.log(T), 1.0 / T], ln_y),
        "ln y = {c1} + {c2} ln T + {c3}/T, T in K, y in SI",
    ),
    "linear": _polynomial(1),
    "quadratic": _polynomial(2),
    "cubic": _polynomial(3),
}
"""What can be fitted, by name. Vapor pressures are fitted in ln P, viscosities and what is of gases in their logarithms, the others as they are."""

_BY_LOGARITHM = ("liquid_viscosity", "gas_viscosity", "gas_conductivity")
"""Correlations that are fitted in the logarithm of what they give."""

_COLUMNS = {
    "vapor_pressure": ("P", "pressure"),
    "heat_capacity": ("Cp", "molar_entropy"),
    "liquid_heat_capacity": ("Cp", "molar_entropy"),
    "liquid_density": ("density", "density"),
    "liquid_viscosity": ("viscosity", "viscosity"),
    "gas_viscosity": ("viscosity", "viscosity"),
    "gas_conductivity": ("thermal_conductivity", "thermal_conductivity"),
    "surface_tension": ("surface_tension", "surface_tension"),
    "liquid_conductivity": ("thermal_conductivity", "thermal_conductivity"),
}
"""The column that each quantity is measured in, and its dimension."""

_CONSTANTS = {"Tc": "temperature", "Pc": "pressure", "molar_mass": "molar_mass"}


@dataclass(frozen=True, eq=False, repr=False)
class CorrelationFit(Table):
    """A correlation fitted to measurements.

    Attributes
    ----------
    form : str
        A name of `FORMS`.
    quantity : str
        A name of `components.quantities.CORRELATIONS`.
    T, measured : (N,)
        What was measured, in SI; densities by mass.
    molar_mass : float
        kg/mol; NaN where it is not needed.
    correlation : Correlation
        The result, with the range of the measurements.
    statistics : Fit
        Standard errors, confidence intervals, correlation matrix, residuals.
    """

    form: str
    quantity: str
    T: Array
    measured: Array
    molar_mass: float
    correlation: Correlation
    statistics: Fit

    @property
    def parameters(self) -> dict[str, float]:
        """The fitted parameters by name."""
        return dict(zip(FORMS[self.form].names, self.statistics.parameters.tolist(), strict=True))

    @property
    def fitted(self) -> Array:
        """The correlation at the temperatures of the measurements ``(N,)``, SI."""
        return self._curve(self.T)

    def _curve(self, T: Array) -> Array:
        return _as_measured(self.correlation.value(T), self.quantity, self.molar_mass)

    @property
    def deviation(self) -> Array:
        """Measured over fitted, less 1 ``(N,)``."""
        return np.asarray(self.measured / self.fitted - 1.0)

    @property
    def outliers(self) -> list[int]:
        """Positions of points that stand out from a fit without them."""
        return [int(i) for i in np.flatnonzero(self.statistics.stray)]

    def title(self, units: str | None = None) -> str:
        """What was fitted to what."""
        return f"{self.form.capitalize()} fit of {len(self.T)} measurements of {CORRELATIONS[self.quantity].words}"

    def in_short(self, units: str | None = None) -> str:
        """The parameters, and how well they follow the points."""
        values = ", ".join(f"{name} = {value:.5g}" for name, value in self.parameters.items())
        off = f"{100.0 * np.abs(self.deviation).mean():.3g} % on average, {100.0 * np.abs(self.deviation).max():.3g} % at most"
        return f"{values}; deviations {off}."

    def equation(self, style: str = "SI") -> str:
        """The fitted equation with its numbers and units; in the ``style`` "paper" a vapor pressure by Antoine is in log10, mmHg and °C.

        Raises
        ------
        InputError
            If there is no such style, or the form has no other.
        """
        return written_equation(self.form, self.statistics.parameters.tolist(), self.correlation, style)

    def sheets(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """Every point with its residual."""
        return [("points", self.points_frame(units))]

    def points_frame(self, units: str | None = None) -> pd.DataFrame:
        """Measured and fitted values at each temperature, and by how much they differ."""
        dimension = _COLUMNS[self.quantity][1]
        columns = [
            Column("T", self.T, "temperature"),
            Column("measured", self.measured, dimension),
            Column("fitted", self.fitted, dimension),
            Column("deviation", 100.0 * self.deviation, label="deviation [%]"),
            Column("studentized", self.statistics.studentized, label="studentized residual"),
            Column("stray", self.statistics.stray.tolist(), words=yes_or_no),
        ]
        return frame(columns, self.unit_set(units))

    word = "fit"
    rows = "parameters"
    named_by = "parameter"

    def columns(self) -> list[Column]:
        """Each parameter's value, standard error, 95 % confidence interval and correlations."""
        s, names = self.statistics, FORMS[self.form].names
        return [
            Column("parameter", list(names)),
            Column("value", s.parameters),
            Column("standard_error", s.standard_error, label="standard error"),
            Column("from_95", s.parameters - s.interval, label="95 % from"),
            Column("to_95", s.parameters + s.interval, label="95 % to"),
            Column("correlation", s.correlation, of=names, label="correlation with"),
        ]

    def facts(self) -> dict[str, Any]:
        """The form, and every point."""
        points = [Column("T", self.T), Column("measured", self.measured), Column("fitted", self.fitted)]
        return {
            "form": self.form,
            "quantity": self.quantity,
            "standard_deviation": self.statistics.standard_deviation,
            "T_min": self.correlation.T_min,
            "T_max": self.correlation.T_max,
            "points": records(points),
        }

    @property
    def notes(self) -> list[str]:
        """How good the fit is, and which points stand out."""
        mean, most = 100.0 * np.abs(self.deviation).mean(), 100.0 * np.abs(self.deviation).max()
        low, high = shown(self.T.min(), "temperature", "SI"), shown(self.T.max(), "temperature", "SI")
        notes = [
            f"{self.equation()}.",
            f"Residual standard deviation {self.statistics.standard_deviation:.4g}; deviations {mean:.3g} % on average, {most:.3g} % at most.",
            f"Range of the measurements: {low} to {high}.",
        ]
        for i in self.outliers:
            notes.append(
                f"Point {i + 1} ({shown(self.T[i], 'temperature', 'SI')}) is {abs(self.statistics.studentized[i]):.1f} standard deviations away from what the others say: check it."
            )
        wide = [
            n for n, v, e in zip(self.parameters, self.statistics.parameters, self.statistics.interval, strict=True) if e > abs(v)
        ]
        if wide:
            notes.append(
                f"The data don't determine {', '.join(wide)}: zero is within the confidence interval. A form with fewer parameters may do."
            )
        return notes

    def applied_to(self, component: Component) -> Component:
        """The component with this correlation in place of its own, and where it came from."""
        source = f"fitted to {len(self.T)} measurements, {self.T.min():g} to {self.T.max():g} K ({self.form})"
        return component.changed(source=source, **{self.quantity: self.correlation})

    @guarded
    def plot(self, ax: Axes | None = None, *, figure: str = "data", units: str | None = None) -> Axes:
        """Draw the data with the curve (``figure="data"``) or the deviations at their temperatures (``"residuals"``)."""
        from .diagrams.correlation_fit import draw_fit, draw_residuals

        unit_set = units or "metric"
        if figure == "residuals":
            with np.errstate(all="ignore"):
                limit = 300.0 * float(np.nanmedian(np.abs(self.deviation / self.statistics.scaled)))
            return draw_residuals(ax, self.T, 100.0 * self.deviation, limit, self.title(), unit_set)
        if figure != "data":
            raise InputError(f"There is no figure {figure!r} of a fit. Figures are data, residuals.")
        T = np.linspace(self.T.min(), self.T.max(), 121)
        dimension = _COLUMNS[self.quantity][1]
        return draw_fit(ax, (self.T, self.measured), (T, self._curve(T)), dimension, self.title(), unit_set)


def written_equation(form: str, parameters: list[float], correlation: Correlation, style: str) -> str:
    """An equation with its numbers and units.

    Raises
    ------
    InputError
        If there is no such style, or the form has no other.
    """
    names = FORMS[form].names
    if style == "paper" and form == "antoine":
        A, B, C = parameters
        paper = (A / math.log(10.0) - math.log10(_MMHG), B / math.log(10.0), C + 273.15)
        return _with_numbers("log10(P/mmHg) = {A} - {B}/(t/°C + {C})", dict(zip(names, paper, strict=True)), ())
    if style != "SI":
        raise InputError(f"There is no style {short(style)} of {form}; there are SI{' and paper' if form == 'antoine' else ''}.")
    return _with_numbers(FORMS[form].written, dict(zip(names, parameters, strict=True)), correlation.coefficients)


def _with_numbers(template: str, named: Mapping[str, float], numbered: Sequence[float]) -> str:
    filled = template.format(*(f"{v:.8g}" for v in numbered), **{k: f"{v:.8g}" for k, v in named.items()})
    return filled.replace("+ -", "- ").replace("- -", "+ ")


_MMHG = 133.322387415
"""Pa."""


def _as_measured(values: Array, quantity: str, molar_mass: float) -> Array:
    """What a correlation gives as what is measured: P for ln P, kg/m3 for mol/m3."""
    if quantity == "vapor_pressure":
        return np.exp(values)
    return values * molar_mass if quantity == "liquid_density" else values


def _as_correlated(measured: Array, quantity: str, molar_mass: float) -> Array:
    """The other way round."""
    if quantity == "vapor_pressure":
        return np.log(measured)
    return measured / molar_mass if quantity == "liquid_density" else measured


@guarded
def fit_correlation(
    data: Data,
    form: str,
    *,
    of: str | None = None,
    component: Component | None = None,
    uncertainty: Any = None,
    **constants: Any,
) -> CorrelationFit:
    """Fit a correlation to measurements of a pure component.

    Parameters
    ----------
    data
        A .csv or .xlsx file with the columns ``T [unit]`` and ``P [unit]`` (``Cp [unit]``, ``density [unit]``, ``viscosity [unit]``,
        ``surface_tension [unit]``, ``thermal_conductivity [unit]``), and if need be ``uncertainty``; or
        a pair of arrays (T, values) of SI numbers or of text with units; or a `DataSet` of vapor pressures, or of a pure component's densities.
    form : {"antoine", "riedel form", "wagner", "modified rackett", "rackett form", "extended rackett form", "vogel", "andrade", "guggenheim", \
"guggenheim with exponent", "riedel conductivity", "logarithmic", "linear", "quadratic", "cubic"}
        The first three are of vapor pressures, fitted in ln P; the next three of liquid densities, by mass; then two of liquid viscosities, fitted in ln μ, two of surface
        tensions, one of liquid conductivities and one of gases, fitted in the logarithm; the others of heat capacities.
    of : {"heat_capacity", "liquid_heat_capacity", "gas_viscosity", "gas_conductivity"}, optional
        Whose heat capacity: the ideal gas, unless said otherwise; and what of a gas: its viscosity, unless said otherwise.
    component : Component, optional
        Gives the constants that the form needs.
    uncertainty : float or array, optional
        Standard uncertainty of each measurement: relative for vapor pressures, viscosities and gases, kg/m3 for densities, J/(mol K) for heat capacities, else as measured. Only their
        ratios matter to the parameters; with true ones the residual standard deviation is near 1. A file may have it as a column.
    **constants
        ``Tc``, ``Pc``, ``molar_mass``, where the form needs them and there is no component.

    Returns
    -------
    CorrelationFit
        Print it, plot it, put it into a component with ``applied_to``, and keep that with `store_component`.

    Raises
    ------
    InputError
        If the form is unknown, a measurement is not positive, there are too few of them, or a constant is missing.
    CalculationError
        If the fit does not converge.

    Examples
    --------
    >>> import numpy as np
    >>> import sleetfield as sl
    >>> T = np.linspace(290.0, 350.0, 13)
    >>> P = np.exp(sl.databank().find("acetone").vapor_pressure.value(T))
    >>> fit = sl.fit_correlation((T, P), "antoine")
    >>> bool(np.abs(fit.deviation).max() < 2e-4)
    True
    """
    if form not in FORMS:
        raise InputError(f"There is no form {form!r} to fit. Forms are {', '.join(FORMS)}.")
    chosen = FORMS[form]
    quantity = chosen.quantities[0] if of is None else of
    if quantity not in chosen.quantities:
        raise InputError(f"The form {form} is not of {quantity!r}. It is of {', '.join(chosen.quantities)}.")
    T, measured, from_file = _measured(data, quantity)
    needed = len(chosen.names) + 1
    if len(T) < needed:
        raise InputError(f"{form} has {len(chosen.names)} parameters and needs at least {needed} measurements; there are {len(T)}.")
    k = _constants(form, T, component, constants)
    mass = k.get("molar_mass", np.nan)
    values = _as_correlated(measured, quantity, mass)
    sigma = _sigma(from_file if uncertainty is None else uncertainty, quantity, mass, T.shape)
    scale = np.log if quantity in _BY_LOGARITHM else np.asarray
    start = chosen.start(T, scale(values), k)
    with np.errstate(all="ignore"):
        found = fit(lambda p: np.asarray(scale(chosen.make(p, k).value(T))), scale(values), sigma, start)
    if found is None:
        raise CalculationError(f"The {form} fit did not converge. Try a form with fewer parameters.")
    made = replace(chosen.make(found.parameters, k), T_min=float(T.min()), T_max=float(T.max()))
    return CorrelationFit(form, quantity, T, measured, mass, made, found)


def _sigma(given: Any, quantity: str, molar_mass: float, shape: tuple[int, ...]) -> Array:
    """Standard uncertainties of the fitted values; all alike where none are given."""
    if given is None:
        return np.ones(shape)
    try:
        sigma = np.broadcast_to(np.asarray(given, dtype=float), shape)
    except (TypeError, ValueError):
        raise InputError(
            f"The uncertainty is {given!r}; it must be one number, or one for each of the {shape[0]} measurements."
        ) from None
    if not (np.isfinite(sigma) & (sigma > 0.0)).all():
        raise InputError("Every uncertainty must be positive and finite.")
    return sigma / molar_mass if quantity == "liquid_density" else sigma


def _measured(data: Data, quantity: str) -> tuple[Array, Array, Array | None]:
    """Temperatures, values and, where a file has them, uncertainties."""
    name, dimension = _COLUMNS[quantity]
    uncertainty: Array | None = None
    if isinstance(data, DataSet):
        data = _of_set(data, name)
    if isinstance(data, (str, Path)):
        of_it = "fraction" if quantity in ("vapor_pressure", *_BY_LOGARITHM) else dimension
        columns = read_columns(data, {"T": "temperature", name: dimension}, {"uncertainty": of_it})
        T, measured, uncertainty = columns["T"], columns[name], columns.get("uncertainty")
    else:
        T, measured = (np.atleast_1d(to_si(v, d, n)) for v, d, n in zip(data, ("temperature", dimension), ("T", name), strict=True))
    if T.ndim != 1 or T.shape != measured.shape:
        raise InputError(f"T and {name} must be of one length; got {T.shape} and {measured.shape}.")
    for what, values in (("T", T), (name, measured)):
        bad = ~(np.isfinite(values) & (values > 0.0))
        if bad.any():
            raise InputError(
                f"Measurement {int(np.flatnonzero(bad)[0]) + 1}: {what} is {values[bad][0]:g}; it must be positive and finite."
            )
    return T, measured, uncertainty


def _of_set(data: DataSet, name: str) -> tuple[Any, Any]:
    """T and values of the points that are not left out."""
    if len(data.names) > 1 or name not in data.values:
        raise InputError(f"{data.title()} has no {name} of a pure component.")
    return data["T"][data.used], data[name][data.used]


def _constants(form: str, T: Array, component: Component | None, given: dict[str, Any]) -> dict[str, float]:
    """The constants that a form needs, as given or as the component has them."""
    if strange := set(given) - set(_CONSTANTS):
        raise InputError(f"A fit takes no {', '.join(sorted(strange))}; constants are {', '.join(_CONSTANTS)}.")
    found: dict[str, float] = {}
    needs = FORMS[form].needs
    for key in needs:
        value = given.get(key)
        if value is None and component is not None:
            value = getattr(component, key)
        if value is None:
            listed = ", ".join(f"{n}=..." for n in needs)
            raise InputError(f"The form {form} needs {' and '.join(needs)}: fit_correlation(..., {listed}), or component=...")
        found[key] = one_in_si(value, _CONSTANTS[key], key)
    if "Tc" in found and not found["Tc"] > T.max():
        raise InputError(f"Tc is {found['Tc']:g} K, but there are measurements up to {T.max():g} K; the form {form} ends at Tc.")
    return found
