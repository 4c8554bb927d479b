"""Viscosity, thermal conductivity and surface tension of mixtures: one method a file, arrays in, arrays out."""
