/* Phase split of a feed for given K-values: equilibrium/rachford_rice.py for one state. */
#ifndef SLEETFIELD_SPLIT_H
#define SLEETFIELD_SPLIT_H

#include "phase.h"

#define SMALL_AMOUNT_STEP 1e-10

typedef struct {
    double vapor, liquid;
    double x[MOST_COMPONENTS], y[MOST_COMPONENTS];
} Split;

/* K that neither overflow nor vanish. */
void k_values(int c, const double *z, const double *ln_k, double *K);
/* Whether K-values can split a feed at all, and whether the split has 0 < vapor < 1. */
void brackets(int c, const double *z, const double *K, int *possible, int *inside);
/* The split; guess is a vapor amount to start from, NaN where there is none. K must lie on both sides of 1. */
void split(int c, const double *z, const double *K, double guess, double small_step, Split *out);

#endif
