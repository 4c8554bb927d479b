"""Choosing a model: advice whose suggestions are systems."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from .arguments import guarded
from .calculations.advice import advise as _advise
from .components import Component
from .results.advice import Advice
from .system import System


@guarded
def advise(
    components: Sequence[str | Component], *, T: Any, P: Any, purpose: str = "vapor-liquid", units: str = "metric"
) -> Advice:
    """Models for a mixture and a question, ranked, each with reasons and ready to be calculated with.

    Parameters
    ----------
    components : sequence
        Names or components.
    T, P : number, text or two of them
        Where it is to be used: one value, or the lowest and the highest.
    purpose : {"vapor-liquid", "liquid-liquid", "distillation", "enthalpy", "density", "envelope", "solids"}
        What is to be calculated.
    units : str
        Of the systems that are suggested.

    Returns
    -------
    Advice
        Print it; ``advice[0].system`` can be calculated with at once, ``advice.explain()`` has every rule that fired with its reference. The rules are
        `data/advice.csv`.

    Raises
    ------
    InputError
        If there is no such purpose, or T or P are no temperatures and pressures.
    UnknownComponentError
        If a component is not in the databank.

    Examples
    --------
    >>> import sleetfield as sl
    >>> found = sl.advise(["methane", "propane", "n-heptane"], T="-20 degC", P="20 bar")
    >>> found[0].name, found[0].system.flash([0.7, 0.2, 0.1], T=253.15, P=2e6).n_phases
    ('PR', 2)

    """
    return _advise(components, T=T, P=P, purpose=purpose, units=units, make=System)
