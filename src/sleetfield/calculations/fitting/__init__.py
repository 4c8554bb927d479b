"""Regression: parameters from measurements."""

from .curves import data_table
from .ranking import USUAL, rank_models
from .regression import regress

__all__ = ["USUAL", "data_table", "rank_models", "regress"]
