/* Cubic equations of state with van der Waals' mixing rule: models/cubic.py at one temperature and pressure. */
#ifndef SLEETFIELD_CUBIC_H
#define SLEETFIELD_CUBIC_H

#include "phase.h"

typedef struct {
    Phase phase;
    double d1, d2;                 /* the equation's delta 1 and delta 2 */
    double critical_volume_ratio;  /* V_c/b of a pure component */
    double branch_ratio;           /* a/bRT of a pure component at its critical temperature */
    double to_A, to_B, RT;         /* P/(RT)^2, P/RT, RT */
    const double *attraction;      /* sqrt(a_i a_j)(1 - k_ij), c x c */
    const double *b;               /* covolumes, c */
    const double *covolumes;       /* (b_i + b_j)(1 - l_ij)/2, c x c, or NULL where the covolume is linear */
    const double *translation;     /* c, or NULL */
} Cubic;

void cubic_init(Cubic *cubic, int c);

#endif
