"""How far an equation's vapor pressures and saturated liquid densities of one component are from the databank's correlations."""

import numpy as np

import sleetfield as sl


def off_the_databank(c, eos, T):
    """Relative deviations of both, absolute, at those of temperatures T where the databank knows them."""
    system = sl.System([c], eos=eos)
    P = system.bubble([1.0], T=T).P
    rho = 1.0 / system.flash([1.0], T=T, P=1.001 * P).molar_volume
    pressure, density = c.vapor_pressure, c.liquid_density
    off = (P / np.exp(pressure.value(T)) - 1.0, pressure), (rho / density.value(T) - 1.0, density)
    found = tuple(np.abs(each[(known.T_min < T) & (known.T_max > T)]) for each, known in off)
    assert found[0].size
    return found
