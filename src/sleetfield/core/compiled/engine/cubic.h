/* Cubic equations of state: models/cubic.py at one temperature and pressure. */
#ifndef SLEETFIELD_CUBIC_H
#define SLEETFIELD_CUBIC_H

#include "activity.h"
#include "alpha.h"
#include "attraction.h"
#include "equation.h"
#include "jet.h"

typedef struct Cubic Cubic;

/* What a cubic equation asks of a mixture: models/mixing/contract.py. */
typedef struct {
    /* once temperature and sqrt(a) are known */
    void (*at)(Cubic *);
    /* n^2 a, returned, and half its derivatives by mole numbers; its second ones, c x c */
    double (*attraction)(const Cubic *, const double *n, double *half);
    void (*second)(const Cubic *, const double *n, double *a_ij);
    /* of one mole, its first two derivatives by temperature, and the first of those by mole numbers */
    void (*by_temperature)(const Cubic *, const double *x, double *first, double *bend, double *by_T);
    /* n^2 a along a direction of mole numbers, to the third order */
    Jet (*along)(const Cubic *, const double *n, const double *along);
} MixingRule;

/* q1, q2 and s, and whose excess Gibbs energy it is; fewer than no terms where there is no such rule. */
typedef struct {
    double q1, q2, s;
    Activity activity;
} ExcessRule;

/* What does not depend on the state. */
typedef struct {
    Equation common;
    double d1, d2;                       /* the equation's delta 1 and delta 2 */
    double critical_volume_ratio;        /* V_c/b of a pure component */
    double branch_ratio;                 /* a/bRT of a pure component at its critical temperature */
    Alpha alpha;
    const double *root_ac;               /* sqrt(a) at the critical temperature, c */
    const MixingRule *mixing;
    Attraction attraction;
    int water;                           /* the component that changes interactions as models/mixing/in_water.py has it, or -1 */
    const double *aqueous;               /* the polynomials of those in water, 4 x c, not finite where there is none */
    ExcessRule excess;
    const double *b;                     /* covolumes, c */
    const double *covolumes;             /* (b_i + b_j)(1 - l_ij)/2, c x c, or NULL where the covolume is linear */
    const double *translation;           /* c, or NULL */
} CubicEquation;

struct Cubic {
    AtState at;
    const CubicEquation *of;
    double to_A, to_B;             /* P/(RT)^2, P/RT */
    double root[MOST_COMPONENTS];  /* sqrt(a_i) */
    /* of the quadratic rule */
    double l[MOST_COMPONENTS];     /* by how much interactions with each component are others in water */
    const double *pairs;           /* 1 - k_ij, c x c */
    double own_pairs[MOST_COMPONENTS * MOST_COMPONENTS]; /* where they depend on temperature */
    /* of excess Gibbs energies */
    double alpha[MOST_COMPONENTS]; /* a_i/b_i RT */
    Term term[MOST_TERMS];
};

/* The first two derivatives of sqrt(a_i) by temperature. */
void root_slopes(const CubicEquation *equation, double T, double *root1, double *root2);
/* The equation as one that can be bound. */
void cubic_ready(CubicEquation *equation);

#endif
