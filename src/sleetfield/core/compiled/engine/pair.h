/* A liquid by activity coefficients beside a vapor: models/liquid_and_vapor.py at one temperature and pressure.

   The activity coefficients are a sum of terms; the vapor is an ideal gas or the virial equation. */
#ifndef SLEETFIELD_PAIR_H
#define SLEETFIELD_PAIR_H

#include "activity.h"
#include "equation.h"
#include "pure_liquid.h"
#include "virial.h"

/* At any temperature and pressure. */
typedef struct {
    Equation common;
    double least_Z, ln_phi;    /* that there is a vapor with; of all that is in it where it has no virial coefficients */
    int poynting, saturated;   /* whether pressure acts on pure liquids, and whether their vapors are as that equation has them */
    int is_virial;
    PureLiquids pure;
    Virial vapor;
    Activity activity;
} PairEquation;

typedef struct {
    AtState at;
    const PairEquation *of;
    Term term[MOST_TERMS];
    double pure[MOST_COMPONENTS]; /* ln phi of the pure liquids */
    double per_RT;                /* P/RT */
    /* second virial coefficients and their derivatives by temperature, c x c each; of pure liquids ln f/Pa without pressure, what that adds a pascal, and the volume, m3/mol */
    double B[MOST_COMPONENTS * MOST_COMPONENTS], B_T[MOST_COMPONENTS * MOST_COMPONENTS], B_TT[MOST_COMPONENTS * MOST_COMPONENTS];
    Jet ln_f[MOST_COMPONENTS], lift[MOST_COMPONENTS], volume[MOST_COMPONENTS];
} Pair;

void pairs_ready(PairEquation *equation);

#endif
