/* Cubic equations of state with van der Waals' mixing rule: models/cubic.py at one temperature and pressure. */
#ifndef SLEETFIELD_CUBIC_H
#define SLEETFIELD_CUBIC_H

#include "phase.h"

typedef struct {
    Phase phase;
    double d1, d2;                 /* the equation's delta 1 and delta 2 */
    double critical_volume_ratio;  /* V_c/b of a pure component */
    double branch_ratio;           /* a/bRT of a pure component at its critical temperature */
    double T, P, RT;               /* K, Pa, J/mol */
    double to_A, to_B;             /* P/(RT)^2, P/RT */
    const double *pairs;           /* 1 - k_ij, c x c */
    double root[MOST_COMPONENTS];  /* sqrt(a_i) */
    int water;                     /* the component that changes interactions as models/mixing/in_water.py has it, or -1 */
    double l[MOST_COMPONENTS];     /* by how much, of each component with it */
    const double *b;               /* covolumes, c */
    const double *covolumes;       /* (b_i + b_j)(1 - l_ij)/2, c x c, or NULL where the covolume is linear */
    const double *translation;     /* c, or NULL */
} Cubic;

void cubic_init(Cubic *cubic, int c);

/* The first two derivatives by temperature of sqrt(a_i), and of l where there is water; those of the k_ij are zero. */
typedef struct {
    double root1[MOST_COMPONENTS], root2[MOST_COMPONENTS], l1[MOST_COMPONENTS], l2[MOST_COMPONENTS];
} Slopes;

/* Everything that models/contract.py's Evaluation has but the derivatives by mole numbers. */
typedef struct {
    double Z, Z_T, Z_P, g_TT;
    double ln_phi[MOST_COMPONENTS], dT[MOST_COMPONENTS], dP[MOST_COMPONENTS];
} Evaluation;

void cubic_evaluate(const Cubic *cubic, const double *x, int kind, const Slopes *slopes, Evaluation *out);

#endif
