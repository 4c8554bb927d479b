"""Constants of nature and of convention, said once."""

R = 8.31446261815324
"""Molar gas constant, J/(mol K), exact: CODATA 2018 (Tiesinga et al., Rev. Mod. Phys. 93 (2021) 025010)."""

ATMOSPHERE = 101325.0
"""Standard atmosphere, Pa."""

T_REFERENCE = 298.15
"""Temperature of zero ideal-gas enthalpy and entropy, K."""

P_REFERENCE = 1.0e5
"""Pressure of zero ideal-gas entropy, Pa."""

CALORIE = 4.184
"""Thermochemical calorie, J."""

N_AVOGADRO = 6.02214076e23
"""Entities in a mole, exact: the same source as `R`."""

BOLTZMANN = R / N_AVOGADRO
"""J/K."""

ELEMENTARY_CHARGE = 1.602176634e-19
"""C, exact: the same source."""

VACUUM_PERMITTIVITY = 8.8541878128e-12
"""F/m: the same source."""

SIXTY_FAHRENHEIT, WATER_AT_SIXTY = 288.71, 999.016
"""K, where specific gravities are, and the density of water there, kg/m3."""
