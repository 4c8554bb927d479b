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

/* The lowest tangent-plane distance beside phases at equilibrium, and the trial phase there; `kind` is that of the first. */
double tested(const Phase *model, const double *z, const Phases *phases, int kind, double *trial);

/* Further phases join, or some leave, until none is wanted; their tangent-plane distance in the end. Returns whether that is settled. */
int complete(const Phase *model, const double *z, Phases *phases, double *tm);

#endif
