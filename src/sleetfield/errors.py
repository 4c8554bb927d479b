"""The errors of Sleetfield: one family, each also a built-in kind. A message says what was wrong, what is allowed, what to do."""


class SleetfieldError(Exception):
    """Any error that Sleetfield raises on purpose."""


class InputError(SleetfieldError, ValueError):
    """Something given was wrong: a value, a unit, a composition, a specification, a file name."""


class UnknownComponentError(SleetfieldError, LookupError):
    """A component, or a constant of one, that the databank does not hold."""


class CalculationError(SleetfieldError, ArithmeticError):
    """A calculation has no answer, or did not reach one."""
