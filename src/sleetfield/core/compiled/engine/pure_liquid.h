/* Pure liquids: correlations/vapor_pressure.py and liquid_density.py at one temperature, each with its Taylor coefficients up to the second power of it. */
#ifndef SLEETFIELD_PURE_LIQUID_H
#define SLEETFIELD_PURE_LIQUID_H

#include "jet.h"

#define LIQUID_NUMBERS 6 /* coefficients that any of these equations has at most */

enum { RIEDEL, ANTOINE, WAGNER, VAPOR_PRESSURES };
enum { RACKETT, POWER_SERIES, LIQUID_DENSITIES };

typedef struct {
    const signed char *pressure, *density; /* the equation of each, c */
    const double *pressures, *densities;   /* their coefficients, c x LIQUID_NUMBERS */
    const double *ranges;                  /* of vapor pressures, c x 2 */
} PureLiquids;

/* ln(P_sat/Pa) */
Jet ln_saturation(const PureLiquids *all, int component, double T);
/* The molar volume of the saturated liquid, m3/mol; above the critical temperature as it is there. */
Jet liquid_volume(const PureLiquids *all, int component, double T);

#endif
