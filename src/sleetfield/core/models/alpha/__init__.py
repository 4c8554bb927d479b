"""Temperature functions α(T) of cubic equations of state, one to a file behind one contract."""

from .contract import AlphaFunction
from .mathias_copeman import MathiasCopeman
from .redlich_kwong import RedlichKwongAlpha
from .soave import Soave
from .twu import Twu

__all__ = ["AlphaFunction", "MathiasCopeman", "RedlichKwongAlpha", "Soave", "Twu"]
