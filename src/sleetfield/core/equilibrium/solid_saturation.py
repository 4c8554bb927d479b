"""Liquids saturated with a pure solid: how much of its component they hold at given temperature, and where a composition is saturated.

    F = ln xₛ + ln φₛ(liquid) - ln φₛ(solid) = 0

The proportions of the other components are given. F rises with xₛ wherever the liquid is stable, and falls with temperature; it is solved by Newton's method
in ln xₛ or T, kept between bounds that F's signs give.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..arrays import ABSENT, Array, component_major
from ..models.contract import LIQUID, SOLID, PhaseModel

_ITERATIONS = 80
_LEAST = -60.0
"""ln xₛ below which nothing is dissolved."""
_CLOSE = 1e-12
_LONGEST = 25.0
"""Step of temperature, K."""


class Saturated(NamedTuple):
    """Saturated liquids: T ``(N,)``, compositions ``(N, C)``, NaN where there are none; and ∂F by ln xₛ or T there, whichever was sought."""

    T: Array
    x: Array
    slope: Array


def solid_of(model: PhaseModel, component: int) -> np.int8:
    """The kind that a component's solid is asked for by.

    Raises
    ------
    ValueError
        If the model has none.
    """
    return np.int8(SOLID + model.solids.index(component))


def imbalance(model: PhaseModel, component: int, T: Array, P: Array, x: Array) -> Array:
    """F ``(N,)``: positive where the liquid is supersaturated."""
    bound, some = model.at(T, P), component_major(np.maximum(x, ABSENT))
    solid = bound.ln_phi(_pure(x, component), solid_of(model, component))[:, component]
    return np.asarray(np.log(some[:, component]) + bound.ln_phi(some, LIQUID)[:, component] - solid)


def dissolved_at(model: PhaseModel, component: int, T: Array, P: Array, start: Array) -> Saturated:
    """Compositions saturated at ``T``, the solvents in the proportions that ``start (N, C)`` has them in; at and above the melting point the pure liquid."""
    bound = model.at(T, P)
    solid = bound.ln_phi(_pure(start, component), solid_of(model, component))[:, component]
    others = start.copy()
    others[:, component] = 0.0
    others /= np.maximum(others.sum(axis=1, keepdims=True), ABSENT)
    u = np.log(np.clip(start[:, component], 1e-15, 1.0 - 1e-9))
    low, high = np.full(len(T), _LEAST), np.zeros(len(T))
    slope = np.ones(len(T))
    for _ in range(_ITERATIONS):
        x = _with(others, component, u)
        e = bound.evaluate(component_major(np.maximum(x, ABSENT)), LIQUID)
        F = u + e.ln_phi[:, component] - solid
        low, high = np.where(F < 0.0, u, low), np.where(F < 0.0, high, u)
        slope = 1.0 + e.dn[:, component, component] * np.exp(u) / np.maximum(-np.expm1(u), 1e-300)
        step = -F / slope
        inside = (u + step > low) & (u + step < high) & (slope > 0.0)
        new = np.where(inside, u + step, 0.5 * (low + high))
        if (np.abs(new - u) < _CLOSE).all():
            break
        u = new
    return Saturated(T, _with(others, component, u), slope)


def temperature_at(model: PhaseModel, component: int, P: Array, x: Array, start: Array) -> Saturated:
    """Temperatures at which liquids ``x (N, C)`` are saturated, sought from ``start (N,)``; NaN where none is found."""
    T, kind = start.copy(), solid_of(model, component)
    some, pure = component_major(np.maximum(x, ABSENT)), _pure(x, component)
    low, high = np.full(len(T), 1.0), np.full(len(T), np.inf)
    slope = np.full(len(T), np.nan)
    F = slope
    for _ in range(_ITERATIONS):
        bound = model.at(T, P)
        liquid, solid = bound.evaluate(some, LIQUID), bound.evaluate(pure, kind)
        F = np.log(some[:, component]) + liquid.ln_phi[:, component] - solid.ln_phi[:, component]
        slope = liquid.dT[:, component] - solid.dT[:, component]
        low, high = np.where(F > 0.0, T, low), np.where(F > 0.0, high, T)
        step = np.clip(np.where(slope < 0.0, -F / slope, np.sign(F) * _LONGEST), -_LONGEST, _LONGEST)
        outside = (T + step <= low) | (T + step >= high)
        new = np.where(outside & np.isfinite(high), 0.5 * (low + high), T + step)
        if (np.abs(new - T) < _CLOSE * T).all():
            break
        T = new
    return Saturated(np.where(np.abs(F) < 1e-8, T, np.nan), x, slope)


def _pure(x: Array, component: int) -> Array:
    pure = np.full_like(x, ABSENT)
    pure[:, component] = 1.0
    return component_major(pure)


def _with(others: Array, component: int, u: Array) -> Array:
    x = others * -np.expm1(u)[:, None]
    x[:, component] = np.exp(u)
    return np.asarray(x)
