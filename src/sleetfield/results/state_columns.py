"""Many states as the columns of a table, and what there is to remark on all of them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..errors import InputError
from ..mixture import Mixture
from ..text import shown
from .columns import Column
from .state_properties import BOUNDARIES, OVERALL, PARTIAL, PER_COMPONENT, PER_PHASE, PROPERTIES, TRANSPORT

if TYPE_CHECKING:
    from .state import StateBatch

Array = NDArray[np.float64]

LOOSE = 1e-6
"""A result whose fugacities differ by more than this is no result."""


def batch_notes(
    system: Mixture, T: Array, P: Array, failed: NDArray[np.bool_], converged: NDArray[np.bool_], stable: NDArray[np.bool_]
) -> list[str]:
    """What holds for all states, and which of them have no answer or would form another phase."""

    def at(i: int) -> str:
        return f"{shown(T[i], 'temperature', system.units)}, {shown(P[i], 'pressure', system.units)}"

    notes = [*system.notes, *system.range_notes(T)]
    for i in np.flatnonzero(failed)[:10]:
        notes.append(f"State {i} ({at(i)}) did not converge; its numbers are left out.")
    if (count := int(failed.sum())) > 10:
        notes.append(f"{count} states in all did not converge.")
    if (loose := int((~failed & ~converged).sum())) > 0:
        notes.append(f"{loose} states converged only loosely (ln f equal to {LOOSE:g}).")
    unstable = np.flatnonzero(~failed & ~stable)
    if unstable.size:
        notes.append(
            f"In {unstable.size} states a further phase would form that is not shown, the first at {at(int(unstable[0]))}."
        )
    return notes


def state_columns(batch: StateBatch, properties: Sequence[str], dead_state: tuple[Any, Any] = ("25 degC", "1 atm")) -> list[Column]:
    """The states of a batch as rows, with temperature, pressure and ``properties`` as columns.

    Raises
    ------
    InputError
        If a property is not one of `PROPERTIES`.

    """
    columns = [Column("T", batch.T, "temperature"), Column("P", batch.P, "pressure")]
    for name in properties:
        if name not in PROPERTIES:
            raise InputError(f"There is no property {name!r} to tabulate. Properties are {', '.join(PROPERTIES)}.")
        if name == "n_phases":
            columns.append(Column("phases", batch.n_phases))
        if name == "exergy":
            columns.append(Column(name, batch.exergy(*dead_state), "molar_energy"))
        if name in OVERALL:
            columns.append(Column(name, getattr(batch, name), OVERALL[name].dimension))
        if name in BOUNDARIES:
            columns.append(Column(name, BOUNDARIES[name].of(batch), BOUNDARIES[name].dimension))
        if name in {**PER_PHASE, **TRANSPORT, **PER_COMPONENT, **PARTIAL}:
            columns += _columns_of_phases(batch, name)
    return columns


def _columns_of_phases(batch: StateBatch, name: str) -> list[Column]:
    """A property of every phase that any of the states has."""
    of_phases, row, columns = batch.of_phases(name), np.arange(len(batch)), []
    for slot in batch.slots:
        where = batch.slot(slot)
        values = of_phases[row, where]
        values[where < 0] = np.nan
        if not (where >= 0).any() or (name not in PER_PHASE and np.isnan(values).all()):
            continue
        if name not in {**PER_COMPONENT, **PARTIAL}:
            columns.append(Column(f"{slot} {name}", values, {**PER_PHASE, **TRANSPORT}[name].dimension))
            continue
        short = {"composition": "y" if slot == "vapor" else "x"}.get(name, name)
        columns.append(Column(f"{slot} {short}", values, {**PER_COMPONENT, **PARTIAL}[name].dimension, of=batch.system.names))
    return columns
