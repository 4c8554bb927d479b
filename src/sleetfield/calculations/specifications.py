"""Flashes at any two given quantities."""

from __future__ import annotations

import functools
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ..core.arrays import ABSENT, Index
from ..core.blocks import put_rows, take_rows
from ..core.equilibrium.flash import FlashResult, flash, result_of_phases
from ..core.equilibrium.saturation import SaturationResult
from ..core.models.contract import LIQUID, VAPOR
from ..core.neither_given import flash_along, flash_without, others_without, pairing
from ..core.restricted import RESTRICTIONS, restricted_flash
from ..core.specification import FRACTIONS, Specification, Thermodynamics
from ..core.specified_flash import SpecifiedFlash, easily_to, flash_among, flash_to, nothing, other_solutions
from ..errors import InputError
from ..mixture import Mixture
from ..specified import DIMENSIONS
from ..text import shown
from .saturation import SOLVERS, saturate

if TYPE_CHECKING:
    from concurrent.futures import Executor

Array = NDArray[np.float64]

SAME = ({"V", "density"}, {"vapor_fraction", "vapor_mass_fraction"})
"""What cannot be given together."""

_MAY_REPEAT = (
    {"T", "H"},
    {"T", "U"},
    {"T", "vapor_fraction"},
    {"P", "vapor_fraction"},
    {"T", "vapor_mass_fraction"},
    {"P", "vapor_mass_fraction"},
)
"""Pairs that more than one state can have: an enthalpy against pressure, a share of vapor in the retrograde region."""

_WORDS = {
    "H": "enthalpy",
    "S": "entropy",
    "U": "internal energy",
    "V": "volume",
    "density": "density",
    "vapor_fraction": "vapor fraction",
    "vapor_mass_fraction": "vapor fraction by mass",
}


def solve(system: Mixture, given: dict[str, Array], z: Array, executor: Executor | None = None) -> tuple[Array, Array, FlashResult]:
    """T, P and the phases of states of which two quantities are given.

    Raises
    ------
    InputError
        If an enthalpy, entropy or internal energy is given and a component lacks a heat capacity, or a density and a molar mass is lacking.
    """
    if set(given) != {"T", "P"}:
        system.need_vapor("flash at other quantities than T and P")
    for name in given:
        _require(system, name, z)
    edge, mixture = functools.partial(_edge, system), system.thermodynamics
    beside = _Beside(edge, functools.partial(flash_to, mixture, executor=executor), mixture)
    # on the way to where two other quantities have their targets, states that are hard to find can be missed
    between = _Beside(edge, functools.partial(easily_to, mixture, executor=executor), mixture)
    return _solved(system, given, z, lambda T, P: flash(system.phase_model, T, P, z, executor), beside, between, flash_without)


def solve_restricted(
    system: Mixture, given: dict[str, Array], z: Array, phases: str, executor: Executor | None = None
) -> tuple[Array, Array, FlashResult]:
    """The same among certain phases alone.

    Raises
    ------
    InputError
        If there is no such restriction, or a share of vapor is given where there is no vapor beside a liquid.
    """
    if phases not in RESTRICTIONS:
        known = ", ".join(f"{name!r} ({words})" for name, words in RESTRICTIONS.items())
        raise InputError(f"phases is {phases!r}; it is one of {known}.")
    for name in given:
        _require(system, name, z)
        if name in FRACTIONS and phases != "VL":
            raise InputError(f"A {_WORDS[name]} takes a vapor beside a liquid: with phases={phases!r} give another quantity.")
    at = functools.partial(_restricted, phases)
    beside = _Beside(
        functools.partial(_pair_edge, system),
        functools.partial(flash_among, system.thermodynamics, at=at, executor=executor),
        system.thermodynamics,
    )

    def there(T: Array, P: Array) -> FlashResult:
        return restricted_flash(system.thermodynamics, T, P, z, phases, executor=executor)

    return _solved(system, given, z, there, beside, beside, flash_along)


def _restricted(phases: str, mixture: Thermodynamics, T: Array, P: Array, z: Array) -> FlashResult:
    return restricted_flash(mixture, T, P, z, phases)


