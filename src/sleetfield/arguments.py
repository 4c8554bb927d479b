"""What public calls are given, held against what their signatures say before any work is done: the wrong kind of thing is told by name.

Only the plain kinds are looked at: text, numbers, truths, lists, mappings, functions, and objects of a class. What a signature calls ``Any`` is read by
what takes it, such as `sleetfield.units.to_si` for quantities.
"""

from __future__ import annotations

import ast
import decimal
import functools
import inspect
import itertools
import numbers
import os
import sys
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import fields
from typing import Any, NamedTuple, ParamSpec, TypeVar

import numpy as np
from numpy.typing import NDArray

from .errors import InputError

P = ParamSpec("P")
R = TypeVar("R")

_LONGEST = 80
_MOST = 1000
"""Items of a list that are looked at."""


class Kind(NamedTuple):
    """What an argument can be, and how to say so."""

    words: str
    fits: Callable[[Any], bool]


def guarded(call: Callable[P, R]) -> Callable[P, R]:
    """The same call, which refuses arguments of another kind than its signature names.

    Examples
    --------
    >>> @guarded
    ... def mean(values: Sequence[float], weight: float = 1.0) -> float:
    ...     return weight * sum(values) / len(values)
    >>> mean([1.0, 3.0])
    2.0
    >>> mean("1, 3")
    Traceback (most recent call last):
    ...
    sleetfield.errors.InputError: values of mean is '1, 3'; it takes a list of numbers.

    """

    @functools.cache
    def looked() -> tuple[list[str], str, dict[str, Kind]]:
        """Names by place, the name of further places, and what each may be; once, and not before the first call."""
        parameters = inspect.signature(call).parameters
        names = [n for n, p in parameters.items() if p.kind in (p.POSITIONAL_ONLY, p.POSITIONAL_OR_KEYWORD)]
        rest = next((n for n, p in parameters.items() if p.kind == p.VAR_POSITIONAL), "")
        found = {n: kind(p.annotation, call.__globals__) for n, p in parameters.items() if p.annotation is not p.empty}
        return names, rest, {n: k for n, k in found.items() if k.words}

    @functools.wraps(call)
    def asked(*args: P.args, **options: P.kwargs) -> R:
        names, rest, known = looked()
        by_place = itertools.zip_longest(names[: len(args)], args, fillvalue=rest)
        for name, value in itertools.chain(by_place, options.items()):
            if name in known and not known[name].fits(value):
                raise _refused(call, name, value, known[name])
        return call(*args, **options)

    return asked


def _refused(call: Callable[..., Any], name: str, value: Any, expected: Kind) -> InputError:
    owner, _, own = call.__qualname__.rpartition(".")
    return InputError(f"{name} of {owner if own == '__init__' else own} is {short(value)}; it takes {expected.words}.")


def short(value: Any) -> str:
    """A value in an error message: not too long, and whatever it is.

    Examples
    --------
    >>> short("x" * 1000)[-12:], short([1.0, 2.0])
    ("xxxxxxx...'", '[1.0, 2.0]')

    """
    try:
        words = " ".join(repr(value).split())
    except Exception:  # an object that can't even say what it is
        return f"a {type(value).__name__}"
    if len(words) <= _LONGEST:
        return words
    return f"{words[: _LONGEST - 4]}...'" if isinstance(value, str) else f"a {type(value).__name__} ({words[: _LONGEST - 20]}...)"


# ---- kinds by what a signature says ----

ANYTHING = Kind("", lambda value: True)
_ELLIPSIS = Kind("...", lambda value: True)


def is_number(value: Any) -> bool:
    """Whether a value is a real number that floats have room for, and no truth."""
    if not isinstance(value, (numbers.Real, np.number)) or isinstance(value, (bool, np.bool_, np.complexfloating, np.timedelta64)):
        return False
    try:
        float(value)
    except OverflowError:
        return False
    return True


def _is_whole(value: Any) -> bool:
    return isinstance(value, (numbers.Integral, np.integer)) and not isinstance(value, (bool, np.bool_, np.timedelta64))


_PLAIN = {
    "str": Kind("text", lambda v: isinstance(v, str)),
    "bool": Kind("True or False", lambda v: isinstance(v, (bool, np.bool_))),
    "int": Kind("a whole number", _is_whole),
    "float": Kind("a number", is_number),
    "None": Kind("None", lambda v: v is None),
    "Path": Kind("a path", lambda v: isinstance(v, os.PathLike)),
    "Callable": Kind("a function", callable),
    "Mapping": Kind("a mapping", lambda v: isinstance(v, Mapping)),
}
_SEVERAL = {
    "text": "texts",
    "a number": "numbers",
    "a whole number": "whole numbers",
    "a System": "Systems",
    "text or a Component": "names or Components",
    "text and text": "pairs of names",
}


def kind(annotation: Any, where: Mapping[str, Any]) -> Kind:
    """What fits an annotation; ``where`` are the names that it is written with."""
    written = annotation if isinstance(annotation, str) else inspect.formatannotation(annotation)
    return _kind(ast.parse(written, mode="eval").body, where)


