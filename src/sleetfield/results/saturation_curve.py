"""The saturation curve of one component."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..core.constants import ATMOSPHERE
from ..errors import InputError
from ..units import from_si
from .base import Result
from .text import heading, shown

if TYPE_CHECKING:
    from collections.abc import Sequence

    import pandas as pd
    from matplotlib.axes import Axes

    from ..system import System

Array = NDArray[np.float64]

FIGURES = ("pressure", "density", "fugacity")


@dataclass(frozen=True, eq=False)
class SaturationCurve(Result):
    """Vapor and liquid of one component at saturation.

    Attributes
    ----------
    T, P : (N,)
        K, Pa; NaN where the component is above its critical point.
    vapor, liquid : dict of (N,) arrays
        ``Z``; ``V``, m3/mol; ``H``, J/mol; ``S`` and ``Cp``, J/(mol K).
    reference : (N,) or None
        Vapor pressure by the databank's correlation within its range, Pa, where the model does not rest on it itself.
    """

    system: System
    T: Array
    P: Array
    vapor: dict[str, Array]
    liquid: dict[str, Array]
    reference: Array | None

    @property
    def heat_of_vaporization(self) -> Array:
        """J/mol ``(N,)``."""
        return self.vapor["H"] - self.liquid["H"]

    def density(self, phase: str) -> Array:
        """Mass density of the "vapor" or the "liquid" ``(N,)``, kg/m3."""
        return np.asarray(self.system.molar_mass[0] / getattr(self, phase)["V"])

    @property
    def deviation(self) -> Array | None:
        """The model's vapor pressure against the databank's correlation ``(N,)``, as a fraction."""
        return None if self.reference is None else self.P / self.reference - 1.0

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        notes = [*self.system.notes, *self.system.range_notes(self.T)]
        if missing := int(np.isnan(self.P).sum()):
            notes.append(
                f"{missing} temperatures are above the critical point; there is no saturation, and their numbers are left out."
            )
        deviation = self.deviation
        if deviation is not None and np.isfinite(deviation).any():
            mean, most = 100.0 * np.nanmean(np.abs(deviation)), 100.0 * np.nanmax(np.abs(deviation))
            where = shown(self.T[int(np.nanargmax(np.abs(deviation)))], "temperature", self.system.units, 4)
            notes.append(
                f"The vapor pressure differs from the databank's correlation by {mean:.2g} % on average, {most:.2g} % at most (at {where})."
            )
        return notes

    def title(self, units: str | None = None) -> str:
        """What of which component."""
        return f"Saturation of {self.system.title}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """One row for each temperature."""
        import pandas as pd

        unit_set = self.unit_set(units)
        columns: dict[str, Any] = {}

        def add(name: str, values: Array, dimension: str) -> None:
            columns[heading(name, dimension, unit_set)] = from_si(values, dimension, unit_set)

        add("T", self.T, "temperature")
        add("P", self.P, "pressure")
        add("heat of vaporization", self.heat_of_vaporization, "molar_energy")
        for name in ("vapor", "liquid"):
            phase = getattr(self, name)
            add(f"{name} density", self.density(name), "density")
            add(f"{name} molar_volume", phase["V"], "molar_volume")
            columns[f"{name} Z"] = phase["Z"]
            add(f"{name} H", phase["H"], "molar_energy")
            add(f"{name} S", phase["S"], "molar_entropy")
            add(f"{name} Cp", phase["Cp"], "molar_entropy")
        if self.reference is not None and self.deviation is not None:
            add("databank P", self.reference, "pressure")
            columns["deviation [%]"] = 100.0 * self.deviation
        return pd.DataFrame(columns)

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """At most a dozen rows, and the columns that are looked at first."""
        frame = self.to_frame(units)
        step = max(1, len(frame) // 12)
        wanted = ("T ", "P ", "heat of", "vapor density", "liquid density", "deviation")
        return frame.iloc[::step][[c for c in frame.columns if c.startswith(wanted)]].reset_index(drop=True)

    def plot(
        self,
        ax: Axes | None = None,
        *,
        figure: str = "pressure",
        units: str | None = None,
        data: tuple[Sequence[float], Sequence[float]] | None = None,
        P: float = ATMOSPHERE,
    ) -> Axes:
        """Draw it.

        ``figure`` is "pressure" (log P against 1/T, with the databank's correlation), "density" (both phases), or "fugacity" (both ln f
        at the pressure ``P``, crossing at the boiling point). ``data`` are measured (T, values) in SI to draw beside: pressures in the
        first, liquid densities in the second.
        """
        from ..diagrams import saturation_curve as draw

        unit_set = self.unit_set(units)
        if figure == "pressure":
            reference = None if self.reference is None else (self.T, self.reference)
            return draw.draw_pressure(ax, self.T, self.P, reference, data, self.title(), unit_set)
        if figure == "density":
            return draw.draw_density(ax, self.T, self.density("vapor"), self.density("liquid"), data, self.title(), unit_set)
        if figure == "fugacity":
            T_boil = self.system.bubble([1.0], P=P).T
            T = np.linspace(0.9 * T_boil, 1.1 * T_boil, 81)
            vapor, liquid = self.system.ln_fugacities(T, P)
            crossing = float(self.system.ln_fugacities(np.array([T_boil]), P)[0][0])
            title = f"Fugacities of {self.system.title} at {shown(P, 'pressure', unit_set)}"
            return draw.draw_fugacity(ax, T, vapor, liquid, (T_boil, crossing), title, unit_set)
        raise InputError(f"There is no figure {figure!r} of a saturation curve. Figures are {', '.join(FIGURES)}.")

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {
            "result": "saturation curve",
            "system": self.system.to_dict(),
            "rows": self.to_frame("SI").to_dict(orient="records"),
            "notes": self.notes,
        }
