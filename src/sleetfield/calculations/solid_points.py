"""Where the first solid forms from fluids: pure solids, or hydrates."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..composition import Composition
from ..core.constants import R
from ..core.equilibrium import saturation as engine
from ..core.equilibrium.flash import flash
from ..core.equilibrium.onset import Onset, on_compression, on_cooling
from ..core.models.contract import VAPOR
from ..core.models.crystal import Crystal
from ..core.models.hydrate import Hydrate
from ..core.models.pure_solid import PureSolid
from ..errors import CalculationError, InputError
from ..mixture import Mixture
from ..recipes.brine import beside_brine, brine_of
from ..recipes.hydrates import CAGES, hydrate_notes, hydrates
from ..recipes.solids import solid_notes
from ..results.solid_point import SolidLine, SolidPoint
from ..text import first_few, shown
from .saturation import one_of

Array = NDArray[np.float64]

_WORTH_SAYING = 0.5
"""How far frost points have to be off to be spoken of, K."""
_NEAR = 15.0
"""How far below its range a vapor pressure is still good enough for that, K."""


def freezing(system: Mixture, z: Composition, T: Any, P: Any, basis: str, brine: Any) -> SolidPoint | SolidLine:
    """The first pure solid; `System.freezing` says it all."""
    found, remarks = solids_of(system)
    names = [system.names[s.component] for s in found]
    line = _points(system, [f"solid {name}" for name in names], found, remarks, z, T, P, basis, "freezing", brine)
    formed, frost = _formed(line)
    line = replace(
        line, remarks=(*line.remarks, *_frost_remarks(system, [s for s in found if f"solid {system.names[s.component]}" in frost]))
    )
    if system.model.solids:
        return line
    there = system.model.with_solids(system.who, [name for name in names if f"solid {name}" in formed])
    return replace(line, remarks=(*line.remarks, *solid_notes(there.parameters)))


def _formed(line: SolidPoint | SolidLine) -> tuple[set[str], set[str]]:
    """The solids that form, and those that form from vapor alone."""
    points = [(line.solid, line.beside)] if isinstance(line, SolidPoint) else list(zip(line.solids, line.beside, strict=True))
    return {solid for solid, _ in points}, {solid for solid, there in points if there == "vapor"}


def _frost_remarks(system: Mixture, solids: Sequence[PureSolid]) -> list[str]:
    """How far frost points are off since a solid rests on the model's own liquid: by its vapor pressure at the melting point, and the heat of sublimation."""
    remarks = []
    for solid in solids:
        c, T = system.components[solid.component], np.array([solid.melting_T])
        found = engine.bubble_at_T(system.fluids.select([solid.component]), T, np.ones((1, 1)))
        if c.vapor_pressure is None or not found.found[0] or c.vapor_pressure.T_min > solid.melting_T + _NEAR:
            continue
        off = float(np.log(found.P[0]) - c.vapor_pressure.value(T)[0])
        sublimation = float(c.vapor_pressure.slope(T)[0]) + solid.heat_of_fusion / (R * solid.melting_T**2)
        if abs(off / sublimation) > _WORTH_SAYING:
            remarks.append(
                f"Frost of {c.name} rests on its vapor pressure by this model, {np.expm1(off):+.0%} off the databank's at the melting point: frost points are some "
                f"{abs(off / sublimation):.1f} K too {'cold' if off > 0.0 else 'warm'}."
            )
    return remarks


def solids_of(system: Mixture) -> tuple[list[PureSolid], list[str]]:
    """The pure solids of a system, or where it has none those of all of its components, and in words which of these are not known."""
    if system.model.solids:
        return system.model.pure_solids(system.who), []
    model = system.model.with_solids(system.who, "all")
    unknown = [name for name in system.names if name not in model.solids]
    remarks = (
        [f"No solid is looked for whose melting point or heat of fusion is not known: {first_few(unknown)}."] if unknown else []
    )
    return model.pure_solids(system.who), remarks


def hydrate(system: Mixture, z: Composition, T: Any, P: Any, basis: str, brine: Any) -> SolidPoint | SolidLine:
    """The first hydrate; `System.hydrate` says it all."""
    names, found = hydrates(system.who, system.model)
    return _points(system, names, found, hydrate_notes(system.who), z, T, P, basis, "hydrate", brine)


