"""Property tables over any two quantities, as a grid or along a path, block by block, so that long ones need little memory."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from ..composition import written
from ..errors import InputError
from ..mixture import Mixture
from ..results.base import MADE_WITH
from ..results.columns import frame
from ..results.state import StateBatch
from ..results.state_columns import batch_notes, state_columns
from ..results.state_properties import PROPERTIES
from ..specified import DIMENSIONS, values_of
from ..text import shown
from .flashing import flash, two_of

if TYPE_CHECKING:
    from concurrent.futures import Executor

    import pandas as pd

    from ..composition import Composition

Array = NDArray[np.float64]

Progress = Callable[[int, int], None]
"""Told how many states are done, and of how many."""

_BLOCK = 20_000


def points(given: dict[str, Array], path: bool) -> dict[str, Array]:
    """Values of both quantities for every row: all combinations, the last running fastest, or pairs along a path.

    Raises
    ------
    InputError
        If the values of a path are not equally many.
    """
    values = {name: np.atleast_1d(value).ravel() for name, value in given.items()}
    if not path:
        grid = np.meshgrid(*values.values(), indexing="ij")
        return {name: axis.ravel() for name, axis in zip(values, grid, strict=True)}
    try:
        return dict(zip(values, np.broadcast_arrays(*values.values()), strict=True))
    except ValueError:
        counts = " and ".join(f"{len(v)} of {name}" for name, v in values.items())
        raise InputError(f"A path takes equally many values of both quantities, or one of either; got {counts}.") from None


def is_several(z: Any) -> bool:
    """Whether a composition is several of them, by name.

    Examples
    --------
    >>> is_several({"lean": {"methane": 0.9, "propane": 0.1}, "rich": {"methane": 0.7, "propane": 0.3}}), is_several({"methane": [0.9, 0.7], "propane": [0.1, 0.3]})
    (True, False)

    """
    return isinstance(z, Mapping) and bool(z) and all(isinstance(one, Mapping) for one in z.values())


def of_several(system: Mixture, table_of: Callable[[Any], pd.DataFrame], feeds: Mapping[str, Any]) -> pd.DataFrame:
    """The tables of several feeds under each other, with their names in a first column."""
    import pandas as pd

    parts = {name: table_of(z) for name, z in feeds.items()}
    first = next(iter(parts.values()))
    for name, part in parts.items():
        part.insert(0, "feed", name)
    table = pd.concat(parts.values(), ignore_index=True)
    table.attrs = dict(first.attrs)
    table.attrs["notes"] = list(dict.fromkeys(note for part in parts.values() for note in part.attrs["notes"]))
    compositions = "; ".join(f"{name}: {part.attrs['about'].get('composition', '')}" for name, part in parts.items())
    table.attrs["about"] = {**first.attrs["about"], "composition": compositions}
    table.attrs["full title"] = first.attrs["title"].replace(system.title, system.full_title())
    table.attrs["axes"] = ["feed", *first.attrs["axes"]]
    return table


def _where(given: dict[str, Array], units: str) -> str:
    """Quantities that have one value, in words."""
    fixed = [
        shown(float(v.ravel()[0]), DIMENSIONS[name], units, 5) for name, v in given.items() if v.size == 1 and name in ("T", "P")
    ]
    return f" at {', '.join(fixed)}" if fixed else ""


def table(
    system: Mixture,
    z: Composition,
    specified: dict[str, Any],
    properties: Sequence[str],
    *,
    path: bool,
    dead_state: tuple[Any, Any],
    basis: str,
    units: str,
    phases: str | None,
    executor: Executor | None,
    progress: Progress | None,
) -> pd.DataFrame:
    """One row for each state, with units in the headings; `System.table` says it all.

    Raises
    ------
    InputError
        If not two quantities are specified, or there is no such property.
    """
    import pandas as pd

    given = {name: values_of(value, name) for name, value in two_of("table", specified).items()}

    unknown = [name for name in properties if name not in PROPERTIES]
    if unknown:
        raise InputError(f"There is no property {unknown[0]!r} to tabulate. Properties are {', '.join(PROPERTIES)}.")
    wanted = [*(name for name in given if name in PROPERTIES and name not in properties), *properties]
    rows = points(given, path)
    count = len(next(iter(rows.values())))
    frames, seen = [], []
    for first in range(0, count, _BLOCK):
        part: dict[str, Any] = {name: value[first : first + _BLOCK] for name, value in rows.items()}
        states: StateBatch = flash(system, z, **part, phases=phases, basis=basis, executor=executor)
        frames.append(frame(state_columns(states, wanted, dead_state), units))
        seen.append((states.T, states.P, states.failed, states.result.converged, states.result.stable))
        if progress is not None:
            progress(min(first + _BLOCK, count), count)
    table = pd.concat(frames, ignore_index=True) if len(frames) > 1 else frames[0]
    table.attrs["notes"] = batch_notes(system, *(np.concatenate(column) for column in zip(*seen, strict=True)))
    table.attrs["axes"] = [name for name, values in given.items() if values.size > 1]
    title = table.attrs["title"] = f"Properties of {system.title}{_where(given, units)}"
    one = states.z[0] if (states.z == states.z[0]).all() else None
    composition = {} if one is None else {"composition": written(one, system.names)}
    table.attrs["full title"] = title.replace(system.title, system.full_title(one))
    table.attrs["about"] = {"title": title, **system.context(), **composition, "units": units, "made with": MADE_WITH}
    return table
