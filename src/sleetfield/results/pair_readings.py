"""Numbers of a pair from a paper, read in every way that they could have been meant."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np

from ..pairs import PairParameters
from ..text import shown
from .base import Table
from .columns import Column, yes_or_no

if TYPE_CHECKING:
    import pandas as pd

_SHOWN = 5
"""Readings that are printed where none fits."""
FITS = 0.1
"""How near ln γ comes to what was published where a reading is the right one."""


class PairReading(NamedTuple):
    """One way to read the numbers: in words, the parameters, γ∞ of both components, and how far ln γ is from what they are held against (NaN where that is nothing)."""

    words: str
    parameters: PairParameters
    gamma_infinity: tuple[float, float]
    deviation: float

    @property
    def fits(self) -> bool:
        """Whether it gives what it is held against."""
        return self.deviation < FITS


@dataclass(frozen=True, eq=False, repr=False)
class PairReadings(Table):
    """Every reading, those that fit first; ``best`` is the first of them.

    Attributes
    ----------
    model : str
    pair : two names
    T : float
        K; where γ∞ are told.
    against : str
        What the readings are held against, in words.
    entries : tuple of PairReading
    bank : tuple of two floats, or None
        γ∞ by the set that the bank has, where it has one.
    """

    model: str
    pair: tuple[str, str]
    T: float
    against: str
    entries: tuple[PairReading, ...]
    bank: tuple[float, float] | None

    word = "readings of a pair"
    rows = "readings"

    @property
    def best(self) -> PairReading:
        """The reading that comes nearest."""
        return self.entries[0]

    def title(self, units: str | None = None) -> str:
        """Of which numbers."""
        return f"{self.model} parameters of {' and '.join(self.pair)}: {self.entries_given}"

    @property
    def entries_given(self) -> str:
        """The numbers as they were given."""
        return str(next(e.parameters for e in self.entries if e.words == AS_GIVEN))

    def about(self) -> dict[str, Any]:
        """Model and pair."""
        return {"model": self.model, "pair": list(self.pair), "T": self.T, "against": self.against}

    def columns(self) -> list[Column]:
        """What each reading gives."""
        first, second = self.pair
        gammas = np.array([e.gamma_infinity for e in self.entries])
        return [
            Column("read", [e.words for e in self.entries]),
            Column(f"gamma_inf {first}", gammas[:, 0], label=f"γ∞ of {first}"),
            Column(f"gamma_inf {second}", gammas[:, 1], label=f"γ∞ of {second}"),
            Column("deviation", [e.deviation for e in self.entries], label="ln γ off by"),
            Column("fits", [e.fits for e in self.entries], words=yes_or_no),
        ]

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """The readings that fit, and the numbers as given; the nearest few where there is nothing that fits."""
        near = sorted(self.entries, key=lambda e: e.deviation)[:_SHOWN]
        shown_rows = [e.fits or e.words == AS_GIVEN for e in self.entries]
        if not any(e.fits for e in self.entries):
            shown_rows = [e in near or e.words == AS_GIVEN for e in self.entries]
        return self.to_frame(units)[shown_rows].reset_index(drop=True)

    @property
    def notes(self) -> list[str]:
        """What they are held against, and what the bank has."""
        fitting = [e.words for e in self.entries if e.fits]
        notes = [f"γ∞ are those at {shown(self.T, 'temperature', 'metric', 4)}."]
        if self.against:
            verdict = "No reading gives it" if not fitting else f"{len(fitting)} of {len(self.entries)} readings give it"
            notes.append(f"Held against {self.against}. {verdict}.")
        else:
            notes.append("There is nothing to hold them against: give γ∞ or an azeotrope that was published along.")
        if self.bank is not None:
            notes.append(f"The bank's set gives {self.bank[0]:.3g} and {self.bank[1]:.3g}.")
        return notes


AS_GIVEN = "as given"
