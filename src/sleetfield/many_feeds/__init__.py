"""Many feeds from a file: a row a state goes in, the same rows come back with properties."""

from .run import PROBLEM, USUAL, FeedsRun, flash_file, states_of

__all__ = ["PROBLEM", "USUAL", "FeedsRun", "flash_file", "states_of"]
