/* Descent of the Gibbs energy of several phases: `descend` of equilibrium/multiphase.py for one state. */
#ifndef SLEETFIELD_DOWNHILL_H
#define SLEETFIELD_DOWNHILL_H

#include "multiphase.h"

/* From phases at equilibrium among themselves and a little of a trial phase, without ever raising the Gibbs energy. Returns 0 where the phases are too many for their components. */
int descend(const Phase *model, const double *z, const Phases *known, const double *trial, Phases *out);

/* Equilibrium reached from phases that do not balance each other yet, downhill too. */
void further_down(const Phase *model, const double *z, Phases *phases);

#endif
