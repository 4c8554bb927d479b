/* Bubble and dew points by an equation of state: equilibrium/saturation.py for one state. */
#ifndef SLEETFIELD_SATURATION_H
#define SLEETFIELD_SATURATION_H

#include "fluid.h"

/* What is sought: the pressure or the temperature at which a phase z (all amounts positive) of a kind, VAPOR or LIQUID, begins to form another one. */
typedef struct {
    const Equation *equation;
    const double *z;
    double given; /* K or Pa */
    int of_T, kind;
} Saturation;

typedef struct {
    double q, residual, tm; /* the unknown; q is NaN where no point was found */
    double incipient[MOST_COMPONENTS];
} SaturationPoint;

/* From rough K-values; where near_w is given, from a point whose unknown is near_q and whose incipient phase is near_w first. Returns whether it is settled. */
int saturation_point(const Saturation *sought, const double *near_w, double near_q, SaturationPoint *out);

#endif
