"""What an activity model is made of and says: its parameters, and the excess properties of the liquid."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..components.pair_parameters import PairParameters
from ..core.constants import R
from ..core.models.activity import ActivityModel
from ..errors import InputError
from ..units import from_si, to_si
from .base import Result
from .text import heading, shown

if TYPE_CHECKING:
    import pandas as pd

    from ..system import System

Array = NDArray[np.float64]

_T_SHOWN = 298.15


@dataclass(frozen=True, eq=False)
class ActivityParameters(Result):
    """The binary parameters of a system's activity model, and what they come to.

    Attributes
    ----------
    pairs : dict
        `PairParameters` by positions ``(i, j)``, ``i < j``, in that order; None where there are none.
    """

    system: System
    pairs: dict[tuple[int, int], PairParameters | None]

    def gamma_infinity(self, first: str, second: str, *, T: Any = _T_SHOWN) -> tuple[Array, Array]:
        """Activity coefficients at infinite dilution: of ``first`` in ``second``, and of ``second`` in ``first``, shaped like ``T``."""
        i, j = self.system.position(first), self.system.position(second)
        if i == j:
            raise InputError(f"{first} and {second} are one component; name two.")
        temperatures = np.asarray(to_si(T, "temperature", "T"))
        flat = np.atleast_1d(temperatures).ravel()
        bound = _activity(self.system).at(flat)
        found = []
        for trace, solvent in ((i, j), (j, i)):
            x = np.full((len(self.system), len(flat)), 1e-100)
            x[solvent] = 1.0
            found.append(np.exp(bound.ln_gamma(x)[trace]).reshape(temperatures.shape))
        return found[0], found[1]

    def shown_at(self, pair: tuple[int, int]) -> float:
        """The temperature at which a pair is shown, K: the middle of its range, or 25 °C."""
        p = self.pairs[pair]
        return _T_SHOWN if p is None or p.T_min is None or p.T_max is None else 0.5 * (p.T_min + p.T_max)

    def title(self, units: str | None = None) -> str:
        """Of which system."""
        return f"Activity-model parameters of {self.system.title}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each pair: its components, numbers as given, γ at infinite dilution, range and source."""
        import pandas as pd

        unit_set, names = self.unit_set(units), self.system.names
        columns = [heading(name, "temperature", unit_set) for name in ("at T", "from T", "to T")]
        rows = []
        for (i, j), p in self.pairs.items():
            T = self.shown_at((i, j))
            both = self.gamma_infinity(names[i], names[j], T=T)
            low, high = (None, None) if p is None else (p.T_min, p.T_max)
            ends = [float("nan") if t is None else float(from_si(t, "temperature", unit_set)) for t in (T, low, high)]
            given = "" if p is None else _as_given(p)
            source = "none known: taken as ideal" if p is None else p.source
            rows.append((names[i], names[j], given, *(float(g) for g in both), *ends, source))
        heads = ["first", "second", "as given", "gamma first, infinite dilution", "gamma second, infinite dilution"]
        return pd.DataFrame(rows, columns=[*heads, *columns, "source"])

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """What fits on a page."""
        frame = self.to_frame(units).drop(columns="source")
        return frame.rename(columns={c: c.replace(", infinite dilution", "∞").replace("gamma", "γ") for c in frame.columns})

    @property
    def notes(self) -> list[str]:
        """Where the parameters came from."""
        counts: dict[str, int] = {}
        for p in self.pairs.values():
            source = "none known: taken as ideal" if p is None else p.source
            counts[source] = counts.get(source, 0) + 1
        return [f"{n} pair{'s' if n > 1 else ''}: {source}." for source, n in counts.items()]


def _as_given(p: PairParameters) -> str:
    values = [*p.terms] if p.terms is not None else [p.a12, p.a21]
    text = ", ".join(" ".join(f"{v:g}" for v in np.atleast_1d(np.asarray(value, dtype=float))) for value in values)
    alpha = "" if p.alpha is None else f"; alpha {' '.join(f'{v:g}' for v in np.atleast_1d(np.asarray(p.alpha, dtype=float)))}"
    return f"{text} ({p.form}){alpha}"


def _activity(system: System) -> ActivityModel:
    if system.choice.activity is None:
        raise InputError(f"{system.title} has no activity coefficients; name a liquid model with liquid=.")
    return system.choice.activity.model


@dataclass(frozen=True, eq=False)
class Excess(Result):
    """Activity coefficients and molar excess properties of liquids at ``N`` temperatures and compositions.

    Attributes
    ----------
    T : (N,)
        K.
    x : (N, C)
        Mole fractions.
    gamma : (N, C)
        Activity coefficients.
    G, H, S : (N,)
        Excess Gibbs energy and enthalpy, J/mol, and entropy, J/(mol K).
    Cp : (N,)
        Excess heat capacity, J/(mol K).
    G_mixing : (N,)
        Gibbs energy of mixing, J/mol.
    """

    system: System
    T: Array
    x: Array
    gamma: Array
    G: Array
    H: Array
    S: Array
    Cp: Array
    G_mixing: Array

    def title(self, units: str | None = None) -> str:
        """Of which system."""
        if len(self.T) == 1:
            return f"Excess properties of {self.system.title} at {shown(float(self.T[0]), 'temperature', self.unit_set(units))}"
        return f"Excess properties of {self.system.title}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each state."""
        import pandas as pd

        unit_set, names = self.unit_set(units), self.system.names
        columns: dict[str, Array] = {heading("T", "temperature", unit_set): from_si(self.T, "temperature", unit_set)}
        columns |= {f"x {n}": self.x[:, i] for i, n in enumerate(names)}
        columns |= {f"gamma {n}": self.gamma[:, i] for i, n in enumerate(names)}
        for name in ("G", "H", "S", "Cp", "G_mixing"):
            dimension = "molar_entropy" if name in ("S", "Cp") else "molar_energy"
            label = name if name == "G_mixing" else f"{name} excess"
            columns[heading(label, dimension, unit_set)] = from_si(getattr(self, name), dimension, unit_set)
        return pd.DataFrame(columns)

    @property
    def notes(self) -> list[str]:
        """About the model and its ranges."""
        return [*self.system.notes, *self.system.range_notes(self.T)]


def excess(system: System, T: Array, x: Array) -> Excess:
    """Excess properties at ``T (N,)`` and ``x (N, C)``, from the activity model and its derivatives (Gibbs-Helmholtz)."""
    safe = np.maximum(x, 1e-100)
    e = _activity(system).at(T).evaluate(np.ascontiguousarray(safe.T))
    ln_gamma = e.ln_gamma.T
    g, g_T = (x * ln_gamma).sum(axis=1), (x * e.dT.T).sum(axis=1)
    G, H = R * T * g, -R * T**2 * g_T
    Cp = -R * (2.0 * T * g_T + T**2 * e.g_TT)
    ideal = R * T * (x * np.log(safe)).sum(axis=1)
    return Excess(system, T, x, np.exp(ln_gamma), G, H, (H - G) / T, Cp, G + ideal)
