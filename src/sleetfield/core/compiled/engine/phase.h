/* What the loops know of a phase model that is bound to the temperature and pressure of one state.

   The contract is that of models/contract.py: ln phi of mole fractions for a kind of phase, its derivatives by mole
   numbers, and what the phase is like. Nothing here knows which model it is.

   Whatever is not settled is handed back to the reference engine, so that nothing has to be solved at any price. */
#ifndef SLEETFIELD_PHASE_H
#define SLEETFIELD_PHASE_H

#define MOST_COMPONENTS 40
#define ABREAST 4

enum { STABLE = -1, VAPOR = 0, LIQUID = 1 };
enum { NO = 0, YES = 1, UNSURE = 2 };

typedef struct {
    double Z, packing;
    int kind, is_vapor; /* by density alone; by name: NO, YES, or UNSURE where the limit of stability has to be sought */
} Description;

/* Everything that models/contract.py's Evaluation has but the derivatives by mole numbers. */
typedef struct {
    double Z, Z_T, Z_P, g_TT;
    double ln_phi[MOST_COMPONENTS], dT[MOST_COMPONENTS], dP[MOST_COMPONENTS];
} Evaluation;

typedef struct Phase Phase;
struct Phase {
    int c;
    void (*ln_phi)(const Phase *, const double *x, int kind, double *ln_phi);
    void (*derivatives)(const Phase *, const double *x, int kind, double *ln_phi, double *dn);
    void (*describe)(const Phase *, const double *x, int kind, Description *);
    /* of an equation of state: ln phi with its derivatives by temperature and pressure; NULL where it has to be had elsewhere */
    void (*evaluate)(const Phase *, const double *x, int kind, Evaluation *);
    /* of an equation explicit in volume: the second derivatives of A^R/RT by mole numbers at a volume, and the covolume of n mol */
    void (*hessian)(const Phase *, double V, const double *n, double *hessian);
    double (*covolume)(const Phase *, const double *n);
    /* the third derivative of A^R/RT at a volume along a direction of mole numbers */
    double (*third)(const Phase *, double V, const double *n, const double *along);
    /* the pressure of n mol in a volume */
    double (*pressure)(const Phase *, double V, const double *n);
    /* ln phi of ABREAST compositions at once, those of a component side by side; NULL where they are had one by one */
    void (*abreast)(const Phase *, const double *x, const int *kinds, double *ln_phi);
};

/* How much of a step lies along the one before it, by that: the dominant eigenvalue of substitutions, as they go on. */
static inline double along(int c, const double *before, const double *step)
{
    double up = 0.0, down = 0.0;
    for (int i = 0; i < c; i++) {
        up += before[i] * step[i];
        down += before[i] * before[i];
    }
    return up / down;
}

#endif
