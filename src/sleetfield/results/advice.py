"""Which model to take: those that there are, ranked, with the reasons of every rule that fired."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, NamedTuple

from ..errors import InputError
from ..mixture import Mixture
from .base import Table
from .columns import Column

if TYPE_CHECKING:
    import pandas as pd

_SHOWN = 5


class Reason(NamedTuple):
    """A rule that fired: how much it counts, why, by whom, and whether it is one of all models."""

    points: float
    text: str
    reference: str
    of_all: bool = False


@dataclass(frozen=True, eq=False)
class Suggestion:
    """One model: a system that can be calculated with at once, what counts for and against it, and what to do next.

    Attributes
    ----------
    name : str
    system : System
    points : float
    reasons : tuple of Reason
        The weightiest first.
    missing : tuple of str
        Pairs without parameters.
    next : tuple of str
        What to do before relying on it.
    """

    name: str
    system: Mixture
    points: float
    reasons: tuple[Reason, ...]
    missing: tuple[str, ...]
    next: tuple[str, ...]

    def explain(self) -> str:
        """Every rule that fired, with its reference."""
        lines = [f"{self.name}: {self.points:+.1f}"]
        lines += [f"  {r.points:+.1f}  {r.text} [{r.reference}]" for r in self.reasons]
        return "\n".join([*lines, *(f"  next: {step}" for step in self.next)])


@dataclass(frozen=True, eq=False, repr=False)
class Advice(Table):
    """Models for a mixture, the best first.

    Attributes
    ----------
    names : tuple of str
    facts_found : mapping of str to str
        What was found of the mixture and the question, and in which components.
    suggestions : tuple of Suggestion
    excluded : mapping of str to str
        Models that can't do it, and why.
    phases : tuple of str
        What to expect.
    """

    names: tuple[str, ...]
    facts_found: dict[str, str]
    suggestions: tuple[Suggestion, ...]
    excluded: dict[str, str]
    phases: tuple[str, ...]

    word = "advice"
    rows = "models"

    def __len__(self) -> int:
        return len(self.suggestions)

    def __getitem__(self, which: int | str) -> Suggestion:
        """A suggestion, by rank from 0, or by name."""
        found = [s for k, s in enumerate(self.suggestions) if which in (k, s.name)]
        if not found:
            raise InputError(
                f"There is no suggestion {which!r}; there are {', '.join(s.name for s in self.suggestions) or 'none'}."
            )
        return found[0]

    def title(self, units: str | None = None) -> str:
        """Of which mixture."""
        return f"Models for {' + '.join(self.names)}"

    def columns(self) -> list[Column]:
        """Each model's points, what counts most for and against it, and pairs that lack parameters."""
        return [
            Column("model", [s.name for s in self.suggestions]),
            Column("points", [s.points for s in self.suggestions]),
            Column("because", [_most(s, 1.0) for s in self.suggestions]),
            Column("but", [_most(s, -1.0) for s in self.suggestions]),
            Column("missing", [", ".join(s.missing) for s in self.suggestions], label="without parameters"),
        ]

    def in_short(self, units: str | None = None) -> str:
        """The first suggestion, and why."""
        if not self.suggestions:
            return "None of the models here covers this."
        best = self.suggestions[0]
        return f"Take {best.name}. {_most(best, 1.0)}."

    def compared_frame(self) -> pd.DataFrame:
        """The points of each model."""
        return self.to_frame("SI").set_index("model")[["points"]]

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """The first few."""
        return self.to_frame(units).head(_SHOWN)

    def facts(self) -> dict[str, Any]:
        """What was found, what was excluded, every reason."""
        reasons = {s.name: [r._asdict() for r in s.reasons] for s in self.suggestions}
        return {"found": self.facts_found, "excluded": self.excluded, "phases": list(self.phases), "reasons": reasons}

    def explain(self) -> str:
        """Every rule that fired for every model, with its reference."""
        return "\n\n".join(s.explain() for s in self.suggestions)

    @property
    def notes(self) -> list[str]:
        """What was found, which phases to expect, what to do next with the first, and what can't do it."""
        told = "; ".join(f"{fact}: {who}" if who else fact for fact, who in self.facts_found.items() if not fact.startswith("not "))
        notes = [f"Found: {told}.", *(f"Expect {phase}." for phase in self.phases)]
        if self.suggestions:
            best = self.suggestions[0]
            notes += [
                f"None of them can represent this: {r.text[0].lower()}{r.text[1:]}."
                for r in best.reasons
                if r.of_all and r.points < 0.0
            ]
            notes += [f"With {best.name}: {step}." for step in best.next]
        else:
            notes.append("None of the models here covers this.")
        return notes + [f"Not {name}: {why}." for name, why in self.excluded.items()]


def _most(s: Suggestion, sign: float) -> str:
    own = [r for r in s.reasons if r.points * sign > 0.0]
    return max(own, key=lambda r: abs(r.points)).text if own else ""
