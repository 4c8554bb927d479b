"""Recipes: one file a family of models. A new family is a new file here (or in a user's own module), and nothing else."""

import importlib
import pkgutil

from .contract import EquationOfState, LiquidModel, Recipe, VaporModel, names_of
from .cubic import CubicEquation
from .liquid_vapor import LiquidAndVaporRecipe
from .model import Model, recipe_of, settled
from .paired_liquid import PairedLiquid
from .parameter import Parameter, Parameters, Symbol

__all__ = [
    "CubicEquation",
    "EquationOfState",
    "LiquidAndVaporRecipe",
    "LiquidModel",
    "Model",
    "PairedLiquid",
    "Parameter",
    "Parameters",
    "Recipe",
    "Symbol",
    "VaporModel",
    "names_of",
    "recipe_of",
    "settled",
]

for _module in pkgutil.iter_modules(__path__):
    # each family registers itself
    importlib.import_module(f".{_module.name}", __name__)
