/* A model that can be bound to any temperature and pressure here, an equation of state or a liquid beside a vapor: what is common to all of them. */
#ifndef SLEETFIELD_EQUATION_H
#define SLEETFIELD_EQUATION_H

#include "phase.h"

#include <stddef.h>

/* Bound to a temperature and pressure; what an equation has beyond this follows it, and fluid.h has room for that. */
typedef struct {
    Phase phase;
    double T, P, RT; /* K, Pa, J/mol */
} AtState;

typedef struct Equation Equation;
struct Equation {
    int c;
    double R;                           /* J/(mol K) */
    const double *Tc, *ln_Pc, *omega;   /* of an equation of state, for rough saturation pressures, c */
    /* rough logarithms of these, c; NULL where they follow from critical constants */
    void (*saturation)(const Equation *, double T, double *ln_P);
    void (*at)(const Equation *, double T, double P, AtState *out);
    /* the same at another pressure */
    void (*to_pressure)(AtState *, double P);
};

/* What every one of them is bound to first. */
static inline void to_temperature(AtState *state, const Phase *phase, const Equation *equation, double T)
{
    state->phase = *phase;
    state->T = T;
    state->RT = equation->R * T;
}

/* Rough saturation pressures, those of models/from_critical_constants.py where an equation has none of its own. */
static inline void rough_ln_saturation(const Equation *e, double T, double *ln_P)
{
    if (e->saturation != NULL) {
        e->saturation(e, T, ln_P);
        return;
    }
    for (int i = 0; i < e->c; i++) {
        const double slope = 5.373 * (1.0 + e->omega[i]);
        ln_P[i] = e->ln_Pc[i] + slope - slope * e->Tc[i] / T;
    }
}

#endif
