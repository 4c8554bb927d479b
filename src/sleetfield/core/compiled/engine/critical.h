/* Critical points: equilibrium/critical.py and models/softest.py for one composition. */
#ifndef SLEETFIELD_CRITICAL_H
#define SLEETFIELD_CRITICAL_H

#include "fluid.h"

#define MOST_CRITICAL 12

/* Volumes are the equation's own, without a translation. */
typedef struct {
    double T, P, V;
} CriticalPoint;

/* By Newton's method from T and V, for n mol (all positive); 0 where it doesn't get there. */
int refined_critical(const Equation *equation, const double *n, double T, double V, CriticalPoint *out);

/* All of them, with positive pressures, by falling temperature, between two temperatures; how many there are, -1 where they are more than MOST_CRITICAL. */
int critical_points(const Equation *equation, const double *n, double T_low, double T_high, CriticalPoint *out);

#endif
