"""The same calculation with several models."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

import numpy as np

from ..arguments import guarded, short
from ..data_sets import DataSet
from ..errors import InputError, SleetfieldError
from ..mixture import Mixture
from ..results.base import Shown
from ..results.columns import numbers_in
from ..results.comparison import Comparison
from .fitting.problem import system_of
from .predictions import predict

_LIMIT = 0.02


@guarded
def compare(
    systems: Mapping[str, Mixture],
    calculation: Callable[[Any], Any],
    *,
    base: str | None = None,
    data: DataSet | Sequence[DataSet] = (),
    limit: float = _LIMIT,
) -> Comparison:
    """Every number of a calculation with several models, and where they disagree.

    Parameters
    ----------
    systems : mapping of labels to systems
        Two or more.
    calculation : callable
        From a system to a number, an array, a mapping, a data frame, or any result that has a table. A model that can't do it has no numbers.
    base : str, optional
        Whose numbers the others are compared with; the first by default.
    data : DataSet or sequence of them, optional
        Measurements that every model is held against, too.
    limit : float
        Relative difference that is worth a note.

    Raises
    ------
    InputError
        If there are fewer than two systems, or the base is none of them, or no model has numbers.

    Examples
    --------
    >>> import sleetfield as sl
    >>> gas = sl.System(["methane", "propane", "n-heptane"], eos="PR")
    >>> both = {"PR": gas, "SRK": gas.with_model(eos="SRK")}
    >>> found = sl.compare(both, lambda s: s.bubble([0.3, 0.3, 0.4], T=300.0))
    >>> found.labels[1], bool(abs(found.deviations["SRK"][1]) < 0.05)
    ('vapor, P [Pa]', True)

    """
    if len(systems) < 2:
        raise InputError("Give two systems or more to compare.")
    first = next(iter(systems)) if base is None else base
    if first not in systems:
        raise InputError(f"There is no system {first!r}; there are {', '.join(systems)}.")
    found: dict[str, dict[str, float]] = {}
    failed: dict[str, str] = {}
    for name, system in systems.items():
        try:
            found[name] = dict(_numbers(calculation(system)))
        except SleetfieldError as error:
            found[name], failed[name] = {}, str(error)
    labels = tuple(dict.fromkeys(label for own in found.values() for label in own))
    if not labels:
        why = "; ".join(f"{k}: {reason}" for k, reason in failed.items()) or "there is nothing of the kind in any"
        raise InputError(f"No model gave a number: {why.rstrip('.')}.")
    values = {name: np.array([own.get(label, np.nan) for label in labels]) for name, own in found.items()}
    sets = (data,) if isinstance(data, DataSet) else tuple(data)
    off = {name: _off(system, sets) for name, system in systems.items()} if sets else {}
    return Comparison(dict(systems), labels, values, first, float(limit), off)


def _numbers(result: Any, name: str = "") -> Iterator[tuple[str, float]]:
    """Every number of a result, with what it is."""
    import pandas as pd

    if isinstance(result, Shown):
        result = result.compared_frame()
    if isinstance(result, pd.DataFrame):
        yield from numbers_in(result)
        return
    if isinstance(result, Mapping):
        for key, value in result.items():
            yield from _numbers(value, f"{name} {key}".strip())
        return
    try:
        values = np.asarray(result, dtype=float)
    except (TypeError, ValueError):
        raise InputError(
            f"The calculation gave {short(result)}; it gives numbers, a mapping of them, a table, or a result of this library."
        ) from None
    if values.ndim == 0:
        yield name or "value", float(values)
        return
    for index, value in np.ndenumerate(values):
        yield f"{name} {', '.join(str(i) for i in index)}".strip(), float(value)


def _off(system: Mixture, sets: Sequence[DataSet]) -> dict[str, float]:
    """Root mean square of each measured quantity's deviation."""
    parts: dict[str, list[Any]] = {}
    with np.errstate(all="ignore"):
        for data in sets:
            for p in predict(system_of(system, data), data):
                parts.setdefault(p.quantity, []).append(p.value - p.measured)
    return {q: float(np.sqrt(np.nanmean(np.concatenate(off) ** 2))) for q, off in parts.items()}
