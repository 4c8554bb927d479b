/* Two phases or more at given temperature and pressure: equilibrium/multiphase.py and joining.py for one state, as far as it goes well. */
#ifndef SLEETFIELD_MULTIPHASE_H
#define SLEETFIELD_MULTIPHASE_H

#include "phase.h"

#define MOST_PHASES 5

typedef struct {
    int count;
    double amount[MOST_PHASES], residual;
    double x[MOST_PHASES][MOST_COMPONENTS]; /* mole fractions, all positive */
} Phases;

typedef double Fractions[MOST_PHASES][MOST_COMPONENTS];

void ln_phi_of(const Phase *model, const Phases *phases, Fractions ln_phi);
double gibbs_of(const Phase *model, const Phases *phases); /* reduced */
/* From mole numbers, count x c. */
void from_moles(int c, const double *n, Phases *phases);
/* Amounts, from those that there are, and compositions for given ln phi. */
void share_out(int c, const double *z, Fractions ln_phi, Phases *phases);
/* The largest difference of ln f between phases that are there, over components that are there in them. */
double spread(int c, const double *z, const Phases *phases, Fractions ln_phi);
/* Newton's method from a point near the answer; what it does not better stays as it was. */
void polished(const Phase *model, const double *z, Phases *phases);

/* The lowest tangent-plane distance beside phases at equilibrium, and the trial phase there; `kind` is that of the first. */
double tested(const Phase *model, const double *z, const Phases *phases, int kind, double *trial);

/* The phases with a further one, or what becomes of that; 0 where it does not lead to a lower Gibbs energy. */
int join(const Phase *model, const double *z, const double *trial, Phases *phases);

/* Further phases join, or some leave, until none is wanted; their tangent-plane distance in the end: below UNSTABLE
   where a further phase is wanted and can't be had. Returns whether that is settled. */
int complete(const Phase *model, const double *z, Phases *phases, double *tm);

#endif
