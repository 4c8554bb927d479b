"""Solutes at infinite dilution."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..mixture import Mixture
from ..text import shown
from .base import TableResult
from .columns import Column

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False, repr=False)
class Dilution(TableResult):
    """Activity coefficients of solutes at infinite dilution in a solvent at ``N`` temperatures, and how they share out between two.

    Attributes
    ----------
    solutes, solvents : tuple of str
        Solvents in words, one or two.
    T : (N,)
        K.
    ln_gamma : (N, C)
        Of all components of the system, in the first solvent.
    ln_gamma_against : (N, C), optional
        In the second one.
    densities : (N,), optional
        Moles of the first solvent in a volume, over those of the second.
    solvent, against : (N, C), optional
        What both are, where they are two.
    """

    system: Mixture
    solutes: tuple[str, ...]
    solvents: tuple[str, ...]
    T: Array
    ln_gamma: Array
    ln_gamma_against: Array | None = None
    densities: Array | None = None
    solvent: Array | None = None
    against: Array | None = None

    @property
    def _places(self) -> list[int]:
        return [self.system.names.index(name) for name in self.solutes]

    @property
    def gamma(self) -> Array:
        """Activity coefficients of the solutes in the first solvent ``(N, S)``."""
        return np.asarray(np.exp(self.ln_gamma[:, self._places]))

    @property
    def log_partition(self) -> Array:
        """Decimal logarithms of mole fractions in the second solvent over those in the first ``(N, S)``; NaN where there is one solvent."""
        if self.ln_gamma_against is None:
            return np.full_like(self.gamma, np.nan)
        return np.asarray((self.ln_gamma - self.ln_gamma_against)[:, self._places] / np.log(10.0))

    @property
    def log_partition_molar(self) -> Array:
        """The same of concentrations ``(N, S)``."""
        if self.densities is None:
            return self.log_partition
        return np.asarray(self.log_partition - np.log10(self.densities)[:, None])

    def title(self, units: str | None = None) -> str:
        """In which solvents, and by which model."""
        at = f" at {shown(float(self.T[0]), 'temperature', self.unit_set(units))}" if len(self.T) == 1 else ""
        return f"Infinite dilution in {' and in '.join(self.solvents)} ({self.system.model_title}){at}"

    word = "solutes"

    def columns(self) -> list[Column]:
        """A row for each solute and temperature."""
        count, many = len(self.solutes), len(self.T)
        columns = [
            Column("solute", list(self.solutes) * many),
            Column("T", np.repeat(self.T, count), "temperature"),
            Column("gamma", self.gamma.ravel()),
        ]
        if self.ln_gamma_against is None:
            return columns
        return [
            *columns,
            Column("gamma_against", np.exp(self.ln_gamma_against[:, self._places]).ravel(), label="gamma in the other"),
            Column("log_partition", self.log_partition.ravel(), label="log10 K, mole fractions"),
            Column("log_partition_molar", self.log_partition_molar.ravel(), label="log10 K, concentrations"),
        ]

    @property
    def notes(self) -> list[str]:
        """About the model and its ranges, and what K is."""
        notes = [*self.system.notes, *self.system.range_notes(self.T)]
        if self.ln_gamma_against is not None:
            notes.append("K is what the other solvent has of a solute over what the first one has.")
        return notes