def _solved(
    system: Mixture,
    given: dict[str, Array],
    z: Array,
    at: Callable[[Array, Array], FlashResult],
    beside: _Beside,
    between: _Beside,
    without: Callable[..., SpecifiedFlash],
) -> tuple[Array, Array, FlashResult]:
    """T, P and the phases: by ``at`` where both are given, by ``beside`` where one is, else by ``without``, which goes through ``between``."""
    targets = dict(given)
    if "density" in targets:
        targets["V"] = (z @ system.molar_mass) / targets.pop("density")
    if set(targets) == {"T", "P"}:
        return targets["T"], targets["P"], at(targets["T"], targets["P"])
    if {"T", "P"} & set(targets):
        found = beside(targets, z)
        beside.complete(targets, z, found)
    else:
        held, outer, unknown = pairing(set(targets))

        def inner(values: Array, rows: Index) -> SpecifiedFlash:
            return between({unknown: values, held: targets[held][rows]}, z[rows])

        found = without(Specification(system.thermodynamics, targets, z), inner, outer, unknown)
    return found.T, found.P, found.result


@dataclass(frozen=True)
class _Beside:
    """States at given T or P and one other quantity: by ``edge`` where that is a share of vapor of 0 or 1, by ``along`` elsewhere."""

    edge: Callable[[str, str, Array, Array], SpecifiedFlash]
    along: Callable[[str, Array, str, Array, Array], SpecifiedFlash]
    mixture: Thermodynamics

    def __call__(self, given: dict[str, Array], z: Array) -> SpecifiedFlash:
        known = "T" if "T" in given else "P"
        (name,) = set(given) - {known}
        values, target, answer = given[known], given[name], nothing(z, self.mixture.model)
        edges = {"bubble": target == 0.0, "dew": target == 1.0} if name in FRACTIONS else {}
        for kind, there in edges.items():
            rows = np.flatnonzero(there)
            if rows.size:
                put_rows(answer, rows, self.edge(kind, known, values[rows], z[rows]))
        rows = np.flatnonzero(~np.logical_or.reduce(list(edges.values()))) if edges else np.arange(len(z))
        if rows.size:
            put_rows(answer, rows, self.along(known, values[rows], name, target[rows], z[rows]))
        return answer

    def complete(self, given: dict[str, Array], z: Array, answer: SpecifiedFlash) -> None:
        """Add to an answer what boils next to its critical point, where both phases are too much alike for anything to be solved: shares follow from what each has of the
        quantity.
        """
        known = "T" if "T" in given else "P"
        (name,) = set(given) - {known}
        index = np.flatnonzero(~answer.found & ((z > 0.0).sum(axis=1) == 1))
        if not index.size or name in FRACTIONS or self.mixture.model.solids:
            return
        values, target, z = given[known][index], given[name][index], z[index]
        point = self.edge("bubble", known, values, z)
        there = np.flatnonzero(point.found & (point.result.n_phases == 2))
        T, P, result = point.T[there], point.P[there], take_rows(point.result, there)
        ends = []
        for vapor in (0.0, 1.0):
            result.amount[:, 0], result.amount[:, 1] = vapor, 1.0 - vapor
            ends.append(self.mixture.total(name, T, P, result))
        share = (target[there] - ends[0]) / (ends[1] - ends[0])
        result.amount[:, 0], result.amount[:, 1] = share, 1.0 - share
        inside = np.flatnonzero((share >= 0.0) & (share <= 1.0))
        put_rows(answer, index[there[inside]], SpecifiedFlash(T[inside], P[inside], take_rows(result, inside)))


def _pair_edge(system: Mixture, kind: str, known: str, values: Array, z: Array) -> SpecifiedFlash:
    """Bubble or dew points of a vapor and a liquid, whatever else would form."""
    return _two_phases(system, kind, z, SOLVERS[kind, known](system.phase_model, values, z))


def others(system: Mixture, quantities: Mapping[str, float], z: Array, T: Array, P: Array) -> tuple[str, ...]:
    """In words: which other states have the two quantities of a single one, where more than one can have them."""
    given = {name: np.array([value]) for name, value in quantities.items()}
    names = set(given)
    if not np.isfinite(T[0] + P[0]):
        return ()
    if names == {"H", "U"}:
        found = _others_by_enthalpy(system, given, z, T, P)
        more = [
            f"{shown(a.T[0], 'temperature', system.units)}, {shown(a.P[0], 'pressure', system.units)}"
            for a in found
            if abs(a.T[0] / T[0] - 1.0) + abs(np.log(a.P[0] / P[0])) > 1e-5
        ]
        return _further(more, "enthalpy and internal energy are the same there")
    if not any(names == pair for pair in _MAY_REPEAT):
        return ()
    known = "T" if "T" in names else "P"
    (name,) = names - {known}
    target = float(given[name][0])
    if name in FRACTIONS and not 0.0 < target < 1.0:
        return ()
    unknown, dimension = ("P", "pressure") if known == "T" else ("T", "temperature")
    here = float((P if unknown == "P" else T)[0])
    values = other_solutions(system.thermodynamics, known, float(given[known][0]), name, target, z[0], here)
    more = [shown(v, dimension, system.units) for v in values]
    return _further(more, f"the {_WORDS[name]} passes this value more than once")


