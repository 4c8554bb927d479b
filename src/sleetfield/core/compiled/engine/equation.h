/* An equation of state explicit in volume: what is common to all of them. */
#ifndef SLEETFIELD_EQUATION_H
#define SLEETFIELD_EQUATION_H

#include "phase.h"

/* Bound to a temperature and pressure; what an equation has beyond this follows it, and fluid.h has room for that. */
typedef struct {
    Phase phase;
    double T, P, RT; /* K, Pa, J/mol */
} AtState;

typedef struct Equation Equation;
struct Equation {
    int c;
    double R;                           /* J/(mol K) */
    const double *Tc, *ln_Pc, *omega;   /* for rough saturation pressures, c */
    void (*at)(const Equation *, double T, double P, AtState *out);
    /* the same at another pressure */
    void (*to_pressure)(AtState *, double P);
};

/* Rough saturation pressures, models/from_critical_constants.py. */
static inline void rough_ln_saturation(const Equation *e, double T, double *ln_P)
{
    for (int i = 0; i < e->c; i++) {
        const double slope = 5.373 * (1.0 + e->omega[i]);
        ln_P[i] = e->ln_Pc[i] + slope - slope * e->Tc[i] / T;
    }
}

#endif
