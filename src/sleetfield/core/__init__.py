"""The computation: arrays in, arrays out, on NumPy and SciPy alone."""
