"""Compositions as people give them: mappings, sequences, text; mole or mass basis; one component as the rest."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any, overload

import numpy as np
from numpy.typing import NDArray

from .arguments import as_numbers, short
from .errors import InputError

BASES = ("mole", "mass")
TOLERANCE = 1e-6
"""How far from 1 the sum of the fractions may be."""

REST = "rest"

MIXTURES = {"air": {"nitrogen": 0.7812, "oxygen": 0.2096, "argon": 0.0092}}
"""What is called like a component and is a mixture, by mole fractions: dry air by Lemmon, Jacobsen, Penoncello and Friend, J. Phys. Chem. Ref. Data 29 (2000) 331-385."""

Composition = Mapping[str, Any] | Sequence[float] | NDArray[np.float64]

_PURE = re.compile(r"\s*(?![\d.%+]+(?:\s|$)|rest\s)[^+]+", re.IGNORECASE)
_WITH_UNIT = re.compile(r"\s*[+-]?[\d.]+(?:[eE][+-]?\d+)?\s*[A-Za-z].*")
_PLUS = re.compile(r"(?<!\d[eE])\s*\+\s*(?=[\d.]|rest\b|$)", re.IGNORECASE)
_TERM = re.compile(r"\s*(rest|[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?\s*%?)\s+(.+?)\s*", re.IGNORECASE)


@overload
def normalize(z: Mapping[str, float]) -> dict[str, float]: ...
@overload
def normalize(z: Sequence[float] | NDArray[np.float64]) -> NDArray[np.float64]: ...
def normalize(z: Any) -> Any:
    """Amounts scaled so that they sum to 1, in the form they came in.

    Raises
    ------
    InputError
        If one is negative or not finite, or all are zero.

    Examples
    --------
    >>> normalize({"methane": 3.0, "propane": 1.0})
    {'methane': 0.75, 'propane': 0.25}

    """
    if isinstance(z, Mapping):
        return dict(zip(z, normalize(list(z.values())).tolist(), strict=True))
    try:
        amounts = as_numbers(z)
    except ValueError:
        raise InputError(f"Amounts to normalize are {short(z)}; give a mapping of names to numbers, or numbers.") from None
    if not amounts.size:
        raise InputError("There is no amount to normalize.")
    if not np.isfinite(amounts).all() or (amounts < 0.0).any():
        raise InputError(f"Amounts to normalize must be finite and not negative; got {_shown(amounts)}.")
    total = amounts.sum(axis=-1, keepdims=True)
    if (total == 0.0).any():
        raise InputError("Amounts to normalize are all zero; at least one must be positive.")
    scaled: NDArray[np.float64] = amounts / total
    return scaled


def is_flows(z: Any) -> bool:
    """Whether what stands for a composition are flows by component: text with a unit for each.

    Examples
    --------
    >>> is_flows({"methane": "90 kmol/h", "propane": "1 t/h"}), is_flows({"methane": 0.9, "propane": "rest"})
    (True, False)

    """
    if not isinstance(z, Mapping) or not z:
        return False
    return all(hasattr(v, "magnitude") or (isinstance(v, str) and _WITH_UNIT.fullmatch(v) is not None) for v in z.values())


def parse(text: str) -> dict[str, float | str]:
    """A composition as it is written: ``0.70 methane + 0.20 propane + rest n-heptane``; percent signs are understood.

    A name without an amount is a pure component.

    Examples
    --------
    >>> parse("70 % methane + rest propane")
    {'methane': 0.7, 'propane': 'rest'}

    """
    amounts: dict[str, float | str] = {}
    if _PURE.fullmatch(text):
        return {text.strip(): 1.0}
    for term in _PLUS.split(text.strip()):
        match = _TERM.fullmatch(term)
        if match is None:
            raise InputError(
                f"{term.strip()!r} in the composition is not an amount and a component. Write it like "
                "'0.70 methane + 0.20 propane + rest n-heptane'."
            )
        number, name = match[1].strip(), match[2]
        if name in amounts:
            raise InputError(f"{name} stands twice in the composition. Add its amounts up.")
        if number.lower() == REST:
            amounts[name] = REST
        elif number.endswith("%"):
            amounts[name] = round(float(number[:-1]) / 100.0, 15)
        else:
            amounts[name] = float(number)
    return amounts


def parse_several(text: str) -> dict[str, str]:
    """Several compositions with their names, from ``lean: 0.9 methane + rest propane; rich: 0.7 methane + rest propane``.

    Raises
    ------
    InputError
        If one has no name, or two have the same.

    Examples
    --------
    >>> parse_several("lean: 0.9 methane + rest propane; rich: 0.7 methane + rest propane")["rich"]
    '0.7 methane + rest propane'

    """
    found: dict[str, str] = {}
    for part in filter(str.strip, text.split(";")):
        name, colon, composition = part.partition(":")
        if not colon or not name.strip() or name.strip() in found:
            raise InputError(
                f"{part.strip()!r} is no feed with a name of its own. Write several like 'lean: 0.9 methane + rest propane; rich: 0.7 methane + rest propane'."
            )
        found[name.strip()] = composition.strip()
    return found


def written(z: NDArray[np.float64], names: Sequence[str]) -> str:
    """Mole fractions ``(C,)`` as `parse` reads them.

    Examples
    --------
    >>> written(np.array([0.7, 0.3, 0.0]), ["methane", "propane", "water"])
    '0.7 methane + 0.3 propane'

    """
    return " + ".join(f"{float(x):.14g} {name}" for x, name in zip(z, names, strict=True) if x)


def parse_names(text: str) -> list[str]:
    """Components as they are written: ``acetone + 1-butanol + water``; amounts before them are let pass.

    Examples
    --------
    >>> parse_names("acetone + 1-butanol + water"), parse_names("0.2 acetone + rest water")
    (['acetone', '1-butanol', 'water'], ['acetone', 'water'])

    """
    terms = [_TERM.fullmatch(term) or term.strip() for term in text.split("+")]
    names = [term if isinstance(term, str) else term[2] for term in terms]
    if not all(names):
        raise InputError(f"{text!r} is no list of components. Write it like 'acetone + 1-butanol + water'.")
    return names


def mole_fractions(
    z: Composition, names: Sequence[str], find: Callable[[str], int], molar_mass: NDArray[np.float64], basis: str
) -> NDArray[np.float64]:
    """Checked mole fractions ``(..., C)`` from what a user gave.

    ``find`` gives the position of a component from any name of it; components that a mapping leaves out are absent.

    Raises
    ------
    InputError
        If fractions are negative or not finite, do not sum to 1, are of the wrong number, or name an unknown basis.

    """
    if not isinstance(basis, str) or basis not in BASES:
        raise InputError(f"The basis is {short(basis)}; it may be {' or '.join(BASES)}.")
    z = unmixed(by_label(z))
    fractions = _from_mapping(z, names, find) if isinstance(z, Mapping) else _from_sequence(z, names)
    if not np.isfinite(fractions).all():
        raise InputError(f"The composition holds a fraction that is not finite: {_shown(fractions)}.")
    if (fractions < 0.0).any():
        where = names[int(np.argwhere(fractions < 0.0)[0][-1])]
        raise InputError(f"The fraction of {where} is negative ({fractions[fractions < 0.0][0]:g}); fractions run from 0 to 1.")
    total = fractions.sum(axis=-1)
    off = np.abs(total - 1.0) > TOLERANCE
    if off.any():
        shown = float(np.ravel(total)[np.ravel(off)][0])
        percent = " They look like percentages: divide by 100." if abs(shown - 100.0) < 0.5 else ""
        raise InputError(
            f"The fractions sum to {shown:.8g}, not 1.{percent} Correct one, give one component as 'rest', or use sl.normalize(z) "
            "(on the command line, --normalize)."
        )
    fractions = fractions / total[..., None]
    if basis == "mass":
        moles = fractions / molar_mass
        fractions = np.asarray(moles / moles.sum(axis=-1, keepdims=True))
    return np.asarray(fractions)


def unmixed(z: Any) -> Any:
    """A composition with what stands for a mixture in it, such as air, by its components.

    Examples
    --------
    >>> unmixed({"air": 0.5, "methane": 0.5})["nitrogen"]
    0.3906

    """
    if not isinstance(z, Mapping) or not any(str(name).strip().lower() in MIXTURES for name in z):
        return z
    found: dict[str, Any] = {}
    for name, amount in z.items():
        parts = parts_of(name)
        whole = _number_of(name, amount, z) if len(parts) > 1 else None
        for part, share in parts.items():
            if part in found:
                raise InputError(f"{part} stands in the composition beside {name}, which has it too. Write its components.")
            found[part] = amount if whole is None else (share * whole).tolist()
    return found


def _number_of(mixture: str, amount: Any, z: Mapping[str, Any]) -> NDArray[np.float64]:
    """How much there is of a mixture: a number, or what the others leave."""
    is_rest = isinstance(amount, str) and amount.strip().lower() == REST
    try:
        found: NDArray[np.float64] = (
            np.asarray(1.0 - sum(as_numbers(other) for name, other in z.items() if name != mixture))
            if is_rest
            else as_numbers(amount)
        )
    except ValueError:
        raise InputError(f"{mixture} is a mixture: its amount and those beside it are numbers, or it is the rest.") from None
    if is_rest and (found < -TOLERANCE).any():
        raise InputError(f"Nothing is left for {mixture}: the other fractions sum to more than 1.")
    return np.maximum(found, 0.0) if is_rest else found


def parts_of(name: str) -> dict[str, float]:
    """What a name stands for by mole: itself, or the components of a mixture such as air."""
    return MIXTURES.get(str(name).strip().lower(), {name: 1.0})


def names_unmixed(names: Sequence[Any]) -> list[Any]:
    """Names of components, those of a mixture in its place.

    Examples
    --------
    >>> names_unmixed(["air", "water"])
    ['nitrogen', 'oxygen', 'argon', 'water']

    """
    return [part for name in names for part in (parts_of(name) if isinstance(name, str) else (name,))]


def by_label(z: Any) -> Any:
    """A pandas Series or DataFrame whose labels are names as the mapping that it is; anything else as it comes.

    Raises
    ------
    InputError
        If a label stands twice.
    """
    labels = getattr(z, "columns", getattr(z, "index", None))
    if labels is None or not hasattr(labels, "tolist") or getattr(labels, "dtype", np.dtype(int)).kind in "iu":
        return z
    if len(set(labels)) < len(labels):
        raise InputError(f"The composition's labels are {short(labels.tolist())}, where one stands twice.")
    return {label: z[label] for label in labels}


def _from_mapping(z: Mapping[str, Any], names: Sequence[str], find: Callable[[str], int]) -> NDArray[np.float64]:
    given: dict[int, Any] = {}
    for name, amount in z.items():
        i = find(name)
        if i in given:
            raise InputError(f"{names[i]} stands twice in the composition. Add its amounts up.")
        given[i] = amount
    rest = [i for i, amount in given.items() if isinstance(amount, str) and amount.strip().lower() == REST]
    if len(rest) > 1:
        raise InputError(f"Only one component can be the rest; {', '.join(names[i] for i in rest)} all are.")
    columns: dict[int, NDArray[np.float64]] = {}
    for i, amount in given.items():
        if i in rest:
            continue
        try:
            columns[i] = as_numbers(amount)
        except ValueError:
            raise InputError(
                f"The fraction of {names[i]} is {short(amount)}, which is no number (one component may be 'rest')."
            ) from None
    try:
        shape = np.broadcast_shapes(*(c.shape for c in columns.values()))
    except ValueError:
        shapes = ", ".join(f"{names[i]} {c.shape}" for i, c in columns.items())
        raise InputError(f"The fractions do not fit together: {shapes}. Give equal lengths, or single values.") from None
    fractions = np.zeros((*shape, len(names)))
    for i, column in columns.items():
        fractions[..., i] = column
    for i in rest:
        left = 1.0 - fractions.sum(axis=-1)
        if (left < -TOLERANCE).any():
            raise InputError(f"Nothing is left for {names[i]}: the other fractions sum to {float(np.max(1.0 - left)):.8g}.")
        fractions[..., i] = np.maximum(left, 0.0)
    return fractions


def _from_sequence(z: Any, names: Sequence[str]) -> NDArray[np.float64]:
    try:
        fractions = as_numbers(z)
    except ValueError:
        raise InputError(f"The composition is {short(z)}; give a mapping of names to fractions, or fractions in order.") from None
    if fractions.ndim == 0 or fractions.shape[-1] != len(names):
        count = fractions.shape[-1] if fractions.ndim else 1
        raise InputError(f"The composition has {count} fractions, but the system has {len(names)} components: {', '.join(names)}.")
    return fractions


def _shown(values: NDArray[np.float64]) -> str:
    flat = np.ravel(values)
    return ", ".join(f"{v:g}" for v in flat[:12]) + (", ..." if flat.size > 12 else "")


def solvent_of(text: str) -> str | dict[str, Any]:
    """One component's name, or a composition, as a solvent is written."""
    return parse(text) if "+" in text else text.strip()
