"""Phase envelopes, and several of them side by side."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..arguments import guarded
from ..core.constants import R
from ..core.equilibrium.envelope import Line
from ..core.equilibrium.three_phase_line import ThreePhaseLine
from ..core.properties import phase_properties
from ..diagrams.style import AXES, full_title
from ..errors import InputError
from ..mixture import Mixture
from ..specified import marked_states
from ..text import heading, shown
from .base import Result, Shown
from .columns import Column, frame, lists, records, unlike, yes_or_no
from .critical import CriticalPoint, critical_columns
from .later import Later

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from .state import State

Array = NDArray[np.float64]

_MOSTLY = 0.5
_SHARES = {"dew": 1.0, "bubble": 0.0, "liquid-liquid": 0.0}
"""The share of vapor along a branch."""


class MarkedPoint(NamedTuple):
    """A temperature, K, and a pressure, Pa."""

    T: float
    P: float


class Dropout(NamedTuple):
    """The retrograde range, K, the most liquid halfway through it as a share of the volume, and where that is."""

    T_low: float
    T_high: float
    liquid: float
    at: MarkedPoint


class Branch(NamedTuple):
    """A stretch of saturation line of one kind, "bubble", "dew" or "liquid-liquid", and at which of its points a further phase would form."""

    kind: str
    line: Line
    unstable: NDArray[np.bool_]


_WORTH_SAYING = 0.5
"""K; a retrograde range that is narrower needs no note."""


@dataclass(frozen=True, eq=False, repr=False)
class Envelope(Result):
    """The P-T envelope of a mixture.

    Attributes
    ----------
    z : (C,)
        Mole fractions.
    lines : tuple of Line
        The saturation line, in one piece where it is closed.
    quality_lines : mapping of float to tuple of Line
        Lines of constant vapor fraction, by mole or by mass as ``quality_basis`` says, where they are the equilibrium: none where there is no such state,
        several where a region of three phases or a limit lies between.
    critical_points : tuple of CriticalPoint
    cricondentherm, cricondenbar : MarkedPoint or None
        Highest temperature and highest pressure of the stable boundary; None where it goes on beyond the limits.
    unstable_points, of_liquids : tuple of (M,)
        At which points of the lines a further phase would form, and at which both phases are liquids.
    second_liquid : tuple of MarkedPoint
        Where along the line that begins or ends: three phases meet there.
    later : Later
        What is asked only now and then.
    three_phase : tuple of ThreePhaseLine
        Borders of regions of three phases.
    missing_critical : tuple of CriticalPoint
        Stable critical points that no line came to.
    surveyed_from : float
        The lowest temperature, K, at which it was looked for states that quality lines begin from; NaN where there was no need to.

    """

    has_picture = True

    system: Mixture
    z: Array
    lines: tuple[Line, ...]
    quality_lines: Mapping[float, tuple[Line, ...]]
    quality_basis: str
    critical_points: tuple[CriticalPoint, ...]
    cricondentherm: MarkedPoint | None
    cricondenbar: MarkedPoint | None
    unstable_points: tuple[NDArray[np.bool_], ...]
    of_liquids: tuple[NDArray[np.bool_], ...]
    second_liquid: tuple[MarkedPoint, ...]
    later: Later
    three_phase: tuple[ThreePhaseLine, ...] = ()
    missing_critical: tuple[CriticalPoint, ...] = ()
    surveyed_from: float = np.nan

    @property
    def branches(self) -> list[Branch]:
        """The saturation line cut into bubble and dew branches; neighboring branches share the critical point between them."""
        found = []
        for line, unstable, liquids in zip(self.lines, self.unstable_points, self.of_liquids, strict=True):
            lighter = line.first_is_lighter
            ends = [0, *(i for i in line.critical), len(line.T) - 1]
            for a, b in pairwise(ends):
                if b <= a:
                    continue
                kind = "dew" if lighter[(a + b) // 2] else "bubble"
                if liquids[a : b + 1].mean() > _MOSTLY:
                    kind = "liquid-liquid"
                found.append(Branch(kind, line.between(a, b), unstable[a : b + 1]))
        return found

    @property
    def unstable(self) -> float:
        """Share of the lines' points at which a further phase would form."""
        return float(np.concatenate(self.unstable_points).mean())

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
            ends = self._ends([line for line in self.lines if line.broken])
            notes.append(
                f"The saturation line ends where its phase ceases to exist, at {ends}: a second liquid region meets it there."
            )
        elif not self.closed:
            ends = self._ends([line for line in self.lines if not line.closed])
            notes.append(f"The envelope is open: it was followed up to {ends}.")
        if not self.critical_points:
            notes.append("No critical point was met.")
        for point in self.missing_critical:
            place = f"{shown(point.T, 'temperature', units, 4)}, {shown(point.P, 'pressure', units, 4)}"
            notes.append(f"There is a stable critical point at {place} that no line came to: the boundary next to it is missing.")
        lacking = [f"{100.0 * q:g} %" for q, parts in self.quality_lines.items() if not parts]
        if lacking:
            where = " outside the regions of three phases" if self.three_phase else ""
            above = f" above {shown(self.surveyed_from, 'temperature', units, 4)}" if np.isfinite(self.surveyed_from) else ""
            notes.append(
                f"No state of a vapor and a liquid with {', '.join(lacking)} vapor was found{where}{above}: there is no such line."
            )
        if self.unstable > 0.0:
            where = ", ".join(
                f"{shown(p.T, 'temperature', units, 4)} and {shown(p.P, 'pressure', units, 4)}" for p in self.second_liquid
            )
            notes.append(
                f"Along {100.0 * self.unstable:.0f} % of the line a further phase ({self._further}) would form; "
                "the two-phase boundary there, a thin line in the figure, is not the stable one."
                + (f" That begins or ends at {where}." if where else "")
            )
        if self.cricondenbar is None and self.critical_points and any(flags.any() for flags in self.of_liquids) and not self.closed:
            notes.append("No cricondenbar is marked: two liquids form up to higher pressures.")
        if self.three_phase:
            two = int((self.z > 0.0).sum()) == 2
            notes.append("On the dotted line three phases meet." if two else "Within the dotted lines there are three phases.")
        if self.dropout is not None and self.dropout[1] - self.dropout[0] >= _WORTH_SAYING:
            low, high, liquid, at = self.dropout
            cold, hot = shown(low, "temperature", units, 4), shown(high, "temperature", units, 4)
            where = f"{shown(at.T, 'temperature', units, 4)} and {shown(at.P, 'pressure', units, 3)}"
            notes.append(
                f"Retrograde: between {cold} and {hot} lowering the pressure makes liquid form first, and vanish again later; "
                f"halfway at most {100.0 * liquid:.2g} % of the volume, at {where}."
            )
        return notes

    def _ends(self, lines: list[Line]) -> str:
        """In words: where lines end."""
        units = self.system.units
        return ", ".join(
            f"{shown(line.T[-1], 'temperature', units, 4)}, {shown(line.P[-1], 'pressure', units, 4)}" for line in lines
        )

    @cached_property
    def dropout(self) -> Dropout | None:
        """The retrograde range of temperature, and the most liquid by volume halfway through it; None where there is no such range."""
        c, t = [p for p in self.critical_points if p.stable], self.cricondentherm
        if not c or t is None or t.T <= c[0].T * (1.0 + 1e-6):
            return None
        highest = self.cricondenbar.P if self.cricondenbar is not None else max(line.P.max() for line in self.lines)
        P = np.linspace(0.005, 1.0, 200) * highest
        states = self.later.flash(self.system, self.z, T=0.5 * (c[0].T + t.T), P=P)
        liquid = np.where(states.n_phases > 1, 1.0 - states.of_phases("volume_fraction")[:, 0], 0.0)
        most = int(np.nanargmax(liquid))
        return Dropout(c[0].T, t.T, float(liquid[most]), MarkedPoint(float(states.T[most]), float(P[most])))

    def along(self, line: Line) -> dict[str, Array]:
        """Properties of the whole mixture along one of its lines ``(M,)``, by the names of `AXES`."""
        model, heat = self.system.phase_model, self.system.heat_capacities
        K = np.exp(np.nan_to_num(line.ln_k))
        beta = line.beta[:, None]
        x = self.z / (1.0 - beta + beta * K)
        y = K * x
        parts = [
            phase_properties(model, heat, line.T, line.P, phase / phase.sum(axis=1)[:, None], kinds)
            for phase, kinds in ((y, line.roots[:, 0]), (x, line.roots[:, 1]))
        ]
        total = {
            name: line.beta * getattr(parts[0], name) + np.where(line.beta < 1.0, (1.0 - line.beta) * getattr(parts[1], name), 0.0)
            for name in ("H", "S", "V")
        }
        density = float(self.z @ self.system.molar_mass) / total["V"]
        return {"T": line.T, "P": line.P, "H": total["H"], "S": total["S"], "molar_volume": total["V"], "density": density}

    def title(self, units: str | None = None, x: str = "T", y: str = "P") -> str:
        """What of which system."""
        return f"{y}-{x} envelope of {self.system.title}"

    def in_short(self, units: str | None = None) -> str:
        """How hot and at how high a pressure there can be two phases."""
        unit_set = self.unit_set(units)
        parts = []
        if self.cricondentherm is not None:
            parts.append(f"up to {shown(self.cricondentherm.T, 'temperature', unit_set, 4)} (cricondentherm)")
        if self.cricondenbar is not None:
            parts.append(f"up to {shown(self.cricondenbar.P, 'pressure', unit_set, 4)} (cricondenbar)")
        critical = [
            f"{shown(p.T, 'temperature', unit_set, 4)}, {shown(p.P, 'pressure', unit_set, 4)}" for p in self.critical_points
        ]
        whole = f"There can be more than one phase {' and '.join(parts)}." if parts else "The envelope is open."
        return whole + (f" Critical at {'; '.join(critical)}." if critical else "")

    def line_columns(self) -> list[list[Column]]:
        """Columns of each line; ``ln K`` is ln(y/x) between the vapor-like and the liquid-like phase.

        ``stable`` says of saturation lines whether they are the boundary there; quality lines and borders of three phases are given where they are.
        """
        lines = [(b.kind, _SHARES[b.kind], b.line, ~b.unstable) for b in self.branches]
        lines += [("quality", q, part, np.ones_like(part.T, bool)) for q, parts in self.quality_lines.items() for part in parts]
        found = [self._columns_of(*line) for line in lines]
        for border in self.three_phase:
            name, share = Column("line", "three-phase"), Column("vapor_fraction", np.nan)
            T, P = Column("T", border.T, "temperature"), Column("P", border.P, "pressure")
            found.append([name, share, T, P, Column("stable", [True] * len(border.T), words=yes_or_no)])
        return found

    def _columns_of(self, kind: str, quality: float, line: Line, stable: NDArray[np.bool_]) -> list[Column]:
        lighter, whole = line.first_is_lighter, self.along(line)
        volumes = np.where(lighter[:, None], line.Z, line.Z[:, ::-1]) * (R * line.T / line.P)[:, None]
        return [
            Column("line", kind),
            Column("vapor_fraction", quality),
            *(Column(name, whole[name], AXES[name][2]) for name in ("T", "P", "H", "S", "density")),
            Column("vapor molar_volume", volumes[:, 0], "molar_volume"),
            Column("liquid molar_volume", volumes[:, 1], "molar_volume"),
            Column("ln K", np.where(lighter, 1.0, -1.0)[:, None] * line.ln_k, of=self.system.names),
            Column("stable", stable, words=yes_or_no),
        ]

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """Every point of every line: see `line_columns`."""
        import pandas as pd

        return pd.concat([frame(columns, self.unit_set(units)) for columns in self.line_columns()], ignore_index=True)

    @property
    def marked(self) -> list[tuple[str, str, float, float]]:
        """Marked points: the kind of mark, a name, T and P."""
        found = [("critical", "critical point", p.T, p.P) for p in self.critical_points]
        for kind in ("cricondentherm", "cricondenbar"):
            point = getattr(self, kind)
            if point is not None:
                found.append((kind, kind, *point))
        return found + [("three phases", self._further.removeprefix("a "), *point) for point in self.second_liquid]

    @property
    def _further(self) -> str:
        """What forms where a further phase does."""
        return "a second liquid or a solid" if self.system.model.solids else "a second liquid"

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """The marked points: critical, cricondentherm, cricondenbar, and where a second liquid begins."""
        import pandas as pd

        from ..units import from_si

        unit_set = self.unit_set(units)
        return pd.DataFrame(
            {
                heading("T", "temperature", unit_set): from_si([m[2] for m in self.marked], "temperature", unit_set),
                heading("P", "pressure", unit_set): from_si([m[3] for m in self.marked], "pressure", unit_set),
            },
            index=[m[1] for m in self.marked],
        )

    def compared_frame(self) -> pd.DataFrame:
        """The marked points; those of lines are nowhere the same."""
        return unlike(self.summary_frame("SI"))

    def smooth_lines(self) -> Iterator[tuple[str, float, dict[str, Array]]]:
        """Lines of the mixture as they are drawn: kind, share of vapor, and properties of the whole along them, by the names of `AXES` and ``vapor_fraction``."""
        for branch in self.branches:
            fine = branch.line.smooth()
            values = {**self.along(fine), "vapor_fraction": fine.beta}
            for kind, part in self._pieces(branch):
                yield kind, _SHARES[branch.kind], {name: value[part] for name, value in values.items()}
        for q, parts in self.quality_lines.items():
            for line in parts:
                fine = line.smooth()
                yield "quality", q, {**self.along(fine), "vapor_fraction": fine.beta}

    def curves(self, x: str, y: str) -> list[tuple[str, str, Array, Array]]:
        """Lines to draw: kind, label, and smooth columns of two of `AXES`."""
        lines = [("", b.line, self._pieces(b)) for b in self.branches]
        share = "vapor" if self.quality_basis == "mole" else "vapor by mass"
        for q, parts in self.quality_lines.items():
            lines += [
                (f"{100 * q:g} % {share}" if k == 0 else "", part, [("quality", slice(None))]) for k, part in enumerate(parts)
            ]
        found = []
        for label, line, pieces in lines:
            fine = line.smooth()
            values = {"T": fine.T, "P": fine.P} if {x, y} <= {"T", "P"} else self.along(fine)
            found += [(kind, label, values[x][part], values[y][part]) for kind, part in pieces]
        for k, border in enumerate(self.three_phase if {x, y} <= {"T", "P"} else ()):
            found.append(("three phases", "three phases" if k == 0 else "", *(getattr(border, axis) for axis in (x, y))))
        return found

    def _pieces(self, branch: Branch) -> list[tuple[str, slice]]:
        """A branch's smooth columns cut where it begins or ceases to be the stable boundary; of a kind that says so where it is not."""
        line, unstable = branch.line, branch.unstable
        fine = line.smooth()
        path = np.log(np.stack([fine.T, fine.P], axis=1))
        per = max((len(path) - 1) // (len(unstable) - 1), 1)
        ends = [0]
        for i in np.flatnonzero(unstable[1:] != unstable[:-1]):
            here = path[i * per : (i + 1) * per + 1]
            away = [np.abs(here - np.log(place)).max(axis=1) for place in self.second_liquid] or [np.zeros(1)]
            ends.append(int(i * per + min(away, key=np.min).argmin()))
        ends.append(len(path) - 1)
        kinds = [branch.kind, f"{branch.kind}, not stable"]
        first = int(unstable[0])
        return [(kinds[(first + k) % 2], slice(a, b + 1)) for k, (a, b) in enumerate(pairwise(ends)) if b > a]

    @guarded
    def plot(
        self,
        ax: Axes | None = None,
        *,
        x: str = "T",
        y: str = "P",
        units: str | None = None,
        log: bool = False,
        marks: Mapping[str, tuple[Any, Any]] | None = None,
    ) -> Axes:
        """Draw it, P against T or any two of ``T, P, H, S, density, molar_volume``.

        ``marks`` are further states to mark by name, such as ``{"drum": ("-20 degC", "20 bar")}``, numbers in K and Pa; each says its vapor fraction. ``log`` makes the y axis logarithmic.
        """
        from ..diagrams.envelope import draw_envelope

        _check_axes(x, y)
        marked = list(self.marked)
        if points := marked_states(marks):
            T, P = zip(*points.values(), strict=True)
            states = self.later.flash(self.system, self.z, T=list(T), P=list(P))
            marked += [
                ("operating", f"{name}: {_phases_in_words(state)}", state.T, state.P)
                for name, state in zip(points, states, strict=True)
            ]
        places = self._places(marked, x, y)
        drawn = [(kind, name, *place) for (kind, name, _, _), place in zip(marked, places, strict=True)]
        ax = draw_envelope(ax, self.curves(x, y), drawn, full_title(self, units, x, y), (x, y), self.unit_set(units), log)
        if y == "P" and not log and not self.closed and any(line.closed for line in self.lines):
            # of boundaries of liquids that go on to high pressure only the beginning is shown
            from ..units import from_si

            parts = [line.P for line in self.lines if line.closed] + [line.P for line in self.three_phase]
            highest = max(float(np.concatenate(parts).max()), *(m[3] for m in marked), 0.0)
            ax.set_ylim(top=float(from_si(1.15 * highest, "pressure", self.unit_set(units))))
        return ax

    def _places(self, marks: list[tuple[str, str, float, float]], x: str, y: str) -> list[tuple[float, float]]:
        """Where marks stand on the chosen axes."""
        if not marks or {x, y} <= {"T", "P"}:
            return [(T, P) if x == "T" else (P, T) for _, _, T, P in marks]
        states = self.later.flash(self.system, self.z, T=[m[2] for m in marks], P=[m[3] for m in marks])
        return [(float(getattr(states, x)[i]), float(getattr(states, y)[i])) for i in range(len(marks))]

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {
            "result": "envelope",
            "system": self.system.outline(),
            "z": dict(zip(self.system.names, self.z.tolist(), strict=True)),
            "closed": self.closed,
            "critical_points": records(critical_columns(self.critical_points)),
            "cricondentherm": self.cricondentherm._asdict() if self.cricondentherm else None,
            "cricondenbar": self.cricondenbar._asdict() if self.cricondenbar else None,
            "second_liquid": [p._asdict() for p in self.second_liquid],
            "quality_basis": self.quality_basis,
            "lines": [lists(columns) for columns in self.line_columns()],
            "notes": self.notes,
        }


def _check_axes(*axes: str) -> None:
    """Refuse what an envelope cannot be drawn against."""
    for axis in axes:
        if axis not in AXES:
            raise InputError(f"There is no axis {axis!r} for an envelope. Axes are {', '.join(AXES)}.")


def _phases_in_words(state: State) -> str:
    """The only phase, or how much of it is vapor."""
    if state.n_phases == 1:
        return state.phases[0].kind
    return f"{100.0 * state.vapor_fraction:.3g} % vapor"


@dataclass(frozen=True, eq=False, repr=False)
class EnvelopeComparison(Shown):
    """Envelopes of several mixtures, by name."""

    envelopes: Mapping[str, Envelope]

    @property
    def first(self) -> Envelope:
        """The first of them, whose units are used."""
        return next(iter(self.envelopes.values()))

    def title(self, units: str | None = None, x: str = "T", y: str = "P") -> str:
        """Of what."""
        return f"{y}-{x} envelopes of {', '.join(self.envelopes)}"

    def in_short(self, units: str | None = None) -> str:
        """Each in a sentence."""
        return " ".join(f"{name}: {envelope.in_short(units)}" for name, envelope in self.envelopes.items())

    @guarded
    def to_frame(self, units: str | None = None) -> pd.DataFrame:
        """Every point of every line, with the mixture's name."""
        import pandas as pd

        unit_set = self.first.unit_set(units)
        frames = {name: envelope.to_frame(unit_set) for name, envelope in self.envelopes.items()}
        for name, table in frames.items():
            table.insert(0, "mixture", name)
        return pd.concat(frames.values(), ignore_index=True)

    def summary_frame(self, units: str | None = None) -> pd.DataFrame:
        """Marked points of each, a row for each mixture."""
        import pandas as pd

        unit_set = self.first.unit_set(units)
        rows = {}
        for name, envelope in self.envelopes.items():
            summary = envelope.summary_frame(unit_set)
            summary = summary[~summary.index.duplicated()]
            rows[name] = {f"{point} {column}": summary.loc[point, column] for point in summary.index for column in summary.columns}
        return pd.DataFrame.from_dict(rows, orient="index")

    def compared_frame(self) -> pd.DataFrame:
        """The marked points of each."""
        return self.summary_frame("SI")

    @property
    def notes(self) -> list[str]:
        """What there is to say about each, said once where it is the same."""
        notes = {name: envelope.notes for name, envelope in self.envelopes.items()}
        everywhere = [n for n in self.first.notes if all(n in own for own in notes.values())]
        return everywhere + [f"{name}: {n}" for name, own in notes.items() for n in own if n not in everywhere]

    @guarded
    def plot(
        self,
        ax: Axes | None = None,
        *,
        x: str = "T",
        y: str = "P",
        units: str | None = None,
        log: bool = False,
        marks: Mapping[str, tuple[Any, Any]] | None = None,
    ) -> Axes:
        """All of them in one figure: a color for each mixture, dew lines dashed; ``marks`` as for `Envelope.plot`, without phases."""
        from ..diagrams.envelope import draw_envelopes

        _check_axes(x, y)
        points = marked_states(marks)
        if points and {x, y} != {"T", "P"}:
            raise InputError("Points in a comparison are marked where the axes are T and P.")
        marked = [("operating", name, *((T, P) if x == "T" else (P, T))) for name, (T, P) in points.items()]
        title = f"{y}-{x} envelopes: {'; '.join(f'{name}: {e.system.full_title(e.z)}' for name, e in self.envelopes.items())}"
        drawn = {}
        for name, envelope in self.envelopes.items():
            critical = [m for m in envelope.marked if m[0] == "critical"]
            drawn[name] = envelope.curves(x, y), envelope._places(critical, x, y)
        return draw_envelopes(ax, drawn, marked, title, (x, y), self.first.unit_set(units), log)

    def to_dict(self) -> dict[str, Any]:
        """Everything in SI, as plain values."""
        return {"result": "envelopes", "envelopes": {name: envelope.to_dict() for name, envelope in self.envelopes.items()}}


@guarded
def compare_envelopes(envelopes: Mapping[str, Envelope]) -> EnvelopeComparison:
    """Several envelopes side by side: samples, lean and rich variants, before and after a change.

    Parameters
    ----------
    envelopes : mapping of names to Envelope
        What each is called in the figure and the table.

    Raises
    ------
    InputError
        If there is none.

    Examples
    --------
    >>> import sleetfield as sl
    >>> gas = sl.System(["methane", "propane"], eos="PR", units="metric")
    >>> both = sl.compare_envelopes({"lean": gas.envelope([0.9, 0.1]), "rich": gas.envelope([0.6, 0.4])})
    >>> both.summary_frame()["cricondentherm T [degC]"].round(1).tolist()
    [-18.0, 43.7]

    """
    if not envelopes:
        raise InputError("There is no envelope to compare: give them by name, {'lean': ..., 'rich': ...}.")
    return EnvelopeComparison(dict(envelopes))
