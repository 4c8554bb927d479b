"""Regression: parameters from measurements."""

from .regression import regress

__all__ = ["regress"]
