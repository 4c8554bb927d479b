"""What a check of a system found."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

from ..mixture import Mixture
from ..text import shown
from .azeotropes import Azeotrope
from .base import TableResult
from .columns import Column, unlike

if TYPE_CHECKING:
    import pandas as pd


class Finding(NamedTuple):
    """One thing that was found: about which components, what it is about, in words, the number behind it, and whether it is a cause for doubt."""

    components: tuple[str, ...]
    about: str
    text: str
    number: float
    doubtful: bool


@dataclass(frozen=True, eq=False, repr=False)
class ModelCheck(TableResult):
    """A check of a system and its parameters.

    Attributes
    ----------
    T, P : float
        Pairs were looked at at T, K; azeotropes at P, Pa.
    findings : tuple of Finding
    azeotropes : tuple of Azeotrope
    """

    system: Mixture
    T: float
    P: float
    findings: tuple[Finding, ...]
    azeotropes: tuple[Azeotrope, ...]

    @property
    def doubts(self) -> tuple[Finding, ...]:
        """The findings that are a cause for doubt."""
        return tuple(f for f in self.findings if f.doubtful)

    def title(self, units: str | None = None) -> str:
        """Of which system, and where it was looked at."""
        unit_set = self.unit_set(units)
        T, P = shown(self.T, "temperature", unit_set), shown(self.P, "pressure", unit_set)
        return f"Check of {self.system.title}: pairs at {T}, azeotropes at {P}"

    def in_short(self, units: str | None = None) -> str:
        """What there is to doubt."""
        if not self.doubts:
            return "There is no cause for doubt."
        found = "; ".join(f"{' + '.join(f.components)}: {f.about}" for f in self.doubts)
        return f"{len(self.doubts)} to look at: {found}."

    word = "check"
    rows = "findings"

    def facts(self) -> dict[str, Any]:
        """Where it was looked at."""
        return {"T": self.T, "P": self.P}

    def columns(self) -> list[Column]:
        """The findings; those to look at are marked."""
        of = Column("components", [f.components for f in self.findings], words=" + ".join)
        doubtful = Column(
            "doubtful", [f.doubtful for f in self.findings], label="doubt", words=lambda doubt: "look" if doubt else ""
        )
        rest = {"about": "", "text": "finding", "number": ""}
        return [doubtful, of, *(Column(n, [getattr(f, n) for f in self.findings], label=label) for n, label in rest.items())]

    def compared_frame(self) -> pd.DataFrame:
        """The number behind each finding."""
        names = [f"{' + '.join(f.components)}: {f.about}" for f in self.findings]
        return unlike(self.to_frame("SI")[["number"]].set_axis(names))

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """The same without the bare numbers."""
        frame = self.to_frame(units)
        frame["finding"] = [f"{f.about}: {f.text}" for f in self.findings]
        return frame[["doubt", "components", "finding"]]

    @property
    def notes(self) -> list[str]:
        """How many causes for doubt there are."""
        count = len(self.doubts)
        verdict = "There is no cause for doubt among these." if not count else f"{count} to look at, marked."
        return [verdict, *self.system.notes]
