"""Several models fitted to the same measurements."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np

from ...arguments import guarded
from ...data_sets import DataSet
from ...errors import InputError, SleetfieldError
from ...mixture import Mixture
from ...recipes import names_of
from ...recipes.model import recipe_of, settled
from ...results.ranking import ModelRanking
from ..later import ANSWERS
from .objectives import residuals_of
from .problem import MISSED, system_of
from .regression import regress

USUAL = ("Margules", "van Laar", "Wilson", "NRTL", "UNIQUAC")
"""Models that are fitted where none is named."""

Progress = Callable[[int, int, str], None]
"""Told before each fit: how many are done, how many there are, and whose turn it is."""


@guarded
def rank_models(
    system: Mixture,
    data: DataSet | Sequence[DataSet],
    models: Sequence[str] | Mapping[str, Mixture] = USUAL,
    *,
    fit: Mapping[str, str | Sequence[str]] | None = None,
    beside: Sequence[str] | Mapping[str, Mixture] = (),
    progress: Progress | None = None,
    **options: Any,
) -> ModelRanking:
    """Fit several models to the same measurements, and rank them.

    Parameters
    ----------
    system : System
        Its components, vapor model and units are those of every model that is named.
    data : DataSet or sequence of them
        What they are fitted to.
    models : sequence of names, or mapping of labels to systems
        Liquid models or equations of state.
    fit : mapping of labels to what `regress` takes, optional
        Parameters to fit where others are wanted than those usual for the family.
    beside : sequence of names, or mapping of labels to systems
        Models that are not fitted, but compared and drawn.
    progress : callable, optional
        Told how many are done, how many there are, and whose turn it is.
    **options
        Of `regress`: objective, loss, uncertainty, forbid_split.

    Returns
    -------
    ModelRanking
        Every fit, the best supported first by an information criterion, with a recommendation.

    Raises
    ------
    InputError
        If there is no such model, or none of them can be fitted.

    Examples
    --------
    >>> import sleetfield as sl
    >>> known = sl.System(["ethanol", "water"], liquid="NRTL")
    >>> points = known.bubble([[v, 1.0 - v] for v in (0.05, 0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 0.95)], T=350.0)
    >>> data = sl.DataSet.of(known.names, T=350.0, P=points.P, x=points.z, y=points.y)
    >>> found = sl.rank_models(known, data, ["Margules", "NRTL"], beside=["ideal"])
    >>> found.recommended
    'NRTL'

    """
    sets = (data,) if isinstance(data, DataSet) else tuple(data)
    wanted, drawn = _systems(system, models), _systems(system, beside)
    if not wanted:
        raise InputError("There is no model to fit.")
    fits, failed = {}, {}
    for k, (label, one) in enumerate(wanted.items()):
        if progress is not None:
            progress(k, len(wanted), label)
        try:
            fits[label] = regress(one, sets, fit=(fit or {}).get(label), **options)
        except SleetfieldError as error:
            failed[label] = str(error)
    if not fits:
        raise InputError(f"No model could be fitted. {'; '.join(f'{k}: {why}' for k, why in failed.items())}")
    ranked = dict(sorted(fits.items(), key=lambda item: item[1].information))
    return ModelRanking(ranked, failed, {label: (s, _deviation(s, sets)) for label, s in drawn.items()}, sets, ANSWERS)


def _systems(system: Mixture, models: Sequence[str] | Mapping[str, Mixture]) -> dict[str, Mixture]:
    """Systems by label; names mean the same components, beside the same vapor."""
    if isinstance(models, Mapping):
        return dict(models)
    vapor = getattr(system.model.recipe, "vapor", None)
    found = {}
    for name in [models] if isinstance(models, str) else models:
        eos = next((n for n in names_of("eos") if n.lower() == name.lower()), None)
        recipe = recipe_of(eos=eos) if eos else recipe_of(liquid=name, vapor="virial" if vapor is None else vapor)
        solids = system.model.solids or None
        found[name] = type(system).of(system.who, settled(recipe, system.who, {"solids": solids}), system.units)
    return found


def _deviation(system: Mixture, sets: Sequence[DataSet]) -> float:
    """Standard deviation of the residuals over the uncertainties that a model leaves as it is."""
    found = []
    with np.errstate(all="ignore"):
        for data in sets:
            one = system_of(system, data)
            for p in residuals_of("measured", one, data)(one, []):
                found.append((p.value - p.measured) / p.uncertainty)
    r = np.concatenate(found)
    return float(np.sqrt((np.where(np.isfinite(r), r, MISSED) ** 2).mean()))
