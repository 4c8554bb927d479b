"""Fitting parameters to measurements."""
