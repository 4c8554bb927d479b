/* A liquid by activity coefficients beside a vapor: models/liquid_and_vapor.py at one temperature and pressure.

   The activity coefficients are a sum of terms; the vapor is an ideal gas or the virial equation. */
#ifndef SLEETFIELD_PAIR_H
#define SLEETFIELD_PAIR_H

#include "activity.h"
#include "phase.h"

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
