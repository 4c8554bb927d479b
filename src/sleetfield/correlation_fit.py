"""Correlations fitted to measurements of a pure component."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from .components import Component
from .core.correlations.contract import Correlation
from .core.correlations.heat_capacity import Polynomial
from .core.correlations.vapor_pressure import Antoine, ExtendedAntoine, Wagner
from .core.fitting.least_squares import Fit, fit
from .errors import CalculationError, InputError
from .measurements import read_columns
from .results.base import Shown
from .results.text import shown
from .units import to_si

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

Array = NDArray[np.float64]
Data = str | Path | tuple[Any, Any]

_WIDE = (0.0, np.inf)


class Form(NamedTuple):
    """A form that can be fitted: its parameters, how they make a correlation, and where a fit starts."""

    quantity: str
    names: tuple[str, ...]
    make: Callable[[Array, float, float], Correlation]
    start: Callable[[Array, Array, float, float], Array]


def _linear(columns: Sequence[Array], values: Array) -> Array:
    return np.asarray(np.linalg.lstsq(np.stack(columns, axis=1), values, rcond=None)[0])


def _antoine_start(T: Array, ln_P: Array, Tc: float, Pc: float) -> Array:
    """From ln P = A - B/(t + C), linear in A, C and AC - B: t ln P = A t - C ln P + (AC - B); P in kPa, t in °C."""
    t, y = T - 273.15, ln_P - np.log(1000.0)
    A, C, rest = _linear([t, -y, np.ones_like(t)], t * y)
    return np.array([A, A * C - rest, C])


def _extended_start(power: float) -> Callable[[Array, Array, float, float], Array]:
    return lambda T, ln_P, Tc, Pc: _linear([np.ones_like(T), 1.0 / T, np.log(T), T**power], ln_P)


def _wagner_start(T: Array, ln_P: Array, Tc: float, Pc: float) -> Array:
    tau = 1.0 - T / Tc
    return _linear([tau, tau**1.5, tau**3, tau**6], (ln_P - np.log(Pc)) * T / Tc)


def _polynomial(degree: int) -> Form:
    return Form(
        "heat capacity",
        tuple(f"c{i + 1}" for i in range(degree + 1)),
        lambda p, Tc, Pc: Polynomial(tuple(p.tolist()), *_WIDE),
        lambda T, y, Tc, Pc: _linear([T**i for i in range(degree + 1)], y),
    )


FORMS: dict[str, Form] = {
    "antoine": Form("vapor pressure", ("A", "B", "C"), lambda p, Tc, Pc: Antoine(tuple(p.tolist()), *_WIDE), _antoine_start),
    "extended antoine": Form(
        "vapor pressure",
        ("c1", "c2", "c3", "c4"),
        lambda p, Tc, Pc: ExtendedAntoine((*p.tolist(), 2.0), *_WIDE),
        _extended_start(2.0),
    ),
    "wagner": Form("vapor pressure", ("a", "b", "c", "d"), lambda p, Tc, Pc: Wagner((*p.tolist(), Tc, Pc), *_WIDE), _wagner_start),
    "linear": _polynomial(1),
    "quadratic": _polynomial(2),
    "cubic": _polynomial(3),
}
"""What can be fitted, by name. Vapor pressures are fitted in ln P, heat capacities as they are."""

_COLUMNS = {"vapor pressure": ("P", "pressure"), "heat capacity": ("Cp", "molar_entropy")}
_FIELDS = {"vapor pressure": "vapor_pressure", "heat capacity": "heat_capacity"}


@dataclass(frozen=True, eq=False)
class CorrelationFit(Shown):
    """A correlation fitted to measurements.

    Attributes
    ----------
    form : str
        A name of `FORMS`.
    T, measured : (N,)
        What was measured, in SI.
    correlation : Correlation
        The result, with the range of the measurements.
    statistics : Fit
        Standard errors, confidence intervals, correlation matrix, residuals.
    """

    form: str
    T: Array
    measured: Array
    correlation: Correlation
    statistics: Fit

    @property
    def quantity(self) -> str:
        """What was fitted."""
        return FORMS[self.form].quantity

    @property
    def parameters(self) -> dict[str, float]:
        """The fitted parameters by name."""
        return dict(zip(FORMS[self.form].names, self.statistics.parameters.tolist(), strict=True))

    @property
    def fitted(self) -> Array:
        """The correlation at the temperatures of the measurements ``(N,)``, SI."""
        value = self.correlation.value(self.T)
        return np.exp(value) if self.quantity == "vapor pressure" else value

    @property
    def deviation(self) -> Array:
        """Measured over fitted, less 1 ``(N,)``."""
        return np.asarray(self.measured / self.fitted - 1.0)

    @property
    def outliers(self) -> list[int]:
        """Positions of points more than three standard deviations away."""
        return [int(i) for i in np.flatnonzero(np.abs(self.statistics.scaled) > 3.0)]

    def title(self, units: str | None = None) -> str:
        """What was fitted to what."""
        return f"{self.form.capitalize()} fit of {len(self.T)} measured {self.quantity}{'s' if self.quantity.endswith('e') else ''}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """Parameters with standard errors, 95 % confidence intervals and their correlations."""
        import pandas as pd

        s, names = self.statistics, FORMS[self.form].names
        frame = pd.DataFrame(
            {
                "value": s.parameters,
                "standard error": s.standard_error,
                "95 % from": s.parameters - s.interval,
                "95 % to": s.parameters + s.interval,
            },
            index=list(names),
        )
        for i, name in enumerate(names):
            frame[f"correlation with {name}"] = s.correlation[:, i]
        return frame

    @property
    def notes(self) -> list[str]:
        """How good the fit is, and which points stand out."""
        mean, most = 100.0 * np.abs(self.deviation).mean(), 100.0 * np.abs(self.deviation).max()
        low, high = shown(self.T.min(), "temperature", "SI"), shown(self.T.max(), "temperature", "SI")
        notes = [
            f"Residual standard deviation {self.statistics.standard_deviation:.4g}; deviations {mean:.3g} % on average, {most:.3g} % at most.",
            f"Range of the measurements: {low} to {high}.",
        ]
        for i in self.outliers:
            notes.append(
                f"Point {i + 1} ({shown(self.T[i], 'temperature', 'SI')}) is {abs(self.statistics.scaled[i]):.1f} standard deviations away: check it."
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
        key: str = _FIELDS[self.quantity]
        source = f"fitted to {len(self.T)} measurements, {self.T.min():g} to {self.T.max():g} K ({self.form})"
        changes: dict[str, Any] = {key: self.correlation, "sources": {**component.sources, key: source}}
        return replace(component, **changes)

    def plot(self, ax: Axes | None = None, *, figure: str = "data", units: str | None = None) -> Axes:
        """Draw the data with the curve (``figure="data"``) or the deviations at their temperatures (``"residuals"``)."""
        from .diagrams.correlation_fit import draw_fit, draw_residuals

        unit_set = units or "SI"
        if figure == "residuals":
            with np.errstate(all="ignore"):
                limit = 300.0 * float(np.nanmedian(np.abs(self.deviation / self.statistics.scaled)))
            return draw_residuals(ax, self.T, 100.0 * self.deviation, limit, self.title(), unit_set)
        if figure != "data":
            raise InputError(f"There is no figure {figure!r} of a fit. Figures are data, residuals.")
        T = np.linspace(self.T.min(), self.T.max(), 121)
        value = self.correlation.value(T)
        curve = np.exp(value) if self.quantity == "vapor pressure" else value
        dimension = _COLUMNS[self.quantity][1]
        return draw_fit(ax, (self.T, self.measured), (T, curve), dimension, self.title(), unit_set)


def fit_correlation(data: Data, form: str, *, uncertainty: Any = None, Tc: Any = None, Pc: Any = None) -> CorrelationFit:
    """Fit a correlation to measurements of a pure component.

    Parameters
    ----------
    data
        A .csv or .xlsx file with the columns ``T [unit]`` and ``P [unit]`` (or ``Cp [unit]``), or a pair of arrays (T, values) of SI numbers
        or of text with units.
    form : {"antoine", "extended antoine", "wagner", "linear", "quadratic", "cubic"}
        The first three are of vapor pressures, fitted in ln P; the others of ideal-gas heat capacities.
    uncertainty : float or array, optional
        Standard uncertainty of each measurement: relative for vapor pressures, in J/(mol K) for heat capacities. Only their ratios matter to the
        parameters; with true ones the residual standard deviation is near 1.
    Tc, Pc : optional
        Critical constants, which the Wagner form needs.

    Returns
    -------
    CorrelationFit
        Print it, plot it, and put it into a component with ``applied_to``.

    Raises
    ------
    InputError
        If the form is unknown, a measurement is not positive, or there are too few of them.
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
    name, dimension = _COLUMNS[chosen.quantity]
    T, measured = _measured(data, name, dimension)
    needed = len(chosen.names) + 1
    if len(T) < needed:
        raise InputError(f"{form} has {len(chosen.names)} parameters and needs at least {needed} measurements; there are {len(T)}.")
    critical_T, critical_P = _critical(form, T, Tc, Pc)
    in_ln = chosen.quantity == "vapor pressure"
    values = np.log(measured) if in_ln else measured
    sigma = np.ones_like(T) if uncertainty is None else np.broadcast_to(np.asarray(uncertainty, dtype=float), T.shape)
    if not (np.isfinite(sigma) & (sigma > 0.0)).all():
        raise InputError("Every uncertainty must be positive and finite.")
    start = chosen.start(T, values, critical_T, critical_P)
    found = fit(lambda p: np.asarray(chosen.make(p, critical_T, critical_P).value(T)), values, sigma, start)
    if found is None:
        raise CalculationError(f"The {form} fit did not converge. Try a form with fewer parameters.")
    made = chosen.make(found.parameters, critical_T, critical_P)
    return CorrelationFit(form, T, measured, replace(made, T_min=float(T.min()), T_max=float(T.max())), found)


