"""Phase envelopes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.constants import R
from ..core.equilibrium.envelope import Line
from .base import Result
from .critical import CriticalPoint
from .text import heading, shown

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from ..system import System

Array = NDArray[np.float64]


class MarkedPoint(NamedTuple):
    """A temperature, K, and a pressure, Pa."""

    T: float
    P: float


class Branch(NamedTuple):
    """A stretch of saturation line of one kind, "bubble" or "dew"."""

    kind: str
    line: Line


@dataclass(frozen=True, eq=False)
class Envelope(Result):
    """The P-T envelope of a mixture.

    Attributes
    ----------
    z : (C,)
        Mole fractions.
    lines : tuple of Line
        The saturation line, in one piece where it is closed.
    quality_lines : mapping of float to Line
        Lines of constant vapor fraction.
    critical_points : tuple of CriticalPoint
    cricondentherm, cricondenbar : MarkedPoint or None
        Highest temperature and highest pressure of the two-phase region; None where the envelope has none.
    unstable : float
        Share of the line's points at which a further phase would form.

    """

    system: System
    z: Array
    lines: tuple[Line, ...]
    quality_lines: Mapping[float, Line]
    critical_points: tuple[CriticalPoint, ...]
    cricondentherm: MarkedPoint | None
    cricondenbar: MarkedPoint | None
    unstable: float

    @property
    def branches(self) -> list[Branch]:
        """The saturation line cut into bubble and dew branches; neighboring branches share the critical point between them."""
        found = []
        for line in self.lines:
            lighter = line.first_is_lighter
            ends = [0, *(i for i in line.critical), len(line.T) - 1]
            for a, b in pairwise(ends):
                if b <= a:
                    continue
                kind = "dew" if lighter[(a + b) // 2] else "bubble"
                found.append(Branch(kind, line.between(a, b)))
        return found

    @property
    def closed(self) -> bool:
        """Whether the line comes back to low pressure on both sides."""
        return all(line.closed for line in self.lines)

    @property
    def notes(self) -> list[str]:
        """What a careful colleague would point out."""
        units = self.system.units
        temperatures = np.concatenate([line.T for line in self.lines])
        notes = [*self.system.notes, *self.system.vapor_pressure_notes(temperatures)]
        if any(line.broken for line in self.lines):
            ends = ", ".join(
                f"{shown(line.T[-1], 'temperature', units)}, {shown(line.P[-1], 'pressure', units)}"
                for line in self.lines
                if line.broken
            )
            notes.append(
                f"The saturation line ends where its phase ceases to exist, at {ends}: a second liquid region meets it there."
            )
        elif not self.closed:
            notes.append(
                f"The envelope is open: it was followed up to {shown(max(line.P.max() for line in self.lines), 'pressure', units)}."
            )
        if not self.critical_points:
            notes.append("No critical point was met.")
        if self.unstable > 0.0:
            notes.append(
                f"Along {100.0 * self.unstable:.0f} % of the line a further phase (a second liquid) would form, which is not drawn; "
                "the two-phase boundary there is not the stable one."
            )
        c, t = self.critical_points, self.cricondentherm
        if c and t is not None and t.T > c[0].T * (1.0 + 1e-6):
            cold, hot = shown(c[0].T, "temperature", units, 4), shown(t.T, "temperature", units, 4)
            notes.append(
                f"Retrograde: between {cold} and {hot} lowering the pressure makes liquid form first, and vanish again later."
            )
        return notes

    def title(self, units: str | None = None) -> str:
        """What of which system."""
        return f"P-T envelope of {self.system.title}"

    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """Every point of every line; ``ln K`` is ln(y/x) between the vapor-like and the liquid-like phase."""
        import pandas as pd

        from ..units import from_si

        unit_set = self.unit_set(units)
        parts = []
        lines = [(b.kind, 1.0 if b.kind == "dew" else 0.0, b.line) for b in self.branches]
        lines += [("quality", q, line) for q, line in self.quality_lines.items()]
        for kind, quality, line in lines:
            T, P, ln_k, Z = line.T, line.P, line.ln_k, line.Z
            sign = np.where(Z[:, :1] >= Z[:, 1:], 1.0, -1.0)
            volumes = np.sort(Z * (R * T / P)[:, None], axis=1)
            columns: dict[str, Any] = {
                "line": kind,
                "vapor_fraction": quality,
                heading("T", "temperature", unit_set): from_si(T, "temperature", unit_set),
                heading("P", "pressure", unit_set): from_si(P, "pressure", unit_set),
                heading("vapor molar_volume", "molar_volume", unit_set): from_si(volumes[:, 1], "molar_volume", unit_set),
                heading("liquid molar_volume", "molar_volume", unit_set): from_si(volumes[:, 0], "molar_volume", unit_set),
            }
            columns.update({f"ln K {name}": sign[:, 0] * ln_k[:, i] for i, name in enumerate(self.system.names)})
            parts.append(pd.DataFrame(columns))
        return pd.concat(parts, ignore_index=True)

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """The marked points: critical, cricondentherm, cricondenbar."""
        import pandas as pd

        from ..units import from_si

        unit_set = self.unit_set(units)
        marked: list[tuple[str, float, float]] = [("critical point", p.T, p.P) for p in self.critical_points]
        if self.cricondentherm is not None:
            marked.append(("cricondentherm", *self.cricondentherm))
        if self.cricondenbar is not None:
            marked.append(("cricondenbar", *self.cricondenbar))
        return pd.DataFrame(
            {
                heading("T", "temperature", unit_set): from_si([m[1] for m in marked], "temperature", unit_set),
                heading("P", "pressure", unit_set): from_si([m[2] for m in marked], "pressure", unit_set),
            },
            index=[m[0] for m in marked],
        )

    def plot(
        self,
        ax: Axes | None = None,
        *,
        units: str | None = None,
        log: bool = False,
        points: Mapping[str, tuple[float, float]] | None = None,
    ) -> Axes:
        """Draw it. ``points`` are further (T, P) to mark, in K and Pa, by name; ``log`` makes the pressure axis logarithmic."""
        from ..diagrams.envelope import draw_envelope

        marks = [("critical", "critical point", p.T, p.P) for p in self.critical_points]
        for kind in ("cricondentherm", "cricondenbar"):
            point = getattr(self, kind)
            if point is not None:
                marks.append((kind, kind, *point))
        marks += [("operating", name, T, P) for name, (T, P) in (points or {}).items()]
        lines = [(b.kind, "", *b.line.smooth()) for b in self.branches]
        lines += [("quality", f"{100 * q:g} % vapor", *line.smooth()) for q, line in self.quality_lines.items()]
        return draw_envelope(ax, lines, marks, self.title(), self.unit_set(units), log)

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {
            "result": "envelope",
            "system": self.system.to_dict(),
            "z": dict(zip(self.system.names, self.z.tolist(), strict=True)),
            "closed": self.closed,
            "critical_points": [p.to_dict() for p in self.critical_points],
            "cricondentherm": self.cricondentherm._asdict() if self.cricondentherm else None,
            "cricondenbar": self.cricondenbar._asdict() if self.cricondenbar else None,
            "lines": [
                *({"line": b.kind, "T": b.line.T.tolist(), "P": b.line.P.tolist()} for b in self.branches),
                *(
                    {"line": "quality", "vapor_fraction": q, "T": v.T.tolist(), "P": v.P.tolist()}
                    for q, v in self.quality_lines.items()
                ),
            ],
            "notes": self.notes,
        }
