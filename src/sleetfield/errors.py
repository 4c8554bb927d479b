"""The errors of Sleetfield: one family, each also a built-in kind. A message says what was wrong, what is allowed, what to do."""

import re

_LONG = re.compile(r"(\S{120})\S{80,}")
"""A word of somebody's input that no message is to be drowned in."""


class SleetfieldError(Exception):
    """Any error that Sleetfield raises on purpose."""

    def __str__(self) -> str:
        return _LONG.sub(r"\1...", super().__str__())


class SleetfieldWarning(UserWarning):
    """Something was passed over that was not asked for by name, such as a damaged file in a folder of components."""


class InputError(SleetfieldError, ValueError):
    """Something given was wrong: a value, a unit, a composition, a specification, a file name."""


class UnknownComponentError(SleetfieldError, LookupError):
    """A component, or a constant of one, that the databank does not hold."""


class CalculationError(SleetfieldError, ArithmeticError):
    """A calculation has no answer, or did not reach one."""