def _further(more: list[str], why: str) -> tuple[str, ...]:
    if not more:
        return ()
    are = "are further solutions" if len(more) > 1 else "is another solution"
    return (f"There {are} at {', '.join(more)}: {why}.",)


def _others_by_enthalpy(system: Mixture, given: dict[str, Array], z: Array, T: Array, P: Array) -> list[SpecifiedFlash]:
    """The further states with the enthalpy and internal energy of the single one at ``T`` and ``P``."""
    held, outer, unknown = pairing({"H", "U"})

    def inner(values: Array, rows: Index) -> SpecifiedFlash:
        return flash_to(system.thermodynamics, unknown, values, held, given[held][rows], z[rows])

    return others_without(
        Specification(system.thermodynamics, given, z), inner, outer, unknown, float((P if unknown == "P" else T)[0])
    )


def _edge(system: Mixture, kind: str, known: str, values: Array, z: Array) -> SpecifiedFlash:
    """Bubble or dew points as states of two phases, one of them without amount."""
    return _two_phases(system, kind, z, saturate(system, kind, known, values, z))


def _two_phases(system: Mixture, kind: str, z: Array, point: SaturationResult) -> SpecifiedFlash:
    answer = nothing(z, system.phase_model)
    there = np.flatnonzero(np.isfinite(point.T) & np.isfinite(point.P))
    if there.size:
        T, P, feed, other = point.T[there], point.P[there], z[there], point.incipient[there]
        vapor, liquid = (other, feed) if kind == "bubble" else (feed, other)
        x = np.stack([np.maximum(vapor, ABSENT), np.maximum(liquid, ABSENT)], axis=1)
        amount = np.tile([0.0, 1.0] if kind == "bubble" else [1.0, 0.0], (there.size, 1))
        kinds = np.tile(np.array([VAPOR, LIQUID], dtype=np.int8), (there.size, 1))
        result = result_of_phases(system.phase_model, T, P, feed, amount, x, kinds, np.nan_to_num(point.residual[there]))
        put_rows(answer, there, SpecifiedFlash(T, P, result))
    return answer


def _require(system: Mixture, name: str, z: Array) -> None:
    present = z.max(axis=0) > 0.0
    if name in ("H", "S", "U"):
        lacking = [c.name for c, there in zip(system.components, present, strict=True) if there and c.heat_capacity is None]
        if lacking:
            raise InputError(f"There is no ideal-gas heat capacity for {', '.join(lacking)}, which a given {_WORDS[name]} needs.")
    if name in ("density", "vapor_mass_fraction") and np.isnan(system.molar_mass[present]).any():
        raise InputError(f"A given {_WORDS[name]} needs the molar mass of every component.")


def _has_fugacities(system: Mixture, T: Array, P: Array, z: Array) -> bool:
    with np.errstate(all="ignore"):
        return bool(np.isfinite(system.phase_model.at(T, P).ln_phi(np.maximum(z, ABSENT))).all())


def why_none(system: Mixture, given: dict[str, Array], z: Array) -> str:
    """In words: that there is no such state of a feed ``z (1, C)``, or none was found."""
    conditions = " and ".join(f"{name} = {shown(value[0], DIMENSIONS[name], system.units)}" for name, value in given.items())
    if set(given) == {"T", "P"}:
        if known := system.model.notes_at(system.who, given["T"]):
            return " ".join([f"No state at {conditions} was found.", *known])
        if not _has_fugacities(system, given["T"], given["P"], z):
            return f"{system.title} has no fluid state at {conditions}: no density has that pressure there. It is colder or denser than the equation reaches."
        return f"The flash at {conditions} did not converge. Try a neighboring state, and please report this one."
    others = " and ".join(_WORDS[name] for name in given if name not in ("T", "P"))
    open_pressure = " A liquid that is taken as incompressible, and the energies of an ideal vapor, do not tell the pressure."
    return (
        f"No state with {conditions} was found. Check the {others} against that of a flash at given T and P."
        f"{'' if 'P' in given else open_pressure}"
    )
