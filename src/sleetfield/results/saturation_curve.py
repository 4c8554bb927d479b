"""The saturation curve of one component."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..core.constants import ATMOSPHERE
from ..errors import InputError
from ..mixture import Mixture
from ..text import shown
from .base import TableResult
from .columns import Column
from .later import Later

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from ..diagrams.saturation_curve import Beside


Array = NDArray[np.float64]

FIGURES = ("pressure", "density", "fugacity")


class Measured(NamedTuple):
    """Measured values of one quantity, and the model's at the same temperatures ``(N,)``, SI."""

    T: Array
    values: Array
    model: Array


_WORDS = {"P": "vapor pressure", "density": "liquid density", "heat of vaporization": "heat of vaporization"}


@dataclass(frozen=True, eq=False, repr=False)
class SaturationCurve(TableResult):
    """Vapor and liquid of one component at saturation.

    Attributes
    ----------
    T, P : (N,)
        K, Pa; NaN where the component is above its critical point.
    vapor, liquid : dict of (N,) arrays
        ``Z``; ``V``, m3/mol; ``H``, J/mol; ``S`` and ``Cp``, J/(mol K); ``H_residual`` and ``S_residual``.
    references : dict of (N,) arrays
        ``P``, Pa; liquid ``density``, kg/m3; ``heat of vaporization``, J/mol, by the databank's correlations within their range, where there
        are any and the model does not rest on them itself.
    measured : dict of Measured
        ``P`` and liquid ``density`` as they were given.
    later : Later
        What is asked only now and then.
    """

    has_picture = True

    system: Mixture
    T: Array
    P: Array
    vapor: dict[str, Array]
    liquid: dict[str, Array]
    references: dict[str, Array]
    measured: dict[str, Measured]
    later: Later

    def fugacities(self, P: float) -> tuple[Array, Array, Array, tuple[float, float]]:
        """Temperatures ``(M,)`` around boiling at ``P``, Pa, ln(f/Pa) of vapor and liquid there (NaN where there is no such phase), and where they cross."""
        return self.later.fugacities(self.system, P)

    @property
    def heat_of_vaporization(self) -> Array:
        """J/mol ``(N,)``."""
        return self.vapor["H"] - self.liquid["H"]

    def density(self, phase: str) -> Array:
        """Mass density of the "vapor" or the "liquid" ``(N,)``, kg/m3."""
        return np.asarray(self.system.molar_mass[0] / getattr(self, phase)["V"])

    @property
    def deviations(self) -> dict[str, Array]:
        """The model against each of ``references`` ``(N,)``, as a fraction."""
        own = {"P": self.P, "density": self.density("liquid"), "heat of vaporization": self.heat_of_vaporization}
        return {name: own[name] / values - 1.0 for name, values in self.references.items()}

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        notes = [*self.system.notes, *self.system.range_notes(self.T)]
        if missing := int(np.isnan(self.P).sum()):
            notes.append(
                f"{missing} temperatures are above the critical point; there is no saturation, and their numbers are left out."
            )
        for name, deviation in self.deviations.items():
            notes += self._deviation_note(f"The {_WORDS[name]} differs from the databank's correlation", self.T, deviation)
        for name, m in self.measured.items():
            notes += self._deviation_note(
                f"The {_WORDS[name]} differs from {len(m.T)} measured values", m.T, m.model / m.values - 1.0
            )
        return notes

    def _deviation_note(self, beginning: str, T: Array, deviation: Array) -> list[str]:
        if not np.isfinite(deviation).any():
            return []
        mean, most = 100.0 * np.nanmean(np.abs(deviation)), 100.0 * np.nanmax(np.abs(deviation))
        where = shown(T[int(np.nanargmax(np.abs(deviation)))], "temperature", self.system.units, 4)
        return [f"{beginning} by {mean:.2g} % on average, {most:.2g} % at most (at {where})."]

    def title(self, units: str | None = None) -> str:
        """What of which component."""
        return f"Saturation of {self.system.title}"

    def in_short(self, units: str | None = None) -> str:
        """How far it is from what is known and measured."""
        return " ".join(note for note in self.notes if " differs from " in note)

    word = "saturation curve"

    def columns(self) -> list[Column]:
        """Both phases at each temperature, and the databank beside them."""
        dimensions = {"P": "pressure", "density": "density", "heat of vaporization": "molar_energy"}
        columns = [
            Column("T", self.T, "temperature"),
            Column("P", self.P, "pressure"),
            Column("heat of vaporization", self.heat_of_vaporization, "molar_energy"),
        ]
        for name in ("vapor", "liquid"):
            phase = getattr(self, name)
            columns.append(Column(f"{name} density", self.density(name), "density"))
            columns += [Column(f"{name} {label}", phase[key], dimension) for label, (key, dimension) in _OF_PHASES.items()]
        for name, deviation in self.deviations.items():
            columns.append(Column(f"databank {name}", self.references[name], dimensions[name]))
            columns.append(Column(f"{name} deviation [%]", 100.0 * deviation))
        return columns

    def facts(self) -> dict[str, Any]:
        """What was measured."""
        return {"measured": {name: {k: v.tolist() for k, v in m._asdict().items()} for name, m in self.measured.items()}}

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """At most a dozen rows, and the columns that are looked at first."""
        frame = self.to_frame(units)
        step = max(1, len(frame) // 12)
        wanted = ("T ", "P ", "heat of", "vapor density", "liquid density", "P deviation", "density deviation")
        return frame.iloc[::step][[c for c in frame.columns if c.startswith(wanted)]].reset_index(drop=True)

    @guarded
    def plot(
        self,
        ax: Axes | None = None,
        *,
        figure: str = "pressure",
        units: str | None = None,
        P: float = ATMOSPHERE,
    ) -> Axes:
        """Draw it.

        ``figure`` is "pressure" (log P against 1/T), "density" (both phases), or "fugacity" (both ln f at the pressure ``P``, crossing at the
        boiling point). The first two have their deviations from the databank's correlation and from measured values below.
        """
        from ..diagrams import saturation_curve as draw

        unit_set = self.unit_set(units)
        if figure == "pressure":
            return draw.draw_pressure(ax, self.T, self.P, *self._beside("P"), self.title(), unit_set)
        if figure == "density":
            return draw.draw_density(
                ax, self.T, self.density("vapor"), self.density("liquid"), *self._beside("density"), self.title(), unit_set
            )
        if figure == "fugacity":
            T, vapor, liquid, crossing = self.fugacities(P)
            title = f"Fugacities of {self.system.title} at {shown(P, 'pressure', unit_set)}"
            return draw.draw_fugacity(ax, T, vapor, liquid, crossing, title, unit_set)
        raise InputError(f"There is no figure {figure!r} of a saturation curve. Figures are {', '.join(FIGURES)}.")

    def _beside(self, name: str) -> tuple[Beside | None, Beside | None]:
        """The databank's and the measured values of a quantity, with what the model makes of them."""
        from ..diagrams.saturation_curve import Beside

        def beside(T: Array, values: Array, model: Array, words: str) -> Beside:
            off = np.abs(model / values - 1.0)
            mean = 100.0 * float(np.nanmean(off)) if np.isfinite(off).any() else np.nan
            return Beside(T, values, model, f"{words} ({mean:.2g} % on average)")

        own = self.P if name == "P" else self.density("liquid")
        known, m = self.references.get(name), self.measured.get(name)
        return (
            None if known is None else beside(self.T, known, own, "from the databank's correlation"),
            None if m is None else beside(m.T, m.values, m.model, "from measured values"),
        )


_OF_PHASES = {
    "molar_volume": ("V", "molar_volume"),
    "Z": ("Z", "fraction"),
    "H": ("H", "molar_energy"),
    "S": ("S", "molar_entropy"),
    "Cp": ("Cp", "molar_entropy"),
    "H_residual": ("H_residual", "molar_energy"),
    "S_residual": ("S_residual", "molar_entropy"),
}
"""Columns of each phase: what is in them, and its dimension."""