def _measured(data: Data, name: str, dimension: str) -> tuple[Array, Array]:
    if isinstance(data, (str, Path)):
        columns = read_columns(data, {"T": "temperature", name: dimension})
        T, measured = columns["T"], columns[name]
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
    return T, measured


def _critical(form: str, T: Array, Tc: Any, Pc: Any) -> tuple[float, float]:
    if form != "wagner":
        return np.nan, np.nan
    if Tc is None or Pc is None:
        raise InputError("The Wagner form needs Tc and Pc: fit_correlation(..., Tc=..., Pc=...).")
    critical_T, critical_P = float(to_si(Tc, "temperature", "Tc")), float(to_si(Pc, "pressure", "Pc"))
    if not critical_T > T.max():
        raise InputError(f"Tc is {critical_T:g} K, but there are measurements up to {T.max():g} K; the Wagner form ends at Tc.")
    return critical_T, critical_P


def anchored(component: Component, *, T: Any, P: Any) -> Component:
    """A component whose vapor pressure is shifted in ln P so that it goes through one measured point.

    Raises
    ------
    InputError
        If the component has no vapor-pressure correlation of the extended Antoine, Antoine or Wagner form.

    Examples
    --------
    >>> import numpy as np
    >>> import sleetfield as sl
    >>> acetone = sl.anchored(sl.databank().find("acetone"), T="25 degC", P="30.8 kPa")
    >>> float(np.exp(acetone.vapor_pressure.value(np.array([298.15]))[0]).round(6))
    30800.0
    """
    curve = component.vapor_pressure
    if curve is None:
        raise InputError(f"{component.name} has no vapor-pressure correlation to shift.")
    at, measured = float(to_si(T, "temperature", "T")), float(to_si(P, "pressure", "P"))
    if not (at > 0.0 and measured > 0.0):
        raise InputError("The measured point needs a positive temperature and pressure.")
    shift = float(np.log(measured) - curve.value(np.array([at]))[0])
    c = list(curve.coefficients)
    if isinstance(curve, Wagner):
        c[-1] *= float(np.exp(shift))
    elif isinstance(curve, (Antoine, ExtendedAntoine)):
        c[0] += shift
    else:
        raise InputError(f"The vapor pressure of {component.name} is of a form that can't be shifted.")
    source = f"{component.sources['vapor_pressure']}; shifted by {100.0 * np.expm1(shift):+.3g} % to go through {measured:g} Pa at {at:g} K"
    changed: Component = replace(
        component, vapor_pressure=replace(curve, coefficients=tuple(c)), sources={**component.sources, "vapor_pressure": source}
    )
    return changed