def _salted(system: Mixture, crystals: Sequence[Crystal], brine: Any) -> tuple[Sequence[Crystal], tuple[str, ...]]:
    """The crystals beside the brine that is given, and what there is to say about it."""
    if brine is None:
        return crystals, ()
    if "water" not in system.names:
        raise InputError("A brine is of water, and the system has none. Put water among the components.")
    known = brine_of(brine)
    return beside_brine(crystals, system.names.index("water"), known), known.notes


def _points(
    system: Mixture,
    names: Sequence[str],
    crystals: Sequence[Crystal],
    remarks: Sequence[str],
    z: Composition,
    T: Any,
    P: Any,
    basis: str,
    call: str,
    brine: Any,
) -> SolidPoint | SolidLine:
    given = one_of(call, T, P)
    values, batch, shape = system.conditions(z, basis, **{given: T if given == "T" else P})
    search = on_cooling if given == "P" else on_compression
    sought, salty = _salted(system, crystals, brine)
    with np.errstate(all="ignore"):
        found = search(system.fluids, sought, values[given], batch)
        x, occupancy = _of_solids(crystals, found)
    line = SolidLine(
        system,
        given,
        values.get("T", found.T),
        values.get("P", found.P),
        batch,
        tuple(names[k] if k >= 0 else "" for k in found.crystal),
        x,
        beside(system, crystals, found, batch),
        occupancy,
        CAGES if any(isinstance(c, Hydrate) for c in crystals) else (),
        (*remarks, *salty),
    )
    if shape:
        return line
    if found.crystal[0] < 0:
        at = shown(values[given][0], "temperature" if given == "T" else "pressure", system.units)
        raise CalculationError(
            f"No solid forms from this feed at {at}: none of {first_few(list(names))}, however far it is cooled or compressed."
        )
    return line[0]


def _of_solids(crystals: Sequence[Crystal], found: Onset) -> tuple[Array, Array]:
    """Compositions of the solids ``(N, C)``, and what fills the cages of hydrates ``(N, cages, C)``."""
    n, c = found.ln_f.shape
    cages = len(CAGES) if any(isinstance(crystal, Hydrate) for crystal in crystals) else 0
    x, occupancy = np.full((n, c), np.nan), np.full((n, cages, c), np.nan)
    for k, crystal in enumerate(crystals):
        rows = np.flatnonzero(found.crystal == k)
        x[rows] = crystal.composition(found.T[rows], found.ln_f[rows])
        if isinstance(crystal, Hydrate):
            occupancy[rows] = crystal.occupancy(found.T[rows], found.ln_f[rows])
    return x, occupancy


def beside(system: Mixture, crystals: Sequence[Crystal], found: Onset, z: Array) -> tuple[str, ...]:
    """In words, what there is beside the first solid; nothing where there is none."""
    words = np.full(len(z), "", dtype=object)
    rows = np.flatnonzero(found.crystal >= 0)
    if rows.size:
        there = flash(system.fluids, found.T[rows], found.P[rows], z[rows])
        vapors, ice = (there.kinds[:, 0] == VAPOR).astype(int), _ice(system, crystals, found)[rows]
        # where ice is what holds the water, there is no water that is liquid
        liquids = there.n_phases - vapors - (ice & (there.n_phases > vapors))
        for i, vapor, some, frozen in zip(rows, vapors, liquids, ice, strict=True):
            liquid = ["liquid"] if some == 1 else [f"{some} liquids"] if some else []
            words[i] = " and ".join(["vapor"] * vapor + liquid + (["ice"] if frozen else []))
    return tuple(words)


def _ice(system: Mixture, crystals: Sequence[Crystal], found: Onset) -> NDArray[np.bool_]:
    """Beside which hydrates there is ice."""
    there = np.zeros(len(found.T), dtype=bool)
    for k, crystal in enumerate(crystals):
        rows = np.flatnonzero(found.crystal == k)
        if isinstance(crystal, Hydrate) and crystal.ice is not None and rows.size:
            with np.errstate(all="ignore"):
                over = crystal.ice.supersaturation(system.fluids, found.T[rows], found.P[rows], found.ln_f[rows])
            there[rows] = over > 0.0
    return there
