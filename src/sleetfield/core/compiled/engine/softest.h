/* The softest direction of a mixture: models/softest.py at one temperature. */
#ifndef SLEETFIELD_SOFTEST_H
#define SLEETFIELD_SOFTEST_H

#include "phase.h"

/* The smallest eigenvalue of B = 1 + sqrt(n_i n_j) d2(A^R/RT)/dn_i dn_j, its eigenvector, the cubic form of A along it, and the size of that form's terms. */
typedef struct {
    double eigenvalue, form, size;
    double direction[MOST_COMPONENTS];
} Softest;

/* Of n mol (all positive) in a volume; 0 where the matrix is not finite. */
int softest(const Phase *model, double V, const double *n, Softest *out);

/* The matrix B alone. */
void softness(const Phase *model, double V, const double *n, double *B);

/* Whether n mol in a volume are stable to changes of their mole numbers: UNSURE where the matrix is not finite. */
int locally_stable(const Phase *model, double V, const double *n);

#endif
