/* Compositions side by side, for models that take several at once. */
#ifndef SLEETFIELD_ABREAST_H
#define SLEETFIELD_ABREAST_H

#include "phase.h"

/* ABREAST lists of c numbers, those of the same place side by side. */
void side_by_side(int c, const double *const *lists, double *out);
/* ln phi of two phases, at once where the model can. */
void ln_phi_of_both(const Phase *m, const double *x, int kind_x, double *phi_x, const double *y, int kind_y, double *phi_y);

#endif
