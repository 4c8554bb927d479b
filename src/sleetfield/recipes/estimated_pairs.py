"""Parameters of a pair that nothing is known of, from a prediction: fitted to its activity coefficients over all compositions at two temperatures."""

from __future__ import annotations

import functools

import numpy as np

from ..components.component_list import ComponentList
from ..errors import InputError, SleetfieldError
from ..pairs.of_temperature import T_REFERENCE
from ..pairs.pair_parameters import PairParameters
from .contract import Given, LiquidModel, Recipe, named

ORIGIN = "estimated: fitted to activity coefficients predicted by "
"""What the source of such parameters begins with, before the name of the prediction."""
AT = " at "
"""What is behind it."""

_TEMPERATURES = np.array([T_REFERENCE, 373.15])
_FRACTIONS = np.array([1e-6, 0.05, 0.15, 0.3, 0.5, 0.7, 0.85, 0.95, 1.0 - 1e-6])
_LARGEST = 8.0
"""Of a plain parameter that is tried."""


def prediction(name: str) -> LiquidModel:
    """The model that missing parameters are to be estimated by.

    Raises
    ------
    InputError
        If it predicts nothing.
    """
    recipe = named("liquid", name)
    if not isinstance(recipe, LiquidModel) or not recipe.predicts:
        raise InputError(f"missing={name!r} can't be: {recipe.name} predicts nothing. There is {', '.join(predictions())}.")
    return recipe


def predictions() -> list[str]:
    """Names of the models that predict."""
    return [name for name, family in Recipe.registered["liquid"].items() if getattr(family, "predicts", False)]


def estimated_set(recipe: LiquidModel, pair: ComponentList, given: Given) -> PairParameters | None:
    """A set for ``pair``; None where the prediction, or the equation, does not get so far."""
    method = prediction(given["missing"])
    try:
        target = _ln_gamma(method.model_of(pair, {"groups": given.get("groups")}))
    except SleetfieldError:
        return None
    return _fitted(recipe, pair, method.name, target.tobytes())


@functools.lru_cache(maxsize=512)
def _fitted(recipe: LiquidModel, pair: ComponentList, method: str, target: bytes) -> PairParameters | None:
    from scipy.optimize import least_squares

    wanted = np.frombuffer(target).reshape(2, -1)

    def of(u: np.ndarray) -> PairParameters:
        return PairParameters(a12=[u[0], u[1]], a21=[u[2], u[3]])

    def off(u: np.ndarray) -> np.ndarray:
        with np.errstate(all="ignore"):
            own = _ln_gamma(recipe.model_of(pair, {"parameters": {pair.names: of(u)}}))
        return np.nan_to_num((own - wanted).ravel(), nan=1e3, posinf=1e3, neginf=-1e3)

    limits = np.full(4, _LARGEST)
    best = least_squares(off, np.zeros(4) + 0.1, bounds=(-limits, limits), diff_step=[1e-5] * 4)
    apart = float(np.abs(best.fun).max())
    found = of(np.round(best.x, 5))
    source = f"{ORIGIN}{method}{AT}298.15 and 373.15 K (ln γ within {apart:.2g})"
    return PairParameters(a12=found.a12, a21=found.a21, source=source, layer="estimated")


def _ln_gamma(model: object) -> np.ndarray:
    """Ln γ of both components over compositions and temperatures ``(2, N)``."""
    x = np.tile(_FRACTIONS, len(_TEMPERATURES))
    T = np.repeat(_TEMPERATURES, len(_FRACTIONS))
    return np.asarray(model.at(T).ln_gamma(np.stack([x, 1.0 - x])))  # type: ignore[attr-defined]
