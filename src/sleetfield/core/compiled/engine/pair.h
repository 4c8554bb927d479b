/* A liquid by activity coefficients beside a vapor: models/liquid_and_vapor.py at one temperature and pressure.

   The activity coefficients are a sum of terms; the vapor is an ideal gas or the virial equation. */
#ifndef SLEETFIELD_PAIR_H
#define SLEETFIELD_PAIR_H

#include "activity.h"
#include "equation.h"
#include "pure_liquid.h"
#include "virial.h"

/* The same at any temperature and pressure. */
typedef struct {
    Equation common;
    double least_Z;            /* of a vapor by the virial equation */
    int poynting, saturated;   /* whether pressure acts on pure liquids, and whether their vapors are as that equation has them */
    int is_virial;
    PureLiquids pure;
    Virial vapor;
    Activity activity;
} PairEquation;

typedef struct {
    AtState at; /* temperature and pressure of an equation's alone */
    const PairEquation *of; /* NULL where pure liquids and terms are given at this state */
    int terms;
    Term term[MOST_TERMS];
    double pure[MOST_COMPONENTS];    /* ln phi of the pure liquids */
    double volumes[MOST_COMPONENTS]; /* theirs, m3/mol */
    double per_RT;                   /* P/RT */
    double least_Z;
    const double *B;                 /* second virial coefficients, c x c, or NULL beside an ideal gas */
    /* of an equation: B and its derivatives by temperature; of pure liquids ln f/Pa without pressure, what that adds a pascal, and the volume */
    double by_T[3][MOST_COMPONENTS * MOST_COMPONENTS];
    Jet ln_f[MOST_COMPONENTS], lift[MOST_COMPONENTS], volume[MOST_COMPONENTS];
} Pair;

void pair_init(Pair *pair, int c);
void pairs_ready(PairEquation *equation);

#endif
