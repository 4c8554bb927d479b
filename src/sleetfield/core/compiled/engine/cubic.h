/* Cubic equations of state with van der Waals' mixing rule: models/cubic.py at one temperature and pressure. */
#ifndef SLEETFIELD_CUBIC_H
#define SLEETFIELD_CUBIC_H

#include "alpha.h"
#include "attraction.h"
#include "equation.h"

/* What does not depend on the state. */
typedef struct {
    Equation common;
    double d1, d2;                       /* the equation's delta 1 and delta 2 */
    double critical_volume_ratio;        /* V_c/b of a pure component */
    double branch_ratio;                 /* a/bRT of a pure component at its critical temperature */
    Alpha alpha;
    const double *root_ac;               /* sqrt(a) at the critical temperature, c */
    Attraction attraction;
    int water;                           /* the component that changes interactions as models/mixing/in_water.py has it, or -1 */
    const double *aqueous;               /* the polynomials of those in water, 4 x c, not finite where there is none */
    const double *b;                     /* covolumes, c */
    const double *covolumes;             /* (b_i + b_j)(1 - l_ij)/2, c x c, or NULL where the covolume is linear */
    const double *translation;           /* c, or NULL */
} CubicEquation;

typedef struct {
    AtState at;
    const CubicEquation *of;
    double to_A, to_B;             /* P/(RT)^2, P/RT */
    double root[MOST_COMPONENTS];  /* sqrt(a_i) */
    double l[MOST_COMPONENTS];     /* by how much interactions with each component are others in water */
    const double *pairs;           /* 1 - k_ij, c x c */
    double own_pairs[MOST_COMPONENTS * MOST_COMPONENTS]; /* where they depend on temperature */
} Cubic;

/* The equation as one that can be bound. */
void cubic_ready(CubicEquation *equation);

#endif
