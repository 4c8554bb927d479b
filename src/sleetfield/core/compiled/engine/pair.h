/* A liquid by activity coefficients beside a vapor: models/liquid_and_vapor.py at one temperature and pressure.

   The activity coefficients are a sum of terms; the vapor is an ideal gas or the virial equation. */
#ifndef SLEETFIELD_PAIR_H
#define SLEETFIELD_PAIR_H

#include "phase.h"

#define MOST_TERMS 2

enum { NRTL, WEIGHTED_LOGARITHM, FLORY_HUGGINS, STAVERMAN_GUGGENHEIM, OF_GROUPS };

typedef struct {
    int kind;
    int groups;           /* of groups: how many there are, and (groups x c) how many of each a component has */
    const double *counts;
    /* NRTL: G and tau G; the weighted logarithm: L, and its weights; sizes and surfaces of the others; of groups L and weights of these, and what they come to in pure components */
    double first[MOST_COMPONENTS * MOST_COMPONENTS], second[MOST_COMPONENTS * MOST_COMPONENTS];
    double own[MOST_COMPONENTS], other[MOST_COMPONENTS];
} Term;

typedef struct {
    Phase phase;
    int terms;
    Term term[MOST_TERMS];
    double pure[MOST_COMPONENTS];    /* ln phi of the pure liquids */
    double volumes[MOST_COMPONENTS]; /* theirs, m3/mol */
    double per_RT;                   /* P/RT */
    double least_Z;                  /* of a vapor by the virial equation */
    const double *B;                 /* second virial coefficients, c x c, or NULL beside an ideal gas */
} Pair;

void pair_init(Pair *pair, int c);

#endif
