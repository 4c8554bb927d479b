/* Is a phase stable? The tangent-plane distance and its minima: equilibrium/stability.py for one state. */
#ifndef SLEETFIELD_STABILITY_H
#define SLEETFIELD_STABILITY_H

#include "phase.h"

#define UNSTABLE (-1e-10)
#define ABSENT 1e-100

/* The lowest tangent-plane distance of a feed z with d = ln z + ln phi, from rough K-values and every other start; the trial phase there. */
double feed_stability(const Phase *model, const double *z, const double *d, const double *ln_k, double *trial);

#define MOST_KNOWN 6

/* That of a further phase beside phases at equilibrium (their fractions one after the other), the first of a kind; the feed says which components are present. */
double further_phase(const Phase *model, const double *z, const double *phases, int count, int kind, double *trial);

#endif