def _kind(node: ast.expr, where: Mapping[str, Any]) -> Kind:
    if isinstance(node, ast.BinOp):
        return _either(_kind(node.left, where), _kind(node.right, where))
    if isinstance(node, ast.Constant):
        return _PLAIN["None"] if node.value is None else _ELLIPSIS
    if isinstance(node, ast.Subscript):
        inner = node.slice.elts if isinstance(node.slice, ast.Tuple) else [node.slice]
        return _made_of(ast.unparse(node.value), [_kind(i, where) for i in inner if not isinstance(i, ast.List)])
    name = ast.unparse(node)
    if name in _PLAIN:
        return _PLAIN[name]
    if name == "Sequence":
        return _list_of(ANYTHING)
    known = _named(name, where)
    bound = getattr(known, "__bound__", None)
    if bound is not None:
        return kind(getattr(bound, "__forward_arg__", getattr(bound, "__name__", bound)), where)
    if getattr(known, "__origin__", None) is Callable:
        return _PLAIN["Callable"]
    if name in ("Any", "Self") or (known is not None and not isinstance(known, type)):
        return ANYTHING
    return _instance(name.rpartition(".")[2])


def _named(name: str, where: Mapping[str, Any]) -> Any:
    """What a name with dots stands for; None where it is imported for the signature alone."""
    first, *rest = name.split(".")
    return functools.reduce(lambda found, part: getattr(found, part, None), rest, where.get(first))


def _instance(name: str) -> Kind:
    """An object of a class, by the class's name: what a signature names need not be imported for it."""
    shown = {"Mixture": "System", "DataFrame": "pandas DataFrame"}.get(name, name)
    article = "an" if shown[0] in "AEIOU" else "a"
    return Kind(f"{article} {shown}", lambda v: any(c.__name__ == name for c in type(v).__mro__))


def _either(first: Kind, second: Kind) -> Kind:
    if not first.words or not second.words:
        return ANYTHING
    words = f"{first.words} or {second.words}" if first.words != second.words else first.words
    return Kind(words, lambda v: first.fits(v) or second.fits(v))


def _made_of(outer: str, inner: list[Kind]) -> Kind:
    if outer in ("Sequence", "list"):
        return _list_of(inner[0])
    if outer == "Iterable":
        # which may be gone once it is looked at
        return Kind(_list_of(inner[0]).words, lambda v: hasattr(v, "__iter__") and not isinstance(v, (str, bytes, Mapping)))
    if outer == "Mapping":
        return _mapping_of(*inner)
    if outer == "tuple" and inner[-1] is _ELLIPSIS:
        return _list_of(inner[0])
    if outer == "tuple":
        return _row_of(inner)
    return _PLAIN["Callable"] if outer == "Callable" else ANYTHING


def is_list(value: Any) -> bool:
    """Whether a value is a list of things in an order, and no text."""
    if isinstance(value, (str, bytes, bytearray, memoryview, Mapping)) or getattr(value, "ndim", 1) != 1:
        return False
    return isinstance(value, (Sequence, np.ndarray)) or (hasattr(value, "tolist") and hasattr(value, "__len__"))


def _list_of(one: Kind) -> Kind:
    words = "a list" if not one.words else f"a list of {_SEVERAL.get(one.words, one.words)}"
    return Kind(words, lambda v: is_list(v) and all(one.fits(item) for item in itertools.islice(v, _MOST)))


def _row_of(each: list[Kind]) -> Kind:
    words = " and ".join(k.words or "anything" for k in each)
    return Kind(words, lambda v: is_list(v) and len(v) == len(each) and all(k.fits(item) for k, item in zip(each, v, strict=True)))


def _mapping_of(key: Kind, value: Kind) -> Kind:
    of = f" of {_SEVERAL.get(key.words, key.words)}" if key.words else ""
    to = f" to {_SEVERAL.get(value.words, value.words)}" if value.words else ""
    return Kind(
        f"a mapping{of}{to}",
        lambda m: isinstance(m, Mapping) and all(key.fits(k) and value.fits(v) for k, v in itertools.islice(m.items(), _MOST)),
    )


@functools.cache
def _kinds_of(owner: Any) -> dict[str, Kind]:
    found = {f.name: kind(f.type, vars(sys.modules[owner.__module__])) for f in fields(owner)}
    return {name: k for name, k in found.items() if k.words}


def expect_fields(owner: Any, besides: Collection[str] = ()) -> None:
    """Every field of a dataclass but some held against its annotation.

    Raises
    ------
    InputError
        If one does not fit.
    """
    for name, expected in _kinds_of(owner.__class__).items():
        value = getattr(owner, name)
        if name not in besides and not expected.fits(value):
            raise InputError(f"{name} of {type(owner).__name__} is {short(value)}; it takes {expected.words}.")


def _is_masked(value: Any) -> bool:
    """Whether an array has masked numbers; there is none as long as nobody has imported what makes them."""
    return "numpy.ma" in sys.modules and bool(np.ma.is_masked(value))


def as_numbers(value: Any) -> NDArray[np.float64]:
    """Real numbers as an array, whatever they come in: a number, a list, an array or a column of them.

    Raises
    ------
    ValueError
        If it holds anything else: text, truths, dates, complex or missing values, lists of unlike lengths.

    Examples
    --------
    >>> as_numbers([1, 2.5]).tolist(), float(as_numbers(3))
    ([1.0, 2.5], 3.0)

    """
    if _is_masked(value) or isinstance(value, (set, frozenset, bytes, bytearray, memoryview, Mapping)):
        raise ValueError(value)
    if isinstance(value, (list, tuple)) and any(isinstance(v, (bool, np.bool_)) for v in value):
        raise ValueError(value)
    try:
        found = np.asarray(value)
        if found.dtype.kind == "O" and all(is_number(v) or isinstance(v, decimal.Decimal) for v in found.ravel().tolist()):
            found = found.astype(float)
    except Exception as error:  # an object of somebody else's may fail in any way
        raise ValueError(value) from error
    if found.dtype.kind not in "fiu":
        raise ValueError(value)
    return found.astype(float, copy=False)
