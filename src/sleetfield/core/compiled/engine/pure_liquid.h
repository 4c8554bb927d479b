/* Pure liquids: correlations/vapor_pressure.py and liquid_density.py at one temperature, each with its Taylor coefficients up to the second power of it. */
#ifndef SLEETFIELD_PURE_LIQUID_H
#define SLEETFIELD_PURE_LIQUID_H

#include "jet.h"

#define LIQUID_NUMBERS 6 /* coefficients that any of these equations has at most */

enum { RIEDEL, ANTOINE, WAGNER, VAPOR_PRESSURES };
enum { RACKETT, POWER_SERIES, LIQUID_DENSITIES };

/* One equation for each component, and its coefficients, c x LIQUID_NUMBERS. */
typedef struct {
    const signed char *number;
    const double *coefficients;
} Equations;

typedef struct {
    Equations pressure, density;
    const double *ranges; /* of vapor pressures, c x 2 */
} PureLiquids;

/* ln(P_sat/Pa) */
Jet ln_saturation(const PureLiquids *all, int component, double T);
/* The molar volume of the saturated liquid, m3/mol; above the critical temperature as it is there. */
Jet liquid_volume(const Equations *densities, int component, double T);

#endif
