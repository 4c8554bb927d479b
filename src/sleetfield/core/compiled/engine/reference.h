/* Reference equations of pure fluids: models/reference_fluid.py at one temperature and pressure. */
#ifndef SLEETFIELD_REFERENCE_H
#define SLEETFIELD_REFERENCE_H

#include "helmholtz.h"

#define MOST_REFERENCE_TERMS 80
#define SMOOTH_NUMBERS 4   /* n, d, t, c */
#define BELL_NUMBERS 7     /* n, d, t, alpha, beta, gamma, epsilon */
#define CRITICAL_NUMBERS 8 /* n, a, b, B, C, D, A, beta */

/* Densities over the critical one along which a branch of isotherms is followed, and there what each smooth term and bell gives to P/RT and its slope, but for its weight. */
typedef struct {
    int count;
    const double *delta, *first, *second; /* count, and count x terms */
} Branch;

typedef struct {
    Equation common;
    HelmholtzEquation gives;
    double density, temperature, own, scale; /* kg/m3, K, its gas constant over the universal one, kg/mol */
    const double *closest;                   /* covolume */
    int smooth, bells, critical;
    const double *smooth_terms, *bell_terms, *critical_terms;
    Branch up, down; /* from no density, and from the densest */
} ReferenceEquation;

/* A density that was found, and the P/RT that it was for: one fluid is asked for it again and again. */
typedef struct {
    double target, rho;
} Known;

typedef struct {
    Helmholtz h;
    const ReferenceEquation *of;
    double tau;
    double weight[MOST_REFERENCE_TERMS]; /* what temperature makes of each smooth term and bell */
    Known vapor, liquid;
} Reference;

/* The equation as one that can be bound. */
void reference_ready(ReferenceEquation *equation);

#endif
