"""Estimates of constants: from other constants, from petroleum properties, from groups. One method, one file."""
