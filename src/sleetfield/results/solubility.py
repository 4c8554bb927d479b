"""How much of a solid a solvent holds."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..core.constants import T_REFERENCE
from ..errors import InputError
from ..mixture import Mixture
from ..recipes.solids import USUAL_ERROR, guessed_heats
from ..text import first_few, shown
from .base import TableResult
from .columns import Column

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from ..data_sets import DataSet

Array = NDArray[np.float64]

FIGURES = ("T", "reciprocal")


class Sensitivity(NamedTuple):
    """What a change of a parameter, SI, does to the dissolved mole fractions: by which share of themselves they change ``(N,)``."""

    parameter: str
    value: float
    change: float
    effect: Array


@dataclass(frozen=True, eq=False, repr=False)
class Solubility(TableResult):
    """Liquids saturated with a solid at ``N`` temperatures.

    Attributes
    ----------
    solid : str
        The component.
    T, P : (N,)
        K, Pa.
    x : (N, C)
        Mole fractions of the saturated liquid.
    ideal : (N,)
        Mole fraction of the solid's component in an ideal liquid, 1 from its melting point on.
    solvents : (N, C)
        Mole fractions of the solvents without it.
    splits : (N,)
        Where the saturated liquid would part in two, or boil.
    frozen : tuple of tuple of str
        Which solvents would freeze out of it.
    sensitivities : tuple of Sensitivity
    """

    has_picture = True

    system: Mixture
    solid: str
    T: Array
    P: Array
    x: Array
    ideal: Array
    solvents: Array
    splits: NDArray[np.bool_]
    frozen: tuple[tuple[str, ...], ...]
    sensitivities: tuple[Sensitivity, ...]

    word = "solubility"

    def __len__(self) -> int:
        return len(self.T)

    @property
    def _place(self) -> int:
        return self.system.names.index(self.solid)

    @property
    def dissolved(self) -> Array:
        """Mole fractions of the solid's component ``(N,)``."""
        return np.asarray(self.x[:, self._place])

    @property
    def gamma(self) -> Array:
        """Activity coefficients of it beside its subcooled liquid ``(N,)``."""
        return np.asarray(self.ideal / self.dissolved)

    @property
    def mass_fraction(self) -> Array:
        """Mass fractions of it ``(N,)``."""
        w = self.x * self.system.molar_mass
        return np.asarray(w[:, self._place] / w.sum(axis=1))

    @property
    def mass_ratio(self) -> Array:
        """Mass of it for each mass of solvent ``(N,)``, kg/kg."""
        w = self.mass_fraction
        with np.errstate(divide="ignore"):
            return np.asarray(w / (1.0 - w))

    @property
    def volume_fraction(self) -> Array:
        """Volume fractions of it by the volumes of the pure liquids ``(N,)``; NaN where one is not known."""
        volumes = [
            np.full(len(self), np.nan) if c.liquid_density is None else 1.0 / c.liquid_density.value(self.T)
            for c in self.system.components
        ]
        parts = np.where(self.x > 0.0, self.x * np.stack(volumes, axis=1), 0.0)
        return np.asarray(parts[:, self._place] / parts.sum(axis=1))

    @property
    def solvent(self) -> str:
        """The first solvent as people read it."""
        named = [(share, name) for share, name in zip(self.solvents[0].tolist(), self.system.names, strict=True) if share > 0.0]
        return named[0][1] if len(named) == 1 else " + ".join(f"{share:.3g} {name}" for share, name in named)

    @property
    def _one_solvent(self) -> bool:
        return bool(np.ptp(self.solvents, axis=0).max() < 1e-12)

    def title(self, units: str | None = None) -> str:
        """Of what in what."""
        where = self.solvent if self._one_solvent else f"{len(self)} solvents"
        at = f" at {shown(float(self.T[0]), 'temperature', self.unit_set(units))}" if len(self) == 1 else ""
        return f"Solubility of {self.solid} in {where} ({self.system.model_title}){at}"

    def in_short(self, units: str | None = None) -> str:
        """How much dissolves."""
        parts = []
        for k in sorted({0, len(self) - 1}):
            T = shown(float(self.T[k]), "temperature", self.unit_set(units))
            parts.append(f"{100.0 * self.dissolved[k]:.3g} mol % ({100.0 * self.mass_ratio[k]:.3g} g in 100 g of solvent) at {T}")
        return f"Saturated with {self.solid}: {' and '.join(parts)}."

    def columns(self) -> list[Column]:
        """T, the saturated liquid, and how much of the solid it holds in other words."""
        solvents = np.flatnonzero((self.solvents > 0.0).any(axis=0)).tolist()
        columns = [Column("T", self.T, "temperature"), Column("x", self.dissolved, label=f"x {self.solid}")]
        if len(solvents) > 1:
            columns.append(Column("x_solvents", self.x[:, solvents], of=tuple(self.system.names[i] for i in solvents), label="x"))
        return [
            *columns,
            Column("mass_fraction", self.mass_fraction, label="mass fraction"),
            Column("volume_fraction", self.volume_fraction, label="volume fraction"),
            Column("mass_ratio", self.mass_ratio, label="kg per kg solvent"),
            Column("ideal", self.ideal, label="x ideal"),
            Column("gamma", self.gamma),
        ]

    def sections(self, units: str | None = None) -> list[tuple[str, pd.DataFrame]]:
        """What the answer rests on."""
        import pandas as pd

        ends = sorted({0, len(self) - 1})
        rows = [
            (s.parameter, s.value, f"{s.change:+.3g}", *(100.0 * float(s.effect[k]) for k in ends))
            for s in self.sensitivities
            if np.isfinite(s.effect[ends]).all()
        ]
        heads = [f"x changes at {shown(float(self.T[k]), 'temperature', self.unit_set(units))} [%]" for k in ends]
        return (
            [("What it rests on, in SI", pd.DataFrame(rows, columns=["parameter", "value", "changed by", *heads]))] if rows else []
        )

    def facts(self) -> dict[str, Any]:
        """What it rests on, and what else would happen to the liquids."""
        moves = [{**s._asdict(), "effect": s.effect.tolist()} for s in self.sensitivities]
        return {
            "solid": self.solid,
            "sensitivities": moves,
            "splits": self.splits.tolist(),
            "frozen": [list(names) for names in self.frozen],
        }

    @property
    def notes(self) -> list[str]:
        """Splits, freezing solvents, and what holds for the system."""
        units, notes = self.system.units, [*self.system.notes, *self.system.pair_notes(self.T)]
        notes += self._effect_of_a_guess()
        if self.splits.any():
            T = shown(float(self.T[self.splits][0]), "temperature", units)
            notes.append(f"The saturated liquid would part in two or boil (first at {T}): a flash with the solid has all phases.")
        cold = [float(T) for T, names in zip(self.T, self.frozen, strict=True) if names]
        if cold:
            names = list(dict.fromkeys(name for row in self.frozen for name in row))
            notes.append(
                f"At {shown(max(cold), 'temperature', units)} and below the solvent freezes too ({first_few(names)}): below the eutectic there is no liquid."
            )
        if (melted := self.T >= self._melting_T).any():
            notes.append(
                f"{self.solid} melts at {shown(self._melting_T, 'temperature', units)}: above it all of it is liquid ({int(melted.sum())} of {len(self)} points)."
            )
        return notes

    def _effect_of_a_guess(self) -> list[str]:
        """What the usual error of an estimated heat of fusion does, at the first point that is below the melting point."""
        below = np.flatnonzero(self.T < self._melting_T)
        moves = next((s for s in self.sensitivities if s.parameter == f"fusion_H {self.solid}"), None)
        if self.solid not in guessed_heats(self.system.model.parameters) or moves is None or not below.size:
            return []
        k = int(below[0])
        steps = USUAL_ERROR * moves.value / moves.change * np.array([1.0, -1.0])
        low, high = np.minimum(self.dissolved[k] * (1.0 + moves.effect[k]) ** steps, 1.0)
        return [
            f"With a third more or less heat of fusion the mole fraction at {shown(float(self.T[k]), 'temperature', self.system.units)} is {low:.3g} or {high:.3g} instead of {self.dissolved[k]:.3g}."
        ]

    @property
    def _melting_T(self) -> float:
        return float(self.system.model.parameters[f"melting_T {self.solid}"].function.at(T_REFERENCE))

    @guarded
    def plot(
        self,
        ax: Axes | None = None,
        *,
        figure: str = "T",
        units: str | None = None,
        data: DataSet | None = None,
        beside: Any = None,
    ) -> Axes:
        """Draw it.

        Parameters
        ----------
        ax : optional
            Axes to draw on.
        figure : {"T", "reciprocal"}
            The mole fraction against temperature, or its logarithm against the reciprocal temperature, beside that in an ideal liquid.
        units : {"SI", "metric", "US"}, optional
            Those of the system where it is left out.
        data : DataSet, optional
            Measured solubilities.
        beside : dict of name to Solubility, optional
            The same by other models, or in other solvents.

        Examples
        --------
        >>> import sleetfield as sl
        >>> crystallizer = sl.System(["benzoic acid", "ethanol"], liquid="ideal")
        >>> crystallizer.solubility("benzoic acid", "ethanol", T=[280.0, 300.0, 320.0]).plot().get_ylabel()
        '$x$, mole fraction of benzoic acid'

        """
        from ..diagrams.solubility import draw_solubility

        if figure not in FIGURES:
            raise InputError(f"There is no figure {figure!r} of a solubility. Figures are {', '.join(FIGURES)}.")
        return draw_solubility(self, ax, self.unit_set(units), figure == "reciprocal", data, beside or {})
