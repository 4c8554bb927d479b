"""How alike substances are, by the three parts of the solubility parameter."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np

from ..arguments import guarded
from ..components import Component, databank
from ..components.quantities import SOLUBILITY_PARTS
from ..errors import InputError
from ..results.likeness import Likeness
from ..units import one_in_si

_MOST = 10_000
_SMALLEST, _LARGEST = 1e3, 1e5
"""Pa^0.5: less dispersion and greater parts than these are a matter of units."""


@guarded
def alike(target: str | Component | Sequence[Any], *, among: Iterable[str | Component] | None = None, most: int = 20) -> Likeness:
    """Substances ranked by how near their solubility parameters are: which solvents may take the place of one, or dissolve a solute.

    The distance is the root of 4 (Δδd)² + (Δδp)² + (Δδh)², at 25 °C (Hansen, Hansen Solubility Parameters: A User's Handbook, CRC Press, 2000). Water, and
    whatever else is held together by hydrogen bonds in more than pairs, follows such distances badly.

    Parameters
    ----------
    target : str, Component or three quantities
        What the others are held against: a component, or three parts (dispersion, polar, hydrogen bonding), such as those measured for a resin.
    among : of str or Component, optional
        What is ranked; the databank if not given.
    most : int
        How many are listed.

    Returns
    -------
    Likeness
        Those listed, nearest first.

    Raises
    ------
    InputError
        If the target has no solubility parameters, or nothing else has.

    Examples
    --------
    >>> import sleetfield as sl
    >>> sl.alike("toluene", most=3).names
    ('cumene', 'ethylbenzene', 'o-xylene')
    >>> resin = sl.alike(["18 MPa^0.5", "10 MPa^0.5", "8 MPa^0.5"], among=["acetone", "n-hexane", "ethanol"])
    >>> resin.names[0], round(resin.distances[0] / 1e3, 1)  # MPa^0.5
    ('acetone', 5.1)

    """
    if not 0 < most <= _MOST:
        raise InputError(f"most is {most!r}; it is how many to list, from 1 to {_MOST}.")
    bank = databank()
    own = bank.find(target) if isinstance(target, str) else target
    parts = _parts_of(own) if isinstance(own, Component) else _parts_given(own)
    chosen = list(bank) if among is None else [bank.find(c) if isinstance(c, str) else c for c in among]
    others = [c for name, c in {c.name: c for c in chosen}.items() if not isinstance(own, Component) or name != own.name]
    known = [c for c in others if _known(c)]
    if not known:
        raise InputError(f"None of the {len(others)} components to rank has solubility parameters. Give delta_d, delta_p, delta_h.")
    apart = np.array([_parts_of(c) for c in known]) - parts
    distances = np.sqrt(apart**2 @ np.array([4.0, 1.0, 1.0]))
    order = np.argsort(distances, kind="stable")[:most]
    return Likeness(
        own.name if isinstance(own, Component) else "",
        tuple(float(p) for p in parts),
        tuple(known[k] for k in order),
        tuple(float(distances[k]) for k in order),
        ranked=len(known),
        unknown=tuple(c.name for c in others if not _known(c)),
    )


def _known(c: Component) -> bool:
    return all(getattr(c, key) is not None for key in SOLUBILITY_PARTS)


def _parts_of(c: Component) -> np.ndarray[Any, np.dtype[np.float64]]:
    return np.array([c.constant(key, "ranking by likeness") for key in SOLUBILITY_PARTS])


def _parts_given(target: Any) -> np.ndarray[Any, np.dtype[np.float64]]:
    parts = list(target)
    if len(parts) != len(SOLUBILITY_PARTS):
        raise InputError(
            f"{target!r} is neither a component nor three parts of a solubility parameter, such as ['18 MPa^0.5', '10 MPa^0.5', '8 MPa^0.5']."
        )
    found = np.array([one_in_si(part, "solubility_parameter", key) for key, part in zip(SOLUBILITY_PARTS, parts, strict=True)])
    if not np.all(np.abs(found) < _LARGEST) or found[0] < _SMALLEST:
        raise InputError(
            f"The parts of the solubility parameter are {', '.join(f'{part:g}' for part in found)} Pa^0.5, which no substance has. "
            "Plain numbers are Pa^0.5; write the unit: '18 MPa^0.5'."
        )
    return found
